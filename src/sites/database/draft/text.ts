import { groupBy } from '../../../core/json.ts';
import { cellText } from '../cells.ts';
import { distinct, isCalled, isMade, likeName, MADE, MEDIA_WORD, packingOf, statusOf, VOLATILE, type Guess, type KnownTables, type TableGuess } from './guess.ts';
import { everywhereText, namesText } from './everywhere.ts';
import { namingOf } from './naming.ts';
import { fieldPackings, leavesIn, packingsOf, type Shown } from './packings.ts';
import { flags, step, type Leaf } from './leaves.ts';
import type { Column, Table } from '../engine.ts';
import { SMALLEST, type Suspect } from '../suspicion.ts';

type Of<T extends Guess['is']> = TableGuess & { readonly guess: Extract<Guess, { is: T }> };
const is = <T extends Guess['is']>(sort: T) => (one: TableGuess): one is Of<T> => one.guess.is === sort;

/** A row of options that says what a site is. */
interface Fact { readonly one: Of<'options'>; readonly key: string; readonly quoted: boolean }
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

/** So many rows are looked into for what is packed in them. */
const LOOKED_AT = 30;

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
    const isLeft = (one: TableGuess): boolean => one.guess.is === 'traces' || (one.guess.is === 'links' && one.guess.ends.some(({ to }) => this.#arePeople(to)));
    const traces = this.#own.filter(isLeft);
    const left = traces.length === 0 ? [] : ['# What visitors and machines leave is nobody\'s configuration, and what people of one site have. Take a table out of this list to describe it.', `leaves: [${traces.map((one) => `'{prefix}${this.#alias(one.table.name)}'`).join(', ')}]`];
    return [...left, 'tables:', ...this.#own.filter((one) => !isLeft(one)).map((one) => {
      const volatile = [...one.table.columns.values()].filter((column) => isTime(column) && one.guess.is === 'records').map((column) => column.name);
      const note = `  # ${one.rows} rows: ${explained(one.guess)}`;
      const key = one.guess.is === 'links' && one.table.key.length === 0 ? `, key: [${one.guess.ends.map((end) => end.column).join(', ')}]` : '';
      const facts = Object.values(this.#found()).flatMap((fact) => (fact?.one === one ? `{ ${fact.one.guess.key}: ${fact.key} }` : []));
      const own = facts.length === 0 ? '' : `, ignore: [${facts.join(', ')}]`;
      return `  ${this.#alias(one.table.name)}: { name: '{prefix}${this.#alias(one.table.name)}'${key}${own}${volatile.length > 0 ? `, volatile: [${volatile.join(', ')}]` : ''} }${note}${own === '' ? '' : '; what says what the site is called and where it is stays its own'}`;
    })];
  }

  /** The rows that say what the site is. */
  #found(): Record<'title' | 'address' | 'theme', Fact | undefined> {
    const lookup = (test: RegExp, value: RegExp): Fact | undefined => {
      for (const one of this.#all.filter(is('options'))) {
        const row = one.samples.find((sample) => test.test(cellText(sample[one.guess.key])) && value.test(cellText(sample[one.guess.value]).replace(/^"/, '')));
        if (row) return { one, key: word(cellText(row[one.guess.key])), quoted: cellText(row[one.guess.value]).startsWith('"') };
      }
      return undefined;
    };
    return { title: lookup(/title|site.?name|blogname/i, /\S/), address: lookup(/home|address|url/i, /^https?:\/\//), theme: lookup(/^(stylesheet|theme)$/i, /\S/) };
  }

  facts(name: string): string[] {
    // A text that is quoted is JSON.
    const [title, address, theme] = Object.values(this.#found()).map((fact) => fact && `{ from: ${this.#alias(fact.one.table.name)}, where: { ${fact.one.guess.key}: ${fact.key} }, value: ${fact.one.guess.value}${fact.quoted ? ', codec: json, path: $' : ''} }`);
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

  #arePeople(table: string): boolean { return this.#all.filter(is('records')).some((one) => one.table.name === table && one.guess.people); }

  /** The rule for a place that points to a table. Of people whom the other site does not have its own user takes the place. */
  #reference(path: string, to: string): string { return `{ path: ${/[[\]{},'"]/.test(path) ? `'${path}'` : path}, to: ${this.#kindsIn(to)}${this.#arePeople(to) ? ', otherwise: user' : ''} }`; }

  /** Has the draft a kind for its rows, or the layout? */
  #isDescribed(table: string): boolean { return this.#known.has(table) || this.#own.filter(is('records')).some((one) => one.table.name === table && !this.#owner(one)); }

  /** The kinds that lie in a table, as a layout names them. */
  #kindsIn(table: string): string {
    const words = this.#known.get(table);
    return words ? `[${words.join(', ')}]` : slug(this.#alias(table));
  }

  /** The table whose rows these belong to: rows without a name of their own that point to one with names, and that it does not point to. */
  #owner(one: Of<'records'>): { column: string; table: string } | undefined {
    const goes = this.#goesWith(one);
    if (goes || one.guess.name !== undefined) return goes;
    const always = (column: string): boolean => one.samples.every((row) => !/^0?$/.test(cellText(row[column])));
    const [found] = [...one.points].filter(([column, to]) => to !== one.table.name && always(column) && this.#own.filter(is('records')).some((other) => other.table.name === to && ![...other.points.values()].includes(one.table.name) && (other.guess.name ?? other.guess.title) !== undefined));
    return found && { column: found[0], table: found[1] };
  }

  /** What the database itself removes with another row, in a place among its likes, or without a name that is its own; and nothing else points to it. */
  #goesWith({ table, guess, samples }: Of<'records'>): { column: string; table: string } | undefined {
    const [key] = table.foreign.filter(({ goes, to, columns }) => goes && to !== table.name && columns.length === 1 && table.columns.get(columns[0]?.from ?? '')?.nullable === false && this.#own.filter(is('records')).some((other) => other.table.name === to));
    const pointedAt = this.#all.some((other) => other.table !== table && [...other.points.values()].includes(table.name));
    const isOne = guess.name === undefined || distinct(samples, guess.name) < samples.length || [...table.columns.values()].some(isOrder);
    return key && isOne && !pointedAt ? { column: key.columns[0]?.from ?? '', table: key.to } : undefined;
  }

  /** Options: those that begin alike are a group, packed ones an item each, the rest one kind for all. */
  #options(one: Of<'options'>): string[] {
    const { key, value } = one.guess;
    const alias = this.#alias(one.table.name);
    const names = one.samples.map((row) => ({ name: cellText(row[key]), text: cellText(row[value]) }));
    const isOwn = ({ name, text }: { name: string; text: string }): boolean => packingOf([text]) === 'php' || packingOf([text]) === 'json' || this.#referencesIn([['$', name, text]]).length > 0;
    const packed = names.filter(isOwn).filter(({ name }) => !/^_/.test(name));
    const plain = names.filter((entry) => !packed.includes(entry));
    const groups = [...groupBy(plain, ({ name }) => /^[^_.:-]+[_.:-](?=.)/.exec(name)?.[0] ?? '')].filter(([beginning, list]) => beginning !== '' && list.length >= 3);
    return [
      `  # An item for each of these ${packed.length} names, with a packed value or an id: what looks like an id of another table, a secret or a file is marked.`,
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
    const codec = packingOf([text]);
    const leaves = leavesIn(text, ['$', 'option']).filter(([path]) => path !== '$');
    const whole = this.#referencesIn([['$', name, text]]).map((line) => line.replace(/path: "[^"]*"/, 'path: $.option'));
    return [
      `  - id: ${this.#site}/${slug(name)}`, `    title: ${word(name)}`, `    rows: { from: ${alias}, where: { ${key}: ${word(name)} }, name: '{${key}}', value: { option: ${value} } }`,
      ...(codec === 'php' || codec === 'json' ? [`    codecs: [{ path: $.option, codec: ${codec}${codec === 'json' ? ', ordered: true' : ''} }]`] : []),
      ...(whole.length > 0 ? [`    references: [${whole.join(', ')}]`] : this.#references(leaves)), ...flags(leaves),
    ];
  }

  /** Places with a whole number that is an id of a table of records, and a name that says so. */
  #references(leaves: readonly Leaf[]): string[] {
    const found = this.#someReferences(leaves);
    return found.length === 0 ? [] : [`    references: [${found.join(', ')}]`];
  }

  /** Each place once, and no more of them than can be looked at. */
  #someReferences(leaves: readonly Leaf[]): string[] { return [...new Set(this.#referencesIn(leaves))].slice(0, 12); }

  #referencesIn(leaves: readonly Leaf[]): string[] {
    return leaves.flatMap(([path, last, text]) => {
      if (!/^[1-9]\d*$/.test(text)) return [];
      // An id that stands alone is one of what it stands in.
      const called = /^(?:ids?|\[\*\])$/i.test(last) ? /[\w-]+$/.exec(path.replace(/\[\*\]$/, ''))?.[0] ?? last : last;
      const tables = this.#all.filter(is('records')).filter((one) => one.samples.some((row) => cellText(row[one.table.key[0] ?? '']) === text));
      const table = tables.find((one) => likeName(called, one.table) || isCalled(called, this.#known.get(one.table.name)));
      // A small number under a name that does not speak of an id is a count, unless it is called exactly like the table.
      const small = Number(text) < SMALLEST && !/(^|_|-)(id|ids|page|post|image|template|parent|menu|form|board)(_|-|$)|id$/i.test(last) && !MEDIA_WORD.test(called);
      return table && (!small || isNameOf(called, this.#alias(table.table.name))) ? [`{ path: "${path}${step(last)}", to: ${this.#kindOf(table, text)} }`] : [];
    });
  }

  /** The kind of what a tag or a short code shows. */
  readonly #shown: Shown = (name, id) => {
    const one = this.#all.filter(is('records')).find(({ table, samples }) => name.split(/[-_]/).some((part) => isNameOf(part, this.#alias(table.name))) && samples.some((row) => cellText(row[table.key[0] ?? '']) === id));
    return one && this.#kindOf(one, id);
  };

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
    const status = statusOf(one.table, rows);
    const naming = namingOf(one, rows, this.#all, (table) => this.#alias(table));
    const isContent = (column: Column): boolean => !one.table.key.includes(column.name) && column.name !== one.guess.name && column.name !== one.guess.type && column.name !== status?.column && !isTime(column);
    // Of people who have accounts only what they are called.
    const columns = [...one.table.columns.values()].filter((column) => (one.guess.people ? column.name === one.guess.name || column.name === one.guess.title : isContent(column)));
    const fields = this.#own.filter(is('fields')).filter((other) => other.guess.of === one.table.name);
    const ends = this.#own.filter(is('links')).flatMap((other) => {
      const here = other.guess.ends.find((end) => end.to === one.table.name);
      const there = other.guess.ends.find((end) => end !== here);
      // Of two tables that are both drafted the first one has the links: rows that two items have would be changed under each other.
      const first = other.guess.ends.find((end) => this.#own.some(({ table }) => table.name === end.to));
      if (!here || !there || first?.to !== one.table.name || other.guess.ends.some(({ to }) => this.#arePeople(to))) return [];
      const { role } = other.guess;
      const name = this.#alias(other.table.name);
      return role ? role.words.map((text) => ({ other, here, there, member: `${name}_${slug(text).replaceAll('-', '_')}`, where: `, where: { ${role.column}: ${word(text)} }` })) : [{ other, here, there, member: name, where: '' }];
    });
    const children = this.#own.filter(is('records')).filter((other) => this.#owner(other)?.table === one.table.name);
    const packings = [...packingsOf(columns, rows, '$', this.#shown), ...fields.flatMap(({ samples, guess, table }) => fieldPackings(samples.map((row) => cellText(row[guess.value])), `$.${this.#alias(table.name)}`, this.#shown)), ...children.flatMap((other) => packingsOf([...other.table.columns.values()], other.samples, this.#inList(other), this.#shown))];
    const inColumns = rows.slice(0, LOOKED_AT).flatMap((row) => columns.flatMap(({ name }) => leavesIn(cellText(row[name]), ['$', name])));
    const inFields = ({ samples, guess, table }: Of<'fields'>): Leaf[] => samples.flatMap((row) => leavesIn(cellText(row[guess.value]), ['$', this.#alias(table.name), cellText(row[guess.key])]));
    const inChild = (other: Of<'records'>): Leaf[] => other.samples.slice(0, LOOKED_AT).flatMap((row) => [...other.table.columns.keys()].flatMap((name) => leavesIn(cellText(row[name]), [this.#inList(other), name])));
    const references = [
      ...columns.flatMap((column) => { const to = one.points.get(column.name); return to === undefined || !this.#isDescribed(to) ? [] : [this.#reference(`$.${column.name}`, to)]; }),
      ...children.flatMap((other) => [...other.points].filter(([column, to]) => this.#isDescribed(to) && column !== this.#owner(other)?.column && column !== other.guess.parent).map(([column, to]) => this.#reference(`${this.#inList(other)}.${column}`, to))),
      ...children.flatMap((other) => this.#someReferences(inChild(other).filter(([path]) => path !== this.#inList(other)))),
      ...ends.map(({ member, there }) => this.#reference(`$.${member}[*]`, there.to)),
      ...this.#someReferences(inColumns.filter(([path]) => path !== '$')),
      ...fields.flatMap((other) => this.#someReferences(inFields(other))),
    ];
    return [
      `  # ${rows.length} of the rows looked at.`,
      `  - id: ${this.#site}/${slug(type ?? alias)}`, ...(one.guess.title === undefined ? [] : [`    titleFrom: $.${one.guess.title}`]),
      ...(one.guess.people ? ['    carried: false  # people with accounts are referred to, and each site has its own'] : []),
      '    rows:', `      from: ${alias}`, ...(naming.joins.length === 0 ? [] : [`      joins: { ${naming.joins.join(', ')} }`]), ...(type === undefined ? [] : [`      where: { ${one.guess.type ?? ''}: ${word(type)} }`]),
      `      ${naming.template === undefined ? '' : `name: '${naming.template}'`}${naming.note === undefined ? '' : `${naming.template === undefined ? '' : '  '}# ${naming.note}`}`, ...(one.guess.title === undefined ? [] : [`      title: '{${one.guess.title}}'`]),
      ...(status ? [`      status: { column: ${status.column}, published: [${status.published.map(word).join(', ')}], draft: [${status.draft.map(word).join(', ')}], kept: ${status.column} }`] : []),
      columns.length + fields.length + children.length + ends.length === 0 ? '      value: {}' : '      value:', ...columns.map((column) => `        ${column.name}: ${column.name}`),
      ...fields.map((other) => `        ${this.#alias(other.table.name)}: { fields: { from: ${this.#alias(other.table.name)}, on: { ${other.guess.by}: ${key} }, key: ${other.guess.key}, value: ${other.guess.value} } }`),
      ...children.map((other) => `        ${this.#alias(other.table.name)}: ${this.#list(other, key)}`),
      ...ends.map(({ other, here, there, member, where }) => `        ${member}: { ids: { from: ${this.#alias(other.table.name)}${where}, on: { ${here.column}: ${key} }, value: ${there.column}${orderOf(other.table)} } }`),
      ...made(one.table, isMade(one.samples, key) ? [key] : []),
      ...(children.length > 0 ? [`    belongings: [${children.map((other) => `{ path: '${this.#inList(other)}', id: id }`).join(', ')}]`] : []),
      ...keyedLines(children.filter((other) => other.table.key.length > 1).map((other) => `{ path: $.${this.#alias(other.table.name)}, key: ${this.#idIn(other)} }`)),
      ...(packings.length > 0 ? [`    codecs: [${packings.join(', ')}]`] : []), ...(references.length > 0 ? [`    references: [${references.join(', ')}]`] : []),
      ...flags([...inColumns, ...fields.flatMap(inFields), ...children.flatMap(inChild)]),
    ];
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

/** Is this the name of a table in the singular or plural? */
function isNameOf(called: string, table: string): boolean { const [one, other] = [called.toLowerCase(), table.toLowerCase()]; return one === other || `${one}s` === other; }

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
