import type { Address } from '../core/address.ts';
import { holderOf, holders } from '../core/belongings.ts';
import { byCodeUnit } from '../core/json.ts';
import { coveredRow } from './cover.ts';
import { companions, holdsFiles, type Chosen } from './select.ts';
import type { Source } from './sources/source.ts';

/** What comes along with chosen items, and for which of them. */
export type Along = readonly { readonly address: Address; readonly for: Address }[];

/**
 * What chosen items refer to, and what that refers to, whole; and what belongs together with them though another extension owns it.
 * `isThere`: the target has it already, so that a reference to it brings nothing along.
 */
export async function bringAlong(source: Source, chosen: Omit<Chosen, 'size'>, { noMedia = false, isThere = () => false }: { noMedia?: boolean; isThere?: (address: Address) => boolean }): Promise<Along> {
  const listed = source.listed();
  const among = holders(source.kinds);
  const brought = new Map<Address, Address>();
  let frontier = new Set(chosen.keys());
  while (frontier.size > 0) {
    const next = new Set<Address>();
    for await (const row of source.rows(frontier)) {
      const covered = await coveredRow(source, row, chosen.get(row.address) ?? 'all');
      const together = covered.covers === 'all' ? companions(source, row.address, row.kind).there : [];
      for (const to of [...covered.references.map((one) => one.to).filter((one) => !isThere(one)).map((one) => holderOf(one, among) ?? one), ...together]) {
        const there = listed.get(to);
        if (!there || chosen.has(to) || brought.has(to) || (noMedia && holdsFiles(source.kinds, there.kind))) continue;
        brought.set(to, row.address);
        next.add(to);
      }
    }
    frontier = next;
  }
  return [...brought].map(([address, by]) => ({ address, for: by })).sort((a, b) => byCodeUnit(a.address, b.address));
}
