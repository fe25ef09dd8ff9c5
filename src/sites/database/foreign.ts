import type { Row } from './cells.ts';
import { cellText } from './cells.ts';
import type { Table } from './engine.ts';

/** Rows of one table that are written in one go. */
export interface Portion { readonly table: Table; readonly rows: readonly Row[] }

/**
 * Rows in an order in which a server that checks foreign keys row by row takes them: first those that others point to, by table, and within
 * a table that points to itself level by level. Tables that point to one another in a circle keep the order in which they came.
 */
export function portions(rows: readonly { readonly table: Table; readonly row: Row }[]): Portion[] {
  const byTable = new Map<Table, Row[]>();
  for (const { table, row } of rows) { const same = byTable.get(table); if (same) same.push(row); else byTable.set(table, [row]); }
  return ordered([...byTable.keys()]).flatMap((table) => levels(table, byTable.get(table) ?? []).map((level): Portion => ({ table, rows: level })));
}

/** Does a foreign key of its own say what a column can hold? */
export function isHeld(table: Table | undefined, column: string): boolean { return table?.foreign.some(({ columns }) => columns.length === 1 && columns[0]?.from === column) === true; }

/** Does a row of one table point to rows of another? */
export function pointsTo(table: Table, other: Table): boolean { return table.foreign.some((one) => one.to === other.name); }

function ordered(tables: readonly Table[]): Table[] {
  const done = new Set<Table>();
  const visit = (table: Table, above: ReadonlySet<Table>): void => {
    if (done.has(table) || above.has(table)) return;
    for (const other of tables) if (other !== table && pointsTo(table, other)) visit(other, new Set([...above, table]));
    done.add(table);
  };
  for (const table of tables) visit(table, new Set());
  return [...done];
}

/** Rows that none of the others is above of come first. */
function levels(table: Table, rows: readonly Row[]): Row[][] {
  const own = table.foreign.filter((one) => one.to === table.name);
  if (own.length === 0 || rows.length < 2) return [[...rows]];
  const found: Row[][] = [];
  let open = [...rows];
  while (open.length > 0) {
    const there = own.map((one) => new Set(open.map((row) => textOf(row, one.columns.map((pair) => pair.to)))));
    const waits = (row: Row): boolean => own.some((one, i) => { const above = textOf(row, one.columns.map((pair) => pair.from)); return above !== textOf(row, one.columns.map((pair) => pair.to)) && there[i]?.has(above) === true; });
    const level = open.filter((row) => !waits(row));
    // Rows above one another: the server has to say what it thinks of that.
    found.push(level.length === 0 ? open : level);
    open = level.length === 0 ? [] : open.filter(waits);
  }
  return found;
}

function textOf(row: Row, columns: readonly string[]): string { return JSON.stringify(columns.map((column) => cellText(row[column]))); }
