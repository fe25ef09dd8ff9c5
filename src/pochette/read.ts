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
import { linesIn, textLines } from './linesin.ts';
import { Manifest, manifestLine } from './manifest.ts';
import { PackedLines } from './packedlines.ts';
import { parseJson } from './parse.ts';

/** The rows of an index of so many bytes are held as they are: making them again takes longer than they take room. */
const MOST_BYTES = 4_000_000;

const MEDIA = 'data/media/';
/** Address, covers, kind and value. */
const ITEM_MEMBERS = 4;

interface Entry { readonly kind: string; readonly title: string }
/** An index: its addresses in order, and of each what is said first, and its row. */
interface OpenedIndex { readonly addresses: TextSet; readonly entry: (at: number) => Entry; readonly row: (at: number) => IndexedRow }

/** A pochette opened for reading. What is read is checked: digests, names, keys, depth. */
export class Pochette {
  readonly #archive: Archive;
  readonly #manifest: Manifest;
  readonly #media = new Map<string, string>();
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
    for (const name of archive.names()) if (name.startsWith(MEDIA)) this.#media.set(name.slice(MEDIA.length, name.lastIndexOf('.')), name);
  }

  static async open(path: string): Promise<Pochette> {
    const archive = await Archive.open(path);
    try {
      const tags = archive.read(MEMBERS.tags);
      const tagDigests = new Map(Array.from(textLines(tags)).filter((line) => line !== '').map((line) => manifestLine(line, path)));
      const manifest = await Manifest.read(archive, MEMBERS.manifest, tagDigests.get(MEMBERS.manifest) ?? '');
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

  /** Before anything is asked of the items: reads the index, and says what of it cannot be read. It is gone through once, and held packed where it is long. */
  async openIndex(): Promise<this> {
    const rows: IndexedRow[] | undefined = this.#archive.size(MEMBERS.index) > MOST_BYTES ? undefined : [];
    const [addresses, titles, kinds, packed] = [new TextSet(), new Texts(), new Numbers({ whole: true }), new PackedLines()];
    const names: string[] = [];
    await this.#throughIndex(async () => {
      for await (const some of this.#readIndex()) for (const { row, bytes } of some) {
        addresses.add(row.address);
        if (rows) { rows.push(row); continue; }
        if (!names.includes(row.kind)) names.push(row.kind);
        kinds.push(names.indexOf(row.kind));
        titles.push(row.title);
        packed.add(bytes);
      }
    });
    const lines = this.#indexLines();
    const row = (at: number): IndexedRow => rows?.[at] ?? new IndexedRow(packed.at(at), lines, at);
    this.#index = { addresses, row, entry: rows ? row : (at) => ({ kind: names[kinds.at(at)] ?? '', title: titles.at(at) }) };
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
    if (!this.#index) throw new Problem('internal', 'the index of a file was not opened', { where: this.path });
    return this.#index;
  }

  async *#readIndex(): AsyncGenerator<{ row: IndexedRow; bytes: Buffer }[]> {
    const lines = this.#indexLines();
    let [last, number] = ['', 0];
    for await (const some of linesIn(this.#archive.pieces(MEMBERS.index, this.#manifest.digest(MEMBERS.index) ?? ''))) {
      yield some.map((bytes) => {
        const row = new IndexedRow(bytes.toString(), lines, number++);
        if (byCodeUnit(last, row.address) >= 0) throw unreadable(this.path, 'the index is not in order, or names an item twice');
        last = row.address;
        return { row, bytes };
      });
    }
  }

  /** What goes through the index. Where that is damaged, no line of it and no item is to blame, which is known at its end only. */
  async #throughIndex<T>(work: () => Promise<T>): Promise<T> {
    try { return await work(); } catch (error) {
      await this.#archive.check(MEMBERS.index, this.#manifest.digest(MEMBERS.index));
      throw error;
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
  async check(onMember?: (done: number, total: number) => void): Promise<number> {
    let done = 0;
    const total = this.#manifest.size;
    const read = new Uint8Array(this.#archive.count);
    await this.#throughIndex(async () => {
      for await (const some of this.#readIndex()) for (const { row } of some) {
        const { item, text } = this.#item(row.line);
        if (!isCanonical(text, item as unknown as Json) || Object.keys(item).length !== ITEM_MEMBERS) throw unreadable(this.path, `the item ${row.address} is not in canonical form`);
        read[this.#archive.position(itemMember(row.address)) ?? 0] = 1;
        onMember?.(++done, total);
      }
    });
    // The index was gone through already, up to its digest.
    read[this.#archive.position(MEMBERS.index) ?? 0] = 1;
    onMember?.(++done, total);
    for (const name of [...this.#manifest.names(), ...this.#manifest.absent]) {
      if (read[this.#archive.position(name) ?? -1] === 1) continue;
      await this.#archive.check(name, this.#manifest.digest(name));
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
