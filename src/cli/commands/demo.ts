import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { createInterface } from 'node:readline';
import { Problem } from '../../core/problem.ts';
import { CONFIG_FILE } from '../../jobs/config.ts';
import type { Printer } from '../output/printer.ts';
import { EXIT, type CommandRun, type Context } from '../context.ts';
import { shellWord, textOption } from '../words.ts';
import { TOUR, TO_TRY, type Stop } from './demo-tour.ts';

const SITES = [{ name: 'dev', role: 'development', guarded: false }, { name: 'live', role: 'live', guarded: true }, { name: 'old', role: 'staging', guarded: false }] as const;
interface Running { name: string; address: string; token: string; process: ChildProcess }

/** The whole job on simulated sites, with every command as it would be typed. */
export const run: CommandRun = async (context) => {
  const { call, out, options } = context;
  const wanted = textOption(options, 'in');
  const folder = wanted === undefined ? mkdtempSync(join(tmpdir(), 'pochette-demo-')) : resolve(call.folder, wanted);
  if (existsSync(join(folder, CONFIG_FILE))) throw new Problem('usage', 'there is a configuration in this folder already', { where: folder, remedy: 'name another folder with --in' });
  mkdirSync(folder, { recursive: true });
  const running: Running[] = [];
  try {
    for (const site of SITES) running.push(await start(site.name, join(folder, 'sites', site.name)));
    writeConfig(folder, running);
    if (options['stay'] === true) { await stay(context, folder, running); return EXIT.done; }
    return await tour(context, folder);
  } finally {
    for (const site of running) site.process.kill();
    await Promise.all(running.map((site) => ended(site.process)));
    if (wanted === undefined) { rmSync(folder, { recursive: true, force: true }); out.line(out.faint('The three sites were stopped, and their folder was removed.')); }
  }
};

/** A site listens once it has printed its address. */
function start(name: string, folder: string): Promise<Running> {
  const child = spawn(process.execPath, [join(__dirname, 'standin.cjs'), '--folder', folder, '--seed', name], { stdio: ['pipe', 'pipe', 'inherit'] });
  return new Promise((settle, fail) => {
    child.once('error', fail);
    child.once('exit', (code) => { fail(new Problem('internal', `the simulated site ${name} ended with code ${code ?? 'none'}`)); });
    createInterface({ input: child.stdout }).once('line', (line) => {
      const { address, tokens } = JSON.parse(line) as { address: string; tokens: { token: string }[] };
      settle({ name, address, token: tokens[0]?.token ?? '', process: child });
    });
  });
}

function ended(child: ChildProcess): Promise<void> {
  return new Promise((settle) => { if (child.exitCode !== null || child.signalCode !== null) settle(); else child.once('exit', () => { settle(); }); });
}

function writeConfig(folder: string, running: readonly Running[]): void {
  const lines = ['# Made by "pochette demo": three simulated sites of Skerrin Ferries, a made-up ferry line.', 'you: Isbel Farrow', 'sites:'];
  for (const { name, address, token } of running) {
    const site = SITES.find((one) => one.name === name);
    writeFileSync(join(folder, `${name}.token`), `${token}\n`, { mode: 0o600 });
    lines.push(`  ${name}:`, `    url: ${address}`, `    token: file:${name}.token`, `    role: ${site?.role ?? ''}`, `    guarded: ${site?.guarded ?? false}`);
  }
  writeFileSync(join(folder, CONFIG_FILE), lines.join('\n') + '\n');
}

async function stay({ call, out }: Context, folder: string, running: readonly Running[]): Promise<void> {
  out.line(out.strong('Three sites are running. Look at them in a browser:'));
  out.table(running.map((site) => [site.name, out.name(site.address)]));
  out.line();
  out.line('A ready pochette.yaml lies in ', out.name(folder), '. In another terminal:');
  out.line();
  for (const line of [`cd ${folder}`, ...TO_TRY.map((words) => `pochette ${words}`)]) out.line('  ', line);
  out.line();
  out.line(out.faint(`If the command is not installed: node ${join(__dirname, 'pochette.cjs')}`));
  out.line('Ctrl-C ends the sites.');
  await new Promise<void>((settle) => { process.once('SIGINT', () => { settle(); }); process.once('SIGTERM', () => { settle(); }); });
  call.stdout.write('\n');
}

async function tour({ call, out }: Context, folder: string): Promise<number> {
  for (const stop of TOUR) {
    out.line();
    out.line(out.strong(`— ${stop.title}`));
    out.line('  ', stop.look);
    out.line();
    out.line(out.name(`$ pochette ${stop.words.map(shellWord).join(' ')}`));
    const code = await command(stop, folder, call.stdout.isTTY);
    if (code !== stop.code) throw new Problem('internal', `"pochette ${stop.words.join(' ')}" ended with code ${code} instead of ${stop.code}`);
    out.line(out.faint(`(exit code ${code})`));
  }
  out.line();
  printEnd(out);
  return EXIT.done;
}

function printEnd(out: Printer): void {
  out.line(out.good('That was the whole job: looked, exported, compared, imported in order, verified, and gone back.'));
  out.line('To try it yourself with the sites in a browser: npm run demo -- --stay');
}

function command(stop: Stop, folder: string, color: boolean): Promise<number | null> {
  const child = spawn(process.execPath, [join(__dirname, 'pochette.cjs'), ...stop.words], { cwd: folder, stdio: ['ignore', 'inherit', 'inherit'], env: { ...process.env, ...(color ? { FORCE_COLOR: '1' } : {}) } });
  return new Promise((settle, fail) => { child.once('error', fail); child.once('exit', settle); });
}
