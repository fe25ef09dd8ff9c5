import { makeAddress, parseAddress, type Address } from '../core/address.ts';
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
  if (renamed.size === 0) return {};
  const above = await parentsOf(source, chosen.keys());
  for (let known = 0; known < renamed.size;) {
    known = renamed.size;
    for (const [address, parent] of above) {
      const to = renamed.has(address) ? undefined : renamed.get(parent);
      const name = to === undefined ? undefined : nameBelow(address, parent, to);
      if (name !== undefined) renamed.set(address, name);
    }
  }
  return Object.fromEntries(renamed);
}

/** What items lie below and are called after, of those that do. */
export async function parentsOf(source: Source, addresses: Iterable<Address>): Promise<Map<Address, Address>> {
  const above = new Map<Address, Address>();
  for await (const row of source.rows(new Set(addresses))) {
    const parent = parentOf(row, source.kinds);
    if (parent !== undefined) above.set(row.address, parent);
  }
  return above;
}

/** The item that one says it cannot be without, and is called after. */
export function parentOf({ address, kind, references }: Pick<SourceRow, 'address' | 'kind' | 'references'>, kinds: Kinds): Address | undefined {
  const described = kinds.get(kind);
  return described && references.find(({ at, to }) => isFirm(described, at) && isCalledAfter(address, to))?.to;
}

/** Is something called after what it lies below: its name but for the last word ends like the name of that? */
export function isCalledAfter(address: Address, above: Address): boolean { return sharedWords(wordsOf(address).slice(0, -1), wordsOf(above)) > 0; }

/** The address of something below `above`, when that is called `to`; undefined where it is not called after it. */
function nameBelow(address: Address, above: Address, to: Address): Address | undefined {
  const [own, there, instead] = [wordsOf(address), wordsOf(above), wordsOf(to)];
  const shared = sharedWords(own.slice(0, -1), there);
  if (shared === 0) return undefined;
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
