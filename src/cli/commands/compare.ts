import { byCodeUnit, groupBy } from '../../core/json.ts';
import { writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { setFlagsFromString } from 'node:v8';
import type { Comparison } from '../../report/comparison.ts';
import type { Address } from '../../core/address.ts';
import { compare, type ItemFinding, type ItemStatus } from '../../jobs/compare.ts';
import type { Source } from '../../jobs/sources/source.ts';
import { Problem } from '../../core/problem.ts';
import { comparisonMarkdown } from '../output/markdown.ts';
import { printChange } from '../output/findings.ts';
import { many } from '../../report/units.ts';
import type { Printer } from '../output/printer.ts';
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
    if (format === 'markdown') out.raw(comparisonMarkdown(shown, counts, source.label, target.label));
    else if (json) out.json({ from: source.label, to: target.label, counts, items: shown, reused: Object.fromEntries(reused), cannot: selection.cannot });
    else {
      printCounts(out, counts, from, to);
      if (bases) printSince(out, bases.size, shown, from, to);
      if (byKind.size > 1) printKinds(out, byKind, to);
      printItems(out, shown, from, to, options['short'] === true);
      for (const [address, same] of reused) out.line('  ', out.name(address), ' is there already, as ', out.name(same));
      for (const one of selection.cannot) out.line(out.note(one.address), ' cannot travel: ', one.why);
      if (!quiet && differences > 0) { out.line(); out.line(`Next: "pochette route ${from} ${to}${again(selectors, options)}" shows the steps that would make ${to} equal.`); }
    }
    await writeReport(textOption(options, 'report'), call.folder, { from: source.label, to: target.label, counts, findings: shown, made: workspace.now().toISOString() });
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

function printCounts(out: Printer, counts: Readonly<Record<ItemStatus, number>>, from: string, to: string): void {
  out.line(out.strong(`${from} compared with ${to}: `), out.good(`${counts.new} new`), ', ', out.note(`${counts.differs} differ`), `, ${counts.same} same, ${counts['target-only']} only on ${to}.`);
}

function printSince(out: Printer, known: number, findings: readonly ItemFinding[], from: string, to: string): void {
  if (known === 0) { out.line(out.faint(`Nothing was carried from ${from} to ${to} from here yet: who changed what is not known.`)); return; }
  const of = (by: ItemFinding['by']): number => findings.filter((one) => one.by === by).length;
  out.line(`Since the last import: ${of('source')} changed on ${from}, ${of('target')} on ${to}, ${of('both')} on both.`);
}

function countKind(byKind: Map<string, Record<ItemStatus, number>>, { address, status }: ItemFinding): void {
  const own = byKind.get(kindOf(address)) ?? { new: 0, differs: 0, same: 0, 'target-only': 0 };
  own[status]++;
  byKind.set(kindOf(address), own);
}

/** How much differs of each kind, before the items. */
function printKinds(out: Printer, byKind: ReadonlyMap<string, Readonly<Record<ItemStatus, number>>>, to: string): void {
  out.line();
  const differing = [...byKind].filter(([, one]) => one.new + one.differs + one['target-only'] > 0).sort(([a], [b]) => byCodeUnit(a, b));
  out.table(differing.map(([kind, one]) => [out.name(kind), ...([[one.new, 'new'], [one.differs, 'differ'], [one['target-only'], `only ${to}`], [one.same, 'same']] as const).map(([count, word]) => (count > 0 ? `${count} ${word}` : ''))]));
}

function printItems(out: Printer, findings: readonly ItemFinding[], from: string, to: string, short: boolean): void {
  for (const [kind, items] of groupBy(findings, (one) => kindOf(one.address))) {
    out.heading(kind);
    for (const one of items) {
      out.line('  ', word(out, one.status, to), '  ', out.strong(one.address), '  ', out.faint(one.title), ...whose(out, one, from, to), one.status === 'differs' && !short ? out.faint(`  ${many(one.changes.length, 'place')}`) : '');
      if (!short) one.changes.forEach((change, i) => { printChange(out, change, from, to, placeBy(one, i, from, to)); });
    }
  }
}

/** Who changed it since it was last carried. */
function whose(out: Printer, { by, status }: ItemFinding, from: string, to: string): ReturnType<Printer['good']>[] {
  if (by === undefined) return [];
  if (by === 'neither') return [out.faint('  as the last import left it')];
  if (by === 'both') return [out.bad('  changed on both')];
  const where = by === 'source' ? from : to;
  return [status === 'differs' ? out.note(`  changed on ${where}`) : out.note(`  removed on ${where}`)];
}

/** The same of one place, where the item was changed on both sides. */
function placeBy({ placesBy }: ItemFinding, i: number, from: string, to: string): string {
  const by = placesBy?.[i];
  return by === undefined ? '' : by === 'both' ? ' (clash)' : ` (${by === 'source' ? from : to})`;
}

function kindOf(address: Address): string {
  return address.slice(0, address.indexOf(':'));
}

function word(out: Printer, status: ItemStatus, to: string): ReturnType<Printer['good']> {
  const width = Math.max('differs'.length, `only ${to}`.length);
  switch (status) {
    case 'new': return out.good('new'.padEnd(width));
    case 'differs': return out.note('differs'.padEnd(width));
    case 'target-only': return out.faint(`only ${to}`.padEnd(width));
    case 'same': return out.faint('same'.padEnd(width));
  }
}
