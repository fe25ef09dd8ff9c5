import { pluralOf } from '../core/kind.ts';
import type { Address } from '../core/address.ts';
import { itemOf } from '../core/belongings.ts';
import { dependsOnValue, requirementsOf, type Requirement } from '../core/requirements.ts';
import type { Coverage, PortableItem } from '../core/item.ts';
import { nearest, parseSelector } from '../core/selector.ts';
import { Problem } from '../core/problem.ts';
import type { FoundReference, Withheld } from '../core/translate/portable.ts';
import type { Choice } from './choice.ts';
import { rowRequirements } from './cover.ts';
import { companions, select } from './select.ts';
import type { Origin } from '../sites/connector.ts';
import { SiteSource } from './sources/site.ts';
import type { Absent, Source } from './sources/source.ts';

export interface ListedItem {
  readonly address: Address; readonly kind: string; readonly kindTitle: string; readonly title: string; readonly covers: Coverage;
  readonly parts: readonly string[]; readonly needs: readonly Requirement[]; readonly size: number; readonly fingerprint: string;
  /** No ordinary listing of the CMS shows it. */
  readonly hidden: boolean;
  readonly single: boolean;
  /** Items of other owners that belong together with it. */
  readonly together: readonly Address[];
  readonly changed?: string | undefined;
}
export interface Listing { readonly items: readonly ListedItem[]; readonly cannot: readonly Absent[]; readonly content: number }

/** Everything that can travel, with its parts and what it needs; and what cannot, with the reason. */
export async function list(source: Source, choice: Choice): Promise<Listing> {
  const { chosen, cannot, everything } = select(source, choice);
  const items: ListedItem[] = [];
  for await (const row of source.rows(everything ? undefined : new Set(chosen.keys()), { fresh: dependsOnValue })) {
    const kind = source.kinds.get(row.kind);
    items.push({
      address: row.address, kind: row.kind, kindTitle: kind ? pluralOf(kind) : row.kind, title: row.title, covers: row.covers, parts: [...(kind?.parts.keys() ?? [])],
      needs: kind ? (await rowRequirements(row, kind, source.origin)).filter((one) => one.need !== 'kind') : [],
      size: row.size, fingerprint: row.fingerprint, hidden: kind?.description.hidden ?? false, single: kind?.description.singleton ?? false, together: companions(source, row.address, row.kind).there, changed: source.listed().get(row.address)?.changed,
    });
  }
  return { items, cannot: [...cannot, ...source.refused], content: source.content().size };
}

export interface Shown {
  readonly item: PortableItem; readonly title: string; readonly fingerprint: string; readonly refersTo: readonly FoundReference[]; readonly referredToBy: readonly { address: Address; at: string }[];
  readonly requires: readonly Requirement[]; readonly withheld: readonly Withheld[];
  /** Where the site has it from, as its ledger remembers. */
  readonly origin: Origin | undefined;
}

/** One item in portable form, with what it refers to, what refers to it, and what it requires. */
export async function show(source: Source, address: string): Promise<Shown> {
  const known = new Map([...source.listed(), ...source.content()]);
  const wanted = known.has(address) ? address : [...known].find(([one, { kind }]) => parseSelector(address).matches(one, kind))?.[0];
  if (wanted === undefined) {
    const near = nearest(address, known.keys());
    throw new Problem('usage', `there is no ${address} in ${source.label}`, { remedy: near.length > 0 ? `did you mean ${near.join(', ')}?` : `"pochette list ${source.label}" lists everything` });
  }
  const referredToBy: { address: Address; at: string }[] = [];
  for await (const row of source.rows()) for (const reference of row.references) if (reference.to === wanted || (row.address !== wanted && itemOf(reference.to, source.kinds) === wanted)) referredToBy.push({ address: row.address, at: reference.at });
  for await (const row of source.rows(new Set([wanted]))) {
    const item = await row.load();
    const kind = source.kinds.get(row.kind);
    return { item, title: row.title, fingerprint: row.fingerprint, refersTo: row.references, referredToBy, withheld: row.withheld, origin: source instanceof SiteSource ? source.origins.get(wanted) : undefined, requires: kind ? requirementsOf(kind, wanted, item.value, source.origin) : [] };
  }
  throw new Problem('unreachable', `${wanted} could not be read`, { where: source.label });
}
