import { sql, type RawBuilder } from 'kysely';
import { ownText } from '../../core/bytes.ts';
import { groupBy } from '../../core/json.ts';
import { anyOf } from '../../core/wildcard.ts';
import type { LocalId } from '../../core/siteindex.ts';
import { cellText, digestOf, sameCell, type Cell, type Row } from './cells.ts';
import { keyOf, NewRow, Sought, type Cells, type Changes } from './changes.ts';
import { utcTime } from './clock.ts';
import { conditions } from './condition.ts';
import { numberedBy, type Executor, type Table } from './engine.ts';
import { heldIn, type Held } from './heldid.ts';
import { capturing, fill, namesIn } from './layout/template.ts';
import { canBeOutlined, cellAt, contentDigest, contentSize, Loader, relatedMembers, type Loaded, type OutlineColumns } from './loaded.ts';
import { idOf, partsOf } from './rowid.ts';
import { pagesByKey } from './pages.ts';
import { RowWriter } from './rowwriter.ts';
import type { KindRows } from './shape.ts';
import { idsInNames, ownersIn, partName } from './names.ts';
import { changedStatus, keptStatus, statusOf } from './status.ts';
import type { Ground, Made, NewItem, Outline, Store, Unit } from './store.ts';
import { TreePaths } from './treepaths.ts';
import { ValueReader, type PlacedFile } from './valuereader.ts';

const CHUNK = 900;
/** The server works on so many pages more than we do. */
const AHEAD = 2;

interface PlainUnit extends Unit { readonly loaded: Loaded }
export type ExactRows = [alias: string, row: Row][];

/** Items that are a row of their own, with the rows that belong to it. */
export class PlainStore implements Store {
  readonly #ground: Ground;
  readonly #kind: KindRows;
  readonly #table: Table;
  readonly #captures: ((text: string) => Record<string, string> | undefined) | undefined;
  readonly #values: ValueReader;
  readonly #paths: TreePaths | undefined;
  readonly #claimed: ((key: string) => boolean) | undefined;

  constructor(ground: Ground, kind: KindRows, claimed?: (key: string) => boolean) {
    this.#ground = ground;
    this.#kind = kind;
    this.#table = ground.shape.table(kind.rows.from ?? '');
    this.#captures = kind.rows.pattern && capturing(kind.rows.pattern.text);
    this.#values = new ValueReader(ground);
    this.#paths = ground.paths(kind);
    this.#claimed = claimed;
  }

  /** The columns that hold the local id: the key, unless the layout says another one. */
  get #id(): readonly string[] { return this.#kind.rows.id === undefined ? this.#table.key : [this.#kind.rows.id]; }

  async *all(at: Executor): AsyncGenerator<Unit[]> {
    const { engine } = this.#ground;
    for await (const rows of this.#pages((rest) => engine.digested(this.#table, rest, at))) yield await this.#units(rows, at, false);
  }

  async *outlines(at: Executor): AsyncGenerator<Outline[]> {
    const { engine, shape } = this.#ground;
    const columns = outlineColumns(this.#kind, this.#table, this.#ignored);
    if (!columns) { yield* this.all(at); return; }
    const loader = new Loader({ engine, shape, at, lock: false });
    const underWay: Promise<Loaded[]>[] = [];
    for await (const rows of this.#pages((rest) => engine.outlines(this.#table, columns.own, rest, at))) {
      const wanted = this.#wanted(rows);
      const next = Promise.all([loader.outlines(wanted, this.#table, this.#kind.rows, columns), this.#paths?.learn(wanted, at)]).then(([loaded]) => loaded);
      next.catch(() => undefined);
      underWay.push(next);
      if (underWay.length > AHEAD) yield (await underWay.shift() ?? []).map((one) => this.#outline(one));
    }
    for (const last of underWay) yield (await last).map((one) => this.#outline(one));
  }

  /** All rows in the order of the key. */
  #pages(fetch: (rest: RawBuilder<unknown>) => Promise<Row[]>): AsyncGenerator<Row[]> { return pagesByKey(this.#ground.engine, this.#table, { where: this.#where, size: CHUNK }, fetch); }

  async some(ids: readonly LocalId[], at: Executor, lock: boolean): Promise<Unit[]> {
    const { engine } = this.#ground;
    const rows = await engine.digested(this.#table, sql`${this.#withIds(ids)} ${lock ? engine.own.forUpdate : sql``}`, at);
    await this.#ground.learn(() => [...idsInNames(this.#kind.rows, rows, this.#captures), ...ownersIn(this.#kind.rows, rows)], at);
    return this.#units(rows, at, lock);
  }

  async someOutlines(ids: readonly LocalId[], at: Executor): Promise<Outline[]> {
    const { engine, shape, learn } = this.#ground;
    const columns = outlineColumns(this.#kind, this.#table, this.#ignored);
    if (!columns) return this.some(ids, at, false);
    const found = await engine.outlines(this.#table, columns.own, this.#withIds(ids), at);
    await learn(() => idsInNames(this.#kind.rows, found, this.#captures), at);
    const rows = this.#wanted(found);
    await this.#paths?.learn(rows, at);
    return (await new Loader({ engine, shape, at, lock: false }).outlines(rows, this.#table, this.#kind.rows, columns)).map((one) => this.#outline(one));
  }

  #withIds(ids: readonly LocalId[]): RawBuilder<unknown> {
    const { engine } = this.#ground;
    const [only, ...more] = this.#id;
    return sql`where ${this.#where} and ${only !== undefined && more.length === 0 ? engine.oneOf(this.#table, only, ids.map(String)) : sql`(${ids.length === 0 ? sql`1 = 0` : engine.keys(this.#table, ids.map((id) => partsOf(this.#id, String(id))))})`}`;
  }

  get #where(): RawBuilder<unknown> {
    const { engine, caches } = this.#ground;
    return sql`${conditions(engine, this.#table, this.#kind.rows.where)} and ${caches.none(this.#kind.rows.from ?? '')}`;
  }

  get #ignored(): readonly Readonly<Record<string, unknown>>[] { return this.#ground.shape.layout.tables[this.#kind.rows.from ?? '']?.ignore ?? []; }

  /** Those rows that make an item, as far as SQL did not say. */
  #wanted(rows: readonly Row[]): Row[] {
    const { pattern } = this.#kind.rows;
    return rows.filter((row) => !this.#ignored.some((one) => matchesPlainly(row, one)) && (this.#claimed?.(keyOf(this.#table, row)) !== true) && (pattern === undefined || this.#catches(this.#captures?.(cellText(row[pattern.column])))));
  }

  #catches(parts: Record<string, string> | undefined): boolean {
    const { known, ids } = this.#kind.rows;
    return parts !== undefined && (known === undefined || Object.entries(ids).every(([part, kinds]) => Number(parts[part]) >= known.least && this.#ground.nameOf(kinds, parts[part] ?? '') !== undefined));
  }

  async #units(rows: readonly Row[], at: Executor, lock: boolean): Promise<PlainUnit[]> {
    const { engine, shape } = this.#ground;
    const wanted = this.#wanted(rows);
    await this.#paths?.learn(wanted, at);
    const loaded = await new Loader({ engine, shape, at, lock }).roots(wanted, this.#table, this.#kind.rows);
    const hasFiles = Object.values(this.#kind.rows.value).some((spec) => typeof spec === 'object' && 'files' in spec);
    return hasFiles ? Promise.all(loaded.map(async (one) => this.#unit(one, await this.#values.files(this.#kind.rows.value, one)))) : loaded.map((one) => this.#unit(one));
  }

  /** What the pattern catches of a row. */
  #parts(loaded: Loaded): Record<string, string> | undefined { const { pattern } = this.#kind.rows; return pattern && this.#captures?.(cellText(loaded.row[pattern.column])); }

  /** An id that the name of a row holds. */
  #held({ row }: Loaded): Held | undefined { const { holding } = this.#kind.rows; return holding && heldIn(cellText(row[holding.column]), holding, this.#ground.nameOf); }

  /** The word that a row has for its status. */
  #word({ row }: Loaded): string { const { status } = this.#kind.rows; return status ? cellText(row[status.column]) : ''; }

  #outline(loaded: Loaded, files?: readonly PlacedFile[]): Outline {
    const { rows, description } = this.#kind;
    const captures = this.#parts(loaded);
    // What the layout calls {path}, where it has a tree.
    const filling = (name: string): string | undefined => (name === 'path' && this.#paths ? this.#paths.of(loaded.row) : undefined) ?? partName(rows, name, captures?.[name], this.#ground.nameOf) ?? cellAt(loaded, name) ?? undefined;
    const id = idOf(this.#id, loaded.row);
    const held = this.#held(loaded);
    const name = held?.name ?? (rows.name === undefined ? '' : fill(rows.name, filling));
    const absent = files?.find((one) => one.file === undefined);
    return {
      id, name: name === '' ? String(id) : name, title: (held?.name ?? fill(rows.title ?? '', filling)) || name || `${description.title} ${id}`,
      status: statusOf(rows.status, this.#word(loaded)), changed: timeOf(rows.changed, loaded), alias: rows.alias === undefined ? undefined : aliasOf(fill(rows.alias, filling)),
      etag: ownText(`"${files ? digestOf(`${contentDigest(loaded)} ${JSON.stringify(files)}`) : contentDigest(loaded)}"`), size: contentSize(loaded),
      claims: () => [keyOf(this.#table, loaded.row)], fill: filling, files,
      ...(absent ? { damaged: `its file ${absent.path} is not in ${this.#ground.library?.name ?? 'the media folder'}` } : {}),
    };
  }

  #unit(loaded: Loaded, files?: readonly PlacedFile[]): PlainUnit {
    const [values, { shape }, { rows }] = [this.#values, this.#ground, this.#kind];
    const parts = (): Record<string, string | undefined> => { const caught = this.#parts(loaded); const held = this.#held(loaded); return Object.fromEntries([...Object.keys(rows.ids).map((part) => [part, caught?.[part]]), ...(held ? [[held.member, held.id]] : [])]) as Record<string, string | undefined>; };
    const kept = keptStatus(rows.status, this.#word(loaded));
    const exact = (): ExactRows => [...exactRows(loaded, shape), ...(files ? [[FILES, Object.fromEntries(files.map((one) => [one.path, one.file ?? null]))] as [string, Row]] : [])];
    return {
      ...this.#outline(loaded, files), loaded, created: timeOf(rows.created, loaded), get exact() { return exact(); }, get value() { return { ...values.value(rows.value, loaded, files), ...kept, ...parts() }; },
      rows: () => exactRows(loaded, shape).map(([alias, row]) => keyOf(shape.table(alias), row)),
    };
  }

  async create(about: NewItem, value: Record<string, unknown>, changes: Changes): Promise<Made> {
    const made = new RowWriter(this.#ground, changes).create(this.#kind.rows, this.#table, about, value);
    await this.#place(value, undefined, changes);
    const known = (column: string): Cell => (column === numberedBy(this.#table) || (this.#table.key.length === 1 && this.#table.key[0] === column) ? made.id ?? '' : textOf(made.cells[column]));
    return { id: () => idOf(this.#id, Object.fromEntries(this.#id.map((column) => [column, known(column)]))) };
  }

  async update(unit: Unit, value: Record<string, unknown>, changes: Changes, status?: Unit['status']): Promise<void> {
    const { loaded } = unit as PlainUnit;
    const rule = this.#kind.rows.status;
    const word = changedStatus(rule, unit.status, status, value);
    if (rule && word !== undefined && word !== this.#word(loaded)) changes.edit(loaded.table, loaded.row)[rule.column] = word;
    new RowWriter(this.#ground, changes).update(this.#kind.rows.value, loaded, value);
    await this.#place(value, unit, changes);
  }

  remove(unit: Unit, changes: Changes): Promise<void> {
    for (const [alias, row] of rowsOf(unit.exact).reverse()) changes.remove(this.#ground.shape.table(alias), row);
    changes.files.gone.push(...(unit.files ?? []).map(({ path }) => path));
    return Promise.resolve();
  }

  async restore(exact: unknown, unit: Unit | undefined, changes: Changes): Promise<void> {
    const { shape } = this.#ground;
    const there = new Map(rowsOf(unit?.exact).map(([alias, row]) => [keyOf(shape.table(alias), row), { table: shape.table(alias), row }]));
    for (const [alias, row] of rowsOf(exact)) {
      const key = keyOf(shape.table(alias), row);
      const now = there.get(key)?.row;
      // Most rows of an item are as they were.
      if (!now || !sameRow(now, row)) changes.bringBack(shape.table(alias), row);
      there.delete(key);
    }
    for (const { table, row } of [...there.values()].reverse()) changes.remove(table, row);
    const value = this.#valueOf(exact as ExactRows);
    if (!value) return;
    await this.#place(value, unit, changes);
    const kept = new Set(value.files.map(({ path }) => path));
    changes.files.gone.push(...(unit?.files ?? []).map(({ path }) => path).filter((path) => !kept.has(path)));
  }

  /** Where no file was before is remembered: only from there may one be taken away again. */
  async #place(value: Record<string, unknown>, unit: Unit | undefined, changes: Changes): Promise<void> {
    changes.files.placed.push(...await this.#ground.library?.place(value, (unit?.files ?? []).map(({ path }) => path)) ?? []);
  }

  /** Files of a record that is brought back: their names and digests stand beside its rows. */
  #valueOf(exact: ExactRows): { files: { path: string; file: string }[] } | undefined {
    const files = exact.find(([alias]) => alias === FILES)?.[1];
    return files && { files: Object.entries(files).map(([path, digest]) => ({ path, file: cellText(digest) })) };
  }
}

/** Capitals mean nothing in what people are known by. */
function aliasOf(text: string): string | undefined { return text.trim() === '' ? undefined : digestOf(text.trim().toLowerCase()); }

function timeOf(column: string | undefined, loaded: Loaded): string | undefined { return column === undefined ? undefined : utcTime(cellAt(loaded, column)); }

/** Stands among the rows of an exact record for the files that belong to it. */
export const FILES = ' files';

function rowsOf(exact: unknown): ExactRows { return ((exact ?? []) as ExactRows).filter(([alias]) => alias !== FILES); }

function sameRow(a: Row, b: Row): boolean { return Object.keys(a).length === Object.keys(b).length && Object.keys(a).every((name) => sameCell(a[name], b[name])); }

function textOf(cell: Cells[string] | undefined): string { return cell instanceof NewRow ? cell.id ?? '' : cell instanceof Sought ? '' : cellText(cell); }

function exactRows(loaded: Loaded, shape: Ground['shape']): ExactRows {
  const found: ExactRows = [];
  const aliases = new Map([...shape.tables].map(([alias, table]) => [table, alias]));
  const visit = (one: Loaded): void => {
    for (const join of one.joins.values()) if (!join.shared) visit(join);
    found.push([aliases.get(one.table) ?? '', one.row]);
    for (const set of one.sets.values()) for (const row of set) visit(row);
  };
  visit(loaded);
  return found;
}

/** The columns that an outline is made of; undefined where the whole has to be read for it. */
function outlineColumns(kind: KindRows, table: Table, ignored: readonly Readonly<Record<string, unknown>>[]): OutlineColumns | undefined {
  const { rows } = kind;
  if (Object.values(rows.value).some((spec) => typeof spec === 'object' && 'files' in spec) || !canBeOutlined(rows)) return undefined;
  const places = [
    ...[rows.name, rows.title, rows.alias, rows.url].flatMap((template) => namesIn(template ?? '')), ...[rows.id, rows.pattern?.column, rows.holding?.column, rows.status?.column, rows.changed].filter((one) => one !== undefined), ...TreePaths.columns(kind),
    ...[...Object.values(rows.joins), ...relatedMembers(rows.value).map(([, related]) => related)].flatMap(({ on }) => Object.values(on)), ...ignored.flatMap(Object.keys), ...table.key,
  ].map((place) => place.split('.'));
  const joined = groupBy(places.filter((place) => place.length > 1), ([join = '']) => join);
  return { own: new Set(places.flatMap((place) => (place.length === 1 ? place : []))), joined: new Map([...joined].map(([join, same]) => [join, new Set(same.map(([, column = '']) => column))])) };
}

/** Conditions on rows that are already here: values, and `like` with a star. */
function matchesPlainly(row: Row, where: Readonly<Record<string, unknown>>): boolean {
  return Object.entries(where).every(([column, condition]) => {
    const cell = row[column];
    const text = cellText(cell);
    if (typeof condition !== 'object' || condition === null || Array.isArray(condition)) return ([condition].flat() as (string | number | null)[]).some((one) => (one === null ? cell === null : cell !== null && String(one) === text));
    const { like } = condition as { like?: string | string[] };
    return like !== undefined && anyOf([like].flat())(text);
  });
}
