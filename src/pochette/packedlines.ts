import { brotliCompressSync, brotliDecompressSync, constants } from 'node:zlib';
import { Numbers } from '../core/columns.ts';

/** So many bytes at least are packed together; to read a line they are unpacked together. */
const BLOCK_BYTES = 2 ** 16;
/** Lines of an index are much alike: a quick way of packing (RFC 7932) makes them several times shorter. */
const QUICK = { params: { [constants.BROTLI_PARAM_QUALITY]: 1 } };

/** Lines, packed: the index of a large file is tens of megabytes, and of most lines little is ever asked. They are best read in order. */
export class PackedLines {
  /** Where each ends, and the next one begins. */
  readonly #ends = new Numbers({ whole: true });
  readonly #blocks: Buffer[] = [];
  /** The first line of each block. */
  readonly #firsts: number[] = [];
  /** Those that are not packed yet, from the last block on. */
  #waiting: Buffer[] = [];
  #waits = 0;
  #unpacked: { readonly block: number; readonly bytes: Buffer } | undefined;

  get length(): number { return this.#ends.length; }

  /** The bytes must stay as they are. */
  add(line: Buffer): void {
    if (this.#waiting.length === 0) this.#firsts.push(this.length);
    this.#waiting.push(line);
    this.#waits += line.length;
    this.#ends.push(this.#startOf(this.length) + line.length);
    if (this.#waits >= BLOCK_BYTES) this.#pack();
  }

  #pack(): void {
    // What the library gives may lie in a buffer of several times its size.
    this.#blocks.push(Buffer.from(brotliCompressSync(Buffer.concat(this.#waiting), QUICK)));
    this.#waiting = [];
    this.#waits = 0;
  }

  /** Where a line begins, in all of them. */
  #startOf(line: number): number { return line === 0 ? 0 : this.#ends.at(line - 1); }

  /** A line as it was added. */
  at(line: number): string {
    if (this.#waiting.length > 0) this.#pack();
    const block = this.#blockOf(line);
    if (this.#unpacked?.block !== block) this.#unpacked = { block, bytes: brotliDecompressSync(this.#blocks[block] ?? Buffer.alloc(0)) };
    const from = this.#startOf(this.#firsts[block] ?? 0);
    return this.#unpacked.bytes.toString('utf8', this.#startOf(line) - from, this.#startOf(line + 1) - from);
  }

  /** The last block that does not begin behind the line. */
  #blockOf(line: number): number {
    let [low, high] = [0, this.#firsts.length - 1];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if ((this.#firsts[middle] ?? 0) <= line) low = middle; else high = middle - 1;
    }
    return low;
  }
}
