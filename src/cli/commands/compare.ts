import { setFlagsFromString } from 'node:v8';
import type { Comparison, ShownFinding } from '../../report/comparison.ts';
import { itemOf } from '../../core/belongings.ts';
import { ownText } from '../../core/bytes.ts';
import { labelsOf } from '../../report/labels.ts';
import { picturesOf } from '../../report/pictures.ts';
import type { Change } from '../../core/compare.ts';
import { placesOf, previewsOf, ShownFiles, type ShownFile } from '../../jobs/shown.ts';
import { writeReport } from '../output/report.ts';
import type { Address } from '../../core/address.ts';
import { compare, type ItemFinding, type ItemStatus } from '../../jobs/compare.ts';
import type { Source } from '../../jobs/sources/source.ts';
import { Problem } from '../../core/problem.ts';
import { comparisonMarkdown } from '../output/markdown.ts';
import { countKind, printCounts, printItems, printKinds, printRenames, printSince } from '../output/comparison.ts';
import { likelyRenames } from '../../jobs/kinship.ts';
import { EXIT, type CommandRun, type Context } from '../context.ts';
import { again, choiceOf, choicesOf, fromToAndSelectors, textOption } from '../words.ts';

export const run: CommandRun = async (context) => {
  const { workspace, words, options } = context;
  const { from, to, selectors } = fromToAndSelectors(words);
  const format = textOption(options, 'format');
  if (format !== undefined && format !== 'markdown') throw new Problem('usage', `there is no format "${format}"`, { where: '--format', remedy: 'write --format markdown, or --json' });
  if (options['previews'] === true && options['report'] === undefined) throw new Problem('usage', '--previews goes with --report', { remedy: 'name the page that shall show them' });
  // Rows of files are kept, not thrown away: a young generation that grows would only make peak memory larger.
  if (workspace.isFile(from) && workspace.isFile(to)) setFlagsFromString('--semi-space-growth-factor=1');
  const work = (source: Source, target: Source): Promise<number> => compareBoth(context, { source, target, from, to, selectors });
  return workspace.isFile(to) ? workspace.withBoth(() => workspace.open(from), () => workspace.open(to), work) : workspace.between(from, to, work);
};

interface Sides { readonly source: Source; readonly target: Source; readonly from: string; readonly to: string; readonly selectors: readonly string[] }

async function compareBoth(context: Context, { source, target, from, to, selectors }: Sides): Promise<number> {
  const { call, workspace, options, out, json, quiet } = context;
  const wishes = workspace.isFile(to) ? undefined : choicesOf(workspace, to, selectors, options);
  const bases = workspace.isFile(to) ? undefined : workspace.bases(source, target);
  const { selection, findings, reused } = await compare(source, target, wishes?.choice ?? choiceOf(workspace, selectors, options), { wishes, places: options['short'] !== true, bases });
  const gathered = await gather(findings, options['report'] === undefined ? undefined : new ShownFiles(source, target), (done) => { workspace.onProgress({ phase: 'comparing', done, total: Math.max(done, selection.chosen.size) }); });
  const { counts, shown } = gathered;
  const named = (status: ItemStatus): Address[] => shown.filter((one) => one.status === status).map((one) => one.address);
  const { renames, skipped } = options['short'] === true ? { renames: [], skipped: [] } : await likelyRenames(source, target, named('new'), named('target-only'));
  const differences = counts.new + counts.differs;
  if (options['format'] === 'markdown') out.raw(comparisonMarkdown(shown, renames, { counts, from: source.label, to: target.label }));
  else if (json) out.json({ from: source.label, to: target.label, counts, items: shown, renames, reused: Object.fromEntries(reused), cannot: selection.cannot });
  else {
    printCounts(out, counts, from, to);
    if (bases) printSince(out, bases.size, shown, from, to);
    if (gathered.byKind.size > 1) printKinds(out, gathered.byKind, to);
    printItems(out, shown, { from, to, short: options['short'] === true, all: options['all'] === true });
    printRenames(out, renames, to, skipped);
    for (const [address, same] of reused) out.line('  ', out.name(address), ' is there already, as ', out.name(same));
    for (const one of selection.cannot) out.line(out.note(one.address), ' cannot travel: ', one.why, out.faint(one.remedy === undefined ? '' : `; what to do: ${one.remedy}`));
    if (!quiet && differences > 0) { out.line(); out.line(`Next: "pochette route ${from} ${to}${again(selectors, options)}" shows the steps that would make ${to} equal.`); }
  }
  await writeReport(call, options, async () => {
    const view: Comparison = {
      from: source.label, to: target.label, counts, findings: shown.map((one) => ({ ...one, changes: gathered.whole.get(one.address) ?? one.changes, refersTo: one.refersTo.map((to) => itemOf(to, source.kinds)) })), renames, labels: labelsOf(target.kinds, source.kinds),
      pictures: picturesOf(gathered.files), previews: options['previews'] === true ? await previewsOf(shown, source, target) : new Map(), made: workspace.now().toISOString(),
    };
    return (await import('../../report/index.ts')).comparisonPage(view);
  });
  return differences > 0 || (counts['target-only'] > 0 && selection.everything && workspace.isFile(to)) ? EXIT.differences : EXIT.done;
}

interface Gathered { readonly counts: Record<ItemStatus, number>; readonly byKind: Map<string, Record<ItemStatus, number>>; readonly shown: ShownFinding[]; /** For a page: all that is in items which only one side has. */ readonly whole: Map<Address, readonly Change[]>; readonly files: ReadonlyMap<string, ShownFile> }

async function gather(findings: AsyncIterable<ItemFinding>, files: ShownFiles | undefined, onDone: (done: number) => void): Promise<Gathered> {
  const gathered: Gathered = { counts: { new: 0, differs: 0, same: 0, 'target-only': 0 }, byKind: new Map(), shown: [], whole: new Map(), files: files?.found ?? new Map<string, ShownFile>() };
  let done = 0;
  for await (const finding of findings) {
    gathered.counts[finding.status]++;
    countKind(gathered.byKind, finding);
    if (finding.status !== 'same') gathered.shown.push(light(finding));
    if (files && finding.status !== 'same') { await files.see(finding); gathered.whole.set(finding.address, await placesOf(finding)); }
    onDone(++done);
  }
  return gathered;
}

/** Without the rows, which hold values, and without texts that are cut from them: a long comparison must not hold both sites in memory. */
function light({ source, target: _target, address, title, own, ...finding }: ItemFinding): ShownFinding {
  return { ...finding, address: ownText(address), title: ownText(title), ...(own ? { own: { address: ownText(own.address), fingerprint: ownText(own.fingerprint) } } : {}), refersTo: [...new Set(source?.references.filter((one) => one.strong).map((one) => one.to) ?? [])] };
}
