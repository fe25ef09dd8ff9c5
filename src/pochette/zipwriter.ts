import { closeSync, fsyncSync, openSync, renameSync, rmSync, writeSync } from 'node:fs';
import { Members, type Member } from './members.ts';
import { Packer } from './packer.ts';
import type { PackedBatch } from './packing.ts';

/*
 * Writes a ZIP archive (APPNOTE 6.3.9) entry by entry, with memory for the names only. Written here because the well-kept library
 * searches its list of entries at every step, which is quadratic; see docs/performance.md. Times are fixed, so equal content gives equal bytes.
 */
const VERSION = 20;
const VERSION_64 = 45;
const UTF8_NAMES = 0x0800;
const DOS_TIME = 0;
const DOS_DATE = 0x21; // 1980-01-01
const MAX_16 = 0xffff;
const MAX_32 = 0xffffffff;
const BUFFER_BYTES = 1 << 20;

/** Members are packed in batches of about this size. */
const BATCH_BYTES = 1 << 19;
const BATCH_MEMBERS = 256;

/** Writes beside the wanted file and renames at the end: what is there under the final name is whole. */
export class ZipWriter {
  readonly #path: string;
  readonly #file: number;
  #isOpen = true;
  readonly #entries = new Members();
  /** Of those that are not packed yet, in their order. */
  readonly #names: string[] = [];
  readonly #packer = new Packer((packed) => { this.#packed(packed); });
  #batch: { bytes: Buffer; store: boolean }[] = [];
  #batchBytes = 0;
  #pending: Uint8Array[] = [];
  #pendingBytes = 0;
  #offset = 0;

  constructor(path: string) {
    this.#path = path;
    this.#file = openSync(this.#part, 'w');
  }

  /** Adds a member; members keep their order. `store`: it is compressed already. */
  add(name: string, bytes: Buffer, store = false): void {
    this.#names.push(name);
    this.#batch.push({ bytes, store });
    this.#batchBytes += bytes.length;
    if (this.#batchBytes >= BATCH_BYTES || this.#batch.length >= BATCH_MEMBERS) this.#send();
  }

  /** Await now and then: members wait in memory until they are packed. */
  room(): Promise<void> { return this.#packer.room(); }

  #send(): void {
    if (this.#batch.length === 0) return;
    const bytes = new Uint8Array(this.#batchBytes);
    let at = 0;
    for (const member of this.#batch) { bytes.set(member.bytes, at); at += member.bytes.length; }
    const batch = { bytes, lengths: this.#batch.map((member) => member.bytes.length), stored: this.#batch.map((member) => member.store) };
    this.#batch = [];
    this.#batchBytes = 0;
    this.#packer.pack(batch);
  }

  #packed(packed: PackedBatch): void {
    let at = 0;
    const names = this.#names.splice(0, packed.members.length);
    for (const [i, { method, crc, size, length }] of packed.members.entries()) {
      const [name, entry] = [names[i] ?? '', { method, crc, packed: length, size, offset: this.#offset }];
      this.#entries.add(name, entry);
      this.#write(localHeader(name, entry));
      this.#write(packed.bytes.subarray(at, at + length));
      at += length;
    }
  }

  /** Closes the archive and puts it in its place. */
  async finish(): Promise<number> {
    this.#send();
    await this.#packer.done();
    const start = this.#offset;
    for (let i = 0; i < this.#entries.size; i++) this.#write(directoryEntry(this.#entries.name(i), this.#entries.at(i)));
    const size = this.#offset - start;
    if (this.#entries.size >= MAX_16 || start >= MAX_32) this.#write(end64(this.#entries.size, size, start));
    this.#write(end(this.#entries.size, size, start));
    this.#flush();
    fsyncSync(this.#file);
    this.#close();
    renameSync(this.#part, this.#path);
    return this.#offset;
  }

  /** Gives up; nothing stays. */
  async abandon(): Promise<void> {
    await this.#packer.stop();
    this.#close();
    rmSync(this.#part, { force: true });
  }

  /** Its own for each process: two may be writing the same file. */
  get #part(): string { return `${this.#path}.${process.pid}.part`; }

  #close(): void {
    if (this.#isOpen) closeSync(this.#file);
    this.#isOpen = false;
  }

  #write(bytes: Uint8Array): void {
    this.#pending.push(bytes);
    this.#pendingBytes += bytes.length;
    this.#offset += bytes.length;
    if (this.#pendingBytes >= BUFFER_BYTES) this.#flush();
  }

  #flush(): void {
    const bytes = Buffer.concat(this.#pending);
    for (let at = 0; at < bytes.length;) at += writeSync(this.#file, bytes, at);
    this.#pending = [];
    this.#pendingBytes = 0;
  }
}

function localHeader(name: string, entry: Member): Buffer {
  const written = Buffer.from(name);
  if (entry.size >= MAX_32) throw new RangeError('members of 4 GiB and more are not supported');
  const head = Buffer.alloc(30);
  head.writeUInt32LE(0x04034b50, 0);
  head.writeUInt16LE(VERSION, 4);
  common(head, 6, entry);
  head.writeUInt16LE(written.length, 26);
  return Buffer.concat([head, written]);
}

function common(head: Buffer, at: number, entry: Member): void {
  head.writeUInt16LE(UTF8_NAMES, at);
  head.writeUInt16LE(entry.method, at + 2);
  head.writeUInt16LE(DOS_TIME, at + 4);
  head.writeUInt16LE(DOS_DATE, at + 6);
  head.writeUInt32LE(entry.crc, at + 8);
  head.writeUInt32LE(entry.packed, at + 12);
  head.writeUInt32LE(entry.size, at + 16);
}

function directoryEntry(name: string, entry: Member): Buffer {
  const written = Buffer.from(name);
  const far = entry.offset >= MAX_32;
  const head = Buffer.alloc(46);
  head.writeUInt32LE(0x02014b50, 0);
  head.writeUInt16LE(far ? VERSION_64 : VERSION, 4);
  head.writeUInt16LE(far ? VERSION_64 : VERSION, 6);
  common(head, 8, entry);
  head.writeUInt16LE(written.length, 28);
  head.writeUInt16LE(far ? 12 : 0, 30);
  head.writeUInt32LE(far ? MAX_32 : entry.offset, 42);
  if (!far) return Buffer.concat([head, written]);
  const extra = Buffer.alloc(12);
  extra.writeUInt16LE(0x0001, 0);
  extra.writeUInt16LE(8, 2);
  extra.writeBigUInt64LE(BigInt(entry.offset), 4);
  return Buffer.concat([head, written, extra]);
}

function end(count: number, size: number, start: number): Buffer {
  const tail = Buffer.alloc(22);
  tail.writeUInt32LE(0x06054b50, 0);
  tail.writeUInt16LE(Math.min(count, MAX_16), 8);
  tail.writeUInt16LE(Math.min(count, MAX_16), 10);
  tail.writeUInt32LE(Math.min(size, MAX_32), 12);
  tail.writeUInt32LE(Math.min(start, MAX_32), 16);
  return tail;
}

/** The zip64 end record and its locator. */
function end64(count: number, size: number, start: number): Buffer {
  const record = Buffer.alloc(76);
  record.writeUInt32LE(0x06064b50, 0);
  record.writeBigUInt64LE(44n, 4);
  record.writeUInt16LE(VERSION_64, 12);
  record.writeUInt16LE(VERSION_64, 14);
  record.writeBigUInt64LE(BigInt(count), 24);
  record.writeBigUInt64LE(BigInt(count), 32);
  record.writeBigUInt64LE(BigInt(size), 40);
  record.writeBigUInt64LE(BigInt(start), 48);
  record.writeUInt32LE(0x07064b50, 56);
  record.writeBigUInt64LE(BigInt(start + size), 64);
  record.writeUInt32LE(1, 72);
  return record;
}
