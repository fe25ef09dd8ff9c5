import { sql } from 'kysely';
import { cellText, type Row } from './cells.ts';
import { conditions } from './condition.ts';
import type { Engine, Executor, Table } from './engine.ts';
import type { Rows, Spec } from './layout/schema.ts';
import type { Shape } from './shape.ts';

/** A row with everything that belongs to it. */
export interface Loaded {
  readonly table: Table;
  readonly row: Row;
  readonly joins: Map<string, Loaded>;
  /** It belongs to others too: not made or removed with what it is joined to. */
  readonly shared?: boolean;
  /** By the member of the value that they make. */
  readonly sets: Map<string, Loaded[]>;
}

export interface Related { readonly from: string; readonly on: Readonly<Record<string, string>>; readonly where: Rows['where']; readonly joins?: Rows['joins'] | undefined }

/** A cell by `column` or `join.column`. */
export function cellAt(loaded: Loaded, place: string): string | null {
  const [first = '', second] = place.split('.');
  const cell = second === undefined ? loaded.row[first] : loaded.joins.get(first)?.row[second];
  return cell === null || cell === undefined ? null : cellText(cell);
}

/** Fetches what belongs to rows, for many rows at once: one statement for each sort of related row. */
export class Loader {
  readonly #engine: Engine;
  readonly #shape: Shape;
  readonly #at: Executor;
  readonly #lock: boolean;

  constructor(engine: Engine, shape: Shape, at: Executor, lock: boolean) {
    this.#engine = engine;
    this.#shape = shape;
    this.#at = at;
    this.#lock = lock;
  }

  /** Rows of a table as roots; those that lack a row that they are joined to are none. */
  async roots(rows: readonly Row[], table: Table, rule: Pick<Rows, 'joins' | 'value'>): Promise<Loaded[]> {
    return this.#complete(rows.map((row) => ({ table, row, joins: new Map<string, Loaded>(), sets: new Map<string, Loaded[]>() })), rule.joins, rule.value);
  }

  async #complete(all: Loaded[], joins: Rows['joins'], value: Readonly<Record<string, Spec>>): Promise<Loaded[]> {
    let kept = all;
    for (const [name, join] of Object.entries(joins)) {
      const found = await this.#related(kept, { ...join, joins: {} });
      kept = kept.filter((one, i) => { const [row] = found[i] ?? []; if (row) one.joins.set(name, join.shared ? { ...row, shared: true } : row); return row !== undefined; });
    }
    if (kept.length === 0) return kept;
    for (const [member, spec] of Object.entries(value)) {
      const related = relatedOf(spec);
      if (!related) continue;
      const found = await this.#related(kept, related);
      kept.forEach((one, i) => { one.sets.set(member, found[i] ?? []); });
      if (typeof spec === 'object' && 'list' in spec) await this.#complete(found.flat(), {}, spec.list.value);
    }
    return kept;
  }

  /** For each row above the rows that belong to it. */
  async #related(above: readonly Loaded[], rule: Related): Promise<Loaded[][]> {
    const table = this.#shape.table(rule.from);
    const [[here, there] = ['', '']] = Object.entries(rule.on);
    const wanted = [...new Set(above.flatMap((one) => cellAt(one, there) ?? []))];
    if (wanted.length === 0) return above.map(() => []);
    const order = table.key.length === 0 ? sql`` : sql`order by ${sql.join(table.key.map((name) => sql.ref(name)))}`;
    const rows = await this.#engine.rows(table, sql`where ${this.#engine.oneOf(table, here, wanted)} and ${conditions(this.#engine, table, rule.where)} ${order} ${this.#lock ? this.#engine.own.forUpdate : sql``}`, this.#at);
    const complete = await this.#complete(rows.map((row) => ({ table, row, joins: new Map<string, Loaded>(), sets: new Map<string, Loaded[]>() })), rule.joins ?? {}, {});
    const byKey = new Map<string, Loaded[]>();
    for (const one of complete) {
      const key = cellText(one.row[here]);
      const list = byKey.get(key);
      if (list) list.push(one); else byKey.set(key, [one]);
    }
    return above.map((one) => byKey.get(cellAt(one, there) ?? '') ?? []);
  }
}

function relatedOf(spec: Spec): Related | undefined {
  if (typeof spec === 'string') return undefined;
  if ('fields' in spec) return spec.fields;
  return 'list' in spec ? spec.list : 'ids' in spec ? spec.ids : undefined;
}

