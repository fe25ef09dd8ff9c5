import { shortKind } from '../../core/address.ts';
import type { IndexRow } from '../../core/siteindex.ts';
import { TextMap } from '../../core/columns.ts';
import { cellText, type Row } from './cells.ts';
import { numbersIn } from './heldid.ts';
import { columnsOf, ownersOf, type Rows } from './layout/schema.ts';
import type { KindRows } from './shape.ts';
import type { AskedNames, Ground, Outline } from './store.ts';

/** Names of items by id, of those kinds whose ids others have in their names. */
export class Names {
  /** By kind, and then by id. */
  readonly #names: ReadonlyMap<KindRows, TextMap>;
  readonly #called = new Map<string, readonly TextMap[]>();
  /** Ids that were asked for one by one. */
  readonly #asked = new Map<KindRows, Set<string>>();

  constructor(all: readonly KindRows[]) {
    this.#names = new Map(all.flatMap((kind) => referred(kind, all)).map((kind) => [kind, new TextMap()]));
  }

  add(kind: KindRows, { id, name }: Outline): void { this.#names.get(kind)?.set(String(id), name); }

  /** Those of the ids that may be of such a kind and were not asked for yet; now they are. */
  missing({ kinds, ids }: AskedNames): [kind: KindRows, ids: string[]][] {
    return [...new Set(kinds.flatMap((one) => called(one, [...this.#names.keys()])))].map((kind): [KindRows, string[]] => {
      const asked = this.#asked.get(kind) ?? new Set<string>();
      this.#asked.set(kind, asked);
      const open = [...new Set(ids)].filter((id) => id !== '' && !asked.has(id) && this.#names.get(kind)?.has(id) !== true);
      for (const id of open) asked.add(id);
      return [kind, open];
    }).filter(([, open]) => open.length > 0);
  }

  of(kinds: string | readonly string[], id: string): string | undefined {
    if (typeof kinds === 'string') return this.#of(kinds, id);
    for (const kind of kinds) { const name = this.#of(kind, id); if (name !== undefined) return name; }
    return undefined;
  }

  #of(kind: string, id: string): string | undefined {
    const known = this.#called.get(kind) ?? called(kind, [...this.#names.keys()]).flatMap((one) => this.#names.get(one) ?? []);
    this.#called.set(kind, known);
    for (const names of known) { const name = names.get(id); if (name !== undefined) return name; }
    return undefined;
  }
}

/** Ids that the names of rows hold, with the kinds that they may be of. */
export function idsInNames(rows: Rows, list: readonly Row[], captures: ((text: string) => Record<string, string> | undefined) | undefined): AskedNames[] {
  const { pattern, holding } = rows;
  const parts = pattern === undefined ? [] : Object.entries(rows.ids).map(([part, kinds]) => ({ kinds: [kinds].flat(), ids: list.flatMap((row) => captures?.(cellText(row[pattern.column]))?.[part] ?? []) }));
  const held = holding === undefined ? [] : list.flatMap((row) => numbersIn(cellText(row[holding.column])));
  return [...parts, ...heldKinds(rows).map(([, kinds]) => ({ kinds, ids: held }))];
}

/** Ids of those whom rows belong to. */
export function ownersIn(rows: Rows, list: readonly Row[]): AskedNames[] {
  return columnsOf(rows.value).flatMap(({ column, owner }) => (owner === undefined ? [] : [{ kinds: [owner], ids: list.map((row) => cellText(row[column])) }]));
}

/** A part of a pattern as names have it: the name of an item for its id. */
export function partName(rows: Rows, part: string, text: string | undefined, nameOf: Ground['nameOf']): string | undefined {
  const kinds = text === undefined ? undefined : rows.ids[part];
  return kinds === undefined || text === undefined ? text : nameOf(kinds, text) ?? text;
}

/** The kinds in an order in which each can be read: what takes the rest of a table after all others of that table, and names after what they name. */
export function scanOrder(kinds: readonly KindRows[]): KindRows[] {
  const before = new Map(kinds.map((kind) => [kind, [...referred(kind, kinds), ...(kind.rows.rest ? kinds.filter((other) => other.rows.from === kind.rows.from && !other.rows.rest) : [])].filter((other) => other !== kind)]));
  const order: KindRows[] = [];
  const done = new Set<KindRows>();
  while (order.length < kinds.length) {
    const open = kinds.filter((kind) => !done.has(kind));
    // Where they wait for one another, what takes the rest still comes last.
    const next = open.find((kind) => before.get(kind)?.every((other) => done.has(other))) ?? open.find((kind) => !kind.rows.rest) ?? open[0];
    if (!next) break;
    order.push(next);
    done.add(next);
  }
  return order;
}

/** Kinds whose items it has to know by id. */
function referred({ rows }: KindRows, all: readonly KindRows[]): KindRows[] { return [...Object.values(rows.ids).flat(), ...heldKinds(rows).flatMap(([, to]) => to), ...ownersOf(rows.value)].flatMap((name) => called(name, all)); }

/** Members for ids that names of rows may hold, with their kinds. */
export function heldKinds({ holding }: Pick<Rows, 'holding'>): [member: string, to: string[]][] { return Object.entries(holding?.ids ?? {}).map(([member, { to }]) => [member, [to].flat()]); }

function called(name: string, all: readonly KindRows[]): KindRows[] { return all.filter(({ description: { id, among = id } }) => [id, shortKind(id), among, shortKind(among)].includes(name)); }

/** One that has its name to itself, and cannot travel: another one was called so before. */
export function withOwnName(row: IndexRow): IndexRow {
  return { ...row, name: `${row.name}~${row.id}`, unavailable: { why: 'same-name', extension: '', detail: `id ${row.id}` } };
}
