import { brotliCompressSync, brotliDecompressSync, constants } from 'node:zlib';

const NEWLINE = 0x0a;
/** So many bytes at least are packed together; to read a line they are unpacked together. */
const BLOCK_BYTES = 2 ** 16;
/** Lines of an index are much alike: a quick way of packing (RFC 7932) makes them several times shorter. */
const QUICK = { params: { [constants.BROTLI_PARAM_QUALITY]: 1 } };

/** The lines of a text, packed: the index of a large file is tens of megabytes, and of most lines little is ever asked. They are best read in order. */
export class PackedLines {
  readonly #starts: Uint32Array;
  readonly #blocks: Buffer[] = [];
  /** The first line of each block, and how many lines there are. */
  readonly #firsts: number[] = [];
  #unpacked: { readonly block: number; readonly bytes: Buffer } | undefined;

  constructor(text: Buffer) {
    this.#starts = startsOf(text);
    let first = 0;
    for (let line = 1; line <= this.length; line++) {
      const [from, to] = [this.#starts[first] ?? 0, this.#starts[line] ?? 0];
      if (to - from < BLOCK_BYTES && line < this.length) continue;
      // What the library gives may lie in a buffer of several times its size.
      this.#blocks.push(Buffer.from(brotliCompressSync(text.subarray(from, to), QUICK)));
      this.#firsts.push(first);
      first = line;
    }
  }

  get length(): number { return this.#starts.length - 1; }

  /** A line, without its end. */
  at(line: number): string {
    const block = this.#blockOf(line);
    if (this.#unpacked?.block !== block) this.#unpacked = { block, bytes: brotliDecompressSync(this.#blocks[block] ?? Buffer.alloc(0)) };
    const from = this.#starts[this.#firsts[block] ?? 0] ?? 0;
    return this.#unpacked.bytes.toString('utf8', (this.#starts[line] ?? 0) - from, (this.#starts[line + 1] ?? 0) - from - 1);
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

/** Where each line begins, and one more: where another would. The end of the last line may be missing. */
function startsOf(text: Buffer): Uint32Array {
  const starts = [0];
  for (let at = text.indexOf(NEWLINE); at >= 0; at = text.indexOf(NEWLINE, at + 1)) starts.push(at + 1);
  if (starts.at(-1) !== text.length) starts.push(text.length + 1);
  return Uint32Array.from(starts);
}
