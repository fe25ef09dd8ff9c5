import { existsSync, mkdirSync, readFileSync } from 'node:fs';
import { dirname } from 'node:path';
import type { Address } from '../../core/address.ts';
import type { PortableItem } from '../../core/item.ts';
import type { SourceRow } from '../../core/source.ts';
import { IndexedRow, indexLine } from '../../pochette/indexedrow.ts';
import { writeWhole } from './whole.ts';

/** A row with the etag that its item had. */
export interface Remembered { readonly etag: string; readonly row: SourceRow }

/**
 * Rows of a site as they were when it was last read whole: an item whose etag is the same need not be fetched again.
 * That holds only while everything it was resolved with is the same, so the memory carries a digest of that, the environment.
 * First line: the environment; then `etag line-of-the-index` for each item. It is a copy of what can be read again: a missing or damaged one is an empty one.
 */
export class RowMemory {
  readonly #path: string;

  constructor(path: string) { this.#path = path; }

  recall(environment: string, load: (row: IndexedRow) => Promise<PortableItem>): Map<Address, Remembered> {
    const lines = existsSync(this.#path) ? readFileSync(this.#path, 'utf8').trimEnd().split('\n') : [];
    if (lines[0] !== environment) return new Map();
    try {
      return new Map(lines.slice(1).map((line): [Address, Remembered] => {
        const start = line.indexOf('{');
        const row = new IndexedRow(line.slice(start), this.#path, load);
        return [row.address, { etag: line.slice(0, start - 1), row }];
      }));
    } catch {
      return new Map();
    }
  }

  /** Rows of which something was left out are not remembered: an index has no place for that. */
  remember(environment: string, entries: readonly Remembered[]): void {
    mkdirSync(dirname(this.#path), { recursive: true, mode: 0o700 });
    const kept = entries.filter(({ etag, row }) => row.leftOut.length === 0 && !etag.includes('{'));
    writeWhole(this.#path, `${environment}\n${kept.map(({ etag, row }) => `${etag} ${indexLine(row)}\n`).join('')}`);
  }
}
