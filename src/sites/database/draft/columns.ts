import { uncamelled } from '../../../core/words.ts';
import type { Row } from '../cells.ts';
import type { Column, Table } from '../engine.ts';
import { holdsTime, isFilled, isMade } from './samples.ts';

const VOLATILE = /^(?!(?:max|min|limit|allowed)_)(?:.*_)?(?:[a-z]*(?<!ac|dis|head)count(?:s|er|ers)?|seen|views|visits|hits|uses|[a-z]*(?:modified|changed|updated)|last(?=_(?!name)))(?:_|$)/i;
/** When a row was made: every site has its own time. */
const MADE = /created|added_|_added|inserted|registered/i;

/** Counters and times: they mean nothing, and every site has its own. */
export function isTime(column: Column, rows: readonly Row[]): boolean { return VOLATILE.test(uncamelled(column.name)) || (MADE.test(uncamelled(column.name)) && holdsTime(column, rows)); }

export function isOrder({ name, storage }: Column): boolean { return storage === 'integer' && /pos(?!t)|order|sort|rank/i.test(name) && !/(^|_)id$/.test(uncamelled(name)); }

export function orderOf(table: Table): string | undefined { return [...table.columns.values()].find(isOrder)?.name; }

/** The time at which a row was taken away without being removed: such rows are nothing any more. */
export function goneOf(table: Table): string | undefined { return [...table.columns.values()].find(({ name, nullable }) => nullable && /^(?:deleted|removed|trashed)(?:_?(?:at|on|date|time))?$/i.test(name))?.name; }

/** The numbers of a nested set, which say where a row is in a tree: only the CMS can count them anew. */
export function nestedOf(table: Table): readonly string[] {
  const found = [...table.columns.values()].filter(({ name, storage }) => storage === 'integer' && /^_?(?:lft|rgt|left|right|lvl|depth|tree_?(?:left|right|level))$/i.test(name)).map(({ name }) => name);
  return found.filter((name) => /l(?:e)?ft/i.test(name)).length === 1 && found.some((name) => /rgt|right/i.test(name)) ? found : [];
}

/** When a row was made or changed last: a new one has such a time as well, where the others have it. */
const STAMP = /creat|added|insert|modif|updat|chang/i;

/** What a new row has in columns that need a time, and as a key that is made up. */
export function made(table: Table, rows: readonly Row[], key: string): string | undefined {
  const times = [...table.columns.values()].filter((column) => isTime(column, rows) && !column.filled && holdsTime(column, rows) && (!column.nullable || (STAMP.test(column.name) && isFilled(rows, column.name))));
  const lines = [...(isMade(rows, key) ? [`${key}: '{uuid}'`] : []), ...times.map(({ name, storage }) => `${name}: '${storage === 'integer' ? '{now seconds}' : '{now}'}'`)];
  return lines.length === 0 ? undefined : `create: { ${lines.join(', ')} }`;
}
