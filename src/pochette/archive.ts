import { createHash } from 'node:crypto';
import { pipeline, Readable } from 'node:stream';
import { crc32, createInflateRaw, inflateRawSync } from 'node:zlib';
import yauzl from 'yauzl';
import { sha256 } from '../core/canonical.ts';
import { Problem } from '../core/problem.ts';
import { MEMBER_NAME } from './format.ts';
import { Members, type Member } from './members.ts';
import { DEFLATED } from './packing.ts';
import { WindowReader } from './windowreader.ts';

/** Limits for a file from a stranger. */
const LIMITS = { memberBytes: 256 * 2 ** 20, totalBytes: 8 * 2 ** 30, ratio: 250, ratioFrom: 2 ** 20, members: 500_000 } as const;

const LOCAL_HEADER = 0x04034b50;
const LOCAL_HEADER_BYTES = 30;
/** What unpacks into less room than it needs is put together of pieces, and is there twice for a moment. */
const LEAST_ROOM = 64;
/** What is read in pieces is unpacked into so many bytes at a time. */
const PIECE = 2 ** 18;

/** Random access to the members of an archive, after names, sizes and ratios were checked. */
export class Archive {
  readonly #members: Members;
  readonly #reader: WindowReader;
  readonly path: string;

  private constructor(path: string, reader: WindowReader, members: Members) {
    this.path = path;
    this.#reader = reader;
    this.#members = members;
  }

  static async open(path: string): Promise<Archive> {
    const reader = new WindowReader(path);
    try {
      const zip = await openZip(path, reader);
      return new Archive(path, reader, await listMembers(path, zip));
    } catch (error) {
      reader.end();
      throw error;
    }
  }

  names(): Iterable<string> { return this.#members.names(); }
  get count(): number { return this.#members.size; }
  /** Which one of the members it is, counted from 0. */
  position(name: string): number | undefined { return this.#members.position(name); }
  size(name: string): number { return this.#members.get(name)?.size ?? 0; }
  close(): void { this.#reader.end(); }

  /** The bytes of a member; `digest` is what they must have. */
  read(name: string, digest?: string): Buffer {
    const member = this.#member(name);
    let bytes: Buffer;
    try { bytes = this.#unpack(member); } catch (error) { throw unreadable(this.path, `${name} is damaged`, error); }
    this.#check(name, member, { size: bytes.length, crc: crc32(bytes), digest: digest === undefined ? undefined : sha256(bytes) }, digest);
    return bytes;
  }

  /** The same of a large one, a piece after the other. Whether all was as it must be is known, and thrown, at the end. */
  async *pieces(name: string, digest: string): AsyncGenerator<Buffer, undefined> {
    const member = this.#member(name);
    const hash = createHash('sha256');
    let [size, crc] = [0, 0];
    try {
      const packed = this.#packedPieces(member);
      for await (const piece of member.method === DEFLATED ? inflated(packed) : packed) {
        size += piece.length;
        if (size > member.size) throw new Error('it is longer than the archive says');
        crc = crc32(piece, crc);
        hash.update(piece);
        yield piece;
      }
    } catch (error) { throw unreadable(this.path, `${name} is damaged`, error); }
    this.#check(name, member, { size, crc, digest: hash.digest('hex') }, digest);
    return undefined;
  }

  /** Is a member what it must be? A large one is never there as a whole. */
  async check(name: string, digest?: string): Promise<void> {
    if (this.size(name) <= PIECE || digest === undefined) { this.read(name, digest); return; }
    for await (const _piece of this.pieces(name, digest)) continue;
  }

  #member(name: string): Member {
    const member = this.#members.get(name);
    if (!member) throw unreadable(this.path, `${name} is missing`);
    return member;
  }

  /** The ZIP reader itself does not look at checksums. */
  #check(name: string, member: Member, { size, crc, digest }: { size: number; crc: number; digest: string | undefined }, wanted: string | undefined): void {
    if (size !== member.size || crc !== member.crc) throw unreadable(this.path, `${name} is damaged: its checksum is wrong`);
    if (wanted !== undefined && digest !== wanted) throw unreadable(this.path, `${name} was altered: its SHA-256 is not the one in the manifest`);
  }

  /** Members are small and unpacked at once, with the declared size as the limit; a stream for each would take most of the time. */
  #unpack(member: Member): Buffer {
    const packed = this.#packed(member);
    return member.method === DEFLATED ? inflateRawSync(packed, { maxOutputLength: Math.max(1, member.size), chunkSize: Math.max(LEAST_ROOM, member.size + 1) }) : packed;
  }

  #packed(member: Member): Buffer {
    const packed = this.#reader.bytes(this.#startOf(member), member.packed);
    return member.method === DEFLATED ? packed : Buffer.from(packed);
  }

  *#packedPieces(member: Member): Generator<Buffer> {
    const start = this.#startOf(member);
    for (let at = 0; at < member.packed; at += PIECE) yield Buffer.from(this.#reader.bytes(start + at, Math.min(PIECE, member.packed - at)));
  }

  #startOf({ offset }: Member): number {
    const header = this.#reader.bytes(offset, LOCAL_HEADER_BYTES);
    if (header.readUInt32LE(0) !== LOCAL_HEADER) throw new Error('its local header is missing');
    return offset + LOCAL_HEADER_BYTES + header.readUInt16LE(26) + header.readUInt16LE(28);
  }
}

async function* inflated(packed: Iterable<Buffer>): AsyncGenerator<Buffer> {
  const unpacking = createInflateRaw({ chunkSize: PIECE });
  // What goes wrong in reading is thrown where it is unpacked.
  pipeline(Readable.from(packed, { objectMode: false }), unpacking, () => undefined);
  for await (const piece of unpacking) yield piece as Buffer;
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

function listMembers(path: string, zip: yauzl.ZipFile): Promise<Members> {
  const members = new Members();
  let total = 0;
  return new Promise((resolve, reject) => {
    zip.on('entry', (entry: yauzl.Entry) => {
      total += entry.uncompressedSize;
      const fault = faultOf(entry, members, total);
      if (fault !== undefined) { reject(unreadable(path, fault)); return; }
      members.add(entry.fileName, { offset: entry.relativeOffsetOfLocalHeader, packed: entry.compressedSize, size: entry.uncompressedSize, crc: entry.crc32, method: entry.compressionMethod });
      zip.readEntry();
    });
    zip.on('end', () => { resolve(members); });
    zip.on('error', (error: Error) => { reject(unreadable(path, /relative path|absolute path|invalid characters/.test(error.message) ? `a member has a path that leaves its folder (${error.message})` : `the archive is damaged (${error.message})`, error)); });
    zip.readEntry();
  });
}

function faultOf(entry: yauzl.Entry, members: Members, total: number): string | undefined {
  const { fileName: name, uncompressedSize: size, compressedSize: packed } = entry;
  if (entry.isEncrypted() || (entry.compressionMethod !== 0 && entry.compressionMethod !== DEFLATED)) return `the member ${name} is packed in a way that is not accepted`;
  if (!MEMBER_NAME.test(name)) return `the member "${name.slice(0, 120)}" has no place in a pochette`;
  if (members.position(name) !== undefined) return `the member ${name} is in it twice`;
  if (members.size >= LIMITS.members) return `it has more than ${LIMITS.members} members`;
  if (size > LIMITS.memberBytes || total > LIMITS.totalBytes) return `${name} would unpack to ${size} bytes: more than a pochette may hold`;
  if (size > LIMITS.ratioFrom && size > packed * LIMITS.ratio) return `${name} unpacks to ${Math.round(size / Math.max(1, packed))} times its size: this is no honest file`;
  return undefined;
}
