import type { Address } from '../../core/address.ts';
import { sha256 } from '../../core/canonical.ts';
import type { Facts } from '../../core/facts.ts';
import { itemText, type PortableItem } from '../../core/item.ts';
import { byCodeUnit } from '../../core/json.ts';
import { compileKinds, type Kind, type Kinds } from '../../core/kind.ts';
import { SiteIndex, type IndexRow, type LocalItem } from '../../core/siteindex.ts';
import type { SourceRow } from '../../core/source.ts';
import { Exporter } from '../../core/translate/portable.ts';
import type { Connector } from '../../sites/connector.ts';
import type { Absent, Listed, Source } from './source.ts';

const REASONS = { inactive: 'the extension {extension} is inactive', tier: 'the extension {extension} is on a lower tier', feature: 'a feature of {extension} is switched off', 'own-format': '{extension} keeps it in a form of its own' } as const;

/** A site as a source, and what an import needs to know of it as a target. */
export class SiteSource implements Source {
  readonly connector: Connector;
  readonly facts: Facts;
  readonly kinds: Kinds;
  readonly index: SiteIndex;
  readonly #exporter: Exporter;
  /** Items met while reading whose value is not safe to carry; they are passed over. */
  readonly refused: Absent[] = [];

  private constructor(connector: Connector, facts: Facts, kinds: Kinds, index: SiteIndex) {
    this.connector = connector;
    this.facts = facts;
    this.kinds = kinds;
    this.index = index;
    this.#exporter = new Exporter(index);
  }

  static async open(connector: Connector): Promise<SiteSource> {
    const [facts, kindList] = await Promise.all([connector.facts(), connector.kinds()]);
    const kinds = compileKinds(kindList, connector.name);
    const index = new SiteIndex(facts.site.address, kinds);
    for await (const row of connector.index()) index.add(row);
    return new SiteSource(connector, facts, kinds, index);
  }

  get label(): string { return this.connector.name; }
  get origin() { return this.facts; }
  close(): Promise<void> { return this.connector.close(); }

  listed(): Map<Address, Listed> { return this.#list((kind, row) => kind.description.carried && !row.unavailable); }
  content(): Map<Address, Listed> { return this.#list((kind) => !kind.description.carried); }

  unavailable(): Absent[] {
    return [...this.index.rows()].flatMap(([address, row]) => (row.unavailable
      ? [{ address, kind: row.kind, title: row.title, why: reason(row.unavailable) }] : []));
  }

  #list(wanted: (kind: Kind, row: IndexRow) => boolean): Map<Address, Listed> {
    const found = [...this.index.rows()].filter(([, row]) => { const kind = this.kinds.get(row.kind); return kind !== undefined && wanted(kind, row); });
    return new Map(found.sort(([a], [b]) => byCodeUnit(a, b)).map(([address, row]) => [address, { kind: row.kind, title: row.title }]));
  }

  async *rows(only?: ReadonlySet<Address>): AsyncGenerator<SourceRow> {
    const keys = only && [...only].sort(byCodeUnit).flatMap((address) => this.index.row(address) ?? []);
    for await (const item of keys ? this.connector.read(keys) : this.connector.items()) {
      const kind = this.kinds.get(item.kind);
      if (!kind || item.unavailable || (!kind.description.carried && !only)) continue;
      const row = this.row(kind, item);
      const unsafe = row.leftOut.find((one) => one.why === 'unsafe key');
      if (unsafe) this.refused.push({ address: row.address, kind: item.kind, title: item.title, why: `the key "__proto__" is not accepted, at ${unsafe.at}` });
      else yield row;
    }
  }

  /** The row of one local item, in portable form. */
  row(kind: Kind, local: LocalItem): SourceRow {
    const address = this.index.addressOf(local);
    const portable = this.#exporter.portable(kind, local.value);
    const text = itemText(address, kind.id, portable.text);
    return {
      address, kind: kind.id, title: local.title, covers: 'all', fingerprint: sha256(text), size: Buffer.byteLength(text), text,
      references: portable.references, files: portable.files, withheld: portable.withheld, lost: portable.lost,
      leftOut: portable.leftOut,
      load: () => Promise.resolve(JSON.parse(text) as PortableItem),
    };
  }

  mediaSize(digest: string) { return this.connector.mediaSize(digest); }
  media(digest: string) { return this.connector.media(digest); }
}

function reason(unavailable: NonNullable<IndexRow['unavailable']>): string {
  return REASONS[unavailable.why].replace('{extension}', unavailable.extension) + (unavailable.detail === '' ? '' : ` (${unavailable.detail})`);
}
