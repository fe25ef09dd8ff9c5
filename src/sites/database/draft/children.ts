import { cellText, type Row } from '../cells.ts';
import type { Column, Table } from '../engine.ts';
import { isOrder, isText, isTime, made } from './columns.ts';
import { countsUp } from './samples.ts';
import type { TableGuess } from './guess.ts';
import type { Leaf } from './leaves.ts';
import { leavesIn, packingsAt, packingsOf } from './packings.ts';
import { is, type DraftPlan } from './plan.ts';
import { aliasOf, oneOrList, pairs, quotedPath, word } from './words.ts';

/** So many rows are looked into for what is packed in them. */
export const LOOKED_AT = 30;

/** Rows that belong to others: `by` says to which, `where` what else has to be so. */
export interface Belonging { readonly one: TableGuess; readonly member: string; readonly by: string; readonly where: Readonly<Record<string, string>>; readonly rows: readonly Row[] }
/** The same under names. */
export interface Named extends Belonging { readonly key: string; readonly value: string }
export interface Child extends Belonging { /** Of its rows, in the value of the item. */ readonly path: string; /** What belongs to these in turn. */ readonly below: readonly Child[]; readonly parent: string | undefined; /** The columns that tell the rows of one item apart. */ readonly id: readonly string[]; readonly columns: readonly Column[] }

/** `above`: what the rows lie in, the item itself or rows of it; `isMeant`: others refer to such rows by their ids. */
export function childOf(plan: DraftPlan, belonging: Belonging, { above = '$', parent, isMeant = true }: { readonly above?: string; readonly parent?: string | undefined; readonly isMeant?: boolean } = {}): Child {
  const { one: { table, points, unique }, member, by, where, rows } = belonging;
  const apart = [by, ...Object.keys(where)];
  const left = table.key.filter((column) => !apart.includes(column));
  const told = parent === undefined && !isMeant ? toldApart(unique, apart) : undefined;
  const id = told ?? (left.length > 0 ? left : table.key.length > 0 ? table.key : ['id']);
  // A key that nobody counts up says something, and so does one that is the id of another row.
  const columns = [...table.columns.values()].filter((column) => (!(told ? table.key : id).includes(column.name) || table.key.length > 1 || points.has(column.name)) && !apart.includes(column.name) && column.name !== parent && !isTime(column, rows));
  const path = `${above}${parent === undefined ? '' : '.'}.${member}[*]`;
  return { ...belonging, path, below: ownedBy(plan, table.name, path), parent, id, columns };
}

/** What belongs to rows of a table that lie at a path. */
export function ownedBy(plan: DraftPlan, table: string, above: string): Child[] {
  return plan.own.filter(is('records')).flatMap((other) => {
    const owner = plan.ownerOf(other);
    return owner?.table === table ? [childOf(plan, { one: other, member: plan.alias(other.table.name), by: owner.column, where: {}, rows: other.samples }, { above, parent: other.guess.parent, isMeant: plan.isMeant(other) })] : [];
  });
}

/** The columns of which an index says that no two rows of one item have the same there, such as the language of its texts. */
function toldApart(unique: TableGuess['unique'], apart: readonly string[]): string[] | undefined {
  const [found] = unique.filter((columns) => columns.length > apart.length && apart.every((column) => columns.includes(column)));
  return found?.filter((column) => !apart.includes(column));
}

/** All of them, at any depth: what a kind says of rows it says of each list. */
export function withBelow(children: readonly Child[]): Child[] { return children.flatMap((child) => [child, ...withBelow(child.below)]); }

/** Members of a value for such rows of a row with this key. */
export function membersOf(plan: DraftPlan, key: string, named: readonly Named[], children: readonly Child[]): string[] {
  return [
    ...named.map(({ one, member, by, where, key: name, value }) => `${member}: { fields: { from: ${plan.alias(one.table.name)}${conditions(where)}, on: ${pairs({ [by]: word(key) })}, key: ${word(name)}, value: ${word(value)}${createOf(one)} } }`),
    ...children.map((child) => `${child.member}: ${listText(plan, key, child)}`),
  ];
}

function listText(plan: DraftPlan, key: string, { one, member, by, where, parent, id, columns, below }: Child): string {
  // A place that is a part of the key is no mere place.
  const order = columns.find((column) => isOrder(column) && !id.includes(column.name))?.name;
  return `{ list: { from: ${plan.alias(one.table.name)}${conditions(where)}, on: ${pairs({ [by]: word(key) })}, order: [${[...(order === undefined ? [] : [order]), ...id].map(word).join(', ')}], id: ${oneOrList(id.map(word))}, value: ${pairs(Object.fromEntries([...columns.filter(({ name }) => name !== order).map(({ name }) => [aliasOf(name), word(name)] as const), ...below.map((child) => [child.member, listText(plan, one.table.key[0] ?? 'id', child)] as const)]))}${parent === undefined ? '' : `, tree: { parent: ${word(parent)}, member: ${member} }`}${createOf(one, id[0])} } }`;
}

/** What a new row needs beside what it says: a key that the program makes up, and times. */
export function createOf({ table, samples, points }: Pick<TableGuess, 'table' | 'samples' | 'points'>, key = table.key[0] ?? ''): string {
  // What is the id of another row is not made up.
  const create = made(table, samples, points.has(key) ? '' : key);
  return create === undefined ? '' : `, ${create}`;
}

const IN_LIST = '[*]';

/** What a kind says of the rows that belong to its own. `knownAs`: the word by which its values mean single ones of a table. */
export function belongingLines(children: readonly Child[], knownAs: (table: Table) => string | undefined = () => undefined): string[] {
  // Child rows with one word that tells them apart are known by it.
  const keyed = children.filter(({ one: { table }, id }) => id.length === 1 && (table.key.length > 1 || !table.key.includes(id[0] ?? ''))).map(({ path, id }) => `{ path: ${quotedPath(path.slice(0, -IN_LIST.length))}, key: ${aliasOf(id[0] ?? '')} }`);
  return [
    ...(children.length > 0 ? [`    belongings: [${children.map((child) => `{ path: '${child.path}', id: id${known(child, knownAs(child.one.table))} }`).join(', ')}]`] : []),
    ...(keyed.length === 0 ? [] : [`    keyed: [${keyed.join(', ')}]`]),
  ];
}

/** Told apart by their titles, or else by whatever words they have. */
function known({ one: { guess }, columns }: Child, as: string | undefined): string {
  // Rows of several sorts in one table have no one word.
  if (as === undefined || as.startsWith('[')) return '';
  const title = guess.is === 'records' ? guess.title ?? guess.name : undefined;
  const by = [...(title === undefined ? [] : [title]), ...columns.filter((column) => column.name !== title && isText(column)).map(({ name }) => name)];
  return `, known: ${as}, by: [${by.map((name) => quotedPath(`$.${aliasOf(name)}`)).join(', ')}]`;
}

export function codecsBelow(plan: DraftPlan, named: readonly Named[], children: readonly Child[]): string[] {
  return [
    ...named.flatMap(({ rows, member, value }) => packingsAt(rows.map((row) => cellText(row[value])), `$.${member}.*`, plan.shown)),
    ...children.flatMap((child) => packingsOf(child.columns, child.rows, child.path, plan.shown)),
  ];
}

export function referencesBelow(plan: DraftPlan, children: readonly Child[]): string[] {
  return [
    ...children.flatMap((child) => pointing(plan, child.columns, child.one, child.path)),
    ...children.flatMap((child) => plan.referencesIn(inChild(child).filter(([path]) => path !== child.path), plan.around(child.one))),
  ];
}

/** Rules for columns that point to tables which are described: to one, or to that which a word beside them says. */
export function pointing(plan: DraftPlan, columns: readonly Column[], { points, pairs: words, samples }: Pick<TableGuess, 'points' | 'pairs' | 'samples'>, above: string): string[] {
  return columns.flatMap((column) => {
    const { name } = column;
    const pair = words.find(({ by }) => by === name);
    const sorts = [...pair?.words ?? []].filter(([, table]) => table !== '' && plan.isDescribed(table));
    if (pair && new Set(sorts.map(([, table]) => table)).size > 1) return [`{ path: ${quotedPath(`${above}.${aliasOf(name)}`)}, kindFrom: { field: ${aliasOf(pair.of)}, map: ${pairs(Object.fromEntries(sorts.map(([said, table]) => [word(said), plan.kindsIn(table)])))} } }`];
    const to = points.get(name);
    if (to === undefined && (plan.like !== undefined || countsUp(samples, name)) && plan.isNumber(column, samples)) return [`{ path: ${quotedPath(`${above}.${aliasOf(name)}`)}, to: [] }`];
    return to === undefined || !plan.isDescribed(to) ? [] : [plan.reference(`${above}.${aliasOf(name)}`, to)];
  });
}

/** Places of columns whose ids are of rows that no kind describes: on another site they would mean others. */
export function strandedIn(plan: DraftPlan, columns: readonly Column[], { points }: Pick<TableGuess, 'points'>, above: string): string[] {
  return columns.filter(({ name }) => { const to = points.get(name); return to !== undefined && !plan.hasRows(to); }).map(({ name }) => quotedPath(`${above}.${aliasOf(name)}`));
}

/** Places in packed values where each row says its own id once more. `key`: the column with it; of child rows, with that of the row that they belong to. */
export function ownIds(columns: readonly Column[], rows: readonly Row[], key: string, above: string): string[] {
  return columns.flatMap(({ name }) => {
    const path = `${above}.${aliasOf(name)}`;
    const said = rows.slice(0, LOOKED_AT).flatMap((row) => leavesIn(cellText(row[name]), [above, aliasOf(name)]).filter(([at, last]) => at === path && last === 'id').map(([, , text]) => text === cellText(row[key])));
    return said.length > 0 && said.every(Boolean) ? [`${path}.id`] : [];
  });
}

/** The same of child rows. */
export function ownerIds(child: Child): string[] { return ownIds(child.columns, child.rows, child.by, child.path); }

export function inFields({ rows, member, key, value }: Named): Leaf[] { return rows.flatMap((row) => leavesIn(cellText(row[value]), ['$', member, cellText(row[key])])); }

export function inChild(child: Child): Leaf[] { return child.rows.slice(0, LOOKED_AT).flatMap((row) => child.columns.flatMap(({ name }) => leavesIn(cellText(row[name]), [child.path, aliasOf(name)]))); }

export function conditions(where: Readonly<Record<string, string>>): string { return Object.keys(where).length === 0 ? '' : `, where: ${pairs(where)}`; }
