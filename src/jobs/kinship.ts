import { kindWord, type Address } from '../core/address.ts';
import { groupBy } from '../core/json.ts';
import { features, LIKELY_MOVED, LIKELY_RENAMED, likeness, UNRELATED, type Features } from '../core/likeness.ts';
import type { SourceRow } from '../core/source.ts';
import type { SiteSource } from './sources/site.ts';
import type { Source } from './sources/source.ts';

/** An item that is new here, and one that only the target has, alike enough to be one thing. */
export interface LikelyRename { readonly address: Address; readonly to: Address; readonly likeness: number }
/** One address for two things. `likeness`: how alike the two are; `origin`: where the target's one came from, if the ledger knows. */
export interface Collision { readonly likeness: number; readonly origin?: string; readonly sourceTitle: string; readonly targetTitle: string }

/** Of a kind with more new and target-only items than this, renames are not looked for: all would have to be read. */
const MOST_COMPARED = 500;
/** So many of the most promising ones are compared in full. */
const CANDIDATES = 5;

/**
 * Renames that the target's ledger knows: what came from this very record of the source, and is called otherwise there. Where several came from
 * it, the ledger does not say which one is meant.
 */
export function knownRenames(source: Source, target: SiteSource, chosen: Iterable<Address>): Map<Address, Address> {
  const found = new Map<Address, Address>();
  if (!source.idOf || target.origins.size === 0) return found;
  const site = source.origin.site.id;
  const there = new Map<string, Address | undefined>();
  for (const [address, origin] of target.origins) {
    if (origin.fromSite !== site || origin.fromId === undefined) continue;
    const key = `${kindWord(address)} ${String(origin.fromId)}`;
    there.set(key, there.has(key) ? undefined : address);
  }
  for (const address of chosen) {
    const known = there.get(`${kindWord(address)} ${String(source.idOf(address))}`);
    if (known === undefined || known === address || source.listed().has(known)) continue;
    if (target.index.has(address) && target.origins.get(address)?.fromSite === site) continue;
    found.set(address, known);
  }
  return found;
}

/** Looks for likely renames, kind by kind; values are read for it. `skipped`: kinds that have too many. */
export async function likelyRenames(source: Source, target: Source, fresh: readonly Address[], only: readonly Address[]): Promise<{ renames: LikelyRename[]; skipped: string[] }> {
  const there = groupBy(only, kindWord);
  const renames: LikelyRename[] = [];
  const skipped: string[] = [];
  for (const [kind, arriving] of groupBy(fresh, kindWord)) {
    const candidates = there.get(kind) ?? [];
    if (candidates.length === 0) continue;
    if (arriving.length + candidates.length > MOST_COMPARED) { skipped.push(kind); continue; }
    renames.push(...pairs(await featuresOf(source, arriving), await featuresOf(target, candidates)));
  }
  return { renames, skipped };
}

/** The best pairs first; each item is in one pair at most. */
function pairs(arriving: ReadonlyMap<Address, Features>, there: ReadonlyMap<Address, Features>): LikelyRename[] {
  const holders = new Map<string, Address[]>();
  for (const [address, own] of there) for (const mark of marks(own)) { const list = holders.get(mark); if (list) list.push(address); else holders.set(mark, [address]); }
  const found = [...arriving].flatMap(([address, own]) => promising(own, holders).map((to) => ({ address, to, likeness: likeness(own, there.get(to) as Features) }))).filter((one) => one.likeness >= (holderOf(one.address) === holderOf(one.to) ? LIKELY_RENAMED : LIKELY_MOVED));
  const taken = new Set<Address>();
  return found.sort((a, b) => b.likeness - a.likeness).filter(({ address, to }) => {
    if (taken.has(address) || taken.has(to)) return false;
    taken.add(address).add(to);
    return true;
  });
}

/** What stands before the last part of a name: what it lies below, or its sort. */
function holderOf(address: Address): string { return address.slice(0, address.lastIndexOf('/') + 1); }

/** Those that share most words at the same places. */
function promising(own: Features, holders: ReadonlyMap<string, Address[]>): Address[] {
  const shared = new Map<Address, number>();
  for (const mark of marks(own)) for (const address of holders.get(mark) ?? []) shared.set(address, (shared.get(address) ?? 0) + 1);
  return [...shared].sort((a, b) => b[1] - a[1]).slice(0, CANDIDATES).map(([address]) => address);
}

function* marks(own: Features): Generator<string> {
  for (const [at, words] of own) for (const word of words.keys()) yield `${at} ${word}`;
}

async function featuresOf(source: Source, addresses: readonly Address[]): Promise<Map<Address, Features>> {
  const found = new Map<Address, Features>();
  // With their values: each is read once.
  for await (const row of source.rows(new Set(addresses), { fresh: true })) found.set(row.address, features((await row.load()).value));
  return found;
}

/**
 * Two things with one address: the ledger says that the target's one came from elsewhere, or nothing was carried and they are called otherwise,
 * and their contents have next to nothing in common.
 */
export async function collisionOf(source: Source, target: SiteSource, left: SourceRow, right: SourceRow, from: Address): Promise<Collision | undefined> {
  const kind = source.kinds.get(left.kind);
  if (!kind || kind.description.singleton || left.covers !== 'all') return undefined;
  const origin = target.origins.get(right.address);
  const id = source.idOf?.(from);
  const own = origin !== undefined && origin.fromSite === source.origin.site.id;
  if (own && (id === undefined || origin.fromId === undefined || origin.fromId === id)) return undefined;
  if (!origin && sameTitle(left.title, right.title)) return undefined;
  const alike = likeness(features((await left.load()).value), features((await right.load()).value));
  if (alike >= UNRELATED) return undefined;
  return { likeness: alike, sourceTitle: left.title, targetTitle: right.title, ...(origin ? { origin: origin.from ?? origin.fromSite } : {}) };
}

function sameTitle(a: string, b: string): boolean { return a.trim().toLowerCase() === b.trim().toLowerCase(); }
