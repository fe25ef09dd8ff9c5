import { BaseTable } from '../core/basetable.ts';
import type { Facts } from '../core/facts.ts';
import type { Kinds } from '../core/kind.ts';
import type { IndexRow, LocalItem } from '../core/siteindex.ts';
import type { Answer, ExactRecord, ItemKey, Ledger, LedgerChange, LedgerRun, LockRequest, Operation, Origin, BaseEntry } from '../protocol/index.ts';

export type { Answer, ExactRecord, ItemKey, Ledger, LedgerChange, LedgerRun, LockRequest, Operation, Origin, BaseEntry };

/** What a site remembers: of what was carried there can be as much as it has items. */
export type KnownLedger = Omit<Ledger, 'bases'> & { readonly bases: BaseTable };

/** The same from a ledger as it is told or kept. */
export function knownLedger({ bases, ...rest }: Ledger): KnownLedger { return { ...rest, bases: new BaseTable(bases) }; }

/**
 * What speaks to one site. Connectors give and take local items only; making them portable is the core's work.
 * Every method throws a `Problem`: `unreachable` where the site could not be read, `blocked` where it refuses.
 */
export interface Connector {
  readonly name: string;
  /** The configured address. */
  readonly url: string;
  /** Requests made and bytes sent so far. */
  readonly traffic: { readonly requests: number; readonly bytes: number };
  /** The SHA-256 of the file at a path of its media folder; undefined where there is none. Only of sites whose kinds say where files lie. */
  fileAt?(path: string): Promise<string | undefined>;
  /** Of a site that keeps portable forms: told, before anything else, whose kinds it is going to get. */
  takeOver?(kinds: Kinds, facts: Pick<Facts, 'cms' | 'extensions' | 'theme'>): void;
  facts(): Promise<Facts>;
  /** What values are, by the name of what defines them; only of sites that define values. `fresh`: as it is now, and not when the facts were told. */
  definitions?(how?: { readonly fresh?: boolean }): Promise<ReadonlyMap<string, string>>;
  /** Descriptions as the site tells them; the core checks and compiles them. */
  kinds(): Promise<unknown[]>;
  /** All items, in whatever order they come; `sorted`: in code-unit order of their addresses. */
  index(how?: { readonly sorted: boolean }): AsyncIterable<IndexRow>;
  /** The same with their values, in the order of addresses. `known`: the index as it was read, where it need not be read again. */
  items(known?: Iterable<IndexRow>): AsyncIterable<LocalItem>;
  /** Those items that are still there, in the order asked for. */
  read(keys: readonly ItemKey[]): AsyncIterable<LocalItem>;
  /** Their lines of the index, for whoever needs no values. */
  rows(keys: readonly ItemKey[]): AsyncIterable<IndexRow>;
  /** Exact records, opaque, for undo. */
  records(keys: readonly ItemKey[]): AsyncIterable<ExactRecord>;
  /** One answer for each operation; after the first refusal the rest is answered with 424. Safe to repeat with the same keys. */
  batch(operations: readonly Operation[]): Promise<Answer[]>;
  mediaSize(digest: string): Promise<{ type: string; bytes: number } | undefined>;
  media(digest: string): Promise<{ type: string; bytes: Buffer }>;
  putMedia(digest: string, type: string, bytes: Buffer): Promise<void>;
  /** Takes or renews the writer's lock. */
  lock(request: LockRequest): Promise<void>;
  unlock(): Promise<void>;
  renewCaches(): Promise<void>;
  ledger(): Promise<KnownLedger>;
  /** The runs alone: of a large site the rest is long. */
  runs(): Promise<LedgerRun[]>;
  changeLedger(change: LedgerChange): Promise<void>;
  /** Those of the forms that the ledger has, by digest. */
  forms(digests: readonly string[]): Promise<Map<string, string>>;
  /** The status with which a public page answers, as a visitor sees it. */
  pageStatus(url: string): Promise<number>;
  /** The same of a file, which is not fetched. */
  fileStatus(url: string): Promise<number>;
  close(): Promise<void>;
}
