import { parseAddress, type Address } from '../../core/address.ts';
import { belongingsOf, holders } from '../../core/belongings.ts';
import { sha256, sha256Of } from '../../core/canonical.ts';
import type { Facts } from '../../core/facts.ts';
import { itemText, type PortableItem } from '../../core/item.ts';
import { byCodeUnit, inChunks } from '../../core/json.ts';
import { compileKinds, type Kind, type Kinds } from '../../core/kind.ts';
import { SiteIndex, type IndexRow, type LocalId, type LocalItem } from '../../core/siteindex.ts';
import { besides, type SourceRow } from '../../core/source.ts';
import { Problem } from '../../core/problem.ts';
import { NOTHING_TAKEN, type Takes } from '../../core/take.ts';
import { Exporter } from '../../core/translate/portable.ts';
import { IndexedRow, IndexLines } from '../../pochette/indexedrow.ts';
import { typeOfPath } from '../../core/filetypes.ts';
import type { Connector, ItemKey, KnownLedger, LedgerRun } from '../../sites/connector.ts';
import type { Recall, RowMemory } from '../records/memory.ts';
import type { Absent, Fresh, Listed, Listing, Source } from './source.ts';

/** Changes with the translation: what an older version remembered is then not used. */
const MEMORY_VERSION = '67';
/** So many items are looked up, and read where nothing is remembered of them, at a time. */
const WINDOW = 500;
const REASONS = { inactive: 'the extension {extension} is inactive', tier: 'the extension {extension} is on a lower tier', feature: 'a feature of {extension} is switched off', 'own-format': '{extension} keeps it in a form of its own',
  'same-name': 'another one has the same name', damaged: 'its value is damaged: the site cannot read it either' } as const;

/** What makes an item unfit to travel as a whole. */
const REFUSALS: Readonly<Record<string, string>> = { 'unsafe key': 'the key "__proto__" is not accepted', damaged: 'a packed value in it is damaged: the site cannot read it either' };

/** A site as a source, and what an import needs to know of it as a target. */
export class SiteSource implements Source {
  readonly connector: Connector;
  readonly facts: Facts;
  readonly kinds: Kinds;
  /** Of a site that is opened in part: those items, and not what they refer to. */
  readonly index: SiteIndex;
  readonly part: boolean;
  readonly #exporter: Exporter;
  readonly #memory: RowMemory | undefined;
  #digested: { readonly of: number; readonly digest: string } | undefined;
  readonly #bodies = new Map<Address, SourceRow>();
  /** Items met while reading whose value is not safe to carry; they are passed over. */
  readonly refused: Absent[] = [];

  #takes: Takes = NOTHING_TAKEN;
  readonly #listing: Listing;

  /** Runs on it that have begun and not ended, as its ledger has them. */
  readonly unfinished: readonly LedgerRun[];
  readonly #origins: KnownLedger['origins'];
  /** What was last carried to it, as its ledger has it. */
  readonly bases: KnownLedger['bases'];
  #byAddress: ReadonlyMap<Address, KnownLedger['origins'][number]> | undefined;

  private constructor(connector: Connector, facts: Facts, kinds: Kinds, index: SiteIndex, more: { memory: RowMemory | undefined; ledger: KnownLedger; part: boolean }) {
    this.#memory = more.memory;
    this.part = more.part;
    this.unfinished = unfinishedRuns(more.ledger.runs);
    this.#origins = more.ledger.origins;
    this.bases = more.ledger.bases;
    this.connector = connector;
    this.facts = facts;
    this.kinds = kinds;
    this.index = index;
    this.#listing = new SiteListing(index, (address) => index.kindOf(address)?.description.carried === true && !index.isUnavailable(address));
    this.#exporter = new Exporter(index);
  }

  /** `part`: the only items that are of interest, where that is known; for whoever does not make anything portable. */
  static async open(connector: Connector, memoryOf?: (site: string) => RowMemory, part?: (site: string) => readonly ItemKey[] | undefined): Promise<SiteSource> {
    const [facts, kindList, ledger] = await Promise.all([connector.facts(), connector.kinds(), connector.ledger()]);
    const kinds = compileKinds(kindList, connector.name);
    const keys = part?.(facts.site.id);
    const index = await readIndex(connector, facts, kinds, keys);
    const site = new SiteSource(connector, facts, kinds, index, { memory: memoryOf?.(facts.site.id), ledger, part: keys !== undefined });
    await site.learnBelongings();
    return site;
  }

  /**
   * Reads what lies in items and can be meant by ids of its own: in all of them, or in those that were written. Nothing is made portable of a site
   * that is opened in part, and what is portable means nothing by ids.
   */
  async learnBelongings(written?: ReadonlySet<Address>): Promise<void> {
    const kinds = new Set([...holders(this.kinds).values()].map((kind) => kind.id));
    if (kinds.size === 0 || this.part || this.facts.abilities.portable === true) return;
    const keys = this.index.rowsOf(kinds).filter((row) => written?.has(this.index.addressOf(row)) !== false);
    if (keys.length === 0) return;
    for await (const item of this.connector.read(keys)) {
      const kind = this.kinds.get(item.kind);
      if (kind && !item.unavailable) this.index.setBelongings(this.index.addressOf(item), belongingsOf(kind, item.name, this.#exporter.separated(kind, item.value, item.name).whole));
    }
    this.#digested = undefined;
  }

  /** What was carried may have brought definitions, or changed some. */
  async learnDefinitions(): Promise<void> { this.index.definitions = await this.connector.definitions?.({ fresh: true }) ?? this.index.definitions; }

  take(takes: Takes): void { this.#takes = takes; }

  mayBe(address: Address, type: string): boolean {
    const path = this.index.pathOf(address, '');
    return path === undefined || typeOfPath(path) === type;
  }

  /** Where its items came from, by their addresses now; what was removed since is not in it. */
  get origins(): ReadonlyMap<Address, KnownLedger['origins'][number]> {
    this.#byAddress ??= new Map(this.#origins.flatMap((one) => { const address = this.index.byId([parseAddress(one.address).kind], one.id); return address === undefined ? [] : [[address, one] as const]; }));
    return this.#byAddress;
  }

  idOf(address: Address): LocalId | undefined { return this.index.idOf(address); }
  aliasOf(address: Address): string | undefined { return this.index.aliasOf(address); }

  get label(): string { return this.connector.name; }
  get origin() { return this.facts; }
  close(): Promise<void> { return this.connector.close(); }

  listed(): Listing { return this.#listing; }
  content(): Listing { return new SiteListing(this.index, (address) => this.index.kindOf(address)?.description.carried === false); }

  /** A site of portable forms can point to what it does not have. */
  pointable(): Iterable<Address> | undefined { return this.facts.abilities.portable ? undefined : this.index.addresses(); }

  unavailable(): Absent[] {
    const found: Absent[] = [];
    for (const [address, row] of this.index.unavailable()) if (row.unavailable) found.push({ address, kind: row.kind, title: row.title, why: reason(row.unavailable), remedy: remedyOf(row.unavailable) });
    return found;
  }

  async *rows(only?: ReadonlySet<Address>, { fresh = false }: { fresh?: Fresh } = {}): AsyncGenerator<SourceRow> {
    const memory = fresh === true ? undefined : this.#memory;
    const environment = memory ? this.#environment() : '';
    const recall = memory?.recall(environment);
    const learning = !only && this.#takes.size === 0 ? memory?.learn(environment) : undefined;
    try {
      for await (const row of recall?.open === true || only ? this.#recalled(only ? [...only].sort(byCodeUnit) : this.listed().keys(), recall, { chosen: only !== undefined, anew: typeof fresh === 'function' ? fresh : undefined }) : this.#translated(this.connector.items(this.#inOrder()), false)) {
        learning?.add(this.index.etagOf(row.address) ?? '', row);
        yield row;
      }
      learning?.keep();
    } finally {
      recall?.close();
      learning?.drop();
    }
  }

  *#inOrder(): Generator<IndexRow> { for (const [, row] of this.index.rows()) yield row; }

  /** Remembered rows where nothing has changed, and the others, read some hundred at a time. What was removed meanwhile is in neither. */
  async *#recalled(wanted: Iterable<Address>, recall: Recall | undefined, { chosen, anew }: { chosen: boolean; anew: ((kind: Kind) => boolean) | undefined }): AsyncGenerator<SourceRow> {
    const lines = new IndexLines({ where: () => recall?.path ?? '', load: (one) => this.#load(one) });
    const isRead = (address: Address): boolean => { const kind = anew && this.index.kindOf(address); return this.#takes.has(address) || (kind !== undefined && anew?.(kind) === true); };
    for (const some of inChunks(wanted, WINDOW)) {
      const window = some.map((address) => ({ address, etag: this.index.etagOf(address) })).map((one) => ({ ...one, line: one.etag === undefined || isRead(one.address) ? undefined : recall?.find(one.address, one.etag) }));
      const absent = window.filter((one) => one.etag !== undefined && one.line === undefined).map((one) => one.address);
      const read = new Map<Address, SourceRow>();
      if (absent.length > 0) for await (const row of this.#translated(this.connector.read(this.#keys(absent)), chosen)) read.set(row.address, row);
      for (const { address, line } of window) {
        const row = line === undefined ? read.get(address) : new IndexedRow(line, lines);
        if (row) yield row;
      }
    }
  }

  async *#translated(items: AsyncIterable<LocalItem>, chosen: boolean): AsyncGenerator<SourceRow> {
    for await (const item of items) {
      const kind = this.kinds.get(item.kind);
      if (!kind || item.unavailable || (!kind.description.carried && !chosen)) continue;
      const row = this.row(kind, item);
      const refused = row.leftOut.find((one) => one.why in REFUSALS);
      if (refused) this.refused.push({ address: row.address, kind: item.kind, title: item.title, why: `${REFUSALS[refused.why] ?? ''}${refused.at === '' ? '' : `, at ${refused.at}`}` });
      else yield row;
    }
  }

  /** A digest of everything that values are resolved with: kinds, the site's address, and who has which id and path. */
  #environment(): string {
    // It grows only when something is created.
    if (this.#digested?.of !== this.index.size) this.#digested = { of: this.index.size, digest: sha256Of(this.#resolvedWith()) };
    return this.#digested.digest;
  }

  *#resolvedWith(): Generator<string> {
    yield [MEMORY_VERSION, this.index.site, JSON.stringify(this.facts.site.seat), this.facts.user ?? '', JSON.stringify([...this.kinds.values()].map((kind) => kind.description))].join('\n');
    for (const line of this.index.resolvable()) yield `\n${line}`;
  }

  #keys(addresses: readonly Address[]): IndexRow[] {
    return addresses.flatMap((address) => this.index.row(address) ?? []);
  }

  async preload(addresses: readonly Address[]): Promise<void> {
    this.#bodies.clear();
    const keys = this.#keys(addresses);
    if (keys.length === 0) return;
    for await (const row of this.#translated(this.connector.read(keys), true)) this.#bodies.set(row.address, row);
  }

  /** The value of a remembered row, which must still be what was remembered. */
  async #load({ address, fingerprint }: IndexedRow): Promise<PortableItem> {
    if (!this.#bodies.has(address)) await this.preload([address]);
    const row = this.#bodies.get(address);
    if (row?.fingerprint !== fingerprint) throw new Problem('moved', row ? 'it was changed while it was read' : 'it is no longer there', { where: address, remedy: 'compare again' });
    return row.load();
  }

  /** The row of one local item, in portable form. */
  row(kind: Kind, local: LocalItem): SourceRow {
    const address = this.index.addressOf(local);
    const portable = this.#exporter.portable(kind, local.value, local.name, this.#takes.get(address));
    const text = itemText(address, kind.id, portable.text);
    return {
      address, kind: kind.id, title: local.title, covers: 'all', fingerprint: sha256(text), size: Buffer.byteLength(text), text,
      references: portable.references, files: portable.files, withheld: portable.withheld, lost: portable.lost, leftOut: portable.leftOut,
      ...besides({ taken: portable.taken, named: portable.named, loose: portable.loose, draft: local.status === 'draft', created: local.created }),
      load: () => Promise.resolve(JSON.parse(text) as PortableItem),
    };
  }

  mediaSize(digest: string) { return this.connector.mediaSize(digest); }
  media(digest: string) { return this.connector.media(digest); }
}

/** The carried or other items of an index, as they are whenever they are asked for. */
class SiteListing implements Listing {
  readonly #index: SiteIndex;
  readonly #wanted: (address: Address) => boolean;

  constructor(index: SiteIndex, wanted: (address: Address) => boolean) {
    this.#index = index;
    this.#wanted = wanted;
  }

  get size(): number { let count = 0; for (const _one of this.keys()) count++; return count; }
  has(address: Address): boolean { return this.#wanted(address); }
  get(address: Address): Listed | undefined { return this.has(address) ? this.#index.row(address) : undefined; }

  *keys(): Generator<Address> { for (const address of this.#index.sorted()) if (this.#wanted(address)) yield address; }
  *values(): Generator<Listed> { for (const [, one] of this) yield one; }

  *[Symbol.iterator](): Generator<[Address, Listed]> {
    for (const one of this.#index.rows()) if (this.#wanted(one[0])) yield one;
  }
}

/** The index of a site as it is now, or the lines of some of its items. */
export async function readIndex(connector: Connector, facts: Facts, kinds: Kinds, keys?: readonly ItemKey[]): Promise<SiteIndex> {
  const index = new SiteIndex(facts.site.address, kinds, facts.site.seat);
  // Nothing is made portable of a site that is opened in part.
  if (!keys) index.definitions = await connector.definitions?.() ?? index.definitions;
  for await (const row of keys ? connector.rows(keys) : connector.index()) index.add(row);
  return index;
}

/** Runs that are under way, or were cut off. */
export function unfinishedRuns(runs: readonly LedgerRun[]): LedgerRun[] { return runs.filter((run) => run.state === 'running' || run.state === 'failed'); }

function reason(unavailable: NonNullable<IndexRow['unavailable']>): string {
  return REASONS[unavailable.why].replace('{extension}', unavailable.extension) + (unavailable.detail === '' ? '' : ` (${unavailable.detail})`);
}

function remedyOf({ why, extension }: NonNullable<IndexRow['unavailable']>): string {
  switch (why) {
    case 'inactive': return `activate ${extension} on the source`;
    case 'tier': return `raise the tier of ${extension} on the source`;
    case 'feature': return `switch the feature on in ${extension}`;
    case 'own-format': return `carry it with ${extension} itself`;
    case 'same-name': return 'rename one of them on the source';
    case 'damaged': return 'save it anew on the source';
  }
}
