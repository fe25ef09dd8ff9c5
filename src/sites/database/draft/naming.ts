import { singularOf } from '../../../core/words.ts';
import { inEnglish } from './tongues.ts';
import { cellText, type Row } from '../cells.ts';
import { orderOf } from './columns.ts';
import { isSecret } from './leaves.ts';
import { saysName, type Guess, type TableGuess } from './guess.ts';
import { isNameOf, isRowOf, MEDIA_WORD } from './points.ts';
import { distinct, isFilled, isMade } from './samples.ts';
import { aliasOf, pairs, slug, word as quoted } from './words.ts';

type Records = TableGuess & { readonly guess: Extract<Guess, { is: 'records' }> };
/** The name of an item, in words of a layout: a template, the rows of other tables that it needs, a note. */
export interface Naming { readonly template: string | undefined; readonly joins: readonly string[]; readonly labels?: string; /** Of rows in a tree that are named by their path: the column with the row above, and what each row adds. */ readonly tree?: { readonly parent: string; readonly segment: string }; readonly note: string | undefined; /** Without it nothing names the rows on both sites. */ readonly usable: boolean; /** Nothing else tells rows apart: two sites would take different rows for one. */ readonly byId?: boolean; /** The value has the columns of the key too. */ readonly keyed: boolean }
/** A word that tells rows of one name apart: of the row itself, or of the row that a column points to. */
interface Part { readonly column: string; readonly template: string; readonly join?: string }
/** `rows`: those of the kind; `points`: the tables that its columns point to. */
export interface Named { readonly one: Records; readonly rows: readonly Row[]; readonly points: ReadonlyMap<string, string>; readonly all: readonly TableGuess[]; readonly alias: (table: string) => string; /** The rows that have its title. */ readonly label: { readonly table: string; readonly by: string; readonly title: string } | undefined }

const MOST_PARTS = 3;
const PLAIN = { joins: [], note: undefined, usable: true, keyed: false } as const;

/** How items of a table can be called so that the name means the same on every site. */
export function namingOf(named: Named): Naming {
  const { one: { table: { key: keys }, guess: { name, title } }, rows } = named;
  const [key = 'id'] = keys;
  if (keys.length > 1) return byKeys(named);
  const tree = byPath(named, key);
  if (tree) return tree;
  if (isSingle(named)) return { ...PLAIN, template: slug(named.alias(named.one.table.name)), note: 'the only row of its table' };
  const parts = uniqueParts(named);
  if (isAlone(named) || (!parts && isApart(named))) return { ...PLAIN, template: name === key ? `{${key}}` : `{${[name ?? '', ...inPlaceOf(named), key].join('|')}}` };
  if (parts) return { ...PLAIN, template: parts.map(({ template }) => template).join('/'), joins: parts.flatMap(({ join }) => join ?? []), note: name === undefined ? `${parts.map(({ column }) => column).join(' and ')} together are there once` : `${name} alone says too little` };
  const titles = title === undefined || name !== undefined ? [] : rows.map((row) => cellText(row[title]));
  if (titles.length > 0 && !titles.includes('') && new Set(titles).size === titles.length) return { ...PLAIN, template: `{~${title ?? ''}|${key}}`, note: `no column looks like a name that both sites share: the title stands for it${named.one.rows === 1 ? `; where there is only ever one, name: ${slug(named.alias(named.one.table.name))}` : ''}` };
  return named.label ? byLabel(named, key, named.label) : byParts(named, key);
}

/** Rows in a tree, of which one name or title is there twice, but not twice below one row; or of which an index says that this could be. */
function byPath(named: Named, key: string): Naming | undefined {
  const { one: { guess: { name, title, parent } }, rows } = named;
  const word = name ?? title;
  if (parent === undefined || word === undefined || isAlone(named) || rows.some((row) => cellText(row[word]) === '')) return undefined;
  const isBelow = uniqueColumns(named).some((columns) => columns.length === 2 && columns.includes(parent) && columns.includes(word));
  if (!isBelow && distinct(rows, word) === rows.length) return undefined;
  return distinct(rows, parent, word) < rows.length ? undefined : { ...PLAIN, template: '{path}', tree: { parent, segment: name === undefined ? `{~${word}|${key}}` : `{${word}|${key}}` }, note: `${word} alone says too little: two places in the tree have it` };
}

/** A table that is called after settings, or after one thing, and has one row: what it holds is that of the site, whatever is written there. */
function isSingle(named: Named): boolean {
  const { one: { table, rows: count, guess: { name, type, people } }, points } = named;
  const called = inEnglish(named.alias(table.name));
  const isOne = SETTINGS.test(called) || (name === undefined && singularOf(called) === called);
  return count === 1 && isOne && type === undefined && !people && !isAlone(named) && !table.foreign.some(({ columns }) => columns.some(({ from }) => table.columns.get(from)?.nullable === false)) && ![...points.keys()].some((column) => isHolder(column, points.get(column)) && isCalledLike(stemOf(column), points.get(column) ?? ''));
}
const SETTINGS = /(^|_)(?:settings?|config(?:uration)?s?|options|preferences|globals?|site_?info|site)$/;

/** The title, of rows that have no name. */
function inPlaceOf({ one: { guess: { name, title } }, rows }: Named): string[] { return title !== undefined && title !== name && rows.some((row) => cellText(row[name ?? '']) === '' && cellText(row[title]) !== '') ? [`~${title}`] : []; }

/** Does an index, or the key, say that no two rows have one name? */
function isAlone(named: Named): boolean { return [...uniqueColumns(named), named.one.table.key].some((columns) => columns.length === 1 && columns[0] === named.one.guess.name); }

/** The same, as far as the rows show. A word that only happens to be different in every row is none where the row belongs to another one. */
function isApart(named: Named): boolean {
  const { one: { guess: { name }, pairs }, rows } = named;
  return name !== undefined && distinct(rows, name) === rows.length && !isWithin(named) && (pointing(named).length === 0 || (saysName(name) && pairs.length === 0));
}

/** Is the name, as of a field or a key, one among those of the row that it belongs to? Of several rows of one, and nothing says that no two in the table have it. */
function isWithin(named: Named): boolean { return WITHIN.test(inEnglish(named.one.guess.name ?? '')) && pointing(named).some((column) => isHolder(column, named.points.get(column)) && !canBeAlone(named, column) && distinct(named.rows, column) < named.rows.length); }
/** May a row have a name and belong to none, as the columns say? */
function canBeAlone({ one: { table: { columns }, guess: { name = '' } } }: Named, column: string): boolean { return columns.get(column)?.nullable === true && columns.get(name)?.nullable === false; }
/** Does a column say to which row its own belongs, and not, as "thanks_page" or "default_page_id" do, what else it means? */
export function isHolder(column: string, to = ''): boolean {
  const stem = stemOf(column);
  if (WROTE.test(stem)) return false;
  return isCalledLike(stem, to) || /parent/.test(stem) || (/id$/i.test(column) && !MEANT_AS.test(stem) && !isRowOf(stem.replace(/^.*_/, ''), to));
}
/** Whoever made a row need not have it. */
const WROTE = /^(?:author|creator|editor|(?:created|updated|changed|modified)_by)$/;
/** What else a row means besides those that it belongs to. */
const MEANT_AS = /^(?:featured|default|primary|selected|linked|next|prev(?:ious)?|best|home|landing|redirect|success|error|thank_?(?:you|s)|cover|hero|first|last|current|active|fallback|copied_from|replaced_by|related)$/;
function stemOf(column: string): string { return inEnglish(column).replace(/^id_|_?id$/g, ''); }
function isCalledLike(stem: string, to: string): boolean { return isRowOf(stem, to) || isNameOf(stem, inEnglish(to)); }
/** A picture that a row shows, as its icon, is nothing that it belongs to. */
function isShown(column: string, to = ''): boolean { const stem = stemOf(column); return MEDIA_WORD.test(stem.replace(/^.*_/, '')) && !isCalledLike(stem, to); }
const WITHIN = /(^|_)(?:key|name|code|ident\w*|alias|ref)$/i;

/** By the title that lies in another row. */
function byLabel({ alias }: Named, key: string, { table, by, title }: NonNullable<Named['label']>): Naming {
  return { ...PLAIN, template: `{~label|${key}}`, labels: `{ label: { from: ${alias(table)}, on: { ${by}: ${key} }, value: ${title} } }`, note: `no column looks like a name that both sites share: the title in ${table} stands for it` };
}

/** Several words in one name; where even these do not tell the rows apart, or nothing could, their ids. */
function byParts(named: Named, key: string): Naming {
  const { name } = named.one.guess;
  const parts = partsOf(named);
  if (parts) return { ...PLAIN, template: [...parts.map(({ template }) => template), ...(name === undefined ? [] : [`{${name}}`])].join('/'), joins: parts.flatMap(({ join }) => join ?? []), note: name !== undefined ? `${name} alone says too little` : parts.some(({ join }) => join !== undefined) ? undefined : 'no column looks like a name: these words tell the rows apart' };
  return name === undefined ? { ...PLAIN, template: `{${key}}`, note: 'no column looks like a name that both sites share: ids are not', byId: true } : { ...PLAIN, template: `{${name}|${key}}`, note: `${name} is there twice` };
}

/** Rows of a key of several columns: by these, and where one of them is an id, by what that is called. */
function byKeys({ one, points, all, alias }: Named): Naming {
  const { key: keys } = one.table;
  const isId = (column: string): boolean => /(^|_)id$/.test(inEnglish(column)) && one.table.columns.get(column)?.storage === 'integer';
  if (!keys.some((column) => points.has(column))) return keys.some(isId) ? unknownId(one) : { ...PLAIN, template: undefined, note: `${keys.join(' and ')} together name it` };
  const parts = keys.map((column): Part | undefined => { const to = points.get(column); return to === undefined ? { column, template: `{${column}}` } : partThere(all.find((other) => other.table.name === to), column, alias(to)); });
  if (parts.includes(undefined)) return unknownId(one);
  return { ...PLAIN, template: parts.map((part) => part?.template ?? '').join('/'), joins: parts.flatMap((part) => part?.join ?? []), keyed: true };
}

function unknownId({ table }: Records): Naming { return { ...PLAIN, template: undefined, note: `an id in the key of ${table.name} is another one on every site, and nothing says what it means`, usable: false }; }

/** A kind has rows of one type only. */
function uniqueColumns({ one: { unique, guess } }: Named): string[][] { return unique.map((columns) => columns.filter((column) => column !== guess.type)); }

/** The words of a unique index of several columns, where all of them mean the same on every site. */
function uniqueParts(named: Named): Part[] | undefined {
  const { name } = named.one.guess;
  const found = uniqueColumns(named).filter((columns) => columns.length > 1).map((columns) => [...columns.filter((column) => column !== name), ...columns.filter((column) => column === name)].map((column): Part | undefined => (column === name ? { column, template: `{${column}}` } : partOf(named, column))));
  return found.find((parts): parts is Part[] => !parts.includes(undefined));
}

/** The columns by which every row belongs to another one. */
function pointing({ one, rows, points }: Named): string[] { return [...points.keys()].filter((column) => column !== one.guess.parent && isFilled(rows, column) && !isShown(column, points.get(column))); }

/** The fewest words that tell all rows apart, with the name where there is one; else what a row belongs to comes first. */
function partsOf(named: Named): Part[] | undefined {
  const { one, rows } = named;
  const { name } = one.guess;
  const open = [...one.table.columns.keys()].flatMap((column) => partOf(named, column) ?? []);
  const apart = (parts: readonly Part[]): number => distinct(rows, ...parts.map(({ column }) => column), ...(name === undefined ? [] : [name]));
  const holders = open.filter(({ join }) => join !== undefined).slice(0, MOST_PARTS - 1);
  if (name === undefined && holders.length === 0) return wordsAlone(named, open);
  // Some rows do not show how many there can be: whatever is called like a key counts.
  const found: Part[] = name === undefined ? [...holders, ...open.filter(({ column, join }) => join === undefined && saysName(column)).slice(0, 1)] : saysName(name) && !isWithin(named) ? [] : holders.slice(0, 1);
  while (found.length < MOST_PARTS && apart(found) < rows.length) {
    const [best] = open.filter((part) => !found.includes(part)).sort((a, b) => apart([...found, b]) - apart([...found, a]));
    const next = best && apart([...found, best]) > apart(found) ? best : placeIn(named);
    if (!next || found.some(({ column }) => column === next.column)) return undefined;
    found.push(next);
  }
  return apart(found) === rows.length ? found : undefined;
}

/** Of rows that belong to nothing and have no name: the fewest words that tell all rows of the table apart. Of a single row nobody knows which these are: the first two. */
function wordsAlone(named: Named, open: readonly Part[]): Part[] | undefined {
  const { one, rows } = named;
  const words = open.filter(({ column, join }) => join === undefined && !OF_A_MOMENT.test(inEnglish(column)) && !isSecret(column));
  if (rows.length === 0 || rows.length < one.rows || [...named.points].some(([column, to]) => to !== one.table.name && isHolder(column, to) && isFilled(rows, column))) return undefined;
  if (rows.length === 1) return words.length === 0 ? undefined : words.slice(0, 2);
  const sets = [...words.map((word) => [word]), ...words.flatMap((word, i) => words.slice(i + 1).map((other) => [word, other]))];
  return sets.find((parts) => distinct(rows, ...parts.map(({ column }) => column)) === rows.length);
}
/** Words that say how it is with a row, or who came, and not which one it is. */
const OF_A_MOMENT = /status|state|active|enabled|colou?r|(^|_)ip(_|$)|token|hash|agent|session|mail|passw|url|(^|_)(?:date|time|at|on|version|value|mode|method|level|locale|lang)(_|$)/;

/** Its place among others, where no word tells rows apart. */
function placeIn({ one: { table } }: Named): Part | undefined { const order = orderOf(table); return order === undefined ? undefined : { column: order, template: `{${order}}` }; }

/** Every row must have it: without the row that it points to it would be no item. */
function partOf({ one: { table, guess }, rows, points, all, alias }: Named, column: string): Part | undefined {
  if (column === guess.parent || column === guess.name || column === guess.type || table.key.includes(column) || !isFilled(rows, column)) return undefined;
  const to = points.get(column);
  if (to !== undefined) return isShown(column, to) ? undefined : partThere(all.find((one) => one.table.name === to), column, alias(to));
  const isWord = table.columns.get(column)?.storage === 'text' && rows.every((row) => /^[\p{L}\p{N}_.:-]{1,60}$/u.test(cellText(row[column])));
  return isWord && !isMade(rows, column) ? { column, template: `{${column}}` } : undefined;
}

/** What the row that a column points to is called: of a table with several sorts of rows by its sort too. */
function partThere(other: TableGuess | undefined, column: string, alias: string): Part | undefined {
  const [key = '', ...more] = other?.table.key ?? [];
  if (other?.guess.is !== 'records' || other.guess.name === undefined || other.guess.people || more.length > 0) return undefined;
  const { name, type } = other.guess;
  if (name === key) return { column, template: `{${column}}` };
  const word = aliasOf(column.replace(/_?id$/i, '') || alias);
  return { column, template: `${type === undefined ? '' : `{${word}.${type}}/`}{${word}.${name}}`, join: `${word}: { from: ${alias}, on: ${pairs({ [key]: quoted(column) })}, shared: true }` };
}
