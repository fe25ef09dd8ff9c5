import { closeSync, openSync, renameSync, writeFileSync, writeSync } from 'node:fs';

/** So many characters are written at a time. */
const PIECE = 2 ** 18;

/** Its own for each process: two may be at it. */
function partOf(path: string): string { return `${path}.${process.pid}.part`; }

/** Writes beside and renames: a reader finds the old text or the new one, never a part. For its owner only. */
export function writeWhole(path: string, text: string | Buffer): void {
  writeFileSync(partOf(path), text, { mode: 0o600 });
  renameSync(partOf(path), path);
}

/** The same with a line for each text, as they come. */
export function writeLines(path: string, lines: Iterable<string>): void {
  const file = openSync(partOf(path), 'w', 0o600);
  try {
    let waiting = '';
    for (const line of lines) {
      waiting += line + '\n';
      if (waiting.length > PIECE) { writeSync(file, waiting); waiting = ''; }
    }
    writeSync(file, waiting);
  } finally { closeSync(file); }
  renameSync(partOf(path), path);
}
