import { sql } from 'kysely';
import { localId, type LocalId } from '../../core/siteindex.ts';
import { matches, parsePath } from '../../core/path.ts';
import { keyName } from '../../core/tokens.ts';
import { childOf, Entries, isPlainObject, type Node } from '../../core/tree.ts';
import { cellText, etagOf, type Row } from './cells.ts';
import { keyOf, type Changes } from './changes.ts';
import { conditions } from './condition.ts';
import type { Executor, Table } from './engine.ts';
import type { Rows } from './layout/schema.ts';
import { fill } from './layout/template.ts';
import { membersOf, withMembers, packed, unpacked } from './packed.ts';
import { PointerRecords, type PointedRecord } from './pointers.ts';
import type { KindRows } from './shape.ts';
import { Refused, type Ground, type Made, type NewItem, type Store, type Unit } from './store.ts';

interface InsideUnit extends Unit { readonly row: Row }
/** A record's own portion of the packed value, and where in it it stood. */
interface Portion { readonly row: string; readonly key: string; readonly at: number; readonly text: string; readonly pointed?: readonly PointedRecord[] }

/** Items that are records inside the packed value of a row, so that several items share one row. */
export class InsideStore implements Store {
  readonly #ground: Ground;
  readonly #kind: KindRows;
  readonly #inside: NonNullable<Rows['inside']>;
  readonly #table: Table;
  readonly #pointers: PointerRecords | undefined;
  readonly #pointersMember: string;

  constructor(ground: Ground, kind: KindRows) {
    this.#ground = ground;
    this.#kind = kind;
    this.#inside = kind.rows.inside as NonNullable<Rows['inside']>;
    this.#table = ground.shape.table(kind.rows.from ?? '');
    const found = Object.entries(kind.rows.value).find(([, spec]) => typeof spec === 'object' && 'pointers' in spec);
    this.#pointersMember = found?.[0] ?? '';
    this.#pointers = found && typeof found[1] === 'object' && 'pointers' in found[1] ? new PointerRecords(ground, found[1].pointers, kind.rows.create) : undefined;
  }

  async *all(at: Executor): AsyncGenerator<Unit[]> { yield await this.#units(at, false); }

  outlines(at: Executor): AsyncGenerator<Unit[]> { return this.all(at); }
  someOutlines(ids: readonly LocalId[], at: Executor): Promise<Unit[]> { return this.some(ids, at, false); }

  async some(ids: readonly LocalId[], at: Executor, lock: boolean): Promise<Unit[]> {
    const wanted = new Set(ids.map(String));
    return (await this.#units(at, lock)).filter((unit) => wanted.has(String(unit.id)));
  }

  #holders(at: Executor, lock: boolean): Promise<Row[]> {
    const { engine } = this.#ground;
    return engine.rows(this.#table, sql`where ${conditions(engine, this.#table, this.#kind.rows.where)} ${lock ? engine.own.forUpdate : sql``}`, at);
  }

  async #units(at: Executor, lock: boolean): Promise<InsideUnit[]> {
    const units: InsideUnit[] = [];
    for (const row of await this.#holders(at, lock)) {
      const container = containerOf(unpacked(cellText(row[this.#inside.column]), this.#inside.codec), this.#inside.path);
      const all = membersOf(container);
      const records = all.filter(([key, node]) => !this.#inside.except.includes(key) && (this.#pointers === undefined || Array.isArray(node) || node instanceof Entries));
      await this.#pointers?.load(records.map(([, node]) => node), at, lock);
      for (const child of records) units.push(this.#unit(row, child[0], child[1], all.indexOf(child)));
    }
    return units;
  }

  #unit(row: Row, key: string, node: Node, position: number): InsideUnit {
    const filling = (member: string): string | undefined => (member === 'key' ? key : textOf(childOf(node, member)) ?? (row[member] === undefined ? undefined : cellText(row[member])));
    const name = this.#inside.name === undefined ? key : filling(this.#inside.name) ?? key;
    const pointed = this.#pointers?.records(node);
    const text = packed(node, this.#inside.codec);
    const exact: Portion = { row: keyOf(this.#table, row), key, at: position, text, ...(pointed ? { pointed } : {}) };
    return {
      id: localId(this.#kind.rows.id === undefined ? name : filling(this.#kind.rows.id) ?? name), name, title: fill(this.#kind.rows.title ?? `{key}`, filling) || name, status: 'published',
      etag: etagOf([key, text, pointed?.map(({ pointer, text: record }) => ({ pointer, text: record }))]), size: text.length, exact, claims: () => [keyOf(this.#table, row)], rows: () => [keyOf(this.#table, row), ...(this.#pointers?.rowKeys(node) ?? [])], row, fill: filling,
      value: this.#pointers ? { [this.#pointersMember]: this.#pointers.entries(node) } : { record: text },
    };
  }

  async create({ name }: NewItem, value: Record<string, unknown>, changes: Changes): Promise<Made> {
    const [row] = await this.#holders(changes.at, false);
    await this.#pointers?.prepare([value[this.#pointersMember]], changes.at);
    const key = this.#inside.name === undefined ? name : undefined;
    if (!row) this.#newHolder(key ?? '0', this.#record(value, undefined, changes), changes);
    else this.#edit(row, changes, (children) => { children.push([key ?? nextKey(children), this.#record(value, undefined, changes)]); });
    return { id: () => localId(name) };
  }

  async update(unit: Unit, value: Record<string, unknown>, changes: Changes): Promise<void> {
    const { key } = unit.exact as Portion;
    await this.#pointers?.prepare([value[this.#pointersMember]], changes.at);
    this.#edit((unit as InsideUnit).row, changes, (children) => {
      const child = children.find(([one]) => one === key);
      if (child) child[1] = this.#record(value, child[1], changes);
    });
  }

  remove(unit: Unit, changes: Changes): Promise<void> {
    const { key } = unit.exact as Portion;
    this.#edit((unit as InsideUnit).row, changes, (children) => {
      const at = children.findIndex(([one]) => one === key);
      if (at < 0) return;
      this.#pointers?.drop(children[at]?.[1], changes);
      children.splice(at, 1);
    });
    return Promise.resolve();
  }

  async restore(exact: unknown, unit: Unit | undefined, changes: Changes): Promise<void> {
    const { key, at, text, pointed } = exact as Portion;
    const row = (unit as InsideUnit | undefined)?.row ?? (await this.#holders(changes.at, false))[0];
    if (!row) throw new Refused(409, 'the row that held it is gone');
    this.#edit(row, changes, (children) => {
      const index = children.findIndex(([one]) => one === key);
      if (index >= 0) { this.#pointers?.drop(children[index]?.[1], changes); children.splice(index, 1); }
      children.splice(Math.min(at, children.length), 0, [key, unpacked(text, this.#inside.codec)]);
    });
    if (pointed) await this.#pointers?.bringBack(pointed, changes);
  }

  #record(value: Record<string, unknown>, before: Node, changes: Changes): Node {
    if (this.#pointers) return this.#pointers.write(value[this.#pointersMember], before, changes);
    const { record } = value;
    const node = typeof record === 'string' ? unpacked(record, this.#inside.codec) : undefined;
    if (node === undefined) throw new Refused(422, 'the record is not in its packed form', 'record');
    return node;
  }

  /** Works on the children of the container as they will be, after what other operations of the batch did to the same row. */
  #edit(row: Row, changes: Changes, work: (children: [string, Node][]) => void): void {
    const cells = changes.edit(this.#table, row);
    const root = unpacked(cellText(cells[this.#inside.column] as string), this.#inside.codec);
    if (root === undefined) throw new Refused(409, 'the packed value that holds it cannot be read');
    const container = containerOf(root, this.#inside.path);
    const children = membersOf(container);
    work(children);
    const kept = withMembers(container, children, Array.isArray(container));
    cells[this.#inside.column] = packed(withContainer(root, this.#inside.path, kept), this.#inside.codec);
    if (children.length === 0) changes.emptied.push({ mark: this.#mark, table: this.#table, row, still: () => membersOf(containerOf(unpacked(cellText(cells[this.#inside.column] as string), this.#inside.codec), this.#inside.path)).length === 0 });
  }

  get #mark(): string { return `${this.#table.name} ${JSON.stringify(this.#kind.rows.where)}`; }

  #newHolder(key: string, record: Node, changes: Changes): void {
    if (this.#inside.path !== '$') throw new Refused(409, 'the row that would hold it is not there');
    const fixed = Object.fromEntries(Object.entries(this.#kind.rows.where).flatMap(([column, condition]) => (typeof condition === 'object' ? [] : [[column, String(condition)]])));
    changes.marks.push(this.#mark);
    changes.make(this.#table, { ...Object.fromEntries(Object.entries(this.#kind.rows.create).map(([column, template]) => [column, fill(template, () => '')])), ...fixed, [this.#inside.column]: packed(new Entries([[key, record]], true), this.#inside.codec) });
  }
}

function containerOf(root: Node, path: string): Node { return root === undefined ? undefined : matches(root, parsePath(path))[0]?.node; }

function withContainer(root: Node, path: string, container: Node): Node {
  const [found] = matches(root, parsePath(path));
  const last = found?.way.at(-1);
  if (!found || last === undefined) return container;
  if (found.parent instanceof Entries) { const pair = found.parent.pairs.find(([key]) => keyName(key) === last); if (pair) pair[1] = container; }
  else if (Array.isArray(found.parent)) found.parent[Number(last)] = container;
  else if (isPlainObject(found.parent)) found.parent[String(last)] = container;
  return root;
}

function textOf(node: Node): string | undefined { return typeof node === 'string' ? node : typeof node === 'number' ? String(node) : undefined; }

function nextKey(children: readonly [string, Node][]): string { return String(children.reduce((last, [key]) => (/^\d+$/.test(key) ? Math.max(last, Number(key) + 1) : last), 0)); }
