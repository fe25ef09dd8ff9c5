import type { Change } from '../../core/compare.ts';
import { compareLines, type LineChange } from '../../core/lines.ts';
import { isObject, type Json } from '../../core/json.ts';
import { opened, readable } from '../../report/readable.ts';
import type { Block, FollowUp } from '../../core/route.ts';
import type { NeededBy } from '../../core/requirements.ts';
import { placeOf } from '../../core/address.ts';
import type { PageAnswer } from '../../jobs/pages.ts';
import type { Adjusted } from '../../jobs/passage.ts';
import type { LeftOut } from '../../jobs/sources/source.ts';
import { shortenMiddle, shortenPair } from '../../report/shorten.ts';
import { some } from '../../report/units.ts';
import { adjustedText, blockText, followUpText, requirementText } from '../../report/words.ts';
import type { Printer, Styled } from './printer.ts';

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
  const { what, remedy } = blockText(block, { alone: true });
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

const INDENT = '      ';
const COLOUR = /^#(?:[0-9a-f]{3}|[0-9a-f]{6})$/i;

/** One changed place with both values, on one line where they fit; texts line by line. */
export function printChange(out: Printer, change: Change, from: string, to: string, more = ''): void {
  const at = shortenMiddle((change.at === '' ? '(whole)' : readable(change.at)) + more, out.columns - INDENT.length);
  if (change.change === 'differs' && typeof change.source === 'string' && typeof change.target === 'string' && [change.source, change.target].some(isLong)) {
    out.line(INDENT, out.name(at));
    printLines(out, compareLines(readable(change.source), readable(change.target)), from, to);
    return;
  }
  const sides = sidesOf(change, from, to);
  const length = INDENT.length + at.length + sides.reduce((sum, side) => sum + 2 + side.label.length + 1 + side.value.length, 0);
  if (length <= out.columns - 4) {
    out.line(INDENT, out.name(at), ...sides.flatMap((side) => ['  ', `${side.label} `, valued(out, side, side.value)]));
    return;
  }
  out.line(INDENT, out.name(at));
  const label = Math.max(...sides.map((side) => side.label.length));
  const room = out.columns - INDENT.length - 2 - label - 2 - 3;
  const values = sides.length === 2 ? shortenPair(sides[0]?.value ?? '', sides[1]?.value ?? '', room) : sides.map((side) => shortenMiddle(side.value, room));
  sides.forEach((side, i) => { out.line(INDENT, '  ', side.label.padEnd(label), '  ', valued(out, side, values[i] ?? '')); });
}

interface SideOf { readonly side: 'source' | 'target'; readonly label: string; readonly value: string; readonly colour?: string }

function sidesOf(change: Change, from: string, to: string): SideOf[] {
  const of = (side: SideOf['side'], label: string, value: Json): SideOf => ({ side, label, value: plainValue(value), ...(typeof value === 'string' && COLOUR.test(value) ? { colour: value } : {}) });
  switch (change.change) {
    case 'new': return [of('source', `only ${from}:`, change.source)];
    case 'target-only': return [of('target', `only ${to}:`, change.target)];
    case 'differs': return [of('source', `${from}:`, change.source), of('target', `${to}:`, change.target)];
    case 'order': return [{ side: 'source', label: `order on ${from}:`, value: change.source.join(', ') }, { side: 'target', label: `order on ${to}:`, value: change.target.join(', ') }];
  }
}

/** The value of a side; a colour has its swatch beside it, where colours can be shown. */
function valued(out: Printer, { side, colour }: SideOf, value: string): Styled {
  const shown = side === 'source' ? out.good(value) : out.note(value);
  return colour === undefined ? shown : out.join(shown, out.swatch(colour));
}

/** Texts line by line; lines that replace each other are shortened to where they differ. */
function printLines(out: Printer, lines: readonly LineChange[], from: string, to: string): void {
  const label = Math.max(from.length, to.length, 4) + 5;
  const room = out.columns - INDENT.length - 2 - label - 2;
  for (let i = 0; i < lines.length; i++) {
    const { line, side } = lines[i] as LineChange;
    const run = (start: number, wanted: string): LineChange[] => { let end = start; while (lines[end]?.side === wanted) end++; return lines.slice(start, end); };
    const ours = side === 'target' ? run(i, 'target') : [];
    const theirs = run(i + ours.length, 'source');
    if (ours.length === 0 || ours.length !== theirs.length) { printLine(out, side, shortenMiddle(line, room), { label, from, to }); continue; }
    const pairs = ours.map((one, j) => shortenPair(one.line, theirs[j]?.line ?? '', room));
    for (const [text] of pairs) printLine(out, 'target', text, { label, from, to });
    for (const [, text] of pairs) printLine(out, 'source', text, { label, from, to });
    i += 2 * ours.length - 1;
  }
}

function printLine(out: Printer, side: LineChange['side'], text: string, { label, from, to }: { label: number; from: string; to: string }): void {
  const row = out.join((side === 'both' ? 'both' : `only ${side === 'source' ? from : to}`).padEnd(label), '  ', text);
  out.line(INDENT, '  ', side === 'both' ? out.faint(row) : side === 'source' ? out.good(row) : out.note(row));
}

function isLong(text: string): boolean {
  return text.includes('\n') || text.length > 160;
}

/** Values as a person reads them: a reference is the address it points to, and what was packed is shown open. */
export function plainValue(value: Json): string {
  if (typeof value === 'string') return value === '' ? '(empty)' : value.startsWith('⟦') ? readable(value) : JSON.stringify(readable(value));
  if (typeof value === 'object' && value !== null && !Array.isArray(value) && typeof value['@ref'] === 'string') return value['@ref'];
  const open = opened(value);
  if (typeof open === 'string') return open;
  return readable(isObject(open) ? Object.entries(open).map(([key, one]) => `${key}: ${JSON.stringify(one)}`).join(', ') || '(nothing in it)' : JSON.stringify(open));
}
