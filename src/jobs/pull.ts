import { partsAt, partsWithNeeds } from '../core/coverage.ts';
import { itemOf } from '../core/belongings.ts';
import { pluralOf } from '../core/kind.ts';
import type { Address } from '../core/address.ts';
import { byCodeUnit } from '../core/json.ts';
import { parentOf } from './below.ts';
import { chooser, type Choice } from './choice.ts';
import { companions, holdsFiles } from './select.ts';
import type { Source } from './sources/source.ts';

/** A part that can be chosen alone. `together`: the parts that travel when it is chosen, itself among them. */
export interface PickPart { readonly name: string; readonly title: string; readonly ask: boolean; readonly together: readonly string[] }
export interface PickItem { readonly address: Address; readonly title: string; readonly parts: readonly PickPart[] }
export interface PickKind { readonly title: string; readonly items: readonly PickItem[] }
/** Something that an item refers to, with the parts from which it does; in none, only the whole item brings it along. */
export interface Pull { readonly to: Address; readonly parts: readonly string[] }
/** What there is to choose from, and what each item pulls in. */
export interface PickList { readonly kinds: readonly PickKind[]; readonly pulls: ReadonlyMap<Address, readonly Pull[]> }
/** What is chosen: an item whole, or some of its parts. */
export type Chosen = ReadonlyMap<Address, 'whole' | ReadonlySet<string>>;

/** Reads everything that a choice allows, with what each item refers to. */
export async function pickList(source: Source, choice: Choice): Promise<PickList> {
  const wanted = chooser(choice);
  const listed = source.listed();
  const kinds = new Map<string, PickItem[]>();
  const pulls = new Map<Address, Pull[]>();
  const carried = (address: Address): boolean => {
    const there = listed.get(address);
    return there !== undefined && (choice.noMedia !== true || !holdsFiles(source.kinds, there.kind));
  };
  const below: [above: Address, address: Address][] = [];
  for await (const row of source.rows()) {
    const parent = parentOf(row, source.kinds);
    if (parent !== undefined && carried(row.address)) below.push([parent, row.address]);
    const kind = source.kinds.get(row.kind);
    pulls.set(row.address, [...row.references.map(({ to, at }) => ({ to: itemOf(to, source.kinds), parts: kind ? partsAt(kind, at) : [] })), ...companions(source, row.address, row.kind).there.map((to) => ({ to, parts: [] }))].filter(({ to }) => to !== row.address && carried(to)));
    if (!kind || !carried(row.address) || wanted.of(row.address, listed.get(row.address) ?? row) === undefined) continue;
    const title = pluralOf(kind);
    const items = kinds.get(title) ?? [];
    kinds.set(title, items);
    items.push({ address: row.address, title: row.title, parts: kind.description.parts.map(({ name, title: says, ask }) => ({ name, title: says, ask, together: partsWithNeeds(kind, [name]) })) });
  }
  for (const [above, to] of below) pulls.get(above)?.push({ to, parts: [] });
  return { kinds: [...kinds].sort(([a], [b]) => byCodeUnit(a, b)).map(([title, items]) => ({ title, items })), pulls };
}

/** What comes along with what is chosen, and for which item: of an item chosen in parts what these refer to, and of all that comes along everything. */
export function pulledIn({ kinds, pulls }: PickList, chosen: Chosen): Map<Address, Address> {
  const brought = new Map<Address, Address>();
  const items = new Map(kinds.flatMap((kind) => kind.items).map((item) => [item.address, item]));
  const open = [...chosen.keys()];
  for (let from = open.pop(); from !== undefined; from = open.pop()) {
    const parts = travelling(chosen.get(from) ?? 'whole', items.get(from));
    for (const { to, parts: at } of pulls.get(from) ?? []) {
      if (chosen.has(to) || brought.has(to) || (parts !== 'whole' && !at.some((part) => parts.has(part)))) continue;
      brought.set(to, from);
      open.push(to);
    }
  }
  return new Map([...brought].sort(([a], [b]) => byCodeUnit(a, b)));
}

function travelling(chosen: 'whole' | ReadonlySet<string>, item: PickItem | undefined): 'whole' | ReadonlySet<string> {
  return chosen === 'whole' ? chosen : new Set(item?.parts.filter((part) => chosen.has(part.name)).flatMap((part) => part.together));
}
