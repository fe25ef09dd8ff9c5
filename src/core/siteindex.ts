import { kindWord, makeAddress, parseAddress, shortKind, unquoteName, type Address } from './address.ts';
import { HashTable, hashOf, Numbers, Texts } from './columns.ts';
import { isMadeId } from './madeid.ts';
import { whereOf, type Kind, type Kinds } from './kind.ts';
import { Seat, urlAt, type SeatFacts } from './seat.ts';
import { byCodeUnit } from './json.ts';
import { Problem } from './problem.ts';
import type { Belonging } from './belongings.ts';
import { familyAt, sortIn, type Sort } from './translate/likename.ts';

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
  /** Digest of what it is known by besides its name. */
  readonly alias?: string | undefined;
  /** When it was made, ISO 8601 in UTC, where the site knows; comes with the value. */
  readonly created?: string | undefined;
  /** It is there and cannot travel: its extension is inactive, a tier or a feature is lacking, or it is kept in a form of its own. */
  readonly unavailable?: { readonly why: 'inactive' | 'tier' | 'feature' | 'own-format' | 'same-name' | 'damaged'; readonly extension: string; readonly detail: string } | undefined;
}

/** An item as its site has it. */
export interface LocalItem extends IndexRow { readonly value: unknown }

type Rest = Pick<IndexRow, 'changed' | 'unavailable'>;
/** Whose a path is, and under which variant. */
export interface PathOwner { readonly address: Address; readonly variant: string }

/** The texts of a row, one after the other. `name`: empty where the address says it; `id`: empty where it is a number; `urls`, `rest`: JSON, empty where there is none. */
const TEXTS = ['address', 'name', 'title', 'etag', 'id', 'urls', 'rest'] as const;
const PLACES = Object.fromEntries(TEXTS.map((text, i) => [text, i])) as Record<typeof TEXTS[number], number>;
const PUBLISHED = 1;

/**
 * What is known of a site's items: who has which local id, name and path. The translator looks references up here. There are as many rows as
 * items, so they are held in columns, and made when they are asked for.
 */
export class SiteIndex {
  readonly #kinds: Kinds;
  readonly #texts = new Texts();
  readonly #ids = new Numbers();
  readonly #sizes = new Numbers();
  /** Which kind and status: the number of the kind, doubled, and one for what is published. */
  readonly #marks = new Numbers({ whole: true });
  readonly #kindIds: string[] = [];
  readonly #byAddress = new HashTable();
  /** By the word for a kind. Words for the same kinds have one table. */
  readonly #byId: Map<string, HashTable>;
  /** The tables that an item is in, by its kind. */
  readonly #tables = new Map<string, ReadonlySet<HashTable>>();
  readonly #byPath = new HashTable();
  /** Those whose id was made up, so that no other thing has it. */
  readonly #byMadeId = new HashTable();
  /** The same few paths are asked for again and again: whose they are, and those of an item. */
  readonly #owners = new Map<string, PathOwner>();
  readonly #urls = new Map<Address, NonNullable<IndexRow['urls']>>();
  /** What few things are known by besides their names, and whom it names among those of a short kind. */
  readonly #aliases = new Map<Address, string>();
  readonly #byAlias = new Map<string, Address>();
  /** What lies in items and is meant by ids of its own: those of each item, and all by their addresses and by what they are known as and their ids. */
  readonly #belongings = new Map<Address, readonly Belonging[]>();
  readonly #belongingAt = new Map<Address, LocalId>();
  readonly #belongingIds = new Map<string, Map<LocalId, Address>>();
  /** Those that cannot travel. */
  readonly #unavailable = new Set<number>();
  /** Rows in whose place a newer one of the same item stands. */
  readonly #replaced = new Set<number>();
  #sorted: Uint32Array | undefined;
  /** The site's own address, without a slash at the end. */
  readonly site: string;
  /** Where its CMS lies, where the site says. */
  readonly seat: Seat | undefined;
  /** What values are, by the name of what defines them. */
  definitions: ReadonlyMap<string, string> = new Map();

  constructor(site: string, kinds: Kinds, seat?: SeatFacts) {
    this.site = site.replace(/\/+$/, '');
    this.seat = seat && new Seat(this.site, seat);
    this.#kinds = kinds;
    this.#byId = tablesByWord(kinds);
  }

  /** The whole address of a path that an item has, or that stands in portable forms. */
  urlOf(path: string): string { return urlAt(this.site, this.seat, path); }

  get kinds(): Kinds { return this.#kinds; }

  addressOf(row: { kind: string; name: string }): Address {
    return makeAddress(this.#kinds.get(row.kind)?.short ?? shortKind(row.kind), row.name);
  }

  add(row: IndexRow): Address {
    this.#owners.clear();
    this.#urls.clear();
    this.#sorted = undefined;
    const address = this.addressOf(row);
    const hash = hashOf(address);
    if (row.alias !== undefined) { this.#aliases.set(address, row.alias); this.#byAlias.set(`${parseAddress(address).kind} ${row.alias}`, address); }
    const other = this.#find(address, hash);
    if (other !== undefined && (this.#idAt(other) !== row.id || this.#kindAt(other) !== row.kind)) throw twice(address, this.#rowAt(other), row);
    if (other !== undefined) this.#replaced.add(other);
    const added = this.#append(address, row);
    this.#byAddress.set(hash, added, (one) => one === other);
    for (const ids of this.#tablesOf(row.kind)) ids.set(hashOfId(row.id), added, (one) => this.#idAt(one) === row.id);
    if (typeof row.id === 'string' && isMadeId(row.id)) this.#byMadeId.set(hashOf(row.id), added, (one) => this.#idAt(one) === row.id);
    for (const path of Object.values(row.urls ?? {})) this.#byPath.set(hashOf(path), added, (one) => this.#hasPath(one, path));
    return address;
  }

  #append(address: Address, { kind, id, name, title, etag, status, size, urls, changed, unavailable }: IndexRow): number {
    const number = typeof id === 'number';
    const rest = changed !== undefined || unavailable ? JSON.stringify({ changed, unavailable } satisfies Rest) : '';
    const texts = { address, name: name === nameIn(address) ? '' : name, title, etag, id: number ? '' : id, urls: urls ? JSON.stringify(urls) : '', rest };
    for (const text of TEXTS) this.#texts.push(texts[text]);
    this.#ids.push(number ? id : NaN);
    this.#sizes.push(size);
    if (unavailable) this.#unavailable.add(this.#ids.length - 1);
    this.#marks.push(this.#kindNumber(kind) * 2 + (status === 'published' ? PUBLISHED : 0));
    return this.#ids.length - 1;
  }

  #tablesOf(kind: string): ReadonlySet<HashTable> {
    const known = this.#tables.get(kind);
    if (known) return known;
    const tables = new Set(wordsFor(kind, this.#kinds).map((word) => {
      const table = this.#byId.get(word) ?? new HashTable();
      this.#byId.set(word, table);
      return table;
    }));
    this.#tables.set(kind, tables);
    return tables;
  }

  #kindNumber(kind: string): number {
    const known = this.#kindIds.lastIndexOf(kind);
    return known >= 0 ? known : this.#kindIds.push(kind) - 1;
  }

  /** Digest of what an item is known by besides its name; the item of a short kind that is known by it. */
  aliasOf(address: Address): string | undefined { return this.#aliases.get(address); }
  byAlias(kind: string, alias: string): Address | undefined { return this.#byAlias.get(`${kind} ${alias}`); }

  /** Says what lies in an item now, and can be meant by itself. */
  setBelongings(holder: Address, belongings: readonly Belonging[]): void {
    for (const { address, id } of this.#belongings.get(holder) ?? []) { this.#belongingAt.delete(address); this.#belongingIds.get(kindWord(address))?.delete(id); }
    this.#belongings.set(holder, belongings);
    for (const { address, id } of belongings) {
      const ids = this.#belongingIds.get(kindWord(address)) ?? new Map<LocalId, Address>();
      this.#belongingIds.set(kindWord(address), ids.set(id, address));
      this.#belongingAt.set(address, id);
    }
  }

  has(address: Address): boolean { return this.#find(address) !== undefined || this.#belongingAt.has(address); }
  row(address: Address): IndexRow | undefined { const at = this.#find(address); return at === undefined ? undefined : this.#rowAt(at); }
  get size(): number { return this.#byAddress.size; }

  /** In the order of addresses. */
  *rows(): Generator<[Address, IndexRow]> { for (const at of this.#order()) yield [this.#text(at, 'address'), this.#rowAt(at)]; }

  /** The rows of some kinds. */
  rowsOf(kinds: ReadonlySet<string>): IndexRow[] {
    const found: IndexRow[] = [];
    for (let at = 0; at < this.#ids.length; at++) if (kinds.has(this.#kindAt(at)) && !this.#replaced.has(at)) found.push(this.#rowAt(at));
    return found;
  }

  /** In whatever order they came; what lies in them and can be meant comes last. */
  *addresses(): Generator<Address> {
    for (let at = 0; at < this.#ids.length; at++) if (!this.#replaced.has(at)) yield this.#text(at, 'address');
    yield* this.#belongingAt.keys();
  }

  /** Everything that values are resolved with, as text: who has which id and which paths. */
  *resolvable(): Generator<string> {
    for (const [name, word] of this.definitions) yield `${name} ${word}`;
    for (let at = 0; at < this.#ids.length; at++) if (!this.#replaced.has(at)) yield `${this.#text(at, 'address')} ${this.#idAt(at)} ${this.#text(at, 'urls')}`;
    for (const [address, id] of this.#belongingAt) yield `${address} ${id}`;
  }

  /** In code-unit order. */
  *sorted(): Generator<Address> { for (const at of this.#order()) yield this.#text(at, 'address'); }

  /** The numbers of the rows, as their addresses are in order; worked out again where a row was added. */
  #order(): Uint32Array {
    if (this.#sorted) return this.#sorted;
    const addresses = Array.from({ length: this.#ids.length }, (_none, at) => this.#text(at, 'address'));
    this.#sorted = Uint32Array.from(addresses.keys()).filter((at) => !this.#replaced.has(at)).sort((a, b) => byCodeUnit(addresses[a] ?? '', addresses[b] ?? ''));
    return this.#sorted;
  }

  /** What is there and cannot travel, in the order of addresses. */
  unavailable(): [Address, IndexRow][] {
    return [...this.#unavailable].filter((at) => !this.#replaced.has(at)).map((at): [Address, IndexRow] => [this.#text(at, 'address'), this.#rowAt(at)]).sort(([a], [b]) => byCodeUnit(a, b));
  }
  isUnavailable(address: Address): boolean { return this.#unavailable.has(this.#find(address) ?? -1); }

  /** Words for the sort of an item. */
  sortOf(address: Address): Sort { return sortIn(nameIn(address), this.kindOf(address)?.description.called); }

  kindOf(address: Address): Kind | undefined {
    const at = this.#find(address);
    return at === undefined ? undefined : this.#kinds.get(this.#kindAt(at));
  }

  /** The first of these kinds that has such an item. `fits`: what else has to be true of it; `near`: the extension that is rather meant, where several have such an item. */
  byId(kinds: readonly string[], id: LocalId, fits?: (address: Address) => boolean, near?: string): Address | undefined {
    let first: Address | undefined;
    for (const kind of kinds) {
      const at = this.#byId.get(kind)?.find(hashOfId(id), (one) => this.#idAt(one) === id);
      const address = at === undefined ? this.#belongingIds.get(kind)?.get(id) : this.#text(at, 'address');
      if (address === undefined || fits?.(address) === false) continue;
      if (near === undefined || kinds.length === 1 || familyAt(address) === near) return address;
      first ??= address;
    }
    return first;
  }

  /** Are there ids that are made up? */
  get hasMadeIds(): boolean { return this.#byMadeId.size > 0; }

  /** Whose id this is, of whatever kind. */
  byMadeId(id: string): Address | undefined {
    const at = this.#byMadeId.find(hashOf(id), (one) => this.#idAt(one) === id);
    return at === undefined ? undefined : this.#text(at, 'address');
  }

  /** The row of an item by what it is known by on its site. */
  rowOf({ kind, id }: { kind: string; id: LocalId }): IndexRow | undefined {
    const address = this.byId([kind], id, (one) => this.kindOf(one)?.id === kind);
    return address === undefined ? undefined : this.row(address);
  }

  byName(kinds: readonly string[], name: string): Address | undefined {
    return kinds.map((kind) => makeAddress(kind, name)).find((address) => this.has(address));
  }

  /** Whose path this is, and under which variant. */
  byPath(path: string): PathOwner | undefined {
    const known = this.#owners.get(path);
    if (known) return known;
    const at = this.#byPath.find(hashOf(path), (one) => this.#hasPath(one, path));
    if (at === undefined) return undefined;
    const [variant = ''] = Object.entries(this.#urlsAt(at) ?? {}).findLast(([, one]) => one === path) ?? [];
    return keep(this.#owners, path, { address: this.#text(at, 'address'), variant });
  }

  etagOf(address: Address): string | undefined { const at = this.#find(address); return at === undefined ? undefined : this.#text(at, 'etag'); }
  idOf(address: Address): LocalId | undefined { const at = this.#find(address); return at === undefined ? this.#belongingAt.get(address) : this.#idAt(at); }
  nameOf(address: Address): string | undefined { const at = this.#find(address); return at === undefined ? undefined : this.#nameAt(at); }

  pathOf(address: Address, variant: string): string | undefined {
    const urls = this.#urls.get(address) ?? this.#urlsOf(address);
    return urls?.[variant] ?? urls?.[''];
  }

  /** Where an item can be seen on the site, as a path. */
  seenAt(address: Address): string | undefined {
    return this.pathOf(address, '') ?? whereOf(this.kindOf(address), parseAddress(address).name);
  }

  #find(address: Address, hash = hashOf(address)): number | undefined { return this.#byAddress.find(hash, (at) => this.#text(at, 'address') === address); }
  #text(at: number, which: typeof TEXTS[number]): string { return this.#texts.at(at * TEXTS.length + PLACES[which]); }
  #kindAt(at: number): string { return this.#kindIds[this.#marks.at(at) >> 1] ?? ''; }
  #idAt(at: number): LocalId { const id = this.#ids.at(at); return Number.isNaN(id) ? this.#text(at, 'id') : id; }
  #hasPath(at: number, path: string): boolean { return Object.values(this.#urlsAt(at) ?? {}).includes(path); }

  #urlsOf(address: Address): IndexRow['urls'] {
    const at = this.#find(address);
    const urls = at === undefined ? undefined : this.#urlsAt(at);
    return urls && keep(this.#urls, address, urls);
  }

  #nameAt(at: number): string {
    const name = this.#text(at, 'name');
    return name === '' ? nameIn(this.#text(at, 'address')) : name;
  }

  #urlsAt(at: number): IndexRow['urls'] {
    const urls = this.#text(at, 'urls');
    return urls === '' ? undefined : JSON.parse(urls) as IndexRow['urls'];
  }

  #restAt(at: number): Rest {
    const rest = this.#text(at, 'rest');
    return rest === '' ? {} : JSON.parse(rest) as Rest;
  }

  #rowAt(at: number): IndexRow {
    const status = this.#marks.at(at) % 2 === PUBLISHED ? 'published' : 'draft';
    const urls = this.#urlsAt(at);
    return { kind: this.#kindAt(at), id: this.#idAt(at), name: this.#nameAt(at), title: this.#text(at, 'title'), etag: this.#text(at, 'etag'), status, size: this.#sizes.at(at), ...(urls ? { urls } : {}), ...this.#restAt(at) };
  }
}

/** The words for kinds by which items of a kind are referred to. */
function wordsFor(kind: string, kinds: Kinds): string[] {
  return [...new Set([kind, kinds.get(kind)?.description.among ?? kind].flatMap((one) => [one, shortKind(one)]))];
}

/** A table for each word, where it stands for other kinds than another one. */
function tablesByWord(kinds: Kinds): Map<string, HashTable> {
  const called = new Map<string, string[]>();
  for (const kind of kinds.keys()) for (const word of wordsFor(kind, kinds)) called.set(word, [...called.get(word) ?? [], kind]);
  const tables = new Map<string, HashTable>();
  return new Map([...called].map(([word, ids]) => {
    const same = ids.join(' ');
    const table = tables.get(same) ?? new HashTable();
    tables.set(same, table);
    return [word, table];
  }));
}

/** Keeps what was found for a while. */
function keep<K, V>(known: Map<K, V>, key: K, value: V): V {
  if (known.size >= MOST_KEPT) known.clear();
  known.set(key, value);
  return value;
}
const MOST_KEPT = 2000;

function nameIn(address: Address): string { return unquoteName(address.slice(address.indexOf(':') + 1)); }

function hashOfId(id: LocalId): number { return typeof id === 'number' && Number.isInteger(id) ? id | 0 : hashOf(String(id)); }

function twice(address: Address, one: IndexRow, other: IndexRow): Problem {
  return new Problem('unreadable', `two things on the site are called ${address}: ${one.kind} with id ${one.id} and ${other.kind} with id ${other.id}`, {
    where: address, remedy: 'rename one of them, or mark one of the kinds as qualified',
  });
}
