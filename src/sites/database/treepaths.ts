import { sql } from 'kysely';
import { cellText, type Row } from './cells.ts';
import type { Engine, Executor, Table } from './engine.ts';
import { fill, namesIn } from './layout/template.ts';
import type { KindRows } from './shape.ts';

interface Step { readonly segment: string; readonly parent: string; readonly within: string }

const NOT_THERE: Step = { segment: '', parent: '', within: '' };
const NONE = new Set(['', '0']);

function withinOf({ within }: KindRows['rows']): { readonly column: string; readonly except?: readonly string[] } | undefined { return typeof within === 'string' ? { column: within } : within; }

/** Paths of rows in a tree: the segments of all rows above and of the row itself. Of one kind. */
export class TreePaths {
  readonly #engine: Engine;
  readonly #kind: KindRows;
  readonly #table: Table;
  readonly #id: string;
  /** Rows by id: those that were asked for, if anything is above them, and those above. */
  readonly #steps = new Map<string, Step>();

  constructor(engine: Engine, kind: KindRows, table: Table, id: string) {
    this.#engine = engine;
    this.#kind = kind;
    this.#table = table;
    this.#id = id;
  }

  /** Does a name or an address of this kind hold the path at all? */
  static wanted({ rows }: KindRows): boolean { return rows.parent !== undefined && [rows.name, rows.url].some((template) => namesIn(template ?? '').includes('path')); }

  /** The columns that paths are made of. */
  static columns({ rows }: KindRows): string[] { return [rows.parent, withinOf(rows)?.column].filter((one) => one !== undefined).concat(namesIn(rows.segment ?? '')); }

  /** Takes note of rows, and fetches those above them that are not known yet. */
  async learn(rows: readonly Row[], at: Executor): Promise<void> {
    for (const row of rows) this.#note(row, false);
    let missing = this.#missing(rows.map((row) => this.#parent(row)));
    while (missing.length > 0) {
      const names = [...new Set([this.#id, ...TreePaths.columns(this.#kind)])];
      const found = await this.#engine.some(this.#table, names, sql`where ${this.#engine.oneOf(this.#table, this.#id, missing)}`, at);
      for (const row of found) this.#note(row, true);
      const there = new Set(found.map((row) => cellText(row[this.#id])));
      for (const id of missing) if (!there.has(id)) this.#steps.set(id, NOT_THERE);
      missing = this.#missing(found.map((row) => this.#parent(row)));
    }
  }

  of(row: Row): string {
    const own = this.#step(row);
    const segments = [own.segment];
    const seen = new Set([cellText(row[this.#id])]);
    // Rows that stand above each other are no tree: the path begins where it would come round.
    for (let id = own.parent; !seen.has(id);) {
      const above = this.#steps.get(id);
      if (!above || !this.#belongs(above, own)) break;
      segments.unshift(above.segment);
      seen.add(id);
      id = above.parent;
    }
    return segments.join('/');
  }

  /** Is a row above one of the path? */
  #belongs(above: Step, own: Step): boolean {
    const except = withinOf(this.#kind.rows)?.except;
    return above !== NOT_THERE && (except ? !except.includes(above.within) : above.within === own.within);
  }

  #missing(parents: readonly string[]): string[] { return [...new Set(parents)].filter((id) => !NONE.has(id) && !this.#steps.has(id)); }

  #note(row: Row, isAbove: boolean): void {
    const step = this.#step(row);
    const id = cellText(row[this.#id]);
    if (isAbove || !NONE.has(step.parent) || this.#steps.has(id)) this.#steps.set(id, step);
  }

  #parent(row: Row): string { return cellText(row[this.#kind.rows.parent ?? '']); }

  #step(row: Row): Step {
    const { segment } = this.#kind.rows;
    const within = withinOf(this.#kind.rows)?.column;
    return { segment: fill(segment ?? `{${this.#id}}`, (name) => cellText(row[name])), parent: this.#parent(row), within: within === undefined ? '' : cellText(row[within]) };
  }
}
