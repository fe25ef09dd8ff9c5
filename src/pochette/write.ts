import { sha256 } from '../core/canonical.ts';
import { itemBytes } from '../core/item.ts';
import type { SourceRow } from '../core/source.ts';
import { BAGIT, itemMember, mediaMember, MEMBERS, type About } from './format.ts';
import { indexLine } from './indexedrow.ts';
import { ZipWriter } from './zipwriter.ts';

export interface MediaFile { readonly digest: string; readonly type: string; readonly bytes: Buffer }

/** Writes a pochette member by member. Call `item` in the order of addresses, then `media`, then `finish`. */
export class PochetteWriter {
  readonly #zip: ZipWriter;
  readonly #digests: string[] = [];
  readonly #index: string[] = [];
  readonly #media = new Set<string>();
  #payload = 0;

  constructor(path: string) {
    this.#zip = new ZipWriter(path);
    this.#zip.add(MEMBERS.bagit, Buffer.from(BAGIT));
  }

  get counts(): { items: number; files: number } { return { items: this.#index.length, files: this.#media.size }; }

  /** The fingerprint of the row is the digest of the member: an item's bytes are what was fingerprinted. */
  async item(row: SourceRow): Promise<void> {
    const bytes = Buffer.from(row.text ?? itemBytes(await row.load()));
    this.#add(itemMember(row.address), bytes, row.fingerprint);
    this.#index.push(indexLine(row));
    await this.#zip.room();
  }

  async media(file: MediaFile): Promise<void> {
    if (this.#media.has(file.digest)) return;
    this.#media.add(file.digest);
    this.#add(mediaMember(file.digest, file.type), file.bytes, file.digest, true);
    await this.#zip.room();
  }

  cover(bytes: Buffer): void { this.#add(MEMBERS.cover, bytes, sha256(bytes), true); }
  sealed(bytes: Buffer): void { this.#add(MEMBERS.sealed, bytes, sha256(bytes), true); }

  /** Returns the size in bytes and the lasting digest, that of the tag manifest. */
  async finish(about: About): Promise<{ bytes: number; digest: string }> {
    this.#addText(MEMBERS.index, this.#index.map((line) => line + '\n').join(''));
    this.#addText(MEMBERS.about, JSON.stringify(about, null, 1) + '\n');
    const info = Buffer.from(`Bag-Software-Agent: Pochette\nPayload-Oxum: ${this.#payload}.${this.#digests.length}\n`);
    const manifest = Buffer.from(this.#digests.sort().map((line) => line.slice(line.indexOf('\t') + 1)).join(''));
    const tags = Buffer.from([[MEMBERS.info, info], [MEMBERS.bagit, Buffer.from(BAGIT)], [MEMBERS.manifest, manifest]].map(([name, bytes]) => `${sha256(bytes as Buffer)}  ${String(name)}\n`).join(''));
    this.#zip.add(MEMBERS.info, info);
    this.#zip.add(MEMBERS.manifest, manifest);
    this.#zip.add(MEMBERS.tags, tags);
    return { bytes: await this.#zip.finish(), digest: sha256(tags) };
  }

  abandon(): Promise<void> { return this.#zip.abandon(); }

  #addText(name: string, text: string): void {
    const bytes = Buffer.from(text);
    this.#add(name, bytes, sha256(bytes));
  }

  #add(name: string, bytes: Buffer, digest: string, store = false): void {
    this.#zip.add(name, bytes, store);
    this.#payload += bytes.length;
    this.#digests.push(`${name}\t${digest}  ${name}\n`);
  }
}
