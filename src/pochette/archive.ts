import { createHash } from 'node:crypto';
import type { Readable } from 'node:stream';
import { crc32 } from 'node:zlib';
import yauzl from 'yauzl';
import { Problem } from '../core/problem.ts';
import { MEMBER_NAME } from './format.ts';

/** Limits for a file from a stranger. */
const LIMITS = { memberBytes: 256 * 2 ** 20, totalBytes: 8 * 2 ** 30, ratio: 250, ratioFrom: 2 ** 20, members: 500_000 } as const;

/** Random access to the members of an archive, after names, sizes and ratios were checked. */
export class Archive {
  readonly #zip: yauzl.ZipFile;
  readonly #members: ReadonlyMap<string, yauzl.Entry>;
  readonly path: string;

  private constructor(path: string, zip: yauzl.ZipFile, members: ReadonlyMap<string, yauzl.Entry>) {
    this.path = path;
    this.#zip = zip;
    this.#members = members;
  }

  static async open(path: string): Promise<Archive> {
    const zip = await openZip(path);
    try {
      return new Archive(path, zip, await listMembers(path, zip));
    } catch (error) {
      zip.close();
      throw error;
    }
  }

  names(): string[] { return [...this.#members.keys()]; }
  has(name: string): boolean { return this.#members.has(name); }
  size(name: string): number { return this.#members.get(name)?.uncompressedSize ?? 0; }
  close(): void { this.#zip.close(); }

  /** The bytes of a member; `digest` is what they must have. */
  async read(name: string, digest?: string): Promise<Buffer> {
    const member = this.#members.get(name);
    if (!member) throw unreadable(this.path, `${name} is missing`);
    const chunks: Buffer[] = [];
    try {
      for await (const chunk of await this.#stream(member)) chunks.push(chunk as Buffer);
    } catch (error) {
      throw unreadable(this.path, `${name} is damaged`, error);
    }
    const bytes = Buffer.concat(chunks);
    // The reader checks sizes only.
    if (crc32(bytes) !== member.crc32) throw unreadable(this.path, `${name} is damaged: its checksum is wrong`);
    if (digest !== undefined && createHash('sha256').update(bytes).digest('hex') !== digest) {
      throw unreadable(this.path, `${name} was altered: its SHA-256 is not the one in the manifest`);
    }
    return bytes;
  }

  #stream(entry: yauzl.Entry): Promise<Readable> {
    return new Promise((resolve, reject) => {
      this.#zip.openReadStream(entry, (error, stream) => { if (error) reject(error); else resolve(stream); });
    });
  }
}

export function unreadable(path: string, what: string, cause?: unknown): Problem {
  return new Problem('unreadable', what, { where: path, remedy: 'fetch the file again from where it came, or export it again', cause });
}

function openZip(path: string): Promise<yauzl.ZipFile> {
  return new Promise((resolve, reject) => {
    yauzl.open(path, { lazyEntries: true, autoClose: false, validateEntrySizes: true }, (error: (Error & { code?: string }) | null, zip) => {
      if (!error) { resolve(zip); return; }
      if (error.code === 'ENOENT') reject(new Problem('usage', 'there is no such file', { where: path, cause: error }));
      else reject(unreadable(path, error.code === undefined ? 'this is not a pochette: it is no ZIP archive, or it was cut short' : error.message, error));
    });
  });
}

function listMembers(path: string, zip: yauzl.ZipFile): Promise<Map<string, yauzl.Entry>> {
  const members = new Map<string, yauzl.Entry>();
  let total = 0;
  return new Promise((resolve, reject) => {
    zip.on('entry', (entry: yauzl.Entry) => {
      total += entry.uncompressedSize;
      const fault = faultOf(entry, members, total);
      if (fault !== undefined) { reject(unreadable(path, fault)); return; }
      members.set(entry.fileName, entry);
      zip.readEntry();
    });
    zip.on('end', () => { resolve(members); });
    zip.on('error', (error: Error) => { reject(unreadable(path, /relative path|absolute path|invalid characters/.test(error.message) ? `a member has a path that leaves its folder (${error.message})` : `the archive is damaged (${error.message})`, error)); });
    zip.readEntry();
  });
}

function faultOf(entry: yauzl.Entry, members: ReadonlyMap<string, yauzl.Entry>, total: number): string | undefined {
  const { fileName: name, uncompressedSize: size, compressedSize: packed } = entry;
  if (!MEMBER_NAME.test(name)) return `the member "${name.slice(0, 120)}" has no place in a pochette`;
  if (members.has(name)) return `the member ${name} is in it twice`;
  if (members.size >= LIMITS.members) return `it has more than ${LIMITS.members} members`;
  if (size > LIMITS.memberBytes || total > LIMITS.totalBytes) return `${name} would unpack to ${size} bytes: more than a pochette may hold`;
  if (size > LIMITS.ratioFrom && size > packed * LIMITS.ratio) return `${name} unpacks to ${Math.round(size / Math.max(1, packed))} times its size: this is no honest file`;
  return undefined;
}
