import { sql } from 'kysely';
import { isMeasure } from '../../../core/measures.ts';
import { pluralsOf, uncamelled } from '../../../core/words.ts';
import { inEnglish, isOneOf } from './tongues.ts';
import { cellText, type Row } from '../cells.ts';
import type { Engine, Table } from '../engine.ts';
import { countsUp, ID_BEHIND, isMade } from './samples.ts';
import { commonPrefix } from './words.ts';

/** So many rows of a table are looked at: the first ones and the last ones. */
export const SAMPLE = 300;

/** A column with a word and one with an id: the word says of which table. */
export interface Pair { readonly of: string; readonly by: string; readonly words: ReadonlyMap<string, string> }
/** What a layout knows of some of the tables: the words for the items that lie in each. */
export type KnownTables = ReadonlyMap<string, readonly string[]>;
/** What is known of all tables: their ids, and the words that tell their rows apart. */
export interface Reach { readonly ids: ReadonlyMap<Table, ReadonlySet<string>>; readonly types: ReadonlyMap<Table, ReadonlySet<string>>; readonly known: KnownTables }

/** Columns with a foreign key, and those whose values are all ids of one other table; of several tables the one whose name is in the column's. */
export function pointsOf(table: Table, rows: readonly Row[], { ids, types, known: words }: Reach): Map<string, string> {
  const foreign = new Map(table.foreign.flatMap(({ to, columns: [pair, ...more] }) => (pair && more.length === 0 ? [[pair.from, to] as const] : [])));
  const found = new Map<string, string>();
  for (const column of table.columns.values()) {
    const tied = foreign.get(column.name);
    const made = isMade(filled(rows, column.name), column.name);
    if (tied !== undefined) found.set(column.name, tied);
    if (tied !== undefined || (column.storage !== 'integer' && column.storage !== 'text' && !made) || (table.key.length === 1 && column.name === table.key[0] && (ids.has(table) || column.name === table.counted))) continue;
    const values = meantBy(rows, column.name);
    if (values.length === 0) continue;
    const fits = [...ids].filter(([other, known]) => (column.storage === 'integer') === (other.columns.get(other.key[0] ?? '')?.storage === 'integer') && values.every((value) => known.has(value))).map(([one]) => one);
    // Ids that a machine made up say by themselves whose they are.
    const sure = made || (isEnd(column.name) && fits.length === 1) ? fits : fits.filter((one) => likeName(column.name, one, table) || isCalled(column.name, words.get(one.name)) || hasSort(types.get(one), column.name) || isBelow(column.name, table, one) || (PERSON.test(inEnglish(column.name)) && arePeople(one)) || (isEnd(column.name) && one === (goesOn(column.name, table) && fits.includes(table) ? table : mostOf(fits, words))));
    // What only says that it points to something, and fits nowhere else.
    const isOfCms = (one: Table): number => Number(stemOf(column.name) === 'object' && (words.get(one.name) ?? []).length > 0);
    // Of the tables of two extensions that of its own.
    const near = (one: Table): number => sharedBeginning(table, one).length;
    const isWholly = (one: Table): number => Number(isWholeName(column.name, one, table));
    const [best] = sure.length === 0 && TARGET.test(inEnglish(column.name)) && fits.length === 1 ? fits : sure.sort((a, b) => isOfCms(b) - isOfCms(a) || isWholly(b) - isWholly(a) || near(b) - near(a) || b.name.length - a.name.length);
    if (best) found.set(column.name, best.name);
  }
  return found;
}

/** Those that point somewhere by a column. */
function filled(rows: readonly Row[], column: string): Row[] { return rows.filter((row) => cellText(row[column]) !== ''); }

/** What a column holds that may be ids; nothing where it says how many there are, or which place each has. */
function meantBy(rows: readonly Row[], column: string): string[] {
  if (saysHowMany(column) || countsUp(rows, column)) return [];
  return rows.map((row) => cellText(row[column])).filter((text) => text !== '' && text !== '0');
}

/** Is a column called after the whole name of a table, but for what the names of both tables begin with: "segment_id" after mx_segments, and not after mx_letter_segment? */
function isWholeName(column: string, other: Table, own: Table): boolean {
  return other.name !== own.name && isNameOf(inEnglish(column).replace(ID_BEHIND, ''), inEnglish(other.name).slice(sharedBeginning(own, other).length));
}

/** What the names of two tables begin with. */
function sharedBeginning(one: Table, other: Table): string { return commonPrefix([inEnglish(one.name), inEnglish(other.name)]); }

/** Of several tables that for most sorts of items. */
function mostOf(tables: readonly Table[], words: KnownTables): Table | undefined {
  const sorts = (table: Table): number => (words.get(table.name) ?? []).length;
  const [most] = [...tables].sort((a, b) => sorts(b) - sorts(a));
  return most && sorts(most) > 0 ? most : undefined;
}

/** The table whose keys a table has for its own, so that each of its rows is the rest of one there. */
export function sideOf(table: Table, ids: Reach['ids'], words: KnownTables): Table | undefined {
  const [key = ''] = table.key;
  const own = ids.get(table);
  if (table.key.length !== 1 || key === table.counted || !own || own.size === 0) return undefined;
  const tied = table.foreign.find(({ columns }) => columns.length === 1 && columns[0]?.from === key);
  return [...ids].find(([other, known]) => other !== table && (tied ? tied.to === other.name : (likeName(key, other) || isCalled(key, words.get(other.name))) && other.key[0] === other.counted && [...own].every((id) => known.has(id))))?.[0];
}

/** What a column is called that says of which row the others are the rest, and nothing else. */
const ROW = /^(?:(?:entity|item|object|owner|record|row|parent|content|node|element)_?)?id$/i;
/** What whoever made a row, or owns it, is called. */
export const PERSON = /^(?:owner|author|user|creator|editor|(?:created|updated|changed|modified)_by)(?:_?u?id)?$/i;
/** What the two ends of a connection are called. */
const END = /(?:^|_)(?:from|to)(?:_?id)?$/i;
/** Not those of a range: "score_from" and "price_to". */
function isEnd(column: string): boolean { const name = inEnglish(column); return END.test(name) && !isMeasure(name.replace(END, '')); }
/** Does a row lead to another one of its table, as "upgrade_to" does, and is no connection that has two ends? */
function goesOn(column: string, { columns }: Table): boolean { return [...columns.keys()].filter(isEnd).length === 1 && /_to(?:_?id)?$/.test(inEnglish(column)); }
const TARGET = /_(?:target|ref|reference)(?:_?id)?$/i;
/** What says how many of something there are, or may be. */
const HOW_MANY = /(?:^|_)(?:max|min|num|count|total|limit|per|number)(?=_|$)/i;
export function saysHowMany(name: string): boolean { return HOW_MANY.test(inEnglish(name)); }

/** Is a table called after the rows of another one, with more behind it: `thing__body` and its `entity_id` for `things`? */
function isBelow(column: string, table: Table, other: Table): boolean {
  const [own, above] = [inEnglish(table.name), inEnglish(other.name)];
  return other !== table && ROW.test(inEnglish(column)) && [above, above.replace(/ies$/, 'y'), above.replace(/e?s$/, ''), above.replace(/s$/, '')].some((word) => own.startsWith(`${word}_`));
}

/** Those who have accounts: an address for mail and a password. */
export function arePeople({ columns }: Table): boolean { return [...columns.keys()].some((name) => /mail/.test(inEnglish(name))) && [...columns.keys()].some((name) => /passw|(^|_)(?:pass|pwd)$|hash/.test(inEnglish(name))); }

/** Does a text hold the id of a row behind what its table is called: "/board/12", "board:12"? */
export function namesRow(text: string, ids: Reach['ids']): boolean {
  return [...text.matchAll(WORD_ID)].some(([, word = '', , id = '']) => [...ids].some(([table, known]) => known.has(id) && word.split(/[_-]/).some((part) => isWordFor(part, table, undefined))));
}
/** A word, a sign and a number that ends there; an equals sign only behind the word that a short code begins with. */
export const WORD_ID = /(?<![\w-])([a-z][\w-]*)([/:]|(?<=\[[a-z][\w-]*)=)([1-9]\d*)(?![\w.-])/gi;

/** The words by which a table tells its rows apart. */
export async function typesOf(engine: Engine, table: Table): Promise<Set<string>> {
  // What says of which table an id beside it is tells nothing of the rows themselves.
  const isOfOthers = (name: string): boolean => [...table.columns.keys()].some((other) => besideWord(other, name));
  const column = [...table.columns.values()].find(({ name, storage }) => storage === 'text' && /(^|_)(?:type|taxonomy|bundle)$/.test(inEnglish(name)) && !isOfOthers(name));
  if (!column) return new Set();
  const { rows } = await engine.run(sql`select distinct ${engine.own.select(column)} from ${sql.table(table.name)} limit ${sql.lit(SAMPLE)}`);
  return new Set(rows.map((row) => cellText(engine.own.decode(row[column.name], column))));
}

const HOLDER = '(?:\\w+_)?(?:owner|object|item|row|record|entity|model|subject|parent|foreign|rel|ref|element|content|source|target|from|to)';
const SORT = '(?:type|model|kind|class|table)';
const [HOLDER_ID, HOLDER_WORD] = [new RegExp(`^${HOLDER}_?(?:id|key)$`, 'i'), new RegExp(`^(?:${HOLDER}_?${SORT}|(?:\\w+_)?(?:owner|object|entity|model|subject|table))$`, 'i')];

const [ONLY_SORT, SORT_BEHIND] = [new RegExp(`^_?${SORT}$`, 'i'), new RegExp(`_${SORT}$`, 'i')];

/** Is a column called after whatever a row belongs to, as "entity_id"? */
export function saysWhose(column: string): boolean { return /^(?:owner|object|entity|item|record|parent|holder|host|container)_?id$/i.test(inEnglish(column)); }

/** Is an id beside a word that is called alike: `taggable_id` and `taggable_type`, or `scope`? */
function besideWord(id: string, word: string): boolean {
  const [, stem] = /^(\w+?)_?(?:id|key)$/i.exec(inEnglish(id)) ?? [];
  return stem !== undefined && (inEnglish(word) === stem || (inEnglish(word).startsWith(stem) && ONLY_SORT.test(inEnglish(word).slice(stem.length))));
}

/** Columns with a word for a table, or for a sort of its rows, and columns with ids of it; a word that means nothing of that kind has an empty text. */
export function pairsOf(table: Table, rows: readonly Row[], { ids, types }: Reach): Pair[] {
  const columns = [...table.columns.values()];
  return columns.flatMap(({ name: by }): Pair[] => {
    const texts = columns.filter(({ name, storage }) => storage === 'text' && name !== by);
    const beside = texts.find(({ name }) => besideWord(by, name));
    const fitting = texts.filter(({ name }) => HOLDER_WORD.test(inEnglish(name)));
    const of = beside ?? (fitting.length === 1 ? fitting[0] : undefined);
    if (of && (beside !== undefined || HOLDER_ID.test(inEnglish(by)))) {
      const words = wordsFor(table, rows, { of: of.name, by }, { ids, types });
      if ([...words.values()].some((to) => to !== '')) return [{ of: of.name, by, words }];
    }
    // Whatever the two are called: where every word is one for a table that has the id, it says which.
    const [other, ...others] = texts.filter(({ name }) => SORT_BEHIND.test(inEnglish(name)));
    if (!other || others.length > 0 || !/_id$/i.test(inEnglish(by)) || table.foreign.some(({ columns: held }) => held.some(({ from }) => from === by))) return [];
    const words = wordsFor(table, rows, { of: other.name, by }, { ids, types: new Map() });
    return words.size > 0 && [...words.values()].every((to) => to !== '') ? [{ of: other.name, by, words }] : [];
  });
}

/** The tables that the words in one column mean, which have the ids in the other one. */
function wordsFor(table: Table, rows: readonly Row[], { of, by }: Pick<Pair, 'of' | 'by'>, { ids, types }: Pick<Reach, 'ids' | 'types'>): Map<string, string> {
  const words = new Map<string, string>();
  for (const row of rows) {
    const [word, id] = [cellText(row[of]), cellText(row[by])];
    if (/^0?$/.test(id)) continue;
    const fits = (sorts?: Reach['types']): Table | undefined => [...ids].find(([other, known]) => other !== table && known.has(id) && isWordFor(word, other, sorts?.get(other)))?.[0];
    // A word for a table says more than one for a sort of the rows of another.
    const there = fits() ?? fits(types);
    words.set(word, there && words.get(word) !== '' ? there.name : '');
  }
  return words;
}

/** The name of the table without what all tables begin with, or one of its sorts, perhaps with a word before it. */
function isWordFor(said: string, { name }: Table, types: ReadonlySet<string> | undefined): boolean {
  // A class of a program is called by what is behind the names of where it lies: "App\\Models\\FerryLine".
  const word = /[\\.:]/.test(said) ? inEnglish(said.replace(/^.*[\\.:]/, '')) : said;
  return word !== '' && (isRowOf(word, name) || hasOtherPlural(word, name) || (word !== said && endsLike(name, word)) || types?.has(word) === true || types?.has(word.replace(/^[^_]+_/, '')) === true || (word.length > 2 && [...types ?? []].some((type) => type.endsWith(`_${word}`))));
}

function endsLike(table: string, words: string): boolean { return namesOf(table).some((name) => isNameOf(words, name.split('_').slice(-words.split('_').length).join('_'))); }

/** Is this the name of a table in the singular or plural? */
export function isNameOf(called: string, table: string): boolean { const [one, other] = [inEnglish(called), inEnglish(table)]; return one === other || isPluralOf(other, one) || isPluralOf(one, other); }

function isPluralOf(many: string, one: string): boolean { return pluralsOf(one).includes(many); }

/** Is a column that says that it has an id called after one row of a table whose plural is not an English one: "fähre_id" and "fähren"? */
export function isOtherPlural(column: string, table: string): boolean { return SAYS_ID.test(inEnglish(column)) && hasOtherPlural(stemOf(column), table); }
/** The same of a word with an id behind it. */
export function hasOtherPlural(word: string, table: string): boolean { return namesOf(table).some((name) => isOneOf(inEnglish(word), name.replace(/^.*_/, ''))); }
const SAYS_ID = /^id_|_ids?$/;

/** `board_id` means a table that ends in "boards"; `parent` and the like the table itself; the name of another table's key that table. */
export function likeName(column: string, other: Table, own?: Table): boolean {
  if (/parent|above|(^|_)(?:root|next|prev|previous|follows|depends|depends_on|requires|replaces|based_on|copy_of|copied_from)(?:_?id)?$/.test(inEnglish(column))) return other === own;
  if (other !== own && column.toLowerCase() === (other.key[0] ?? '').toLowerCase() && column.toLowerCase() !== 'id') return true;
  const stem = stemOf(column);
  if (isOtherPlural(column, other.name)) return true;
  if (MEDIA_WORD.test(stem) && MEDIA_TABLE.test(inEnglish(other.name))) return true;
  return stem.length > 2 && ((stem === 'object' && /entr|post|record/i.test(other.name)) || namesOf(other.name).some((name) => name.endsWith(stem) || name.endsWith(`${stem}s`) || name.endsWith(stem.replace(/y$/, 'ies')) || isNameOf(stem, name.replace(/^.*_/, ''))));
}

/** What a table can be called: its name, and that without what only says that it is one, or the main one of several: "quiz" for quiz_master. */
export function ownNamesOf(table: string): string[] { const name = uncamelled(table); return [...new Set([name, name.replace(/_(?:master|main|base|table|tbl|list|data|defs?|definitions?|records?)$/, '')])]; }
/** The same as drafts read them. */
export function namesOf(table: string): string[] { return [...new Set(ownNamesOf(table).map(inEnglish))]; }
/** Is a word what the rows of a table are called, in the singular or plural? */
export function isRowOf(word: string, table: string): boolean { return namesOf(table).some((name) => isNameOf(word, name.replace(/^.*_/, ''))); }

/** Is a column called after one of the sorts of rows of a table: `tour_id` for rows of the type `zz_tour`? */
export function hasSort(types: Iterable<string> | undefined, column: string): boolean { const stem = stemOf(column); return stem.length > 2 && [...types ?? []].some((type) => type === stem || type.endsWith(`_${stem}`)); }

/** Is a column called after one of the words for the items of a table? */
export function isCalled(column: string, words: readonly string[] = []): boolean { const stem = stemOf(column); return words.includes(stem) || (MEDIA_WORD.test(stem) && words.includes('media')); }

function stemOf(column: string): string { return inEnglish(column).replace(ID_BEHIND, '').replace(/_(?:target|ref|reference)$/, '').replace(/^.*_/, ''); }

/** What pictures and files are called, and the tables in which they lie. */
export const [MEDIA_WORD, MEDIA_TABLE] = [/^(?:media|images?|pictures?|attachments?|photos?|logo|icon|files?|thumbnail|banner|background|cover|avatar|video|audio|documents?|gallery|hero)$/, /(^|_)(?:media|assets?|attachments?|uploads?|files?|images?|pictures?|photos?)$/i];

