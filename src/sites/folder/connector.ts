import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { makeAddress, parseAddress, shortKind } from '../../core/address.ts';
import { sha256 } from '../../core/canonical.ts';
import { Facts } from '../../core/facts.ts';
import { byCodeUnit, type Json } from '../../core/json.ts';
import type { KindDescription, Kinds } from '../../core/kind.ts';
import { Problem } from '../../core/problem.ts';
import type { IndexRow, LocalItem } from '../../core/siteindex.ts';
import { changedLedger, Ledger, LedgerChange as LedgerChangeSchema } from '../../protocol/index.ts';
import { knownLedger, type Answer, type Connector, type ExactRecord, type ItemKey, type KnownLedger, type LedgerChange, type LedgerRun, type LockRequest, type Operation } from '../connector.ts';
import { endingOf, KNOWN_TYPES, typeOfPath } from '../../core/filetypes.ts';
import { lockFile } from '../lockfile.ts';
import { FileStore, type Filed } from './store.ts';

class Refused extends Error {
  readonly status: number;

  constructor(status: number, message: string) {
    super(message);
    this.status = status;
  }
}

/**
 * Configuration as YAML files under version control. They hold portable forms: references are addresses, and no kind is strange to a folder,
 * because it takes over the kinds of what is imported into it.
 */
export class FolderConnector implements Connector {
  readonly name: string;
  readonly url: string;
  readonly traffic = { requests: 0, bytes: 0 };
  readonly #store: FileStore;
  readonly #answers = new Map<string, Answer>();
  #taken: { kinds: readonly KindDescription[]; facts: Pick<Facts, 'cms' | 'extensions' | 'theme'> } | undefined;
  /** What was taken over stands in the folder. */
  #isKept = true;
  #unlock: (() => Promise<void>) | undefined;

  constructor(name: string, url: string, folder: string) {
    this.name = name;
    this.url = url;
    this.#store = new FileStore(folder);
  }

  /** What is about to be imported: its kinds and its requirements are no hindrance for a folder. */
  takeOver(kinds: Kinds, facts: Pick<Facts, 'cms' | 'extensions' | 'theme'>): void {
    this.#taken = { kinds: [...kinds.values()].map((kind) => withoutOpening(kind.description)), facts };
    this.#isKept = false;
  }

  async facts(): Promise<Facts> {
    const about = (this.#store.yaml('about.yaml') ?? {}) as Partial<Facts>;
    const taken = this.#taken?.facts;
    if (!taken && !about.cms && !existsSync(this.#store.folder)) throw new Problem('unreachable', `there is no folder ${this.#store.folder}`, { where: this.url, remedy: `an import into ${this.name} makes it` });
    const { cms, extensions, theme } = taken ?? { cms: about.cms, extensions: about.extensions, theme: about.theme };
    return Promise.resolve(Facts.parse({
      cms: cms ?? { name: 'folder', title: 'Folder of files', version: '' }, site: { id: `folder-${sha256(this.#store.folder).slice(0, 16)}`, title: this.name, address: 'http://localhost' },
      extensions: extensions ?? [], theme: theme ?? { name: 'none', title: 'none', version: '' },
      limits: { requestBytes: 1e9, batchOperations: 1000, uploadBytes: 1e9, uploadTypes: [...KNOWN_TYPES] },
      abilities: { drafts: true, lock: true, ledger: true, wantedIds: true, media: true, transaction: false, portable: true }, rights: ['read', 'write'],
    }));
  }

  kinds(): Promise<unknown[]> {
    const kept = ((this.#store.yaml('kinds.yaml') as { kinds?: KindDescription[] } | undefined)?.kinds ?? []);
    const all = new Map([...kept, ...(this.#taken?.kinds ?? [])].map((kind) => [kind.id, { ...kind, portable: true }]));
    return Promise.resolve([...all.values()].sort((a, b) => byCodeUnit(a.id, b.id)));
  }

  #filed(): Filed[] { return this.#store.all().sort((a, b) => byCodeUnit(a.address, b.address)); }

  async *index(): AsyncGenerator<IndexRow> { for (const filed of this.#filed()) yield Promise.resolve(rowOf(filed)); }
  async *items(): AsyncGenerator<LocalItem> { for (const filed of this.#filed()) yield Promise.resolve(itemOf(filed)); }

  async *read(keys: readonly ItemKey[]): AsyncGenerator<LocalItem> {
    for (const filed of await this.#some(keys)) yield itemOf(filed);
  }

  /** The values come too: to leave them out would take a request of its own sort. */
  rows(keys: readonly ItemKey[]): AsyncIterable<IndexRow> { return this.read(keys); }

  async *records(keys: readonly ItemKey[]): AsyncGenerator<ExactRecord> {
    for (const filed of await this.#some(keys)) yield { kind: filed.kind, id: filed.address, etag: filed.etag, record: filed.text };
  }

  /** Files may have been renamed by hand: they are found by what is in them where they are not under their own name. */
  #some(keys: readonly ItemKey[]): Promise<Filed[]> {
    let all: Map<string, Filed> | undefined;
    return Promise.resolve(keys.flatMap(({ id }) => {
      if (!String(id).includes(':')) return [];
      const path = this.#store.pathOf(String(id));
      if (existsSync(path)) return [this.#store.read(path)];
      all ??= new Map(this.#filed().map((filed) => [filed.address, filed]));
      return all.get(String(id)) ?? [];
    }));
  }

  /** All are looked at before the first is written. */
  async batch(operations: readonly Operation[]): Promise<Answer[]> {
    const there = new Map((await this.#some(operations.flatMap((one) => ('id' in one ? [{ kind: one.kind, id: one.id }] : [])))).map((filed) => [filed.address, filed]));
    const refused = operations.find((one) => !this.#answers.has(one.key) && refusal(one, there.get('id' in one ? String(one.id) : '')) !== undefined);
    if (refused) {
      const why = refusal(refused, there.get('id' in refused ? String(refused.id) : '')) as Refused;
      return operations.map(({ key }) => (key === refused.key ? { key, status: why.status, problem: { type: 'about:blank', title: why.message, status: why.status } } : { key, status: 424 }));
    }
    this.#keepAbout();
    return operations.map((operation) => {
      const answer = this.#answers.get(operation.key) ?? this.#apply(operation, there.get('id' in operation ? String(operation.id) : ''));
      this.#answers.set(operation.key, answer);
      return answer;
    });
  }

  #apply(operation: Operation, filed: Filed | undefined): Answer {
    const { key } = operation;
    const answer = (status: number, now: Filed): Answer => ({ key, status, id: now.address, name: parseAddress(now.address).name, etag: now.etag });
    switch (operation.op) {
      case 'create': {
        const address = makeAddress(this.#short(operation.kind), operation.name);
        return answer(201, this.#store.write(address, { kind: operation.kind, title: operation.name, status: operation.status, created: operation.created, value: operation.value as Json }));
      }
      case 'update': {
        const { address, kind, title, status, created } = filed as Filed;
        return answer(200, this.#store.write(address, { kind, title, status: operation.status ?? status, created, value: operation.value as Json }));
      }
      case 'delete': this.#store.remove((filed as Filed).path); return { key, status: 204, id: operation.id };
      case 'restore': {
        const path = filed?.path ?? this.#store.pathOf(String(operation.id));
        this.#store.put(path, operation.record as string);
        return answer(filed ? 200 : 201, this.#store.read(path));
      }
    }
  }

  #short(kind: string): string {
    const qualified = this.#taken?.kinds.find((one) => one.id === kind)?.qualified ?? false;
    return qualified ? kind : shortKind(kind);
  }

  /** Kinds and where it came from stand beside the items. */
  #keepAbout(): void {
    if (!this.#taken || this.#isKept) return;
    this.#isKept = true;
    const { kinds, facts: { cms, extensions, theme } } = this.#taken;
    const kept = ((this.#store.yaml('kinds.yaml') as { kinds?: KindDescription[] } | undefined)?.kinds ?? []);
    const all = new Map([...kept, ...kinds].map((kind) => [kind.id, kind]));
    this.#store.putYaml('kinds.yaml', { kinds: [...all.values()].sort((a, b) => byCodeUnit(a.id, b.id)) as unknown as Json[] });
    this.#store.putYaml('about.yaml', { cms, extensions, theme });
  }

  #mediaPath(digest: string): string | undefined {
    const folder = join(this.#store.folder, 'media');
    const name = /^[0-9a-f]{64}$/.test(digest) && existsSync(folder) ? readdirSync(folder).find((one) => one.startsWith(digest)) : undefined;
    return name === undefined ? undefined : join(folder, name);
  }

  mediaSize(digest: string): Promise<{ type: string; bytes: number } | undefined> {
    const path = this.#mediaPath(digest);
    return Promise.resolve(path === undefined ? undefined : { type: typeOfPath(path), bytes: statSync(path).size });
  }

  media(digest: string): Promise<{ type: string; bytes: Buffer }> {
    const path = this.#mediaPath(digest);
    if (path === undefined) return Promise.reject(new Problem('unreachable', `the file ${digest} is not in the folder`, { where: this.url }));
    const bytes = readFileSync(path);
    if (sha256(bytes) !== digest) return Promise.reject(new Problem('unreadable', 'the file is not what its name says', { where: path, remedy: 'fetch it again from the version control' }));
    return Promise.resolve({ type: typeOfPath(path), bytes });
  }

  putMedia(digest: string, type: string, bytes: Buffer): Promise<void> {
    this.#store.put(join(this.#store.folder, 'media', `${digest}.${endingOf(type)}`), bytes);
    return Promise.resolve();
  }

  lock(_wish: LockRequest): Promise<void> {
    if (this.#unlock) return Promise.resolve();
    mkdirSync(this.#store.folder, { recursive: true });
    this.#unlock = lockFile(join(this.#store.folder, '.lock'));
    return this.#unlock ? Promise.resolve() : Promise.reject(new Problem('blocked', `someone else is writing to ${this.name}`, { where: this.url, remedy: 'wait until that is done' }));
  }

  async unlock(): Promise<void> { await this.#unlock?.(); this.#unlock = undefined; }
  renewCaches(): Promise<void> { return Promise.resolve(); }

  runs(): Promise<LedgerRun[]> { return Promise.resolve(this.#readLedger().runs); }

  ledger(): Promise<KnownLedger> { return Promise.resolve(knownLedger(this.#readLedger())); }

  #readLedger(): Ledger {
    const path = join(this.#store.folder, '.ledger.json');
    return existsSync(path) ? Ledger.parse(JSON.parse(readFileSync(path, 'utf8'))) : { runs: [], origins: [], bases: [] };
  }

  changeLedger(change: LedgerChange): Promise<void> {
    const whole = LedgerChangeSchema.parse(change);
    this.#store.put(join(this.#store.folder, '.ledger.json'), JSON.stringify(changedLedger(this.#readLedger(), whole), null, 1) + '\n');
    for (const { digest, text } of whole.forms) this.#store.put(this.#formPath(digest), text);
    for (const digest of whole.dropForms) rmSync(this.#formPath(digest), { force: true });
    return Promise.resolve();
  }

  forms(digests: readonly string[]): Promise<Map<string, string>> {
    return Promise.resolve(new Map(digests.filter((digest) => existsSync(this.#formPath(digest))).map((digest) => [digest, readFileSync(this.#formPath(digest), 'utf8')])));
  }

  #formPath(digest: string): string {
    if (!/^[0-9a-f]{64}$/.test(digest)) throw new Problem('unreadable', 'this is not the digest of a form', { where: digest });
    return join(this.#store.folder, '.forms', `${digest}.json`);
  }

  /** Nobody visits a folder. */
  pageStatus(): Promise<number> { return Promise.resolve(200); }
  fileStatus(): Promise<number> { return Promise.resolve(200); }
  async close(): Promise<void> { await this.unlock(); }
}

function rowOf({ address, kind, title, etag, status, text }: Filed): IndexRow {
  return { kind, id: address, name: parseAddress(address).name, title, etag, status, size: Buffer.byteLength(text) };
}

function itemOf(filed: Filed): LocalItem { return { ...rowOf(filed), ...(filed.created === undefined ? {} : { created: filed.created }), value: filed.value }; }

function refusal(operation: Operation, filed: Filed | undefined): Refused | undefined {
  if (operation.op === 'create' || (operation.op === 'restore' && operation.ifMatch === '*')) return filed ? new Refused(412, 'it is there already') : undefined;
  if (!filed) return new Refused(404, 'it is no longer there');
  return filed.etag === operation.ifMatch ? undefined : new Refused(412, 'it was changed meanwhile');
}

/** A kind as values in portable form need it: nothing in them has to be opened or looked up. Which references are to people, and which name an item, counts on any way. */
function withoutOpening(kind: KindDescription): KindDescription { return { ...kind, codecs: [], references: kind.references.filter((rule) => rule.otherwise !== undefined || rule.naming) }; }
