import { isCanonical, sha256 } from '../core/canonical.ts';
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
import { parseJson } from './parse.ts';

const NEWLINE = 0x0a;

/** Address, covers, kind and value. */
const ITEM_MEMBERS = 4;

/** A pochette opened for reading. What is read is checked: digests, names, keys, depth. */
export class Pochette {
  readonly #archive: Archive;
  readonly #manifest: Manifest;
  readonly #media: ReadonlyMap<string, string>;
  #rows: readonly IndexedRow[] | undefined;
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
  lines(): IndexLine[] { return this.rows().map((row) => row.line); }

  /** The same as rows, read once; of each line only the beginning is read until more is asked for. */
  rows(only?: ReadonlySet<string>): readonly IndexedRow[] {
    this.#rows ??= [...this.#readRows()];
    return only ? this.#rows.filter((row) => only.has(row.address)) : this.#rows;
  }

  /** The text of the index stays bytes: rows point into it. */
  *#readRows(): Generator<IndexedRow> {
    const bytes = this.#read(MEMBERS.index);
    const starts = [0];
    for (let at = bytes.indexOf(NEWLINE); at >= 0; at = bytes.indexOf(NEWLINE, at + 1)) starts.push(at + 1);
    const text = (line: number): string => bytes.toString('utf8', starts[line], (starts[line + 1] ?? bytes.length + 1) - 1);
    const lines = new IndexLines({ where: (line) => `${this.path}, ${MEMBERS.index}, line ${line + 1}`, load: (row) => this.item(row.line), text });
    let last = '';
    for (let line = 0; line < starts.length; line++) {
      const one = text(line);
      if (one === '') continue;
      const row = new IndexedRow(one, lines, line);
      if (byCodeUnit(last, row.address) >= 0) throw unreadable(this.path, 'the index is not in order, or names an item twice');
      last = row.address;
      yield row;
    }
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
    for (const row of this.#rows ?? this.#readRows()) {
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
