import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { Kysely } from 'kysely';
import { shortKind } from '../../core/address.ts';
import { sha256 } from '../../core/canonical.ts';
import { Problem } from '../../core/problem.ts';
import { suspectsOf } from './check.ts';
import { DatabaseConnector } from './connector.ts';
import { guessTables } from './draft/guess.ts';
import { heldTables, type Sorted } from './draft/held.ts';
import { namesAfterRows, type Holder } from './draft/namedafter.ts';
import { draftText } from './draft/text.ts';
import { Engine, type Tables } from './engine.ts';
import { mysql } from './engines/mysql.ts';
import { postgres } from './engines/postgres.ts';
import { sqlite } from './engines/sqlite.ts';
import { loadLayout, SHIPPED, withPrefix, type LoadedLayout } from './layout/load.ts';
import { MediaAddress } from './media/address.ts';
import { MediaFolder } from './media/folder.ts';
import { Library } from './media/library.ts';
import { prefixOf, Shape, type KindRows } from './shape.ts';

export { checkLayout } from './check.ts';

/** What the configuration says of a site in a database. Paths count from `folder`. */
export interface DatabaseSite {
  readonly name: string;
  readonly url: string;
  readonly password?: string | undefined;
  readonly layout?: string | undefined;
  readonly prefix?: string | undefined;
  /** A folder, or an address. */
  readonly media?: string | undefined;
  readonly mediaToken?: string | undefined;
  readonly address?: string | undefined;
  readonly tls?: { readonly ca?: string | undefined; readonly verify: boolean } | undefined;
  readonly folder: string;
}

/** Opens the database of a site: connects, finds the layout, fits it. */
export async function openDatabase(site: DatabaseSite): Promise<DatabaseConnector> {
  const engine = await openEngine(site);
  try {
    return connected(engine, await fitted(engine, site), site);
  } catch (error) {
    await engine.destroy();
    throw error;
  }
}

function connected(engine: Engine, shape: Shape, site: DatabaseSite): DatabaseConnector {
  return new DatabaseConnector({ name: site.name, url: shownUrl(site.url), id: `db-${sha256(`${shownUrl(site.url)} ${shape.prefix}`).slice(0, 16)}`, address: site.address, engine, shape, library: libraryOf(site) });
}

function libraryOf({ media, mediaToken: token, tls, folder }: DatabaseSite): Library | undefined {
  if (media === undefined) return undefined;
  return new Library(/^https?:\/\//i.test(media) ? new MediaAddress(media, { token, ca: caOf({ tls, folder }) }) : new MediaFolder(resolve(folder, media)));
}

function caOf({ tls, folder }: Pick<DatabaseSite, 'tls' | 'folder'>): string | undefined { return tls?.ca === undefined ? undefined : readFileSync(resolve(folder, tls.ca), 'utf8'); }

/** Looks at a database and writes a commented beginning of a layout. */
export async function draftLayout(site: DatabaseSite): Promise<string> {
  const engine = await openEngine(site);
  try {
    const shape = await shippedShape(engine, site);
    if (!shape) return draftText(site.name, await guessTables(engine));
    // Tables of the CMS that the layout leaves alone on purpose are known to it as well.
    const tables = new Map([...shape.tables.values()].map((table) => [table.name, kindsIn(shape, table.name)]));
    for (const name of shape.layout.leaves) tables.set(name, tables.get(name) ?? []);
    const guesses = await guessTables(engine, tables);
    const rest = shape.kinds.find(({ rows }) => rows.rest);
    const holder = rest && holderOf(shape, rest);
    const after = holder === undefined ? [] : await namesAfterRows(engine, guesses, holder, (table) => tables.has(table));
    const held = await heldTables(engine, guesses, sortedTables(shape), (table) => tables.has(table));
    return draftText(site.name, guesses, { name: shape.layout.name, owner: shape.layout.facts.cms?.name ?? shape.layout.name, prefix: shape.prefix, tables, aliases: new Map([...shape.tables].map(([alias, table]) => [table.name, alias])), kinds: shape.kinds.map(({ description }) => shortKind(description.id)), like: rest?.description.id, held, holder, after, suspects: await suspectsOf(connected(engine, shape, site)), columns: nameColumns(shape) });
  } finally { await engine.destroy(); }
}

/** Tables with a kind for every sort of rows that has none of its own: its name begins with the sort. */
function sortedTables(shape: Shape): Sorted[] {
  return shape.kinds.flatMap((kind): Sorted[] => {
    const { description, rows } = kind;
    const column = /^\{([^{}|]+)\}\//.exec(rows.name ?? '')?.[1] ?? '';
    const table = rows.from === undefined ? undefined : shape.table(rows.from);
    const where = rows.where[column];
    if (table?.columns.has(column) !== true || typeof where !== 'object' || where === null || Array.isArray(where) || where.not === undefined) return [];
    return [{ table: table.name, kind: description.id, key: rows.id ?? table.key[0] ?? '', means: [...shape.tables.values()].map(({ name }) => name).filter((name) => liesIn(shape, kind, name)), column, apart: [where.not].flat().map(String) }];
  });
}

/** Where the items of a kind lie that are named as one column is. */
function holderOf(shape: Shape, { description: { id: kind }, rows: { from } }: KindRows): Holder | undefined {
  const column = nameColumns(shape).get(kind);
  return from === undefined || column === undefined ? undefined : { table: shape.table(from).name, column, kind };
}

/** Kinds that are named as one column is, with that column. */
function nameColumns({ kinds }: Shape): Map<string, string> {
  return new Map(kinds.flatMap(({ description, rows }) => { const column = /^\{([^{}|]+)\}$/.exec(rows.name ?? '')?.[1]; return column === undefined || rows.pattern ? [] : [[description.id, column] as const]; }));
}

function kindsIn(shape: Shape, table: string): string[] { return shape.kinds.filter((kind) => liesIn(shape, kind, table)).map(({ description }) => shortKind(description.id)); }

/** Are ids of a kind the keys of this table? They can be those of a row that its own are joined to. */
function liesIn(shape: Shape, { rows: { inside, group, from, id, joins } }: KindRows, table: string): boolean {
  const isJoined = (): boolean => id !== undefined && Object.values(joins).some((join) => !join.shared && shape.table(join.from).name === table && Object.entries(join.on).some(([here, there]) => here === shape.table(join.from).key[0] && there === id));
  return !inside && !group && from !== undefined && (shape.table(from).name === table || isJoined());
}

/** Connects without a layout. */
async function openEngine(site: DatabaseSite): Promise<Engine> {
  const own = await dialects(site);
  return new Engine(new Kysely<Tables>({ dialect: own.dialect }), own, shownUrl(site.url));
}

/** The layout that is configured; else the shipped one that recognises the database. */
async function fitted(engine: Engine, site: DatabaseSite): Promise<Shape> {
  if (site.layout !== undefined) return Shape.fit(engine, loaded(site.layout, site), shownUrl(site.url));
  const shape = await shippedShape(engine, site);
  if (shape) return shape;
  throw new Problem('usage', `no layout that comes with Pochette fits the database of ${site.name}`, { where: shownUrl(site.url), remedy: `write one: "pochette layout draft ${site.name} -o layout.yaml" makes a beginning; then add "layout: layout.yaml" to sites.${site.name}` });
}

/** The layout that comes with Pochette and recognises the database, fitted to it. */
async function shippedShape(engine: Engine, site: DatabaseSite): Promise<Shape | undefined> {
  const tables = await engine.known();
  for (const name of Object.keys(SHIPPED)) {
    const layout = loaded(name, site);
    if (prefixOf(layout.layout, tables) !== undefined) return Shape.fit(engine, layout, shownUrl(site.url));
  }
  return undefined;
}

function loaded(name: string, { folder, prefix }: DatabaseSite): LoadedLayout {
  const found = loadLayout(name, folder);
  return prefix === undefined ? found : withPrefix(found, prefix);
}

function dialects(site: DatabaseSite) {
  const { url, folder, password } = site;
  if (url.startsWith('sqlite:')) return sqlite(resolve(folder, url.slice('sqlite:'.length).replace(/^\/\//, '')));
  const parsed = new URL(url);
  const socket = parsed.searchParams.get('socket');
  const database = decodeURIComponent(parsed.pathname.slice(1));
  if (database === '') throw new Problem('usage', `the url of ${site.name} names no database`, { where: shownUrl(url), remedy: 'write it as mysql://USER@HOST/DATABASE' });
  const user = decodeURIComponent(parsed.username);
  const secret = password ?? decodeURIComponent(parsed.password);
  const ca = caOf(site);
  const ssl = site.tls && { rejectUnauthorized: site.tls.verify, ...(ca === undefined ? {} : { ca }) };
  if (parsed.protocol === 'mysql:') {
    return mysql({ user, password: secret, database, ...(socket === null ? { host: parsed.hostname, port: Number(parsed.port || 3306) } : { socketPath: socket }), ...(ssl ? { ssl } : {}) });
  }
  return postgres({ user, password: secret, database, host: socket ?? parsed.hostname, port: Number(parsed.port || 5432), ...(ssl ? { ssl } : {}) }, schemaOf(parsed, site));
}

/** Tables of PostgreSQL can lie elsewhere than where its user's usually do. */
function schemaOf({ searchParams }: URL, { name, url }: DatabaseSite): string | undefined {
  const schema = searchParams.get('schema') ?? undefined;
  if (schema !== undefined && !/^[\p{L}_][\p{L}\p{N}_$-]*$/u.test(schema)) throw new Problem('usage', `the url of ${name} names a schema with signs that are none of a name`, { where: shownUrl(url), remedy: 'write it as ?schema=NAME' });
  return schema;
}

/** The url without its password. */
function shownUrl(url: string): string { return url.replace(/^(\w+:\/\/[^/@:]*):[^/@]*@/, '$1@'); }
