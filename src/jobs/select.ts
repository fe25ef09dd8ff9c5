import { kindWord, makeAddress, parseAddress, parsePlace, type Address } from '../core/address.ts';
import { isPlace, partsWithNeeds } from '../core/coverage.ts';
import { Problem } from '../core/problem.ts';
import type { Coverage } from '../core/item.ts';
import type { Kind, Kinds } from '../core/kind.ts';
import { nearest } from '../core/selector.ts';
import { taking, type Take, type Takes } from '../core/take.ts';
import { chooser, type Choice } from './choice.ts';
import type { Absent, Listed, Listing, Source } from './sources/source.ts';

/** Chosen items with how much of each is, in the order of addresses; a map is one. */
export interface Chosen extends Iterable<[Address, Coverage]> {
  readonly size: number;
  has(address: Address): boolean;
  get(address: Address): Coverage | undefined;
  keys(): Iterable<Address>;
}
/** What was chosen, and what was chosen and cannot travel. */
export interface Selection {
  readonly chosen: Chosen;
  readonly takes: Takes;
  /** Parts that come along because a chosen part needs them. */
  readonly needed: readonly { readonly address: string; readonly for: string }[];
  readonly cannot: readonly Absent[];
  readonly everything: boolean;
}

/** Applies a choice to a source. A selector that matches nothing is a usage problem that names the nearest addresses. */
export function select(source: Pick<Source, 'listed' | 'unavailable' | 'content' | 'kinds' | 'label'>, choice: Choice): Selection {
  const wanted = chooser(choice);
  if (wanted.everything && choice.noMedia !== true) return selectAll(source, choice);
  const listed = source.listed();
  const chosen = new Map<Address, Coverage>();
  const takes = new Map<Address, Take>();
  const needed: { address: string; for: string }[] = [];
  const pictures: Absent[] = [];
  const parts = wanted.selectors.filter((selector) => selector.part !== undefined);
  const used = new Set<string>();
  const take = (address: Address, one: Listed): Coverage | undefined => {
    for (const selector of wanted.selectors) if (selector.matches(address, one.kind)) used.add(selector.text);
    return wanted.of(address, one);
  };
  for (const [address, one] of listed) {
    const covers = take(address, one);
    if (covers === undefined) continue;
    const kind = source.kinds.get(one.kind);
    if (choice.noMedia === true && holdsFiles(source.kinds, one.kind)) { pictures.push({ address, ...one, why: 'pictures and files are left out by choice', remedy: 'without --no-media they come along' }); continue; }
    chosen.set(address, covers === 'all' || !kind ? 'all' : widened(kind, address, covers, needed));
    for (const { part } of parts.filter((selector) => selector.matches(address, one.kind))) if (part !== undefined) taking(takes, address, isPlace(part) ? { place: part } : { part });
  }
  for (const text of choice.take ?? []) addTake(takes, text, chosen, source.label);
  const cannot = source.unavailable().filter((one) => take(one.address, one) !== undefined);
  const content = wanted.selectors.length === 0 ? [] : chosenContent(source, take);
  const unused = choice.selectors.find((text) => !used.has(text));
  if (unused !== undefined) throw matchesNothing(unused, source.label, [...listed.keys()]);
  if (chosen.size === 0 && !wanted.everything) refuseNothing(source, choice, cannot.length + content.length + pictures.length > 0);
  return { chosen, takes, needed, cannot: [...cannot, ...content, ...pictures], everything: wanted.everything && pictures.length === 0 };
}

/** All that can travel: nothing has to be held of what a source holds anyway. */
function selectAll(source: Pick<Source, 'listed' | 'unavailable' | 'label'>, choice: Choice): Selection {
  const chosen = new Whole(source.listed());
  const takes = new Map<Address, Take>();
  for (const text of choice.take ?? []) addTake(takes, text, chosen, source.label);
  return { chosen, takes, needed: [], cannot: source.unavailable(), everything: true };
}

/** Everything of a listing. */
class Whole implements Chosen {
  readonly #listed: Listing;
  /** Counted once: some have to go through everything for it. */
  readonly size: number;

  constructor(listed: Listing) {
    this.#listed = listed;
    this.size = listed.size;
  }

  has(address: Address): boolean { return this.#listed.has(address); }
  get(address: Address): Coverage | undefined { return this.has(address) ? 'all' : undefined; }
  keys(): Iterable<Address> { return this.#listed.keys(); }
  *[Symbol.iterator](): Generator<[Address, Coverage]> { for (const address of this.keys()) yield [address, 'all']; }
}

/** Parts with those that they need; the latter are noted. */
function widened(kind: Kind, address: Address, covers: readonly string[], needed: { address: string; for: string }[]): string[] {
  const parts = partsWithNeeds(kind, covers);
  for (const part of parts) if (!covers.includes(part)) needed.push({ address: `${address}#${part}`, for: `${address}#${covers.join(',')}` });
  return parts;
}

function chosenContent(source: Pick<Source, 'content'>, take: (address: Address, one: Listed) => Coverage | undefined): Absent[] {
  return [...source.content()].filter(([address, one]) => take(address, one) !== undefined)
    .map(([address, one]) => ({ address, ...one, why: 'it is content: it is referred to and never carried', remedy: 'make it on the target' }));
}

function addTake(takes: Map<Address, Take>, text: string, chosen: Pick<Chosen, 'has'>, label: string): void {
  const { address, at } = parsePlace(text);
  if (at === '') throw new Problem('usage', `"${text}" does not say which place is to be taken`, { remedy: 'write kind:name#/place or kind:name#part' });
  if (!chosen.has(address)) throw new Problem('usage', `${address} is not among what was chosen of ${label}`, { where: `--take ${text}`, remedy: 'choose the item too' });
  taking(takes, address, isPlace(at) ? { place: at } : { part: at });
}

function refuseNothing(source: Pick<Source, 'listed' | 'label'>, choice: Choice, left: boolean): void {
  if (left) return;
  const known = [...source.listed().values()];
  const owners = [...new Set(known.map((one) => one.kind.slice(0, one.kind.indexOf('/'))))];
  const strange = (choice.owners ?? []).find((owner) => !owners.includes(owner));
  if (strange !== undefined) throw new Problem('usage', `nothing in ${source.label} belongs to "${strange}"`, { remedy: `there are: ${owners.join(', ')}` });
  if (choice.since !== undefined && known.every((one) => one.changed === undefined)) throw new Problem('usage', `${source.label} does not say when its items were changed`, { remedy: 'leave --changed-since out' });
  throw new Problem('usage', `nothing in ${source.label} is chosen`, { remedy: 'the options --owner, --titled, --changed-since and --except narrow what the selectors choose: leave one of them out' });
}

function matchesNothing(text: string, label: string, known: readonly Address[]): Problem {
  const near = nearest(text, known);
  const kinds = [...new Set(known.map(kindWord))];
  return new Problem('usage', `"${text}" matches nothing in ${label}`, {
    remedy: near.length > 0 ? `did you mean ${near.join(', ')}?` : `there are: ${kinds.map((kind) => `${kind}:*`).join(' ')}`,
  });
}

/** Are the items of this kind pictures or files? */
export function holdsFiles(kinds: Kinds, kindId: string): boolean { return (kinds.get(kindId)?.files.length ?? 0) > 0; }

/** Items of the same name that belong to an item though another extension owns them; those that cannot travel come with the reason. */
export function companions(source: Pick<Source, 'kinds' | 'listed' | 'unavailable'>, address: Address, kindId: string): { there: Address[]; absent: Absent[] } {
  const kinds = source.kinds.get(kindId)?.description.companions ?? [];
  const addresses = kinds.map((kind) => makeAddress(kind, parseAddress(address).name));
  const listed = source.listed();
  return { there: addresses.filter((one) => listed.has(one)), absent: addresses.length === 0 ? [] : source.unavailable().filter((one) => addresses.includes(one.address)) };
}
