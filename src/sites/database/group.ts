import { sql } from 'kysely';
import { setOwn } from '../../core/json.ts';
import type { LocalId } from '../../core/siteindex.ts';
import { cellText, driverText, etagOf, type Row } from './cells.ts';
import { keyOf, type Changes } from './changes.ts';
import { conditions } from './condition.ts';
import type { Executor, Table } from './engine.ts';
import { capturing, fill } from './layout/template.ts';
import { partName } from './names.ts';
import { idParts, withNames } from './rowwriter.ts';
import type { Rows } from './layout/schema.ts';
import type { KindRows } from './shape.ts';
import { Refused, type Ground, type Made, type NewItem, type Store, type Unit } from './store.ts';

interface GroupUnit extends Unit { readonly members: ReadonlyMap<string, Row> }

/** Items that are all rows of a key-value table whose keys begin alike: one row for each member. */
export class GroupStore implements Store {
  readonly #ground: Ground;
  readonly #rows: Rows;
  readonly #group: NonNullable<Rows['group']>;
  readonly #table: Table;
  /** How the keys of its rows look. */
  readonly #like: readonly string[];
  readonly #capture: (text: string) => Record<string, string> | undefined;

  constructor(ground: Ground, kind: KindRows) {
    this.#ground = ground;
    this.#rows = kind.rows;
    this.#group = kind.rows.group as NonNullable<Rows['group']>;
    this.#table = ground.shape.table(kind.rows.from ?? '');
    this.#like = (this.#group.members ?? ['*']).map((member) => this.#group.text.replace('{member}', member).replace(/\{\w+\}/g, '*'));
    this.#capture = capturing(this.#group.text);
  }

  async *all(at: Executor): AsyncGenerator<Unit[]> { yield await this.#units(at, false); }

  outlines(at: Executor): AsyncGenerator<Unit[]> { return this.all(at); }
  someOutlines(ids: readonly LocalId[], at: Executor): Promise<Unit[]> { return this.some(ids, at, false); }

  async some(ids: readonly LocalId[], at: Executor, lock: boolean): Promise<Unit[]> {
    const wanted = new Set(ids.map(String));
    const units = await this.#units(at, lock, true);
    return units.filter((unit) => wanted.has(String(unit.id)));
  }

  /** `alone`: not with the items of all other kinds. */
  async #units(at: Executor, lock: boolean, alone = false): Promise<GroupUnit[]> {
    const { engine } = this.#ground;
    const said = this.#rows.where[this.#group.column];
    const where = { ...this.#rows.where, [this.#group.column]: { ...(typeof said === 'object' && !Array.isArray(said) ? said : {}), like: [...this.#like] } };
    const order = sql.join(this.#table.key.map((name) => sql.ref(name)));
    const rows = await engine.rows(this.#table, sql`where ${conditions(engine, this.#table, where)} order by ${order} ${lock ? engine.own.forUpdate : sql``}`, at);
    if (alone) await this.#ground.learn(() => Object.entries(this.#rows.ids).map(([part, kinds]) => ({ kinds: [kinds].flat(), ids: rows.flatMap((row) => this.#read(cellText(row[this.#group.column]))?.[part] ?? []) })), at);
    const groups = new Map<string, { captures: Record<string, string>; rows: Map<string, Row> }>();
    for (const row of rows) {
      const captures = this.#read(cellText(row[this.#group.column]));
      if (!captures) continue;
      const name = fill(this.#rows.name ?? this.#group.text.replace(/[{}]|_?\{member\}/g, ''), (one) => partName(this.#rows, one, captures[one], this.#ground.nameOf));
      const group = groups.get(name) ?? { captures, rows: new Map<string, Row>() };
      groups.set(name, group);
      group.rows.set(captures['member'] ?? '', row);
    }
    return [...groups].map(([name, group]) => this.#unit(name, group.captures, group.rows));
  }

  /** The parts of a key; nothing where it only looks like one of this kind. */
  #read(key: string): Record<string, string> | undefined {
    const captures = this.#capture(key);
    return this.#group.members?.includes(captures?.['member'] ?? '') === false ? undefined : captures;
  }

  #unit(name: string, captures: Record<string, string>, rows: ReadonlyMap<string, Row>): GroupUnit {
    const members: Record<string, unknown> = {};
    for (const [member, row] of rows) setOwn(members, member, row[this.#group.value] === null ? null : cellText(row[this.#group.value]));
    const exact = [...rows.values()];
    return {
      id: this.#idOf(name, captures), name, title: fill(this.#rows.title ?? name, (one) => partName(this.#rows, one, captures[one], this.#ground.nameOf)), status: 'published', etag: etagOf(exact), size: JSON.stringify(members).length,
      value: { members, ...Object.fromEntries(Object.keys(this.#rows.ids).map((part) => [part, captures[part]])) }, exact, claims: () => exact.map((row) => keyOf(this.#table, row)), rows: () => exact.map((row) => keyOf(this.#table, row)), fill: (one) => captures[one], members: rows,
    };
  }

  /** The site's own: where ids are parts of the name, with the ids. */
  #idOf(name: string, captures: Readonly<Record<string, string>>): string {
    return Object.keys(this.#rows.ids).length === 0 ? name : fill(this.#rows.name ?? name, (one) => captures[one]);
  }

  create({ name }: NewItem, value: Record<string, unknown>, changes: Changes): Promise<Made> {
    this.#write(name, new Map(), value, changes);
    return Promise.resolve({ id: () => this.#idOf(name, idParts(this.#rows, value)) });
  }

  update(unit: Unit, value: Record<string, unknown>, changes: Changes): Promise<void> {
    this.#write(unit.name, (unit as GroupUnit).members, value, changes);
    return Promise.resolve();
  }

  #write(name: string, there: ReadonlyMap<string, Row>, value: Record<string, unknown>, changes: Changes): void {
    const { members } = value;
    if (typeof members !== 'object' || members === null) throw new Refused(422, 'members are expected');
    const parts = idParts(this.#rows, value);
    const captures = { ...capturing(withNames(this.#rows, this.#rows.name ?? '', parts, this.#ground.nameOf))(name), ...parts };
    for (const [member, text] of Object.entries(members)) {
      const row = there.get(member);
      const cell = typeof text === 'string' ? text : text === null ? null : driverText(text);
      if (row) changes.edit(this.#table, row)[this.#group.value] = cell;
      else changes.make(this.#table, { ...Object.fromEntries(Object.entries(this.#rows.create).map(([column, template]) => [column, fill(template, () => '')])), [this.#group.column]: fill(this.#group.text, (one) => (one === 'member' ? member : captures[one])), [this.#group.value]: cell });
    }
    for (const [member, row] of there) if (!Object.hasOwn(members, member)) changes.remove(this.#table, row);
  }

  remove(unit: Unit, changes: Changes): Promise<void> {
    for (const row of (unit as GroupUnit).members.values()) changes.remove(this.#table, row);
    return Promise.resolve();
  }

  async restore(exact: unknown, unit: Unit | undefined, changes: Changes): Promise<void> {
    if (unit) await this.remove(unit, changes);
    for (const row of exact as Row[]) changes.bringBack(this.#table, row);
  }
}
