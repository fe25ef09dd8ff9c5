import { cellText, type Row } from '../cells.ts';
import type { Column } from '../engine.ts';
import { isText } from './columns.ts';

/** A column in which each row of a tree has the ids of those above it, down to its own or to the one right above: "/1/7/12/". `sign`: what stands between them. */
export interface IdPath { readonly column: string; readonly sign: string }

const IDS = /^([/.,|>-]?)(?:\d+(?:([/.,|>-])\d+)*)?\1$/;

/** The columns of a table that are such paths. `ids`: those of its rows; `parent`: the column with the row above, where that is known. */
export function idPaths(columns: readonly Column[], rows: readonly Row[], { key, ids, parent }: { readonly key: readonly string[]; readonly ids: ReadonlySet<string> | undefined; readonly parent: string | undefined }): IdPath[] {
  const [own = '', ...more] = key;
  return ids === undefined || more.length > 0 ? [] : columns.filter(isText).flatMap(({ name }) => {
    const ways = rows.map((row) => ({ row, text: cellText(row[name]) })).filter(({ text }) => /\d/.test(text)).map(({ row, text }) => ({ row, text, way: (text.match(/\d+/g) ?? []).filter((id) => id !== '0') }));
    const ends = (last: (row: Row) => string): boolean => ways.every(({ row, way }) => way.at(-1) === undefined || way.at(-1) === last(row));
    const isPath = ways.some(({ way }) => way.length > 1) && ways.every(({ text, way }) => IDS.test(text) && way.every((id) => ids.has(id))) && (ends((row) => cellText(row[own])) || (parent !== undefined && ends((row) => cellText(row[parent]))));
    const sign = ways.map(({ text }) => /\d([^\d])\d/.exec(text)?.[1]).find((one) => one !== undefined);
    return isPath && sign !== undefined ? [{ column: name, sign }] : [];
  });
}
