import { groupBy } from '../../../core/json.ts';
import { cellText, type Row } from '../cells.ts';
import { isMade, likeName, MADE, packingOf, stemOf, VOLATILE, type Guess, type KnownTables, type TableGuess } from './guess.ts';
import { everywhereText, namesText } from './everywhere.ts';
import { flags, leavesOf, step, type Leaf } from './leaves.ts';
import type { Column, Table } from '../engine.ts';
import { unpacked } from '../packed.ts';
import { SMALLEST, type Suspect } from '../suspicion.ts';

type Of<T extends Guess['is']> = TableGuess & { readonly guess: Extract<Guess, { is: T }> };
const is = <T extends Guess['is']>(sort: T) => (one: TableGuess): one is Of<T> => one.guess.is === sort;

/** A layout that comes with Pochette and fits already: only what it does not describe is drafted. */
export interface Base { readonly name: string; /** Whose the kinds of the CMS are: the owner that every such site has. */ readonly owner: string; readonly prefix: string; readonly tables: KnownTables; /** Numbers that are ids and that it does not describe, and the columns in which its kinds have their names. */ readonly suspects: readonly Suspect[]; readonly columns: ReadonlyMap<string, string> }

/** Writes a commented beginning of a layout: everything in it is a guess that a person has to look at. */
export function draftText(name: string, guesses: readonly TableGuess[], base?: Base): string {
  const draft = new Draft(guesses, base);
  const head = [
    '# A beginning, guessed from the tables and some of their rows. Look at every line: what is wrong here is wrong in every import.',
    '# docs/layouts.md describes the keys; "pochette layout check" shows what this finds and what nothing describes.',
    'format: 1', `name: ${word(name)}`, `title: ${word(name)}`,
  ];
  if (!base) return [...head, ...draft.recognise(), ...draft.tables(), ...draft.facts(name), 'kinds:', ...draft.kinds(), ''].join('\n');
  const kinds = draft.kinds();
  return [
    ...head, `extends: ${base.name}`, `# The layout "${base.name}" fits this database: here is only what it does not describe. Options, fields and entries of extensions are items already;`,
    '# what an extension means by them can be said with a kind of its own, as docs/layouts.md shows.',
    ...(kinds.length === 0 ? [] : draft.tables()), ...draft.everywhere(base.suspects), ...kindLines(kinds, namesText(base.suspects, base.columns)), '',
  ].join('\n');
}

/** `perhaps`: comments. */
function kindLines(kinds: readonly string[], perhaps: readonly string[]): string[] {
  if (kinds.length > 0) return ['kinds:', ...kinds, ...perhaps];
  return perhaps.length > 0 ? ['# Names that hold the id of an item: where one means it, take the signs away, so that the name is another one where the item has another id.', '# kinds:', ...perhaps] : ['kinds: []'];
}

class Draft {
  readonly #all: readonly TableGuess[];
  readonly #prefix: string;
  readonly #aliases: ReadonlyMap<string, string>;
  /** Those that are to be described. */
  readonly #own: readonly TableGuess[];
  readonly #known: KnownTables;
  /** Who owns what no extension owns. */
  readonly #site: string;

  constructor(guesses: readonly TableGuess[], base?: Base) {
    this.#all = guesses;
    this.#site = base?.owner ?? 'site';
    this.#known = base?.tables ?? new Map<string, readonly string[]>();
    this.#own = guesses.filter((one) => !this.#known.has(one.table.name));
    this.#prefix = base?.prefix ?? commonPrefix(guesses.map((one) => one.table.name));
    this.#aliases = new Map(guesses.map((one) => [one.table.name, one.table.name.slice(this.#prefix.length)]));
  }

  #alias(table: string): string { return this.#aliases.get(table) ?? table; }

  recognise(): string[] {
    const [first] = [...this.#all].sort((a, b) => b.table.columns.size - a.table.columns.size);
    return first ? ['# A database is taken for one of this shape where it has this table with these columns.', 'recognise:', `  - { table: '{prefix}${this.#alias(first.table.name)}', columns: [${[...first.table.columns.keys()].slice(0, 6).join(', ')}] }`] : [];
  }

  tables(): string[] {
    const traces = this.#own.filter(is('traces'));
    const left = traces.length === 0 ? [] : ['# What visitors and machines leave is nobody\'s configuration. Take a table out of this list to describe it.', `leaves: [${traces.map((one) => `'{prefix}${this.#alias(one.table.name)}'`).join(', ')}]`];
    return [...left, 'tables:', ...this.#own.filter((one) => one.guess.is !== 'traces').map((one) => {
      const volatile = [...one.table.columns.values()].filter((column) => isTime(column) && one.guess.is === 'records').map((column) => column.name);
      const note = `  # ${one.rows} rows: ${explained(one.guess)}`;
      const key = one.guess.is === 'links' && one.table.key.length === 0 ? `, key: [${one.guess.ends.map((end) => end.column).join(', ')}]` : '';
      return `  ${this.#alias(one.table.name)}: { name: '{prefix}${this.#alias(one.table.name)}'${key}${volatile.length > 0 ? `, volatile: [${volatile.join(', ')}]` : ''} }${note}`;
    })];
  }

  facts(name: string): string[] {
    const lookup = (test: RegExp, value: RegExp): string | undefined => {
      for (const one of this.#all.filter(is('options'))) {
        const row = one.samples.find((sample) => test.test(cellText(sample[one.guess.key])) && value.test(cellText(sample[one.guess.value])));
        if (row) return `{ from: ${this.#alias(one.table.name)}, where: { ${one.guess.key}: ${word(cellText(row[one.guess.key]))} }, value: ${one.guess.value} }`;
      }
      return undefined;
    };
    const [title, address, theme] = [lookup(/title|sitename|blogname/i, /\S/), lookup(/home|address|url/i, /^https?:\/\//), lookup(/^(stylesheet|theme)$/i, /\S/)];
    return [
      'facts:', `  cms: { name: ${this.#site}, title: ${word(name)} }  # owns all kinds that no extension owns`,
      title === undefined ? '  # title: { from: …, where: { … }, value: … }' : `  title: ${title}`,
      address === undefined ? '  # address: where the address of the site is kept; or "address:" of the site in pochette.yaml' : `  address: ${address}`,
      ...(theme === undefined ? [] : [`  theme: { name: ${theme} }`]),
    ];
  }

  kinds(): string[] { return [...this.#own.filter(is('options')).flatMap((one) => this.#options(one)), ...this.#own.filter(is('records')).filter((one) => !this.#owner(one)).flatMap((one) => this.#records(one))]; }

  /** Ids of the kinds that are drafted, in what the layout describes already. */
  everywhere(suspects: readonly Suspect[]): string[] {
    const targets = this.#own.filter(is('records')).filter((one) => !this.#owner(one) && one.guess.type === undefined);
    return everywhereText(targets.map((one) => ({ ...one, kind: this.#kindsIn(one.table.name) })), this.#all, suspects);
  }

  /** The kinds that lie in a table, as a layout names them. */
  #kindsIn(table: string): string {
    const words = this.#known.get(table);
    return words ? `[${words.join(', ')}]` : slug(this.#alias(table));
  }

  /** The table whose rows these belong to: rows without a name of their own that point to one with names, and that it does not point to. */
  #owner(one: Of<'records'>): { column: string; table: string } | undefined {
    if (one.guess.name !== undefined) return undefined;
    const always = (column: string): boolean => one.samples.every((row) => !/^0?$/.test(cellText(row[column])));
    const [found] = [...one.points].filter(([column, to]) => to !== one.table.name && always(column) && this.#own.filter(is('records')).some((other) => other.table.name === to && ![...other.points.values()].includes(one.table.name) && (other.guess.name ?? other.guess.title) !== undefined));
    return found && { column: found[0], table: found[1] };
  }

  /** Options: those that begin alike are a group, packed ones an item each, the rest one kind for all. */
  #options(one: Of<'options'>): string[] {
    const { key, value } = one.guess;
    const alias = this.#alias(one.table.name);
    const names = one.samples.map((row) => ({ name: cellText(row[key]), text: cellText(row[value]) }));
    const packed = names.filter(({ text }) => packingOf([text]) === 'php' || packingOf([text]) === 'json').filter(({ name }) => !/^_/.test(name));
    const plain = names.filter((entry) => !packed.includes(entry));
    const groups = [...groupBy(plain, ({ name }) => /^[^_.:-]+[_.:-](?=.)/.exec(name)?.[0] ?? '')].filter(([beginning, list]) => beginning !== '' && list.length >= 3);
    return [
      `  # One packed value for each of these ${packed.length} names: what looks like an id of another table, a secret or a file is marked.`,
      ...packed.flatMap(({ name, text }) => this.#packedOption(alias, key, value, name, text)),
      ...groups.flatMap(([beginning, list]) => [
        `  # ${list.length} rows that begin with "${beginning}": ${list.slice(0, 4).map((entry) => entry.name).join(', ')}…`,
        `  - id: ${this.#site}/${slug(beginning)}`, `    title: ${word(beginning.replace(/[_.:-]$/, ''))}`,
        `    rows: { from: ${alias}, group: { column: ${key}, text: '${beginning}{member}', value: ${value} }, name: ${slug(beginning)} }`,
        ...flags(list.map((entry) => ['$.members', entry.name.slice(beginning.length), entry.text])),
      ]),
      '  # Every other row of the table.',
      `  - id: ${this.#site}/${slug(alias)}`, `    rows: { from: ${alias}, rest: true, name: '{${key}}', title: '{${key}}', value: { option: ${value} } }`,
    ];
  }

  #packedOption(alias: string, key: string, value: string, name: string, text: string): string[] {
    const codec = packingOf([text]) ?? 'json';
    const leaves = leavesOf(unpacked(text, codec === 'html' ? 'json' : codec), ['$', 'option']);
    return [
      `  - id: ${this.#site}/${slug(name)}`, `    title: ${word(name)}`, `    rows: { from: ${alias}, where: { ${key}: ${word(name)} }, name: '{${key}}', value: { option: ${value} } }`,
      `    codecs: [{ path: $.option, codec: ${codec} }]`, ...this.#references(leaves), ...flags(leaves),
    ];
  }

  /** Places with a whole number that is an id of a table of records, and a name that says so. */
  #references(leaves: readonly Leaf[]): string[] {
    const found = this.#referencesIn(leaves);
    return found.length === 0 ? [] : [`    references: [${[...new Set(found)].slice(0, 12).join(', ')}]`];
  }

  #referencesIn(leaves: readonly Leaf[]): string[] {
    return leaves.flatMap(([path, last, text]) => {
      // A small number under a name that does not speak of an id is a count.
      if (!/^[1-9]\d*$/.test(text) || (Number(text) < SMALLEST && !/(^|_|-)(id|ids|page|post|image|template|parent|menu|form|board)(_|-|$)|id$/i.test(last))) return [];
      // An id that stands alone is one of what it stands in.
      const called = /^ids?$/i.test(last) ? /[\w-]+$/.exec(path.replace(/\[\*\]$/, ''))?.[0] ?? last : last;
      const tables = this.#all.filter(is('records')).filter((one) => one.samples.some((row) => cellText(row[one.table.key[0] ?? '']) === text));
      const table = tables.find((one) => likeName(called, one.table) || this.#known.get(one.table.name)?.includes(stemOf(called)) === true);
      return table ? [`{ path: "${path}${step(last)}", to: ${this.#kindOf(table, text)} }`] : [];
    });
  }

  #kindOf(one: Of<'records'>, id: string): string {
    if (this.#known.has(one.table.name)) return this.#kindsIn(one.table.name);
    const row = one.samples.find((sample) => cellText(sample[one.table.key[0] ?? '']) === id);
    return slug(one.guess.type === undefined || this.#owner(one) ? this.#alias(one.table.name) : cellText(row?.[one.guess.type]) || this.#alias(one.table.name));
  }

  #records(one: Of<'records'>): string[] {
    const types = one.guess.type === undefined ? [undefined] : one.guess.types;
    return types.flatMap((type) => this.#recordKind(one, type));
  }

  #recordKind(one: Of<'records'>, type: string | undefined): string[] {
    const alias = this.#alias(one.table.name);
    const rows = one.guess.type === undefined ? one.samples : one.samples.filter((row) => cellText(row[one.guess.type ?? '']) === type);
    const key = one.table.key[0] ?? 'id';
    const columns = [...one.table.columns.values()].filter((column) => !one.table.key.includes(column.name) && column.name !== one.guess.name && column.name !== one.guess.type && !isTime(column));
    const fields = this.#own.filter(is('fields')).filter((other) => other.guess.of === one.table.name);
    const ends = this.#own.filter(is('links')).flatMap((other) => {
      const [here, there] = [other.guess.ends.find((end) => end.to === one.table.name), other.guess.ends.find((end) => end.to !== one.table.name)];
      // Of two tables that are both drafted the first one has the links: rows that two items have would be changed under each other.
      const first = other.guess.ends.find((end) => this.#own.some(({ table }) => table.name === end.to));
      return here && there && first?.to === one.table.name ? [{ other, here, there }] : [];
    });
    const children = this.#own.filter(is('records')).filter((other) => this.#owner(other)?.table === one.table.name);
    const packings = [...packingsOf(columns, rows, '$'), ...fields.flatMap((other) => fieldPackings(other, `$.${this.#alias(other.table.name)}`)), ...children.flatMap((other) => packingsOf([...other.table.columns.values()], other.samples, this.#inList(other)))];
    const references = [
      ...columns.flatMap((column) => { const to = one.points.get(column.name); return to === undefined ? [] : [`{ path: $.${column.name}, to: ${this.#kindsIn(to)} }`]; }),
      ...children.flatMap((other) => [...other.points].filter(([column]) => column !== this.#owner(other)?.column && column !== other.guess.parent).map(([column, to]) => `{ path: '${this.#inList(other)}.${column}', to: ${this.#kindsIn(to)} }`)),
      ...children.flatMap((other) => this.#packedReferences(other.samples, [...other.table.columns.values()], this.#inList(other))),
      ...ends.map(({ other, there }) => `{ path: '$.${this.#alias(other.table.name)}[*]', to: ${this.#kindsIn(there.to)} }`),
      ...this.#packedReferences(rows, columns),
      ...fields.flatMap((other) => this.#fieldReferences(other)),
    ];
    return [
      `  # ${rows.length} of the rows looked at.`,
      `  - id: ${this.#site}/${slug(type ?? alias)}`, ...(one.guess.title === undefined ? [] : [`    titleFrom: $.${one.guess.title}`]),
      '    rows:', `      from: ${alias}`, ...(type === undefined ? [] : [`      where: { ${one.guess.type ?? ''}: ${word(type)} }`]),
      `      ${nameLine(one, key, rows)}`, ...(one.guess.title === undefined ? [] : [`      title: '{${one.guess.title}}'`]),
      '      value:', ...columns.map((column) => `        ${column.name}: ${column.name}`),
      ...fields.map((other) => `        ${this.#alias(other.table.name)}: { fields: { from: ${this.#alias(other.table.name)}, on: { ${other.guess.by}: ${key} }, key: ${other.guess.key}, value: ${other.guess.value} } }`),
      ...children.map((other) => `        ${this.#alias(other.table.name)}: ${this.#list(other, key)}`),
      ...ends.map(({ other, here, there }) => `        ${this.#alias(other.table.name)}: { ids: { from: ${this.#alias(other.table.name)}, on: { ${here.column}: ${key} }, value: ${there.column}${orderOf(other.table)} } }`),
      ...made(one.table, isMade(one.samples, key) ? [key] : []),
      ...(children.length > 0 ? [`    belongings: [${children.map((other) => `{ path: '${this.#inList(other)}', id: id }`).join(', ')}]`] : []),
      ...keyedLines(children.filter((other) => other.table.key.length > 1).map((other) => `{ path: $.${this.#alias(other.table.name)}, key: ${this.#idIn(other)} }`)),
      ...(packings.length > 0 ? [`    codecs: [${packings.join(', ')}]`] : []), ...(references.length > 0 ? [`    references: [${references.join(', ')}]`] : []),
      ...flags(rows.slice(0, 30).flatMap((row) => columns.map((column): Leaf => ['$', column.name, cellText(row[column.name])]))),
    ];
  }

  /** The same of places inside packed columns. */
  #packedReferences(rows: readonly Row[], columns: readonly Column[], above = '$'): string[] {
    return [...new Set(columns.flatMap((column) => rows.slice(0, 30).flatMap((row) => {
      const text = cellText(row[column.name]);
      const codec = packingOf([text]);
      return codec === 'php' || codec === 'json' ? this.#referencesIn(leavesOf(unpacked(text, codec), [above, column.name])) : [];
    })))].slice(0, 12);
  }

  /** The same of fields: whole values, and places inside packed ones. */
  #fieldReferences({ guess, samples, table }: Of<'fields'>): string[] {
    const above = `$.${this.#alias(table.name)}`;
    return [...new Set(samples.flatMap((row) => {
      const [key, text] = [cellText(row[guess.key]), cellText(row[guess.value])];
      const codec = packingOf([text]);
      return this.#referencesIn(codec === 'php' || codec === 'json' ? leavesOf(unpacked(text, codec), [above, key]) : [[above, key, text]]);
    }))].slice(0, 12);
  }

  /** The path of the rows that belong to another; in a tree at every depth. */
  #inList(child: Of<'records'>): string { const path = `$.${this.#alias(child.table.name)}[*]`; return child.guess.parent === undefined ? path : `$..${this.#alias(child.table.name)}[*]`; }

  /** The column that tells rows of one owner apart. */
  #idIn(child: Of<'records'>): string { return child.table.key.find((column) => column !== this.#owner(child)?.column) ?? 'id'; }

  #list(child: Of<'records'>, key: string): string {
    const own = this.#idIn(child);
    const by = this.#owner(child)?.column ?? '';
    const above = child.guess.parent;
    // A key that nobody counts up says something.
    const columns = [...child.table.columns.values()].filter((column) => (column.name !== own || child.table.key.length > 1) && column.name !== by && column.name !== above && !isTime(column));
    const order = columns.find(isOrder)?.name;
    return `{ list: { from: ${this.#alias(child.table.name)}, on: { ${by}: ${key} }, order: [${[...(order === undefined ? [] : [order]), own].join(', ')}], id: ${own}, value: { ${columns.filter((column) => column.name !== order).map((column) => `${column.name}: ${column.name}`).join(', ')} }${above === undefined ? '' : `, tree: { parent: ${above}, member: ${this.#alias(child.table.name)} }`}${made(child.table, isMade(child.samples, own) ? [own] : [], '').map((text) => `, ${text}`).join('')} } }`;
  }
}

/** Counters and times: they mean nothing, and every site has its own. */
function isTime({ name, storage }: Column): boolean { return VOLATILE.test(name) || (storage === 'other' && MADE.test(name)); }

function isOrder({ name, storage }: Column): boolean { return storage === 'integer' && /pos|order|sort|rank|weight/i.test(name); }

function orderOf(table: Table): string { const column = [...table.columns.values()].find(isOrder); return column ? `, order: [${column.name}]` : ''; }

/** What a new row has in columns that need a time, and as a key that is made up. */
function made(table: Table, keys: readonly string[], indent = '      '): string[] {
  const times = [...table.columns.values()].filter((column) => column.storage === 'other' && isTime(column) && !column.nullable && !column.filled);
  const lines = [...keys.map((name) => `${name}: '{uuid}'`), ...times.map(({ name }) => `${name}: '{now}'`)];
  return lines.length === 0 ? [] : [`${indent}create: { ${lines.join(', ')} }`];
}

function keyedLines(lists: readonly string[]): string[] { return lists.length === 0 ? [] : [`    keyed: [${lists.join(', ')}]`]; }

/** Of values under many keys some are packed in one way, some in another. */
function fieldPackings({ guess, samples }: Of<'fields'>, path: string): string[] {
  const found = new Set(samples.map((row) => packingOf([cellText(row[guess.value])])));
  return (['php', 'json', 'html'] as const).flatMap((codec) => (found.has(codec) ? [codecLine(`${path}.*`, codec)] : []));
}

function codecLine(path: string, codec: string): string { return `{ path: ${/[[\]{},'"]/.test(path) ? `'${path}'` : path}, codec: ${codec}${codec === 'json' ? ', ordered: true' : ''} }`; }

function packingsOf(columns: readonly Column[], rows: readonly Row[], above: string): string[] {
  return columns.flatMap((column) => { const codec = packingOf(rows.map((row) => cellText(row[column.name]))); return codec ? [codecLine(`${above}.${column.name}`, codec)] : []; });
}

/** The template of names. Where no column names a row on both sites, a word is made of its title. */
function nameLine({ guess: { name, title }, table }: Of<'records'>, key: string, rows: readonly Row[]): string {
  if (table.key.length > 1) return `# ${table.key.join(' and ')} together name it`;
  if (name !== undefined) return name === key ? `name: '{${key}}'` : `name: '{${name}|${key}}'`;
  const titles = title === undefined ? [] : rows.map((row) => cellText(row[title]));
  if (title !== undefined && titles.length > 0 && new Set(titles).size === titles.length) return `name: '{~${title}|${key}}'  # no column looks like a name that both sites share: the title stands for it`;
  return `name: '{${key}}'  # no column looks like a name that both sites share: ids are not`;
}

function explained(guess: Guess): string {
  switch (guess.is) {
    case 'options': return `values by name (${guess.key} → ${guess.value})`;
    case 'fields': return `fields of ${guess.of}`;
    case 'links': return `links between ${guess.ends.map((end) => end.to).join(' and ')}`;
    case 'records': return guess.type === undefined ? 'records' : `records of ${guess.types.length} types (${guess.type})`;
    case 'traces': return 'traces of visitors';
    case 'unclear': return 'unclear: nothing is described from it';
  }
}

function commonPrefix(names: readonly string[]): string {
  const [first = ''] = names;
  let end = first.length;
  for (const name of names) while (!name.startsWith(first.slice(0, end))) end--;
  const prefix = first.slice(0, end);
  return names.length > 1 ? prefix.slice(0, prefix.lastIndexOf('_') + 1) : '';
}

function slug(text: string): string { return text.toLowerCase().replace(/[^a-z0-9]+/g, '-').replace(/^-+|-+$/g, '') || 'other'; }

/** A text as YAML takes it for a text. */
function word(text: string): string { return /^[A-Za-z_][\w./-]*$/.test(text) && !/^(yes|no|on|off|true|false|null|y|n)$/i.test(text) ? text : JSON.stringify(text); }
