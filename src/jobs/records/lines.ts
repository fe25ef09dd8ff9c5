import { closeSync, fstatSync, openSync, readSync } from 'node:fs';

const NEWLINE = 0x0a;
/** So much is read first, as little may be wanted; then more and more, up to the most. */
const [FIRST_BYTES, MOST_BYTES] = [2 ** 13, 2 ** 18];
/** What is as near as this is found by going on from line to line. */
const NEAR_BYTES = 2 ** 14;

/** A file of lines that is gone through without being held. */
export class LineFile {
  readonly #file: number;

  private constructor(file: number) { this.#file = file; }

  static open(path: string): LineFile | undefined {
    try { return new LineFile(openSync(path, 'r')); } catch { return undefined; }
  }

  /** The lines from a byte on where one begins, each good until the next is asked for. The last may lack its end. */
  *lines(begin = 0): Generator<Buffer, undefined> {
    let buffer = Buffer.allocUnsafe(FIRST_BYTES);
    let [from, to, next] = [0, 0, begin];
    for (;;) {
      for (let end = buffer.subarray(0, to).indexOf(NEWLINE, from); end >= 0; end = buffer.subarray(0, to).indexOf(NEWLINE, from)) { yield buffer.subarray(from, end); from = end + 1; }
      // A line longer than the buffer needs a larger one.
      if ((from === 0 && to === buffer.length) || (next > begin && buffer.length < MOST_BYTES)) buffer = Buffer.concat([buffer], buffer.length * 2);
      buffer.copyWithin(0, from, to);
      [from, to] = [0, to - from];
      const bytes = readSync(this.#file, buffer, to, buffer.length - to, next);
      if (bytes === 0) break;
      [to, next] = [to + bytes, next + bytes];
    }
    if (to > 0) yield buffer.subarray(0, to);
    return undefined;
  }

  /** Where a line begins that comes shortly before the first of which this is not said, in lines that are in order from byte `low` on. */
  seek(low: number, comesBefore: (line: Buffer) => boolean): number {
    let high = fstatSync(this.#file).size;
    while (high - low > NEAR_BYTES) {
      const middle = low + ((high - low) >> 1);
      const [cut, line] = this.lines(middle);
      const begin = cut && middle + cut.length + 1;
      if (line && begin !== undefined && begin < high && comesBefore(line)) low = begin; else high = middle;
    }
    return low;
  }

  close(): void { closeSync(this.#file); }
}

/** The lines of a file; none where it cannot be opened. */
export function* eachLine(path: string): Generator<Buffer, undefined> {
  const file = LineFile.open(path);
  if (!file) return undefined;
  try { return yield* file.lines(); } finally { file.close(); }
}
