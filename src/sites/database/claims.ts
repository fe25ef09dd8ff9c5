import { Numbers, TextSet } from '../../core/columns.ts';
import { Problem } from '../../core/problem.ts';
import type { KindRows } from './shape.ts';

/** Which kind describes which row. */
export class Claims {
  readonly #keys = new TextSet();
  /** The number of the kind, of each key. */
  readonly #kinds = new Numbers({ whole: true });
  readonly #all: readonly KindRows[];

  constructor(all: readonly KindRows[]) { this.#all = all; }

  /** Can another kind describe a row of this one at all? */
  concern(kind: KindRows): boolean { return kind.rows.inside !== undefined || this.#all.some((other) => other !== kind && other.rows.from === kind.rows.from); }

  has(key: string): boolean { return this.#keys.find(key) !== undefined; }

  add(kind: KindRows, keys: readonly string[]): void {
    const number = this.#all.indexOf(kind);
    for (const key of keys) {
      const before = this.#keys.size;
      const at = this.#keys.add(key);
      const other = at < before ? this.#all[this.#kinds.at(at)] : undefined;
      // Records that share a row share it with their own kind only.
      if (other && (other !== kind || !kind.rows.inside)) {
        throw new Problem('usage', `${other.description.id} and ${kind.description.id} describe the same row: ${key}`, { where: `${other.where} and ${kind.where}`, remedy: 'let one of them leave it out (where: not), or mark the more general one with "rest: true"' });
      }
      if (!other) this.#kinds.put(at, number);
    }
  }
}
