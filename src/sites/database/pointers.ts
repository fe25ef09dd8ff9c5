import { sql } from 'kysely';
import { Entries, type Node } from '../../core/tree.ts';
import { cellText, type Row } from './cells.ts';
import { keyOf, type Cells, type Changes } from './changes.ts';
import { conditions } from './condition.ts';
import type { Executor, Table } from './engine.ts';
import type { Spec } from './layout/schema.ts';
import { capturing, fill } from './layout/template.ts';
import { membersOf, withMembers, packed, unpacked } from './packed.ts';
import { Refused, type Ground } from './store.ts';

type Rule = Extract<Spec, { pointers: unknown }>['pointers'];
/** A record that an entry names, exactly: which row it lies in, under which number, and at which place of that row. */
export interface PointedRecord { readonly pointer: string; readonly text: string | null; readonly at?: number }

/**
 * A list of names such as `note-4`, each of which means record 4 in the packed value of another row. The records are belongings of the list:
 * they come along, and each site numbers them for itself.
 */
export class PointerRecords {
  readonly #ground: Ground;
  readonly #rule: Rule;
  readonly #table: Table;
  readonly #read: (text: string) => Record<string, string> | undefined;
  /** Rows by the values of their conditions. */
  readonly #rows = new Map<string, Row>();

  readonly #made = new Map<string, Cells>();
  readonly #create: Readonly<Record<string, string>>;

  /** `create`: what a new row has besides its name and its records. */
  constructor(ground: Ground, rule: Rule, create: Readonly<Record<string, string>>) {
    this.#create = create;
    this.#ground = ground;
    this.#rule = rule;
    this.#table = ground.shape.table(rule.from);
    this.#read = capturing(rule.pattern);
  }

  /** Fetches the rows that hold the records of these lists. */
  async load(lists: readonly Node[], at: Executor, lock: boolean): Promise<void> {
    const { engine } = this.#ground;
    const wanted = new Map(lists.flatMap(textsOf).map((pointer) => [this.#holder(pointer), pointer] as const));
    for (const [column] of Object.entries(this.#rule.where)) {
      const texts = [...wanted.keys()].filter((key) => key !== '');
      if (texts.length === 0) return;
      const rows = await engine.rows(this.#table, sql`where ${conditions(engine, this.#table, { [column]: texts })} ${lock ? engine.own.forUpdate : sql``}`, at);
      for (const row of rows) { const key = cellText(row[column]); if (!this.#rows.has(key)) this.#rows.set(key, row); }
    }
  }

  /** The value of the column that the row with the record is found by. */
  #holder(pointer: string): string {
    const captures = this.#read(pointer);
    const [template = ''] = Object.values(this.#rule.where);
    return captures ? fill(template, (name) => captures[name]) : '';
  }

  /** Keys of the rows that the records of a list lie in. */
  rowKeys(list: Node): string[] { return [...new Set(textsOf(list).map((pointer) => this.#holder(pointer)))].flatMap((holder) => { const row = this.#rows.get(holder); return row ? [keyOf(this.#table, row)] : []; }); }

  records(list: Node): PointedRecord[] { return textsOf(list).map((pointer) => this.#record(pointer)); }

  #record(pointer: string): PointedRecord {
    const row = this.#rows.get(this.#holder(pointer));
    const number = this.#read(pointer)?.[this.#rule.number];
    const members = row && number !== undefined ? membersOf(unpacked(cellText(row[this.#rule.column]), this.#rule.codec)) : [];
    const at = members.findIndex(([key]) => key === number);
    return at < 0 ? { pointer, text: null } : { pointer, text: packed(members[at]?.[1], this.#rule.codec), at };
  }

  /** The list as belongings: the id of each, what its name says besides its number, and its record. */
  entries(list: Node): Record<string, unknown>[] {
    return textsOf(list).map((pointer) => {
      const { [this.#rule.number]: _own, ...captures } = this.#read(pointer) ?? {};
      return { id: pointer, ...captures, settings: this.#record(pointer).text };
    });
  }

  write(value: unknown, before: Node, changes: Changes): Node {
    if (!Array.isArray(value)) throw new Refused(422, 'a list is expected');
    const old = new Set(textsOf(before));
    const kept = new Set<string>();
    const pointers = value.map((entry: unknown) => {
      const { id, settings, ...captures } = entry as Record<string, unknown>;
      const texts = Object.fromEntries(Object.entries(captures).map(([key, one]) => [key, typeof one === 'string' ? one : '']));
      const reused = typeof id === 'string' && old.has(id) && !kept.has(id) && this.#holder(id) === this.#holder(fill(this.#rule.pattern, (name) => (name === this.#rule.number ? '0' : texts[name])));
      const pointer = reused ? id : this.#free(texts, changes, kept);
      kept.add(pointer);
      this.#set(pointer, typeof settings === 'string' ? settings : null, changes);
      return pointer;
    });
    for (const pointer of old) if (!kept.has(pointer)) this.#set(pointer, null, changes);
    return pointers;
  }

  drop(list: Node, changes: Changes): void { for (const pointer of textsOf(list)) this.#set(pointer, null, changes); }

  /** Puts records where they were, each at its place of its row: the first places first, so that every one is there when it is taken. */
  async bringBack(records: readonly PointedRecord[], changes: Changes): Promise<void> {
    await this.load([records.map(({ pointer }) => pointer)], changes.at, false);
    for (const { pointer, text, at } of [...records].sort((a, b) => (a.at ?? 0) - (b.at ?? 0))) this.#set(pointer, text, changes, at);
  }

  /** `given`: names that have no record and are taken all the same. */
  #free(captures: Readonly<Record<string, string>>, changes: Changes, given: ReadonlySet<string>): string {
    const name = (number: string): string => fill(this.#rule.pattern, (one) => (one === this.#rule.number ? number : captures[one]));
    const taken = membersOf(this.#current(name('0'), changes)).map(([key]) => Number(key)).filter(Number.isInteger);
    let number = Math.max(1, ...taken) + 1;
    while (given.has(name(String(number)))) number++;
    return name(String(number));
  }

  #current(pointer: string, changes: Changes): Node {
    const text = this.#cells(pointer, changes)?.[this.#rule.column];
    return typeof text === 'string' ? unpacked(text, this.#rule.codec) : undefined;
  }

  /** The cells of the row that holds such records, as they will be. */
  #cells(pointer: string, changes: Changes): Cells | undefined {
    const holder = this.#holder(pointer);
    const row = this.#rows.get(holder);
    return row ? changes.edit(this.#table, row) : this.#made.get(holder);
  }

  /** A site on which nothing of this sort was ever placed has no row for it yet. */
  #newRow(pointer: string, changes: Changes): Cells {
    const [column = ''] = Object.keys(this.#rule.where);
    const cells: Cells = { ...this.#create, [column]: this.#holder(pointer), [this.#rule.column]: this.#rule.first ?? packed([], this.#rule.codec) };
    this.#made.set(this.#holder(pointer), cells);
    changes.make(this.#table, cells);
    changes.marks.push(this.#mark(pointer));
    return cells;
  }

  /** Puts a record under its number, or takes it away. Where its place is not known, numbers stand in order, before what is no number. */
  #set(pointer: string, text: string | null, changes: Changes, place?: number): void {
    const number = this.#read(pointer)?.[this.#rule.number];
    if (number === undefined) { if (text !== null) throw new Refused(409, `${pointer} is not a name of the form ${this.#rule.pattern}`); return; }
    const cells = this.#cells(pointer, changes) ?? (text === null ? undefined : this.#newRow(pointer, changes));
    if (!cells) return;
    const before = this.#current(pointer, changes);
    const pairs = membersOf(before);
    const at = pairs.findIndex(([key]) => key === number);
    if (text === null) { if (at >= 0) { pairs.splice(at, 1); this.#emptied(pointer, changes); } }
    else if (at >= 0) (pairs[at] as [string, Node])[1] = unpacked(text, this.#rule.codec);
    else {
      const after = pairs.findIndex(([key]) => !/^\d+$/.test(key) || Number(key) > Number(number));
      pairs.splice(place ?? (after < 0 ? pairs.length : after), 0, [number, unpacked(text, this.#rule.codec)]);
    }
    cells[this.#rule.column] = packed(withMembers(before, pairs, pairs.length > 0), this.#rule.codec);
  }

  #emptied(pointer: string, changes: Changes): void {
    const row = this.#rows.get(this.#holder(pointer));
    if (row) changes.emptied.push({ mark: this.#mark(pointer), table: this.#table, row, still: () => !membersOf(this.#current(pointer, changes)).some(([key]) => /^\d+$/.test(key)) });
  }

  #mark(pointer: string): string { return `${this.#table.name} ${this.#holder(pointer)}`; }

  /** Rows of sorts that no list of this site names yet, where something new may have to go. */
  async prepare(values: readonly unknown[], at: Executor): Promise<void> {
    const entries = values.flatMap((value): unknown[] => (Array.isArray(value) ? value : []));
    const names = entries.map((entry) => fill(this.#rule.pattern, (name) => { const part = (entry as Record<string, unknown>)[name]; return name === this.#rule.number ? '1' : typeof part === 'string' ? part : ''; }));
    await this.load([names], at, false);
  }
}

function textsOf(node: Node): string[] {
  const children = Array.isArray(node) ? node : node instanceof Entries ? node.pairs.map(([, value]) => value) : [];
  return children.filter((child): child is string => typeof child === 'string');
}
