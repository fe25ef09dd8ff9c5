import type { Address } from '../core/address.ts';
import type { Coverage, PortableItem } from '../core/item.ts';
import type { ChangedBy } from '../core/merge.ts';
import type { SourceRow } from '../core/source.ts';
import type { BaseEntry, RecordsFolder } from './records/folder.ts';

/** What was last carried between two sites, for telling who changed something since. */
export class Bases {
  readonly #records: RecordsFolder;
  readonly #entries: ReadonlyMap<string, BaseEntry>;

  constructor(records: RecordsFolder, fromSite: string, toSite: string) {
    this.#records = records;
    this.#entries = records.base(fromSite, toSite);
  }

  get size(): number { return this.#entries.size; }

  /** What was carried in the same coverage; another coverage says nothing of this one. */
  entry(address: Address, covers: Coverage = 'all'): BaseEntry | undefined {
    const entry = this.#entries.get(address);
    return entry && JSON.stringify(entry.covers ?? 'all') === JSON.stringify(covers) ? entry : undefined;
  }

  /** Which side is no longer as it was carried; undefined where that is not known. */
  changedBy(source: SourceRow | undefined, target: SourceRow | undefined): ChangedBy | undefined {
    const entry = this.entry((source ?? target)?.address ?? '', source?.covers);
    if (!entry) return undefined;
    const [here, there] = [source?.fingerprint !== entry.source, source?.covers !== undefined && source.covers !== 'all' ? undefined : target?.fingerprint !== entry.target];
    if (there === undefined) return undefined;
    return here ? (there ? 'both' : 'source') : there ? 'target' : 'neither';
  }

  /** The values of both sides as they were carried, where the records still have them. */
  values(address: Address): { source: PortableItem['value']; target: PortableItem['value'] } | undefined {
    const entry = this.entry(address);
    if (!entry) return undefined;
    const [source, target] = [entry.source, entry.target].map((digest) => this.#records.form(entry.run, digest));
    return source && target ? { source: source.value, target: target.value } : undefined;
  }
}
