import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { Kysely } from 'kysely';
import { sha256 } from '../../core/canonical.ts';
import { Problem } from '../../core/problem.ts';
import { DatabaseConnector } from './connector.ts';
import { guessTables } from './draft.ts';
import { draftText } from './drafttext.ts';
import { Engine, type Tables } from './engine.ts';
import { mysql } from './engines/mysql.ts';
import { postgres } from './engines/postgres.ts';
import { sqlite } from './engines/sqlite.ts';
import { loadLayout, SHIPPED, type LoadedLayout } from './layout/load.ts';
import { Library } from './library.ts';
import { prefixOf, Shape } from './shape.ts';

export { checkLayout } from './check.ts';

/** What the configuration says of a site in a database. Paths count from `folder`. */
export interface DatabaseSite {
  readonly name: string;
  readonly url: string;
  readonly password?: string | undefined;
  readonly layout?: string | undefined;
  readonly prefix?: string | undefined;
  readonly media?: string | undefined;
  readonly address?: string | undefined;
  readonly tls?: { readonly ca?: string | undefined; readonly verify: boolean } | undefined;
  readonly folder: string;
}

/** Opens the database of a site: connects, finds the layout, fits it. */
export async function openDatabase(site: DatabaseSite): Promise<DatabaseConnector> {
  const engine = await openEngine(site);
  try {
    const shape = await fitted(engine, site);
    return new DatabaseConnector({
      name: site.name, url: shownUrl(site.url), id: `db-${sha256(`${shownUrl(site.url)} ${shape.prefix}`).slice(0, 16)}`, address: site.address, engine, shape,
      library: site.media === undefined ? undefined : new Library(resolve(site.folder, site.media)),
    });
  } catch (error) {
    await engine.destroy();
    throw error;
  }
}

/** Looks at a database and writes a commented beginning of a layout. */
export async function draftLayout(site: DatabaseSite): Promise<string> {
  const engine = await openEngine(site);
  try { return draftText(site.name, await guessTables(engine)); } finally { await engine.destroy(); }
}

/** Connects without a layout. */
async function openEngine(site: DatabaseSite): Promise<Engine> {
  const own = await dialects(site);
  return new Engine(new Kysely<Tables>({ dialect: own.dialect }), own, shownUrl(site.url));
}

/** The layout that is configured; else the shipped one that recognises the database. */
async function fitted(engine: Engine, site: DatabaseSite): Promise<Shape> {
  if (site.layout !== undefined) return Shape.fit(engine, withPrefix(loadLayout(site.layout, site.folder), site.prefix), shownUrl(site.url));
  const tables = await engine.known();
  for (const name of Object.keys(SHIPPED)) {
    const loaded = withPrefix(loadLayout(name, site.folder), site.prefix);
    if (prefixOf(loaded.layout, tables) !== undefined) return Shape.fit(engine, loaded, shownUrl(site.url));
  }
  throw new Problem('usage', `no layout that comes with Pochette fits the database of ${site.name}`, { where: shownUrl(site.url), remedy: `write one: "pochette layout draft ${site.name} -o layout.yaml" makes a beginning; then add "layout: layout.yaml" to sites.${site.name}` });
}

function withPrefix(loaded: LoadedLayout, prefix: string | undefined): LoadedLayout {
  if (prefix === undefined) return loaded;
  return { ...loaded, layout: JSON.parse(JSON.stringify(loaded.layout).replaceAll('{prefix}', prefix)) as LoadedLayout['layout'] };
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
  const ssl = site.tls && { rejectUnauthorized: site.tls.verify, ...(site.tls.ca === undefined ? {} : { ca: readFileSync(resolve(folder, site.tls.ca), 'utf8') }) };
  if (parsed.protocol === 'mysql:') {
    return mysql({ user, password: secret, database, ...(socket === null ? { host: parsed.hostname, port: Number(parsed.port || 3306) } : { socketPath: socket }), ...(ssl ? { ssl } : {}) });
  }
  return postgres({ user, password: secret, database, host: socket ?? parsed.hostname, port: Number(parsed.port || 5432), ...(ssl ? { ssl } : {}) });
}

/** The url without its password. */
function shownUrl(url: string): string { return url.replace(/^(\w+:\/\/[^/@:]*):[^/@]*@/, '$1@'); }
