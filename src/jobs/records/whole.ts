import { renameSync, writeFileSync } from 'node:fs';

/** Writes beside and renames: a reader finds the old text or the new one, never a part. For its owner only. */
export function writeWhole(path: string, text: string | Buffer): void {
  writeFileSync(`${path}.part`, text, { mode: 0o600 });
  renameSync(`${path}.part`, path);
}
