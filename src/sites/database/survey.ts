import { sql } from 'kysely';
import { cellText, type Row } from './cells.ts';
import { keyOf } from './changes.ts';
import type { Engine, Table } from './engine.ts';
import { pagesByKey } from './pages.ts';
import type { Shape } from './shape.ts';

/** How much of a table the layout describes. */
export interface TableSurvey {
  readonly table: string;
  /** The layout's word for it; undefined where it has none. */
  readonly alias: string | undefined;
  /** The layout says that it is nobody's configuration. */
  readonly left?: true;
  readonly rows: number;
  readonly described: number;
  /** The beginnings of some rows that no kind describes. */
  readonly others: readonly string[];
}

const CHUNK = 2000;
const EXAMPLES = 6;

/** Looks at every table: which rows are described (`described` holds their keys), and which are not. Tables of our own are left out. */
export async function surveyTables(engine: Engine, shape: Shape, described: ReadonlySet<string>): Promise<TableSurvey[]> {
  const aliases = new Map([...shape.tables].map(([alias, table]) => [table.name, alias]));
  const found: TableSurvey[] = [];
  for (const table of (await engine.known()).values()) {
    if (table.name.endsWith('pochette_ledger')) continue;
    // Rows of such tables are not even looked at: people's names, addresses and passwords are in some.
    const left = shape.layout.leaves.includes(table.name);
    const alias = left ? undefined : aliases.get(table.name);
    found.push(alias === undefined ? { table: table.name, alias, ...(left ? { left: true as const } : {}), rows: await count(engine, table), described: 0, others: [] } : await surveyTable(engine, shape.table(alias), alias, described));
  }
  return found;
}

async function count(engine: Engine, table: Table): Promise<number> {
  const { rows } = await engine.run(sql`select count(*) as ${sql.ref('n')} from ${sql.table(table.name)}`);
  return Number(String(rows[0]?.['n']));
}

async function surveyTable(engine: Engine, table: Table, alias: string, described: ReadonlySet<string>): Promise<TableSurvey> {
  let rows = 0;
  let known = 0;
  const others: string[] = [];
  for await (const row of everyRow(engine, table)) {
    rows++;
    if (described.has(keyOf(table, row))) known++;
    else if (others.length < EXAMPLES) others.push(beginning(row));
  }
  return { table: table.name, alias, rows, described: known, others };
}

async function* everyRow(engine: Engine, table: Table): AsyncGenerator<Row> {
  if (table.key.length > 0) {
    for await (const rows of pagesByKey(engine, table, { where: sql`1 = 1`, size: CHUNK }, (rest) => engine.rows(table, rest))) yield* rows;
    return;
  }
  for (let from = 0; ; from += CHUNK) {
    const rows = await engine.rows(table, sql`limit ${sql.lit(CHUNK)} offset ${sql.lit(from)}`);
    yield* rows;
    if (rows.length < CHUNK) return;
  }
}

function beginning(row: Row): string {
  return Object.entries(row).slice(0, 5).map(([name, cell]) => `${name}=${cellText(cell).slice(0, 24)}`).join(' ');
}
