import { isCanonical, sha256 } from '../core/canonical.ts';
import { readItem, type PortableItem } from '../core/item.ts';
import { byCodeUnit, type Json } from '../core/json.ts';
import { compileKinds, firstIssue, type Kinds } from '../core/kind.ts';
import { Problem } from '../core/problem.ts';
import { readNotation } from '../core/translate/notation.ts';
import { Archive, unreadable } from './archive.ts';
import { IndexedRow } from './indexedrow.ts';
import { About, FORMAT, itemMember, MEMBERS, typeOfMember, type IndexLine } from './format.ts';
import { parseJson } from './parse.ts';

/** SHA-256 in hexadecimal. */
const DIGEST_LENGTH = 64;
/** Address, covers, kind and value. */
const ITEM_MEMBERS = 4;

/** A pochette opened for reading. What is read is checked: digests, names, keys, depth. */
export class Pochette {
  readonly #archive: Archive;
  readonly #digests: ReadonlyMap<string, string>;
  readonly #media: ReadonlyMap<string, string>;
  #lines: readonly IndexLine[] | undefined;
  #rows: readonly IndexedRow[] | undefined;
  readonly about: About;
  readonly kinds: Kinds;
  /** The lasting digest of the file: that of its tag manifest. */
  readonly digest: string;

  private constructor(archive: Archive, digests: ReadonlyMap<string, string>, about: About, digest: string) {
    this.#archive = archive;
    this.#digests = digests;
    this.about = about;
    this.digest = digest;
    this.kinds = compileKinds(about.kinds, archive.path);
    this.#media = new Map(archive.names().filter((name) => name.startsWith('data/media/')).map((name) => [name.slice('data/media/'.length, name.lastIndexOf('.')), name]));
  }

  static async open(path: string): Promise<Pochette> {
    const archive = await Archive.open(path);
    try {
      const tags = archive.read(MEMBERS.tags);
      const tagDigests = readManifest(tags.toString(), path);
      const manifest = archive.read(MEMBERS.manifest, tagDigests.get(MEMBERS.manifest) ?? '');
      const digests = readManifest(manifest.toString(), path);
      for (const [name, tag] of tagDigests) if (name !== MEMBERS.manifest) archive.read(name, tag);
      const unlisted = archive.names().find((name) => name.startsWith('data/') && !digests.has(name));
      if (unlisted !== undefined) throw unreadable(path, `${unlisted} is not in the manifest`);
      const about = readAbout(parseJson(archive.read(MEMBERS.about, digests.get(MEMBERS.about) ?? '').toString(), `${path}, ${MEMBERS.about}`), path);
      return new Pochette(archive, digests, about, sha256(tags));
    } catch (error) {
      archive.close();
      throw error;
    }
  }

  get path(): string { return this.#archive.path; }
  close(): void { this.#archive.close(); }

  /** Lines of the index, in order; read once. */
  lines(): readonly IndexLine[] {
    this.#lines ??= this.#readLines();
    return this.#lines;
  }

  #readLines(): IndexLine[] {
    return this.rows().map((row) => row.line);
  }

  /** The same as rows; of each line only the beginning is read until more is asked for. */
  rows(only?: ReadonlySet<string>): readonly IndexedRow[] {
    this.#rows ??= this.#indexText().split('\n').filter((line) => line !== '').map((line, i) => new IndexedRow(line, `${this.path}, ${MEMBERS.index}, line ${i + 1}`, (row) => this.item(row.line)));
    const rows = this.#rows;
    if (rows.some((row, i) => i > 0 && byCodeUnit((rows[i - 1]?.address ?? ''), row.address) >= 0)) throw unreadable(this.path, 'the index is not in order, or names an item twice');
    return only ? rows.filter((row) => only.has(row.address)) : rows;
  }

  #indexText(): string { return this.#read(MEMBERS.index).toString().trimEnd(); }

  item(line: Pick<IndexLine, 'address' | 'fingerprint'>): PortableItem { return this.#item(line).item; }

  #item({ address, fingerprint }: Pick<IndexLine, 'address' | 'fingerprint'>): { item: PortableItem; text: string } {
    const member = itemMember(address);
    if (this.#digests.get(member) !== fingerprint) throw unreadable(this.path, `${member} is not the item that the index names`);
    const text = this.#read(member).toString();
    const item = readItem(parseJson(text, `${this.path}, ${member}`), member);
    if (item.address !== address) throw unreadable(this.path, `${member} is not the item that the index names`);
    try { readNotation(item.value); } catch (error) {
      throw error instanceof Problem ? new Problem('unreadable', error.message, { where: `${this.path}, ${address}`, ...(error.remedy === undefined ? {} : { remedy: error.remedy }) }) : error;
    }
    return { item, text };
  }

  hasMedia(digest: string): boolean { return this.#media.has(digest); }
  mediaSize(digest: string): { type: string; bytes: number } | undefined {
    const name = this.#media.get(digest);
    return name === undefined ? undefined : { type: typeOfMember(name), bytes: this.#archive.size(name) };
  }

  media(digest: string): { type: string; bytes: Buffer } {
    const name = this.#media.get(digest);
    if (name === undefined) throw unreadable(this.path, `the file ${digest} is missing`);
    return { type: typeOfMember(name), bytes: this.#read(name) };
  }

  sealed(): Buffer { return this.#read(MEMBERS.sealed); }

  /** Reads and checks everything, each member once; reports how many members were checked. */
  check(onMember?: (done: number, total: number) => void): number {
    let done = 0;
    const total = this.#digests.size;
    const named = new Set<string>();
    for (const { line } of this.rows()) {
      const { item, text } = this.#item(line);
      if (!isCanonical(text, item as unknown as Json) || Object.keys(item).length !== ITEM_MEMBERS) throw unreadable(this.path, `the item ${line.address} is not in canonical form`);
      named.add(itemMember(line.address));
      onMember?.(++done, total);
    }
    for (const [name, digest] of this.#digests) {
      if (named.has(name)) continue;
      this.#archive.read(name, digest);
      onMember?.(++done, total);
    }
    return done;
  }

  #read(name: string): Buffer {
    return this.#archive.read(name, this.#digests.get(name) ?? '');
  }
}

function readManifest(text: string, path: string): Map<string, string> {
  const digests = new Map<string, string>();
  for (const line of text.split('\n')) {
    if (line === '') continue;
    if (!line.startsWith('  ', DIGEST_LENGTH) || line.length <= DIGEST_LENGTH + 2) throw unreadable(path, `a line of a manifest is not understood: ${line.slice(0, 80)}`);
    digests.set(line.slice(DIGEST_LENGTH + 2), line.slice(0, DIGEST_LENGTH));
  }
  return digests;
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
