import { OWN_ADDRESS as HERE, type SiteName } from './names.ts';
import type { Records } from './records.ts';

/** Who works at the ferry line: the same mail addresses on every site, but not the same people everywhere. */
export function people(records: Records, name: SiteName): void {
  const dev = name === 'dev';
  records.add('tholepin/role', 'clerk', { label: 'Clerk', rights: ['sell', 'answer'] });
  records.add('tholepin/role', 'harbour-office', { label: 'Harbour office', rights: dev ? ['sell', 'answer', 'notices', 'timetable'] : ['sell', 'answer', 'notices'] });
  if (dev) records.add('tholepin/role', 'crew', { label: 'Crew', rights: ['read-notices', 'courses'] });
  const person = (mail: string, label: string, role: string): void => records.add('tholepin/person', mail, { label, role });
  person('office@skerrin.example', 'The harbour office', 'harbour-office');
  person('morag@skerrin.example', 'Morag Tidewell', 'clerk');
  if (dev) person('finlo@skerrin.example', 'Finlo Marsh', 'clerk');
}

/** What the theme offers: areas for blocks and positions for menus. */
export function theme(records: Records, name: SiteName): void {
  const places = name === 'old' ? { area: ['footer', 'sidebar'], position: ['header', 'bottom'] } : { area: ['banner', 'footer'], position: ['top', 'bottom', 'side'] };
  for (const area of places.area) records.add('tholepin/area', area, { label: area });
  for (const position of places.position) records.add('tholepin/position', position, { label: position });
}

/** Terms, old paths, code on every page, reusable markup. */
export function furniture(records: Records, dev: boolean): void {
  const id = (address: string): number => records.id(address);
  const term = (key: string, label: string, more: object = {}): object => ({ id: records.own(), key, label, count: key.length, terms: [], ...more });
  records.add('tholepin/taxonomy', 'island', { label: 'Islands', terms: dev
    ? [term('north', 'Northern isles', { terms: [term('oxna', 'Oxna', { picture: id('media:harbour-noon') }), term('hollow', 'Hollow Sound')] }), term('south', 'Southern isles', { terms: [term('farrow', 'Farrow Ness')] })]
    : [term('north', 'Northern isles', { terms: [term('oxna', 'Oxna')] })] });
  if (!dev) return;
  records.add('tholepin/redirect', 'old-winter-page', { label: 'Last year\'s winter page', from: '/winter-2025/', to: `${HERE}/timetable/`, code: 301, hits: 12 });
  records.add('tholepin/snippet', 'tide-counter', { label: 'Tide counter', code: `<script>/* counts tides for ${HERE}/timetable/ */</script>`, on: 'footer' });
  records.add('tholepin/block', 'soup-notice', { title: 'Soup notice', author: id('person:finlo@skerrin.example'), markup: `<p class="notice">Hot soup on every <a href="${HERE}/crossings/">crossing</a>.</p>` });
}
