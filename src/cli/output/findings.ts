import type { Change } from '../../core/compare.ts';
import { compareLines } from '../../core/lines.ts';
import type { Json } from '../../core/json.ts';
import { opened, readable } from '../../report/readable.ts';
import type { Block, FollowUp } from '../../core/route.ts';
import type { NeededBy } from '../../core/requirements.ts';
import { placeOf } from '../../core/address.ts';
import type { PageAnswer } from '../../jobs/pages.ts';
import type { Adjusted } from '../../jobs/passage.ts';
import type { LeftOut } from '../../jobs/sources/source.ts';
import { brief, some } from '../../report/units.ts';
import { adjustedText, blockText, followUpText, requirementText } from '../../report/words.ts';
import type { Part, Printer } from './printer.ts';

export function printAdjusted(out: Printer, adjusted: readonly Adjusted[]): void {
  for (const one of adjusted) out.line('  ', out.name(one.item), ' ', adjustedText(one));
}

/** What was chosen and does not travel: always with the reason, and with what to do. */
export function printLeftOut(out: Printer, leftOut: readonly LeftOut[], heading = 'Left out'): void {
  if (leftOut.length === 0) return;
  out.heading(`${heading} (${leftOut.length})`);
  for (const one of leftOut) {
    const { why, remedy } = one.block ? words(one.block) : one;
    out.line('  ', out.note(placeOf(one.address, one.at)), '  ', why, ...(remedy === '' ? [] : ['  ', out.faint(`what to do: ${remedy}`)]));
  }
}

function words(block: Block): { why: string; remedy: string } {
  const { what, remedy } = blockText(block);
  return { why: what, remedy };
}

export function printBlocks(out: Printer, blocks: readonly Block[], target: string): void {
  out.heading(out.bad(`Blocked on ${target} in ${blocks.length} ${blocks.length === 1 ? 'place' : 'places'}; nothing was written`));
  for (const block of blocks) {
    const { what, remedy, items } = blockText(block);
    out.line('  ', some(items, 2) || target, ' ', what);
    out.line('      ', out.faint('what to do: '), remedy);
  }
}

export function printRequirements(out: Printer, requirements: readonly NeededBy[]): void {
  const shown = requirements.filter((one) => one.need !== 'kind');
  if (shown.length === 0) return;
  out.heading('Needs on the target');
  out.table(shown.map((one) => [requirementText(one), out.faint(`for ${some(one.neededBy, 2)}`)]));
}

export function printSilent(out: Printer, silent: readonly PageAnswer[]): void {
  for (const page of silent) out.line('  ', out.bad(`status ${page.status}`), '  ', page.url, out.faint(`  ${some(page.items, 3)}`));
}

export function printFollowUps(out: Printer, followUps: readonly FollowUp[]): void {
  if (followUps.length === 0) return;
  out.heading('Left for you to do');
  followUps.forEach((one, i) => { out.line('  ', out.name(`${i + 1}.`), ' ', followUpText(one)); });
}

const VALUE_WIDTH = 72;

/** One changed place with both values; texts line by line. */
export function printChange(out: Printer, change: Change, from: string, to: string, more = ''): void {
  const indent = '      ';
  const at = (change.at === '' ? '(whole)' : readable(change.at)) + more;
  if (change.change === 'differs' && typeof change.source === 'string' && typeof change.target === 'string' && [change.source, change.target].some(isLong)) {
    out.line(indent, out.name(at));
    const width = Math.max(from.length, to.length, 4) + 5;
    for (const { line, side } of compareLines(readable(change.source), readable(change.target))) {
      const label = side === 'both' ? 'both' : `only ${side === 'source' ? from : to}`;
      const row = out.join(label.padEnd(width), '  ', brief(line, VALUE_WIDTH));
      out.line(indent, '  ', side === 'both' ? out.faint(row) : side === 'source' ? out.good(row) : out.note(row));
    }
    return;
  }
  out.line(indent, out.name(at), '  ', ...sides(out, change, from, to));
}

function sides(out: Printer, change: Change, from: string, to: string): Part[] {
  switch (change.change) {
    case 'new': return [`only ${from}: `, out.good(brief(plainValue(change.source), VALUE_WIDTH))];
    case 'target-only': return [`only ${to}: `, out.note(brief(plainValue(change.target), VALUE_WIDTH))];
    case 'differs': return [`${from} has `, out.good(brief(plainValue(change.source), 48)), `, ${to} has `, out.note(brief(plainValue(change.target), 48))];
    case 'order': return [`other order: ${from} has `, out.good(brief(change.source.join(', '), 48)), `, ${to} has `, out.note(brief(change.target.join(', '), 48))];
  }
}

function isLong(text: string): boolean {
  return text.includes('\n') || text.length > 90;
}

/** Values as a person reads them: a reference is the address it points to, and what was packed is shown open. */
export function plainValue(value: Json): string {
  if (typeof value === 'string') return value === '' ? '(empty)' : value.startsWith('⟦') ? readable(value) : JSON.stringify(readable(value));
  if (typeof value === 'object' && value !== null && !Array.isArray(value) && typeof value['@ref'] === 'string') return value['@ref'];
  const open = opened(value);
  return typeof open === 'string' ? open : readable(JSON.stringify(open));
}
