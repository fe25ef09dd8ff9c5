import { cellText, type Row } from '../cells.ts';
import { distinct, isMade, type Guess, type TableGuess } from './guess.ts';

type Records = TableGuess & { readonly guess: Extract<Guess, { is: 'records' }> };
/** The name of an item, in words of a layout: a template, the rows of other tables that it needs, a note. */
export interface Naming { readonly template: string | undefined; readonly joins: readonly string[]; readonly note: string | undefined }
/** A word that tells rows of one name apart: of the row itself, or of the row that a column points to. */
interface Part { readonly column: string; readonly text: string; readonly join?: string }

const MOST_PARTS = 3;

/** How items of a table can be called so that the name means the same on every site. `rows`: those of the kind; `all`: every table, by name. */
export function namingOf(one: Records, rows: readonly Row[], all: readonly TableGuess[], alias: (table: string) => string): Naming {
  const { table: { key: keys }, guess: { name, title } } = one;
  const [key = 'id'] = keys;
  const plain = (template: string | undefined, note?: string): Naming => ({ template, joins: [], note });
  if (keys.length > 1) return plain(undefined, `${keys.join(' and ')} together name it`);
  if (name !== undefined && distinct(rows, name) < rows.length) {
    const parts = partsOf(one, name, rows, all, alias);
    if (parts) return { template: [...parts.map(({ text }) => `{${text}}`), `{${name}}`].join('/'), joins: parts.flatMap(({ join }) => join ?? []), note: `${name} alone is there twice` };
  }
  if (name !== undefined) return plain(name === key ? `{${key}}` : `{${name}|${key}}`);
  const titles = title === undefined ? [] : rows.map((row) => cellText(row[title]));
  if (title !== undefined && titles.length > 0 && new Set(titles).size === titles.length) return plain(`{~${title}|${key}}`, 'no column looks like a name that both sites share: the title stands for it');
  return plain(`{${key}}`, 'no column looks like a name that both sites share: ids are not');
}

/** The fewest words that tell all rows apart. */
function partsOf(one: Records, name: string, rows: readonly Row[], all: readonly TableGuess[], alias: (table: string) => string): Part[] | undefined {
  const found: Part[] = [];
  const open = [...one.table.columns.keys()].flatMap((column) => partOf(one, column, rows, all, alias) ?? []);
  const apart = (parts: readonly Part[]): number => new Set(rows.map((row) => JSON.stringify([...parts.map(({ column }) => cellText(row[column])), cellText(row[name])]))).size;
  while (found.length < MOST_PARTS && apart(found) < rows.length) {
    const [best] = open.filter((part) => !found.includes(part)).sort((a, b) => apart([...found, b]) - apart([...found, a]));
    if (!best || apart([...found, best]) === apart(found)) return undefined;
    found.push(best);
  }
  return apart(found) === rows.length ? found : undefined;
}

/** Every row must have it: without the row that it points to it would be no item. */
function partOf({ table, points, guess }: Records, column: string, rows: readonly Row[], all: readonly TableGuess[], alias: (table: string) => string): Part | undefined {
  if (column === guess.parent || column === guess.name || rows.some((row) => /^0?$/.test(cellText(row[column])))) return undefined;
  const other = all.find((one) => one.table.name === points.get(column));
  if (other) return partThere(other, column, alias(other.table.name));
  const isWord = table.columns.get(column)?.storage === 'text' && /lang|locale|site|scope|section|area|(^|_)type$|kind|group|theme/i.test(column);
  return isWord && !isMade(rows, column) ? { column, text: column } : undefined;
}

/** What the row that a column points to is called. */
function partThere({ table, guess }: TableGuess, column: string, alias: string): Part | undefined {
  const [key = '', ...more] = table.key;
  if (guess.is !== 'records' || guess.name === undefined || guess.people || more.length > 0) return undefined;
  if (guess.name === key) return { column, text: column };
  const word = column.replace(/_?id$/i, '') || alias;
  return { column, text: `${word}.${guess.name}`, join: `${word}: { from: ${alias}, on: { ${key}: ${column} }, shared: true }` };
}
