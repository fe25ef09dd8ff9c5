import { madeFor } from '../../core/madeid.ts';
import { cellOfValue, cellText, type Cell } from './cells.ts';
import { NewRow, Sought, type Cells, type Changes } from './changes.ts';
import { numberedBy, type Column, type Table } from './engine.ts';
import { columnsOf, type Fields, type Ids, type ListRule, type Rows, type Spec } from './layout/schema.ts';
import { capturing, fill, MADE } from './layout/template.ts';
import { cellAt, holderOf, isStored, type Loaded, type Related } from './loaded.ts';
import { withHeld } from './heldid.ts';
import { heldKinds, partName } from './names.ts';
import { partsOf } from './rowid.ts';
import { newStatus } from './status.ts';
import { Refused, type Ground, type NewItem } from './store.ts';
import { attributeRow, entryId, fieldRows, inOrder, ownerOf } from './valuereader.ts';

type Value = Record<string, unknown>;
/** A row that is being made, with the rows that it is joined to. */
class Begun {
  readonly row: NewRow;
  readonly joins: ReadonlyMap<string, NewRow>;

  constructor(row: NewRow, joins: ReadonlyMap<string, NewRow>) {
    this.row = row;
    this.joins = joins;
  }
}
/** A row that is there, or one that is being made. */
type Owner = Loaded | Begun;

/** Makes rows out of local values. Only what a value says is touched. */
export class RowWriter {
  readonly #ground: Ground;
  readonly #changes: Changes;
  /** When what is made was made where it comes from. */
  #created: string | undefined;

  constructor(ground: Ground, changes: Changes) {
    this.#ground = ground;
    this.#changes = changes;
  }

  create(rows: Rows, table: Table, about: NewItem, value: Value): NewRow {
    this.#created = about.created;
    // Rows that several columns tell apart are called as these say, unless the layout gives them another name.
    const named = rows.name === undefined && rows.id === undefined && table.key.length > 1 ? partsOf(table.key, about.name) : { ...namesOf(rows, about.name, idParts(rows, value), this.#ground.nameOf), ...heldName(rows, about.name, value, this.#ground.nameOf) };
    const columns: Record<string, Cell> = {};
    if (rows.status) columns[rows.status.column] = newStatus(rows.status, about.status, value);
    for (const [column, condition] of Object.entries(rows.where)) { const [only, ...more] = fixed(condition); if (only !== undefined && more.length === 0) columns[column] = only; }
    Object.assign(columns, this.#cells(rows.value, value));
    Object.assign(columns, named);
    const begun = this.#begin(rows, table, columns, {}, rows.create);
    this.#below(rows.value, begun, undefined, value);
    return begun.row;
  }

  /** Makes a row, and before it the rows that it points to. `columns` go by `column` or `join.column`. */
  #begin(rule: { joins?: Rows['joins'] | undefined }, table: Table, columns: Readonly<Record<string, Cell>>, links: Cells, create: Readonly<Record<string, string>>): Begun {
    const of = (name: string): Cells => Object.fromEntries(Object.entries(columns).filter(([column]) => column.startsWith(`${name}.`)).map(([column, cell]) => [column.slice(name.length + 1), cell]));
    const joins = new Map<string, NewRow>();
    const cells: Cells = { ...Object.fromEntries(Object.entries(columns).filter(([column]) => !column.includes('.'))), ...links };
    for (const [name, join] of Object.entries(rule.joins ?? {})) {
      if (join.shared) continue;
      const row = this.#make(this.#ground.shape.table(join.from), { ...of(name), ...fixedCells(join.where) }, create);
      joins.set(name, row);
      for (const there of Object.values(join.on)) cells[there] = row;
    }
    return new Begun(this.#make(table, cells, create), joins);
  }

  update(specs: Readonly<Record<string, Spec>>, loaded: Loaded, value: Value): void {
    for (const [place, cell] of Object.entries(this.#cells(specs, value, loaded))) {
      const { holder, column } = holderOf(loaded, place);
      if (holder && !isStored(loaded, place, cell)) this.#changes.edit(holder.table, holder.row)[column] = cell;
    }
    this.#below(specs, loaded, loaded, value);
  }

  #below(specs: Readonly<Record<string, Spec>>, owner: Owner, loaded: Loaded | undefined, value: Value): void {
    for (const [member, spec] of Object.entries(specs)) {
      if (typeof spec === 'string' || value[member] === undefined) continue;
      const rows = loaded?.sets.get(member) ?? [];
      if ('fields' in spec) this.#fields(spec.fields, owner, rows, mapOf(value[member], member));
      else if ('ids' in spec) this.#ids(spec.ids, owner, rows, listOf(value[member], member).map((one) => cellText(cellOf(one, member))));
      else if ('list' in spec) this.#list(spec.list, owner, rows, listOf(value[member], member), member);
    }
  }

  #fields(rule: Fields, owner: Owner, rows: readonly Loaded[], wanted: Value): void {
    const table = this.#ground.shape.table(rule.from);
    const there = fieldRows(rule, rows);
    const [link = ''] = Object.values(rule.on);
    const self = owner instanceof Begun ? this.#above(owner, link) : cellAt(owner, link);
    const desired = new Map<string, Cells[string][]>(Object.entries(wanted).map(([key, one]) => [key, Array.isArray(one) ? one.map((text) => cellOf(text, key)) : [cellOf(one, key)]]));
    for (const key of rule.own) if (!desired.has(key) && (owner instanceof Begun || there.has(key))) desired.set(key, [self]);
    for (const [key, list] of desired) {
      const same = there.get(key) ?? [];
      list.forEach((cell, i) => {
        const row = same[i];
        if (!row) this.#make(table, { ...this.#links(rule, owner), ...fixedCells(rule.where), [rule.key]: key, [rule.value]: cell }, rule.create);
        else if (cell instanceof NewRow || cell instanceof Sought || !isStored(row, rule.value, cell)) this.#changes.edit(row.table, row.row)[rule.value] = cell;
      });
      for (const row of same.slice(list.length)) this.#remove(row);
    }
    for (const [key, same] of there) if (!desired.has(key)) for (const row of same) this.#remove(row);
  }

  #ids(rule: Ids, owner: Owner, rows: readonly Loaded[], wanted: readonly string[]): void {
    const table = this.#ground.shape.table(rule.from);
    const there = new Map(rows.map((row) => [cellAt(row, rule.value) ?? '', row]));
    for (const [id, row] of there) if (!wanted.includes(id)) this.#remove(row);
    const now = inOrder(rows, rule.order).map((row) => cellAt(row, rule.value) ?? '');
    const moved = wanted.length !== now.length || wanted.some((id, i) => id !== now[i]);
    const places = rule.order.filter((one) => !one.includes('.'));
    wanted.forEach((id, i) => {
      const row = there.get(id);
      if (!row) this.#make(table, { ...this.#links(rule, owner), ...fixedCells(rule.where), ...this.#end(rule, id), ...Object.fromEntries(places.map((column) => [column, String(i)])) }, rule.create);
      else if (moved) for (const column of places) if (!table.key.includes(column)) this.#set(row, column, String(i));
    });
  }

  /** The column of a link that leads to an id: directly, or by way of a row that both belong to. */
  #end(rule: Related & { value: string }, id: string): Cells {
    const [name = '', column] = rule.value.split('.');
    const join = column === undefined ? undefined : rule.joins?.[name];
    if (!join || column === undefined) return { [rule.value]: id };
    return Object.fromEntries(Object.entries(join.on).map(([there, here]) => [here, new Sought(this.#ground.shape.table(join.from), column, id, there)]));
  }

  /** Child rows in their order; in a tree with the row above each. Those that have an id keep their row. */
  #list(rule: ListRule, owner: Owner, rows: readonly Loaded[], wanted: readonly unknown[], member: string): void {
    const there = new Map(rows.map((row) => [entryId(row, rule), row]));
    const sequence = flatten(rule, wanted, member);
    const keep = new Set(sequence.flatMap(({ entry }) => (there.has(idText(entry)) ? [idText(entry)] : [])));
    for (const [id, row] of there) if (!keep.has(id)) this.#remove(row);
    const now = inOrder(rows.filter((row) => keep.has(entryId(row, rule))), rule.order).map((row) => entryId(row, rule));
    const moved = sequence.length !== now.length || sequence.some(({ entry }, i) => idText(entry) !== now[i]);
    for (const id of this.#stuck(rule, sequence.map(({ entry }) => idText(entry)), now)) { const row = there.get(id); if (row) this.#remove(row); there.delete(id); }
    const placed = new Map<Value, Loaded | NewRow>();
    sequence.forEach(({ entry, above }, i) => {
      const parent = above && placed.get(above);
      const order = moved ? this.#position(rule, i) : {};
      const row = there.get(idText(entry));
      if (row) this.#entry(rule, row, entry, parent, order);
      placed.set(entry, row ?? this.#newEntry(rule, owner, entry, parent, order));
    });
  }

  /** Rows whose place is nothing but the number that the server gave them, and that must come behind ones which have none yet, or are not in their order: they are made anew. */
  #stuck(rule: ListRule, wanted: readonly string[], now: readonly string[]): string[] {
    const counted = numberedBy(this.#ground.shape.table(rule.from));
    if (rule.tree || rule.order.length === 0 || !rule.order.every((one) => one === counted)) return [];
    const stays = now.findIndex((id, i) => id !== wanted[i]);
    return stays < 0 ? [] : now.slice(stays);
  }

  #entry(rule: ListRule, row: Loaded, entry: Value, parent: Loaded | NewRow | undefined, order: Record<string, Cell>): void {
    this.update(rule.value, row, entry);
    for (const [place, cell] of Object.entries(order)) this.#set(row, place, cell);
    if (!rule.tree) return;
    const above = parentId(rule, parent, this.#ground.shape.table(rule.from));
    const attribute = attributeRow(rule.value, row, rule.tree.parent);
    if (attribute) this.#setCell(attribute.row, attribute.column, above);
    else if (attribute === undefined) this.#setCell(row, rule.tree.parent, above);
  }

  #newEntry(rule: ListRule, owner: Owner, entry: Value, parent: Loaded | NewRow | undefined, order: Record<string, Cell>): NewRow {
    const columns: Record<string, Cell> = { ...order, ...this.#cells(rule.value, entry) };
    const links: Cells = { ...this.#links(rule, owner), ...fixedCells(rule.where) };
    if (rule.tree && !rule.tree.parent.includes('.')) links[rule.tree.parent] = parentId(rule, parent, this.#ground.shape.table(rule.from));
    const begun = this.#begin(rule, this.#ground.shape.table(rule.from), columns, links, rule.create);
    this.#below(rule.value, begun, undefined, entry);
    if (rule.tree?.parent.includes('.')) this.#attribute(rule, begun, parentId(rule, parent, this.#ground.shape.table(rule.from)));
    const [join] = [rule.id].flat()[0]?.split('.') ?? [];
    return begun.joins.get(join ?? '') ?? begun.row;
  }

  /** The row above, where a tree keeps it in an attribute row. */
  #attribute(rule: ListRule, holder: Begun, above: Cell | NewRow): void {
    const [member, key] = splitOnce(rule.tree?.parent ?? '');
    const spec = rule.value[member];
    if (typeof spec !== 'object' || !('fields' in spec)) return;
    this.#make(this.#ground.shape.table(spec.fields.from), { ...this.#links(spec.fields, holder), ...fixedCells(spec.fields.where), [spec.fields.key]: key, [spec.fields.value]: above }, spec.fields.create);
  }

  /** What a value says of columns, by `column` or `join.column`. Where it says nothing, what is usual: of a row that is there, whatever it has of that. */
  #cells(specs: Readonly<Record<string, Spec>>, value: Value, loaded?: Loaded): Record<string, Cell> {
    return Object.fromEntries(columnsOf(specs).flatMap(({ member, column, usual, owner }): [string, Cell][] => {
      const [wanted, now] = [value[member], loaded && (cellAt(loaded, column) ?? '')];
      // Somebody who counts as another one stays.
      if (owner !== undefined && now !== undefined && typeof wanted === 'string' && ownerOf(this.#ground, owner, now) === wanted) return [];
      if (wanted !== undefined) return [[column, cellOf(wanted, member)]];
      const [first] = usual;
      return first === undefined || (now !== undefined && usual.includes(now)) ? [] : [[column, first]];
    }));
  }

  #position(rule: ListRule, index: number): Record<string, Cell> {
    const mapped = new Set(columnsOf(rule.value).map(({ column }) => column));
    const [first] = rule.order;
    return first === undefined || mapped.has(first) || [rule.id].flat().includes(first) ? {} : { [first]: String(index + 1) };
  }

  #set(row: Loaded, place: string, cell: Cell): void { if (cellAt(row, place) !== cellText(cell)) this.#setCell(row, place, cell); }

  #setCell(row: Loaded, place: string, cell: Cell | NewRow): void {
    const { holder, column } = holderOf(row, place);
    if (holder && (cell instanceof NewRow || cellText(holder.row[column]) !== cellText(cell))) this.#changes.edit(holder.table, holder.row)[column] = cell;
  }

  /** The columns that tie a row to the one above it. */
  #links(rule: Related, owner: Owner): Cells {
    return Object.fromEntries(Object.entries(rule.on).map(([here, there]): [string, Cells[string]] => [here, owner instanceof Begun ? this.#above(owner, there) : cellAt(owner, there)]));
  }

  /** The cell of a row that is being made which others point to. */
  #above(owner: Begun, there: string): Cells[string] {
    const [first = '', second] = there.split('.');
    const [row, column] = second === undefined ? [owner.row, first] : [owner.joins.get(first) ?? owner.row, second];
    return row.cells[column] ?? (numberedBy(row.table) === column ? row : null);
  }

  #remove(loaded: Loaded): void {
    for (const set of loaded.sets.values()) for (const row of set) this.#remove(row);
    this.#changes.remove(loaded.table, loaded.row);
    for (const join of loaded.joins.values()) if (!join.shared) this.#remove(join);
  }

  /** A new row: what is given, what the layout says, and nothing where the server has a value of its own. */
  #make(table: Table, given: Cells, create: Readonly<Record<string, string>>): NewRow {
    const cells: Cells = {};
    const standard = (name: string): string | undefined => {
      const time = this.#ground.clock.word(name, this.#created);
      if (time !== undefined) return time;
      if (name === 'author') return this.#ground.author();
      return name === 'site' ? this.#ground.site() : undefined;
    };
    for (const column of table.columns.values()) {
      const cell = given[column.name];
      if (cell !== undefined) { cells[column.name] = cell; continue; }
      const template = create[column.name];
      if (template !== undefined) cells[column.name] = fill(template, (name) => { const made = madeFor(name); return (column.hex === true ? made?.replaceAll('-', '') : made) ?? standard(name) ?? plainText(given[name]); });
      else if (isNameless(table, column)) throw new Refused(422, `nothing says what a new row of ${table.name} has in its key ${column.name}: a line "create:" in the layout does`);
      else if (!column.nullable && !column.filled && column.name !== numberedBy(table)) cells[column.name] = column.storage === 'text' || column.storage === 'bytes' ? '' : '0';
    }
    return this.#changes.make(table, cells);
  }
}

/** A key that neither we nor the server make up, as an empty one would be no name for a row. */
function isNameless(table: Table, { name, filled, storage }: Column): boolean {
  return table.key.includes(name) && !filled && (table.key.length > 1 || storage !== 'integer') && numberedBy(table) !== name;
}

/** The id of the entry above in a tree. At the top it is what the layout says, else nothing, where the column can hold that. */
function parentId({ id, tree }: ListRule, parent: Loaded | NewRow | undefined, { columns }: Table): Cell | NewRow {
  if (parent instanceof NewRow) return parent;
  return parent ? cellAt(parent, [id].flat()[0] ?? '') : tree?.root ?? (columns.get(tree?.parent ?? '')?.nullable === true ? null : '0');
}

function plainText(cell: Cells[string] | undefined): string | undefined { return cell instanceof NewRow || cell instanceof Sought || cell === undefined ? undefined : cellText(cell); }

/** The columns that a name fills. `parts`: the ids that stand in the pattern of the row; in the name the items' names stand for them. */
function namesOf(rows: Rows, name: string, parts: Readonly<Record<string, string>>, nameOf: Ground['nameOf']): Record<string, Cell> {
  const caught = backwards(withNames(rows, rows.name ?? '', parts, nameOf), name);
  // In a tree the row adds the end of the path; elsewhere a part of a pattern may be called so.
  const { path = '', ...rest } = caught;
  const captures: Record<string, string> = { ...(rows.parent === undefined ? caught : { ...rest, ...backwards(rows.segment ?? '', path.slice(path.lastIndexOf('/') + 1)) }), ...parts };
  const columns: Record<string, Cell> = {};
  if (rows.pattern) columns[rows.pattern.column] = fill(rows.pattern.text, (one) => captures[one]);
  for (const [key, text] of Object.entries(captures)) if (!rows.pattern?.text.includes(`{${key}}`)) columns[key] = text;
  return columns;
}

/** The column whose text holds the id of another item. */
function heldName(rows: Rows, name: string, value: Value, nameOf: Ground['nameOf']): Record<string, Cell> {
  const [member, to] = heldKinds(rows).find(([one]) => value[one] !== undefined) ?? [];
  if (!rows.holding || member === undefined || to === undefined) return {};
  const id = idIn(value, member);
  return { [rows.holding.column]: withHeld(name, id, nameOf(to, id) ?? id) };
}

/** A template for names read backwards: what each of its columns holds. A word that was made for want of a name fills none. */
function backwards(template: string, name: string): Record<string, string> {
  const first = template.replace(/\{([^{}|]+)\|[^{}]*\}/g, '{$1}').replace(/\{([^{}.]+)\.([^{}.]+)\}/g, '{$1__$2}');
  return Object.fromEntries(Object.entries(capturing(first)(name) ?? {}).filter(([, text]) => !text.startsWith(MADE)).map(([key, text]) => [key.replace('__', '.'), text]));
}

/** A template for names, with the names of the items whose ids are parts of it. */
export function withNames(rows: Rows, template: string, parts: Readonly<Record<string, string>>, nameOf: Ground['nameOf']): string {
  return Object.entries(parts).reduce((text, [part, id]) => text.replaceAll(`{${part}}`, partName(rows, part, id, nameOf) ?? id), template);
}

/** Parts of a name that are ids, as a value has them: local by now. */
export function idParts(rows: Rows, value: Value): Record<string, string> {
  return Object.fromEntries(Object.keys(rows.ids).map((part) => [part, idIn(value, part)]));
}

function idIn(value: Value, part: string): string {
  const id = value[part];
  if ((typeof id !== 'string' && typeof id !== 'number' && typeof id !== 'bigint') || id === '') throw new Refused(422, 'its name holds the id of something that is not there', part);
  return String(id);
}

function fixed(condition: Rows['where'][string]): Cell[] {
  if (typeof condition === 'object' && condition !== null && !Array.isArray(condition)) return [];
  return [condition].flat().map((one) => (one === null ? null : String(one)));
}

function fixedCells(where: Rows['where']): Cells {
  return Object.fromEntries(Object.entries(where).flatMap(([column, condition]) => { const cells = fixed(condition); return cells.length === 1 ? [[column, cells[0] ?? null]] : []; }));
}

function flatten(rule: ListRule, entries: readonly unknown[], member: string, above?: Value): { entry: Value; above: Value | undefined }[] {
  return entries.flatMap((one) => {
    const entry = mapOf(one, member);
    const below = rule.tree && entry[rule.tree.member] !== undefined ? flatten(rule, listOf(entry[rule.tree.member], rule.tree.member), member, entry) : [];
    return [{ entry, above }, ...below];
  });
}

function splitOnce(place: string): [string, string] { const dot = place.indexOf('.'); return [place.slice(0, dot), place.slice(dot + 1)]; }

function idText(entry: Value): string { const id = entry['id']; return typeof id === 'string' || typeof id === 'number' ? String(id) : ''; }

function cellOf(value: unknown, at: string): Cell {
  if (value === null || typeof value === 'string' || typeof value === 'number' || typeof value === 'bigint') return cellOfValue(value);
  if (typeof value === 'boolean') return value ? '1' : '0';
  throw new Refused(422, 'a column holds text, and this is a list or a map', at);
}

function mapOf(value: unknown, at: string): Value {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) throw new Refused(422, 'a map is expected', at);
  return value as Value;
}

function listOf(value: unknown, at: string): unknown[] {
  if (!Array.isArray(value)) throw new Refused(422, 'a list is expected', at);
  return value;
}
