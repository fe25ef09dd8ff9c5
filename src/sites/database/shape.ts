import { Problem } from '../../core/problem.ts';
import { shortKind } from '../../core/address.ts';
import { asChecked, ReferenceRule, type KindDescription } from '../../core/kind.ts';
import { digestOf } from './cells.ts';
import type { Engine, Table } from './engine.ts';
import { FactReader } from './facts.ts';
import { isHeld } from './foreign.ts';
import { columnsOf, type Layout, type ListRule, type Rows, type RowsAsWritten } from './layout/schema.ts';
import { heldKinds } from './names.ts';
import { withPrefix, type LoadedLayout } from './layout/load.ts';

/** A kind with where its rows lie. */
export interface KindRows { readonly description: KindDescription; readonly rows: Rows; readonly where: string }

/** A layout fitted to one database: tables found, prefix known, shapes taken over. */
export class Shape {
  readonly layout: Layout;
  readonly kinds: readonly KindRows[];
  readonly prefix: string;
  readonly tables: ReadonlyMap<string, Table>;

  private constructor(layout: Layout, kinds: readonly KindRows[], prefix: string, tables: ReadonlyMap<string, Table>) {
    this.layout = layout;
    this.kinds = kinds;
    this.prefix = prefix;
    this.tables = tables;
  }

  /** Throws a usage problem that names the line of the layout where a table or column is missing. */
  static async fit(engine: Engine, loaded: LoadedLayout, from: string): Promise<Shape> {
    const { layout, lines } = loaded;
    const known = await engine.known();
    const prefix = prefixOf(layout, known);
    if (prefix === undefined) {
      throw new Problem('usage', `the layout ${layout.name} does not fit this database: it has no ${layout.recognise.map((one) => one.table).join(', ') || 'such tables'}`, { where: from, remedy: 'give the prefix of its tables (prefix:), or another layout (layout:); "pochette layout draft" writes a beginning' });
    }
    const { layout: filled } = withPrefix(loaded, prefix);
    const tables = new Map<string, Table>();
    for (const [alias, { name, key, volatile, counts }] of Object.entries(filled.tables)) {
      const table = known.get(name);
      if (table) tables.set(alias, { ...table, ...(key ? { key, loose: key.join() !== table.key.join() } : {}), volatile: [...volatile, ...counts.map((rule) => rule.column)] });
    }
    const reader = new FactReader(engine, new Shape(filled, [], prefix, tables));
    const kinds: KindRows[] = [];
    for (const one of filled.kinds) {
      const kind = alike(one, filled, lines.get(one.id) ?? layout.name);
      if (!kind.rows || lacking(kind.rows, filled, known)) continue;
      const where = lines.get(kind.id) ?? layout.name;
      const written = shaped(filled, kind.rows, where);
      const rows = available({ ...written, url: await urlOf(written.url, reader) }, filled, known);
      kinds.push(fittedKind({ ...kind, firm: [...kind.firm, ...firmIn(rows.value, rows.from, tables)] }, rows, { where, everywhere: filled.everywhere, tables }));
    }
    for (const kind of kinds) checkTables(kind, tables, filled);
    return new Shape(filled, kinds, prefix, tables);
  }

  /** The tables that an import may write to: those of kinds that are carried, and of caches. */
  written(): Table[] {
    const aliases = new Set([...this.kinds.flatMap(({ description, rows }) => (description.carried ? tablesIn(rows) : [])), ...this.layout.after.flatMap((one) => ('drop' in one ? [one.drop.from] : []))]);
    return [...aliases].flatMap((alias) => this.tables.get(alias) ?? []);
  }

  table(alias: string): Table {
    const table = this.tables.get(alias);
    if (!table) throw new Problem('unreadable', `the table "${alias}" of the layout is not in this database`, { where: this.layout.name, remedy: `the layout calls it ${this.layout.tables[alias]?.name ?? 'nothing'}: "pochette layout check" says more` });
    return table;
  }
}

type WrittenKind = Layout['kinds'][number];

/** A kind with what it takes over from the one that it is like: what is said of values, and, unless it says where its own lie, that its rows are a sort of those, but not which of them. */
function alike(kind: WrittenKind, layout: Layout, where: string): WrittenKind {
  if (kind.like === undefined) return kind;
  const base = layout.kinds.find((one) => one.id === kind.like);
  if (!base?.rows || base.like !== undefined) throw new Problem('usage', `there is no kind "${kind.like}" that ${kind.id} could be like`, { where, remedy: 'name another kind of the layout, or of one that it extends' });
  const both = <K extends 'references' | 'siteBound' | 'secret' | 'volatile' | 'keyed' | 'unordered' | 'belongings' | 'files'>(name: K): WrittenKind[K] => [...kind[name], ...base[name]] as WrittenKind[K];
  const inTexts = base.codecs.find((rule) => rule.codec === 'html');
  const own = kind.codecs.map((rule) => (rule.codec === 'html' && inTexts ? { ...withFirst(inTexts, rule), path: rule.path } : rule));
  const values = { ...kind, references: both('references'), siteBound: both('siteBound'), secret: both('secret'), volatile: both('volatile'), keyed: both('keyed'), unordered: both('unordered'), belongings: both('belongings'), files: both('files') };
  if (kind.rows?.from !== undefined) return { ...values, codecs: [...own, ...inEveryMember(base.codecs, valueUnderName(shaped(layout, base.rows, where)))] };
  return { ...values, ...sortOf(kind, base), codecs: [...own, ...base.codecs], rows: rowsAmong(kind.rows, base.rows) };
}

/** What is said of a kind, where its items are a sort of those of another one. */
function sortOf(kind: WrittenKind, base: WrittenKind): Partial<WrittenKind> {
  return {
    among: kind.among ?? base.id, titleFrom: kind.titleFrom ?? base.titleFrom, where: kind.where ?? base.where,
    addresses: [...kind.addresses, ...base.addresses], guards: [...kind.guards, ...base.guards], byHand: [...kind.byHand, ...base.byHand], requires: [...kind.requires, ...base.requires],
    carried: kind.carried && base.carried, draftable: kind.draftable || base.draftable, hidden: kind.hidden || base.hidden, ownedByName: kind.ownedByName || base.ownedByName,
  };
}

/** Rows that lie where others do and hold what they hold. A name that is made of a pattern is said anew with it. */
function rowsAmong(own: WrittenKind['rows'], base: NonNullable<WrittenKind['rows']>): WrittenKind['rows'] {
  const { where: _where, rest: _rest, pattern, ids: _ids, known: _known, name, title, ...rows } = base;
  return {
    ...rows, ...(pattern ? {} : { name, title }), ...own, where: own?.where ?? {}, rest: own?.rest ?? false, ids: own?.ids ?? {}, optional: rows.optional,
    value: { ...rows.value, ...own?.value }, create: { ...rows.create, ...own?.create }, joins: { ...rows.joins, ...own?.joins }, labels: { ...rows.labels, ...own?.labels },
  };
}

/** What opens the only value of a row, for rows that have several. */
function inEveryMember(codecs: WrittenKind['codecs'], member: string | undefined): WrittenKind['codecs'] {
  const whole = [`$.${member ?? ''}`, `$.${member ?? ''}..*`];
  const rules = codecs.map((rule) => (whole.includes(rule.path) ? { ...rule, path: '$..*' } : rule));
  return [...new Map(rules.map((rule) => [JSON.stringify(rule), rule])).values()];
}

/** A kind with its rows found. What it is made of was checked with the layout. */
function fittedKind(kind: WrittenKind, rows: Rows, { where, everywhere, tables }: { where: string; everywhere: Layout['everywhere']; tables: ReadonlyMap<string, Table> }): KindRows {
  const { rows: _written, like: _like, ...described } = kind;
  const namedAfter = [...Object.entries(rows.ids), ...heldKinds(rows)].map(([part, to]) => ReferenceRule.parse({ path: `$.${part}`, to, naming: true }));
  const namedMember = kind.namedMember ?? valueUnderName(rows);
  // What is said of one place counts before what is guessed everywhere.
  const isOfOnePlace = ({ path }: ReferenceRule): boolean => !path.includes('..') && !path.includes('.*');
  const description = asChecked({
    ...described, version: kind.version ?? 1, title: kind.title ?? shortKind(kind.id), ...(namedMember === undefined ? {} : { namedMember }),
    codecs: described.codecs.map((rule) => (rule.codec === 'html' ? withFirst(rule, everywhere) : rule)), references: [...described.references.filter(isOfOnePlace), ...everywhere.references, ...described.references.filter((rule) => !isOfOnePlace(rule)), ...namedAfter],
    unordered: [...described.unordered, ...unorderedLists(rows, tables, described.references.map(({ path }) => path))], several: [...described.several, ...severalIn(rows.value)], reading: digestOf(JSON.stringify(rows)),
  });
  return { description, rows, where };
}

/** The value under a name: the only thing that an item has, besides what is nearly always the same, or what lies in a column that is called so. */
function valueUnderName({ value }: Pick<Rows, 'value'>): string | undefined {
  const members = Object.entries(value).filter(([, spec]) => !(typeof spec === 'object' && 'usual' in spec));
  const [found, ...more] = members.length === 1 ? members : members.filter(([, spec]) => typeof spec === 'string' && /(^|_)val(ue)?$/i.test(spec));
  return more.length === 0 ? found?.[0] : undefined;
}

/** The template of the paths of a kind; none where the site makes them of words that the layout does not know, and that says nothing else. */
async function urlOf(url: RowsAsWritten['url'], reader: FactReader): Promise<string | undefined> {
  if (typeof url !== 'object') return url;
  const said = await reader.text({ from: url.from, where: url.where, value: url.value });
  const text = said !== '' && url.made !== undefined ? url.made : Object.entries(url.words).reduce((made, [word, template]) => made.replaceAll(word, template), said);
  return text.includes('{') && !text.includes('%') ? text : url.else;
}

/** Words for tables in a description of rows, but for those whose rows are shared. */
function tablesIn(rows: unknown): string[] {
  if (typeof rows !== 'object' || rows === null || ('shared' in rows && rows.shared === true)) return [];
  return Object.entries(rows).flatMap(([name, value]) => (name === 'from' && typeof value === 'string' ? [value] : tablesIn(value)));
}

/** The prefix of the tables, where the layout says that there is one: tried on every table that ends like the first that it is recognised by. */
export function prefixOf(layout: Layout, tables: ReadonlyMap<string, Table>): string | undefined {
  const [first] = layout.recognise;
  if (!first) return '';
  const ending = first.table.replace('{prefix}', '');
  const prefixes = first.table.includes('{prefix}') ? [...tables.keys()].filter((name) => name.endsWith(ending)).map((name) => name.slice(0, name.length - ending.length)) : [''];
  return prefixes.sort((a, b) => a.length - b.length).find((prefix) => layout.recognise.every((one) => {
    const table = tables.get(one.table.replace('{prefix}', prefix));
    return table !== undefined && one.columns.every((column) => table.columns.has(column));
  }));
}

type OfTexts = Pick<Layout['everywhere'], 'attributes' | 'comments' | 'patterns' | 'alike'>;

/** A rule for texts, with what goes before what it says itself. */
function withFirst<T extends OfTexts>(rule: T, before: OfTexts): T {
  const first = <V>(above: Record<string, V>, own: Record<string, V>): Record<string, V> => ({ ...above, ...own, ...above });
  return { ...rule, alike: [rule.alike, before.alike].flat(), attributes: first(before.attributes, rule.attributes), comments: first(before.comments, rule.comments), patterns: first(before.patterns, rule.patterns) };
}

function shaped(layout: Layout, rows: RowsAsWritten, where: string): RowsAsWritten {
  if (rows.shape === undefined) return rows;
  const shape = layout.shapes[rows.shape];
  if (!shape) throw new Problem('usage', `there is no shape "${rows.shape}"`, { where, remedy: `the shapes of the layout are ${Object.keys(layout.shapes).join(', ')}` });
  const given = Object.fromEntries(Object.entries(rows).filter(([, value]) => (value as unknown) !== undefined && !(typeof value === 'object' && Object.keys(value).length === 0) && value !== false));
  // A pattern says whose ids names hold: an id that it knows is no other thing's that has the same one.
  const { holding } = rows.pattern?.column === shape.holding?.column ? {} : shape;
  return { ...shape, ...given, holding, where: { ...shape.where, ...rows.where }, value: { ...shape.value, ...rows.value }, create: { ...shape.create, ...rows.create } };
}

/** A kind that may be left out, and has no table here. */
function lacking({ optional, from, joins }: Pick<RowsAsWritten, 'optional' | 'from' | 'joins'>, layout: Layout, known: ReadonlyMap<string, Table>): boolean {
  return optional && [from, ...Object.values(joins).map((join) => join.from)].some((alias) => !known.has(layout.tables[alias ?? '']?.name ?? ''));
}

/** Without the fields that this database has no table for, where the layout says that it may not, and without owners of a kind that is left out. */
function available(rows: Rows, layout: Layout, known: ReadonlyMap<string, Table>): Rows {
  const owned = (kind: string): boolean => layout.kinds.some((one) => one.rows !== undefined && shortKind(one.id) === kind && !lacking(one.rows, layout, known));
  const value = Object.entries(rows.value).filter(([, spec]) => !(typeof spec === 'object' && 'owner' in spec && !owned(spec.of)) && !(typeof spec === 'object' && 'fields' in spec && spec.fields.optional && !known.has(layout.tables[spec.fields.from]?.name ?? '')));
  return { ...rows, value: Object.fromEntries(value) };
}

/** Links that no column puts in order, and child rows that only a made key does, or ids of other items. */
function unorderedLists({ value }: Pick<Rows, 'value'>, tables: ReadonlyMap<string, Table>, references: readonly string[], above = '$'): string[] {
  // Ids of other items are others on every site, and stand in another order there.
  const areOfOthers = (member: string, { order, value: entry }: ListRule): boolean => order.length > 0 && order.every((one) => columnsOf(entry).some(({ member: name, column }) => column === one && references.includes(`${above}.${member}[*].${name}`)));
  const isMade = ({ from, order, id, value: entry }: ListRule): boolean => { const [key = '', ...more] = [id].flat(); return more.length === 0 && order.every((one) => one === key) && tables.get(from)?.columns.get(key)?.storage !== 'integer' && !columnsOf(entry).some(({ column }) => column === key); };
  return Object.entries(value).flatMap(([member, spec]): string[] => {
    if (typeof spec !== 'object') return [];
    if ('ids' in spec) return spec.ids.order.length === 0 ? [`${above}.${member}`] : [];
    if (!('list' in spec)) return [];
    // What lies in its rows comes first, as these are put in order by what is in them.
    return [...unorderedLists(spec.list, tables, references, `${above}.${member}[*]`), ...(isMade(spec.list) || areOfOthers(member, spec.list) ? [`${above}.${member}`] : [])];
  });
}

/** References that foreign keys hold to, in columns that cannot be empty, and those in keys of several columns. */
function firmIn(value: Rows['value'], from: string | undefined, tables: ReadonlyMap<string, Table>, below = '$.'): string[] {
  const table = tables.get(from ?? '');
  // What is a part of the key cannot be made good afterwards: it would be another row.
  const isInKey = (column: string): boolean => table !== undefined && table.key.length > 1 && table.key.includes(column);
  const held = columnsOf(value).filter(({ column }) => isInKey(column) || (table?.columns.get(column)?.nullable === false && isHeld(table, column)));
  return [...held.map(({ member }) => below + member), ...Object.entries(value).flatMap(([member, spec]) => (typeof spec === 'object' && 'list' in spec ? firmIn(spec.list.value, spec.list.from, tables, `${below}${member}..`) : []))];
}

/** Where rows under one name are, of which several make a list. */
function severalIn(value: Rows['value'], below = '$.'): string[] {
  return Object.entries(value).flatMap(([member, spec]) => (typeof spec !== 'object' ? [] : 'fields' in spec ? [`${below}${member}.*`] : 'list' in spec ? severalIn(spec.list.value, '$..') : []));
}

/** The table of single rows that nothing tells apart. */
function keylessTable({ group, inside, from = '' }: Rows, tables: ReadonlyMap<string, Table>): Table | undefined {
  const table = group || inside ? undefined : tables.get(from);
  return table?.key.length === 0 ? table : undefined;
}

function checkTables(kind: KindRows, tables: ReadonlyMap<string, Table>, layout: Layout): void {
  const complain = (what: string, remedy: string): never => { throw new Problem('usage', `the kind ${kind.description.id}: ${what}`, { where: kind.where, remedy }); };
  const visit = (alias: string | undefined, columns: readonly string[]): void => {
    const table = tables.get(alias ?? '');
    if (!table) { complain(alias === undefined ? 'it does not say from which table' : `the table ${layout.tables[alias]?.name ?? alias} is not in the database`, 'mend the layout, or leave the kind out'); return; }
    const missing = columns.find((column) => !table.columns.has(column));
    if (missing !== undefined) complain(`the table ${table.name} has no column ${missing}`, `its columns are ${[...table.columns.keys()].join(', ')}`);
  };
  const { rows } = kind;
  visit(rows.from, [...Object.keys(rows.where), ...[rows.id, rows.pattern?.column, rows.group?.column, rows.group?.value, rows.inside?.column, rows.status?.column, rows.parent].filter((one) => one !== undefined)]);
  const keyless = keylessTable(rows, tables);
  if (keyless) complain(`the table ${keyless.name} has no primary key`, 'say which columns tell its rows apart: "key: [...]" beside its name, under tables');
  for (const join of Object.values(rows.joins)) visit(join.from, [...Object.keys(join.on), ...Object.keys(join.where)]);
  const values = (value: Rows['value']): void => {
    for (const spec of Object.values(value)) {
      if (typeof spec === 'string') continue;
      if ('fields' in spec) visit(spec.fields.from, [...Object.keys(spec.fields.on), spec.fields.key, spec.fields.value]);
      if ('ids' in spec) visit(spec.ids.from, [...Object.keys(spec.ids.on)]);
      if ('list' in spec) { visit(spec.list.from, [...Object.keys(spec.list.on), ...Object.keys(spec.list.where)]); values(spec.list.value); }
    }
  };
  values(rows.value);
  const table = tables.get(rows.from ?? '');
  for (const { column } of columnsOf(rows.value)) if (!column.includes('.') && !table?.columns.has(column)) complain(`the table ${table?.name ?? ''} has no column ${column}`, `its columns are ${[...(table?.columns.keys() ?? [])].join(', ')}`);
}
