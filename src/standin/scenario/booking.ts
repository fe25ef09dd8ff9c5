import { OWN_ADDRESS as HERE, type SiteName } from './names.ts';
import type { Records } from './records.ts';

/** Forms, the booking flow with its look, a popup and a landing page. */
export function booking(records: Records, name: SiteName): void {
  tickets(records, name);
  if (name === 'dev') { forms(records); flow(records); landing(records); } else earlierForm(records, name);
}

function tickets(records: Records, name: SiteName): void {
  const ticket = (key: string, title: string, price: number): void => records.add('ticket-desk/ticket', key, { title, price });
  ticket('adult-single', 'Adult, single', 9);
  ticket('car-single', 'Car, single', 28);
  if (name !== 'old') ticket('islander-card', 'Islander card', 60);
}

const field = (records: Records, key: string, label: string, type: string, required = false): object => ({ id: records.own(), key, label, type, required });

function forms(records: Records): void {
  const id = (address: string): number => records.id(address);
  records.add('quay-forms/form', 'lost-property', {
    title: 'Lost property', author: id('person:morag@skerrin.example'),
    fields: [field(records, 'name', 'Your name', 'text', true), field(records, 'mail', 'Mail', 'mail', true), field(records, 'phone', 'Phone', 'text'), field(records, 'boat', 'On which boat', 'text'), field(records, 'what', 'What was it', 'long', true), field(records, 'photo', 'A photo of it', 'file')],
    messages: { thanks: `<p>Thank you. We look in every saloon. See <a href="${HERE}/contact/">contact</a>.</p>`, error: '<p>Please fill in what is marked.</p>' },
    style: { ink: '#16263a', button: '#b8442e', picture: id('media:crossing-chart') },
    actions: { mailTo: 'lost@dev.skerrin.example', hookKey: 'hook-dev-7741', page: id('page:thank-you'), thanks: '/thank-you/', level: 0, options: packed({ pages: [id('page:contact'), id('page:terms')], note: 'kept by the Pier' }) }, sent: 3,
  });
  records.add('quay-forms/form', 'group-booking', {
    title: 'Group booking', author: id('person:finlo@skerrin.example'),
    fields: [field(records, 'name', 'Name of the group', 'text', true), field(records, 'mail', 'Mail', 'mail', true), field(records, 'seats', 'Seats', 'number', true)],
    messages: { thanks: '<p>We answer within a day.</p>', error: '<p>How many are you?</p>' }, style: { ink: '#16263a', button: '#1d3c5c', picture: 0 },
    actions: { mailTo: 'groups@dev.skerrin.example', hookKey: 'hook-dev-7742', page: 0, thanks: '', level: id('access-level:islanders'), options: packed({ pages: [], note: '' }) }, sent: 0,
  });
  records.add('quay-forms/settings', 'forms', { label: 'Quay Forms', captcha: { kind: 'tide-sum', key: 'captcha-dev-55' }, sender: 'forms@dev.skerrin.example', keepDays: 90 });
}

/** In what shape the older and the newer version of the extension keep a form. */
function earlierForm(records: Records, name: SiteName): void {
  const fields = [field(records, 'name', 'Name', 'text', true), field(records, 'mail', 'Mail', 'mail', true), field(records, 'what', 'What was it', 'long')];
  const actions = { mailTo: `lost@${name}.skerrin.example`, hookKey: `hook-${name}-1`, page: 0, thanks: '', level: 0, options: packed({ pages: [], note: '' }) };
  const more = name === 'old' ? { thanks: '<p>Thank you.</p>', error: '<p>Something is missing.</p>' } : { messages: { thanks: '<p>Thank you.</p>', error: '<p>Something is missing.</p>' }, style: { ink: '#20303c', button: '#2c7a92', picture: 0 } };
  records.add('quay-forms/form', 'lost-property', { title: 'Lost property', author: records.id('person:office@skerrin.example'), fields, ...more, actions, sent: 211 });
}

function flow(records: Records): void {
  const id = (address: string): number => records.id(address);
  const step = (key: string, label: string, more: object): object => ({ id: records.own(), key, label, text: '', template: 0, page: 0, form: 0, ticket: 0, offer: '', leave: '', ...more });
  records.add('gangway/flow', 'booking', {
    title: 'Booking', author: id('person:office@skerrin.example'),
    steps: [
      step('choose', 'Choose a crossing', { template: id('template:crossing-card'), page: id('page:crossings') }),
      step('tickets', 'Tickets', { ticket: id('ticket:adult-single'), offer: `${id('ticket:car-single')},${id('ticket:islander-card')}`, text: `<p>Fares are on the <a href="${HERE}/fares/">fares page</a>.</p>` }),
      step('groups', 'Groups', { form: id('form:group-booking'), text: `<!-- block {"form":${id('form:group-booking')}} -->` }),
      step('thanks', 'Thanks', { page: id('page:thank-you'), leave: `${HERE}/thank-you/` }),
    ],
    rules: { start: id('page:crossings'), minutes: 20 }, visits: 41,
  });
  const design = { theme: 'dusk', picture: id('media:harbour-dusk'), steps: [{ step: 'choose', colour: '#16263a', template: id('template:fleet-band') }, { step: 'tickets', colour: '#b8442e', template: 0 }] };
  records.add('step-paint/flow-look', 'booking', { label: 'Look of the booking', flow: 'booking', design: Buffer.from(JSON.stringify(design)).toString('base64') });
  records.add('signal-lamp/popup', 'gale-warning', {
    title: 'Gale warning', author: id('person:morag@skerrin.example'), markup: `<p>Gale expected. <a href="${HERE}/timetable/">See which boats sail</a>.</p>`, form: id('form:group-booking'),
    trigger: { after: 4, once: true }, pages: { [id('page:home')]: 'always', [id('page:crossings')]: 'once' }, notOn: `${id('page:terms')},${id('page:thank-you')}`,
  });
}

function landing(records: Records): void {
  const id = (address: string): number => records.id(address);
  const band = (key: string, markup: string, more: object): object => ({ id: records.own(), key, markup, picture: 0, block: 0, popup: 0, ...more });
  records.add('harbour-pages/landing', 'winter-offers', {
    title: 'Winter offers', author: id('person:finlo@skerrin.example'), settings: { wide: true, heading: false, level: 0 }, styles: { gap: 24, round: 8 },
    fonts: [{ key: 'body', family: 'Georgia, serif', size: 17 }], colours: [{ key: 'ground', value: '#f6f1e7' }, { key: 'ink', value: '#16263a' }], code: '<script>tides("winter")</script>',
    bands: [
      band('top', `<h1>Winter offers</h1><p><img src="${HERE}/uploads/${id('media:harbour-dusk')}/harbour-dusk.png" srcset="${HERE}/uploads/${id('media:harbour-dusk')}/harbour-dusk-small.png 1x, ${HERE}/uploads/${id('media:harbour-dusk')}/harbour-dusk.png 2x" alt="Dusk"></p>`, { picture: id('media:harbour-dusk') }),
      band('soup', `<!-- block {"reusable":${id('block:soup-notice')}} -->`, { block: id('block:soup-notice') }), band('gale', '', { popup: id('popup:gale-warning') }),
    ],
  });
}

/** A map of a list of numbers and a text, in the serialisation format of PHP. */
function packed({ pages, note }: { pages: readonly number[]; note: string }): string {
  return `a:2:{s:5:"pages";a:${pages.length}:{${pages.map((page, i) => `i:${i};i:${page};`).join('')}}s:4:"note";s:${Buffer.byteLength(note)}:"${note}";}`;
}
