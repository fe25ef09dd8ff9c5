import { sql } from 'kysely';
import { byCodeUnit, groupBy } from '../../core/json.ts';
import { cellText, DIGEST, digestOf, SIZE, valueOfCell, type Cell, type Row } from './cells.ts';
import { conditions } from './condition.ts';
import { groupsOf, keyOrder, type Engine, type Executor, type Group, type Table } from './engine.ts';
import type { Rows, Spec } from './layout/schema.ts';
import type { Shape } from './shape.ts';

/** A row with everything that belongs to it. */
export interface Loaded {
  readonly table: Table;
  readonly row: Row;
  readonly joins: Map<string, Loaded>;
  /** It belongs to others too: not made or removed with what it is joined to. */
  readonly shared?: boolean;
  /** By the member of the value that they make. An outline has none. */
  readonly sets: Map<string, Loaded[]>;
  /** All rows that were found for these sets, by their digest. */
  readonly groups: Map<string, Group>;
  /** Words from rows that are tied to it, for its name. */
  readonly labels?: ReadonlyMap<string, string>;
}

export interface Related { readonly from: string; readonly on: Readonly<Record<string, string>>; readonly where: Rows['where']; readonly joins?: Rows['joins'] | undefined }

/** Which columns an outline has, of the row itself and of the rows that it is joined to. */
export interface OutlineColumns { readonly own: ReadonlySet<string>; readonly joined: ReadonlyMap<string, ReadonlySet<string>> }

type Rule = Pick<Rows, 'joins' | 'value'>;
interface Where { readonly engine: Engine; readonly shape: Shape; readonly at: Executor; readonly lock: boolean }

/** A cell by `column` or `join.column`. */
export function cellAt(loaded: Loaded, place: string): string | null {
  const label = loaded.labels?.get(place);
  if (label !== undefined) return label;
  const { holder, column } = holderOf(loaded, place);
  const cell = holder?.row[column];
  return cell === null || cell === undefined ? null : cellText(cell);
}

/** The same as the value of an item has it. */
export function valueAt(loaded: Loaded, place: string): string | number | null {
  const { holder, column } = holderOf(loaded, place);
  const cell = holder?.row[column];
  // Only a cell that is stored otherwise than as text asks for its column: this is done for every value of a site.
  return loaded.labels?.get(place) ?? (typeof cell === 'object' ? valueOfCell(cell, holder?.table.columns.get(column)) : cell ?? null);
}

/** Does a column hold what it shall hold? In one without a type a number is no text. */
export function isStored(loaded: Loaded, place: string, cell: Cell): boolean {
  const { holder, column } = holderOf(loaded, place);
  const there = holder?.table.columns.get(column);
  return cellAt(loaded, place) === (cell === null ? null : cellText(cell)) && (there?.untyped !== true || typeof valueAt(loaded, place) === typeof valueOfCell(cell, there));
}

/** The row that a place means, its own or one that it is joined to. */
export function holderOf(loaded: Loaded, place: string): { readonly holder: Loaded | undefined; readonly column: string } {
  const dot = place.indexOf('.');
  return dot < 0 ? { holder: loaded, column: place } : { holder: loaded.joins.get(place.slice(0, dot)), column: place.slice(dot + 1) };
}

/** A digest of everything of an item that counts: its own row, the rows joined to it, and the rows of its sets. The same for an outline and for the whole. */
export function contentDigest(loaded: Loaded): string {
  let parts = loaded.row[DIGEST] ?? '';
  for (const join of loaded.joins.values()) if (!join.shared) parts += ` ${contentDigest(join)}`;
  for (const [member, group] of loaded.groups) {
    const below = (loaded.sets.get(member) ?? []).filter(hasMore).map(contentDigest);
    parts += ` ${member}=${group.digest}${below.join(' ')}`;
  }
  return digestOf(parts);
}

/** Do other rows belong to this one alone? */
function hasMore({ joins, groups }: Loaded): boolean { return groups.size > 0 || [...joins.values()].some((join) => !join.shared); }

/** Can its content be told from digests of its rows by table, without what belongs to those in turn? */
export function canBeOutlined(rule: Rule & Pick<Rows, 'labels'>): boolean {
  return Object.keys(rule.labels).length === 0 && relatedMembers(rule.value).every(([, related, spec]) => Object.values(related.joins ?? {}).every((join) => join.shared) && !('list' in spec && relatedMembers(spec.list.value).length > 0));
}

/** Bytes of all its rows. */
export function contentSize(loaded: Loaded): number {
  let bytes = loaded.row[SIZE] ?? 0;
  for (const join of loaded.joins.values()) if (!join.shared) bytes += contentSize(join);
  for (const group of loaded.groups.values()) bytes += group.size;
  return bytes;
}

/** Fetches what belongs to rows, for many rows at once: one statement for each sort of related row. */
export class Loader {
  readonly #where: Where;

  constructor(where: Where) { this.#where = where; }

  /** Rows of a table as roots; those that lack a row that they are joined to are none. */
  async roots(rows: readonly Row[], table: Table, rule: Rule & Pick<Rows, 'labels'>): Promise<Loaded[]> {
    const all = await this.#complete(rows.map((row) => bare(table, row)), rule);
    const labels = Object.entries(rule.labels);
    const found = await Promise.all(labels.map(([, label]) => this.#related(all, label)));
    if (labels.length === 0) return all;
    return all.map((one, i) => ({ ...one, labels: new Map(labels.map(([name, label], j): [string, string] => [name, labelOf(found[j]?.found[i] ?? [], label.value)])) }));
  }

  /** The same of rows with a part of their columns: what belongs to them is fetched as digests. */
  async outlines(rows: readonly Row[], table: Table, rule: Rule, { joined }: OutlineColumns): Promise<Loaded[]> {
    const kept = await this.#joined(rows.map((row) => bare(table, row)), rule.joins, joined);
    const members = relatedMembers(rule.value);
    const groups = await Promise.all(members.map(([, related]) => this.#groups(kept, related)));
    // In the order of the members, whichever answer came first: digests are made of them in this order.
    for (const [i, [member, related]] of members.entries()) for (const one of kept) one.groups.set(member, groups[i]?.get(cellAt(one, joining(related)[1]) ?? '') ?? NO_ROWS);
    return kept;
  }

  async #groups(above: readonly Loaded[], related: Related): Promise<Map<string, Group>> {
    const { engine, shape, at } = this.#where;
    const from = shape.table(related.from);
    const [here, there] = joining(related);
    const wanted = [...new Set(above.flatMap((one) => cellAt(one, there) ?? []))];
    return wanted.length === 0 ? new Map() : engine.groups(from, here, sql`${engine.oneOf(from, here, wanted)} and ${conditions(engine, from, related.where)}`, at);
  }

  async #joined(all: Loaded[], joins: Rows['joins'], columns?: OutlineColumns['joined']): Promise<Loaded[]> {
    let kept = all;
    for (const [name, join] of Object.entries(joins)) {
      const { found } = await this.#related(kept, { ...join, joins: {} }, columns && new Set([...columns.get(name) ?? [], ...Object.keys(join.on)]));
      kept = kept.filter((one, i) => { const [row] = found[i] ?? []; if (row) one.joins.set(name, join.shared ? { ...row, shared: true } : row); return row !== undefined; });
    }
    return kept;
  }

  async #complete(all: Loaded[], rule: Rule): Promise<Loaded[]> {
    const kept = await this.#joined(all, rule.joins);
    if (kept.length === 0) return kept;
    for (const [member, related, spec] of relatedMembers(rule.value)) {
      const { found, groups } = await this.#related(kept, related);
      const [, there] = joining(related);
      kept.forEach((one, i) => { one.sets.set(member, found[i] ?? []); one.groups.set(member, groups.get(cellAt(one, there) ?? '') ?? NO_ROWS); });
      if ('list' in spec) await this.#complete(found.flat(), { joins: {}, value: spec.list.value });
    }
    return kept;
  }

  /** For each row above the rows that belong to it; their groups are of all rows, also of those that lack a row they are joined to. */
  async #related(above: readonly Loaded[], rule: Related, columns?: ReadonlySet<string>): Promise<{ found: Loaded[][]; groups: Map<string, Group> }> {
    const { engine, shape, at, lock } = this.#where;
    const table = shape.table(rule.from);
    const [here, there] = joining(rule);
    const wanted = [...new Set(above.flatMap((one) => cellAt(one, there) ?? []))];
    if (wanted.length === 0) return { found: above.map(() => []), groups: new Map() };
    const rest = sql`where ${engine.oneOf(table, here, wanted)} and ${conditions(engine, table, rule.where)} ${keyOrder(table)} ${lock ? engine.own.forUpdate : sql``}`;
    const rows = columns ? await engine.outlines(table, columns, rest, at) : await engine.digested(table, rest, at);
    const byKey = groupBy(await this.#complete(rows.map((row) => bare(table, row)), { joins: rule.joins ?? {}, value: {} }), (one) => cellText(one.row[here]));
    return { found: above.map((one) => byKey.get(cellAt(one, there) ?? '') ?? []), groups: groupsOf(rows, table, here) };
  }
}

const NO_ROWS: Group = { digest: '', size: 0 };

function bare(table: Table, row: Row): Loaded { return { table, row, joins: new Map(), sets: new Map(), groups: new Map() }; }

/** The column of the related rows, and the place above that it equals. */
function joining(rule: Pick<Related, 'on'>): [string, string] {
  const [[here, there] = ['', '']] = Object.entries(rule.on);
  return [here, there];
}

type RelatedSpec = Extract<Spec, { fields: unknown } | { list: unknown } | { ids: unknown }>;

/** The members of a value that are made of related rows. */
export function relatedMembers(value: Readonly<Record<string, Spec>>): [member: string, rule: Related, spec: RelatedSpec][] {
  return Object.entries(value).flatMap(([member, spec]): [string, Related, RelatedSpec][] => {
    if (typeof spec === 'string') return [];
    if ('fields' in spec) return [[member, spec.fields, spec]];
    if ('ids' in spec) return [[member, spec.ids, spec]];
    return 'list' in spec ? [[member, spec.list, spec]] : [];
  });
}

/** Of several rows with a label the first by its text: in which order a server gives them says nothing. */
function labelOf(rows: readonly Loaded[], value: string): string { return rows.map((one) => cellAt(one, value) ?? '').filter((text) => text !== '').sort(byCodeUnit)[0] ?? ''; }
