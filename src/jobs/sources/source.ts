import type { Address } from '../../core/address.ts';
import type { Facts } from '../../core/facts.ts';
import type { Kind, Kinds } from '../../core/kind.ts';
import type { Block } from '../../core/route.ts';
import type { LocalId } from '../../core/siteindex.ts';
import type { SourceRow } from '../../core/source.ts';
import type { Takes } from '../../core/take.ts';

/** What is known of an item before its value is read. */
export interface Listed { readonly kind: string; readonly title: string; readonly changed?: string | undefined }
export interface Absent extends Listed { readonly address: Address; readonly why: string; readonly remedy?: string | undefined }
/** Items by address, in the order of addresses; a map is one. */
export interface Listing extends Iterable<[Address, Listed]> {
  readonly size: number;
  has(address: Address): boolean;
  get(address: Address): Listed | undefined;
  keys(): Iterable<Address>;
  values(): Iterable<Listed>;
}
/** Something that was chosen and does not travel: an item, or a place in it. `block`: why the target cannot take it. */
export interface LeftOut { readonly address: Address; readonly at: string; readonly why: string; readonly remedy: string; readonly block?: Block }
/** What is read again, whatever is remembered of it: everything, nothing, or items of some kinds. */
export type Fresh = boolean | ((kind: Kind) => boolean);
/** Stands for the site of what came as text. */
export const TEXT_SITE = 'text';
export type Origin = Pick<Facts, 'cms' | 'site' | 'extensions' | 'theme'>;

/** Where items come from: a site or a file. */
export interface Source {
  readonly label: string;
  readonly origin: Origin;
  readonly kinds: Kinds;
  /** Pictures and files were left out of it by choice. */
  readonly withoutMedia?: boolean;
  /** Everything that can travel. */
  listed(): Listing;
  /** What is there and cannot travel, with the reason. */
  unavailable(): readonly Absent[];
  /** Content: it is referred to and never carried. */
  content(): Listing;
  /** Everything that a reference in it can point to, where that is known. */
  pointable(): Iterable<Address> | undefined;
  /** Rows in order of addresses: all that can travel, or those asked for. */
  rows(only?: ReadonlySet<Address>, options?: { fresh?: Fresh }): AsyncIterable<SourceRow>;
  /** Filled while rows are read: items that are not safe to carry. */
  readonly refused: readonly Absent[];
  /** Says which values will be asked for next, so that they are fetched together. */
  preload(addresses: readonly Address[]): Promise<void>;
  /** Reads and checks everything, where it could be damaged. Throws an `unreadable` problem. */
  check?(): Promise<void>;
  /** Says what is taken on purpose, from now on. */
  take(takes: Takes): void;
  /** False: the files of this item are certainly not of this type. */
  mayBe(address: Address, type: string): boolean;
  /** Local id on the site, where there is one: it stays when a thing is renamed. */
  idOf?(address: Address): LocalId | undefined;
  /** Digest of what something that is referred to is known by besides its name, where that is known. */
  aliasOf?(address: Address): string | undefined;
  mediaSize(digest: string): Promise<{ type: string; bytes: number } | undefined>;
  media(digest: string): Promise<{ type: string; bytes: Buffer }>;
  close(): Promise<void>;
}
