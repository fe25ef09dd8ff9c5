import type { Address } from '../core/address.ts';
import { byCodeUnit } from '../core/json.ts';
import type { RecordsFolder, BaseEntry } from './records/folder.ts';
import type { SiteSource } from './sources/site.ts';

/** What became of an item since it was last carried to the site. */
export interface SiteChange { readonly address: Address; readonly title: string; readonly change: 'changed' | 'removed'; readonly run: string }
export interface SiteChanges { readonly changes: readonly SiteChange[]; /** Items that are known from imports. */ readonly known: number }

/** What changed on a site since the last imports to it, whoever did it. Items that no import brought, and parts, are not known of. */
export async function changesOf(records: RecordsFolder, site: SiteSource): Promise<SiteChanges> {
  const newest = new Map<Address, Pick<BaseEntry, 'target' | 'run'>>();
  // The site's own memory has what others have imported.
  for (const list of [records.basesTo(site.facts.site.id), site.bases]) for (const entry of list) {
    const other = newest.get(entry.address);
    if (entry.covers === undefined && (!other || byCodeUnit(other.run, entry.run) <= 0)) newest.set(entry.address, entry);
  }
  const changes: SiteChange[] = [];
  const there = new Set<Address>();
  for await (const row of site.rows(new Set(newest.keys()))) {
    there.add(row.address);
    const entry = newest.get(row.address);
    if (entry && entry.target !== row.fingerprint) changes.push({ address: row.address, title: row.title, change: 'changed', run: entry.run });
  }
  for (const [address, { run }] of newest) if (!there.has(address)) changes.push({ address, title: address, change: 'removed', run });
  return { changes: changes.sort((a, b) => byCodeUnit(a.address, b.address)), known: newest.size };
}
