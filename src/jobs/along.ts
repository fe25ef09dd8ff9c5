import { kindWord, parseAddress, type Address } from '../core/address.ts';
import { holderOf, holders } from '../core/belongings.ts';
import { byCodeUnit } from '../core/json.ts';
import { parentsOf } from './below.ts';
import { coveredRow } from './cover.ts';
import { companions, holdsFiles, type Chosen } from './select.ts';
import type { Listing, Source } from './sources/source.ts';

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
  const among = holders(source.kinds);
  const lying = new Lying(source, listed);
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
      for (const to of [...covered.references.map((one) => one.to).filter((one) => !isThere(one) || renamed.has(one)).map((one) => holderOf(one, among) ?? one), ...together]) bring(to, row.address);
    }
    frontier = next;
  }
  return [...brought].map(([address, by]) => ({ address, for: by })).sort((a, b) => byCodeUnit(a.address, b.address));
}

/** Finds what lies below items: of what is called after them that which says so. */
class Lying {
  readonly #source: Source;
  /** Addresses by the last word but one of their names, which could be the last word of what they lie below. */
  readonly #byWord = new Map<string, Address[]>();

  constructor(source: Source, listed: Listing) {
    this.#source = source;
    const kinds = new Set([...source.kinds.values()].filter((kind) => kind.description.firm.length > 0).map((kind) => kind.short));
    for (const address of kinds.size === 0 ? [] : listed.keys()) {
      const word = kinds.has(kindWord(address)) ? parseAddress(address).name.split('/').at(-2) : undefined;
      if (word !== undefined) this.#byWord.set(word, [...this.#byWord.get(word) ?? [], address]);
    }
  }

  /** With the item that each lies below. */
  async below(above: readonly Address[]): Promise<Map<Address, Address>> {
    if (this.#byWord.size === 0) return new Map();
    const called = above.flatMap((address) => this.#byWord.get(parseAddress(address).name.split('/').at(-1) ?? '') ?? []);
    if (called.length === 0) return new Map();
    const [parents, wanted] = [await parentsOf(this.#source, called), new Set(above)];
    return new Map([...parents].filter(([, parent]) => wanted.has(parent)));
  }
}
