import { existsSync, mkdirSync, readFileSync } from 'node:fs';
import { dirname } from 'node:path';
import type { Address } from '../../core/address.ts';
import type { SourceRow } from '../../core/source.ts';
import { writeWhole } from './folder.ts';

/** What a row says, without its value. */
export type RememberedRow = Omit<SourceRow, 'text' | 'load'> & { readonly etag: string };

/**
 * Rows of a site as they were when it was last read whole: an item whose etag is the same need not be fetched again.
 * That holds only while everything it was resolved with is the same, so the memory carries a digest of that, the environment.
 * It is a copy of what can be read again: one that is missing or damaged is an empty one.
 */
export class RowMemory {
  readonly #path: string;

  constructor(path: string) { this.#path = path; }

  recall(environment: string): Map<Address, RememberedRow> {
    if (!existsSync(this.#path)) return new Map();
    const text = readFileSync(this.#path, 'utf8');
    const end = text.indexOf('\n');
    if (text.slice(0, end) !== environment) return new Map();
    try {
      const rows = JSON.parse(`[${text.slice(end + 1).trimEnd().replaceAll('\n', ',')}]`) as RememberedRow[];
      return new Map(rows.map((row) => [row.address, row]));
    } catch {
      return new Map();
    }
  }

  remember(environment: string, rows: readonly RememberedRow[]): void {
    mkdirSync(dirname(this.#path), { recursive: true, mode: 0o700 });
    writeWhole(this.#path, `${environment}\n${rows.map((row) => JSON.stringify(row) + '\n').join('')}`);
  }
}
