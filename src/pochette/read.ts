import type { Address } from '../core/address.ts';
import { isCanonical, sha256 } from '../core/canonical.ts';
import { Numbers, Texts, TextSet } from '../core/columns.ts';
import { typeOfPath } from '../core/filetypes.ts';
import { readItem, type PortableItem } from '../core/item.ts';
import { byCodeUnit, type Json } from '../core/json.ts';
import { compileKinds, firstIssue, type Kinds } from '../core/kind.ts';
import { Problem } from '../core/problem.ts';
import { readNotation } from '../core/translate/notation.ts';
import { Archive, unreadable } from './archive.ts';
import { IndexedRow, IndexLines } from './indexedrow.ts';
import { About, FORMAT, itemMember, MEMBERS, type IndexLine } from './format.ts';
import { Manifest, manifestLines } from './manifest.ts';
import { PackedLines } from './packedlines.ts';
import { parseJson } from './parse.ts';

const NEWLINE = 0x0a;
/** The rows of an index of so many bytes are held as they are: making them again takes longer than they take room. */
const MOST_BYTES = 4_000_000;
/** So many lines are read before other work has its turn. */
const IN_A_ROW = 256;

/** Address, covers, kind and value. */
const ITEM_MEMBERS = 4;

interface Entry { readonly kind: string; readonly title: string }
/** An index: its addresses in order, and of each what is said first, and its row. */
interface OpenedIndex { readonly addresses: TextSet; readonly entry: (at: number) => Entry; readonly row: (at: number) => IndexedRow }

/** A pochette opened for reading. What is read is checked: digests, names, keys, depth. */
export class Pochette {
  readonly #archive: Archive;
  readonly #manifest: Manifest;
  readonly #media: ReadonlyMap<string, string>;
  #index: OpenedIndex | undefined;
  readonly about: About;
  readonly kinds: Kinds;
  /** The lasting digest of the file: that of its tag manifest. */
  readonly digest: string;

  private constructor(archive: Archive, manifest: Manifest, about: About, digest: string) {
    this.#archive = archive;
    this.#manifest = manifest;
    this.about = about;
    this.digest = digest;
    this.kinds = compileKinds(about.kinds, archive.path);
    this.#media = new Map([...archive.names()].filter((name) => name.startsWith('data/media/')).map((name) => [name.slice('data/media/'.length, name.lastIndexOf('.')), name]));
  }

  static async open(path: string): Promise<Pochette> {
    const archive = await Archive.open(path);
    try {
      const tags = archive.read(MEMBERS.tags);
      const tagDigests = new Map(manifestLines(tags.toString(), path));
      const manifest = new Manifest(archive.read(MEMBERS.manifest, tagDigests.get(MEMBERS.manifest) ?? '').toString(), archive);
      for (const [name, tag] of tagDigests) if (name !== MEMBERS.manifest) archive.read(name, tag);
      for (const name of archive.names()) if (name.startsWith('data/') && !manifest.has(name)) throw unreadable(path, `${name} is not in the manifest`);
      const about = readAbout(parseJson(archive.read(MEMBERS.about, manifest.digest(MEMBERS.about) ?? '').toString(), `${path}, ${MEMBERS.about}`), path);
      return new Pochette(archive, manifest, about, sha256(tags));
    } catch (error) {
      archive.close();
      throw error;
    }
  }

  get path(): string { return this.#archive.path; }
  close(): void { this.#archive.close(); }

  /** Lines of the index, in order. */
  lines(): IndexLine[] { return Array.from(this.rows(), (row) => row.line); }

  /** What of the index cannot be read is said now, and not when it is first needed. Other work has its turn on the way. */
  async openIndex(): Promise<this> {
    const opening = this.#openIndex();
    let step = opening.next();
    for (; step.done !== true; step = opening.next()) await new Promise((settle) => { setImmediate(settle); });
    this.#index = step.value;
    return this;
  }

  get size(): number { return this.#opened.addresses.size; }
  addresses(): Iterable<Address> { return this.#opened.addresses; }
  has(address: Address): boolean { return this.#opened.addresses.find(address) !== undefined; }

  /** What the index says of an item first. */
  entry(address: Address): Entry | undefined {
    const { addresses, entry } = this.#opened;
    const at = addresses.find(address);
    return at === undefined ? undefined : entry(at);
  }

  *entries(): Generator<[Address, Entry]> {
    const { addresses, entry } = this.#opened;
    for (let at = 0; at < addresses.size; at++) yield [addresses.at(at), entry(at)];
  }

  /** The same as rows, all or those asked for; of each line only the beginning is read until more is asked for. */
  *rows(only?: ReadonlySet<Address>): Generator<IndexedRow> {
    const { addresses, row } = this.#opened;
    const numbers = only && Array.from(only, (address) => addresses.find(address) ?? -1).filter((at) => at >= 0).sort((a, b) => a - b);
    for (let i = 0; i < (numbers?.length ?? addresses.size); i++) yield row(numbers?.[i] ?? i);
  }

  get #opened(): OpenedIndex {
    if (this.#index) return this.#index;
    const opening = this.#openIndex();
    let step = opening.next();
    while (step.done !== true) step = opening.next();
    return this.#index = step.value;
  }

  /** It is gone through once, and then held packed: there are as many lines as items. Yields now and then. */
  *#openIndex(): Generator<void, OpenedIndex> {
    const bytes = this.#read(MEMBERS.index);
    const [addresses, titles, kinds] = [new TextSet(), new Texts(), new Numbers({ whole: true })];
    const names: string[] = [];
    const rows: IndexedRow[] | undefined = bytes.length > MOST_BYTES ? undefined : [];
    for (const row of this.#readRows(bytes)) {
      addresses.add(row.address);
      if (row.number % IN_A_ROW === 0) yield;
      if (rows) { rows.push(row); continue; }
      if (!names.includes(row.kind)) names.push(row.kind);
      kinds.push(names.indexOf(row.kind));
      titles.push(row.title);
    }
    if (rows) { const row = (at: number): IndexedRow => rows[at] as IndexedRow; return { addresses, entry: row, row }; }
    const packed = new PackedLines(bytes);
    const lines = this.#indexLines();
    return { addresses, entry: (at) => ({ kind: names[kinds.at(at)] ?? '', title: titles.at(at) }), row: (at) => new IndexedRow(packed.at(at), lines, at) };
  }

  *#readRows(bytes: Buffer): Generator<IndexedRow> {
    let [last, start] = ['', 0];
    const lines = this.#indexLines();
    for (let line = 0; start < bytes.length; line++) {
      const end = bytes.indexOf(NEWLINE, start);
      const row = new IndexedRow(bytes.toString('utf8', start, end < 0 ? bytes.length : end), lines, line);
      if (byCodeUnit(last, row.address) >= 0) throw unreadable(this.path, 'the index is not in order, or names an item twice');
      last = row.address;
      yield row;
      start = end < 0 ? bytes.length : end + 1;
    }
  }

  #indexLines(): IndexLines {
    return new IndexLines({ where: (line) => `${this.path}, ${MEMBERS.index}, line ${line + 1}`, load: (row) => this.item(row.line) });
  }

  item(line: Pick<IndexLine, 'address' | 'fingerprint'>): PortableItem { return this.#item(line).item; }

  #item({ address, fingerprint }: Pick<IndexLine, 'address' | 'fingerprint'>): { item: PortableItem; text: string } {
    const member = itemMember(address);
    if (this.#manifest.digest(member) !== fingerprint) throw unreadable(this.path, `${member} is not the item that the index names`);
    const text = this.#read(member).toString();
    const item = readItem(parseJson(text, `${this.path}, ${member}`), member);
    if (item.address !== address) throw unreadable(this.path, `${member} is not the item that the index names`);
    try { readNotation(item.value); } catch (error) {
      throw error instanceof Problem ? new Problem('unreadable', error.message, { where: `${this.path}, ${address}`, ...(error.remedy === undefined ? {} : { remedy: error.remedy }) }) : error;
    }
    return { item, text };
  }

  mediaSize(digest: string): { type: string; bytes: number } | undefined {
    const name = this.#media.get(digest);
    return name === undefined ? undefined : { type: typeOfPath(name), bytes: this.#archive.size(name) };
  }

  media(digest: string): { type: string; bytes: Buffer } {
    const name = this.#media.get(digest);
    if (name === undefined) throw unreadable(this.path, `the file ${digest} is missing`);
    return { type: typeOfPath(name), bytes: this.#read(name) };
  }

  sealed(): Buffer { return this.#read(MEMBERS.sealed); }

  /** Reads and checks everything, each member once; reports how many members were checked. */
  check(onMember?: (done: number, total: number) => void): number {
    let done = 0;
    const total = this.#manifest.size;
    const read = new Uint8Array(this.#archive.count);
    // A check alone needs no row longer than it is looked at.
    for (const row of this.#index ? this.rows() : this.#readRows(this.#read(MEMBERS.index))) {
      const { item, text } = this.#item(row.line);
      if (!isCanonical(text, item as unknown as Json) || Object.keys(item).length !== ITEM_MEMBERS) throw unreadable(this.path, `the item ${row.address} is not in canonical form`);
      read[this.#archive.position(itemMember(row.address)) ?? 0] = 1;
      onMember?.(++done, total);
    }
    for (const name of [...this.#manifest.names(), ...this.#manifest.absent]) {
      if (read[this.#archive.position(name) ?? -1] === 1) continue;
      this.#archive.read(name, this.#manifest.digest(name));
      onMember?.(++done, total);
    }
    return done;
  }

  #read(name: string): Buffer {
    return this.#archive.read(name, this.#manifest.digest(name) ?? '');
  }
}

function readAbout(json: unknown, path: string): About {
  const format = (json as { format?: unknown } | null)?.format;
  if (typeof format === 'number' && format > FORMAT) {
    throw new Problem('unreadable', `this file is of format ${format}; this Pochette reads up to format ${FORMAT}`, { where: path, remedy: 'update Pochette, or export the file again with the older version' });
  }
  const parsed = About.safeParse(json);
  if (!parsed.success) throw new Problem('unreadable', firstIssue(parsed.error), { where: `${path}, ${MEMBERS.about}` });
  return parsed.data;
}
