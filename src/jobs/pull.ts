import { pluralOf } from '../core/kind.ts';
import type { Address } from '../core/address.ts';
import { byCodeUnit } from '../core/json.ts';
import { chooser, type Choice } from './choice.ts';
import { companions, holdsFiles } from './select.ts';
import type { Source } from './sources/source.ts';

/** A part that can be chosen alone. */
export interface PickPart { readonly name: string; readonly title: string; readonly ask: boolean }
export interface PickItem { readonly address: Address; readonly title: string; readonly parts: readonly PickPart[] }
export interface PickKind { readonly title: string; readonly items: readonly PickItem[] }
/** What there is to choose from, and what each item pulls in. */
export interface PickList { readonly kinds: readonly PickKind[]; readonly pulls: ReadonlyMap<Address, readonly Address[]> }

/** Reads everything that a choice allows, with what each item refers to. */
export async function pickList(source: Source, choice: Choice): Promise<PickList> {
  const wanted = chooser(choice);
  const listed = source.listed();
  const kinds = new Map<string, PickItem[]>();
  const pulls = new Map<Address, Address[]>();
  const carried = (address: Address): boolean => {
    const there = listed.get(address);
    return there !== undefined && (choice.noMedia !== true || !holdsFiles(source.kinds, there.kind));
  };
  for await (const row of source.rows()) {
    const kind = source.kinds.get(row.kind);
    pulls.set(row.address, [...new Set([...row.references.map((one) => one.to), ...companions(source, row.address, row.kind).there])].filter((to) => to !== row.address && carried(to)));
    if (!kind || !carried(row.address) || wanted.of(row.address, listed.get(row.address) ?? row) === undefined) continue;
    const title = pluralOf(kind);
    const items = kinds.get(title) ?? [];
    kinds.set(title, items);
    items.push({ address: row.address, title: row.title, parts: kind.description.parts.map(({ name, title: says, ask }) => ({ name, title: says, ask })) });
  }
  return { kinds: [...kinds].sort(([a], [b]) => byCodeUnit(a, b)).map(([title, items]) => ({ title, items })), pulls };
}

/** What comes along with these items, and for which of them. */
export function pulledIn(pulls: PickList['pulls'], chosen: Iterable<Address>): Map<Address, Address> {
  const brought = new Map<Address, Address>();
  const first = new Set(chosen);
  const open = [...first];
  for (let from = open.pop(); from !== undefined; from = open.pop()) {
    for (const to of pulls.get(from) ?? []) if (!first.has(to) && !brought.has(to)) { brought.set(to, from); open.push(to); }
  }
  return new Map([...brought].sort(([a], [b]) => byCodeUnit(a, b)));
}
