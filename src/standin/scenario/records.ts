import { createHash } from 'node:crypto';
import type { SiteRecord } from '../site/state.ts';
import { booking } from './booking.ts';
import { OWN_ADDRESS as HERE, type SiteName } from './names.ts';
import { furniture, people, theme } from './people.ts';
import { drawScene, type Scene } from './pictures.ts';
import { training } from './training.ts';

const BASE: Readonly<Record<SiteName, number>> = { dev: 1_000_101, live: 2_000_301, old: 3_000_501 };

const FIRST_CHANGE = Date.UTC(2026, 9, 1, 6);
const HOUR = 3_600_000;

/** Collects records; ids are given when a name is first mentioned, so every site has its own. */
export class Records {
  readonly list: SiteRecord[] = [];
  readonly files: Buffer[] = [];
  readonly #ids = new Map<string, number>();
  #next: number;

  constructor(first: number) { this.#next = first; }

  /** The id of `kind:name`, also before the record is added. */
  id(address: string): number {
    const known = this.#ids.get(address);
    if (known !== undefined) return known;
    this.#next += 3;
    this.#ids.set(address, this.#next);
    return this.#next;
  }

  own(): number { this.#next += 3; return this.#next; }

  add(kind: string, name: string, value: unknown, status: SiteRecord['status'] = 'published'): void {
    const changed = new Date(FIRST_CHANGE + this.list.length * HOUR).toISOString();
    this.list.push({ id: this.id(`${kind.split('/')[1]}:${name}`), kind, name, status, value, revision: 1, changed });
  }

  picture(name: string, title: string, alt: string, scene: Scene): void {
    const bytes = drawScene(scene);
    this.files.push(bytes);
    this.add('tholepin/media', name, { title, alt, fileName: `${name}.png`, file: createHash('sha256').update(bytes).digest('hex'), uploaded: 1_795_000_000 + bytes.length });
  }

  get nextId(): number { return this.#next + 3; }
}

export function recordsOf(name: SiteName): { records: SiteRecord[]; files: Buffer[]; nextId: number } {
  const records = new Records(BASE[name]);
  const dev = name === 'dev';
  pictures(records, dev);
  pages(records, dev);
  structure(records, dev, name === 'old');
  templates(records, dev);
  if (name === 'live') liveOnly(records);
  arrangement(records, name, dev);
  settings(records, dev, name);
  people(records, name);
  theme(records, name);
  furniture(records, dev);
  booking(records, name);
  training(records, name);
  return { records: records.list, files: records.files, nextId: records.nextId };
}

const DUSK: Scene = { width: 640, height: 300, sky: [[38, 52, 92], [244, 164, 120]], sea: [[66, 92, 126], [18, 34, 58]], land: [44, 54, 78], sun: [0.72, 0.42, 0.045, [255, 226, 170]], ferry: [0.16, 0.78, 0.38, [196, 72, 54]] };
const NOON: Scene = { width: 640, height: 300, sky: [[126, 190, 226], [226, 242, 248]], sea: [[70, 148, 176], [24, 86, 120]], land: [92, 128, 98], sun: [0.2, 0.24, 0.04, [255, 250, 220]], ferry: [0.5, 0.74, 0.32, [34, 78, 132]] };

function pictures(records: Records, dev: boolean): void {
  records.picture('crossing-chart', 'Chart of the crossings', 'Four harbours and the routes between them', { ...NOON, height: 320, ferry: [0.3, 0.7, 0.18, [120, 60, 60]] });
  records.picture('harbour-noon', 'Skerrin Pier at noon', 'A blue ferry off Skerrin Pier', NOON);
  if (!dev) return;
  records.picture('harbour-dusk', 'Skerrin Pier at dusk', 'A red ferry leaving at sunset', DUSK);
  records.picture('vessel-selkie', 'Grey Selkie', 'The ferry Grey Selkie at sea', { ...DUSK, sky: [[150, 166, 186], [222, 226, 230]], ferry: [0.2, 0.76, 0.6, [128, 138, 150]] });
  records.picture('gale-flag', 'Gale flag', 'Grey sea under a low sky', { ...NOON, width: 320, height: 160, sky: [[110, 116, 128], [160, 164, 172]], sea: [[84, 96, 110], [50, 58, 70]] });
}

function pages(records: Records, dev: boolean): void {
  const page = (slug: string, title: string, markup: string, template = ''): void =>
    records.add('tholepin/page', slug, { title, markup, template: template === '' ? 0 : records.id(`template:${template}`) });
  page('home', 'Skerrin Ferries', '', 'front');
  page('crossings', 'Crossings', `<p>Every crossing, every day. See the <a href="${HERE}/fares/">fares</a>.</p><!-- block {"listing":${records.id('listing:departures')}} -->`);
  page('fares', 'Fares', '<p>Adults 9, children 4, cars from 28.</p>');
  page('timetable', 'Timetable', '<p>Boats leave by the clock of Skerrin Pier.</p>');
  page('contact', 'Contact', '<p>The ticket hut on Skerrin Pier is open from six.</p>');
  page('terms', 'Terms of carriage', '<p>Be at the ramp ten minutes before departure.</p>');
  page('thank-you', 'Thank you', '<p>Your ticket is on its way.</p>');
  if (dev) page('winter', 'Winter sailings', '<p>Fewer boats, more soup.</p>');
}

function structure(records: Records, dev: boolean, old: boolean): void {
  const id = (address: string): number => records.id(address);
  records.add('tholepin/image-format', 'card', { title: 'Card', width: 320, height: 180, cut: true, fallback: id('media:harbour-noon') });
  if (dev) records.add('tholepin/image-format', 'wide', { title: 'Wide banner', width: 1280, height: 480, cut: true, fallback: id('media:harbour-dusk') });
  records.add('tholepin/content-type', 'crossing', { label: 'Crossings', single: 'Crossing', template: id('template:crossing-view'), picture: { format: id('image-format:card'), needed: false }, taxonomies: dev ? ['island'] : [], count: dev ? 4 : 5 });
  records.add('tholepin/content-type', 'harbour', { label: 'Harbours', single: 'Harbour', template: 0, picture: { format: 0, needed: false }, count: 4 });
  if (dev) records.add('tholepin/content-type', 'vessel', { label: 'Vessels', single: 'Vessel', template: id('template:vessel-view'), picture: { format: id('image-format:wide'), needed: true }, count: 3 });
  if (!old) fieldSets(records, dev);
  records.add('crossing-board/listing', 'departures', {
    title: 'Departures', source: 'crossing', format: id('image-format:card'), card: dev ? id('template:crossing-card') : 0, look: dev ? 'cards' : 'table', live: dev, sort: 'departs', limit: dev ? 6 : 4, more: dev ? '/timetable/' : `${HERE}/crossings/`,
    columns: [
      { key: 'title', label: 'Crossing', show: true }, ...(dev ? [{ key: 'vessel', label: 'Vessel', show: true }] : []),
      { key: 'departs', label: dev ? 'Leaves' : 'Departure', show: true }, { key: 'minutes', label: 'Minutes', show: true },
    ],
  });
  if (dev) {
    records.add('crossing-board/listing', 'fleet', {
      title: 'Our fleet', source: 'vessel', format: id('image-format:wide'), card: 0, look: 'table', live: false, sort: 'built', limit: 10, more: '',
      columns: [{ key: 'title', label: 'Vessel', show: true }, { key: 'seats', label: 'Seats', show: true }, { key: 'built', label: 'Built', show: true }],
    });
  }
}

function fieldSets(records: Records, dev: boolean): void {
  const field = (key: string, label: string, type: string, more: object = {}): object => ({ id: records.own(), key, label, type, required: false, ...more });
  records.add('field-locker/field-set', 'crossing', {
    title: 'Crossing details', for: 'crossing',
    fields: [
      field('departs', 'Departure', 'time', { required: true }), field('minutes', 'Duration in minutes', 'number', { required: dev, min: 5 }),
      field('vessel', 'Vessel', 'text'),
      ...(dev ? [field('car-deck', 'Car deck', 'group', { fields: [field('height', 'Height limit in m', 'number', { min: 1.9 }), field('lanes', 'Lanes', 'number')] })] : [field('remark', 'Remark', 'text')]),
      field('seats', 'Seats', 'number', { max: dev ? 340 : 210 }),
    ],
  });
  if (!dev) return;
  records.add('field-locker/field-set', 'vessel', {
    title: 'Vessel details', for: 'vessel',
    fields: [field('seats', 'Seats', 'number', { required: true }), field('built', 'Year built', 'number'), field('view', 'View', 'template', { template: records.id('template:vessel-view') }), field('photo', 'Photo', 'picture', { format: records.id('image-format:wide') })],
  });
}

function templates(records: Records, dev: boolean): void {
  const id = (address: string): number => records.id(address);
  const add = (name: string, title: string, markup: string, more: object = {}, status: SiteRecord['status'] = 'published'): void =>
    records.add('tholepin/template', name, { title, markup, hero: 0, related: '', next: 0, link: '', layout: '', code: '', views: name.length * 7, edited: 1_795_600_000, ...more }, status);
  const picture = (media: string, alt: string): string => `<img src="${HERE}/uploads/${id(`media:${media}`)}/${media}-small.png" data-media="${id(`media:${media}`)}" alt="${alt}">`;
  add('crossing-view', 'Crossing, single view', `<h2>The crossing</h2>\n<p><a href="/fares/">Fares</a> and <a href="${HERE}/terms/">terms</a></p>`);
  if (!dev) {
    add('front', 'Front page', `<h1>By sea to the isles</h1>\n<p>Welcome aboard. Read the <a href="${HERE}/fares/">fares</a>.</p>\n<!-- block {"listing":${id('listing:departures')}} -->`, { hero: id('media:harbour-noon') });
    return;
  }
  add('front', 'Front page', [
    '<h1>Winter crossings, warm saloons</h1>',
    `<p>The <a href="${HERE}/timetable/">winter timetable</a> starts in November. Book <a href="${HERE}/fares/">fares</a> early, or see the <a href="${HERE}/winter/">winter offers</a>.</p>`,
    `<!-- block {"listing":${id('listing:departures')},"heading":"Next boats"} -->`,
    `<p class="links"><a data-template="${id('template:winter-timetable')}" href="${HERE}/templates/winter-timetable/">Winter timetable</a></p>`,
    `<!-- block {"template":${id('template:fleet-band')}} -->`,
  ].join('\n'), {
    hero: id('media:harbour-dusk'), related: `${id('template:winter-timetable')},${id('template:fleet-band')}`, link: '/timetable/',
    layout: JSON.stringify({ bands: [
      { key: 'top', shows: 'picture', target: id('media:harbour-dusk'), note: `<b>${HERE}/timetable/</b>` },
      { key: 'boats', shows: 'listing', target: id('listing:departures'), note: '' },
      { key: 'fleet', shows: 'template', target: id('template:fleet-band'), note: 'Three vessels' },
    ], widths: { [id('template:fleet-band')]: 12, [id('template:winter-timetable')]: 6 }, home: `${HERE}/` }).replaceAll('/', '\\/'),
  });
  add('crossing-card', 'Crossing card', `<h3>{{title}}</h3>\n<p>{{departs}} · {{minutes}} min · {{vessel}}</p>`);
  add('vessel-view', 'Vessel, single view', `<h2>On board</h2>\n${picture('vessel-selkie', 'Grey Selkie')}\n<!-- block {"listing":${id('listing:fleet')}} -->`, { hero: id('media:vessel-selkie') });
  add('fleet-band', 'Fleet band', `<section><h2>Our fleet</h2>\n<p>Three vessels, one crew.</p>\n${picture('vessel-selkie', 'The Grey Selkie')}\n<!-- block {"listing":${id('listing:fleet')}} --></section>`);
  // Two templates that link to each other.
  add('winter-timetable', 'Winter timetable', `<h2>Winter timetable</h2>\n<p>First boat at 07:20.</p>\n<p><a data-template="${id('template:summer-timetable')}" href="${HERE}/templates/summer-timetable/">Summer</a></p>`, { next: id('template:summer-timetable') });
  add('summer-timetable', 'Summer timetable', `<h2>Summer timetable</h2>\n<p>First boat at 05:50.</p>\n<p><a data-template="${id('template:winter-timetable')}" href="${HERE}/templates/winter-timetable/">Winter</a></p>`, { next: id('template:winter-timetable') });
  add('notice-strip', 'Notice strip', '<p class="notice"><strong>Gale expected.</strong> Boats may run late.</p>');
}

function liveOnly(records: Records): void {
  records.add('tholepin/template', 'island-fair', { title: 'Island fair', markup: '<h2>Island fair in June</h2>', hero: 0, related: '', next: 0, link: '', layout: '', code: '', views: 91, edited: 1_795_100_000 });
}

function arrangement(records: Records, name: SiteName, dev: boolean): void {
  const id = (address: string): number => records.id(address);
  const entry = (key: string, label: string, type: string, target: number, more: object = {}): object => ({ id: records.own(), key, label, type, target, url: '', icon: 0, entries: [], ...more });
  const link = (key: string, label: string, url: string): object => entry(key, label, 'url', 0, { url });
  records.add('tholepin/menu', 'main', {
    label: 'Main menu', position: name === 'old' ? 'header' : 'top',
    entries: dev
      ? [entry('crossings', 'Crossings', 'page', id('page:crossings'), { entries: [entry('timetable', 'Timetable', 'page', id('page:timetable')), entry('winter', 'Winter timetable', 'template', id('template:winter-timetable'))] }), entry('fleet', 'Fleet', 'listing', id('listing:fleet'), { icon: id('media:vessel-selkie') }), entry('fares', 'Fares & tickets', 'page', id('page:fares')), entry('contact', 'Contact', 'page', id('page:contact'))]
      : [entry('crossings', 'Crossings', 'page', id('page:crossings'), { entries: [entry('timetable', 'Timetable', 'page', id('page:timetable'))] }), entry('fares', 'Fares', 'page', id('page:fares')), entry('contact', 'Contact', 'page', id('page:contact'))],
  });
  records.add('tholepin/menu', 'small-print', { label: 'Small print', position: 'bottom', entries: [entry('terms', 'Terms of carriage', 'page', id('page:terms')), link('top', 'Back to the top', `${HERE}/`)] });
  const block = (key: string, type: string, shows: number, text = ''): object => ({ id: records.own(), key, type, shows, text });
  records.add('tholepin/placement', 'footer', { label: 'Footer', area: 'footer', blocks: dev
    ? [block('hello', 'text', 0, `<p>Skerrin Ferries, Skerrin Pier. <a href="${HERE}/contact/">Write to us</a></p>`), block('chart', 'picture', id('media:crossing-chart'))]
    : [block('hello', 'text', 0, '<p>Skerrin Ferries</p>')] });
  if (dev) records.add('tholepin/placement', 'banner', { label: 'Banner', area: 'banner', blocks: [block('gale', 'template', id('template:notice-strip'))] });
  records.add('tholepin/style', 'site-style', {
    label: 'Site style',
    colours: dev
      ? [{ key: 'ink', label: 'Ink', value: '#16263a' }, { key: 'ground', label: 'Ground', value: '#f6f1e7' }, { key: 'accent', label: 'Accent', value: '#b8442e' }, { key: 'deep', label: 'Deep water', value: '#1d3c5c' }]
      : [{ key: 'ink', label: 'Ink', value: '#20303c' }, { key: 'ground', label: 'Ground', value: '#eef4f6' }, { key: 'accent', label: 'Accent', value: '#2c7a92' }, { key: 'deep', label: 'Deep water', value: '#3a6f8a' }],
    fonts: dev ? [{ key: 'body', label: 'Text', family: 'Georgia, serif', size: 17 }, { key: 'heading', label: 'Headings', family: 'Georgia, serif', size: 40 }] : [{ key: 'body', label: 'Text', family: 'Verdana, sans-serif', size: 15 }, { key: 'heading', label: 'Headings', family: 'Verdana, sans-serif', size: 30 }],
    css: dev ? '.notice { letter-spacing: .02em; }\n' : '', backdrop: 0, compiled: `${records.list.length}`,
  });
  for (const [theme, child] of [['saltmarsh', false], ['saltmarsh-isles', true]] as const) {
    records.add('tholepin/theme-options', theme, {
      label: child ? 'Options of Saltmarsh Isles' : 'Options of Saltmarsh', header: { menu: id('menu:main'), notice: dev && child ? id('template:notice-strip') : 0, logo: id('media:crossing-chart'), sticky: dev },
      footer: { text: `<p>© Skerrin Ferries · <a href="${HERE}/terms/">Terms</a></p>`, columns: dev ? 2 : 1 }, code: '',
    });
  }
}

function settings(records: Records, dev: boolean, name: SiteName): void {
  const id = (address: string): number => records.id(address);
  const option = (kind: string, item: string, label: string, value: object): void => records.add(kind, item, { label, option: JSON.stringify(value) });
  option('ticket-desk/settings', 'tickets', 'Ticket Desk', {
    mail: {
      sender: `tickets@${name}.skerrin.example`, subject: dev ? 'Your winter ticket' : 'Your ticket', template: dev ? id('template:crossing-card') : 0,
      body: `<p>Thank you for sailing with us.</p>\n${dev ? '<p>Hot soup is served on every crossing.</p>\n' : ''}<p><a href="${HERE}/terms/">Terms</a></p>`,
    },
    fares: [{ key: 'adult', label: 'Adult', price: dev ? 9.5 : 9 }, { key: 'child', label: 'Child', price: 4 }, ...(dev ? [{ key: 'islander', label: 'Islander', price: 3.5 }] : [])],
    payment: { gateway: 'pier-pay', currency: 'SKC', secretKey: `sk_${name}_${createHash('sha256').update(name).digest('hex').slice(0, 16)}`, retries: dev ? 3 : 2 },
    pages: { terms: id('page:terms'), thanks: id('page:thank-you') },
    fareTemplates: dev ? { [id('template:crossing-card')]: 'adult' } : {}, lastTicket: dev ? 17 : 48211,
  });
  option('weather-flag/settings', 'notices', 'Weather Flag', {
    levels: [{ key: 'breeze', label: 'Breeze', colour: '#5aa06e', picture: 0 }, { key: 'gale', label: 'Gale', colour: dev ? '#b8442e' : '#c06030', picture: dev ? id('media:gale-flag') : 0 }],
    listing: id('listing:departures'), source: { url: 'http://weather.skerrin.example/feed', key: `wf-${name}-77` }, fetched: dev ? 3 : 9000,
  });
  option('tholepin/settings', 'site', 'Site', {
    title: name === 'live' ? 'Skerrin Ferries' : `Skerrin Ferries (${name})`, adminMail: `harbour@${name}.skerrin.example`, visits: dev ? 12 : 90_412,
    pages: { front: id('page:home'), contact: id('page:contact') }, formats: { date: dev ? 'D MMMM' : 'DD.MM.', number: '1 000,0' },
  });
  option('souvenir-shop/settings', 'shop', 'Souvenir Shop', { currency: 'SKC', shelf: 4 });
}
