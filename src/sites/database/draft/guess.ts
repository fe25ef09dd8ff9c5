import { sql } from 'kysely';
import { cellText, type Row } from '../cells.ts';
import type { Column, Engine, Table } from '../engine.ts';
import { isMadeId } from '../../../core/madeid.ts';
import { unpacked } from '../packed.ts';

/** What a table seems to be for. */
export type Guess =
  /** `scope`: a second column of the key. */
  | { readonly is: 'options'; readonly key: string; readonly value: string; readonly scope: string | undefined }
  /** What belongs to rows of several tables: a column has the word for the table, another one the id there. */
  | { readonly is: 'shared'; readonly of: string; readonly by: string; readonly words: ReadonlyMap<string, string>; readonly field: { readonly key: string; readonly value: string } | undefined }
  | { readonly is: 'fields'; readonly of: string; readonly by: string; readonly key: string; readonly value: string }
  /** `role`: a column that says what a link means, with its words. */
  | { readonly is: 'links'; readonly ends: readonly { readonly column: string; readonly to: string }[]; readonly role: { readonly column: string; readonly words: readonly string[] } | undefined }
  | { readonly is: 'records'; readonly type: string | undefined; readonly types: readonly string[]; readonly name: string | undefined; readonly title: string | undefined; readonly parent: string | undefined; /** They have accounts: they are referred to, and never carried. */ readonly people: boolean }
  /** What visitors and machines leave: nobody's configuration. */
  | { readonly is: 'traces' }
  | { readonly is: 'unclear' };
export interface TableGuess { readonly table: Table; readonly rows: number; readonly guess: Guess; /** Columns that hold ids of another table. */ readonly points: ReadonlyMap<string, string>; readonly samples: readonly Row[] }

const SAMPLE = 300;
const MANY_TYPES = 60;
const MANY_ROLES = 12;

/** What a layout knows of some of the tables: the words for the items that lie in each. */
export type KnownTables = ReadonlyMap<string, readonly string[]>;
const NONE_KNOWN: KnownTables = new Map();

/** Looks at tables and some of their rows, and guesses what they are for. Reads only. */
export async function guessTables(engine: Engine, known = NONE_KNOWN): Promise<TableGuess[]> {
  const tables = [...(await engine.known()).values()].filter((table) => !table.name.endsWith('pochette_ledger'));
  const samples = new Map<Table, Row[]>();
  const ids = new Map<Table, Set<string>>();
  const sizes = new Map<Table, number>();
  for (const table of tables) {
    samples.set(table, await engine.rows(table, sql`limit ${sql.lit(SAMPLE)}`));
    const { rows } = await engine.run(sql`select count(*) as ${sql.ref('n')} from ${sql.table(table.name)}`);
    sizes.set(table, Number(String(rows[0]?.['n'])));
    const [key] = table.key;
    if (key !== undefined && table.key.length === 1 && (table.columns.get(key)?.storage === 'integer' || isMade(samples.get(table) ?? [], key))) ids.set(table, new Set((await engine.run(sql`select ${sql.ref(key)} as ${sql.ref('id')} from ${sql.table(table.name)} limit 200000`)).rows.map((row) => cellText(engine.own.decode(row['id'], engine.column(table, key))))));
  }
  return tables.map((table) => {
    const rows = samples.get(table) ?? [];
    const points = pointsOf(table, rows, { ids, known });
    return { table, rows: sizes.get(table) ?? 0, guess: sharedOf(table, rows, ids) ?? guessOf(table, rows, points), points, samples: rows };
  });
}

/** Columns with a foreign key, and those whose values are all ids of one other table; of several tables the one whose name is in the column's. */
function pointsOf(table: Table, rows: readonly Row[], { ids, known: words }: { ids: ReadonlyMap<Table, ReadonlySet<string>>; known: KnownTables }): Map<string, string> {
  const foreign = new Map(table.foreign.flatMap(({ to, columns: [pair, ...more] }) => (pair && more.length === 0 ? [[pair.from, to] as const] : [])));
  const found = new Map<string, string>();
  for (const column of table.columns.values()) {
    const tied = foreign.get(column.name);
    if (tied !== undefined) found.set(column.name, tied);
    if (tied !== undefined || (column.storage !== 'integer' && column.storage !== 'text' && !isMade(rows, column.name)) || (table.key.length === 1 && column.name === table.key[0])) continue;
    const values = rows.map((row) => cellText(row[column.name])).filter((text) => text !== '' && text !== '0');
    if (values.length === 0) continue;
    const fits = [...ids].filter(([other, known]) => (column.storage === 'integer') === (other.columns.get(other.key[0] ?? '')?.storage === 'integer') && values.every((value) => known.has(value))).map(([one]) => one);
    // Ids that a machine made up say by themselves whose they are.
    const sure = isMade(rows, column.name) ? fits : fits.filter((one) => likeName(column.name, one, table) || isCalled(column.name, words.get(one.name)));
    const [best] = sure.sort((a, b) => b.name.length - a.name.length);
    if (best) found.set(column.name, best.name);
  }
  return found;
}

/** Rows of which one column names a table, in the singular or plural, and another one holds ids of it. */
function sharedOf(table: Table, rows: readonly Row[], ids: ReadonlyMap<Table, ReadonlySet<string>>): Extract<Guess, { is: 'shared' }> | undefined {
  const columns = [...table.columns.values()];
  const by = columns.find(({ name }) => /^(?:\w+_)?(?:owner|object|item|row|record|entity|model|subject|parent|foreign|rel|ref)_?(?:id|key)$/i.test(name));
  const of = columns.find(({ name, storage }) => storage === 'text' && /^(?:\w+_)?(?:owner|object|item|row|record|entity|model|subject|parent|foreign|rel|ref)(?:_?(?:type|model|kind|class|table))?$/i.test(name) && name !== by?.name);
  if (!by || !of || rows.length === 0) return undefined;
  const words = new Map<string, string>();
  for (const row of rows) {
    const [word, id] = [cellText(row[of.name]), cellText(row[by.name])];
    const there = [...ids].find(([other, known]) => other !== table && known.has(id) && isNameOf(word, other.name.replace(/^.*_(?=[^_]+$)/, '')));
    if (!there) return undefined;
    words.set(word, there[0].name);
  }
  const texts = columns.filter(({ name, storage }) => (storage === 'text' || storage === 'bytes') && name !== of.name);
  const key = texts.find(({ name }) => /(^|_)(key|name|option|field)/i.test(name));
  const value = texts.find((column) => column !== key && /val|content|data/i.test(column.name));
  return { is: 'shared', of: of.name, by: by.name, words, field: key && value && texts.length === 2 ? { key: key.name, value: value.name } : undefined };
}

/** Is this the name of a table in the singular or plural? */
export function isNameOf(called: string, table: string): boolean { const [one, other] = [called.toLowerCase(), table.toLowerCase()]; return one === other || `${one}s` === other || one.replace(/y$/, 'ies') === other; }

/** `board_id` means a table that ends in "boards"; `parent` and the like the table itself; the name of another table's key that table. */
export function likeName(column: string, other: Table, own?: Table): boolean {
  if (/parent|above|(^|_)(?:next|prev|previous|follows)(?:_?id)?$/i.test(column)) return other === own;
  if (other !== own && column.toLowerCase() === (other.key[0] ?? '').toLowerCase() && column.toLowerCase() !== 'id') return true;
  const stem = stemOf(column);
  if (MEDIA_WORD.test(stem) && MEDIA_TABLE.test(other.name)) return true;
  return stem.length > 2 && (other.name.toLowerCase().endsWith(stem) || other.name.toLowerCase().endsWith(`${stem}s`) || (stem === 'object' && /entr|post|record/i.test(other.name)));
}

/** Is a column called after one of the words for the items of a table? */
export function isCalled(column: string, words: readonly string[] = []): boolean { const stem = stemOf(column); return words.includes(stem) || (MEDIA_WORD.test(stem) && words.includes('media')); }

function stemOf(column: string): string { return column.toLowerCase().replace(/_?(?:uu|gu)?ids?$/, '').replace(/^.*_/, ''); }

/** What pictures and files are called, and the tables in which they lie. */
export const [MEDIA_WORD, MEDIA_TABLE] = [/^(?:media|images?|pictures?|attachments?|photos?|logo|icon|files?|thumbnail|banner|background|cover|avatar|video|audio|documents?|gallery|hero)$/, /(^|_)(?:media|assets?|attachments?|uploads?|files?|images?|pictures?|photos?)$/i];

function guessOf(table: Table, rows: readonly Row[], points: ReadonlyMap<string, string>): Guess {
  const columns = [...table.columns.values()];
  const texts = columns.filter((column) => column.storage === 'text' || column.storage === 'bytes');
  const key = texts.find((column) => /(^|_)(key|name|option)/i.test(column.name));
  const value = texts.find((column) => column !== key && /val|content|data/i.test(column.name));
  const [owner] = [...points].filter(([column]) => column !== key?.name);
  if (key && value && columns.length <= 6 && owner) return { is: 'fields', of: owner[1], by: owner[0], key: key.name, value: value.name };
  const scope = table.key.length === 2 && key && table.key.includes(key.name) ? texts.find((column) => column !== key && table.key.includes(column.name))?.name : undefined;
  if (key && value && columns.length <= 6 && (table.key.length < 2 || scope !== undefined) && (scope !== undefined || distinct(rows, key.name) > rows.length * 0.9)) return { is: 'options', key: key.name, value: value.name, scope };
  const role = roleOf(table, rows, texts.filter((column) => !points.has(column.name)));
  if (points.size >= 2 && columns.filter(({ name }) => !points.has(name)).length <= 2 && role !== 'none') return { is: 'links', ends: [...points].map(([column, to]) => ({ column, to })), role };
  return hasUsableKey(table, points) ? recordsOf(table, rows, texts, points) : { is: 'unclear' };
}

/** Of links the one text that they have: what a link means, as a part of the key. */
function roleOf({ key }: Table, rows: readonly Row[], [column, ...more]: readonly Column[]): Extract<Guess, { is: 'links' }>['role'] | 'none' {
  if (!column) return undefined;
  const words = [...new Set(rows.map((row) => cellText(row[column.name])))].sort();
  return more.length === 0 && key.includes(column.name) && words.length <= MANY_ROLES ? { column: column.name, words } : 'none';
}

/** With several columns as its key: rows of another one, told apart by one more column, or rows that are named by all of them. */
function hasUsableKey({ key }: Table, points: ReadonlyMap<string, string>): boolean {
  const own = key.filter((column) => !points.has(column));
  return own.length > 0 && (own.length === 1 || own.length === key.length);
}

function recordsOf(table: Table, rows: readonly Row[], texts: readonly Column[], points: ReadonlyMap<string, string>): Guess {
  const type = texts.find((column) => /type|kind|taxonomy|section/i.test(column.name) && !points.has(column.name) && distinct(rows, column.name) > 1 && distinct(rows, column.name) <= MANY_TYPES);
  const types = type ? [...new Set(rows.map((row) => cellText(row[type.name])))].sort() : [];
  const name = table.key.length > 1 ? undefined : nameOf(texts, rows);
  if (!name && areTraces(table)) return { is: 'traces' };
  const title = texts.find((column) => TITLE.test(column.name));
  const mail = texts.find((column) => /mail/i.test(column.name));
  const people = mail !== undefined && texts.some((column) => /passw|hash/i.test(column.name));
  if (people) return { is: 'records', type: undefined, types: [], name: mail.name, title: title?.name, parent: undefined, people };
  return { is: 'records', people, type: type?.name, types, name: name?.name, title: title?.name, parent: [...points].find(([column]) => /parent|above/i.test(column))?.[0] };
}

const TITLE = /title|label|(^|_)name$/i;
const TRACES = /(^|_)(logs?|entries|submissions|orders?|bookings|sessions?|queue|stats?|history|events|visits|hits|cache|jobs|actions|messages|mails?|notifications|subscribers|customers|votes|ratings|transactions|payments|carts?)$/i;

/** Rows with a time, in a table that is called like one for what happened. */
function areTraces({ name, columns }: Table): boolean { return TRACES.test(name) && [...columns.values()].some((column) => column.storage === 'other' && /date|time|created|(^|_)at$/i.test(column.name)); }

/** The column of words that name a row on every site: one that is called so, one that says where something is found, or one that is different in every row. */
function nameOf(texts: readonly Column[], rows: readonly Row[]): Column | undefined {
  const isPath = (column: Column): boolean => rows.length > 0 && rows.every((row) => /^\/\S*$/.test(cellText(row[column.name])));
  const words = texts.filter((column) => !isMade(rows.filter((row) => cellText(row[column.name]) !== ''), column.name) && rows.filter((row) => /^[\w./-]+$/.test(cellText(row[column.name]))).length > rows.length / 2 && (isPath(column) || !/mail|token|hash|passw|url|link|colou?r|(^|_)ip($|_)/i.test(column.name)));
  return words.find((column) => /slug|code|(^|_)name$|handle|path/i.test(column.name)) ?? words.find((column) => /key|ident|alias|(^|_)ref$/i.test(column.name) && distinct(rows, column.name) === rows.length) ?? words.find((column) => /source|(^|_)from(_|$)|pattern|match|request|(^|_)old(_|$)/i.test(column.name) && distinct(rows, column.name) === rows.length) ?? words.find((column) => rows.length > 2 && !TITLE.test(column.name) && distinct(rows, column.name) === rows.length);
}

/** The column that says whether a row is to be seen, with its words for yes and for not yet. */
export function statusOf(table: Table, rows: readonly Row[]): { readonly column: string; readonly published: readonly string[]; readonly draft: readonly string[] } | undefined {
  const column = [...table.columns.keys()].find((name) => /^(?:\w+_)?(?:status|state)$/i.test(name));
  const words = column === undefined ? [] : [...new Set(rows.map((row) => cellText(row[column])))].sort();
  const [published, draft] = [words.filter((text) => /^(?:live|publish(?:ed)?|active|enabled|public|visible)$/i.test(text)), words.filter((text) => /^(?:draft|pending|unpublished|inactive|disabled|hidden)$/i.test(text))];
  return column !== undefined && published.length === 1 ? { column, published, draft } : undefined;
}

/** Is a key made by a machine, so that it is another one on every site? */
export function isMade(rows: readonly Row[], key: string): boolean { return rows.length > 0 && rows.every((row) => isMadeId(cellText(row[key]))); }

export function distinct(rows: readonly Row[], column: string): number { return new Set(rows.map((row) => cellText(row[column]))).size; }

/** How a text is packed, if most samples agree. */
export function packingOf(texts: readonly string[]): 'php' | 'json' | 'html' | undefined {
  const filled = texts.filter((text) => text !== '');
  const most = (fits: (text: string) => boolean): boolean => filled.length > 0 && filled.filter(fits).length > filled.length / 2;
  if (most((text) => /^[aO]:\d+:/.test(text) && unpacked(text, 'php') !== undefined)) return 'php';
  if (most((text) => /^\s*[[{]/.test(text) && unpacked(text, 'json') !== undefined)) return 'json';
  return filled.some((text) => /<\/?[a-z][^>]*>|\[[a-z][\w-]* [^\]]*\]/i.test(text)) ? 'html' : undefined;
}

export const SECRET = /secret|passw|token|api_?key|private_?key|licen[cs]e|salt/i;
export const VOLATILE = /count|seen|views|visits|modified|changed|updated|last_|hits|uses/i;
/** When a row was made: every site has its own time. */
export const MADE = /created|added_|_added|inserted|registered/i;
export const OWN = /sender|from_?email|admin_?e?mail|site_?title|blogname/i;
export const MEDIA = /\.(png|jpe?g|gif|webp|svg|pdf)$/i;
