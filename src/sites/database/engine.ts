import { sql, type Dialect, type Kysely, type RawBuilder, type Transaction } from 'kysely';
import { byCodeUnit, groupBy } from '../../core/json.ts';
import { Problem } from '../../core/problem.ts';
import { lockFile } from '../lockfile.ts';
import { cellText, DIGEST, digestOf, SIZE, type Cell, type Row } from './cells.ts';

export type Tables = Record<string, Record<string, unknown>>;
export type Executor = Kysely<Tables> | Transaction<Tables>;

export type Storage = 'integer' | 'number' | 'text' | 'bytes' | 'other';
export interface Column {
  readonly name: string;
  readonly storage: Storage;
  readonly nullable: boolean;
  /** The server gives a value where none is given. */
  readonly filled: boolean;
  /** Text is kept as UTF-8; elsewhere its bytes are passed as they are. */
  readonly utf8: boolean;
  /** Bytes that name a row: shown as hexadecimal digits. */
  readonly hex?: boolean;
  /** It has no type: what is stored there is what was given, a number or a text. */
  readonly untyped?: boolean;
  /** Bits of a number, which the server takes and gives as bytes: a whole number here. */
  readonly bits?: boolean;
  /** An array of the server: written as JSON here. */
  readonly array?: boolean;
  /** JSON that the server takes apart: it puts members in an order of its own. */
  readonly sorted?: boolean;
}
/** What rows of a table must point to, column by column. */
export interface ForeignKey { readonly to: string; readonly columns: readonly { readonly from: string; readonly to: string }[]; /** Rows go with the one that they point to (ON DELETE CASCADE). */ readonly goes: boolean }
export interface Table {
  readonly name: string;
  readonly columns: ReadonlyMap<string, Column>;
  /** The primary key; empty where there is none. */
  readonly key: readonly string[];
  /** The key is what a layout says, and the server knows nothing of it. */
  readonly loose?: boolean;
  /** The column whose value the server counts up. */
  readonly counted: string | undefined;
  /** False: what is written there cannot be rolled back. */
  readonly transactional: boolean;
  readonly foreign: readonly ForeignKey[];
  /** Columns that mean nothing, as a layout says: they do not count in digests. */
  readonly volatile?: readonly string[];
}

/** Digests made by the server: only they cross the line, not the rows. All are SHA-256 in hexadecimal, cut to `DIGITS`. */
export interface Digests {
  /** Of one row: injective over the content of these columns. */
  row(columns: readonly Column[]): RawBuilder<unknown>;
  /** Of many rows: of their digests one behind the other, in this order. */
  group(digest: RawBuilder<unknown>, order: RawBuilder<unknown>): RawBuilder<unknown>;
  /** Bytes of these columns. */
  size(columns: readonly Column[]): RawBuilder<unknown>;
}

/** All rows that have a column in common, by their digest only. */
export interface Group { readonly digest: string; readonly size: number }

/** What differs between the database servers. */
export interface Dialects {
  readonly dialect: Dialect;
  /** The tables that this user can see. */
  tables(db: Executor): Promise<Map<string, Table>>;
  /** By table the columns that rows have each for itself, besides the key: those of every unique index. */
  unique(db: Executor): Promise<Map<string, string[][]>>;
  /** How a column is selected so that its exact content arrives. */
  select(column: Column): RawBuilder<unknown>;
  decode(value: unknown, column: Column): Cell;
  /** SQL by which the server itself makes digests; without it rows are read and digested here. */
  readonly digests: Digests | undefined;
  /** A parameter that stores the cell. */
  bind(cell: Cell, column: Column): unknown;
  /** A parameter to compare a column with. */
  compare(text: string, column: Column): unknown;
  /** Does an insert give back the keys that it made? Else they are worked out from the first one, counted up by the number that comes back here. */
  returning(db: Executor): Promise<true | number>;
  readonly forUpdate: RawBuilder<unknown>;
  /** The type of a column for long text. */
  readonly longText: RawBuilder<unknown>;
  /** What stands between the columns and the values of an insert that brings its own ids. */
  readonly ownIds: RawBuilder<unknown>;
  /** The end of an insert that updates the row where the key is there already. */
  orUpdate(table: Table, columns: readonly string[]): RawBuilder<unknown>;
  /** Takes a lock that ends with the connection; false where another holds it. */
  takeLock(db: Executor, name: string): Promise<boolean>;
  freeLock(db: Executor, name: string): Promise<void>;
  /** The same for a database in a file: a file beside it, which holds the number of the process. */
  readonly lockFile: string | undefined;
  /** May this user make a table? */
  mayCreate(db: Executor): Promise<boolean>;
  /** May the same be tried again, because others were in the way? */
  isConflict(error: unknown): boolean;
  /** A fault of the connection or of rights, in words; undefined for any other. */
  explain(error: unknown): { what: string; remedy: string; altered?: true } | undefined;
}

/** How often something is tried again that others were in the way of. */
const TRIES = 4;
const PIECE_ROWS = 500;
const PIECE_BYTES = 2_000_000;

/** A database: reads and writes rows, exactly. Every statement is made by the query layer, with parameters. */
export class Engine {
  readonly #db: Kysely<Tables>;
  readonly #own: Dialects;
  readonly #where: string;
  #tables: Promise<Map<string, Table>> | undefined;
  #returning: Promise<true | number> | undefined;
  statements = 0;
  bytes = 0;

  constructor(db: Kysely<Tables>, own: Dialects, where: string) {
    this.#db = db;
    this.#own = own;
    this.#where = where;
  }

  get db(): Executor { return this.#db; }
  get own(): Dialects { return this.#own; }
  get longText() { return this.#own.longText; }

  /** The tables, asked for once. */
  known(): Promise<Map<string, Table>> {
    this.#tables ??= this.#guarded(async () => withHexKeys(await this.#own.tables(this.#db)));
    return this.#tables;
  }

  /** May this user make a table? */
  mayCreate(): Promise<boolean> { return this.#guarded(() => this.#own.mayCreate(this.#db)); }

  /** After tables were made, or others were found than those that are known. */
  forget(): void { this.#tables = undefined; }

  async run(query: RawBuilder<unknown>, at: Executor = this.#db): Promise<{ rows: Record<string, unknown>[]; insertId?: bigint | undefined }> {
    this.statements++;
    const { rows, insertId } = await this.#guarded(() => query.execute(at));
    return { rows: rows as Record<string, unknown>[], insertId };
  }

  /** All columns of the rows of a table that the condition holds for. */
  rows(table: Table, rest: RawBuilder<unknown>, at: Executor = this.#db): Promise<Row[]> { return this.some(table, [...table.columns.keys()], rest, at); }

  /** Some columns of them. */
  async some(table: Table, names: readonly string[], rest: RawBuilder<unknown>, at: Executor): Promise<Row[]> {
    const columns = names.map((name) => this.column(table, name));
    const { rows } = await this.run(sql`select ${this.#columns(columns)} from ${sql.table(table.name)} ${rest}`, at);
    return rows.map((row) => this.#cells(row, columns));
  }

  #columns(columns: readonly Column[]): RawBuilder<unknown> { return sql.join(columns.map((column) => this.#own.select(column))); }

  #cells(row: Record<string, unknown>, columns: readonly Column[]): Record<string, Cell> & { [DIGEST]?: string; [SIZE]?: number } {
    const cells: Record<string, Cell> = {};
    for (const column of columns) cells[column.name] = this.#own.decode(row[column.name], column);
    return cells;
  }

  /** The same rows with their digests: only etags need them, and making them takes the server time. */
  digested(table: Table, rest: RawBuilder<unknown>, at: Executor): Promise<Row[]> { return this.#digested(table, [...table.columns.values()], rest, at); }

  /** The same rows with some of their columns only, and the digests that they have as a whole. */
  outlines(table: Table, names: ReadonlySet<string>, rest: RawBuilder<unknown>, at: Executor): Promise<Row[]> {
    const all = [...table.columns.values()];
    return this.#digested(table, this.#own.digests ? all.filter((column) => names.has(column.name)) : all, rest, at);
  }

  async #digested(table: Table, columns: readonly Column[], rest: RawBuilder<unknown>, at: Executor): Promise<Row[]> {
    const { digests } = this.#own;
    const counting = counted(table);
    const besides = digests ? sql`, ${digests.row(counting)} as ${sql.ref(DIGEST_NAME)}, ${digests.size(counting)} as ${sql.ref(SIZE_NAME)}` : sql``;
    const { rows } = await this.run(sql`select ${this.#columns(columns)}${besides} from ${sql.table(table.name)} ${rest}`, at);
    return rows.map((row) => {
      const cells = this.#cells(row, columns);
      cells[DIGEST] = digests ? this.#own.decode(row[DIGEST_NAME], OURS) as string : digestOf(JSON.stringify(counting.map((column) => cells[column.name])));
      cells[SIZE] = digests ? Number(this.#own.decode(row[SIZE_NAME], OURS)) : sizeOf(cells);
      return cells;
    });
  }

  /** For each value of a column the digest of all rows that have it: of their own digests in the order of their keys. */
  async groups(table: Table, by: string, condition: RawBuilder<unknown>, at: Executor): Promise<Map<string, Group>> {
    const { digests } = this.#own;
    if (!digests) return groupsOf(await this.digested(table, sql`where ${condition} ${keyOrder(table)}`, at), table, by);
    const counting = counted(table);
    const row = digests.row(counting);
    const { rows } = await this.run(sql`select ${this.#own.select(this.column(table, by))}, ${digests.group(row, table.key.length > 0 ? keys(table) : row)} as ${sql.ref(DIGEST_NAME)}, sum(${digests.size(counting)}) as ${sql.ref(SIZE_NAME)} from ${sql.table(table.name)} where ${condition} group by ${sql.ref(by)}`, at);
    return new Map(rows.map((found) => [cellText(this.#own.decode(found[by], this.column(table, by))), { digest: this.#own.decode(found[DIGEST_NAME], OURS) as string, size: Number(this.#own.decode(found[SIZE_NAME], OURS)) }]));
  }

  /** Inserts rows whose key is known, or changes them where they are there. */
  async put(table: Table, rows: readonly Row[], at: Executor): Promise<void> {
    if (rows.length === 0) return;
    const columns = [...table.columns.keys()];
    // The server does not see that such a row is there already.
    if (table.loose) await this.remove(table, rows, at);
    const end = table.loose ? sql`` : this.#own.orUpdate(table, columns);
    for (const piece of pieces(rows)) {
      await this.run(sql`insert into ${sql.table(table.name)} (${sql.join(columns.map((name) => sql.ref(name)))}) ${this.#own.ownIds} values ${this.#tuples(table, piece, columns)} ${end}`, at);
    }
  }

  /** Inserts rows that get their key from the server; gives the keys back in the same order. Rows may leave columns out, all the same ones. */
  async insert(table: Table, rows: readonly Row[], at: Executor): Promise<string[]> {
    const ids: string[] = [];
    const columns = Object.keys(rows[0] ?? {});
    for (const piece of pieces(rows)) {
      const step = table.counted === undefined ? undefined : await this.#returns(at);
      const returning = step === true ? sql` returning ${sql.ref(table.counted ?? '')} as ${sql.ref('id')}` : sql``;
      const answer = await this.run(sql`insert into ${sql.table(table.name)} (${sql.join(columns.map((name) => sql.ref(name)))}) values ${this.#tuples(table, piece, columns)}${returning}`, at);
      if (step === true) ids.push(...answer.rows.map((row) => String(row['id'])));
      else if (step !== undefined) ids.push(...piece.map((_row, i) => String((answer.insertId ?? 0n) + BigInt(i * step))));
    }
    return ids;
  }

  /** The numbers that follow the largest one of a key that the server does not count up. */
  async next(table: Table, key: string, count: number, at: Executor): Promise<string[]> {
    const { rows } = await this.run(sql`select max(${sql.ref(key)}) as ${sql.ref('id')} from ${sql.table(table.name)}`, at);
    const largest = BigInt(cellText(this.#own.decode(rows[0]?.['id'], this.column(table, key))) || '0');
    return Array.from({ length: count }, (_, i) => String((largest < 0n ? 0n : largest) + BigInt(i + 1)));
  }

  #returns(at: Executor): Promise<true | number> {
    this.#returning ??= this.#own.returning(at);
    return this.#returning;
  }

  async remove(table: Table, rows: readonly Row[], at: Executor): Promise<void> {
    for (const piece of pieces(rows)) await this.run(sql`delete from ${sql.table(table.name)} where ${this.keys(table, piece)}`, at);
  }

  /** The condition that picks rows by their keys. */
  keys(table: Table, rows: readonly Row[]): RawBuilder<unknown> {
    const [only] = table.key;
    if (only !== undefined && table.key.length === 1) return this.oneOf(table, only, rows.map((row) => cellText(row[only])));
    return sql.join(rows.map((row) => sql`(${sql.join(table.key.map((name) => this.oneOf(table, name, [cellText(row[name])])), sql` and `)})`), sql` or `);
  }

  /** A parameter to compare a column with, that stands for a cell of it. */
  beside(cell: Cell, column: Column): unknown { return column.untyped ? this.#own.bind(cell, column) : this.#own.compare(cellText(cell), column); }

  oneOf(table: Table, name: string, texts: readonly string[]): RawBuilder<unknown> {
    const column = this.column(table, name);
    if (texts.length === 0) return sql`1 = 0`;
    // A number and a text that is written like it are two things to a column without a type.
    const found = column.untyped ? sql`cast(${sql.ref(name)} as text)` : sql.ref(name);
    return sql`${found} in (${sql.join(texts.map((text) => this.#own.compare(text, column)))})`;
  }

  column(table: Table, name: string): Column {
    const column = table.columns.get(name);
    if (!column) throw new Problem('unreadable', `the table ${table.name} has no column ${name}`, { where: this.#where, remedy: `its columns are ${[...table.columns.keys()].join(', ')}: "pochette layout check" names the line of the layout` });
    return column;
  }

  /** All or nothing; tried again where others were in the way. */
  async transaction<T>(work: (at: Executor) => Promise<T>): Promise<T> {
    for (let tries = 1; ; tries++) {
      try { return await this.#db.transaction().execute(work); } catch (error) {
        if (tries >= TRIES || !this.#own.isConflict(causeOf(error))) throw this.problem(error);
        await new Promise((settle) => { setTimeout(settle, 50 * 2 ** tries); });
      }
    }
  }

  /** Takes the writer's lock; what comes back gives it back. Undefined where another holds it. It ends with the program, however that ends. */
  async lock(name: string): Promise<(() => Promise<void>) | undefined> {
    if (this.#own.lockFile !== undefined) return lockFile(this.#own.lockFile);
    return new Promise((settle, fail) => {
      this.#db.connection().execute(async (at) => {
        if (!await this.#own.takeLock(at, name)) { settle(undefined); return; }
        await new Promise<void>((free) => { settle(async () => { await this.#own.freeLock(at, name).catch(() => undefined); free(); }); });
      }).catch((error: unknown) => { const problem = this.problem(error); fail(problem instanceof Error ? problem : new Error(String(problem))); });
    });
  }

  destroy(): Promise<void> { return this.#db.destroy(); }

  problem(error: unknown): unknown {
    const fault = this.#own.explain(error);
    if (fault?.altered) this.forget();
    const told = fault ?? (this.#own.isConflict(error) ? { what: 'the database is busy: others hold rows or tables that are needed', remedy: 'try again in a moment' } : undefined);
    return told ? new Problem('unreachable', told.what, { where: this.#where, remedy: told.remedy, cause: error }) : error;
  }

  async #guarded<T>(work: () => Promise<T>): Promise<T> {
    try { return await work(); } catch (error) { throw this.problem(error); }
  }

  #tuples(table: Table, rows: readonly Row[], columns: readonly string[]): RawBuilder<unknown> {
    this.bytes += rows.reduce((sum, row) => sum + sizeOf(row), 0);
    return sql.join(rows.map((row) => sql`(${sql.join(columns.map((name) => this.#own.bind(row[name] ?? null, this.column(table, name))))})`));
  }
}

/** Names that no column of a site has. */
const [DIGEST_NAME, SIZE_NAME] = ['pochette digest', 'pochette size'];
const OURS: Column = { name: '', storage: 'text', nullable: true, filled: false, utf8: true };

/** The column whose value a new row gets by being counted up: by the server, or by us where a whole number is the key and the server gives none. */
export function numberedBy({ counted: own, key: [only = '', ...more], columns }: Table): string | undefined {
  const column = more.length === 0 ? columns.get(only) : undefined;
  return own ?? (column?.storage === 'integer' && !column.filled ? only : undefined);
}

/** Bytes of which keys are made, and what points to such keys or is called like an id, are written in digits: as text they would be none. */
function withHexKeys(tables: ReadonlyMap<string, Table>): Map<string, Table> {
  const isKey = ({ key, columns }: Table, name: string): boolean => key.includes(name) && columns.get(name)?.storage === 'bytes';
  const areMade = [...tables.values()].some((table) => table.key.some((name) => isKey(table, name)));
  const isHex = (table: Table, { name, storage }: Column): boolean => storage === 'bytes' && (isKey(table, name) || (areMade && SAYS_ID.test(name)) || table.foreign.some((one) => one.columns.some((pair) => { const other = tables.get(one.to); return pair.from === name && other !== undefined && isKey(other, pair.to); })));
  return new Map([...tables].map(([name, table]) => [name, { ...table, columns: new Map([...table.columns].map(([own, column]) => [own, column.hex === undefined && isHex(table, column) ? { ...column, hex: true } : column])) }]));
}

/** What a column with an id is called. */
const SAYS_ID = /(?:^|_)(?:uu|gu)?id$|^id_|[a-z](?:Id|ID)$/;

/** The columns that count in digests. */
function counted({ columns, volatile = [] }: Table): Column[] { return [...columns.values()].filter((column) => !volatile.includes(column.name)); }

function keys(table: Table): RawBuilder<unknown> { return sql.join(table.key.map((name) => sql.ref(name))); }

export function keyOrder(table: Table): RawBuilder<unknown> { return table.key.length === 0 ? sql`` : sql`order by ${keys(table)}`; }

/** The groups of rows that are here, which came in the order of their keys. */
export function groupsOf(rows: readonly Row[], table: Table, by: string): Map<string, Group> {
  return new Map([...groupBy(rows, (row) => cellText(row[by]))].map(([value, same]) => {
    const digests = same.map((row) => row[DIGEST] ?? '');
    return [value, { digest: digestOf((table.key.length > 0 ? digests : digests.sort(byCodeUnit)).join('')), size: same.reduce((sum, row) => sum + (row[SIZE] ?? 0), 0) }];
  }));
}

/** Foreign keys by table, of rows that name a column each. */
export function foreignKeys(rows: readonly { readonly table: string; readonly key: string; readonly to: string; readonly column: string; readonly there: string; readonly goes: boolean }[]): Map<string, ForeignKey[]> {
  return new Map([...groupBy(rows, (row) => row.table)].map(([table, own]) => [table, [...groupBy(own, (row) => row.key).values()].map((same): ForeignKey => ({ to: same[0]?.to ?? '', goes: same[0]?.goes === true, columns: same.map((row) => ({ from: row.column, to: row.there })) }))]));
}

function causeOf(error: unknown): unknown { return error instanceof Problem ? error.cause : error; }

export function sizeOf(row: Row): number { return Object.values(row).reduce<number>((sum, cell) => sum + cellText(cell).length, 0); }

/** Pieces that no server refuses for their size. */
function* pieces(rows: readonly Row[]): Generator<Row[]> {
  let piece: Row[] = [];
  let bytes = 0;
  for (const row of rows) {
    const size = sizeOf(row);
    if (piece.length > 0 && (piece.length >= PIECE_ROWS || bytes + size > PIECE_BYTES)) { yield piece; piece = []; bytes = 0; }
    piece.push(row);
    bytes += size;
  }
  if (piece.length > 0) yield piece;
}

/** Columns of unique indexes, in the order of their tables and indexes. */
export function uniqueIndexes(rows: readonly { readonly table: string; readonly index: string; readonly column: string }[]): Map<string, string[][]> {
  return new Map([...groupBy(rows, ({ table }) => table)].map(([table, same]) => [table, [...groupBy(same, ({ index }) => index).values()].map((one) => one.map(({ column }) => column))]));
}
