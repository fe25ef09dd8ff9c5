import { createHash } from 'node:crypto';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import type { Site } from '../api/routes.ts';
import { writeAtomically, type SiteConfig, type SiteRecord } from '../site/state.ts';
import { entries } from './content.ts';
import { siteConfig } from './facts.ts';
import { OWN_ADDRESS, type SiteName } from './names.ts';
import { recordsOf } from './records.ts';


/** Writes the Skerrin Ferries site into an empty folder. */
export function seedSite(folder: string, name: SiteName): void {
  const { records, files, nextId } = recordsOf(name);
  const config: SiteConfig = { ...siteConfig(name), content: entries(name), nextId };
  mkdirSync(join(folder, 'media'), { recursive: true });
  mkdirSync(join(folder, 'records'), { recursive: true });
  for (const bytes of files) writeAtomically(join(folder, 'media', createHash('sha256').update(bytes).digest('hex')), bytes);
  for (const record of records) writeAtomically(join(folder, 'records', `${record.id}.json`), JSON.stringify(record));
  writeAtomically(join(folder, 'site.json'), JSON.stringify(config));
}

/** Texts get the address that the site listens on. */
export function moveIn(site: Site): void {
  const { state } = site.cms;
  const inText = (address: string): string => JSON.stringify(address).slice(1, -1);
  const escaped = (address: string): string => address.replaceAll('/', '\\/');
  for (const record of [...state.records.values()]) {
    const text = JSON.stringify(record.value).replaceAll(inText(OWN_ADDRESS), inText(site.address)).replaceAll(inText(escaped(OWN_ADDRESS)), inText(escaped(site.address)));
    state.put({ ...record, value: JSON.parse(text) as unknown } satisfies SiteRecord);
  }
  state.save(state.records.keys());
}
