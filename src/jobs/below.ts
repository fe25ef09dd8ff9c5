import { kindWord, makeAddress, parseAddress, type Address } from '../core/address.ts';
import { isFirm } from '../core/coverage.ts';
import type { Kinds } from '../core/kind.ts';
import type { SourceRow } from '../core/source.ts';
import type { Chosen } from './select.ts';
import type { Source } from './sources/source.ts';

/**
 * Other names with those that follow from them: of what lies below something that gets another name, and is called after it, as a step is after its
 * flow. Source address → target address.
 */
export async function withBelow(source: Source, chosen: Chosen, as: Readonly<Record<Address, Address>>): Promise<Record<Address, Address>> {
  const renamed = new Map(Object.entries(as));
  const lying = renamed.size === 0 ? undefined : new Lying(source);
  for (let frontier = [...renamed.keys()]; lying && frontier.length > 0;) {
    const below = [...await lying.below(frontier)].filter(([address]) => chosen.has(address) && !renamed.has(address));
    for (const [address, above] of below) renamed.set(address, nameBelow(address, above, renamed.get(above) ?? above));
    frontier = below.map(([address]) => address);
  }
  return Object.fromEntries(renamed);
}

/** Finds what lies below items: of what is called after them that which says so. */
export class Lying {
  readonly #source: Source;
  /** Addresses by the last word but one of their names, which could be the last word of what they lie below. */
  readonly #byWord = new Map<string, Address[]>();

  constructor(source: Source) {
    this.#source = source;
    const kinds = new Set([...source.kinds.values()].filter((kind) => kind.description.firm.length > 0).map((kind) => kind.short));
    for (const address of kinds.size === 0 ? [] : source.listed().keys()) {
      const word = kinds.has(kindWord(address)) ? wordsOf(address).at(-2) : undefined;
      if (word === undefined) continue;
      const same = this.#byWord.get(word);
      if (same) same.push(address); else this.#byWord.set(word, [address]);
    }
  }

  /** With the item that each lies below. */
  async below(above: readonly Address[]): Promise<Map<Address, Address>> {
    const called = above.flatMap((address) => this.#byWord.get(wordsOf(address).at(-1) ?? '') ?? []);
    const [found, wanted] = [new Map<Address, Address>(), new Set(above)];
    for await (const row of called.length === 0 ? [] : this.#source.rows(new Set(called))) {
      const parent = parentOf(row, this.#source.kinds);
      if (parent !== undefined && wanted.has(parent)) found.set(row.address, parent);
    }
    return found;
  }
}

/** The item that one says it cannot be without, and is called after. */
export function parentOf({ address, kind, references }: Pick<SourceRow, 'address' | 'kind' | 'references'>, kinds: Kinds): Address | undefined {
  const described = kinds.get(kind);
  return described && references.find(({ at, to }) => isFirm(described, at) && isCalledAfter(address, to))?.to;
}

/** Is something called after what it lies below: its name but for the last word ends like the name of that? */
export function isCalledAfter(address: Address, above: Address): boolean { return sharedWords(wordsOf(address).slice(0, -1), wordsOf(above)) > 0; }

/** The address of something that is called after `above`, when that is called `to`. */
function nameBelow(address: Address, above: Address, to: Address): Address {
  const [own, there, instead] = [wordsOf(address), wordsOf(above), wordsOf(to)];
  const shared = sharedWords(own.slice(0, -1), there);
  // What comes before, as a type, is the parent's own.
  const before = there.slice(0, -shared);
  const words = before.every((word, i) => instead[i] === word) ? instead.slice(before.length) : instead.slice(-shared);
  return makeAddress(parseAddress(address).kind, [...own.slice(0, -1 - shared), ...words, ...own.slice(-1)].join('/'));
}

function wordsOf(address: Address): string[] { return parseAddress(address).name.split('/'); }

/** How many words both end with. */
function sharedWords(a: readonly string[], b: readonly string[]): number {
  let count = 0;
  while (count < Math.min(a.length, b.length) && a.at(-1 - count) === b.at(-1 - count)) count++;
  return count;
}
