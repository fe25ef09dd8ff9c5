import { sql } from 'kysely';
import { anyOf } from '../../core/wildcard.ts';
import { localId, type LocalId } from '../../core/siteindex.ts';
import { cellText, etagOf, type Cell, type Row } from './cells.ts';
import { keyOf, type Changes } from './changes.ts';
import { conditions } from './condition.ts';
import type { Executor, Table } from './engine.ts';
import { capturing, fill } from './layout/template.ts';
import { cellAt, Loader, type Loaded } from './loaded.ts';
import { RowWriter } from './rowwriter.ts';
import type { KindRows } from './shape.ts';
import { Refused, type Ground, type Made, type Store, type Unit } from './store.ts';
import { ValueReader } from './valuereader.ts';

const CHUNK = 1000;

interface PlainUnit extends Unit { readonly loaded: Loaded }
export type ExactRows = [alias: string, row: Row][];

/** Items that are a row of their own, with the rows that belong to it. */
export class PlainStore implements Store {
  readonly #ground: Ground;
  readonly #kind: KindRows;
  readonly #table: Table;
  readonly #captures: ((text: string) => Record<string, string> | undefined) | undefined;
  readonly #values: ValueReader;
  readonly #claimed: ((key: string) => boolean) | undefined;

  constructor(ground: Ground, kind: KindRows, claimed?: (key: string) => boolean) {
    this.#ground = ground;
    this.#kind = kind;
    this.#table = ground.shape.table(kind.rows.from ?? '');
    this.#captures = kind.rows.pattern && capturing(kind.rows.pattern.text);
    this.#values = new ValueReader(ground);
    this.#claimed = claimed;
  }

  get #id(): string { return this.#kind.rows.id ?? this.#table.key[0] ?? ''; }

  async *all(at: Executor): AsyncGenerator<Unit[]> {
    const { engine } = this.#ground;
    const [key = ''] = this.#table.key;
    for (let last: string | undefined; ;) {
      const after = last === undefined ? sql`` : sql`and ${sql.ref(key)} > ${engine.own.compare(last, engine.column(this.#table, key))}`;
      const rows = await engine.rows(this.#table, sql`where ${conditions(engine, this.#table, this.#kind.rows.where)} ${after} order by ${sql.ref(key)} limit ${sql.lit(CHUNK)}`, at);
      if (rows.length === 0) return;
      last = cellText(rows.at(-1)?.[key]);
      yield await this.#units(rows, at, false);
      if (rows.length < CHUNK) return;
    }
  }

  async some(ids: readonly LocalId[], at: Executor, lock: boolean): Promise<Unit[]> {
    const { engine } = this.#ground;
    const rows = await engine.rows(this.#table, sql`where ${conditions(engine, this.#table, this.#kind.rows.where)} and ${engine.oneOf(this.#table, this.#id, ids.map(String))} ${lock ? engine.own.forUpdate : sql``}`, at);
    return this.#units(rows, at, lock);
  }

  async #units(rows: readonly Row[], at: Executor, lock: boolean): Promise<PlainUnit[]> {
    const { engine, shape } = this.#ground;
    const ignored = shape.layout.tables[this.#kind.rows.from ?? '']?.ignore ?? [];
    const wanted = rows.filter((row) => !ignored.some((one) => matchesPlainly(row, one)) && (this.#claimed?.(keyOf(this.#table, row)) !== true) && (this.#kind.rows.pattern === undefined || this.#captures?.(cellText(row[this.#kind.rows.pattern.column])) !== undefined));
    const loaded = await new Loader(engine, shape, at, lock).roots(wanted, this.#table, this.#kind.rows);
    return Promise.all(loaded.map((one) => this.#unit(one)));
  }

  async #unit(loaded: Loaded): Promise<PlainUnit> {
    const { rows, description } = this.#kind;
    const captures = rows.pattern && this.#captures?.(cellText(loaded.row[rows.pattern.column]));
    const filling = (name: string): string | undefined => captures?.[name] ?? cellAt(loaded, name) ?? undefined;
    const files = await this.#values.files(rows.value, loaded);
    const exact: ExactRows = exactRows(loaded, this.#ground.shape);
    if (files) exact.push([FILES, Object.fromEntries(files.map((one) => [one.path, one.file ?? null]))]);
    const id = localId(cellText(loaded.row[this.#id]));
    const name = fill(rows.name ?? `{${this.#id}}`, filling);
    const status = rows.status && rows.status.draft.includes(cellText(loaded.row[rows.status.column])) ? 'draft' : 'published';
    const values = this.#values;
    return {
      id, name: name === '' ? String(id) : name, title: fill(rows.title ?? '{' + this.#id + '}', filling) || name || `${description.title} ${id}`, status, changed: rows.changed === undefined ? undefined : timeOf(cellAt(loaded, rows.changed)),
      etag: etagOf(withoutVolatile(exact, this.#ground.shape)), size: sizeOf(exact), exact, loaded,
      claims: [keyOf(this.#table, loaded.row)], rows: () => rowsOf(exact).map(([alias, row]) => keyOf(this.#ground.shape.table(alias), row)), parent: rows.parent === undefined ? undefined : cellText(loaded.row[rows.parent]), fill: filling,
      get value() { return values.value(rows.value, loaded, files); },
      ...(files?.some((one) => one.file === undefined) ? { damaged: `its file ${files.find((one) => one.file === undefined)?.path ?? ''} is not in the media folder` } : {}),
    };
  }

  async create(name: string, status: 'published' | 'draft', value: Record<string, unknown>, changes: Changes): Promise<Made> {
    const made = new RowWriter(this.#ground, changes).create(this.#kind.rows, this.#table, { name, status }, value);
    await this.#ground.library?.place(value);
    return { id: () => localId(this.#id === this.#table.counted || this.#table.key[0] === this.#id ? made.id ?? '' : idOf(made.cells[this.#id])) };
  }

  async update(unit: Unit, value: Record<string, unknown>, changes: Changes, status?: Unit['status']): Promise<void> {
    const { loaded } = unit as PlainUnit;
    const state = this.#kind.rows.status;
    const word = status === 'draft' ? state?.draft[0] : state?.published[0];
    if (status !== undefined && (!state || word === undefined)) throw new Refused(422, `it cannot be ${status === 'draft' ? 'a draft' : status}`);
    if (status !== undefined && state && word !== undefined) changes.edit(loaded.table, loaded.row)[state.column] = word;
    new RowWriter(this.#ground, changes).update(this.#kind.rows.value, loaded, value);
    await this.#ground.library?.place(value);
  }

  remove(unit: Unit, changes: Changes): Promise<void> {
    for (const [alias, row] of rowsOf(unit.exact).reverse()) changes.remove(this.#ground.shape.table(alias), row);
    this.#ground.library?.unplace(unit.value);
    return Promise.resolve();
  }

  async restore(exact: unknown, unit: Unit | undefined, changes: Changes): Promise<void> {
    for (const [alias, row] of rowsOf(unit?.exact).reverse()) changes.remove(this.#ground.shape.table(alias), row);
    for (const [alias, row] of rowsOf(exact)) changes.bringBack(this.#ground.shape.table(alias), row);
    const value = this.#valueOf(exact as ExactRows);
    if (value) await this.#ground.library?.place(value);
  }

  /** Files of a record that is brought back: their names and digests stand beside its rows. */
  #valueOf(exact: ExactRows): Record<string, unknown> | undefined {
    const files = exact.find(([alias]) => alias === FILES)?.[1];
    return files && { files: Object.entries(files).map(([path, digest]) => ({ path, file: cellText(digest) })) };
  }
}

/** A time as databases print it, in UTC; what is none stays out. */
function timeOf(text: string | null): string | undefined {
  const time = text === null ? NaN : Date.parse(/^\d{4}-\d{2}-\d{2} \d{2}:\d{2}:\d{2}(\.\d+)?$/.test(text) ? `${text.replace(' ', 'T')}Z` : text);
  return Number.isNaN(time) ? undefined : new Date(time).toISOString();
}

/** Stands among the rows of an exact record for the files that belong to it. */
export const FILES = ' files';

function rowsOf(exact: unknown): ExactRows { return ((exact ?? []) as ExactRows).filter(([alias]) => alias !== FILES); }

function idOf(cell: unknown): string { return typeof cell === 'string' ? cell : (cell as { id?: string } | undefined)?.id ?? ''; }

function exactRows(loaded: Loaded, shape: Ground['shape']): ExactRows {
  const found: ExactRows = [];
  const aliases = new Map([...shape.tables].map(([alias, table]) => [table, alias]));
  const visit = (one: Loaded): void => {
    for (const join of one.joins.values()) if (!join.shared) visit(join);
    found.push([aliases.get(one.table) ?? '', one.row]);
    for (const set of one.sets.values()) for (const row of set) visit(row);
  };
  visit(loaded);
  return found;
}

function withoutVolatile(exact: ExactRows, shape: Ground['shape']): unknown {
  return exact.map(([alias, row]) => {
    const described = shape.layout.tables[alias];
    const volatile = [...(described?.volatile ?? []), ...(described?.counts ?? []).map((rule) => rule.column)];
    return [alias, volatile.length === 0 ? row : Object.fromEntries(Object.entries(row).filter(([name]) => !volatile.includes(name)))];
  });
}

function sizeOf(exact: ExactRows): number {
  return exact.reduce((sum, [, row]) => sum + Object.values(row).reduce<number>((all, cell: Cell) => all + cellText(cell).length, 0), 0);
}

/** Conditions on rows that are already here: values, and `like` with a star. */
function matchesPlainly(row: Row, where: Readonly<Record<string, unknown>>): boolean {
  return Object.entries(where).every(([column, condition]) => {
    const text = cellText(row[column]);
    if (typeof condition !== 'object' || condition === null || Array.isArray(condition)) return [condition].flat().map(String).includes(text);
    const { like } = condition as { like?: string | string[] };
    return like !== undefined && anyOf([like].flat())(text);
  });
}
