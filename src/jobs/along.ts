import type { Address } from '../core/address.ts';
import { itemOf } from '../core/belongings.ts';
import { byCodeUnit } from '../core/json.ts';
import { Lying } from './below.ts';
import { coveredRow } from './cover.ts';
import { companions, holdsFiles, type Chosen } from './select.ts';
import type { Source } from './sources/source.ts';

/** What comes along with chosen items, and for which of them. */
export type Along = readonly { readonly address: Address; readonly for: Address }[];
/** `isThere`: the target has it already, so that a reference to it brings nothing along. `as`: what gets another name on the target. */
export interface AlongOptions { readonly noMedia?: boolean; readonly isThere?: (address: Address) => boolean; readonly as?: Readonly<Record<Address, Address>> }

/**
 * What chosen items refer to, and what that refers to, whole; what lies below them and is called after them, as steps below their flow; and what
 * belongs together with them though another extension owns it.
 */
export async function bringAlong(source: Source, chosen: Omit<Chosen, 'size'>, { noMedia = false, isThere = () => false, as = {} }: AlongOptions = {}): Promise<Along> {
  const listed = source.listed();
  const lying = new Lying(source);
  const brought = new Map<Address, Address>();
  const renamed = new Set(Object.keys(as));
  let frontier = new Set(chosen.keys());
  while (frontier.size > 0) {
    const next = new Set<Address>();
    const bring = (to: Address, by: Address): void => {
      const there = listed.get(to);
      if (!there || chosen.has(to) || brought.has(to) || (noMedia && holdsFiles(source.kinds, there.kind))) return;
      brought.set(to, by);
      next.add(to);
    };
    const whole = [...frontier].filter((address) => (chosen.get(address) ?? 'all') === 'all');
    for (const [address, above] of await lying.below(whole)) { if (renamed.has(above)) renamed.add(address); bring(address, above); }
    for await (const row of source.rows(frontier)) {
      const covered = await coveredRow(source, row, chosen.get(row.address) ?? 'all');
      const together = covered.covers === 'all' ? companions(source, row.address, row.kind).there : [];
      // Under another name it is not there.
      for (const to of [...covered.references.map((one) => one.to).filter((one) => !isThere(one) || renamed.has(one)).map((one) => itemOf(one, source.kinds)), ...together]) bring(to, row.address);
    }
    frontier = next;
  }
  return [...brought].map(([address, by]) => ({ address, for: by })).sort((a, b) => byCodeUnit(a.address, b.address));
}
