import { isProblem, Problem, type ProblemCode } from '../core/problem.ts';
import { Workspace, type Notice } from '../jobs/workspace.ts';
import type { Call, CommandRun } from './context.ts';
import { Printer } from './output/printer.ts';
import { spareMemory } from './memory.ts';
import { progressBar } from './output/progress.ts';

const EXIT_OF: Readonly<Record<ProblemCode, number>> = { usage: 2, blocked: 3, moved: 4, restored: 5, interrupted: 6, unreachable: 7, unreadable: 7, internal: 70 };

const COMMANDS: Readonly<Record<string, () => Promise<{ run: CommandRun }>>> = {
  init: () => import('./commands/init.ts'),
  sites: () => import('./commands/sites.ts'),
  list: () => import('./commands/list.ts'),
  show: () => import('./commands/show.ts'),
  export: () => import('./commands/export.ts'),
  inspect: () => import('./commands/inspect.ts'),
  changes: () => import('./commands/changes.ts'),
  compare: () => import('./commands/compare.ts'),
  route: () => import('./commands/route.ts'),
  import: () => import('./commands/import.ts'),
  publish: () => import('./commands/publish.ts'),
  followups: () => import('./commands/followups.ts'),
  verify: () => import('./commands/verify.ts'),
  history: () => import('./commands/history.ts'),
  undo: () => import('./commands/undo.ts'),
  layout: () => import('./commands/layout.ts'),
  serve: () => import('./commands/serve.ts'),
  demo: () => import('./commands/demo.ts'),
};

/** Runs one command and returns the exit code. */
export async function run(call: Call): Promise<number> {
  spareMemory();
  const json = call.options['json'] === true;
  const quiet = call.options['quiet'] === true;
  const color = call.options['color'] !== false && !call.environment['NO_COLOR'] && (call.stdout.isTTY || call.environment['FORCE_COLOR'] === '1') && !json;
  const progress = progressBar(call.stderr, !json && !quiet);
  const config = call.options['config'];
  const workspace = new Workspace({ folder: call.folder, config: typeof config === 'string' ? config : undefined, onProgress: progress.onProgress, input: () => readAll(call.stdin), onNotice: (notice) => { if (!json && !quiet) printNotice(new Printer(call.stderr, color, { before: progress.stop }), notice); } });
  try {
    const command = await (COMMANDS[call.verb] as () => Promise<{ run: CommandRun }>)();
    return await command.run({ call, words: call.words, options: call.options, workspace, out: new Printer(call.stdout, color, { exact: /truecolor|24bit/i.test(call.environment['COLORTERM'] ?? ''), before: progress.stop }), json, quiet });
  } catch (error) {
    progress.stop();
    return report(error, call, json, color);
  } finally {
    progress.stop();
  }
}

async function readAll(stream: NodeJS.ReadableStream): Promise<Buffer> {
  const chunks: Buffer[] = [];
  for await (const chunk of stream) chunks.push(Buffer.from(chunk as Buffer));
  return Buffer.concat(chunks);
}

function printNotice(out: Printer, notice: Notice): void {
  if (notice.notice === 'site') { out.line(out.note('Note: '), notice.site, ': ', notice.what); return; }
  out.line(out.note('Note: '), `${notice.verb} ${notice.run} on ${notice.site} by ${notice.by}, begun ${notice.started.slice(0, 16).replace('T', ' ')} UTC, has not ended: it is under way, or it was cut off. "pochette undo ${notice.site} ${notice.run}" brings ${notice.site} back.`);
}

/** What happened, where, and what to do next. */
function report(error: unknown, call: Call, json: boolean, color: boolean): number {
  const problem = isProblem(error) ? error : new Problem('internal', `Pochette itself has failed: ${error instanceof Error ? error.message : String(error)}`, { remedy: 'run it again with --verbose and report what it prints', cause: error });
  const out = new Printer(call.stderr, color);
  const { code, message, where, remedy, details } = problem;
  if (json) out.json({ problem: { code, message, where, remedy, details } });
  else {
    out.line(out.bad('Problem: '), message);
    if (where !== undefined) out.line('  where:       ', where);
    const more = details.filter((detail) => detail !== where);
    for (const detail of more.slice(0, 20)) out.line('               ', detail);
    if (more.length > 20) out.line(`               and ${more.length - 20} more`);
    if (remedy !== undefined) out.line('  what to do:  ', remedy);
    if (call.options['verbose'] === true && error instanceof Error) out.raw(`${error.stack ?? ''}\n`);
  }
  return EXIT_OF[code];
}
