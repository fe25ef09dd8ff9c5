import { spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { chromium } from 'playwright-core';
import { compileKinds, threeWay, type Json, type Kind } from '../src/core/index.ts';
import { CMS_KINDS } from '../src/standin/scenario/kinds.ts';
import { siteConfig } from '../src/standin/scenario/facts.ts';
import { generateSites } from './generate.ts';
import { median, paired, run, seconds, startSite } from './measure.ts';
import { addLine, DIST, POCHETTE, ROUNDS } from './table.ts';

const pochette = (...words: string[]): string[] => [...POCHETTE, ...words];
type Site = Awaited<ReturnType<typeof startSite>>;

/** Comparing with a memory, place by place, merging, and a page of it. */
export async function difference(): Promise<void> {
  await threeWays(10_000);
  await places(1000);
  merging(1000);
  await report([200, 2000]);
}

function configure(work: string, sites: Readonly<Record<string, Site>>): void {
  mkdirSync(work, { recursive: true });
  writeFileSync(join(work, 'pochette.yaml'), ['you: bench', 'sites:', ...Object.entries(sites).flatMap(([name, { address, token }]) => { writeFileSync(join(work, `${name}.token`), token); return [`  ${name}:`, `    url: ${address}`, `    token: file:${name}.token`]; })].join('\n') + '\n');
}

function fresh(name: string): string {
  const work = resolve('bench', 'work', name);
  rmSync(work, { recursive: true, force: true });
  mkdirSync(work, { recursive: true });
  return work;
}

const site = (folder: string, port?: number): Promise<Site> => startSite(join(DIST, 'standin.cjs'), folder, port);
const TURNS = 3;
const stop = async (...sites: Site[]): Promise<void> => { await Promise.all(sites.map((one) => new Promise((settle) => { one.process.once('exit', settle); one.process.kill(); }))); };

/** Both sites changed some items after an import; beside it the same with nobody remembering it. Each has the live site's port in turn. */
async function threeWays(count: number): Promise<void> {
  const work = fresh(`three-${count}`);
  generateSites(work, count);
  const before = await Promise.all([site(join(work, 'dev')), site(join(work, 'live'))]);
  configure(work, { dev: before[0], live: before[1] });
  run(pochette('import', 'dev', 'live', '--yes', '--json'), work);
  await stop(...before);
  for (const [name, every, member] of [['dev', 20, 'title'], ['live', 30, 'code']] as const) change(join(work, name, 'records'), every, member);
  cpSync(join(work, 'live'), join(work, 'plain'), { recursive: true });
  for (const name of ['ledger.json', 'forms.ndjson']) rmSync(join(work, 'plain', name), { force: true });
  const [devPort, livePort] = before.map((one) => Number(new URL(one.address).port)) as [number, number];
  const dev = await site(join(work, 'dev'), devPort);
  const measured = { three: [] as number[], two: [] as number[] };
  for (let turn = 0; turn <= TURNS; turn++) {
    for (const [way, name, folder] of [['three', 'live', work], ['two', 'plain', join(work, 'two')]] as const) {
      const live = await site(join(work, name), livePort);
      configure(folder, { dev, live });
      const took = seconds(pochette('compare', 'dev', 'live', '--json'), folder, [1]);
      // The first turn only fills what is remembered of both sites.
      if (turn > 0) measured[way].push(took);
      await stop(live);
    }
  }
  await stop(dev);
  const { three, two } = measured;
  addLine(`three-way comparison of two sites of ${count} items`, 'our two-way comparison of the same', { ours: median(three), theirs: median(two), ratio: median(three.map((one, i) => one / (two[i] ?? NaN))) }, '1.4x');
}

function change(folder: string, every: number, member: string): void {
  readdirSync(folder).forEach((name, i) => {
    if (i % every !== 0) return;
    const record = JSON.parse(readFileSync(join(folder, name), 'utf8')) as { value: Record<string, string>; revision: number };
    record.value[member] = `${record.value[member] ?? ''} changed`;
    record.revision++;
    writeFileSync(join(folder, name), JSON.stringify(record));
  });
}

/** A value of 20 KB, half of it HTML; `side` changes it at six places, spread over both halves. */
function large(i: number, side: '' | 'a' | 'b'): Record<string, string> {
  const turn = side === 'b' ? 3 : 0;
  const says = (n: number, at: number): string => (side !== '' && n === at + turn ? `Changed by ${side}.` : 'Boats leave by the clock of the pier.');
  const markup = Array.from({ length: 90 }, (_, n) => `<p class="band-${n}">Notice ${n} of ${i}: ${says(n, 10)} ${says(n, 50)} <a href="/fares/">Fares</a></p>`).join('\n');
  const bands = Array.from({ length: 90 }, (_, n) => ({ key: `band-${n}`, shows: 'text', note: `${says(n, 20)} ${says(n, 70)} Row ${n}.`, target: 0 }));
  return { title: `Sheet ${i}`, markup, layout: JSON.stringify({ bands, widths: {} }), code: '', related: '', link: '' };
}

function writeSite(folder: string, name: 'dev' | 'live', values: readonly Record<string, unknown>[]): void {
  const base = name === 'dev' ? 1_000_000 : 5_000_000;
  mkdirSync(join(folder, name, 'records'), { recursive: true });
  values.forEach((value, i) => { writeFileSync(join(folder, name, 'records', `${base + i}.json`), JSON.stringify({ id: base + i, kind: 'tholepin/template', name: `sheet-${String(i).padStart(5, '0')}`, status: 'published', revision: 1, value: { hero: 0, next: 0, ...value } })); });
  writeFileSync(join(folder, name, 'site.json'), JSON.stringify({ ...siteConfig(name), content: [], nextId: base * 3 }));
}

/** Two files, `dev.pochette` and `live.pochette`, with these values. */
async function files(work: string, dev: readonly Record<string, unknown>[], live: readonly Record<string, unknown>[]): Promise<void> {
  writeSite(work, 'dev', dev);
  writeSite(work, 'live', live);
  const sites = await Promise.all([site(join(work, 'dev')), site(join(work, 'live'))]);
  configure(work, { dev: sites[0], live: sites[1] });
  for (const name of ['dev', 'live']) run(pochette('export', name, '-o', `${name}.pochette`), work);
  await stop(...sites);
}

async function places(count: number): Promise<void> {
  const work = fresh('places');
  const numbers = Array.from({ length: count }, (_, i) => i);
  await files(work, numbers.map((i) => large(i, 'a')), numbers.map((i) => large(i, 'b')));
  for (const name of ['dev', 'live']) run(['unzip', '-q', '-o', `${name}.pochette`, '-d', `tree-${name}`], work);
  const ours = (): number => seconds(pochette('compare', 'dev.pochette', 'live.pochette', '--json'), work, [1]);
  const theirs = (): number => seconds(['git', 'diff', '--no-index', '--word-diff', 'tree-live/data/items', 'tree-dev/data/items'], work, [1]);
  addLine(`${count} differing items of 20 KB, half of it HTML, place by place`, 'git diff --no-index --word-diff on the same as files', paired(ROUNDS, ours, theirs), '1x');
}

/** Ours in this process; the tool's is a process for each item, on the values as files with a line a member and a line a paragraph. */
function merging(count: number): void {
  const work = fresh('merging');
  const kind = compileKinds(CMS_KINDS, 'bench').get('tholepin/template') as Kind;
  const items = Array.from({ length: count }, (_, i) => ['', 'a', 'b'].map((side) => { const value = large(i, side as '' | 'a' | 'b'); return { ...value, layout: { '@json': JSON.parse(value['layout'] ?? '') as Json } }; })) as unknown as [Json, Json, Json][];
  items.forEach((sides, i) => { sides.forEach((value, n) => { writeFileSync(join(work, `${i}.${n}`), JSON.stringify(value, null, 1).replaceAll('\\n', '\n')); }); });
  let merged = 0;
  const ours = (): number => { const begun = performance.now(); merged = items.filter(([base, a, b]) => threeWay(kind, { source: base, target: base }, a, b).merged() !== undefined).length; return (performance.now() - begun) / 1000; };
  const theirs = (): number => { const begun = performance.now(); for (let i = 0; i < count; i++) spawnSync('git', ['merge-file', '-p', `${i}.1`, `${i}.0`, `${i}.2`], { cwd: work }); return (performance.now() - begun) / 1000; };
  const pair = paired(3, ours, theirs);
  if (merged !== count) throw new Error(`${count - merged} items were not put together`);
  addLine(`${count} items of 20 KB changed on both sides put together, in this process`, 'git merge-file on the same as files, a process each', pair, '0.2x');
}

async function report(sizes: readonly number[]): Promise<void> {
  const measured = [];
  for (const count of sizes) measured.push(await page(count));
  const [small, large_] = measured as [Measured, Measured];
  const ratio = (of: (one: Measured) => number): { ours: number; theirs: number; ratio: number } => ({ ours: of(large_), theirs: of(small), ratio: of(large_) / of(small) });
  addLine(`page of ${sizes[1] ?? 0} differing items: made, opened in Chromium and filtered`, `ourselves, ${sizes[0] ?? 0} items`, ratio((one) => one.total), '10x');
  addLine(`size of that page (at most 10 MB)`, `ourselves, ${sizes[0] ?? 0} items`, ratio((one) => one.bytes), '10 MB', (bytes) => `${(bytes / 1e6).toFixed(1)} MB`);
  addLine('first answer of its filter, by the page itself (under 100 ms)', `ourselves, ${sizes[0] ?? 0} items`, ratio((one) => one.filter), '100 ms', (ms) => `${ms.toFixed(0)} ms`);
  addLine('that page opened, until it can be used (within a second)', `ourselves, ${sizes[0] ?? 0} items`, ratio((one) => one.opened), '1 s');
}

interface Measured { total: number; bytes: number; filter: number; opened: number }

async function page(count: number): Promise<Measured> {
  const work = fresh(`page-${count}`);
  const value = (i: number, side: string): Record<string, unknown> => ({ title: `Sheet ${i} ${side}`, markup: Array.from({ length: 12 }, (_, n) => `<p>Notice ${n} of ${i}. ${n === 5 ? `Changed by ${side}.` : 'Boats leave by the clock of the pier.'}</p>`).join('\n'), code: '', related: '', link: '', layout: JSON.stringify({ bands: [{ key: 'a', shows: 'text', target: 0, note: side }], widths: {} }) });
  const numbers = Array.from({ length: count }, (_, i) => i);
  await files(work, numbers.map((i) => value(i, 'a')), numbers.map((i) => value(i, 'b')));
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'] });
  try {
    const turns: Measured[] = [];
    for (let turn = 0; turn < 3; turn++) {
      const made = seconds(pochette('compare', 'dev.pochette', 'live.pochette', '--report', 'page.html'), work, [1]);
      const tab = await browser.newPage();
      const begun = performance.now();
      await tab.goto(`file://${join(work, 'page.html')}`);
      await tab.evaluate('new Promise((settle) => requestAnimationFrame(() => setTimeout(settle)))');
      const opened = (performance.now() - begun) / 1000;
      await tab.fill('#text', `notice 5 of ${count - 1}`);
      const filter = Number(await tab.getAttribute('#shown', 'data-took'));
      turns.push({ total: made + (performance.now() - begun) / 1000, bytes: statSync(join(work, 'page.html')).size, filter, opened });
      await tab.close();
    }
    const of = (name: keyof Measured): number => median(turns.map((one) => one[name]));
    return { total: of('total'), bytes: of('bytes'), filter: of('filter'), opened: of('opened') };
  } finally { await browser.close(); }
}
