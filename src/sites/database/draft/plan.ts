import { cellText, type Row } from '../cells.ts';
import { groupBy } from '../../../core/json.ts';
import { isMeasure } from '../../../core/measures.ts';
import { familyOf } from '../../../core/translate/likename.ts';
import { SIDES } from '../../../core/translate/refer.ts';
import { pluralsOf, singularOf, uncamelled } from '../../../core/words.ts';
import type { Column, Table } from '../engine.ts';
import { SMALLEST } from '../suspicion.ts';
import { isOrder, orderOf } from './columns.ts';
import { isUnique, type Guess, type TableGuess } from './guess.ts';
import type { Held } from './held.ts';
import type { NamedAfter } from './namedafter.ts';
import { hasOtherPlural, hasSort, isCalled, isNameOf, isRowOf, likeName, MEDIA_TABLE, isOtherPlural, MEDIA_WORD, ownNamesOf, saysHowMany, type KnownTables } from './points.ts';
import { couldBeOn, isMentioned, isSwitch } from './mentions.ts';
import { isHolder, namingOf, type Naming } from './naming.ts';
import { distinct, ID_BEHIND, isFilled } from './samples.ts';
import { step, type Leaf } from './leaves.ts';
import { inEnglish, isOneOf, oneOf } from './tongues.ts';
import { aliasOf, commonPrefix, oneOrList, quotedPath, quotedText, slug } from './words.ts';

export type Of<T extends Guess['is']> = TableGuess & { readonly guess: Extract<Guess, { is: T }> };
export const is = <T extends Guess['is']>(sort: T) => (one: TableGuess): one is Of<T> => one.guess.is === sort;

/** The row that others belong to: the table, and the column that says which row. */
export interface Holder { readonly column: string; readonly table: string }

/** Rows that are one kind. */
/** `whole`: what a value as a whole is called; `family`: what the tables of the extension begin with in which it lies. */
export interface Around { readonly whole?: string; readonly family?: string | undefined }
export interface Sort { readonly rows: readonly Row[]; readonly points: ReadonlyMap<string, string>; readonly naming: Naming }

/** What things of a kind are called after their table: "hb_rate" and "hb_rates". */
export interface Whole { readonly kind: string; readonly one: string; readonly many: string }

const MOST_REFERENCES = 12;
/** A map by things, of which the name does not say what it has for each. */
const SOMETHING_BY = /^by[_-]/i;
/** Ids of which a word beside them says of what sort they are, as the layout knows. */
const SAID_BESIDE = /^(?:object|item|target|entity)_?id$/i;
/** Words that could mean anything. */
const ANYTHING: ReadonlySet<string> = new Set(['item', 'entry', 'record', 'row', 'element', 'node', 'object', 'value', 'link', 'list', 'group', 'set', 'field', 'option', 'setting', 'string', 'meta', 'log', 'map', 'name', 'key', 'part', 'unit', 'thing', 'rule', 'data', 'css']);
/** What pictures are called, whatever their table is. */
const PICTURES = ['image', 'picture', 'photo', 'media', 'attachment'];

/** Which tables a draft describes, what their kinds are called, and which of them points to which. */
export class DraftPlan {
  readonly all: readonly TableGuess[];
  /** Those that are to be described. */
  readonly own: readonly TableGuess[];
  readonly prefix: string;
  /** Who owns what no extension owns. */
  readonly site: string;
  /** The kind of the layout whose rules for values hold for any. */
  readonly like: string | undefined;
  /** Tables whose rows belong to rows that the layout describes. */
  readonly held: readonly Held[];
  /** Values of the layout that are called after rows of these tables: such rows are items, and no part of others. */
  readonly after: readonly NamedAfter[];
  readonly #aliases: ReadonlyMap<string, string>;
  readonly #known: KnownTables;
  /** Words for kinds that the layout has already. */
  readonly #taken: ReadonlySet<string>;
  readonly #options = new Map<string, string>();
  readonly #sorts = new Map<string, Sort>();
  readonly #owners = new Map<TableGuess, Holder | undefined>();

  constructor(guesses: readonly TableGuess[], base?: { readonly owner: string; readonly prefix: string; readonly tables: KnownTables; readonly aliases: ReadonlyMap<string, string>; readonly kinds: readonly string[]; readonly like: string | undefined; readonly held: readonly Held[]; readonly after: readonly NamedAfter[] }) {
    this.all = guesses;
    this.site = base?.owner ?? 'site';
    this.#known = base?.tables ?? new Map<string, readonly string[]>();
    this.own = guesses.filter((one) => !this.#known.has(one.table.name));
    this.prefix = base?.prefix ?? commonPrefix(guesses.map((one) => one.table.name));
    this.#aliases = new Map([...guesses.map((one) => [one.table.name, aliasOf(one.table.name.slice(this.prefix.length))] as const), ...base?.aliases ?? []]);
    this.#taken = new Set(base?.kinds);
    this.like = base?.like;
    this.held = base?.held ?? [];
    this.after = base?.after ?? [];
  }

  /** What the layout says of any value holds for a kind with this line too. */
  get likeLine(): string[] { return this.like === undefined ? [] : [`    like: ${this.like}  # ids under names that say so`]; }

  alias(table: string): string { return this.#aliases.get(table) ?? table; }

  /** The name of a table in its database, as a layout has it. */
  named(table: string): string { return quotedText(`{prefix}${table.slice(this.prefix.length)}`); }

  /** The rows of one type in a table, or all of them; the tables that their columns point to, and how they can be called. */
  sort(one: Of<'records'>, type: string | undefined): Sort {
    const key = `${one.table.name} ${type ?? ''}`;
    const known = this.#sorts.get(key);
    if (known) return known;
    const rows = type === undefined ? one.samples : one.samples.filter((row) => cellText(row[one.guess.type ?? '']) === type);
    const pointed = one.pairs.flatMap(({ of, by, words }) => { const to = of === one.guess.type ? words.get(type ?? '') : undefined; return to === undefined || to === '' ? [] : [[by, to] as const]; });
    const points = new Map([...one.points, ...pointed]);
    const sort = { rows, points, naming: namingOf({ one, rows, points, all: this.all, alias: (name) => this.alias(name), label: this.labelOf(one) }) };
    this.#sorts.set(key, sort);
    return sort;
  }

  /** Words for the items of a kind, as names of values have them: none where such a word is one for a measure, for anything or for what the layout has already, or people are meant. */
  wordsFor({ table, guess }: Of<'records'>, type: string | undefined): string[] {
    const words = type === undefined ? [...ownNamesOf(this.alias(table.name)).map(oneOf), ...this.#saidFor(table), ...(MEDIA_TABLE.test(table.name) ? PICTURES.filter((word) => !this.all.some((other) => other.table !== table && isRowOf(word, other.table.name))) : [])] : [type];
    const isFree = (last: string): boolean => [last, inEnglish(last)].every((one) => !isMeasure(one) && !ANYTHING.has(one)) && !this.#taken.has(last);
    // A word for what lies elsewhere says of what these rows speak, and not what they are.
    return guess.people || (type !== undefined && this.kindOf(table.name, type) !== slug(type)) ? [] : [...new Set(words)].filter((word) => word.length > 2 && isFree(word.replace(/^.*[_-]/, '')));
  }

  /** What columns call the rows to which they point: "seite", where the table is called "seiten". */
  #saidFor({ name }: Table): string[] {
    const called = this.alias(name);
    return this.all.flatMap(({ points }) => [...points].flatMap(([column, to]) => {
      const stem = uncamelled(column).replace(ID_BEHIND, '').replace(/^id_/, '');
      return to === name && (isNameOf(stem, called) || isOtherPlural(column, called)) ? [stem] : [];
    }));
  }

  /** Is a word, or what it is the plural of, one for a kind that the layout has already? */
  isTaken(word: string): boolean { return this.#taken.has(word) || this.#taken.has(singularOf(word)); }

  /** The kinds for whose items there are such words. */
  worded(): string[] {
    return this.records().flatMap((one) => typesOf(one).filter((type) => this.#areItems(one, type) && this.wordsFor(one, type).length > 0).map((type) => this.kindOf(one.table.name, type)));
  }

  /** The kinds of these tables, with what one and several of their items are called: after the table, or after their type. */
  wholes(): Whole[] {
    return this.records().filter(({ guess }) => !guess.people).flatMap((one) => typesOf(one).filter((type) => this.#areItems(one, type)).flatMap((type) => {
      const kind = this.kindOf(one.table.name, type);
      // A type that has the word of other things is told by what stands beside it.
      if (type !== undefined) return kind === slug(type) ? [{ kind, one: singularOf(type), many: pluralsOf(singularOf(type))[0] ?? type }] : [];
      const many = ownNamesOf(this.alias(one.table.name)).at(-1) ?? '';
      return [{ kind, one: oneOf(many), many: many === oneOf(many) ? `${many}s` : many }];
    }));
  }

  /** Are such rows items: does anything name them on both sites? */
  #areItems(one: Of<'records'>, type: string | undefined): boolean { const { usable, byId } = this.sort(one, type).naming; return usable && byId !== true; }

  /** The tables of records that are items of their own. */
  records(): Of<'records'>[] { return this.own.filter(is('records')).filter((one) => !this.held.some((other) => other.one === one) && !this.ownerOf(one)); }

  /** The table whose items have the links: of the ends that are drafted the one after which the links are called, or else the first; none where one of them is no item. */
  hasLinks({ table, guess: { ends } }: Of<'links'>): string | undefined {
    const drafted = ends.filter((end) => this.own.some((other) => other.table.name === end.to));
    const first = drafted.find(({ to }) => this.#isAfter(table, to)) ?? drafted[0];
    return ends.every(({ to }) => !this.arePeople(to) && this.isDescribed(to)) ? first?.to : undefined;
  }

  /** Is a table called after one row of another: "page_texts" after "pages"? */
  #isAfter({ name }: Pick<Table, 'name'>, to: string): boolean {
    const [own, above] = [inEnglish(this.alias(name)), inEnglish(this.alias(to))];
    return own.startsWith(`${singularOf(above)}_`) || isOneOf(own.split('_').slice(0, above.split('_').length).join('_'), above);
  }

  arePeople(table: string): boolean { return this.all.filter(is('records')).some((one) => one.table.name === table && one.guess.people); }

  /** Rows that belong to people. */
  arePeoples(one: TableGuess): boolean {
    const owner = is('records')(one) ? this.ownerOf(one) : undefined;
    return owner !== undefined && this.arePeople(owner.table);
  }

  /** Has the draft a kind for its rows, or the layout? */
  isDescribed(table: string): boolean { return (this.#known.get(table) ?? []).length > 0 || this.records().some((one) => one.table.name === table && typesOf(one).some((type) => this.#areItems(one, type))); }

  /** Does anything in the draft, or in the layout, carry its rows: as items, or as a part of some? */
  hasRows(table: string): boolean { return this.isDescribed(table) || this.#isPart(table) || this.held.some(({ one }) => one.table.name === table); }

  /** The kinds that lie in a table, as a layout names them. */
  kindsIn(table: string): string {
    const words = this.#known.get(table);
    const one = this.own.filter(is('records')).find((other) => other.table.name === table);
    const kinds = words ?? (one?.guess.type === undefined || this.ownerOf(one) ? [this.kindOf(table)] : one.guess.types.filter((type) => this.#areItems(one, type)).map((type) => this.kindOf(table, type)));
    return kinds.length === 1 && !words ? kinds[0] ?? '' : `[${kinds.join(', ')}]`;
  }

  /** What the kind of a table is called, or of the rows of one type in it; a word that is taken has the table before it. */
  kindOf(table: string, type?: string): string {
    const plain = slug(this.alias(table));
    const alias = this.#taken.has(plain) && !this.#known.has(table) ? `own-${plain}` : plain;
    if (type === undefined) return alias;
    // A word for another table is the name of what lies there.
    const isOfOthers = this.own.filter(is('records')).some((one) => one.table.name === table && areOfOthers(one));
    const taken = isOfOthers || this.#taken.has(slug(type)) || this.records().some((one) => one.table.name !== table && (isNameOf(inEnglish(type), inEnglish(this.alias(one.table.name))) || one.guess.types.some((other) => slug(other) === slug(type))));
    return taken ? `${alias}-${slug(type)}` : slug(type);
  }

  /** The same of the rows of one sort in a table that the layout describes. */
  kindOfSort(table: string, sort: string): string {
    const taken = this.#taken.has(slug(sort)) || this.own.filter(is('records')).some((one) => this.kindOf(one.table.name) === slug(sort));
    return taken ? `${slug(this.alias(table))}-${slug(sort)}` : slug(sort);
  }

  /** The same of an option, each once. */
  kindOfOption(table: string, name: string): string {
    const own = `${table} ${name}`;
    const taken = (text: string): boolean => this.#taken.has(text) || this.own.filter(is('records')).some((one) => slug(this.alias(one.table.name)) === text || one.guess.types.some((type) => this.kindOf(one.table.name, type) === text)) || (this.#options.get(text) ?? own) !== own;
    const free = [slug(name), `${slug(this.alias(table))}-${slug(name)}`].find((text) => !taken(text)) ?? `${slug(this.alias(table))}-${slug(name)}-${this.#options.size}`;
    this.#options.set(free, own);
    return free;
  }

  /** The table whose rows these belong to: rows without a name of their own that point to one with names, and that it does not point to. */
  ownerOf(one: Of<'records'>): Holder | undefined {
    // It is asked for every pair of tables, and looks through all that values mean.
    if (!this.#owners.has(one)) {
      // Whoever is asked for in the meantime belongs to nothing by way of this one.
      this.#owners.set(one, undefined);
      this.#owners.set(one, this.#ownerOf(one));
    }
    return this.#owners.get(one);
  }

  #ownerOf(one: Of<'records'>): Holder | undefined {
    const goes = this.#goesWith(one) ?? this.#placedIn(one) ?? this.#insideOf(one);
    // What is the rest of a row that the layout describes is nobody else's.
    if (this.held.some((other) => other.one === one) || this.after.some(({ table }) => table === one.table.name)) return undefined;
    if (goes || one.guess.name !== undefined || ((one.guess.title !== undefined || this.#isNamedElsewhere(one)) && this.isMeant(one))) return goes;
    return this.#holdersOf(one).find(({ other }) => ![...other.points.values()].includes(one.table.name));
  }

  /** The rows that have the title of rows that have none themselves, one or more of them for each: in several languages perhaps. */
  labelOf({ table, guess }: Of<'records'>): { readonly table: string; readonly by: string; readonly title: string } | undefined {
    if ((guess.name ?? guess.title) !== undefined) return undefined;
    const found = this.own.filter(is('records')).flatMap((other) => {
      const [by] = [...other.points].find(([column, to]) => to === table.name && isFilled(other.samples, column)) ?? [];
      return by === undefined || other.guess.title === undefined || other.guess.people ? [] : [{ table: other.table.name, by, title: other.guess.title }];
    });
    // What is called after it says more than what only means one of its rows.
    return found.find((label) => this.#isAfter({ name: label.table }, table.name)) ?? found[0];
  }

  /** Has it a title elsewhere, of which an index says that there is one, or one in each language? */
  #isNamedElsewhere(one: Of<'records'>): boolean {
    const label = this.labelOf(one);
    return label !== undefined && this.all.some(({ table, unique }) => table.name === label.table && unique.some((columns) => columns.includes(label.by)));
  }

  #canBeNamed(one: Of<'records'>): boolean { return (one.guess.name ?? one.guess.title) !== undefined || this.labelOf(one) !== undefined; }

  /** What the database itself removes with another row, in a place among its likes, or without a name that is its own; and nothing else points to it. */
  #goesWith(one: Of<'records'>): Holder | undefined {
    const { table, guess, samples } = one;
    const keys = holderFirst(table.foreign, ({ columns: [pair] }) => pair?.from ?? '').filter(({ goes, to, columns }) => goes && to !== table.name && columns.length === 1 && table.columns.get(columns[0]?.from ?? '')?.nullable === false && this.own.filter(is('records')).some((other) => other.table.name === to));
    // Texts in each language go with what they are of, and not with the language.
    const key = keys.find(({ to }) => this.#isAfter(table, to)) ?? keys[0];
    // What lies in rows that are a part of others can be no item: nothing could mean those.
    const isOne = guess.name === undefined || distinct(samples, guess.name) < samples.length || [...table.columns.values()].some(isOrder) || (key !== undefined && this.#isPart(key.to));
    return key && isOne && !this.#isPointedAt(one) ? { column: key.columns[0]?.from ?? '', table: key.to } : undefined;
  }

  /** What has a place among those of one other row, such as the fields of a form; or is called after it, and by an index there once for each of something in it, such as its texts in each language. Nothing names or means it alone. */
  #placedIn(one: Of<'records'>): Holder | undefined {
    const { table, guess, samples, unique } = one;
    const holders = this.#holdersOf(one).filter(({ other }) => !other.guess.people);
    if (samples.length === 0 || holders.length === 0 || isUnique(guess.name, unique) || this.isMeant(one)) return undefined;
    const isInIndex = (column: string): boolean => [table.key, ...unique].some((columns) => columns.length > 1 && columns.includes(column));
    return orderOf(table) !== undefined && holders.length === 1 ? holders[0] : holders.find(({ column, table: to }) => this.#isAfter(table, to) && isInIndex(column));
  }

  /** What belongs to rows that lie in an item themselves, such as the texts of the choices of a field: only there it has something that it means. */
  #insideOf(one: Of<'records'>): Holder | undefined {
    const { table, points, samples } = one;
    if (samples.length === 0 || this.#isPointedAt(one, (other) => !removedWith(other, table))) return undefined;
    const [found] = holderFirst([...points], ([column]) => column).filter(([column, to]) => to !== table.name && isHolder(column, to) && isFilled(samples, column) && this.#isPart(to));
    return found && { column: found[0], table: found[1] };
  }

  /** Do the rows of a table belong to others? */
  #isPart(table: string): boolean { return this.own.filter(is('records')).some((one) => one.table.name === table && this.ownerOf(one) !== undefined); }

  /** Rows that can be named, to which all of these belong as a column says. */
  #holdersOf({ table, points, samples }: Of<'records'>): (Holder & { readonly other: Of<'records'> })[] {
    return holderFirst([...points], ([column]) => column).filter(([column, to]) => to !== table.name && isHolder(column, to) && isFilled(samples, column)).flatMap(([column, to]) => {
      const other = this.own.filter(is('records')).find((some) => some.table.name === to && this.#canBeNamed(some));
      return other ? [{ column, table: to, other }] : [];
    });
  }

  /** Do others refer to such rows by their ids, in columns or in values? */
  isMeant(one: Of<'records'>): boolean { return this.#isPointedAt(one) || isMentioned(one, this.all); }

  /** Do rows of other tables refer to these? What visitors left says little: then the titles of items are different ones. */
  #isPointedAt(one: Of<'records'>, counts: (other: TableGuess) => boolean = () => true): boolean {
    const pointing = this.all.filter((other) => other.table !== one.table && [...other.points.values()].includes(one.table.name) && counts(other));
    return pointing.some(({ guess }) => guess.is !== 'traces') || (pointing.length > 0 && one.guess.title !== undefined && distinct(one.samples, one.guess.title) === one.samples.length);
  }

  /** The rule for a place that points to a table. Of people whom the other site does not have its own user takes the place. */
  reference(path: string, to: string): string { return `{ path: ${quotedPath(path)}, to: ${this.kindsIn(to)}${this.arePeople(to) ? ', otherwise: user' : ''} }`; }

  /** Places with a whole number that is an id of a table of records, and a name that says so; each once, and no more of them than can be looked at. */
  referencesIn(leaves: readonly Leaf[], around: Around = {}): string[] {
    const found = [...groupBy(leaves, ([path, last]) => `${path}${step(last)}`)].flatMap(([path, same]) => {
      const kinds = new Set(same.flatMap((leaf) => this.kindAt(leaf, around) ?? []));
      return kinds.size > 0 ? [{ path, kinds: [...kinds] }] : this.#ownAt(same, around).map((kind) => ({ path, kinds: [kind] }));
    });
    return found.slice(0, MOST_REFERENCES).map(({ path, kinds }) => {
      // Where the layout guesses as well, a number that is no id is nobody's mistake.
      return `{ path: "${path}", ${this.like === undefined ? '' : 'loose: true, '}to: ${oneOrList(kinds)} }`;
    });
  }

  around({ table }: Pick<TableGuess, 'table'>): Around { return { family: familyOf(this.alias(table.name)) }; }

  /** The kind of the item whose id seems to stand at a place. */
  kindAt([path, last, text]: Leaf, { whole, family }: Around = {}): string | undefined {
    if (!/^[1-9]\d*$/.test(text)) return undefined;
    const called = calledAt(path, last, whole);
    if (saysHowMany(called) || (last === '*' && SOMETHING_BY.test(called)) || (this.like !== undefined && SAID_BESIDE.test(last))) return undefined;
    // Of the tables of two extensions that of its own.
    const one = this.#withId(text, (other) => this.#isOf(family, other) && this.#isCalled(called, other)) ?? this.#withId(text, (other) => this.#isCalled(called, other));
    // A small number under a name that does not speak of an id is a count, unless it is called exactly like the table.
    const small = Number(text) < SMALLEST && !/(^|_|-)(id|ids|page|post|image|template|parent|menu|form|board)(_|-|$)|id$/i.test(last) && !MEDIA_WORD.test(called);
    if (!one || (small && !isNameOf(called, this.alias(one.table.name)) && !this.#isOwnWord(called, one, family))) return undefined;
    // Where the layout has many things in one table, "page_style" is a choice, though the number may be the id of one of them.
    return this.#known.has(one.table.name) && isMeasure(called) && !ID_BEHIND.test(inEnglish(called)) ? undefined : this.#kindOfRow(one, text);
  }

  /** The kind of the extension's own whose ids seem to stand at a place, however small: all are its ids, and the name ends like that of its table. */
  #ownAt(leaves: readonly Leaf[], { family }: Around): string[] {
    const ids = leaves.map(([, , text]) => text).filter((text) => !/^0?$/.test(text));
    const called = leaves[0]?.[1] ?? '';
    if (family === undefined || ids.length === 0 || saysHowMany(called) || isSwitch(called) || (leaves[0]?.[0].endsWith(']') !== true && couldBeOn(called, ids))) return [];
    const one = this.#withId(ids[0] ?? '', (other) => this.#isOf(family, other) && likeName(called, other.table));
    if (!one || !ids.every((id) => this.#withId(id, (other) => other === one))) return [];
    const kind = this.#kindOfRow(one, ids[0] ?? '');
    return kind === undefined ? [] : [kind];
  }

  #isCalled(called: string, other: Of<'records'>): boolean { return likeName(called, other.table) || isCalled(called, this.#known.get(other.table.name)) || (!areOfOthers(other) && hasSort(other.guess.types, called)); }
  #isOf(family: string | undefined, { table }: Of<'records'>): boolean { return family !== undefined && familyOf(this.alias(table.name)) === family; }

  /** Is a table called so, but for what all tables of an extension begin with? */
  #isOwnWord(called: string, one: Of<'records'>, family = ''): boolean { return this.#isOf(family, one) && isNameOf(called, this.alias(one.table.name).slice(family.length + 1)); }

  /** A column with numbers that is called like what the layout knows, though they are no ids of these: how many of them there are. */
  isNumber({ name, storage }: Column, rows: readonly Row[]): boolean {
    const word = singularOf(inEnglish(name));
    return storage === 'integer' && rows.some((row) => Number(cellText(row[name])) > 0) && ([...this.#known.values()].some((words) => isCalled(word, words)) || this.records().some(({ table }) => isRowOf(word, this.alias(table.name))));
  }

  /** The kinds of what a tag, a short code or an address shows: rows of several sorts can be shown alike. */
  readonly shown = (name: string, id: string): string | undefined => {
    const one = this.#withId(id, ({ table }) => name.split(/[-_]/).some((part) => isNameOf(part, this.alias(table.name)) || hasOtherPlural(part, this.alias(table.name))));
    return one && this.#kindOfRow(one, id) && this.kindsIn(one.table.name);
  };

  #withId(id: string, fits: (one: Of<'records'>) => boolean): Of<'records'> | undefined {
    return this.all.filter(is('records')).find((one) => fits(one) && one.table.key.length === 1 && one.samples.some((row) => keyText(one.table, row) === id));
  }

  /** Of rows that belong to others only those that have the key of the row that they belong to mean an item. */
  #kindOfRow(one: Of<'records'>, id: string): string | undefined {
    const { table, guess, samples } = one;
    if (this.#known.has(table.name)) return this.kindsIn(table.name);
    if (this.held.some((other) => other.one === one)) return undefined;
    const owner = this.ownerOf(one);
    if (owner) return table.key.length === 1 && owner.column === table.key[0] ? this.kindsIn(owner.table) : undefined;
    const row = samples.find((sample) => keyText(table, sample) === id);
    const type = guess.type === undefined || !row ? undefined : cellText(row[guess.type]);
    return this.#areItems(one, type) ? this.kindOf(table.name, type) : undefined;
  }
}

/** The types of rows in a table; one for all where it has none. */
function typesOf({ guess }: Of<'records'>): readonly (string | undefined)[] { return guess.type === undefined ? [undefined] : guess.types; }

/** Do the types of rows say of which other table each tells something? */
function areOfOthers({ guess, pairs }: Of<'records'>): boolean { return pairs.some(({ of }) => of === guess.type); }

/**
 * What says which rows lie above another one is a matter of the lower one: the upper ones may have more below them on the other site. What leads from one row to
 * another is a matter of that from which it leads, and not of the field by which somebody chose it.
 */
function holderFirst<Of>(list: readonly Of[], column: (one: Of) => string): Of[] {
  const isHolder = (one: Of): number => Number(/^(?:descendant|child|lower|source|owner|holder)(?:_?id)?$/.test(inEnglish(column(one))));
  return [...list].sort((a, b) => isHolder(b) - isHolder(a));
}

/** Does the database itself remove rows with those of another table to which they point? */
function removedWith({ table }: TableGuess, other: Table): boolean { return table.foreign.some(({ goes, to, columns: [pair] }) => goes && to === other.name && table.columns.get(pair?.from ?? '')?.nullable === false); }

function keyText(table: Table, row: Row): string { return cellText(row[table.key[0] ?? '']); }

/** What an id is called: one that stands alone is one of what it stands in, and so is the first or the last of some. */
function calledAt(path: string, last: string, whole: string | undefined): string {
  const saysNothing = /^(?:ids?|\[\*\]|\*)$/i.test(last);
  if (!saysNothing && !SIDES.has(last)) return last;
  const above = path.replace(/\[\*\]$/, '');
  if (whole !== undefined && /^\$\.\w+$/.test(above)) return whole;
  const [name = last] = /[\w-]+$/.exec(above) ?? [];
  return SIDES.has(name) && saysNothing ? calledAt(above.slice(0, -name.length - 1), name, whole) : name;
}
