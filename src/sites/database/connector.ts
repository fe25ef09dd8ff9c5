import { makeAddress, shortKind } from '../../core/address.ts';
import type { Facts } from '../../core/facts.ts';
import { byCodeUnit, groupBy, inChunks } from '../../core/json.ts';
import { TextSet } from '../../core/columns.ts';
import { Problem } from '../../core/problem.ts';
import { Seat, urlAt } from '../../core/seat.ts';
import { itemKey, localId, type IndexRow, type LocalItem } from '../../core/siteindex.ts';
import type { Answer, Connector, ExactRecord, ItemKey, KnownLedger, LedgerChange, LedgerRun, LockRequest, Operation } from '../connector.ts';
import { fileStatus, pageStatus } from '../page.ts';
import { Batch } from './batch.ts';
import { Caches } from './caches.ts';
import { Claims } from './claims.ts';
import { Clock } from './clock.ts';
import type { Engine, Executor } from './engine.ts';
import { FactReader } from './facts.ts';
import { GroupStore } from './group.ts';
import { InsideStore } from './inside.ts';
import { ownersOf } from './layout/schema.ts';
import { fill } from './layout/template.ts';
import { LedgerTable } from './ledger.ts';
import type { Library } from './media/library.ts';
import { Names, scanOrder, withOwnName } from './names.ts';
import { PlainStore } from './plain.ts';
import { refusedOf } from './rights.ts';
import type { KindRows, Shape } from './shape.ts';
import type { AskedNames, Ground, Outline, Store, Unit } from './store.ts';
import { TreePaths } from './treepaths.ts';

/** How many items are read at once. */
const CHUNK = 500;

export interface Opened { readonly name: string; readonly url: string; readonly id: string; readonly address: string | undefined; readonly engine: Engine; readonly shape: Shape; readonly library: Library | undefined }

/** A site whose items lie in a database, where its layout says. */
export class DatabaseConnector implements Connector {
  readonly name: string;
  readonly url: string;
  readonly #opened: Opened;
  readonly #ledger: LedgerTable;
  #facts: Promise<Facts> | undefined;
  #author = '';
  #clock = new Clock();
  #seat: Seat | undefined;
  #address = '';
  /** Path below which the media folder is served. */
  #mediaPath: string | undefined;
  #unlock: (() => Promise<void>) | undefined;
  readonly #caches: Caches;
  /** What was read last, for whoever asks for the exact records of the same items next. */
  #fresh: Units | undefined;
  readonly #paths = new Map<KindRows, TreePaths>();
  readonly #names: Names;
  /** All items were read, and their names are known. */
  #scanned = false;

  constructor(opened: Opened) {
    this.name = opened.name;
    this.url = opened.url;
    this.#opened = opened;
    this.#names = new Names(opened.shape.kinds);
    this.#ledger = new LedgerTable(opened.engine, opened.shape.prefix);
    this.#caches = new Caches(opened.engine, opened.shape);
  }

  get traffic() { return { requests: this.#opened.engine.statements, bytes: this.#opened.engine.bytes }; }
  get shape(): Shape { return this.#opened.shape; }
  get engine(): Engine { return this.#opened.engine; }

  facts(): Promise<Facts> {
    this.#facts ??= this.#readFacts();
    return this.#facts;
  }

  async #readFacts(): Promise<Facts> {
    const { engine, shape, id, address, name, library } = this.#opened;
    const reader = new FactReader(engine, shape);
    this.#author = await reader.text(shape.layout.facts.author);
    this.#clock = new Clock(await reader.text(shape.layout.facts.timezone));
    const user = await this.#authorAddress();
    await this.#caches.look();
    const refused = await this.#refusedTable();
    const ledger = await this.#ledger.isThere() || await engine.mayCreate();
    const fault = library ? await library.fault() : 'no media folder is configured';
    const notes = [
      ...(fault !== undefined && (library ?? shape.layout.media) ? [`${fault}: pictures can neither be read nor written`] : []),
      ...(ledger ? [] : ['the database user may not make a table for our own memory: runs and origins are kept in the local records only']),
      ...(refused === undefined ? [] : [`the database user may not write to ${refused}`]),
    ];
    const facts = await reader.facts({ id, address, label: name, media: fault === undefined, ledger, rights: refused === undefined ? ['read', 'write'] : ['read'], notes, user }, shape.layout);
    const { media } = shape.layout;
    this.#seat = facts.site.seat && new Seat(facts.site.address, facts.site.seat);
    this.#mediaPath = media && `${this.#seat?.isOwn(media.url) === true ? this.#seat.below ?? '' : ''}${media.url}`.replace(/\/+/g, '/').replace(/\/$/, '');
    return facts;
  }

  /** The address of whom new rows belong to, where people are items. */
  async #authorAddress(): Promise<string | undefined> {
    const kind = this.shape.kinds.find((one) => this.shape.kinds.some(({ rows }) => ownersOf(rows.value).includes(shortKind(one.description.id))));
    if (!kind || this.#author === '') return undefined;
    const [author] = await this.#store(kind).someOutlines([localId(this.#author)], this.engine.db);
    return author && makeAddress(shortKind(kind.description.id), author.name);
  }

  /** The first table of a kind that this user cannot write to. */
  async #refusedTable(): Promise<string | undefined> {
    const ledger = (await this.engine.known()).get(this.#ledger.name);
    const tables = [...this.shape.written(), ...(ledger ? [ledger] : [])];
    return refusedOf(this.engine, tables);
  }

  definitions(): Promise<ReadonlyMap<string, string>> { return new FactReader(this.engine, this.shape).definitions(this.shape.layout.definitions); }

  kinds(): Promise<unknown[]> { return Promise.resolve(this.shape.kinds.map((kind) => kind.description)); }

  async *index({ sorted } = { sorted: false }): AsyncGenerator<IndexRow> { yield* sorted ? await this.#inOrder() : this.#scan(); }

  /** The index may have given a name that is there twice to one item only. */
  async *items(known?: Iterable<IndexRow>): AsyncGenerator<LocalItem> {
    for await (const { kind, unit, key: { name, unavailable } } of this.#units(known ?? await this.#inOrder())) yield { ...this.#item(kind, unit), name, ...(unavailable ? { unavailable } : {}) };
  }

  async #inOrder(): Promise<IndexRow[]> {
    const found: { address: string; row: IndexRow }[] = [];
    for await (const row of this.#scan()) found.push({ address: makeAddress(this.#shortOf(this.#kind(row.kind)), row.name), row });
    return found.sort((a, b) => byCodeUnit(a.address, b.address)).map(({ row }) => row);
  }

  #shortOf({ description: { id, qualified } }: KindRows): string { return qualified ? id : shortKind(id); }

  /** Every item without its value, as it comes: there can be very many. Of several with one name the first has it. */
  async *#scan(): AsyncGenerator<IndexRow> {
    await this.facts();
    const claims = new Claims(this.shape.kinds);
    const addresses = new TextSet();
    this.#paths.clear();
    for (const kind of scanOrder(this.shape.kinds)) {
      const short = this.#shortOf(kind);
      const shared = claims.concern(kind);
      for await (const some of this.#store(kind, shared ? claims : undefined).outlines(this.engine.db)) {
        for (const outline of some) {
          if (shared) claims.add(kind, outline.claims());
          const row = this.#row(kind, outline);
          yield addresses.isNew(makeAddress(short, outline.name)) ? row : withOwnName(row);
        }
      }
    }
    this.#scanned = true;
  }

  /** Names that others have in theirs, where the index was not read. */
  async #learn(asked: () => readonly AskedNames[], at: Executor): Promise<void> {
    if (this.#scanned) return;
    for (const [kind, missing] of asked().flatMap((one) => this.#names.missing(one))) {
      const table = kind.rows.from === undefined ? undefined : this.shape.table(kind.rows.from);
      const isNumber = table?.columns.get(kind.rows.id ?? table.key[0] ?? '')?.storage === 'integer';
      const wanted = isNumber ? missing.filter((id) => /^\d+$/.test(id)) : missing;
      for (const outline of wanted.length === 0 ? [] : await this.#store(kind).someOutlines(wanted.map(localId), at)) this.#names.add(kind, outline);
    }
  }

  /** Keys of all rows that some kind describes, those that belong to an item included. */
  async describedRows(): Promise<Set<string>> {
    await this.facts();
    const claims = new Claims(this.shape.kinds);
    const described = new Set<string>();
    for (const kind of scanOrder(this.shape.kinds)) {
      for await (const units of this.#store(kind, claims).all(this.engine.db)) {
        for (const unit of units) { claims.add(kind, unit.claims()); for (const key of unit.rows()) described.add(key); }
      }
    }
    return described;
  }

  /** `claims`: what other kinds describe already. */
  #store(kind: KindRows, claims?: Claims): Store {
    const { engine, shape, library } = this.#opened;
    const ground: Ground = { engine, shape, library, caches: this.#caches, paths: (one) => this.#pathsOf(one), site: () => this.#address, author: () => this.#author, clock: this.#clock, nameOf: (kinds, id) => this.#names.of(kinds, id), learn: (asked, at) => this.#learn(asked, at) };
    if (kind.rows.group) return new GroupStore(ground, kind);
    return kind.rows.inside ? new InsideStore(ground, kind) : new PlainStore(ground, kind, kind.rows.rest && claims ? (key) => claims.has(key) : undefined);
  }

  #row(kind: KindRows, unit: Outline): IndexRow {
    this.#names.add(kind, unit);
    const urls = this.#urls(kind, unit);
    return {
      kind: kind.description.id, id: unit.id, name: unit.name, title: unit.title, etag: unit.etag, status: unit.status, size: unit.size, ...(unit.changed === undefined ? {} : { changed: unit.changed }), ...(unit.alias === undefined ? {} : { alias: unit.alias }),
      ...(urls ? { urls } : {}), ...(unit.damaged === undefined ? {} : { unavailable: { why: 'damaged' as const, extension: '', detail: unit.damaged } }),
    };
  }

  #item(kind: KindRows, unit: Unit): LocalItem {
    const row = this.#row(kind, unit);
    return unit.created === undefined ? { ...row, value: unit.value } : { ...row, created: unit.created, value: unit.value };
  }

  /** Paths on the site: of a file with its sizes, or what the layout says. */
  #urls(kind: KindRows, unit: Outline): Record<string, string> | undefined {
    const base = this.#mediaPath;
    if (base !== undefined && unit.files) {
      const [main, ...more] = unit.files;
      if (!main) return undefined;
      const stem = main.path.replace(/\.\w+$/, '');
      const url = (path: string): string => `${base}/${path.split('/').map(encodeURIComponent).join('/')}`;
      return Object.fromEntries([['', url(main.path)], ...more.map(({ path }): [string, string] => [path.startsWith(stem) ? path.slice(stem.length) : path, url(path)])]);
    }
    return kind.rows.url === undefined || unit.status === 'draft' ? undefined : { '': fill(kind.rows.url, unit.fill) };
  }

  #pathsOf(kind: KindRows): TreePaths | undefined {
    if (!TreePaths.wanted(kind)) return undefined;
    const table = this.shape.table(kind.rows.from ?? '');
    const paths = this.#paths.get(kind) ?? new TreePaths(this.engine, kind, table, kind.rows.id ?? table.key[0] ?? '');
    this.#paths.set(kind, paths);
    return paths;
  }

  #kind(id: string): KindRows {
    const kind = this.shape.kinds.find((one) => one.description.id === id);
    if (!kind) throw new Problem('unreadable', `the layout of ${this.name} has no kind ${id}`, { where: this.url, remedy: `"pochette layout check ${this.name}" lists its kinds` });
    return kind;
  }

  async *read(keys: readonly ItemKey[]): AsyncGenerator<LocalItem> {
    for await (const { kind, unit } of this.#units(keys)) yield this.#item(kind, unit);
  }

  async *rows(keys: readonly ItemKey[]): AsyncGenerator<IndexRow> {
    await this.facts();
    for (const chunk of inChunks(keys, CHUNK)) {
      const found = await this.#outlines(chunk, this.engine.db);
      for (const key of chunk) { const row = found.get(itemKey(key)); if (row) yield row; }
    }
  }

  async #outlines(keys: readonly ItemKey[], at: Executor): Promise<Map<string, IndexRow>> {
    const found = new Map<string, IndexRow>();
    for (const [id, same] of groupBy(keys, (key) => key.kind)) {
      const kind = this.#kind(id);
      for (const outline of await this.#store(kind).someOutlines(same.map((key) => key.id), at)) found.set(itemKey({ kind: id, id: outline.id }), this.#row(kind, outline));
    }
    return found;
  }

  async *records(keys: readonly ItemKey[]): AsyncGenerator<ExactRecord> {
    for await (const { kind, unit } of this.#units(keys, this.#fresh)) yield { kind: kind.description.id, id: unit.id, etag: unit.etag, record: unit.exact };
  }

  /** In the order asked for, some hundred at a time; the next are asked for while these are worked on. `fresh`: what was read a moment ago. */
  async *#units<K extends ItemKey>(keys: Iterable<K>, fresh?: Units): AsyncGenerator<Found & { key: K }> {
    await this.facts();
    const chunks = inChunks(keys, CHUNK);
    const fetch = (): { chunk: readonly K[]; found: Promise<Units> } | undefined => {
      const { value: chunk } = chunks.next() as { value: K[] | undefined };
      if (chunk === undefined) return undefined;
      const found = fresh && chunk.every((key) => fresh.has(itemKey(key))) ? Promise.resolve(fresh) : this.#some(chunk, this.engine.db, false);
      // Whoever stops before it is asked for must not leave a failure that nobody looks at.
      found.catch(() => undefined);
      return { chunk, found };
    };
    for (let next = fetch(); next;) {
      const { chunk } = next;
      const found: Units = await next.found;
      next = fetch();
      this.#fresh = found;
      for (const key of chunk) { const one = found.get(itemKey(key)); if (one) yield { ...one, key }; }
    }
  }

  async #some(keys: readonly ItemKey[], at: Executor, lock: boolean): Promise<Units> {
    const found: Units = new Map();
    for (const [id, same] of groupBy(keys, (key) => key.kind)) {
      const kind = this.#kind(id);
      const store = this.#store(kind);
      for (const unit of await store.some(same.map((key) => key.id), at, lock)) found.set(itemKey({ kind: id, id: unit.id }), { kind, unit, store });
    }
    return found;
  }

  async batch(operations: readonly Operation[]): Promise<Answer[]> {
    this.#fresh = undefined;
    this.#address = (await this.facts()).site.address;
    const { engine, shape, library } = this.#opened;
    return new Batch({
      engine, shape, library, ledger: this.#ledger, store: (kind) => this.#store(this.#kind(kind)), some: (keys, at, lock) => this.#some(keys, at, lock),
      outlines: (keys, at) => this.#outlines(keys, at),
    }).run(operations);
  }

  async fileAt(path: string): Promise<string | undefined> { return this.#opened.library?.digest(path); }

  async mediaSize(digest: string): Promise<{ type: string; bytes: number } | undefined> {
    const found = await this.#opened.library?.find(digest);
    return found && { type: found.type, bytes: found.bytes };
  }

  async media(digest: string): Promise<{ type: string; bytes: Buffer }> {
    const { library } = this.#opened;
    const found = await library?.read(digest);
    if (!found) throw new Problem('unreachable', `the file ${digest} is not in ${library?.name ?? 'the media folder'}`, { where: this.name });
    return found;
  }

  async putMedia(digest: string, type: string, bytes: Buffer): Promise<void> {
    const { library } = this.#opened;
    if (!library) throw new Problem('blocked', `${this.name} has no media folder, so that pictures cannot be written`, { where: this.name, remedy: `add "media: PATH" or "media: https://…" to sites.${this.name} in pochette.yaml` });
    await library.keep(digest, type, bytes);
  }

  async lock(_wish: LockRequest): Promise<void> {
    if (this.#unlock) return;
    const { engine, shape } = this.#opened;
    this.#unlock = await engine.lock(`pochette ${shape.prefix}`);
    if (!this.#unlock) {
      const holder = (await this.#ledger.runs()).find((run) => run.state === 'running');
      throw new Problem('blocked', `someone else is writing to ${this.name}${holder ? `: ${holder.by}, run ${holder.run}` : ''}`, { where: this.url, remedy: 'wait until that is done' });
    }
    await this.#ledger.make();
    await this.#caches.look();
  }

  async unlock(): Promise<void> {
    await this.#unlock?.();
    this.#unlock = undefined;
  }

  /** What the layout says has to be done after an import. A page that does not answer is left to the checks of public pages. */
  async renewCaches(): Promise<void> {
    await this.#caches.drop();
    for (const one of this.shape.layout.after) if ('call' in one) await pageStatus(urlAt((await this.facts()).site.address, this.#seat, one.call));
  }

  ledger(): Promise<KnownLedger> { return this.#ledger.read(); }
  runs(): Promise<LedgerRun[]> { return this.#ledger.runs(); }
  forms(digests: readonly string[]): Promise<Map<string, string>> { return this.#ledger.forms(digests); }

  async changeLedger(change: LedgerChange): Promise<void> {
    await this.#ledger.change(change);
    if (change.run && change.run.state !== 'running') await this.#ledger.forgetAnswers(change.run.run);
  }

  pageStatus(url: string): Promise<number> { return pageStatus(url); }

  fileStatus(url: string): Promise<number> { return fileStatus(url); }

  async close(): Promise<void> {
    await this.unlock();
    this.#opened.library?.close();
    await this.#opened.engine.destroy();
  }
}

interface Found { readonly kind: KindRows; readonly unit: Unit; readonly store: Store }
type Units = Map<string, Found>;
