import type { Address } from './address.ts';
import type { Coverage, PortableItem } from './item.ts';
import type { FoundReference, Lost, Taken, Withheld } from './translate/portable.ts';
import type { LeftOut } from './translate/admit.ts';
import { byCodeUnit } from './json.ts';

/** What only some rows have. */
export interface Besides {
  /** What is in it on purpose though it usually stays. */
  readonly taken?: readonly Taken[] | undefined;
  /** Places that speak of the source's host in a way that is no address of it: they arrive as they are. */
  readonly named?: readonly string[] | undefined;
  /** Paths, on the source, of files that it speaks of and that no item has: nothing carries them. */
  readonly loose?: readonly string[] | undefined;
  /** Visitors of the source do not see it yet. */
  readonly draft?: boolean | undefined;
  /** When it was made on the source, ISO 8601 in UTC: for a target that makes it, and no part of what is compared. */
  readonly created?: string | undefined;
}

/** One item of a source, a site or a file, without its value. Rows come sorted by address in code-unit order. */
export interface SourceRow extends Besides {
  readonly address: Address;
  readonly kind: string;
  readonly title: string;
  readonly covers: Coverage;
  readonly fingerprint: string;
  readonly references: readonly FoundReference[];
  readonly files: readonly string[];
  readonly withheld: readonly Withheld[];
  readonly lost: readonly Lost[];
  readonly leftOut: readonly LeftOut[];
  /** Size of the item file in bytes. */
  readonly size: number;
  /** The bytes of the item file, where they are at hand. */
  readonly text?: string;
  /** Reads the value; costs a read only where it was not at hand. */
  load(): Promise<PortableItem>;
}

/** What a row has besides, without what it has not. */
export function besides({ taken, named, loose, draft, created }: Besides): Besides {
  // One for every row: putting it together from pieces takes longer.
  const found: { -readonly [Name in keyof Besides]: Besides[Name] } = {};
  if (taken !== undefined && taken.length > 0) found.taken = taken;
  if (named !== undefined && named.length > 0) found.named = named;
  if (loose !== undefined && loose.length > 0) found.loose = loose;
  if (draft === true) found.draft = draft;
  if (created !== undefined) found.created = created;
  return found;
}

/** Two sorted streams side by side: each address once, with the row of either side or both. */
export async function* paired<A extends { address: Address }, B extends { address: Address }>(
  left: AsyncIterable<A>, right: AsyncIterable<B>,
): AsyncGenerator<{ address: Address; left?: A; right?: B }> {
  const [a, b] = [left[Symbol.asyncIterator](), right[Symbol.asyncIterator]()];
  try {
    let [x, y] = await Promise.all([a.next(), b.next()]);
    while (!x.done || !y.done) {
      const side = x.done ? 1 : y.done ? -1 : byCodeUnit(x.value.address, y.value.address);
      if (side < 0) { const row = x.value as A; yield { address: row.address, left: row }; x = await a.next(); }
      else if (side > 0) { const row = y.value as B; yield { address: row.address, right: row }; y = await b.next(); }
      else {
        yield { address: (x.value as A).address, left: x.value as A, right: y.value as B };
        [x, y] = await Promise.all([a.next(), b.next()]);
      }
    }
  } finally {
    await Promise.all([a.return?.(), b.return?.()]);
  }
}
