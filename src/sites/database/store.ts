import type { LocalId } from '../../core/siteindex.ts';
import type { Caches } from './caches.ts';
import type { Clock } from './clock.ts';
import type { Changes } from './changes.ts';
import type { Engine, Executor } from './engine.ts';
import type { Library } from './media/library.ts';
import type { KindRows, Shape } from './shape.ts';
import type { TreePaths } from './treepaths.ts';
import type { PlacedFile } from './valuereader.ts';

/** What an index says of an item, without its content. */
export interface Outline {
  readonly id: LocalId;
  readonly name: string;
  readonly title: string;
  readonly status: 'published' | 'draft';
  /** ISO 8601. */
  readonly changed?: string | undefined;
  /** Digest of what it is known by besides its name. */
  readonly alias?: string | undefined;
  readonly etag: string;
  readonly size: number;
  /** Keys of the rows that it describes, to find rows that two kinds describe. */
  claims(): readonly string[];
  /** Paths of its files in the media folder, the main one first. */
  readonly files?: readonly PlacedFile[] | undefined;
  /** It is there and cannot be read. */
  readonly damaged?: string;
  readonly fill: (name: string) => string | undefined;
}

/** An item as it lies in the database. */
export interface Unit extends Outline {
  /** What a site has of it: columns, fields, lists. */
  readonly value: Record<string, unknown>;
  /** Its rows, or its portion of a row, exactly; opaque. */
  readonly exact: unknown;
  /** When it was made, ISO 8601 in UTC. */
  readonly created?: string | undefined;
  /** Keys of all its rows. */
  rows(): readonly string[];
}

/** What is to be made, besides its value. `created`: when it was made where it comes from, ISO 8601 in UTC. */
export interface NewItem { readonly name: string; readonly status: 'published' | 'draft'; readonly created?: string | undefined }

/** What is made in a batch; the id is known when the batch has been written. */
export interface Made { id(): LocalId }

/** Where the items of one kind lie. Throws `Refused` where a value cannot be stored. */
export interface Store {
  all(at: Executor): AsyncIterable<Unit[]>;
  /** The same without their content, which is not fetched where the server can make digests of it. */
  outlines(at: Executor): AsyncIterable<Outline[]>;
  some(ids: readonly LocalId[], at: Executor, lock: boolean): Promise<Unit[]>;
  someOutlines(ids: readonly LocalId[], at: Executor): Promise<Outline[]>;
  create(about: NewItem, value: Record<string, unknown>, changes: Changes): Promise<Made>;
  /** `status`: where it is to change. */
  update(unit: Unit, value: Record<string, unknown>, changes: Changes, status?: Unit['status']): Promise<void>;
  remove(unit: Unit, changes: Changes): Promise<void>;
  restore(exact: unknown, unit: Unit | undefined, changes: Changes): Promise<void>;
}

/** What every store works with. */
export interface Ground { readonly engine: Engine; readonly shape: Shape; readonly site: () => string; readonly author: () => string; readonly library: Library | undefined; readonly caches: Caches; /** Paths of the rows of a kind that lie in a tree. */ readonly paths: (kind: KindRows) => TreePaths | undefined; readonly clock: Clock; /** The name of an item, of kinds that others have in their names. */ readonly nameOf: (kinds: string | readonly string[], id: string) => string | undefined; /** Learns such names, where not all items were read. */ readonly learn: (asked: () => readonly AskedNames[], at: Executor) => Promise<void> }
/** Ids whose names are needed, with the kinds that they may be of. */
export interface AskedNames { readonly kinds: readonly string[]; readonly ids: readonly string[] }

/** An operation that is answered with a refusal. `at`: where, if not in its item as a whole. */
export class Refused extends Error {
  readonly status: number;
  readonly at: string;
  readonly remedy: string | undefined;

  constructor(status: number, message: string, at = '', remedy?: string) {
    super(message);
    this.status = status;
    this.at = at;
    this.remedy = remedy;
  }
}
