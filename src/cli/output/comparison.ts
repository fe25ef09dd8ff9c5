import { byCodeUnit, groupBy } from '../../core/json.ts';
import { kindWord } from '../../core/address.ts';
import type { ItemFinding, ItemStatus } from '../../jobs/compare.ts';
import type { LikelyRename } from '../../jobs/kinship.ts';
import { many } from '../../report/units.ts';
import { percent, whoseText } from '../../report/words.ts';
import { isClash } from '../../report/places.ts';
import { printChange } from './findings.ts';
import type { Printer, Styled } from './printer.ts';

/** Longer lists are cut; it is said how to see the rest. */
const [MOST_ITEMS, MOST_PLACES] = [25, 20];

export function printCounts(out: Printer, counts: Readonly<Record<ItemStatus, number>>, from: string, to: string): void {
  out.line(out.strong(`${from} compared with ${to}: `), out.good(`${counts.new} new`), ', ', out.note(`${counts.differs} differ`), `, ${counts.same} same, ${counts['target-only']} only on ${to}.`);
}

export function printSince(out: Printer, known: number, findings: readonly ItemFinding[], from: string, to: string): void {
  if (known === 0) { out.line(out.faint(`Nothing was carried from ${from} to ${to} from here yet: who changed what is not known.`)); return; }
  const of = (by: ItemFinding['by']): number => findings.filter((one) => one.by === by).length;
  out.line(`Since the last import: ${of('source')} changed on ${from}, ${of('target')} on ${to}, ${of('both')} on both.`);
}

export function countKind(byKind: Map<string, Record<ItemStatus, number>>, { address, status }: ItemFinding): void {
  const own = byKind.get(kindWord(address)) ?? { new: 0, differs: 0, same: 0, 'target-only': 0 };
  own[status]++;
  byKind.set(kindWord(address), own);
}

/** How much differs of each kind, before the items. */
export function printKinds(out: Printer, byKind: ReadonlyMap<string, Readonly<Record<ItemStatus, number>>>, to: string): void {
  out.line();
  const differing = [...byKind].filter(([, one]) => one.new + one.differs + one['target-only'] > 0).sort(([a], [b]) => byCodeUnit(a, b));
  out.table(differing.map(([kind, one]) => [out.name(kind), ...([[one.new, 'new'], [one.differs, 'differ'], [one['target-only'], `only ${to}`], [one.same, 'same']] as const).map(([count, word]) => (count > 0 ? `${count} ${word}` : ''))]));
}

export interface ItemsView { readonly from: string; readonly to: string; readonly short: boolean; /** Nothing is cut. */ readonly all: boolean }

export function printItems(out: Printer, findings: readonly ItemFinding[], view: ItemsView): void {
  for (const [kind, items] of groupBy(findings, (one) => kindWord(one.address))) {
    out.heading(kind);
    const shown = view.all ? items : items.slice(0, MOST_ITEMS);
    for (const one of shown) printItem(out, one, view);
    if (shown.length < items.length) out.line('  ', out.faint(`and ${items.length - shown.length} more: --all shows them, ${kind}:* only these, --report FILE all on a page`));
  }
}

function printItem(out: Printer, one: ItemFinding, { from, to, short, all }: ItemsView): void {
  const places = one.status === 'differs' && !short ? out.faint(`  ${many(one.changes.length, 'place')}`) : '';
  out.line('  ', word(out, one.status, to), '  ', out.strong(one.address), '  ', out.faint(one.title), ...whose(out, one, from, to), places);
  if (one.collision) out.line('      ', out.bad('something else: '), `"${one.collision.sourceTitle}" on ${from}, "${one.collision.targetTitle}" on ${to}${one.collision.origin === undefined ? '' : `, which came from ${one.collision.origin}`}; ${percent(one.collision.likeness)} alike`);
  if (short) return;
  const shown = all ? one.changes : one.changes.slice(0, MOST_PLACES);
  shown.forEach((change, i) => { printChange(out, change, from, to, placeBy(one, i, from, to)); });
  if (shown.length < one.changes.length) out.line('      ', out.faint(`and ${one.changes.length - shown.length} more places: --all shows them`));
}

export function printRenames(out: Printer, renames: readonly LikelyRename[], to: string, skipped: readonly string[]): void {
  if (skipped.length > 0) out.line(out.faint(`Renames were not looked for among ${skipped.join(', ')}: too much is new there.`));
  if (renames.length === 0) return;
  out.heading('Perhaps renamed');
  for (const { address, to: other, likeness } of renames) out.line('  ', out.name(address), ` is new, and `, out.name(other), ` is only on ${to}: ${percent(likeness)} alike. As one: `, out.faint(`--decide ${address}=${other}`));
}

/** Who changed it since it was last carried. */
function whose(out: Printer, one: ItemFinding, from: string, to: string): Styled[] {
  if (one.by === undefined) return [];
  if (one.by === 'neither') return [out.faint('  as the last import left it')];
  const text = `  ${whoseText(one, from, to)}`;
  return [one.by === 'both' ? out.bad(text) : out.note(text)];
}

/** The same of one place, where the item was changed on both sides. */
function placeBy({ placesBy, changes, clashes }: ItemFinding, i: number, from: string, to: string): string {
  const by = placesBy?.[i];
  if (by === undefined || by === 'neither') return '';
  if (by !== 'both') return ` (${by === 'source' ? from : to})`;
  return isClash(clashes ?? [], changes[i]?.at ?? '') ? ' (clash)' : ' (both, put together by itself)';
}

function word(out: Printer, status: ItemStatus, to: string): Styled {
  const width = Math.max('differs'.length, `only ${to}`.length);
  switch (status) {
    case 'new': return out.good('new'.padEnd(width));
    case 'differs': return out.note('differs'.padEnd(width));
    case 'target-only': return out.faint(`only ${to}`.padEnd(width));
    case 'same': return out.faint('same'.padEnd(width));
  }
}
