import { sql } from 'kysely';
import { groupBy } from '../../core/json.ts';
import { sameCell, cellText, type Cell, type Row } from './cells.ts';
import { numberedBy, type Engine, type Executor, type Table } from './engine.ts';
import { isHeld, pointsTo, portions } from './foreign.ts';
import type { Layout } from './layout/schema.ts';

/** A row that is being made; its key is known once it has been inserted. */
export class NewRow {
  id: string | undefined;
  readonly table: Table;
  readonly cells: Cells;

  constructor(table: Table, cells: Cells) {
    this.table = table;
    this.cells = cells;
  }
}
/** A cell of another row that is there: the `column` of the row whose `by` is `text`. Looked up when the rows are written. */
export class Sought {
  found: string | undefined;
  readonly table: Table;
  readonly by: string;
  readonly text: string;
  readonly column: string;

  constructor(table: Table, by: string, text: string, column: string) {
    this.table = table;
    this.by = by;
    this.text = text;
    this.column = column;
  }
}
export type Cells = Record<string, Cell | NewRow | Sought>;
/** A row that was made to hold what belongs to an item, and of which nothing is left. `still`: nothing came back into it. */
export interface Emptied { readonly mark: string; readonly table: Table; readonly row: Row; still(): boolean }
interface Kept { readonly table: Table; readonly before: Row; cells: Cells }

/**
 * What a batch is about to write, row by row, gathered before any of it is sent: so that several operations can work on one row,
 * rows can point to rows that have no key yet, and what goes to one table goes together.
 */
export class Changes {
  /** Where to read what has to be known while changes are gathered. */
  readonly at: Executor;
  readonly #kept = new Map<string, Kept>();
  readonly #removed = new Map<string, { table: Table; row: Row }>();
  readonly #made: NewRow[] = [];
  readonly #returned = new Map<string, { table: Table; row: Row }>();

  /** Of rows that were made as holders: the ledger keeps them, so that an undo knows that they were not there before. */
  readonly marks: string[] = [];
  readonly emptied: Emptied[] = [];
  /** Paths of files: of those that were put where none was, and of those whose items go. */
  readonly files: { readonly placed: string[]; readonly gone: string[] } = { placed: [], gone: [] };

  constructor(at: Executor) { this.at = at; }

  /** The row as it will be; what is set on it is written at the end. */
  edit(table: Table, row: Row): Cells {
    const key = keyOf(table, row);
    const known = this.#kept.get(key) ?? { table, before: row, cells: { ...row } };
    this.#kept.set(key, known);
    return known.cells;
  }

  make(table: Table, cells: Cells): NewRow {
    const made = new NewRow(table, cells);
    this.#made.push(made);
    return made;
  }

  remove(table: Table, row: Row): void { this.#removed.set(keyOf(table, row), { table, row }); }

  /** A row with all its columns and its key, as it was once. */
  bringBack(table: Table, row: Row): void {
    this.#removed.delete(keyOf(table, row));
    this.#returned.set(keyOf(table, row), { table, row });
  }

  async write(engine: Engine, layout: Layout): Promise<void> {
    const { at } = this;
    const changed = [...this.#kept.entries()].filter(([key]) => !this.#removed.has(key) && !this.#returned.has(key)).flatMap(([, { table, before, cells }]) => {
      const row = settled(cells, table);
      return Object.keys(before).every((name) => sameCell(before[name], row[name])) ? [] : [{ table, row, before }];
    });
    // What nothing holds goes first, because its names may be wanted; what a foreign key holds only when whatever pointed to it points elsewhere, or has gone by then.
    const released = [...new Set([...this.#returned.values(), ...changed].map(({ table }) => table))];
    const removed = groupBy([...this.#removed.values()], ({ table }) => table);
    const holding = new Set(released);
    for (const one of holding) for (const table of removed.keys()) if (pointsTo(one, table)) holding.add(table);
    const waits = (table: Table): boolean => [...holding].some((one) => pointsTo(one, table));
    const going = (held: boolean) => portions([...removed].flatMap(([table, rows]) => (waits(table) === held ? rows : []))).reverse();
    for (const { table, rows } of going(false)) await engine.remove(table, rows, at);
    for (const { table, rows } of portions([...this.#returned.values()])) await engine.put(table, rows, at);
    await this.#insert(engine, at);
    for (const { table, rows } of portions(changed)) await engine.put(table, rows, at);
    for (const { table, rows } of going(true)) await engine.remove(table, rows, at);
    await this.#count(engine, at, layout, changed);
  }

  /** Finds the rows that are there and that new rows point to by another column than the one they keep. */
  async #seek(engine: Engine, at: Executor): Promise<void> {
    const all = this.#made.flatMap((row) => Object.values(row.cells)).filter((cell) => cell instanceof Sought);
    for (const same of groupBy(all, (one) => `${one.table.name} ${one.by}`).values()) {
      const [{ table, by }] = same as [Sought];
      const rows = new Map((await engine.rows(table, sql`where ${engine.oneOf(table, by, [...new Set(same.map((one) => one.text))])}`, at)).map((row) => [cellText(row[by]), row]));
      for (const one of same) one.found = cellText(rows.get(one.text)?.[one.column]);
    }
  }

  /** In rounds: first what points to no new row, then what points to those, and so on. */
  async #insert(engine: Engine, at: Executor): Promise<void> {
    await this.#seek(engine, at);
    let open = this.#made;
    while (open.length > 0) {
      const ready = open.filter((row) => Object.values(row.cells).every((cell) => !(cell instanceof NewRow) || cell.id !== undefined));
      if (ready.length === 0) throw new Error('rows point to one another in a circle');
      const done = new Set(ready);
      open = open.filter((row) => !done.has(row));
      for (const rows of groupBy(ready, (row) => `${row.table.name} ${Object.keys(row.cells).join(' ')}`).values()) {
        const [{ table, cells }] = rows as [NewRow];
        const key = numberedBy(table);
        if (key !== undefined && key !== table.counted && cells[key] === undefined) {
          const numbers = await engine.next(table, key, rows.length, at);
          rows.forEach((row, i) => { row.cells[key] = numbers[i] ?? ''; });
        }
        const ids = await engine.insert(table, rows.map((row) => settled(row.cells, table)), at);
        rows.forEach((row, i) => { row.id = ids[i] ?? cellText(settled(row.cells)[table.key[0] ?? '']); });
      }
    }
  }

  /** Columns that hold how many rows of another table point to a row. */
  async #count(engine: Engine, at: Executor, layout: Layout, changed: readonly { table: Table; row: Row; before: Row }[]): Promise<void> {
    const touched = [...changed.flatMap(({ table, row, before }) => [{ table, row }, { table, row: before }]), ...this.#removed.values(), ...this.#returned.values(), ...this.#made.map((one) => ({ table: one.table, row: settled(one.cells) }))];
    const tables = await engine.known();
    for (const [alias, described] of Object.entries(layout.tables)) {
      const table = tables.get(described.name);
      if (!table) continue;
      for (const rule of described.counts) {
        const of = layout.tables[rule.of]?.name;
        const ids = new Set(touched.filter((one) => one.table.name === of || one.table.name === tables.get(layout.tables[alias]?.name ?? '')?.name).map(({ row }) => cellText(row[rule.by] ?? row[rule.equals])).filter((id) => id !== ''));
        if (of === undefined || ids.size === 0) continue;
        const number = sql`(select count(*) from ${sql.table(of)} where ${sql.ref(`${of}.${rule.by}`)} = ${sql.ref(`${table.name}.${rule.equals}`)})`;
        await engine.run(sql`update ${sql.table(table.name)} set ${sql.ref(rule.column)} = ${number} where ${engine.oneOf(table, rule.equals, [...ids])}`, at);
      }
    }
  }
}

export function keyOf(table: Table, row: Row): string {
  return JSON.stringify([table.name, ...(table.key.length > 0 ? table.key.map((name) => cellText(row[name])) : Object.values(row))]);
}

function settled(cells: Cells, table?: Table): Row {
  return Object.fromEntries(Object.entries(cells).map(([name, cell]): [string, Cell] => [name, cell instanceof NewRow ? cell.id ?? '' : cell instanceof Sought ? cell.found ?? '' : fitting(cell, name, table)]));
}

/** A reference to nothing is an empty text; a column of numbers, or one that a foreign key holds, has null or zero instead. */
function fitting(cell: Cell, name: string, table: Table | undefined): Cell {
  const column = cell === '' ? table?.columns.get(name) : undefined;
  const isNumber = column?.storage === 'integer' || column?.storage === 'number';
  if (!column || !(isNumber || (column.nullable && isHeld(table, name)))) return cell;
  return column.nullable ? null : '0';
}
