import { PostgresDialect, sql } from 'kysely';
import type { PoolConfig } from 'pg';
import { Problem } from '../../../core/problem.ts';
import { bytesOfCell, DIGITS, driverText, textOfCell, type Cell } from '../cells.ts';
import { faultOf, POSTGRES_FAULTS } from './faults.ts';
import { foreignKeys, uniqueIndexes, type Column, type Dialects, type Digests, type Executor, type ForeignKey, type Storage, type Table } from '../engine.ts';

/** PostgreSQL. `schema`: where the tables lie, if it is not where those of the user usually do. */
export async function postgres(options: PoolConfig, schema?: string): Promise<Dialects> {
  const { default: pg } = await import('pg');
  // Every value as the text that the server writes: exact for numbers of any size, decimals and dates.
  const pool = new pg.Pool({ ...options, ...(schema === undefined ? {} : { options: `-c search_path="${schema}",public` }), max: 4, connectionTimeoutMillis: 10_000, types: { getTypeParser: () => (value: unknown) => value } });
  // A connection that breaks while nobody uses it is replaced by the pool; the next statement says what is wrong.
  pool.on('error', () => undefined);
  return {
    dialect: new PostgresDialect({ pool: pool }),
    tables: (db) => tables(db, schema), unique, decode, bind, digests: DIGESTS,
    select: (column) => (column.array ? sql`array_to_json(${sql.ref(column.name)})::text as ${sql.ref(column.name)}` : sql`${sql.ref(column.name)}`),
    compare: (text, column) => bind(text, column),
    returning: () => Promise.resolve(true), forUpdate: sql`for update`, longText: sql`text`, ownIds: sql`overriding system value`,
    orUpdate: (table, columns) => {
      const rest = columns.filter((name) => !table.key.includes(name));
      const key = sql.join(table.key.map((name) => sql.ref(name)));
      return rest.length === 0 ? sql`on conflict (${key}) do nothing` : sql`on conflict (${key}) do update set ${sql.join(rest.map((name) => sql`${sql.ref(name)} = excluded.${sql.ref(name)}`))}`;
    },
    takeLock: async (db, name) => (await sql<{ got: unknown }>`select pg_try_advisory_lock(hashtextextended(${name}, 0)) as got`.execute(db)).rows[0]?.got === 't',
    freeLock: async (db, name) => { await sql`select pg_advisory_unlock(hashtextextended(${name}, 0))`.execute(db); },
    lockFile: undefined,
    mayCreate: async (db) => (await sql<{ may: unknown }>`select has_schema_privilege(current_schema(), 'CREATE') as may`.execute(db)).rows[0]?.may === 't',
    isConflict: (error) => ['40001', '40P01', '55P03'].includes((error as { code?: string } | undefined)?.code ?? ''),
    explain: (error) => faultOf(POSTGRES_FAULTS, error),
  };
}

/** Text of the digests is ASCII, whatever the columns hold. */
const DIGESTS: Digests = {
  row: (columns) => sql`left(encode(sha256(convert_to(${sql.join(columns.map(({ name }) => sql`coalesce(octet_length(${sql.ref(name)}::text)::text || ':' || ${sql.ref(name)}::text, 'N')`), sql` || `)}, 'UTF8')), 'hex'), ${sql.lit(DIGITS)})`,
  group: (digest, order) => sql`left(encode(sha256(convert_to(string_agg(${digest}, '' order by ${order}), 'UTF8')), 'hex'), ${sql.lit(DIGITS)})`,
  size: (columns) => sql`${sql.join(columns.map(({ name }) => sql`coalesce(octet_length(${sql.ref(name)}::text), 0)`), sql` + `)}`,
};

/** Indexes of some rows only, or of what is worked out of columns, say less. */
async function unique(db: Executor): Promise<Map<string, string[][]>> {
  const { rows } = await sql<Record<'table' | 'index' | 'column', string>>`
    select t.relname::text as "table", i.indexrelid::text as "index", a.attname::text as "column"
    from pg_index i join pg_class t on t.oid = i.indrelid cross join lateral unnest(i.indkey) with ordinality as u(here, n) join pg_attribute a on a.attrelid = i.indrelid and a.attnum = u.here
    where i.indisunique and not i.indisprimary and i.indpred is null and i.indexprs is null and t.relnamespace = quote_ident(current_schema())::regnamespace order by t.relname, i.indexrelid, u.n`.execute(db);
  return uniqueIndexes(rows);
}

interface ColumnRow { t: string; c: string; type: string; form: string | null; of: string | null; nullable: string; standard: string | null; identity: string; generated: string; k: string }

/** The rows of a partition are those of its table. */
async function tables(db: Executor, schema: string | undefined): Promise<Map<string, Table>> {
  // What is not there would be passed over on the way, and other tables taken for those that are meant.
  if (schema !== undefined && (await sql<{ schema: string | null }>`select current_schema()::text as schema`.execute(db)).rows[0]?.schema !== schema) throw new Problem('unreachable', `the database has no schema ${schema}, or not for this user`, { remedy: 'check what stands behind "schema=" in the url in pochette.yaml' });
  const { rows } = await sql<ColumnRow>`
    select c.table_name::text as t, c.column_name::text as c, c.data_type::text as type, (select e.typcategory::text from pg_type e join pg_namespace n on n.oid = e.typnamespace where n.nspname = c.udt_schema and e.typname = c.udt_name) as form,
      (select case when e.typname = 'uuid' then 'S' else e.typcategory::text end from pg_type a join pg_namespace n on n.oid = a.typnamespace join pg_type e on e.oid = a.typelem where n.nspname = c.udt_schema and a.typname = c.udt_name) as "of", c.is_nullable::text as nullable, c.column_default::text as standard, c.is_identity::text as identity, c.is_generated::text as generated,
      coalesce((select 'yes' from pg_index i join pg_attribute a on a.attrelid = i.indrelid and a.attnum = any(i.indkey) where i.indisprimary and i.indrelid = format('%I.%I', c.table_schema, c.table_name)::regclass and a.attname = c.column_name), 'no') as k
    from information_schema.columns c join information_schema.tables t on t.table_schema = c.table_schema and t.table_name = c.table_name
    where c.table_schema = current_schema() and t.table_type = 'BASE TABLE' and not (select relispartition from pg_class where oid = format('%I.%I', c.table_schema, c.table_name)::regclass) order by c.table_name, c.ordinal_position`.execute(db);
  const found = new Map<string, { name: string; columns: Map<string, Column>; key: string[]; counted: string | undefined; transactional: boolean; foreign: readonly ForeignKey[] }>();
  const keys = await sql<Record<'table' | 'key' | 'to' | 'column' | 'there' | 'rule', string>>`
    select t.relname::text as "table", r.conname::text as "key", o.relname::text as "to", a.attname::text as "column", b.attname::text as "there", r.confdeltype::text as "rule"
    from pg_constraint r join pg_class t on t.oid = r.conrelid join pg_class o on o.oid = r.confrelid cross join lateral unnest(r.conkey, r.confkey) with ordinality as u(here, there, n)
      join pg_attribute a on a.attrelid = r.conrelid and a.attnum = u.here join pg_attribute b on b.attrelid = r.confrelid and b.attnum = u.there
    where r.contype = 'f' and t.relnamespace = quote_ident(current_schema())::regnamespace order by t.relname, r.conname, u.n`.execute(db);
  const foreign = foreignKeys(keys.rows.map((row) => ({ ...row, goes: row.rule === 'c' })));
  for (const row of rows) {
    const table = found.get(row.t) ?? { name: row.t, columns: new Map<string, Column>(), key: [], counted: undefined, transactional: true, foreign: foreign.get(row.t) ?? [] };
    found.set(row.t, table);
    if (row.generated === 'ALWAYS') continue;
    table.columns.set(row.c, { name: row.c, storage: storageOf(row), nullable: row.nullable === 'YES', filled: row.standard !== null || row.identity === 'YES', utf8: true, ...(isPlainArray(row) ? { array: true } : {}), ...(row.type === 'jsonb' ? { sorted: true } : {}) });
    if (row.k === 'yes') table.key.push(row.c);
    if (row.identity === 'YES' || row.standard?.startsWith('nextval(') === true) table.counted = row.c;
  }
  return found;
}

/** Of numbers, words and switches, as JSON has them too (typcategory of pg_type, PostgreSQL's documentation, "System Catalogs"). */
function isPlainArray({ type, of }: ColumnRow): boolean { return type === 'ARRAY' && of !== null && 'NSEB'.includes(of); }

/** Types that were made for a database are words where they belong to these, as enumerations do. */
function storageOf({ type, form }: ColumnRow): Storage {
  if (/^(smallint|integer|bigint)$/.test(type)) return 'integer';
  if (/char|text|json|xml|ARRAY/.test(type) || (type === 'USER-DEFINED' && (form === 'E' || form === 'S'))) return 'text';
  if (type === 'bytea') return 'bytes';
  return /numeric|real|double/.test(type) ? 'number' : 'other';
}

function decode(value: unknown, column: Column): Cell {
  if (value === null || value === undefined) return null;
  const text = driverText(value);
  return column.storage === 'bytes' ? textOfCell(Buffer.from(text.slice(2), 'hex'), column) : text;
}

function bind(cell: Cell, column: Column): unknown {
  if (cell === null) return null;
  const text = typeof cell === 'string' ? cell : cell.text;
  return column.storage === 'bytes' ? bytesOfCell(text, column) : column.array ? arrayOf(text) : text;
}

/** A JSON array as the server writes arrays (PostgreSQL's documentation, "Array Input and Output Syntax"). */
function arrayOf(json: string): string {
  if (!json.startsWith('[')) return json;
  return json.replace(/\[|\]|"(?:[^"\\]|\\.)*"/g, (token) => (token === '[' ? '{' : token === ']' ? '}' : `"${(JSON.parse(token) as string).replace(/["\\]/g, '\\$&')}"`));
}
