import type { Address } from '../../core/address.ts';
import type { Facts } from '../../core/facts.ts';
import type { Kinds } from '../../core/kind.ts';
import type { SourceRow } from '../../core/source.ts';

/** What is known of an item before its value is read. */
export interface Listed { readonly kind: string; readonly title: string }
export interface Absent extends Listed { readonly address: Address; readonly why: string }
export type Origin = Pick<Facts, 'cms' | 'site' | 'extensions' | 'theme'>;

/** Where items come from: a site or a file. */
export interface Source {
  readonly label: string;
  readonly origin: Origin;
  readonly kinds: Kinds;
  /** Everything that can travel. */
  listed(): ReadonlyMap<Address, Listed>;
  /** What is there and cannot travel, with the reason. */
  unavailable(): readonly Absent[];
  /** Content: it is referred to and never carried. */
  content(): ReadonlyMap<Address, Listed>;
  /** Everything that a reference in it can point to, where that is known. */
  pointable(): readonly Address[] | undefined;
  /** Rows in order of addresses: all that can travel, or those asked for. `fresh`: nothing remembered is used. */
  rows(only?: ReadonlySet<Address>, options?: { fresh?: boolean }): AsyncIterable<SourceRow>;
  /** Filled while rows are read: items that are not safe to carry. */
  readonly refused: readonly Absent[];
  /** Says which values will be asked for next, so that they are fetched together. */
  preload(addresses: readonly Address[]): Promise<void>;
  mediaSize(digest: string): Promise<{ type: string; bytes: number } | undefined>;
  media(digest: string): Promise<{ type: string; bytes: Buffer }>;
  close(): Promise<void>;
}
