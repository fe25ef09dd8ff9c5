import { crc32, inflateRawSync } from 'node:zlib';
import yauzl from 'yauzl';
import { sha256 } from '../core/canonical.ts';
import { Problem } from '../core/problem.ts';
import { MEMBER_NAME } from './format.ts';
import { WindowReader } from './windowreader.ts';

/** Limits for a file from a stranger. */
const LIMITS = { memberBytes: 256 * 2 ** 20, totalBytes: 8 * 2 ** 30, ratio: 250, ratioFrom: 2 ** 20, members: 500_000 } as const;

/** Random access to the members of an archive, after names, sizes and ratios were checked. */
export class Archive {
  readonly #zip: yauzl.ZipFile;
  readonly #members: ReadonlyMap<string, yauzl.Entry>;
  readonly #reader: WindowReader;
  readonly path: string;

  private constructor(path: string, reader: WindowReader, zip: yauzl.ZipFile, members: ReadonlyMap<string, yauzl.Entry>) {
    this.path = path;
    this.#reader = reader;
    this.#zip = zip;
    this.#members = members;
  }

  static async open(path: string): Promise<Archive> {
    const reader = new WindowReader(path);
    try {
      const zip = await openZip(path, reader);
      return new Archive(path, reader, zip, await listMembers(path, zip));
    } catch (error) {
      reader.end();
      throw error;
    }
  }

  names(): string[] { return [...this.#members.keys()]; }
  has(name: string): boolean { return this.#members.has(name); }
  size(name: string): number { return this.#members.get(name)?.uncompressedSize ?? 0; }
  close(): void { this.#reader.end(); }

  /** The bytes of a member; `digest` is what they must have. */
  async read(name: string, digest?: string): Promise<Buffer> {
    const entry = this.#members.get(name);
    if (!entry) throw unreadable(this.path, `${name} is missing`);
    let bytes: Buffer;
    try { bytes = await this.#unpack(entry); } catch (error) { throw unreadable(this.path, `${name} is damaged`, error); }
    // The ZIP reader itself does not look at checksums.
    if (bytes.length !== entry.uncompressedSize || crc32(bytes) !== entry.crc32) throw unreadable(this.path, `${name} is damaged: its checksum is wrong`);
    if (digest !== undefined && sha256(bytes) !== digest) throw unreadable(this.path, `${name} was altered: its SHA-256 is not the one in the manifest`);
    return bytes;
  }

  /** Members are small and unpacked at once, with the declared size as the limit; a stream for each would take most of the time. */
  #unpack(entry: yauzl.Entry): Promise<Buffer> {
    const DEFLATED = 8;
    if (entry.isEncrypted() || (entry.compressionMethod !== 0 && entry.compressionMethod !== DEFLATED)) throw new Error('it is packed in a way that is not accepted');
    return new Promise((resolve, reject) => {
      this.#zip.readLocalFileHeader(entry, { minimal: true }, (error, header) => {
        if (error) { reject(error); return; }
        try {
          const packed = this.#reader.bytes(header.fileDataStart, entry.compressedSize);
          resolve(entry.compressionMethod === DEFLATED ? inflateRawSync(packed, { maxOutputLength: Math.max(1, entry.uncompressedSize) }) : packed);
        } catch (fault) { reject(fault instanceof Error ? fault : new Error(String(fault))); }
      });
    });
  }
}

export function unreadable(path: string, what: string, cause?: unknown): Problem {
  return new Problem('unreadable', what, { where: path, remedy: 'fetch the file again from where it came, or export it again', cause });
}

function openZip(path: string, reader: WindowReader): Promise<yauzl.ZipFile> {
  return new Promise((resolve, reject) => {
    yauzl.fromRandomAccessReader(reader, reader.size, { lazyEntries: true, autoClose: false, validateEntrySizes: true }, (error, zip) => {
      if (error) reject(unreadable(path, 'this is not a pochette: it is no ZIP archive, or it was cut short', error));
      else resolve(zip);
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
