import { execFileSync } from 'node:child_process';
import { cpSync, mkdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { join, resolve } from 'node:path';
import { order, type GraphNode } from '../src/core/graph.ts';
import { planSteps } from '../src/core/route.ts';
import { generateSites } from './generate.ts';
import { recordImport, replay } from './replay.ts';
import { arrival } from './arrival.ts';
import { databases } from './database.ts';
import { difference } from './difference.ts';
import { translating } from './translate.ts';
import { median, paired, peakMegabytes, run, seconds, startSite } from './measure.ts';
import { addLine, addPeaks, DIST, notePeak, POCHETTE, printed, ROUNDS } from './table.ts';

/** npm run bench [-- sites|breadth|difference|databases] [SIZE …]: prints our figures beside those of public tools from the same run. */
async function main(): Promise<void> {
  const words = process.argv.slice(2);
  const sizes = words.map(Number).filter((size) => size > 0);
  const all = !['sites', 'databases', 'breadth', 'difference'].some((word) => words.includes(word));
  if (all || words.includes('sites')) {
    start();
    for (const size of sizes.length > 0 ? sizes : [1000, 10_000]) await site(size);
  }
  if (all || words.includes('breadth')) {
    translating();
    for (const size of sizes.length > 0 ? sizes : [500, 5000]) await arrival(size);
  }
  if (all || words.includes('difference')) await difference();
  if (all || words.includes('databases')) await databases(sizes.length > 0 ? sizes : [10_000, 100_000], notePeak);
  addPeaks((what) => (/a database$|with pictures$/.test(what) ? '1.5x' : '2x'));
  process.stdout.write(`Node ${process.version}, ${cpus().length} cores; medians of ${ROUNDS} pairs, whole processes unless said\n${printed()}\n`);
}

function start(): void {
  addLine('pochette --help', 'node -e 0', paired(15, () => seconds([...POCHETTE, '--help'], '.'), () => seconds([process.execPath, '-e', '0'], '.')), '1.8x');
}

async function site(size: number): Promise<void> {
  const work = resolve('bench', 'work', String(size));
  rmSync(work, { recursive: true, force: true });
  mkdirSync(work, { recursive: true });
  generateSites(work, size);
  const [dev, live] = await Promise.all([startSite(join(DIST, 'standin.cjs'), join(work, 'dev')), startSite(join(DIST, 'standin.cjs'), join(work, 'live'))]);
  try {
    writeFileSync(join(work, 'pochette.yaml'), ['you: bench', 'sites:', ...Object.entries({ dev, live }).flatMap(([name, { address, token }]) => { writeFileSync(join(work, `${name}.token`), token); return [`  ${name}:`, `    url: ${address}`, `    token: file:${name}.token`]; })].join('\n') + '\n');
    const pochette = (...words: string[]): string[] => [...POCHETTE, ...words];
    const peak = (what: string, words: string[], codes: number[]): void => { notePeak(what, size, peakMegabytes(words, work, codes)); };

    run(pochette('export', 'dev', '-o', 'dev.pochette'), work);
    run(pochette('export', 'live', '-o', 'live.pochette'), work);
    for (const name of ['dev', 'live']) execFileSync('unzip', ['-q', '-o', `${name}.pochette`, '-d', `tree-${name}`], { cwd: work });
    const zip = paired(ROUNDS, () => seconds(pochette('export', 'dev', '-o', 'again.pochette'), work), () => { rmSync(join(work, 'z.zip'), { force: true }); return seconds(['zip', '-r', '-q', '-6', 'z.zip', 'tree-dev/data/items'], work); });
    addLine(`export of ${size} items over HTTP into a file (${(statSync(join(work, 'dev.pochette')).size / 1e6).toFixed(1)} MB)`, 'zip -r -6 of the same items as files', zip, '4x');
    peak('export', pochette('export', 'dev', '-o', 'again.pochette'), [0]);

    const gitDiff = (): number => seconds(['git', 'diff', '--no-index', '--stat', 'tree-live/data/items', 'tree-dev/data/items'], work, [1]);
    addLine(`compare of two files of ${size} items`, 'git diff --no-index --stat on the two trees', paired(ROUNDS, () => seconds(pochette('compare', 'dev.pochette', 'live.pochette', '--short'), work, [1]), gitDiff), '0.4x');
    peak('compare of two files', pochette('compare', 'dev.pochette', 'live.pochette', '--short'), [1]);
    addLine(`compare of two sites of ${size} items over HTTP`, 'the same', paired(ROUNDS, () => seconds(pochette('compare', 'dev', 'live', '--short'), work, [1]), gitDiff), '1.5x');
    peak('compare of two sites', pochette('compare', 'dev', 'live', '--short'), [1]);

    planning(work, size);
    await importing(work, size, pochette, live);
    peak('import of what differs', pochette('import', 'dev', 'live', '--yes', '--json'), [0]);
    run(pochette('undo', 'live', '--yes', '--json'), work);
  } finally {
    dev.process.kill();
    live.process.kill();
  }
}

/** The same edges as the file's index has; ours in this process, the tool's as a process that reads the edges. */
function planning(work: string, size: number): void {
  const rows = execFileSync('cat', ['tree-dev/data/index.ndjson'], { cwd: work, encoding: 'utf8', maxBuffer: 2 ** 30 }).trim().split('\n').map((line) => JSON.parse(line) as { address: string; kind: string; title: string; references: { to: string }[] });
  const planned = rows.map((row) => ({ address: row.address, kind: row.kind, title: row.title, covers: 'all' as const, rank: 40, action: 'create' as const, needs: row.references.map((one) => one.to), firm: [], inside: [], files: [], fingerprint: '' }));
  const edges = planned.flatMap((row) => (row.needs.length === 0 ? [`${row.address} ${row.address}`] : row.needs.map((need) => `${need} ${row.address}`)));
  writeFileSync(join(work, 'edges'), edges.join('\n') + '\n');
  const timed = (work_: () => unknown): number => { const begun = performance.now(); work_(); return (performance.now() - begun) / 1000; };
  const nodes: GraphNode[] = planned.map((row) => ({ name: row.address, rank: row.rank, needs: row.needs }));
  const circles = order(nodes).reduce((sum, one) => sum + one.deferred.length, 0);
  addLine(`route for all of ${size} items, planning only (${edges.length} edges, ${circles} deferred)`, 'tsort on the same edges', paired(ROUNDS, () => timed(() => planSteps(planned, [])), () => seconds(['tsort', 'edges'], work, [0, 1])), '6x');
}

/**
 * Steps with safety copy and read-back, as the program measures them. Beside it curl sends the very requests of such an import to a site like the
 * target: the same bytes in both directions, in as many requests, and the site does the same work.
 */
async function importing(work: string, size: number, pochette: (...words: string[]) => string[], live: { address: string; token: string }): Promise<void> {
  cpSync(join(work, 'live'), join(work, 'before'), { recursive: true });
  const recorded = await recordImport(work, pochette, live.address);
  run(pochette('undo', 'live', '--yes', '--json'), work);
  const ours: number[] = [];
  const theirs: number[] = [];
  let items = 0;
  for (let round = 0; round < ROUNDS; round++) {
    const { created, updated, took } = JSON.parse(run(pochette('import', 'dev', 'live', '--yes', '--json'), work).stdout) as { created: number; updated: number; took: { seconds: number } };
    items = created + updated;
    ours.push(took.seconds);
    theirs.push(await replay(recorded, join(work, 'before'), work));
    run(pochette('undo', 'live', '--yes', '--json'), work);
  }
  addLine(`steps of an import of the ${items} of ${size} items that differ, inside the program`, `curl of the same bytes in as many requests (${recorded.length})`, { ours: median(ours), theirs: median(theirs), ratio: median(ours.map((one, i) => one / (theirs[i] as number))) }, '20x');
}

await main();
