import { writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { setFlagsFromString } from 'node:v8';
import type { Comparison } from '../../report/comparison.ts';
import type { Address } from '../../core/address.ts';
import { compare, type ItemFinding, type ItemStatus } from '../../jobs/compare.ts';
import type { Source } from '../../jobs/sources/source.ts';
import { Problem } from '../../core/problem.ts';
import { comparisonMarkdown } from '../output/markdown.ts';
import { countKind, printCounts, printItems, printKinds, printRenames, printSince } from '../output/comparison.ts';
import { likelyRenames } from '../../jobs/kinship.ts';
import { EXIT, type CommandRun } from '../context.ts';
import { again, choiceOf, choicesOf, fromToAndSelectors, textOption } from '../words.ts';

export const run: CommandRun = async ({ call, workspace, words, options, out, json, quiet }) => {
  const { from, to, selectors } = fromToAndSelectors(words);
  const format = textOption(options, 'format');
  if (format !== undefined && format !== 'markdown') throw new Problem('usage', `there is no format "${format}"`, { where: '--format', remedy: 'write --format markdown, or --json' });
  // Rows of files are kept, not thrown away: a young generation that grows would only make peak memory larger.
  if (workspace.isFile(from) && workspace.isFile(to)) setFlagsFromString('--semi-space-growth-factor=1');
  const both = workspace.isFile(to) ? (work: (source: Source, target: Source) => Promise<number>) => workspace.withBoth(() => workspace.open(from), () => workspace.open(to), work) : (work: (source: Source, target: Source) => Promise<number>) => workspace.between(from, to, work);
  return both(async (source, target) => {
    const wishes = workspace.isFile(to) ? undefined : choicesOf(workspace, to, selectors, options);
    const bases = workspace.isFile(to) ? undefined : workspace.bases(source, target);
    const { selection, findings, reused } = await compare(source, target, wishes?.choice ?? choiceOf(workspace, selectors, options), { wishes, places: options['short'] !== true, bases });
    const counts: Record<ItemStatus, number> = { new: 0, differs: 0, same: 0, 'target-only': 0 };
    const byKind = new Map<string, Record<ItemStatus, number>>();
    const shown: ItemFinding[] = [];
    let done = 0;
    for await (const finding of findings) {
      counts[finding.status]++;
      countKind(byKind, finding);
      if (finding.status !== 'same') shown.push(light(finding));
      workspace.onProgress({ phase: 'comparing', done: ++done, total: Math.max(done, selection.chosen.size) });
    }
    const differences = counts.new + counts.differs;
    const named = (status: ItemStatus): Address[] => shown.filter((one) => one.status === status).map((one) => one.address);
    const { renames } = await likelyRenames(source, target, named('new'), named('target-only'));
    if (format === 'markdown') out.raw(comparisonMarkdown(shown, renames, { counts, from: source.label, to: target.label }));
    else if (json) out.json({ from: source.label, to: target.label, counts, items: shown, renames, reused: Object.fromEntries(reused), cannot: selection.cannot });
    else {
      printCounts(out, counts, from, to);
      if (bases) printSince(out, bases.size, shown, from, to);
      if (byKind.size > 1) printKinds(out, byKind, to);
      printItems(out, shown, { from, to, short: options['short'] === true, all: options['all'] === true });
      printRenames(out, renames, to);
      for (const [address, same] of reused) out.line('  ', out.name(address), ' is there already, as ', out.name(same));
      for (const one of selection.cannot) out.line(out.note(one.address), ' cannot travel: ', one.why);
      if (!quiet && differences > 0) { out.line(); out.line(`Next: "pochette route ${from} ${to}${again(selectors, options)}" shows the steps that would make ${to} equal.`); }
    }
    await writeReport(textOption(options, 'report'), call.folder, { from: source.label, to: target.label, counts, findings: shown, renames, made: workspace.now().toISOString() });
    return differences > 0 || counts['target-only'] > 0 && selection.everything && workspace.isFile(to) ? EXIT.differences : EXIT.done;
  });
};

/** The page as a file. It is written last: where it cannot be, nothing else is lost. */
async function writeReport(file: string | undefined, folder: string, view: Comparison): Promise<void> {
  if (file === undefined) return;
  const path = resolve(folder, file);
  const { comparisonPage } = await import('../../report/comparison.ts');
  try { writeFileSync(path, comparisonPage(view)); } catch (error) {
    if (!(error instanceof Error && 'code' in error)) throw error;
    throw new Problem('usage', `the report cannot be written: ${error.message}`, { where: path, remedy: 'name another file with --report' });
  }
}

/** Without the rows, which hold values: a long comparison must not hold both sites in memory. */
function light({ source: _source, target: _target, ...finding }: ItemFinding): ItemFinding {
  return finding;
}
