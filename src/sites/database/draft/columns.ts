import { makingOf } from '../../../core/madeid.ts';
import { inEnglish } from './tongues.ts';
import { cellText, type Row } from '../cells.ts';
import type { Column, Table } from '../engine.ts';
import { holdsTime, isFilled } from './samples.ts';
import { word } from './words.ts';

/** What somebody set, and nobody counts: how many columns a list has. */
const SET = /(?:^|_)(?:columns?|cols?|seats?|retry|retries|words?|slides?|digits?|lines?|decimals?)_?count$/i;
const VOLATILE = /^(?!(?:max|min|limit|allowed)_)(?:.*_)?(?:[a-z]*(?<!ac|dis|head)count(?:s|er|ers)?|seen|views|visits|hits|uses|failures|[a-z]*(?:modified|changed|updated)|last(?=_(?!name))|next(?=_(?:run|due|attempt))|(?:lock|row|opt(?:imistic)?|object)_?(?:version|lock))(?:_|$)/i;
/** When a row was made: every site has its own time. */
const MADE = /created|added_|_added|inserted|registered/i;

/** What a row is called for people. */
export const TITLE = /title|label|(^|_)(?:name|subject|headline|heading|caption|question)$/i;

export function isText({ storage }: Column): boolean { return storage === 'text' || storage === 'bytes'; }

/** Counters and times: they mean nothing, and every site has its own. */
export function isTime(column: Column, rows: readonly Row[]): boolean {
  const called = inEnglish(column.name);
  return (VOLATILE.test(called) && !SET.test(called)) || (MADE.test(called) && holdsTime(column, rows));
}

/** What a place among others is called. A border, a deposit and where something lies on a page are none, and neither is the least that somebody can order. */
const ORDER = /(?:^|_)(?:[a-z]*(?<!b|re|pre|back)order(?:ing)?|pos(?:ition)?|(?:[a-z]+_)?sort(?:ing)?|rank(?:ing)?|seq(?:uence)?)(?:_?(?:no|num|number|nr|index|idx|key))?$/i;
const OF_MANY = /^(?:min|max|minimum|maximum|per|last|first|next|prev|previous|total|has|is|can|allow|free)_/i;

export function isOrder({ name, storage }: Column): boolean {
  const called = inEnglish(name);
  return (storage === 'integer' || storage === 'number') && ORDER.test(called) && !OF_MANY.test(called);
}

export function orderOf(table: Table): string | undefined { return [...table.columns.values()].find(isOrder)?.name; }

/** The time at which a row was taken away without being removed: such rows are nothing any more. */
export function goneOf(table: Table): string | undefined { return [...table.columns.values()].find(({ name, nullable }) => nullable && /^(?:deleted|removed|trashed)(?:_?(?:at|on|date|time))?$/i.test(inEnglish(name)))?.name; }

/** The numbers of a nested set, which say where a row is in a tree: only the CMS can count them anew. */
export function nestedOf(table: Table): readonly string[] {
  const found = [...table.columns.values()].filter(({ name, storage }) => storage === 'integer' && /^_?(?:lft|rgt|left|right|lvl|depth|tree_?(?:left|right|level))$/i.test(name)).map(({ name }) => name);
  return found.filter((name) => /l(?:e)?ft/i.test(name)).length === 1 && found.some((name) => /rgt|right/i.test(name)) ? found : [];
}

/** When a row was made or changed last: a new one has such a time as well, where the others have it. */
const STAMP = /creat|added|insert|modif|updat|chang/i;

/** The column that says when a row was made, where it is written as a new row can have it again. */
export function createdOf(table: Table, rows: readonly Row[]): string | undefined {
  const written = (text: string): boolean => /^(?:\d{9,10}|\d{4}-\d\d-\d\d \d\d:\d\d:\d\d(?:\.\d+)?)$/.test(text);
  return [...table.columns.values()].find((column) => MADE.test(inEnglish(column.name)) && holdsTime(column, rows) && rows.every((row) => written(cellText(row[column.name]))))?.name;
}

/** What a new row has in columns that need a time, and as a key that is made up. `created`: the column that says when it was made where it comes from. */
export function made(table: Table, rows: readonly Row[], key: string, created?: string): string | undefined {
  const isDue = (column: Column): boolean => isTime(column, rows) && !column.filled && holdsTime(column, rows) && (!column.nullable || (STAMP.test(inEnglish(column.name)) && isFilled(rows, column.name)));
  const times = [...table.columns.values()].filter((column) => column.name === created || isDue(column));
  // Whatever zone its times are in: read and written as UTC they stay the same.
  const now = ({ name, storage }: Column): string => (name === created ? (storage === 'integer' ? '{created seconds}' : '{created utc}') : storage === 'integer' ? '{now seconds}' : '{now}');
  const id = makingOf(rows.map((row) => cellText(row[key])));
  const lines = [...(id === undefined ? [] : [`${word(key)}: '${id}'`]), ...times.map((column) => `${word(column.name)}: '${now(column)}'`)];
  return lines.length === 0 ? undefined : `create: { ${lines.join(', ')} }`;
}
