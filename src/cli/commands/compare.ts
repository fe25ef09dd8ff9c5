import { groupBy } from '../../core/json.ts';
import { setFlagsFromString } from 'node:v8';
import type { Address } from '../../core/address.ts';
import { compare, type ItemFinding, type ItemStatus } from '../../jobs/compare.ts';
import type { Source } from '../../jobs/sources/source.ts';
import { printChange } from '../output/findings.ts';
import { many, type Printer } from '../output/printer.ts';
import { EXIT, type CommandRun } from '../context.ts';
import { again, choiceOf, choicesOf, fromToAndSelectors } from '../words.ts';

export const run: CommandRun = async ({ workspace, words, options, out, json, quiet }) => {
  const { from, to, selectors } = fromToAndSelectors(words);
  // Rows of files are kept, not thrown away: a young generation that grows would only make peak memory larger.
  if (workspace.isFile(from) && workspace.isFile(to)) setFlagsFromString('--semi-space-growth-factor=1');
  const both = workspace.isFile(to) ? (work: (source: Source, target: Source) => Promise<number>) => workspace.withBoth(() => workspace.open(from), () => workspace.open(to), work) : (work: (source: Source, target: Source) => Promise<number>) => workspace.between(from, to, work);
  return both(async (source, target) => {
    const wishes = workspace.isFile(to) ? undefined : choicesOf(workspace, to, selectors, options);
    const { selection, findings, reused } = await compare(source, target, wishes?.choice ?? choiceOf(workspace, selectors, options), { wishes, places: options['short'] !== true });
    const counts: Record<ItemStatus, number> = { new: 0, differs: 0, same: 0, 'target-only': 0 };
    const shown: ItemFinding[] = [];
    let done = 0;
    for await (const finding of findings) {
      counts[finding.status]++;
      if (finding.status !== 'same') shown.push(light(finding));
      workspace.onProgress({ phase: 'comparing', done: ++done, total: Math.max(done, selection.chosen.size) });
    }
    const differences = counts.new + counts.differs;
    if (json) out.json({ from: source.label, to: target.label, counts, items: shown, reused: Object.fromEntries(reused), cannot: selection.cannot });
    else {
      printCounts(out, counts, from, to);
      printItems(out, shown, from, to, options['short'] === true);
      for (const [address, same] of reused) out.line('  ', out.name(address), ' is there already, as ', out.name(same));
      for (const one of selection.cannot) out.line(out.note(one.address), ' cannot travel: ', one.why);
      if (!quiet && differences > 0) { out.line(); out.line(`Next: "pochette route ${from} ${to}${again(selectors, options)}" shows the steps that would make ${to} equal.`); }
    }
    return differences > 0 || counts['target-only'] > 0 && selection.everything && workspace.isFile(to) ? EXIT.differences : EXIT.done;
  });
};

/** Without the rows, which hold values: a long comparison must not hold both sites in memory. */
function light({ source: _source, target: _target, ...finding }: ItemFinding): ItemFinding {
  return finding;
}

function printCounts(out: Printer, counts: Readonly<Record<ItemStatus, number>>, from: string, to: string): void {
  out.line(out.strong(`${from} compared with ${to}: `), out.good(`${counts.new} new`), ', ', out.note(`${counts.differs} differ`), `, ${counts.same} same, ${counts['target-only']} only on ${to}.`);
}

function printItems(out: Printer, findings: readonly ItemFinding[], from: string, to: string, short: boolean): void {
  for (const [kind, items] of groupBy(findings, (one) => kindOf(one.address))) {
    out.heading(kind);
    for (const one of items) {
      out.line('  ', word(out, one.status, to), '  ', out.strong(one.address), '  ', out.faint(one.title), one.status === 'differs' && !short ? out.faint(`  ${many(one.changes.length, 'place')}`) : '');
      if (!short) for (const change of one.changes) printChange(out, change, from, to);
    }
  }
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
