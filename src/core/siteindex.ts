import { makeAddress, parseAddress, shortKind, type Address } from './address.ts';
import { whereOf, type Kind, type Kinds } from './kind.ts';
import { byCodeUnit, sortedBy } from './json.ts';
import { Problem } from './problem.ts';

/** The id that an item has on its site: a whole number, or a text where it is none or is too large for one. */
export type LocalId = number | string;

/** One form for each id: text that is a whole number within reach becomes that number. */
export function localId(raw: LocalId): LocalId {
  const number = Number(raw);
  return Number.isSafeInteger(number) && String(number) === String(raw) ? number : String(raw);
}

/** Ids are unique within a kind only. */
export function itemKey(item: { readonly kind: string; readonly id: LocalId }): string { return `${item.kind} ${item.id}`; }

/** One line of a site's index: an item without its value. */
export interface IndexRow {
  readonly kind: string;
  readonly id: LocalId;
  readonly name: string;
  readonly title: string;
  readonly etag: string;
  readonly status: 'published' | 'draft';
  /** Size of the local value in bytes. */
  readonly size: number;
  /** Paths under which the site serves it, by variant; '' is the main one. Paths only, without the site's address. */
  readonly urls?: Readonly<Record<string, string>> | undefined;
  /** When it was changed last, ISO 8601, where the site knows. */
  readonly changed?: string | undefined;
  /** It is there and cannot travel: its extension is inactive, a tier or a feature is lacking, or it is kept in a form of its own. */
  readonly unavailable?: { readonly why: 'inactive' | 'tier' | 'feature' | 'own-format' | 'same-name' | 'damaged'; readonly extension: string; readonly detail: string } | undefined;
}

/** An item as its site has it. */
export interface LocalItem extends IndexRow { readonly value: unknown }

/** What is known of a site's items: who has which local id, name and path. The translator looks references up here. */
export class SiteIndex {
  readonly #kinds: Kinds;
  readonly #byId = new Map<string, Map<LocalId, Address>>();
  readonly #byPath = new Map<string, { address: Address; variant: string }>();
  readonly #rows = new Map<Address, IndexRow>();
  /** The site's own address, without a slash at the end. */
  readonly site: string;

  constructor(site: string, kinds: Kinds) {
    this.site = site.replace(/\/+$/, '');
    this.#kinds = kinds;
  }

  get kinds(): Kinds { return this.#kinds; }

  addressOf(row: { kind: string; name: string }): Address {
    return makeAddress(this.#kinds.get(row.kind)?.short ?? shortKind(row.kind), row.name);
  }

  add(row: IndexRow): Address {
    const address = this.addressOf(row);
    const other = this.#rows.get(address);
    if (other && (other.id !== row.id || other.kind !== row.kind)) throw twice(address, other, row);
    this.#rows.set(address, row);
    for (const kind of [row.kind, shortKind(row.kind)]) {
      const ids = this.#byId.get(kind) ?? new Map<LocalId, Address>();
      this.#byId.set(kind, ids.set(row.id, address));
    }
    for (const [variant, path] of Object.entries(row.urls ?? {})) this.#byPath.set(path, { address, variant });
    return address;
  }

  row(address: Address): IndexRow | undefined { return this.#rows.get(address); }
  rows(): IterableIterator<[Address, IndexRow]> { return this.#rows.entries(); }
  get size(): number { return this.#rows.size; }

  /** In the order of addresses, in which sites give their items: only what was added later has to be put in its place. */
  sorted(): Iterable<[Address, IndexRow]> {
    let last = '';
    for (const address of this.#rows.keys()) { if (byCodeUnit(last, address) > 0) return sortedBy(this.#rows, ([one]) => one); last = address; }
    return this.#rows;
  }


  kindOf(address: Address): Kind | undefined {
    const row = this.#rows.get(address);
    return row && this.#kinds.get(row.kind);
  }

  /** The first of these kinds that has such an item. `fits`: what else has to be true of it. */
  byId(kinds: readonly string[], id: LocalId, fits?: (address: Address) => boolean): Address | undefined {
    for (const kind of kinds) {
      const address = this.#byId.get(kind)?.get(id);
      if (address !== undefined && fits?.(address) !== false) return address;
    }
    return undefined;
  }

  byName(kinds: readonly string[], name: string): Address | undefined {
    return kinds.map((kind) => makeAddress(kind, name)).find((address) => this.#rows.has(address));
  }

  byPath(path: string): { address: Address; variant: string } | undefined { return this.#byPath.get(path); }
  idOf(address: Address): LocalId | undefined { return this.#rows.get(address)?.id; }
  nameOf(address: Address): string | undefined { return this.#rows.get(address)?.name; }

  pathOf(address: Address, variant: string): string | undefined {
    const urls = this.#rows.get(address)?.urls;
    return urls?.[variant] ?? urls?.[''];
  }

  /** Where an item can be seen on the site, as a path. */
  seenAt(address: Address): string | undefined {
    return this.pathOf(address, '') ?? whereOf(this.kindOf(address), parseAddress(address).name);
  }
}

function twice(address: Address, one: IndexRow, other: IndexRow): Problem {
  return new Problem('unreadable', `two things on the site are called ${address}: ${one.kind} with id ${one.id} and ${other.kind} with id ${other.id}`, {
    where: address, remedy: 'rename one of them, or mark one of the kinds as qualified',
  });
}
