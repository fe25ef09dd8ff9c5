import { closeSync, openSync, readSync } from 'node:fs';

const NEWLINE = 0x0a;
const READ_BYTES = 2 ** 18;

/** The lines of a file without holding it, each good until the next is asked for; none where it cannot be opened. The last may lack its end. */
export function* eachLine(path: string): Generator<Buffer, undefined> {
  let file: number;
  try { file = openSync(path, 'r'); } catch { return undefined; }
  try {
    let buffer = Buffer.allocUnsafe(READ_BYTES);
    let [from, to] = [0, 0];
    for (;;) {
      for (let end = buffer.subarray(0, to).indexOf(NEWLINE, from); end >= 0; end = buffer.subarray(0, to).indexOf(NEWLINE, from)) { yield buffer.subarray(from, end); from = end + 1; }
      // A line longer than the buffer needs a larger one.
      if (from === 0 && to === buffer.length) buffer = Buffer.concat([buffer], buffer.length * 2);
      buffer.copyWithin(0, from, to);
      [from, to] = [0, to - from];
      const bytes = readSync(file, buffer, to, buffer.length - to, null);
      if (bytes === 0) break;
      to += bytes;
    }
    if (to > 0) yield buffer.subarray(0, to);
    return undefined;
  } finally { closeSync(file); }
}
