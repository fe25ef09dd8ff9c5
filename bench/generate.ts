import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { siteConfig } from '../src/standin/scenario/facts.ts';
import { writeAtomically, type SiteRecord } from '../src/standin/site/state.ts';
import { OWN_ADDRESS } from '../src/standin/scenario/names.ts';
import { draws } from '../test/helpers/draws.ts';

const WORDS = 'pier sound ferry tide swell crossing harbour gale saloon ramp timetable winter lantern mooring islander vessel ticket quay beacon channel'.split(' ');

/**
 * Two sites of about `count` templates: 1.5 KB each on average, 5% with 20 KB of HTML, 10% changed at one place, 3% only here, 3% only there,
 * 0–5 references each, some circles.
 */
export function generateSites(folder: string, count: number): void {
  writeSite(join(folder, 'dev'), 'dev', count, 1_000_000);
  writeSite(join(folder, 'live'), 'live', count, 5_000_000);
}

function writeSite(folder: string, site: 'dev' | 'live', count: number, base: number): void {
  const random = draws(7).next;
  const records: SiteRecord[] = [];
  const ids = (i: number): number => base + (site === 'live' ? count - i : i);
  for (let i = 0; i < count; i++) {
    const share = i / count;
    const own = share < 0.03 ? 'dev' : share < 0.06 ? 'live' : 'both';
    const changed = share >= 0.06 && share < 0.16 && site === 'dev';
    const value = template(random, i, count, ids, changed);
    // What only one site has is referred to by nobody else, so that every reference can be followed.
    if (own !== 'both' && own !== site) continue;
    records.push({ id: ids(i), kind: 'tholepin/template', name: nameOf(i), status: 'published', revision: 1, value });
  }
  mkdirSync(join(folder, 'records'), { recursive: true });
  for (const record of records) writeFileSync(join(folder, 'records', `${record.id}.json`), JSON.stringify(record));
  writeAtomically(join(folder, 'site.json'), JSON.stringify({ ...siteConfig(site), content: [], nextId: base + 3 * count }));
}

function nameOf(i: number): string {
  return `sheet-${String(i).padStart(6, '0')}`;
}

function template(random: () => number, i: number, count: number, ids: (i: number) => number, changed: boolean): object {
  const words = (n: number): string => Array.from({ length: n }, () => WORDS[Math.floor(random() * WORDS.length)]).join(' ');
  const first = Math.ceil(count * 0.06);
  // Only earlier ones, so that circles are where they are made below and nowhere else.
  const other = (): number => (i > first ? ids(first + Math.floor(random() * (i - first))) : 0);
  const long = random() < 0.05;
  const links = Math.floor(random() * 6);
  const title = words(3);
  const markup = [`<h2>${words(4)}</h2>`];
  while (markup.join('\n').length < (long ? 20_000 : 330)) markup.push(`<p>${words(12)} <a href="${OWN_ADDRESS}/${words(1)}/">${words(2)}</a></p>`);
  if (links > 0 && i > first) markup.push(`<a data-template="${other()}">${words(2)}</a>`);
  const related = i > first ? Array.from({ length: Math.max(0, links - 2) }, other) : [];
  // Neighbours of every fiftieth pair refer to each other: a circle.
  const partner = i > first && i % 50 < 2 ? (i % 50 === 0 ? i + 1 : i - 1) : -1;
  return {
    title: changed ? `${title}, changed` : title, markup: markup.join('\n'), hero: 0, related: related.join(','), next: partner >= first && partner < count ? ids(partner) : links > 1 ? other() : 0, link: '',
    layout: JSON.stringify({ bands: [{ key: 'a', shows: 'template', target: other(), note: words(5) }], widths: {}, home: `${OWN_ADDRESS}/` }), code: '', views: Math.floor(random() * 900), edited: 1_795_000_000,
  };
}
