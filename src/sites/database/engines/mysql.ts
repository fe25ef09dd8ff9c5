import { MysqlDialect, sql, type MysqlPool } from 'kysely';
import type { Pool, PoolConnection, PoolOptions } from 'mysql2';
import { bytesOfText } from '../../../core/bytes.ts';
import { bytesOfCell, DIGITS, driverText, textOfCell, type Cell } from '../cells.ts';
import { faultOf, MYSQL_FAULTS } from './faults.ts';
import { foreignKeys, uniqueIndexes, type Column, type Dialects, type Digests, type Executor, type ForeignKey, type Storage, type Table } from '../engine.ts';

/**
 * Results arrive as the bytes that are stored; a value that does not fit is refused; zero dates, which old sites are full of, are not. Of a list of a thousand keys or more
 * MariaDB makes a table of its own, for which it reads the whole index each time: it is told not to, in a comment that no other server reads.
 */
const SETTINGS = "set character_set_results = null, /*M!100500 in_predicate_conversion_threshold = 0, */ sql_mode = 'STRICT_ALL_TABLES,NO_AUTO_VALUE_ON_ZERO', group_concat_max_len = 4294967295, transaction_isolation = 'READ-COMMITTED'";
const SETTINGS_BEFORE = SETTINGS.replace('transaction_isolation', 'tx_isolation');
type Callback = (error: unknown, result?: unknown) => void;

/** MariaDB and MySQL. */
export async function mysql(options: PoolOptions): Promise<Dialects> {
  const { createPool } = await import('mysql2');
  const pool = createPool({ ...options, connectionLimit: 4, supportBigNumbers: true, bigNumberStrings: true, dateStrings: true, charset: 'utf8mb4', connectTimeout: 10_000 });
  return {
    dialect: new MysqlDialect({ pool: prepared(pool) }),
    tables, unique, decode, bind, digests: DIGESTS,
    select: (column) => sql`${sql.ref(column.name)}`,
    compare: (text, column) => (column.storage === 'integer' && /^-?\d+$/.test(text) ? sql.lit(BigInt(text)) : column.storage === 'bytes' || !text.isWellFormed() ? bytesOfCell(text, column) : text),
    returning: returns, forUpdate: sql`for update`, longText: sql`mediumtext character set utf8mb4`, ownIds: sql``,
    orUpdate: (table, columns) => {
      const rest = columns.filter((name) => !table.key.includes(name));
      return sql`on duplicate key update ${sql.join((rest.length > 0 ? rest : table.key).map((name) => sql`${sql.ref(name)} = values(${sql.ref(name)})`))}`;
    },
    takeLock: async (db, name) => Number(String((await sql<{ got: unknown }>`select get_lock(concat(database(), ' ', ${name}), 0) as got`.execute(db)).rows[0]?.got)) === 1,
    freeLock: async (db, name) => { await sql`select release_lock(concat(database(), ' ', ${name}))`.execute(db); },
    lockFile: undefined,
    mayCreate: async (db) => (await sql`select 1 from information_schema.user_privileges where privilege_type = 'CREATE' and replace(grantee, '''', '') = current_user() union select 1 from information_schema.schema_privileges where privilege_type = 'CREATE' and replace(grantee, '''', '') = current_user() and database() like table_schema`.execute(db)).rows.length > 0,
    isConflict: (error) => [1205, 1213, 1020, 1412].includes(errorNumber(error)),
    explain: (error) => faultOf(MYSQL_FAULTS, error),
  };
}

/** MariaDB from 10.5 on gives keys back. MySQL gives the first one; a statement that inserts a known number of rows gets the following ones (its manual, "AUTO_INCREMENT Handling in InnoDB"). */
async function returns(db: Executor): Promise<true | number> {
  const { rows } = await sql<{ version: unknown; step: unknown }>`select version() as version, @@auto_increment_increment as step`.execute(db);
  const [version, step] = [textOf(rows[0]?.version), textOf(rows[0]?.step)];
  const [major = 0, minor = 0] = (/(\d+)\.(\d+)\.\d+-MariaDB/i.exec(version) ?? []).slice(1).map(Number);
  return major > 10 || (major === 10 && minor >= 5) ? true : Number(step);
}

function errorNumber(error: unknown): number { return Number((error as { errno?: unknown } | undefined)?.errno); }

/** Inserts go as prepared statements, which is several times faster for many rows; what reads goes as text, which is exact for every type, and arrives as bytes. */
function prepared(pool: Pool): MysqlPool {
  const ready = new WeakSet();
  const wrapped = (connection: PoolConnection) => ({
    query: (text: string, parameters: readonly unknown[], callback: Callback) => {
      if (/^insert/i.test(text) && !text.includes(' returning ') && parameters.length < 60_000) connection.execute(text, parameters as never, callback);
      else connection.query({ sql: text, values: parameters as never, typeCast: false }, callback as never);
    },
    release: () => { connection.release(); },
  });
  return {
    getConnection: (callback: Callback) => {
      pool.getConnection((error, connection) => {
        if (error) { callback(error); return; }
        if (ready.has(connection)) { callback(null, wrapped(connection)); return; }
        const set = (text: string, failed: Callback): void => { connection.query(text, (fault) => { if (fault) { failed(fault); return; } ready.add(connection); callback(null, wrapped(connection)); }); };
        set(SETTINGS, () => { set(SETTINGS_BEFORE, callback); });
      });
    },
    end: (callback: Callback) => { pool.end(callback); },
  } as MysqlPool;
}

/**
 * Everything is taken as bytes, so that columns of different character sets go together. A row that is larger than the server's packets cannot be put
 * together there (the result is null): then each column is digested for itself.
 */
const DIGESTS: Digests = {
  row: (columns) => {
    const whole = sql`concat(${sql.join(columns.map(({ name }) => sql`ifnull(concat(octet_length(${sql.ref(name)}), ':', cast(${sql.ref(name)} as binary)), 'N')`))})`;
    const apart = sql`concat(${sql.join(columns.map(({ name }) => sql`ifnull(sha2(${sql.ref(name)}, 256), 'N')`))})`;
    return sql`left(sha2(ifnull(${whole}, ${apart}), 256), ${sql.lit(DIGITS)})`;
  },
  group: (digest, order) => sql`left(sha2(group_concat(${digest} order by ${order} separator ''), 256), ${sql.lit(DIGITS)})`,
  size: (columns) => sql`${sql.join(columns.map(({ name }) => sql`ifnull(octet_length(${sql.ref(name)}), 0)`), sql` + `)}`,
};

async function unique(db: Executor): Promise<Map<string, string[][]>> {
  const { rows } = await sql<Record<'t' | 'i' | 'c', unknown>>`
    select table_name as t, index_name as i, column_name as c from information_schema.statistics
    where table_schema = database() and non_unique = 0 and index_name <> 'PRIMARY' order by table_name, index_name, seq_in_index`.execute(db);
  return uniqueIndexes(rows.map((row) => ({ table: textOf(row.t), index: textOf(row.i), column: textOf(row.c) })));
}

interface ColumnRow { t: unknown; c: unknown; type: unknown; nullable: unknown; filled: unknown; charset: unknown; extra: unknown; k: unknown; engine: unknown }

async function tables(db: Executor): Promise<Map<string, Table>> {
  const { rows } = await sql<ColumnRow>`
    select c.table_name as t, c.column_name as c, c.data_type as type, c.is_nullable as nullable, c.column_default <> 'NULL' as filled, c.character_set_name as charset, c.extra as extra, c.column_key as k, t.engine as engine
    from information_schema.columns c join information_schema.tables t on t.table_schema = c.table_schema and t.table_name = c.table_name
    where c.table_schema = database() and t.table_type in ('BASE TABLE', 'SYSTEM VERSIONED') order by c.table_name, c.ordinal_position`.execute(db);
  const found = new Map<string, { name: string; columns: Map<string, Column>; key: string[]; counted: string | undefined; transactional: boolean; foreign: readonly ForeignKey[] }>();
  const keys = await sql<Record<'t' | 'k' | 'o' | 'c' | 'd' | 'r', unknown>>`
    select u.table_name as t, u.constraint_name as k, u.referenced_table_name as o, u.column_name as c, u.referenced_column_name as d, r.delete_rule as r from information_schema.key_column_usage u
    left join information_schema.referential_constraints r on r.constraint_schema = u.table_schema and r.table_name = u.table_name and r.constraint_name = u.constraint_name
    where u.table_schema = database() and u.referenced_table_schema = database() and u.referenced_table_name is not null order by u.table_name, u.constraint_name, u.ordinal_position`.execute(db);
  const foreign = foreignKeys(keys.rows.map((row) => ({ table: textOf(row.t), key: textOf(row.k), to: textOf(row.o), column: textOf(row.c), there: textOf(row.d), goes: textOf(row.r) === 'CASCADE' })));
  for (const row of rows) {
    const [name, column, type, nullable, filled, charset, extra, key, engine] = [row.t, row.c, row.type, row.nullable, row.filled, row.charset, row.extra, row.k, row.engine].map(textOf) as [string, string, string, string, string, string, string, string, string];
    const table = found.get(name) ?? { name, columns: new Map<string, Column>(), key: [], counted: undefined, transactional: /^(innodb|tokudb|rocksdb|ndbcluster)$/i.test(engine), foreign: foreign.get(name) ?? [] };
    found.set(name, table);
    if (/generated/i.test(extra)) continue;
    table.columns.set(column, { name: column, storage: storageOf(type), nullable: nullable === 'YES', filled: filled === '1' || extra.includes('auto_increment'), utf8: charset.startsWith('utf8') || charset === 'ascii', ...(type === 'json' ? { sorted: true } : {}), ...(type === 'bit' ? { bits: true } : {}) });
    if (key === 'PRI') table.key.push(column);
    if (extra.includes('auto_increment')) table.counted = column;
  }
  return found;
}

function textOf(value: unknown): string { return value === null || value === undefined ? '' : Buffer.isBuffer(value) ? value.toString('utf8') : driverText(value); }

function storageOf(type: string): Storage {
  if (/^(tiny|small|medium|big)?int|^year|^bit$/i.test(type)) return 'integer';
  if (/text|char|json|enum|set/i.test(type)) return 'text';
  if (/blob|binary|geometry|point|linestring|polygon|geomcollection/i.test(type)) return 'bytes';
  return /decimal|float|double/i.test(type) ? 'number' : 'other';
}

function decode(value: unknown, column: Column): Cell {
  if (value === null || value === undefined) return null;
  if (!(value instanceof Uint8Array)) return driverText(value);
  return column.bits ? String(BigInt(`0x${Buffer.from(value).toString('hex')}`)) : textOfCell(value, column);
}

/** Text for a column in another character set goes as its bytes: what came out so must go in so. */
function bind(cell: Cell, column: Column): unknown {
  if (cell === null) return null;
  const text = typeof cell === 'string' ? cell : cell.text;
  if (column.bits && /^\d+$/.test(text)) { const digits = BigInt(text).toString(16); return Buffer.from(digits.padStart(digits.length + (digits.length % 2), '0'), 'hex'); }
  if (column.storage === 'bytes') return bytesOfCell(text, column);
  return column.storage === 'text' && (!column.utf8 || !text.isWellFormed()) ? bytesOfText(text) : text;
}
