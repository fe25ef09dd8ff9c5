import { closeSync, openSync, renameSync, writeFileSync, writeSync } from 'node:fs';

/** So many characters are written at a time. */
const PIECE = 2 ** 18;

/** Writes beside and renames: a reader finds the old text or the new one, never a part. For its owner only. */
export function writeWhole(path: string, text: string | Buffer): void {
  writeFileSync(`${path}.part`, text, { mode: 0o600 });
  renameSync(`${path}.part`, path);
}

/** The same with a line for each text, as they come. */
export function writeLines(path: string, lines: Iterable<string>): void {
  const file = openSync(`${path}.part`, 'w', 0o600);
  try {
    let waiting = '';
    for (const line of lines) {
      waiting += line + '\n';
      if (waiting.length > PIECE) { writeSync(file, waiting); waiting = ''; }
    }
    writeSync(file, waiting);
  } finally { closeSync(file); }
  renameSync(`${path}.part`, path);
}
