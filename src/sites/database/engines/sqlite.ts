import { existsSync } from 'node:fs';
import { sql, SqliteDialect } from 'kysely';
import { bytesOfText } from '../../../core/bytes.ts';
import { Problem } from '../../../core/problem.ts';
import { bytesOfCell, driverText, textOfCell, type Cell } from '../cells.ts';
import { faultOf, SQLITE_FAULTS } from './faults.ts';
import { foreignKeys, uniqueIndexes, type Column, type Dialects, type Executor, type Storage, type Table } from '../engine.ts';

/** SQLite, in a file. */
export async function sqlite(path: string): Promise<Dialects> {
  if (!existsSync(path)) throw new Problem('unreachable', `there is no database at ${path}`, { where: path, remedy: 'check the path behind "sqlite:" in pochette.yaml; it counts from the folder of that file' });
  const { default: Database } = await import('libsql');
  let database: InstanceType<typeof Database>;
  try { database = new Database(path); database.defaultSafeIntegers(true); database.exec('pragma busy_timeout = 5000'); } catch (error) {
    throw new Problem('unreachable', 'the database cannot be opened', { where: path, remedy: 'is it a SQLite database, and may you read it?', cause: error });
  }
  return {
    dialect: new SqliteDialect({ database: database }),
    tables, unique, select, decode, bind, digests: undefined,
    compare: (text, column) => (column.storage === 'integer' && /^-?\d{1,18}$/.test(text) ? BigInt(text) : column.storage === 'bytes' || !text.isWellFormed() ? bytesOfCell(text, column) : text),
    returning: () => Promise.resolve(true), forUpdate: sql``, longText: sql`text`, ownIds: sql``,
    orUpdate: (table, columns) => {
      const rest = columns.filter((name) => !table.key.includes(name));
      const key = sql.join(table.key.map((name) => sql.ref(name)));
      return rest.length === 0 ? sql`on conflict (${key}) do nothing` : sql`on conflict (${key}) do update set ${sql.join(rest.map((name) => sql`${sql.ref(name)} = excluded.${sql.ref(name)}`))}`;
    },
    takeLock: () => Promise.resolve(true), freeLock: () => Promise.resolve(), lockFile: `${path}-pochette-lock`, mayCreate: () => Promise.resolve(true),
    isConflict: (error) => /SQLITE_BUSY|database is locked/.test(String(error)),
    explain: (error) => faultOf(SQLITE_FAULTS, error),
  };
}

/** Without virtual tables, such as indexes of words, and those in which they keep what they have: whatever maintains them does it when the rows that they are made of change. */
async function tables(db: Executor): Promise<Map<string, Table>> {
  const found = new Map<string, Table>();
  const { rows } = await sql<{ name: string }>`select name from pragma_table_list where schema = 'main' and type = 'table' and name not like 'sqlite\_%' escape '\\' order by name`.execute(db);
  for (const { name } of rows) {
    const info = (await sql<{ name: string; type: string; notnull: bigint; pk: bigint; dflt_value: unknown }>`select name, type, "notnull", pk, dflt_value from pragma_table_info(${name})`.execute(db)).rows;
    const key = info.filter((one) => Number(one.pk) > 0).sort((a, b) => Number(a.pk) - Number(b.pk)).map((one) => one.name);
    const columns = info.map((one): [string, Column] => [one.name, { name: one.name, storage: affinity(one.type), nullable: Number(one.notnull) === 0, filled: one.dflt_value !== null, utf8: true, ...(UNTYPED.test(one.type) ? { untyped: true } : {}) }]);
    const counted = info.find((one) => key.length === 1 && one.name === key[0] && /^integer$/i.test(one.type))?.name;
    const keys = (await sql<{ id: bigint; table: string; from: string; to: string | null; seq: bigint; rule: string }>`select id, "table", "from", "to", seq, on_delete as "rule" from pragma_foreign_key_list(${name}) order by id, seq`.execute(db)).rows;
    found.set(name, { name, columns: new Map(columns), key, counted, transactional: true, foreign: foreignKeys(keys.map((one) => ({ table: name, key: String(one.id), to: one.table, column: one.from, there: one.to ?? '', goes: one.rule === 'CASCADE' }))).get(name) ?? [] });
  }
  // A foreign key that names no column means the primary key.
  return new Map([...found].map(([name, table]) => [name, { ...table, foreign: table.foreign.map((one) => ({ ...one, columns: one.columns.map((pair, i) => ({ ...pair, to: pair.to || (found.get(one.to)?.key[i] ?? '') })) })) }]));
}

async function unique(db: Executor): Promise<Map<string, string[][]>> {
  const { rows } = await sql<Record<'table' | 'index' | 'column', string>>`
    select t.name as "table", i.name as "index", c.name as "column" from sqlite_schema t join pragma_index_list(t.name) i join pragma_index_info(i.name) c
    where t.type = 'table' and i."unique" = 1 and i.origin <> 'pk' and i.partial = 0 and c.name is not null order by t.name, i.seq, c.seqno`.execute(db);
  return uniqueIndexes(rows);
}

const UNTYPED = /^(?:any)?$/i;

/** The affinity of a declared type (SQLite's documentation, "Datatypes", section 3.1); what has none can be looked at as text. */
function affinity(type: string): Storage {
  if (/int/i.test(type)) return 'integer';
  if (/char|clob|text/i.test(type) || UNTYPED.test(type)) return 'text';
  if (/blob/i.test(type)) return 'bytes';
  return /real|floa|doub/i.test(type) ? 'number' : 'other';
}

/** Text is asked for as bytes: it may not be UTF-8. */
function select(column: Column) {
  const ref = sql.ref(column.name);
  return column.storage === 'bytes' || column.untyped ? sql`${ref}` : sql`case typeof(${ref}) when 'text' then cast(${ref} as blob) else ${ref} end as ${ref}`;
}

function decode(value: unknown, column: Column): Cell {
  const { storage, untyped = false } = column;
  if (value === null || value === undefined) return null;
  if (untyped && typeof value === 'string') return value;
  if (value instanceof ArrayBuffer || value instanceof Uint8Array) { const text = textOfCell(new Uint8Array(value), column); return untyped ? { as: 'blob', text } : text; }
  if (typeof value === 'bigint') return storage === 'integer' || storage === 'other' ? String(value) : { as: 'integer', text: String(value) };
  if (typeof value === 'number') return { as: 'real', text: String(value) };
  return { as: 'text', text: driverText(value) };
}

function bind(cell: Cell, column: Column): unknown {
  const { storage } = column;
  if (cell === null) return null;
  if (typeof cell === 'string') return storage === 'bytes' ? bytesOfCell(cell, column) : cell.isWellFormed() ? cell : bytesOfText(cell);
  if (cell.as === 'integer') return BigInt(cell.text);
  return cell.as === 'real' ? Number(cell.text) : cell.as === 'blob' ? bytesOfText(cell.text) : cell.text;
}
