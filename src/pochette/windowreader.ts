import { closeSync, fstatSync, openSync, readSync } from 'node:fs';
import { Readable } from 'node:stream';
import { RandomAccessReader } from 'yauzl';
import { Problem } from '../core/problem.ts';

const WINDOW = 1 << 20;
/** After so many reads other work has its turn: a site that is opened beside may have answered. */
const IN_A_ROW = 256;

/**
 * Reads a file through a window of 1 MiB. The ZIP reader asks for a few bytes at a time, twice for each member;
 * a system call for each would be most of the time of opening a large file.
 */
export class WindowReader extends RandomAccessReader {
  readonly #file: number;
  readonly size: number;
  #start = 0;
  #window = Buffer.alloc(0);
  #open = true;
  #reads = 0;

  constructor(path: string) {
    super();
    try { this.#file = openSync(path, 'r'); } catch (error) {
      throw new Problem('usage', 'there is no such file', { where: path, remedy: 'check the name', cause: error });
    }
    this.size = fstatSync(this.#file).size;
  }

  /** Throws a RangeError beyond the end of the file. */
  bytes(at: number, length: number): Buffer {
    if (at < 0 || at + length > this.size) throw new RangeError('the file ends before');
    if (at < this.#start || at + length > this.#start + this.#window.length) this.#fill(at, Math.max(WINDOW, length));
    return this.#window.subarray(at - this.#start, at - this.#start + length);
  }

  #fill(at: number, length: number): void {
    const window = Buffer.allocUnsafe(Math.min(length, this.size - at));
    let read = 0;
    while (read < window.length) {
      const count = readSync(this.#file, window, read, window.length - read, at + read);
      if (count === 0) throw new RangeError('the file became shorter');
      read += count;
    }
    this.#window = window;
    this.#start = at;
  }

  /** The reader's callers recurse: the answer comes later, on a fresh stack. */
  override read(buffer: Buffer, offset: number, length: number, position: number, callback: (error: Error | null) => void): void {
    let fault: Error | null = null;
    try { this.bytes(position, length).copy(buffer, offset); } catch (error) { fault = error as Error; }
    const later = ++this.#reads % IN_A_ROW === 0 ? setImmediate : queueMicrotask;
    later(() => { callback(fault); });
  }

  override _readStreamForRange(start: number, end: number): Readable {
    return Readable.from([this.bytes(start, end - start)]);
  }

  end(): void {
    if (this.#open) closeSync(this.#file);
    this.#open = false;
  }
}
