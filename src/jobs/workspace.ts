import { randomBytes } from 'node:crypto';
import { existsSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { Problem } from '../core/problem.ts';
import { nearest } from '../core/selector.ts';
import type { Connector, ItemKey } from '../sites/connector.ts';
import type { DatabaseSite } from '../sites/database/open.ts';
import { DEFAULT_MEGABYTES, findConfig, loadConfig, readSecret, siteSecret, type LoadedConfig, type SiteConfig } from './config.ts';
import { Bases } from './base.ts';
import { RecordsFolder, SAFETY_FILE } from './records/folder.ts';
import type { SiteSource } from './sources/site.ts';
import { TEXT_SITE, type Source } from './sources/source.ts';

/** How far long work has come. Bytes where they are known. */
export interface Progress { readonly phase: string; readonly done: number; readonly total: number }
export type OnProgress = (progress: Progress) => void;

/** Something that is no fault and that a person should know. */
export type Notice =
  | { readonly notice: 'unfinished'; readonly site: string; readonly run: string; readonly verb: string; readonly by: string; readonly started: string }
  | { readonly notice: 'site'; readonly site: string; readonly what: string };

/** What every job works with: configuration, records, clock, and the way to open sites and files. */
export class Workspace {
  readonly #configPath: string | undefined;
  #loaded: LoadedConfig | undefined;
  readonly #input: () => Promise<Buffer>;
  readonly now: () => Date;
  readonly onProgress: OnProgress;
  /** Called with what a person should know besides the result. */
  readonly onNotice: (notice: Notice) => void;

  constructor(options: { folder: string; config?: string | undefined; now?: () => Date; onProgress?: OnProgress; onNotice?: (notice: Notice) => void; input?: () => Promise<Buffer> }) {
    this.#input = options.input ?? (() => Promise.resolve(Buffer.alloc(0)));
    this.onNotice = options.onNotice ?? (() => undefined);
    this.#configPath = options.config ?? findConfig(options.folder);
    this.now = options.now ?? (() => new Date());
    this.onProgress = options.onProgress ?? (() => undefined);
  }

  get loaded(): LoadedConfig {
    if (this.#configPath === undefined) throw new Problem('usage', 'there is no pochette.yaml here or in a folder above', { remedy: 'run "pochette init" to write one, or name one with --config' });
    this.#loaded ??= loadConfig(this.#configPath);
    return this.#loaded;
  }

  get you(): string { return this.loaded.config.you; }
  get records(): RecordsFolder { return new RecordsFolder(join(dirname(this.loaded.path), '.pochette')); }
  siteNames(): string[] { return Object.keys(this.loaded.config.sites); }

  site(name: string): SiteConfig {
    const { sites } = this.loaded.config;
    if (Object.hasOwn(sites, name)) return sites[name] as SiteConfig;
    const near = nearest(name, Object.keys(sites));
    throw new Problem('usage', `there is no site "${name}" in the configuration`, { where: this.loaded.path, remedy: `${near.length > 0 ? `did you mean ${near.join(', ')}? ` : ''}configured sites: ${Object.keys(sites).join(', ')}` });
  }

  /** A choice that the configuration names. */
  selection(name: string): LoadedConfig['config']['selections'][string] {
    const { selections } = this.loaded.config;
    if (Object.hasOwn(selections, name)) return selections[name] as LoadedConfig['config']['selections'][string];
    const names = Object.keys(selections);
    throw new Problem('usage', `there is no selection "${name}" in the configuration`, { where: this.loaded.path, remedy: names.length > 0 ? `there are: ${names.join(', ')}` : 'add it under "selections:"' });
  }

  /** What was last carried between two sites. */
  bases(from: Pick<Source, 'origin'>, to: Source): Bases | undefined {
    // A text comes from nowhere in particular.
    if (from.origin.site.id === TEXT_SITE) return undefined;
    const site = to as Partial<SiteSource>;
    return new Bases(this.records, from.origin.site.id, { site: to.origin.site.id, ...(site.bases ? { ledger: site.bases } : {}), ...(site.connector ? { connector: site.connector } : {}) });
  }

  /** Connectors and sources are loaded when they are needed: the program starts faster without them. */
  async connector(name: string): Promise<Connector> {
    const site = this.site(name);
    const { path } = this.loaded;
    if (/^https?:/.test(site.url)) {
      const token = siteSecret('token', name, site, path);
      if (token === undefined) throw new Problem('usage', `the token of ${name} is missing`, { where: `${path}, sites.${name}`, remedy: 'add "token: env:NAME" or "token: file:PATH"' });
      const { HttpConnector } = await import('../sites/http/connector.ts');
      return new HttpConnector(name, site.url, token, site.tls?.ca === undefined ? undefined : readFileSync(resolve(dirname(path), site.tls.ca), 'utf8'));
    }
    if (site.url.startsWith('folder:')) {
      const { FolderConnector } = await import('../sites/folder/connector.ts');
      return new FolderConnector(name, site.url, resolve(dirname(path), site.url.slice('folder:'.length)));
    }
    const { openDatabase } = await import('../sites/database/open.ts');
    return openDatabase(this.database(name));
  }

  /** A secret that an option names; paths count from the folder of the configuration. */
  secret(option: string, written: string): string { return readSecret(`the secret of ${option}`, written, dirname(this.loaded.path), option); }

  /** What the configuration says of a site in a database. */
  database(name: string): DatabaseSite {
    const site = this.site(name);
    return { name, ...site, folder: dirname(this.loaded.path), password: siteSecret('password', name, site, this.loaded.path), mediaToken: siteSecret('mediaToken', name, site, this.loaded.path) };
  }

  /** `from`: what will be carried into it; some sites take over its kinds. */
  async openSite(name: string, from?: () => Promise<Pick<Source, 'kinds' | 'origin'>>, part?: (site: string) => readonly ItemKey[] | undefined): Promise<SiteSource> {
    const connector = await this.connector(name);
    if (from && connector.takeOver) { const { kinds, origin } = await from(); connector.takeOver(kinds, origin); }
    const { SiteSource } = await import('./sources/site.ts');
    try {
      const source = await SiteSource.open(connector, (site) => this.records.memory(site), part);
      for (const run of source.unfinished) this.onNotice({ notice: 'unfinished', site: name, run: run.run, verb: run.verb, by: run.by, started: run.started });
      for (const what of source.facts.notes ?? []) this.onNotice({ notice: 'site', site: name, what });
      return source;
    } catch (error) { await connector.close(); throw error; }
  }

  /** A word that looks like a path, or names a file that is there, is a file; every other is a configured site. */
  isFile(word: string): boolean {
    return this.#safetyCopy(word) !== undefined || word.endsWith('.pochette') || word.includes('/') || (existsSync(word) && !(this.#configPath !== undefined && Object.hasOwn(this.loaded.config.sites, word)));
  }

  /** A run stands for the site as it was before it: for its safety copy. */
  #safetyCopy(word: string): string | undefined {
    if (this.#configPath === undefined || !/^\d{8}-\d{6}-[0-9a-f]{4}$/.test(word)) return undefined;
    const path = join(this.records.runFolder(word), SAFETY_FILE);
    return existsSync(path) ? path : undefined;
  }

  async open(word: string): Promise<Source> {
    if (!this.isFile(word)) return this.openSite(word);
    const { FileSource } = await import('./sources/file.ts');
    return FileSource.open(await this.file(word), word);
  }

  /** What stands on the standard input, or in a file that is no pochette: its text. Nobody has to say what it is. */
  async #given(word: string): Promise<string | Buffer | undefined> {
    const bytes = word === '-' ? await this.#input() : /\.(ya?ml|json)$/i.test(word) && this.isFile(word) ? readFile(word) : undefined;
    return bytes === undefined || bytes.toString('latin1', 0, 2) === 'PK' ? bytes : bytes.toString('utf8');
  }

  async #openFile(bytes: Buffer, label: string): Promise<Source> {
    const path = join(mkdtempSync(join(tmpdir(), 'pochette-')), 'input.pochette');
    writeFileSync(path, bytes, { mode: 0o600 });
    const { FileSource } = await import('./sources/file.ts');
    return FileSource.open(path, label === '-' ? 'the standard input' : label);
  }

  async #fromText<T>(text: string, from: string, to: string, work: (source: Source, target: SiteSource, checked: Promise<void>) => Promise<T>): Promise<T> {
    const target = await this.openSite(to);
    const { TextSource } = await import('./sources/text.ts');
    try { return await work(new TextSource(text, from === '-' ? 'the standard input' : from, target), target, Promise.resolve()); } finally { await target.close(); }
  }

  /** Where a file lies; what a link leads to is fetched first. */
  async file(word: string): Promise<string> {
    if (!/^https?:\/\//i.test(word)) return this.#safetyCopy(word) ?? word;
    const { fetchLink } = await import('./sources/link.ts');
    const rules = this.#configPath === undefined ? { private: [], megabytes: DEFAULT_MEGABYTES } : this.loaded.config.links;
    return fetchLink(word, this.#configPath === undefined ? mkdtempSync(join(tmpdir(), 'pochette-')) : this.records.downloads, rules, this.onProgress);
  }

  /**
   * Opens where to read and which site to write, works, and closes both; also where one of them cannot be opened. `check`: the source is read and
   * checked whole, where it could be damaged, while the target is opened and compared; `checked` says when that has ended.
   */
  async between<T>(from: string, to: string, work: (source: Source, target: SiteSource, checked: Promise<void>) => Promise<T>, { check = false } = {}): Promise<T> {
    const given = await this.#given(from);
    if (typeof given === 'string') return this.#fromText(given, from, to, work);
    const opened = given ? this.#openFile(given, from) : this.open(from);
    const checked = opened.then(async (source) => { if (check) await source.check?.(); });
    checked.catch(() => undefined);
    return this.withBoth(() => opened, () => this.openSite(to, () => opened), (source, target) => work(source, target, checked));
  }

  async withBoth<A extends Source, B extends Source, T>(openFrom: () => Promise<A>, openTo: () => Promise<B>, work: (from: A, to: B) => Promise<T>): Promise<T> {
    const [from, to] = await Promise.allSettled([openFrom(), openTo()]);
    try {
      if (from.status === 'rejected') throw from.reason;
      if (to.status === 'rejected') throw to.reason;
      return await work(from.value, to.value);
    } finally {
      for (const one of [from, to]) if (one.status === 'fulfilled') await one.value.close();
    }
  }

  newRunId(): string {
    return `${this.now().toISOString().slice(0, 19).replace(/[-:]/g, '').replace('T', '-')}-${randomBytes(2).toString('hex')}`;
  }
}

function readFile(path: string): Buffer {
  try { return readFileSync(path); } catch (error) { throw new Problem('unreadable', 'it cannot be read', { where: path, cause: error }); }
}
