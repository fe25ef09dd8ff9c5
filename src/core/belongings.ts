import { kindWord, makeAddress, parseAddress, type Address } from './address.ts';
import type { Kind, Kinds } from './kind.ts';
import { matches } from './path.ts';
import { localId, type LocalId } from './siteindex.ts';
import { childOf, Reference, Text, unwrap, type Node } from './tree.ts';

/** Something inside an item that has an id of its own, by which others may mean it: an entry of a menu, a block in an area. */
export interface Belonging { readonly address: Address; readonly id: LocalId }

/** Asked for every reference: worked out once for the kinds of a site. */
const HOLDERS = new WeakMap<Kinds, ReadonlyMap<string, Kind>>();

/** The kinds whose belongings others may mean, by the words that these are known by. */
export function holders(kinds: Kinds): ReadonlyMap<string, Kind> {
  const known = HOLDERS.get(kinds) ?? new Map([...kinds.values()].flatMap((kind) => kind.belongings.flatMap((rule) => (rule.known === undefined ? [] : [[rule.known, kind] as const]))));
  HOLDERS.set(kinds, known);
  return known;
}

/**
 * The item that a belonging lies in, by the address of the belonging: `menu-entry:top/fares` lies in `menu:top`. Undefined where the address is
 * not one of a belonging.
 */
export function holderOf(address: Address, kinds: Kinds): Address | undefined {
  const holder = holders(kinds).get(kindWord(address));
  const { name } = holder ? parseAddress(address) : { name: '' };
  const end = name.lastIndexOf('/');
  return holder && end > 0 ? makeAddress(holder.short, name.slice(0, end)) : undefined;
}

/** The item that an address means: itself, or what the belonging lies in that it is one of. */
export function itemOf(address: Address, kinds: Kinds): Address { return holderOf(address, kinds) ?? address; }

/** The address of a belonging, in another item. */
export function inHolder(address: Address, holder: Address): Address {
  const { kind, name } = parseAddress(address);
  return makeAddress(kind, `${parseAddress(holder).name}${name.slice(name.lastIndexOf('/'))}`);
}

/**
 * What others may mean of an item: each belonging is called after the first that says something of what its kind names, behind the name of the
 * item. Of several that are called alike the second has a 2 behind its name, and so on. `whole`: the opened value, with the ids in it.
 */
export function belongingsOf(kind: Kind, name: string, whole: Node): Belonging[] {
  const taken = new Set<string>();
  return kind.belongings.flatMap(({ at, id: member, known, by }) => (known === undefined ? [] : matches(whole, at).flatMap(({ node }): Belonging[] => {
    const id = unwrap(childOf(node, member));
    if (typeof id !== 'string' && typeof id !== 'number') return [];
    const called = by.flatMap((path) => matches(node, path)).map((one) => words(one.node)).find((text) => text !== '') ?? known;
    let free = called;
    for (let times = 2; taken.has(free); times++) free = `${called}-${times}`;
    taken.add(free);
    return [{ address: makeAddress(known, `${name}/${free}`), id: localId(id) }];
  })));
}

/** The words of a text, or of the name of what is referred to. */
function words(node: Node): string {
  const inner = unwrap(node);
  const text = inner instanceof Reference ? (inner.to === undefined ? '' : parseAddress(inner.to).name)
    : inner instanceof Text ? inner.pieces.map((piece) => (typeof piece === 'string' ? piece : 'address' in piece ? parseAddress(piece.address).name : '')).join('')
      : typeof inner === 'string' ? inner : '';
  return text.toLowerCase().replace(/<[^>]*>/g, ' ').match(/[\p{L}\p{N}]+/gu)?.join('-').slice(0, LONGEST) ?? '';
}
/** Long texts begin differently enough. */
const LONGEST = 60;
