import { groupBy } from '../../core/json.ts';
import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { Problem } from '../../core/problem.ts';
import { importPlan, type ImportResult } from '../../jobs/import.ts';
import type { Choices, Plan } from '../../jobs/plan.ts';
import { approved, readRoute, routeChoices, type ReadRoute } from '../../jobs/routefile.ts';
import type { Source } from '../../jobs/sources/source.ts';
import { writeReport } from '../output/report.ts';
import { planAsking } from '../output/decide.ts';
import { consent } from '../output/ask.ts';
import { printBlocks, printChange, printFollowUps, printSilent } from '../output/findings.ts';
import { many } from '../../report/units.ts';
import type { Printer } from '../output/printer.ts';
import { printRoute } from '../output/route.ts';
import { EXIT, type CommandRun, type Context } from '../context.ts';
import { again, choicesOf, fromToAndSelectors, textOption } from '../words.ts';
import { routeJson } from './route.ts';

export const run: CommandRun = async (context) => {
  const { workspace, options } = context;
  const { from, to, choices, route } = wish(context);
  const replan = options['replan'] === true;
  if (replan && !route) throw new Problem('usage', '--replan goes with --route', { remedy: 'name the route whose answers shall be kept' });
  return workspace.between(from, to, async (source, target, checked) => {
    const fresh = await planAsking(context, source, target, choices, checked);
    return go(context, route ? approved(fresh, route, replan) : fresh, source, to);
  }, { check: true });
};

/** From the words, or from an approved route. */
function wish({ call, workspace, words, options }: Context): { from: string; to: string; choices: Choices; route?: ReadRoute } {
  const file = textOption(options, 'route');
  if (file === undefined) {
    const { from, to, selectors } = fromToAndSelectors(words);
    return { from, to, choices: choicesOf(workspace, to, selectors, options) };
  }
  let text: string;
  try { text = readFileSync(resolve(call.folder, file), 'utf8'); } catch (error) { throw new Problem('usage', 'the route cannot be read', { where: file, cause: error }); }
  const route = readRoute(text, file);
  const { from, to } = route.value;
  if (words.length > 0 && (words[0] !== from || words[1] !== to || words.length > 2)) throw new Problem('usage', `this route leads from ${from} to ${to}`, { where: route.where(['to']), remedy: 'leave the other words out' });
  return { from, to, route, choices: routeChoices(route, options['replan'] === true) };
}

async function go(context: Context, made: Plan, source: Source, to: string): Promise<number> {
  const { workspace, out, json, quiet } = context;
  if (!json && !quiet) printRoute(out, made);
  const report = (result?: ImportResult): Promise<void> => writeReport(context.call, context.options, async () => { const pages = await import('../../report/index.ts'); const at = workspace.now().toISOString(); return result ? pages.resultPage(made, result, at) : pages.routePage(made, at); });
  if (made.route.blocks.length > 0) {
    await report();
    if (json) out.json({ result: 'blocked', ...(routeJson(made) as object) });
    else printBlocks(out, made.route.blocks, to);
    return EXIT.blocked;
  }
  if (made.route.steps.length === 0) {
    if (json) out.json({ result: 'nothing to do', from: source.label, to, counts: made.counts, kept: made.kept, leftOut: made.leftOut });
    else out.line(`Nothing to do: ${nothingWhy(made, to)}. No run was made.`);
    return EXIT.done;
  }
  if (!json && !quiet) out.line();
  if (!(await consent(context, to, `Go these ${many(made.route.steps.length, 'step')} on ${to}?`))) {
    out.line('Nothing was written.');
    return EXIT.done;
  }
  const result = await importPlan(workspace, made);
  if (json) out.json({ result: 'done', from: source.label, to, kept: made.kept, merged: [...made.merged.keys()], ...result });
  else printResult(out, result, { from: source.label, to, quiet, words: again(context.words.slice(2), context.options, ['alone', 'draft', 'allowMissing', 'decide', 'remember', 'askAgain']) });
  await report(result);
  return result.unequal.length > 0 ? EXIT.differences : EXIT.done;
}

/** Why there is no step: equal, or what differs is kept or left out. */
function nothingWhy({ kept, leftOut, choices }: Plan, to: string): string {
  if (kept.length > 0) return `what differs was changed on ${to} since the last import, or left so by it, and is kept (${kept.length})`;
  return choices.allowMissing === true && leftOut.length > 0 ? `what ${to} lacks is left out, the rest is equal` : `${to} has everything already, and equal`;
}

function printResult(out: Printer, result: ImportResult, { from, to, quiet, words }: { from: string; to: string; quiet: boolean; words: string }): void {
  out.line();
  out.line(out.good('Done: '), `run ${result.run} created ${many(result.created, 'item')}, updated ${result.updated} and uploaded ${many(result.files, 'file')} in ${result.took.seconds.toFixed(1)} s.`);
  if (result.unequal.length === 0) out.line('Read back: every item on ', to, ' equals what was carried.');
  else {
    out.line(out.bad(`Read back: ${many(result.unequal.length, 'item')} ${result.unequal.length === 1 ? 'is' : 'are'} not what was carried.`));
    for (const one of result.unequal) { out.line('  ', one.address); for (const change of one.changes) printChange(out, change, from, to); }
  }
  if (quiet) return;
  const pages = groupBy(result.seen.filter((one) => one.url !== undefined), (one) => one.url as string);
  if (pages.size > 0) out.heading('Where to look');
  out.table([...pages].map(([url, items]) => [out.name(url), items.map((one) => one.address).slice(0, 3).join(', ') + (items.length > 3 ? ` and ${items.length - 3} more` : '')]));
  if (result.silent.length > 0) printSilent(out, result.silent); else if (pages.size > 0) out.line('  All of these pages answer.');
  printFollowUps(out, result.followUps);
  out.line();
  if (result.followUps.length > 0) out.line(`"pochette followups ${to}" keeps this list and ticks it off.`);
  if (result.followUps.some((one) => one.followUp === 'publish')) out.line(`Next: look at the drafts on the site, then "pochette publish ${to}"; "pochette undo ${to}" takes all of it back.`);
  else out.line(`Next: "pochette verify ${from} ${to}${words}" looks again; "pochette undo ${to}" takes all of it back.`);
}
