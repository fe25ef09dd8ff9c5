import type { Address } from '../core/address.ts';
import { BasesFrom, type BaseEntry, type BaseTable } from '../core/basetable.ts';
import { canonical, sha256 } from '../core/canonical.ts';
import { overlay } from '../core/compare.ts';
import { project } from '../core/coverage.ts';
import { readItem, type Coverage, type PortableItem } from '../core/item.ts';
import type { Connector } from '../sites/connector.ts';
import type { Json } from '../core/json.ts';
import type { Kind } from '../core/kind.ts';
import type { Base, ChangedBy } from '../core/merge.ts';
import type { SourceRow } from '../core/source.ts';
import type { RecordsFolder } from './records/folder.ts';

/** What was last carried between two sites, for telling who changed something since. */
export class Bases {
  readonly #records: RecordsFolder;
  readonly #connector: Pick<Connector, 'forms'> | undefined;
  readonly #ledger: BasesFrom | undefined;
  /** What the records alone have. */
  readonly #local: BasesFrom;
  /** Forms that the ledger gave. */
  readonly #given = new Map<string, PortableItem>();

  /** What the target's ledger remembers holds for everyone; the records beside it where the target has no ledger. */
  constructor(records: RecordsFolder, fromSite: string, { site, ledger, connector }: { site: string; ledger?: BaseTable; connector?: Pick<Connector, 'forms'> }) {
    this.#records = records;
    this.#connector = connector;
    this.#ledger = ledger?.from(fromSite);
    this.#local = new BasesFrom(fromSite);
    for (const one of records.base(fromSite, site, (address) => this.#ledger?.has(address) !== true)) this.#local.set(one);
  }

  entry(address: Address): BaseEntry | undefined { return this.#ledger?.get(address) ?? this.#local.get(address); }

  /** Is it known already that these were carried? */
  knows({ address, source, target }: Pick<BaseEntry, 'address' | 'source' | 'target'>): boolean {
    const entry = this.entry(address);
    return entry?.source === source && entry.target === target;
  }

  /** Fetches the forms of these items from the ledger, where the records here do not have them: someone else has carried them. */
  async fetch(addresses: readonly Address[]): Promise<void> {
    const wanted = addresses.flatMap((address) => { const entry = this.entry(address); return entry ? [[entry.run, entry.source], [entry.run, entry.target]] as const : []; })
      .filter(([run, digest]) => !this.#given.has(digest) && !this.#records.form(run, digest)).map(([, digest]) => digest);
    if (wanted.length === 0 || !this.#connector) return;
    // What is not what its digest says is as if it were not there.
    for (const [digest, text] of await this.#connector.forms([...new Set(wanted)])) if (sha256(text) === digest) this.#given.set(digest, readItem(JSON.parse(text), digest));
  }

  get size(): number { return this.#local.size + (this.#ledger?.size ?? 0); }

  /** Which side is no longer as it was carried, of a whole item; undefined where that is not known. */
  changedBy(source: SourceRow | undefined, target: SourceRow | undefined): ChangedBy | undefined {
    const entry = this.entry((source ?? target)?.address ?? '');
    if (!entry || entry.covers !== undefined || (source !== undefined && source.covers !== 'all')) return undefined;
    return moved(source?.fingerprint !== entry.source, target?.fingerprint !== entry.target);
  }

  /** The same of parts, by what they hold now. */
  partsChangedBy(kind: Kind, source: PortableItem, target: PortableItem): ChangedBy | undefined {
    const base = this.values(source.address, kind, source.covers);
    return base && moved(canonical(base.source) !== canonical(source.value), canonical(base.target) !== canonical(target.value));
  }

  /** The values of both sides as they were carried, in what is asked for; undefined where not all of that was carried, or the records lost it. */
  values(address: Address, kind: Kind, covers: Coverage = 'all'): Base | undefined {
    const forms = this.#forms(address);
    if (!forms || !includes(forms.covers, covers)) return undefined;
    const [source, target] = [forms.source, forms.target].map((form) => (covers === 'all' ? form : project(kind, form, covers)).value) as [Json, Json];
    return { source, target };
  }

  /** What is remembered after an item was carried: where only parts were, the rest stays as it was known. */
  after(kind: Kind, source: PortableItem, target: PortableItem): { source: PortableItem; target: PortableItem } {
    const { covers } = source;
    const known = covers === 'all' ? undefined : this.#forms(source.address);
    if (covers === 'all' || !known) return { source, target };
    const joined: Coverage = known.covers === 'all' ? 'all' : [...new Set([...known.covers, ...covers])].sort();
    const grown = (before: PortableItem, now: PortableItem): PortableItem => ({ ...before, covers: joined, value: overlay(kind, before.value, project(kind, before, covers).value, now.value) });
    return { source: grown(known.source, source), target: grown(known.target, target) };
  }

  #forms(address: Address): { covers: Coverage; source: PortableItem; target: PortableItem } | undefined {
    const entry = this.entry(address);
    const [source, target] = entry ? [entry.source, entry.target].map((digest) => this.#given.get(digest) ?? this.#records.form(entry.run, digest)) : [];
    return entry && source && target ? { covers: entry.covers ?? 'all', source, target } : undefined;
  }
}

function moved(here: boolean, there: boolean): ChangedBy { return here ? (there ? 'both' : 'source') : there ? 'target' : 'neither'; }

function includes(known: Coverage, asked: Coverage): boolean {
  return known === 'all' || (asked !== 'all' && asked.every((one) => known.includes(one)));
}
