import { cellText, type Row } from '../cells.ts';
import type { Column } from '../engine.ts';
import { unpacked } from '../packed.ts';
import type { Node } from '../../../core/tree.ts';
import { inEnglish } from './tongues.ts';
import { groupBy } from '../../../core/json.ts';
import { isMadeId } from '../../../core/madeid.ts';

/** Is a key made by a machine, so that it is another one on every site? */
export function isMade(rows: readonly Row[], key: string): boolean { return rows.length > 0 && rows.every((row) => isMadeId(cellText(row[key]))); }

/** Does every row point somewhere by this column? */
export function isFilled(rows: readonly Row[], column: string): boolean { return rows.every((row) => !/^0?$/.test(cellText(row[column]))); }

/** How many different rows there are, as far as these columns tell. */
export function distinct(rows: readonly Row[], ...columns: readonly string[]): number { return new Set(rows.map((row) => JSON.stringify(columns.map((column) => cellText(row[column]))))).size; }

/** What a column with ids is called. */
export const ID_BEHIND = /_?(?:uu|gu)?ids?$/;

/** What is called after the row above. */
const ABOVE = /(?:^|_)parent$/;

/** Do all rows, or those of each id in some other column, count up in this one, from 0 or 1 on, in the order in which they were made: is it the place of each among them? A column that is called after ids, or after the row above, has none. */
export function countsUp(rows: readonly Row[], column: string): boolean {
  if (ID_BEHIND.test(inEnglish(column)) || ABOVE.test(inEnglish(column))) return false;
  const counts = (numbers: readonly number[]): boolean => (numbers[0] === 0 || numbers[0] === 1) && numbers.every((one, i) => one === (numbers[0] ?? 0) + i);
  return [undefined, ...Object.keys(rows[0] ?? {}).filter((name) => name !== column && ID_BEHIND.test(inEnglish(name)))].some((by) => {
    const groups = groupBy(rows, (row) => (by === undefined ? '' : cellText(row[by])));
    const numbers = [...groups.values()].map((group) => group.map((row) => Number(cellText(row[column]))));
    return numbers.some(({ length }) => length > 1) && numbers.every(counts);
  });
}

/** Are these whole numbers of seconds since 1970, of this century? */
function areSeconds(rows: readonly Row[], column: string): boolean { return rows.length > 0 && rows.every((row) => /^(?:0|[1-3]\d{9})$/.test(cellText(row[column]))) && rows.some((row) => cellText(row[column]) !== '0'); }

/** Dates of ISO 8601 as text, as a database without a type for them has them. */
function areDates(rows: readonly Row[], column: string): boolean { return rows.length > 0 && rows.every((row) => /^(?:\d{4}-\d\d-\d\d(?:[ T]\d\d:\d\d.*)?)?$/.test(cellText(row[column]))) && rows.some((row) => cellText(row[column]) !== ''); }

/** A date, a time of the day, or both, as servers write them, or seconds since 1970. */
const TIME = /^(?:-?\d{4,}-\d\d-\d\d|\d\d:\d\d|[1-3]\d{9}(?:\d{3})?(?:\.\d+)?$)/;

/** Can a column hold times: of a type for them, whole numbers of seconds, or dates as text? */
export function holdsTime({ name, storage }: Column, rows: readonly Row[]): boolean { return (storage === 'other' && rows.every((row) => cellText(row[name]) === '' || TIME.test(cellText(row[name])))) || (storage === 'integer' && areSeconds(rows, name)) || (storage === 'text' && areDates(rows, name)); }

/** What is packed in a text as data; undefined where it is none. */
export function dataIn(text: string): Node | undefined {
  const packing = packingOf([text]);
  return packing === 'php' || packing === 'json' ? unpacked(text, packing) : undefined;
}

/** How a text is packed, if most samples agree. */
export function packingOf(texts: readonly string[]): 'php' | 'json' | 'html' | undefined {
  const filled = texts.filter((text) => text !== '');
  const most = (fits: (text: string) => boolean): boolean => filled.length > 0 && filled.filter(fits).length > filled.length / 2;
  if (most((text) => /^[aO]:\d+:/.test(text) && unpacked(text, 'php') !== undefined)) return 'php';
  if (most((text) => /^\s*[[{]/.test(text) && unpacked(text, 'json') !== undefined)) return 'json';
  return filled.some((text) => /<\/?[a-z][^>]*>|\[[a-z][\w-]*[ =][^\]]*\]/i.test(text)) ? 'html' : undefined;
}
