import { cellText, type Row } from '../cells.ts';
import type { Column } from '../engine.ts';
import { unpacked } from '../packed.ts';
import type { Node } from '../../../core/tree.ts';
import { isMadeId } from '../../../core/madeid.ts';

/** Is a key made by a machine, so that it is another one on every site? */
export function isMade(rows: readonly Row[], key: string): boolean { return rows.length > 0 && rows.every((row) => isMadeId(cellText(row[key]))); }

/** Does every row point somewhere by this column? */
export function isFilled(rows: readonly Row[], column: string): boolean { return rows.every((row) => !/^0?$/.test(cellText(row[column]))); }

export function distinct(rows: readonly Row[], column: string): number { return new Set(rows.map((row) => cellText(row[column]))).size; }

/** Are these whole numbers of seconds since 1970, of this century? */
function areSeconds(rows: readonly Row[], column: string): boolean { return rows.length > 0 && rows.every((row) => /^(?:0|[1-3]\d{9})$/.test(cellText(row[column]))) && rows.some((row) => cellText(row[column]) !== '0'); }

/** Dates of ISO 8601 as text, as a database without a type for them has them. */
function areDates(rows: readonly Row[], column: string): boolean { return rows.length > 0 && rows.every((row) => /^(?:\d{4}-\d\d-\d\d(?:[ T]\d\d:\d\d.*)?)?$/.test(cellText(row[column]))) && rows.some((row) => cellText(row[column]) !== ''); }

/** Can a column hold times: of a type for them, whole numbers of seconds, or dates as text? */
export function holdsTime({ name, storage }: Column, rows: readonly Row[]): boolean { return storage === 'other' || (storage === 'integer' && areSeconds(rows, name)) || (storage === 'text' && areDates(rows, name)); }

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
  return filled.some((text) => /<\/?[a-z][^>]*>|\[[a-z][\w-]* [^\]]*\]/i.test(text)) ? 'html' : undefined;
}
