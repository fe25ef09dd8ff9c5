import { createHash } from 'node:crypto';
import { COUNTED } from './databasepair.ts';
import { draws } from './draws.ts';
import type { Sort } from './quayside.ts';

/** How the key of a table is made: counted by the server, made up by a machine, or the name itself. */
type Key = 'counted' | 'made' | 'name';
interface Entity { readonly noun: string; readonly table: string; readonly key: Key; readonly id: string; readonly name: string; readonly unique: boolean; readonly columns: Column[] }
interface Column { readonly name: string; readonly holds: 'title' | 'reference' | 'list' | 'json' | 'markup' | 'number' | 'state'; readonly to: Entity; readonly held: boolean; readonly nullable: boolean }
/** A table beside those of things: child rows in order, links, fields by name, texts by language. */
interface Beside { readonly is: 'rows' | 'links' | 'fields' | 'texts'; readonly table: string; readonly of: Entity; readonly to: Entity; readonly held: boolean; readonly own: string; readonly other: string }
type Site = 'dev' | 'live';
type Rows = (query: string) => string[][];

const NOUNS = ['vessel', 'harbour', 'crossing', 'fare', 'deck', 'cabin', 'season', 'island', 'pier', 'menu', 'notice', 'gallery', 'page', 'category', 'ticket', 'zone', 'berth', 'company', 'story'];
const WHERE = ['north', 'south', 'east', 'west', 'inner', 'outer', 'old', 'new'];
const STYLES: readonly ((words: string) => string)[] = [
  (words) => words, (words) => words, (words) => words.replace(/_(\w)/g, (_all, sign: string) => sign.toUpperCase()), (words) => words.toUpperCase(),
  (words) => `_${words}`.replace(/_(\w)/g, (_all, sign: string) => sign.toUpperCase()).replace(/Id(?=s?$)/, 'ID'),
];

/** A database of a made-up shape, in the words and ways of some house or other, and what is in it on two sites with other ids. The same for the same seed. */
export class MadeUp {
  readonly #sort: Sort;
  readonly #style: (words: string) => string;
  readonly #entities: Entity[] = [];
  readonly #beside: Beside[] = [];
  readonly #there: ReadonlySet<string>;
  readonly #seed: number;

  constructor(seed: number, sort: Sort) {
    this.#seed = seed;
    const { next, pick, chance } = draws(seed);
    this.#sort = sort;
    this.#style = pick(STYLES);
    const [prefix, plural, tied, named] = [pick(['', 'app_']), chance(0.7), pick([0, 0.5, 1]), pick(['slug', 'code', 'handle'])];
    const pointing = pick(['*_id', '*_id', 'id_*', '*_ref', '*']);
    const table = (words: string): string => prefix + this.#style(words);
    const column = (noun: string): string => this.#style(pointing.replace('*', noun));
    const nouns = NOUNS.map((noun) => ({ noun, at: next() })).sort((a, b) => a.at - b.at).slice(0, 3 + Math.floor(next() * 3));
    for (const { noun } of nouns) {
      const key = pick<Key>(['counted', 'counted', 'counted', 'made', 'name']);
      const id = this.#style(pick(['id', `${noun}_id`]));
      this.#entities.push({ noun, table: table(plural ? pluralOf(noun) : noun), key, id, name: key === 'name' ? id : this.#style(named), unique: chance(0.6), columns: [] });
    }
    for (const [i, entity] of this.#entities.entries()) {
      const add = (name: string, holds: Column['holds'], to: Entity, nullable = true): void => { if (![entity.id, entity.name, ...entity.columns.map((one) => one.name)].includes(name)) entity.columns.push({ name, holds, to, held: holds === 'reference' && this.#entities.indexOf(to) <= i && chance(tied), nullable }); };
      add(this.#style('title'), 'title', entity);
      for (let n = 0; n < 2; n++) { const to = pick(this.#entities.filter((one) => one !== entity)); add(column(n === 0 ? to.noun : `${pick(['main', 'next', 'default'])}_${to.noun}`), 'reference', to, this.#entities.indexOf(to) > i || chance(0.5)); }
      if (chance(0.4)) add(column('parent'), 'reference', entity);
      if (chance(0.5)) { const to = pick(this.#entities.filter((one) => one.key !== 'made')); add(this.#style(`${to.noun}_ids`), 'list', to); }
      if (chance(0.6)) add(this.#style(pick(['settings', 'config', 'extra'])), 'json', pick(this.#entities));
      if (chance(0.5)) add(this.#style(pick(['body', 'content'])), 'markup', pick(this.#entities));
      if (chance(0.5)) add(this.#style(pick(['width', 'seats', 'per_page'])), 'number', entity);
      if (chance(0.3)) add(this.#style('status'), 'state', entity);
    }
    const besides: [Beside['is'], string[]][] = [['rows', ['row', 'step', 'slide']], ['links', ['']], ['fields', ['meta', 'attributes']], ['texts', ['texts', 'translations']]];
    for (const of of this.#entities.filter((one) => one.key !== 'name')) for (const [is, words] of besides) {
      const to = pick(this.#entities.filter((one) => one !== of));
      const word = is === 'links' ? to.noun : pick(words);
      if (chance(0.3)) this.#beside.push({ is, table: table(`${of.noun}_${is === 'rows' && plural ? pluralOf(word) : word}`), of, to, held: chance(tied), own: column(of.noun), other: column(to.noun) });
    }
    this.#there = this.#onLive();
  }

  /** Everything that makes the database of a site. */
  statements(site: Site): string { return [...this.#tables(), ...this.#inserts(site), ...this.#options(site)].map((one) => `${one};`).join('\n'); }

  /** What there is, with names in place of ids; what points nowhere has its id with a question mark. */
  seen(rows: Rows, site: Site): string[] {
    const names = new Map(this.#entities.map((one) => [one, new Map(rows(`select ${this.#quoted(one.id)}, ${this.#quoted(one.name)} from ${this.#quoted(one.table)}`).map(([id = '', name = '']) => [id, name]))]));
    const name = (of: Entity, id: string): string => (id === '' ? '' : names.get(of)?.get(id) ?? `?${id}`);
    const cell = ({ holds, to }: Column, text: string): string => {
      if (holds === 'reference') return name(to, text);
      if (holds === 'list') return text.split(',').map((id) => name(to, id)).join(',');
      const own = text.replaceAll(addressOf(site), '');
      if (holds === 'markup') return own.replace(/(?<=-id=")[^"]*/, (id) => name(to, id));
      return holds === 'json' ? own.replace(/(?<=^\{"\w+": ?"?)[^",]+/, (id) => name(to, id)) : own;
    };
    const things = this.#entities.flatMap((one) => rows(`select ${[one.name, ...one.columns.map((column) => column.name)].map((column) => this.#quoted(column)).join(', ')} from ${this.#quoted(one.table)}`)
      .map(([own = '', ...cells]) => `${one.table} ${own}: ${one.columns.map((column, i) => `${column.name} ${cell(column, cells[i] ?? '')}`).join('; ')}`));
    const beside = this.#beside.flatMap((one) => {
      const [place, label] = ['place', 'label'].map((word) => this.#quoted(this.#style(word))) as [string, string];
      const wanted = { rows: `${this.#quoted(one.other)}, ${label} from ${this.#quoted(one.table)} order by ${place}`, links: `${this.#quoted(one.other)}, 1 from ${this.#quoted(one.table)}`, fields: `meta_value, meta_key from ${this.#quoted(one.table)}`, texts: `1, ${label} from ${this.#quoted(one.table)}` }[one.is];
      return rows(`select ${this.#quoted(one.own)}, ${wanted}`).filter(([own]) => own !== '').map(([own = '', other = '', text = '']) => `${one.table} of ${name(one.of, own)}: ${one.is === 'texts' || text === 'colour' ? other : name(one.to, other)} ${text}`);
    });
    return [...things, ...beside].sort();
  }

  /** A number for a place of the world, the same on both sites. */
  #at(place: string, below: number): number {
    return createHash('sha256').update(`${this.#seed} ${place}`).digest().readUInt32BE() % below;
  }

  #quoted(name: string): string { return this.#sort === 'mysql' ? `\`${name}\`` : `"${name}"`; }

  #type({ key }: Entity): string { return key === 'counted' ? 'bigint' : key === 'made' ? 'char(36)' : 'varchar(60)'; }

  #tables(): string[] {
    const tie = (held: boolean, to: Entity): string => (held ? ` references ${this.#quoted(to.table)} (${this.#quoted(to.id)})` : '');
    const keys = (held: [boolean, string, Entity][]): string => (this.#sort === 'mysql' ? held.filter(([one]) => one).map(([, column, to]) => `, foreign key (${this.#quoted(column)})${tie(true, to)}`).join('') : '');
    const inline = (held: boolean, to: Entity): string => (this.#sort === 'mysql' ? '' : tie(held, to));
    const things = this.#entities.map((one) => `create table ${this.#quoted(one.table)} (${this.#quoted(one.id)} ${one.key === 'counted' ? COUNTED[this.#sort] : `${this.#type(one)} not null primary key`}${one.key === 'name' ? '' : `, ${this.#quoted(one.name)} varchar(60) not null${one.unique ? ' unique' : ''}`}${one.columns.map((column) => `, ${this.#quoted(column.name)} ${column.holds === 'reference' ? this.#type(column.to) : column.holds === 'number' ? 'integer' : 'text'}${column.holds === 'reference' && !column.nullable ? ' not null' : ''}${inline(column.held, column.to)}`).join('')}${keys(one.columns.map((column) => [column.held, column.name, column.to]))})`);
    const beside = this.#beside.map(({ is, table, of, to, held, own, other }) => {
      const [mine, its, place, label] = [this.#quoted(own), this.#quoted(other), ...['place', 'label'].map((word) => this.#quoted(this.#style(word)))] as [string, string, string, string];
      const begin = `create table ${this.#quoted(table)} (${is === 'rows' || is === 'fields' ? `id ${COUNTED[this.#sort]}, ` : ''}${mine} ${this.#type(of)} not null${inline(held, of)}`;
      const more = { rows: `, ${place} integer not null, ${label} varchar(60), ${its} ${this.#type(to)}`, links: `, ${its} ${this.#type(to)} not null, primary key (${mine}, ${its})`, fields: ', meta_key varchar(60) not null, meta_value text', texts: `, lang varchar(5) not null, ${label} text, primary key (${mine}, lang)` }[is];
      return begin + more + keys([[held, own, of]]) + ')';
    });
    return [...things, ...beside, `create table ${this.#quoted('settings')} (name varchar(60) not null primary key, value text)`];
  }

  #names(of: Entity): string[] { return WHERE.slice(0, 5 + this.#at(`size ${of.noun}`, 3)).map((word) => `${of.noun}-${word}`); }

  /** What another thing a place means; nothing where a column may be empty, and for one above always one before it. */
  #meant(of: Entity, name: string, { name: column, to, nullable }: Pick<Column, 'name' | 'to' | 'nullable'>): string | undefined {
    const names = this.#names(to);
    const [self, empty] = [to === of ? names.indexOf(name) : names.length, nullable && this.#at(`none ${name} ${column}`, 5) === 0];
    return empty || self === 0 ? undefined : names[this.#at(`${name} ${column}`, self)];
  }

  /** About half of everything, and what that cannot be without. */
  #onLive(): Set<string> {
    const there = new Set(this.#entities.flatMap((one) => this.#names(one).filter((name, i) => i === 0 || this.#at(`live ${name}`, 2) === 0)));
    for (const name of there) {
      const of = this.#entities.find((one) => name.startsWith(`${one.noun}-`)) as Entity;
      for (const column of of.columns) { const meant = column.holds === 'reference' && !column.nullable ? this.#meant(of, name, column) : undefined; if (meant !== undefined) there.add(meant); }
    }
    return there;
  }

  /** The local id, where the site has the thing. */
  #idOn(site: Site, of: Entity, name: string | undefined): string | undefined {
    if (name === undefined || (site === 'live' && !this.#there.has(name))) return undefined;
    if (of.key === 'name') return name;
    const number = (site === 'dev' ? 11 : 311) + this.#at(`first ${site} ${of.noun}`, 60) + this.#names(of).indexOf(name) * 2;
    return of.key === 'counted' ? String(number) : `${site === 'dev' ? 'a' : 'b'}3f${String(number).padStart(5, '0')}-7c1e-4b2d-9a64-${String(this.#at(`made ${site} ${name}`, 1e9)).padStart(12, '0')}`;
  }

  #inserts(site: Site): string[] {
    const literal = (text: string | undefined): string => (text === undefined ? 'null' : `'${text.replaceAll("'", "''")}'`);
    const insert = (table: string, cells: Readonly<Record<string, string | undefined>>): string => `insert into ${this.#quoted(table)} (${Object.keys(cells).map((name) => this.#quoted(name)).join(', ')}) values (${Object.values(cells).map(literal).join(', ')})`;
    const id = (of: Entity, name: string | undefined): string | undefined => this.#idOn(site, of, name);
    const cell = (of: Entity, name: string, column: Column): string | undefined => {
      const { holds, to } = column;
      const meant = id(to, this.#meant(of, name, { ...column, nullable: holds === 'reference' && column.nullable }));
      switch (holds) {
        case 'title': return `Title of ${name}`;
        case 'reference': return meant;
        case 'list': return [...new Set([meant, id(to, this.#meant(of, name, { ...column, name: 'second', nullable: false }))])].filter((one) => one !== undefined).join(',');
        case 'json': return `{"${this.#style(`${to.noun}_id`)}":${to.key === 'counted' ? meant ?? 'null' : `"${meant ?? ''}"`},"link":"${addressOf(site)}/see/","n":${this.#at(`n ${name}`, 9)}}`;
        case 'markup': return `<p>Go <a href="${addressOf(site)}/go/" data-${to.noun}-id="${meant ?? ''}">on</a></p>`;
        case 'number': return String(11 + this.#at(`number ${name}`, 80));
        default: return ['draft', 'disabled', 'published', 'published', 'published'][this.#at(`state ${name}`, 5)];
      }
    };
    const there = (of: Entity): string[] => this.#names(of).filter((name) => site === 'dev' || this.#there.has(name));
    const things = this.#entities.flatMap((one) => there(one).map((name) => insert(one.table, { [one.id]: id(one, name), [one.name]: name, ...Object.fromEntries(one.columns.map((column) => [column.name, cell(one, name, column)])) })));
    const beside = this.#beside.flatMap(({ is, table, of, to, own, other }) => there(of).flatMap((name) => {
      const mine = { [own]: id(of, name) };
      const meant = (i: number): string | undefined => id(to, this.#meant(of, `${name} ${table} ${i}`, { name: other, to, nullable: false }));
      const [first, second] = [meant(1), meant(2)];
      if (is === 'rows') return [first, second].map((one, i) => insert(table, { ...mine, [this.#style('place')]: String(i + 1), [this.#style('label')]: `Part ${i} of ${name}`, [other]: one }));
      if (is === 'links') return [...new Set([first, second])].flatMap((one) => (one === undefined ? [] : [insert(table, { ...mine, [other]: one })]));
      if (is === 'texts') return ['en', 'de'].map((lang) => insert(table, { ...mine, lang, [this.#style('label')]: `${lang} of ${name}` }));
      return [insert(table, { ...mine, meta_key: 'colour', meta_value: 'red' }), ...(first === undefined ? [] : [insert(table, { ...mine, meta_key: `related_${to.noun}`, meta_value: first })])];
    }));
    return [...things, ...beside];
  }

  #options(site: Site): string[] {
    const [first] = this.#entities as [Entity];
    const front = site === 'dev' ? this.#idOn('dev', first, this.#names(first).at(-1)) : undefined;
    return Object.entries({ site_url: addressOf(site), site_title: `Skerrin ${site}`, ...(front === undefined ? {} : { [`front_${first.noun}_id`]: front }) }).map(([name, value]) => `insert into ${this.#quoted('settings')} values ('${name}', '${value}')`);
  }
}

function addressOf(site: Site): string { return `https://${site}.skerrin.example`; }
function pluralOf(noun: string): string { return noun.replace(/(?<=[^aeiou])y$/, 'ie') + 's'; }
