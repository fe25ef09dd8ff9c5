import { sql } from 'kysely';
import { singularOf } from '../../../core/words.ts';
import { inEnglish } from './tongues.ts';
import { cellText, type Row } from '../cells.ts';
import type { Column, Engine, Table } from '../engine.ts';
import { isOrder, isText, orderOf, TITLE } from './columns.ts';
import { isSecret } from './leaves.ts';
import { mentionsIn, type Mention } from './mentions.ts';
import { arePeople, hasSort, isNameOf, isRowOf, likeName, namesRow, pairsOf, PERSON, pointsOf, SAMPLE, saysWhose, sideOf, typesOf, type KnownTables, type Pair } from './points.ts';
import { distinct, holdsTime, isFilled, isMade } from './samples.ts';
import { idPaths, type IdPath } from './idpaths.ts';
import { areMarks, areNamedElsewhere, areTraces, withWhatBelongsToTraces } from './traces.ts';

/** What a table seems to be for. */
export type Guess =
  /** `scope`: a second column of the key. */
  | { readonly is: 'options'; readonly key: string; readonly value: string; readonly scope: string | undefined }
  /** What belongs to rows of several tables: a column has the word for the table, another one the id there. */
  | { readonly is: 'shared'; readonly of: string; readonly by: string; readonly words: ReadonlyMap<string, string>; readonly field: { readonly key: string; readonly value: string } | undefined }
  | { readonly is: 'fields'; readonly of: string; readonly by: string; readonly key: string; readonly value: string }
  /** `role`: a column that says what a link means, with its words. */
  | { readonly is: 'links'; readonly ends: readonly { readonly column: string; readonly to: string }[]; readonly role: { readonly column: string; readonly words: readonly string[] } | undefined }
  | { readonly is: 'records'; readonly type: string | undefined; readonly types: readonly string[]; readonly name: string | undefined; readonly title: string | undefined; readonly parent: string | undefined; readonly paths: readonly IdPath[]; /** They have accounts: they are referred to, and never carried. */ readonly people: boolean }
  /** What visitors and machines leave: nobody's configuration. */
  | { readonly is: 'traces' }
  | { readonly is: 'unclear' };
export interface TableGuess { readonly table: Table; readonly rows: number; readonly guess: Guess; /** Columns that hold ids of another table. */ readonly points: ReadonlyMap<string, string>; readonly pairs: readonly Pair[]; readonly samples: readonly Row[]; /** Numbers in these that could be ids, and what they are called. */ readonly mentions: readonly Mention[]; /** Columns that each row has for itself. */ readonly unique: readonly (readonly string[])[] }
/** What the column with a value is called, beside one with a name. */
const VALUE = /val|content|data|payload/i;
const MANY_TYPES = 60;
const MANY_ROLES = 12;

const NONE_KNOWN: KnownTables = new Map();

/** Looks at tables and some of their rows, and guesses what they are for. Reads only. */
export async function guessTables(engine: Engine, known = NONE_KNOWN): Promise<TableGuess[]> {
  const tables = [...(await engine.known()).values()].filter((table) => !table.name.endsWith('pochette_ledger'));
  const unique = await engine.own.unique(engine.db);
  const samples = new Map<Table, Row[]>();
  const ids = new Map<Table, Set<string>>();
  const sizes = new Map<Table, number>();
  const types = new Map<Table, Set<string>>();
  for (const table of tables) {
    samples.set(table, await sampleOf(engine, table));
    const { rows } = await engine.run(sql`select count(*) as ${sql.ref('n')} from ${sql.table(table.name)}`);
    sizes.set(table, Number(String(rows[0]?.['n'])));
    const [key] = table.key;
    const storage = table.columns.get(key ?? '')?.storage;
    if (key !== undefined && table.key.length === 1 && (storage === 'integer' || storage === 'text' || isMade(samples.get(table) ?? [], key))) ids.set(table, new Set((await engine.run(sql`select ${sql.ref(key)} as ${sql.ref('id')} from ${sql.table(table.name)} limit 200000`)).rows.map((row) => cellText(engine.own.decode(row['id'], engine.column(table, key))))));
  }
  // What has the key of another table's row is a part of that row: nothing else is meant by its ids.
  for (const table of tables) if (sideOf(table, ids, known) !== undefined) ids.delete(table);
  for (const table of tables) types.set(table, await typesOf(engine, table));
  const reach = { ids, types, known };
  return withWhatBelongsToTraces(tables.map((table) => {
    const rows = samples.get(table) ?? [];
    const pairs = pairsOf(table, rows, reach);
    const points = new Map([...pointsOf(table, rows, reach), ...pairs.flatMap(({ by, words }) => { const [to, ...more] = new Set(words.values()); return to === undefined || to === '' || more.length > 0 ? [] : [[by, to] as const]; })]);
    const around = { points, pairs, ids, unique: unique.get(table.name) ?? [] };
    return { table, rows: sizes.get(table) ?? 0, guess: sharedOf(table, rows, { pairs, points, known }) ?? guessOf(table, rows, around), points, pairs, samples: rows, unique: around.unique, mentions: [] };
  }).map((one, _i, all): TableGuess => {
    // What others point to by id is a record, and no value by its name.
    const pointedAt = (one.guess.is === 'options' || one.guess.is === 'fields') && all.some(({ table, points }) => table !== one.table && [...points.values()].includes(one.table.name));
    return pointedAt ? { ...one, guess: recordsOf(one.table, one.samples, { ...one, ids }) } : one;
  }).map((one, _i, all): TableGuess => (areNamedElsewhere(one, all) ? { ...one, guess: recordsOf(one.table, one.samples, { ...one, ids }, 'no traces') } : one)).map((one, _i, all): TableGuess => (tellsSorts(one, all) ? one : { ...one, guess: recordsOf(one.table, one.samples, { ...one, ids }, 'of one sort') }))).map((one) => ({ ...one, mentions: one.samples.flatMap((row) => mentionsIn(one, row)) }));
}

/** What was added last is what people work at. */
async function sampleOf(engine: Engine, table: Table): Promise<Row[]> {
  const rows = await engine.rows(table, sql`limit ${sql.lit(SAMPLE)}`);
  const [key] = table.key;
  if (rows.length < SAMPLE || key === undefined || table.key.length > 1) return rows;
  const known = new Set(rows.map((row) => cellText(row[key])));
  return [...rows, ...(await engine.rows(table, sql`order by ${sql.ref(key)} desc limit ${sql.lit(SAMPLE)}`)).filter((row) => !known.has(cellText(row[key]))).reverse()];
}

/** Rows that belong to rows of several tables, all of which are drafted too. */
function sharedOf(table: Table, rows: readonly Row[], { pairs: [pair, ...more], points, known }: Pick<TableGuess, 'pairs' | 'points'> & { readonly known: KnownTables }): Extract<Guess, { is: 'shared' | 'traces' }> | undefined {
  if (!pair || more.length > 0 || known.has(table.name) || [...pair.words.values()].some((name) => name === '' || known.has(name))) return undefined;
  if (areTraces(table, rows, undefined)) return { is: 'traces' };
  // What belongs to no row, as a setting for all shops, would be in no item.
  if (!isFilled(rows, pair.by)) return undefined;
  const texts = [...table.columns.values()].filter((column) => isText(column) && column.name !== pair.of);
  // Where another column says whose a row is, the word says what that has there: a part of a page.
  if ([...points].some(([column, to]) => column !== pair.by && to !== table.name && saysWhose(column) && isFilled(rows, column))) return undefined;
  // What has a title and lies in another row besides means the row that its word says, and is no part of it: an entry of a menu.
  if (texts.some(({ name }) => TITLE.test(inEnglish(name))) && [...points].some(([column, to]) => to !== table.name && orderOf(table) !== undefined && isFilled(rows, column) && !PERSON.test(inEnglish(column)))) return undefined;
  const key = texts.find(({ name }) => /(^|_)(key|name|option|field)/.test(inEnglish(name)));
  const value = texts.find((column) => column !== key && VALUE.test(inEnglish(column.name)));
  return { is: 'shared', ...pair, field: key && value && texts.length === 2 ? { key: key.name, value: value.name } : undefined };
}

/** What is known of a table beside its rows. */
type Around = Pick<TableGuess, 'points' | 'pairs' | 'unique'> & { readonly ids: ReadonlyMap<Table, ReadonlySet<string>> };

function guessOf(table: Table, rows: readonly Row[], around: Around): Guess {
  const { points, pairs } = around;
  if (areMarks(table, rows)) return { is: 'traces' };
  // Rows that say whose they are by a word are no values by name.
  const named = pairs.length === 0 ? valuesOf(table, rows, around) ?? linksOf(table, rows, points) : undefined;
  if (named) return named;
  return table.key.length > 0 ? recordsOf(table, rows, around) : { is: 'unclear' };
}

/** A few columns, of which one has names and another one values: options, or fields of other rows. */
function valuesOf(table: Table, rows: readonly Row[], { points, unique }: Around): Extract<Guess, { is: 'options' | 'fields' }> | undefined {
  const columns = [...table.columns.values()];
  const texts = columns.filter(isText);
  const key = texts.find((column) => /(^|_)(key|name|option)/.test(inEnglish(column.name)));
  const value = texts.find((column) => column !== key && VALUE.test(inEnglish(column.name)));
  if (!key || !value || columns.length > 6) return undefined;
  const [owner] = [...points].filter(([column]) => column !== key.name);
  // Every row that has fields has them under the same names; what has a name for itself, or a title beside it, is a thing of its own.
  const isTitled = texts.some((column) => column !== key && column !== value && TITLE.test(inEnglish(column.name)));
  const isThing = isTitled || isUnique(key.name, unique);
  // Where a name is there once for each of something else, such as a language, it takes both to name a value.
  const isForEach = owner !== undefined && [table.key, ...unique].some((names) => names.length > 2 && names.includes(owner[0]) && names.includes(key.name));
  if (owner) return isThing || isForEach ? undefined : { is: 'fields', of: owner[1], by: owner[0], key: key.name, value: value.name };
  // A key of two columns, or an index of both, says that the name alone is there more than once.
  const both = [table.key, ...unique].find((names) => names.length === 2 && names.includes(key.name) && texts.some((column) => column !== key && names.includes(column.name)));
  const scope = both?.find((name) => name !== key.name);
  const apart = scope !== undefined || (table.key.length < 2 && distinct(rows, key.name) > rows.length * 0.9);
  return apart && !(isTitled && /content|data/i.test(value.name)) ? { is: 'options', key: key.name, value: value.name, scope } : undefined;
}

/** Two columns that point to rows, and little else: a place, a time, a number of the link itself. What says more of the two is more than a link. */
function linksOf(table: Table, rows: readonly Row[], points: TableGuess['points']): Extract<Guess, { is: 'links' }> | undefined {
  const others = [...table.columns.values()].filter(({ name }) => !points.has(name));
  const role = roleOf(table, rows, others.filter(isText));
  // A number that is a part of the key tells rows apart that link the same two.
  const isCounted = others.some((column) => table.key.includes(column.name) && !isText(column));
  const saysMore = points.size > 2 || others.some((column) => !isText(column) && !table.key.includes(column.name) && !isOrder(column) && !holdsTime(column, rows));
  return points.size >= 2 && others.length <= 2 && !saysMore && role !== 'none' && !isCounted ? { is: 'links', ends: [...points].map(([column, to]) => ({ column, to })), role } : undefined;
}

/** Of links the one text that they have: what a link means, as a part of the key. */
function roleOf({ key }: Table, rows: readonly Row[], [column, ...more]: readonly Column[]): Extract<Guess, { is: 'links' }>['role'] | 'none' {
  if (!column) return undefined;
  const words = [...new Set(rows.map((row) => cellText(row[column.name])))].sort();
  return more.length === 0 && key.includes(column.name) && words.length <= MANY_ROLES ? { column: column.name, words } : 'none';
}

/** Are rows of several types things of several sorts? Where the table is called after nothing of its own, or rows of one type are meant by it. Elsewhere, as of "alerts" of the types "info" and "warning", a type is a choice like any other: it may change, and there may be more tomorrow. */
function tellsSorts({ table, guess, pairs }: TableGuess, all: readonly TableGuess[]): boolean {
  if (guess.is !== 'records' || guess.type === undefined || pairs.some(({ of }) => of === guess.type)) return true;
  const isMeant = (column: string, to: string): boolean => to === table.name && hasSort(guess.types, column) && !likeName(column, table);
  return ROWS.test(singularOf(inEnglish(table.name))) || /taxonomy|bundle/i.test(guess.type) || ROWS.test(inEnglish(guess.type).replace(/_[^_]*$/, '')) || all.some(({ points }) => [...points].some(([column, to]) => isMeant(column, to)));
}

function recordsOf(table: Table, rows: readonly Row[], { points, pairs, ids, unique }: Around, known?: 'of one sort' | 'no traces'): Guess {
  const texts = [...table.columns.values()].filter((column) => isText(column) && !pairs.some(({ of }) => of === column.name));
  // What says to which table a row belongs tells sorts of rows apart only where these are several.
  const several = pairs.find(({ words }) => new Set(words.values()).size > 1);
  const type = several ? table.columns.get(several.of) : known === 'of one sort' ? undefined : texts.find((column) => isSort(column.name, table) && !points.has(column.name) && distinct(rows, column.name) > 1 && distinct(rows, column.name) <= MANY_TYPES);
  const types = type ? [...new Set(rows.map((row) => cellText(row[type.name])))].sort() : [];
  const parent = [...points].find(([column]) => /parent|above/.test(inEnglish(column)))?.[0];
  const paths = idPaths(texts, rows, { key: table.key, ids: ids.get(table), parent });
  const name = table.key.length > 1 ? undefined : nameOf(table, texts.filter((column) => !points.has(column.name) && !paths.some((path) => path.column === column.name) && !areAddressesOfRows(rows, column, ids)), rows, unique.map((columns) => columns.filter((column) => column !== type?.name)));
  if (known !== 'no traces' && areTraces(table, rows, name?.name)) return { is: 'traces' };
  // A text by which rows are known is the same on every site, unless a machine made it up.
  const called = table.key.length === 1 && rows.length > 0 && !isMade(rows, table.key[0] ?? '') ? texts.find((column) => column.storage === 'text' && column.name === table.key[0] && column !== type) : undefined;
  const title = texts.find((column) => TITLE.test(inEnglish(column.name)));
  const mail = texts.find((column) => /mail/.test(inEnglish(column.name)));
  const people = mail !== undefined && arePeople(table);
  if (people) return { is: 'records', type: undefined, types: [], name: mail.name, title: title?.name, parent: undefined, paths: [], people };
  return { is: 'records', people, type: type?.name, types, name: (name ?? called)?.name, title: title?.name, parent, paths };
}

/** Does a column say of which sort a whole row is, and not of which sort something about it is, as "match_type" does? */
function isSort(column: string, { name, columns }: Table): boolean {
  const stem = /^(.*?)_?(?:types?|kind|taxonomy|section|bundle)(?:_(?:name|key|slug|code))?$/i.exec(inEnglish(column))?.[1];
  const isOfIdsBeside = [...columns.keys()].some((other) => inEnglish(other) === `${stem ?? ''}_ids`);
  return stem !== undefined && !isOfIdsBeside && (stem === '' || ROWS.test(stem) || inEnglish(name).split('_').some((word) => isNameOf(stem, word)));
}
const ROWS = /(?:^|_)(?:post|content|item|entry|record|row|node|object|entity|element|page|block|thing|term|asset|component|document|resource)$/i;

/** Are the words of a column mostly made of the ids of other rows: "/board/12"? Then they are other ones on every site. */
function areAddressesOfRows(rows: readonly Row[], { name }: Column, ids: Around['ids']): boolean { return rows.filter((row) => namesRow(cellText(row[name]), ids)).length > rows.length / 2; }

/** Has each row a column for itself, without any other? */
export function isUnique(column: string | undefined, unique: TableGuess['unique']): boolean { return unique.some((columns) => columns.length === 1 && columns[0] === column); }

/** The column of words that name a row on every site: one that is called so or as the table is, one that says where something is found, or one that is different in every row. */
function nameOf({ name: table }: Table, texts: readonly Column[], rows: readonly Row[], unique: TableGuess['unique']): Column | undefined {
  const isPath = (column: Column): boolean => rows.length > 0 && rows.every((row) => /^\/\S*$/.test(cellText(row[column.name])));
  // Where a title says what a row is, "trigger_name" is a word for something about it.
  const isTitled = texts.some(({ name }) => /(^|_)(?:title|label)$/.test(inEnglish(name)) && distinct(rows, name) === rows.length);
  const isOfOther = (name: string): boolean => { const [, stem] = /^(.+?)_name$/.exec(inEnglish(name)) ?? []; return isTitled && stem !== undefined && !isUnique(name, unique) && !isRowOf(stem.replace(/^.*_/, ''), table); };
  const wordsOf = ({ name }: Column): RegExp => (isUnique(name, unique) ? WORDS : SAYS_FROM.test(inEnglish(name)) ? ADDRESS : WORD);
  const words = texts.filter((column) => !isOfOther(column.name) && !isSecret(column.name) && !isMade(rows.filter((row) => cellText(row[column.name]) !== ''), column.name) && rows.filter((row) => wordsOf(column).test(cellText(row[column.name]))).length > rows.length / 2 && (isPath(column) || !/mail|token|hash|passw|url|link|colou?r|lang|locale|(^|_)ip($|_)/.test(inEnglish(column.name))));
  const alone = words.find(({ name }) => isUnique(name, unique));
  return alone ?? words.find((column) => /slug|handle/.test(inEnglish(column.name))) ?? words.find((column) => /code|(^|_)name$|path/.test(inEnglish(column.name))) ?? words.find((column) => isNameOf(column.name, inEnglish(table).replace(/^.*_/, '')) && distinct(rows, column.name) === rows.length) ?? words.find((column) => OF_SERVICE.test(inEnglish(column.name)) && distinct(rows, column.name) === rows.length) ?? words.find((column) => /(^|_)uri$|file_?name/.test(inEnglish(column.name)) && distinct(rows, column.name) === rows.length) ?? words.find((column) => /key|ident|alias|(^|_)ref$/.test(inEnglish(column.name)) && distinct(rows, column.name) === rows.length) ?? words.find((column) => SAYS_FROM.test(inEnglish(column.name)) && distinct(rows, column.name) === rows.length) ?? words.find((column) => rows.length > 2 && !TITLE.test(inEnglish(column.name)) && distinct(rows, column.name) === rows.length);
}

/** A word, with others behind it perhaps, or a path; an address is a name only of what is known by one, as those of a site are others on another; words with a colon only where no two rows have the same. */
const SIGN = String.raw`\p{L}\p{M}\p{N}_.`;
const ANY = String.raw`(?:[a-z]+:\/\/)?[${SIGN}/-]+(?:::[${SIGN}/-]+)*`;
const [WORD, ADDRESS, WORDS] = [new RegExp(`^(?!https?:\\/\\/)${ANY}$`, 'u'), new RegExp(`^${ANY}$`, 'u'), new RegExp(String.raw`^(?:${ANY}|[${SIGN}-]+(?::[${SIGN}-]+)+)$`, 'u')];
const SAYS_FROM = /source|(^|_)from(_|$)|pattern|match|request|(^|_)old(_|$)/;

/** What another service calls it. */
const OF_SERVICE = /(^|_)(?:account|external|remote|service|provider|foreign)_?(?:id|code|key)$|(^|_)user_?name$/;

/** The column that says whether a row is to be seen, with its words for yes and for not yet: of several the one that a draft is called by, as the others mean something of their own, and arrive as they are. */
export function statusOf(table: Table, rows: readonly Row[]): { readonly column: string; readonly published: readonly string[]; readonly draft: readonly string[] } | undefined {
  const column = [...table.columns.keys()].find((name) => /^(?:\w+_)?(?:status|state)$/.test(inEnglish(name)));
  const words = column === undefined ? [] : [...new Set(rows.map((row) => cellText(row[column])))].sort();
  const published = words.filter((text) => /^(?:live|publish(?:ed)?|active|enabled|public|visible)$/i.test(text));
  const draft = words.find((text) => /^draft$/i.test(text)) ?? words.find((text) => /^(?:pending|unpublished|inactive|disabled|hidden)$/i.test(text));
  return column !== undefined && published.length === 1 ? { column, published, draft: draft === undefined ? [] : [draft] } : undefined;
}

/** Does the name of a column say that its words are names? */
export function saysName(column: string): boolean { return /slug|code|(^|_)name$|handle|path|key|ident|alias|(^|_)ref$|source|pattern|match|request/.test(inEnglish(column)); }
