import { createHash } from 'node:crypto';
import { KindDescription, makeAddress, matches, parsePath, byCodeUnit, shortKind, type Answer, type Extension, type IndexRow, type LocalItem, type Operation } from '../../protocol/index.ts';
import { Refusal } from './problems.ts';
import type { SiteRecord, State } from './state.ts';

export const STYLE = 'tholepin/style';
const PLAIN_STYLE = { label: 'Site style', colours: [{ key: 'ink', label: 'Ink', value: '#222222' }, { key: 'ground', label: 'Ground', value: '#ffffff' }], fonts: [{ key: 'body', label: 'Text', family: 'serif', size: 16 }], css: '', backdrop: 0 };

/** The rules of the simulated CMS: what it lists, what it refuses, what it does behind one's back. */
export class Cms {
  readonly state: State;
  readonly kinds: readonly KindDescription[];
  /** Names of the lists of belongings, by kind. */
  readonly #lists: ReadonlyMap<string, ReadonlySet<string>>;

  constructor(state: State) {
    this.state = state;
    this.kinds = Object.values(state.config.kinds).flat().map((kind) => KindDescription.parse(kind));
    this.#lists = new Map(this.kinds.map((kind) => [kind.id, new Set(kind.belongings.map(({ path }) => path.replace(/\[\*\]$/, '').split(/[.\]]/).at(-1) ?? ''))]));
  }

  /** All items in the order of their addresses. The style record is made anew when it is missing. */
  rows(): SiteRecord[] {
    this.style();
    const listed = [...this.state.records.values()].filter((record) => this.kinds.some((kind) => kind.id === record.kind));
    return listed.map((record) => ({ record, address: makeAddress(shortKind(record.kind), record.name) }))
      .sort((a, b) => byCodeUnit(a.address, b.address)).map(({ record }) => record);
  }

  style(): SiteRecord {
    const found = this.state.find(STYLE, 'site-style');
    if (found) return found;
    const record: SiteRecord = { id: this.state.nextId(), kind: STYLE, name: 'site-style', status: 'published', value: PLAIN_STYLE, revision: 1 };
    this.state.put(record);
    this.state.save([record.id]);
    return record;
  }

  indexRow(record: SiteRecord): IndexRow {
    const unavailable = this.#unavailable(record);
    const urls = this.urls(record);
    return {
      kind: record.kind, id: record.id, name: record.name, title: this.title(record), etag: this.state.etag(record), status: record.status,
      size: this.state.size(record), ...(record.changed === undefined ? {} : { changed: record.changed }), ...(urls ? { urls } : {}), ...(unavailable ? { unavailable } : {}),
    };
  }

  item(record: SiteRecord): LocalItem {
    return { ...this.indexRow(record), ...(record.created === undefined ? {} : { created: record.created }), value: record.value };
  }

  title(record: SiteRecord): string {
    const value = record.value as { title?: string; label?: string };
    return value.title ?? value.label ?? record.name;
  }

  urls(record: SiteRecord): Record<string, string> | undefined {
    if (record.kind === 'tholepin/page') return { '': record.name === 'home' ? '/' : `/${record.name}/` };
    if (record.kind !== 'tholepin/media') return undefined;
    const { fileName } = record.value as { fileName: string };
    const dot = fileName.lastIndexOf('.');
    return { '': `/uploads/${record.id}/${fileName}`, small: `/uploads/${record.id}/${fileName.slice(0, dot)}-small${fileName.slice(dot)}` };
  }

  #unavailable(record: SiteRecord): IndexRow['unavailable'] {
    const extension = this.#extensionOf(record.kind);
    return extension && !extension.active ? { why: 'inactive', extension: extension.name, detail: '' } : undefined;
  }

  #extensionOf(kind: string) {
    return this.state.config.facts.extensions.find((one) => kind.startsWith(`${one.name}/`));
  }

  /** Carries out one operation, or refuses it. */
  apply(operation: Operation): Answer {
    const { key } = operation;
    if (operation.op === 'create') {
      this.#accept(operation.kind, operation.name, operation.value);
      return this.#store(key, 201, { id: this.state.nextId(), kind: operation.kind, name: this.#freeName(operation.kind, operation.name), status: operation.status, value: this.#withOwnIds(operation.value, this.#lists.get(operation.kind)), revision: 1, changed: new Date().toISOString(), created: operation.created ?? new Date().toISOString() });
    }
    const record = this.state.records.get(Number(operation.id));
    if (operation.op === 'restore' && operation.ifMatch === '*' && record) throw new Refusal(412, 'It is there already', `id ${operation.id}`);
    if (operation.op === 'restore' && !record && operation.ifMatch === '*') return this.#store(key, 201, operation.record as SiteRecord);
    if (!record || record.kind !== operation.kind) throw new Refusal(404, 'No such item', `${operation.kind} with id ${operation.id}`);
    const where = makeAddress(shortKind(record.kind), record.name);
    if (this.state.etag(record) !== operation.ifMatch) throw new Refusal(412, 'The item was changed meanwhile', where, { where });
    if (operation.op === 'restore') return this.#store(key, 200, operation.record as SiteRecord);
    if (operation.op === 'delete') { this.state.records.delete(record.id); return { key, status: 204, id: record.id }; }
    this.#accept(record.kind, record.name, operation.value);
    return this.#store(key, 200, { ...record, value: this.#withOwnIds(operation.value, this.#lists.get(record.kind)), status: operation.status ?? record.status, revision: record.revision + 1, changed: new Date().toISOString() });
  }

  #store(key: string, status: number, record: SiteRecord): Answer {
    this.state.put(record);
    const urls = this.urls(record);
    return { key, status, id: record.id, name: record.name, etag: this.state.etag(record), ...(urls ? { urls } : {}) };
  }

  #freeName(kind: string, name: string): string {
    for (let n = 1; ; n++) {
      const wanted = n === 1 ? name : `${name}-${n}`;
      if (!this.state.find(kind, wanted)) return wanted;
    }
  }

  /** Belongings are records too: those that come without an id of their own get one. */
  #withOwnIds(value: unknown, lists: ReadonlySet<string> | undefined): unknown {
    if (Array.isArray(value)) return value.map((entry) => this.#withOwnIds(entry, lists));
    if (typeof value !== 'object' || value === null) return value;
    return Object.fromEntries(Object.entries(value).map(([key, entry]) => {
      const known = this.#withOwnIds(entry, lists);
      if (lists?.has(key) !== true || !Array.isArray(known)) return [key, known];
      return [key, known.map((one: unknown) => (typeof one === 'object' && one !== null && !('id' in one) ? { id: this.state.nextId(), ...one } : one))];
    }));
  }

  /** An extension refuses its items where it is missing, inactive, too old, on a lower tier or with the feature switched off. */
  #accept(kind: string, name: string, value: unknown): void {
    const where = makeAddress(shortKind(kind), name);
    const description = this.kinds.find((one) => one.id === kind);
    if (!description) throw new Refusal(422, 'No extension here owns this kind', kind, { where, remedy: 'install the extension that owns it' });
    const extension = this.#extensionOf(kind);
    if (extension && !extension.active) throw new Refusal(422, `${extension.title} is inactive`, kind, { where, remedy: `activate ${extension.title}` });
    if (extension) this.#refuseUnfit(description, extension, value, where);
    this.#refuseTwice(description, name, value, where);
    const { file } = value as { file?: string };
    if (kind === 'tholepin/media' && (typeof file !== 'string' || !this.state.hasMedia(file))) throw new Refusal(422, 'The file of this picture was not uploaded', String(file), { where });
  }

  /** Places that no two items of a kind may share. */
  #refuseTwice(description: KindDescription, name: string, value: unknown, where: string): void {
    for (const path of description.unique) {
      const own = new Set(matches(value as Parameters<typeof matches>[0], parsePath(path)).map((match) => match.node));
      const other = [...this.state.records.values()].find((one) => one.kind === description.id && one.name !== name && matches(one.value as Parameters<typeof matches>[0], parsePath(path)).some((match) => own.has(match.node)));
      if (other) throw new Refusal(422, `Another one has the same ${path}`, other.name, { where, remedy: 'give one of them another value' });
    }
  }

  /** What the kind says that its items require. */
  #refuseUnfit(description: KindDescription, extension: Extension, value: unknown, where: string): void {
    for (const rule of description.requires) {
      if (rule.when && !matches(value as Parameters<typeof matches>[0], parsePath(rule.when.path)).some((match) => match.node === rule.when?.is)) continue;
      const owner = rule.extension === undefined ? extension : this.state.config.facts.extensions.find((one) => one.name === rule.extension);
      if (rule.feature !== undefined && owner?.features[rule.feature] !== true) throw new Refusal(422, `The feature ${rule.feature} is switched off`, description.id, { where, remedy: `switch it on in ${owner?.title ?? ''}` });
      if (rule.tier !== undefined && (owner?.tiers.indexOf(owner.tier ?? '') ?? -1) < (owner?.tiers.indexOf(rule.tier) ?? 0)) throw new Refusal(422, `This needs the tier ${rule.tier}`, description.id, { where });
    }
  }

  upload(digest: string, type: string, bytes: Uint8Array): void {
    const { limits } = this.state.config.facts;
    if (!limits.uploadTypes.includes(type)) throw new Refusal(415, 'Files of this type are not accepted', `${type}; accepted: ${limits.uploadTypes.join(', ')}`);
    if (bytes.length > limits.uploadBytes) throw new Refusal(413, 'The file is too large', `${bytes.length} of at most ${limits.uploadBytes} bytes`);
    if (createHash('sha256').update(bytes).digest('hex') !== digest) throw new Refusal(422, 'The bytes do not match the digest', digest);
    this.state.putMedia(digest, bytes);
  }
}
