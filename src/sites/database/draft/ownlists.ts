import { groupBy } from '../../../core/json.ts';
import { isMeasure } from '../../../core/measures.ts';
import { childrenOf, unwrap, type Node } from '../../../core/tree.ts';
import { cellText, type Row } from '../cells.ts';
import type { Column } from '../engine.ts';
import { SMALLEST } from '../suspicion.ts';
import type { TableGuess } from './guess.ts';
import { step } from './leaves.ts';
import { dataIn } from './samples.ts';
import { aliasOf } from './words.ts';

/** A place in packed values that has ids of rows which point to the very row that it is in, as its entries or as the names of its members. */
export interface OwnList { readonly path: string; readonly of: TableGuess; readonly keys: boolean }
/** Several numbers at one place of a row. */
interface Numbers { readonly path: string; readonly keys: boolean; readonly row: string; readonly ids: readonly string[] }

/**
 * Where rows list what belongs to them by its ids: every number there is one of these, and some list has several. Ids below ten are so by chance
 * too often: such a list has to have all there are. Under a name for a measure two are too few. `key`: the column with the id of a row.
 */
export function ownLists({ rows, columns, key }: { rows: readonly Row[]; columns: readonly Column[]; key: string }, table: string, all: readonly TableGuess[]): OwnList[] {
  const owned = all.flatMap((one) => [...one.points].filter(([, to]) => to === table && one.table.name !== table && one.table.key.length === 1).map(([by]) => ({ one, by })));
  if (owned.length === 0) return [];
  const found = rows.flatMap((row) => columns.flatMap(({ name }): Numbers[] => {
    const data = dataIn(cellText(row[name]));
    return data === undefined ? [] : numbersIn(data, `$.${aliasOf(name)}`).map((one) => ({ ...one, row: cellText(row[key]) }));
  }));
  return [...groupBy(found, ({ path, keys }) => `${path} ${String(keys)}`).values()].flatMap((same): OwnList[] => {
    const of = owned.find(({ one, by }) => areOwn(same, one, by));
    const [first] = same;
    return of && first ? [{ path: first.path, of: of.one, keys: first.keys }] : [];
  });
}

function areOwn(lists: readonly Numbers[], { table: { key: [key = ''] }, samples }: TableGuess, by: string): boolean {
  const ownOf = groupBy(samples, (row) => cellText(row[by]));
  const says = ({ path, row, ids }: Numbers): boolean => {
    const [own, some] = [new Set((ownOf.get(row) ?? []).map((one) => cellText(one[key]))), new Set(ids)];
    const few = isMeasure(/[\w-]+(?=(?:\[\*\])*$)/.exec(path)?.[0] ?? '') ? 2 : 1;
    return some.size > few && (some.size === own.size || ids.some((id) => Number(id) >= SMALLEST));
  };
  return lists.some(says) && lists.every(({ row, ids }) => ids.every((id) => ownOf.get(row)?.some((one) => cellText(one[key]) === id)));
}

/** Lists of numbers, and maps whose members have numbers for names. Lists in a list count together. */
function numbersIn(node: Node, path: string): Omit<Numbers, 'row'>[] {
  const inner = unwrap(node);
  if (Array.isArray(inner)) {
    const ids = inner.map(idIn);
    if (ids.length > 0 && !ids.includes(undefined)) return [{ path: `${path}[*]`, keys: false, ids: ids as string[] }];
    return joined(inner.flatMap((child) => numbersIn(child, `${path}[*]`)));
  }
  const members = childrenOf(inner);
  const names = members.map(([name]) => String(name));
  const keys = names.length > 0 && names.every((name) => AN_ID.test(name));
  return [...(keys ? [{ path, keys, ids: names }] : []), ...joined(members.flatMap(([name, child]) => numbersIn(child, keys ? `${path}.*` : path + step(String(name)))))];
}

/** What stands at one place of a row, together. */
function joined(found: readonly Omit<Numbers, 'row'>[]): Omit<Numbers, 'row'>[] {
  return [...groupBy(found, ({ path, keys }) => `${path} ${String(keys)}`).values()].flatMap((same) => { const [first] = same; return first ? [{ ...first, ids: same.flatMap(({ ids }) => ids) }] : []; });
}

const AN_ID = /^[1-9]\d*$/;
function idIn(node: Node): string | undefined { const inner = unwrap(node); return (typeof inner === 'number' || typeof inner === 'string') && AN_ID.test(String(inner)) ? String(inner) : undefined; }
