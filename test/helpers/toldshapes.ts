import type { Extension } from './extension.ts';
import { all, by, content, entry, extension, field, id, json, KEY, option, picture, table, term, text } from './planted.ts';

/** What stands beside an id says which thing it is, whatever its name is. */
export const TOLD_SHAPES: Readonly<Record<string, Extension>> = {
  'what people chose, with what they saw and under any name': extension({
    types: ['hb_crew'], taxonomies: ['hb_topic'],
    things: [entry('hb_crew', 'mara-low', true), entry('hb_crew', 'ivo-marsh'), term('hb_topic', 'open-sea', true), term('hb_topic', 'land')],
    places: [
      option('hb_cards', [{ ID: id('page/lounge'), post_title: 'Lounge', columns: 60 }, { k: text('page/parking'), v: 'parking', per_row: 61 }, { thing: id('hb_crew/ivo-marsh'), caption: 'Ivo Marsh', n: 60 }]),
      option('hb_picks', by(['page/lounge', 'Lounge'], ['page/parking', 'Parking'])), option('hb_pairs', [[id('page/lounge'), 'Lounge'], [text('hb_crew/ivo-marsh'), 'Ivo Marsh'], [60, 'Sixty']]), option('hb_seen', { pages_seen: 60, ports_shown: 61 }),
      option('hb_topics', [{ value: id('hb_topic/open-sea'), label: 'Open sea' }, { value: text('hb_topic/land'), label: 'Land' }]), option('hb_sorting', { topics_hidden: [id('hb_topic/open-sea'), id('hb_topic/land')], seats: 60 }),
      option('hb_where', { one: id('page/freight'), link: '{home}/freight/', width: 60 }), option('hb_shots', [{ n: id('picture/mast'), at: picture('picture/mast'), z: 60 }]), option('hb_not', { label: 'Haven', width: 60, label2: '61' }), option('hb_hidden', { '60': 'Sixty', '61': 'Lounge' }),
      field('hb_note/lounge', '_hb_picked', json({ v: text('page/lounge'), t: 'Lounge', more: [{ a: id('hb_crew/mara-low'), b: 'Mara Löw' }, { id: id('picture/mast'), url: picture('picture/mast'), x: 60 }], labels: by(['hb_topic/open-sea', 'Open Sea'], ['hb_topic/land', 'Land']) })),
      content('hb_note/lounge', all('<!-- wp:hb/feature {"pick":{"value":', id('page/lounge'), ',"label":"Lounge","n":60},"a":{"of":', id('hb_crew/ivo-marsh'), ',"name":"Ivo Marsh"},"b":{"u":"{home}\\/parking\\/","k":', id('page/parking'), '}} /--><i data-ref="', id('page/freight'), '" data-label="Freight" data-n="60"></i>')),
    ],
  }),
  'maps of nothing but what they are called after': extension({
    types: ['hb_mail', 'hb_form'], things: [entry('hb_mail', 'welcome'), entry('hb_mail', 'bye', true), entry('hb_form', 'ask'), entry('hb_form', 'book', true)],
    places: [
      option('hb_mails', { joined: id('hb_mail/welcome'), left: text('hb_mail/bye') }), option('hb_setup', { forms: { ask_us: id('hb_form/ask'), book_now: id('hb_form/book') }, mails: { when_joined: id('hb_mail/welcome'), when_gone: 0, when_late: id('hb_mail/bye') }, forms_seen: { day: 60, night: 61 } }),
      field('hb_form/ask', '_hb_form_mails', { sent: id('hb_mail/welcome'), failed: id('hb_mail/bye') }), field('hb_form/ask', '_hb_mails', json({ sent: text('hb_mail/welcome'), failed: text('hb_mail/bye') })), option('hb_form_numbers', { ask: 60, book: 61 }),
    ],
  }),
  'names beside ids of tables, however small these are': extension({
    types: ['hb_boat'], things: [entry('hb_boat', 'gull', true), entry('hb_boat', 'tern')],
    tables: { hb_fares: `id ${KEY}, label varchar(120) not null, boat bigint unsigned not null default 0, page bigint unsigned not null default 0, price decimal(8,2) not null default 0, rules longtext`, hb_zones: `zone_id ${KEY}, zone_name varchar(100) not null, parent bigint unsigned not null default 0, fare bigint unsigned not null default 0` },
    filled: [table('hb_fares', ['id', 'label'], { 'Adult return': { live: true, boat: text('hb_boat/gull'), page: text('page/lounge'), price: '60.00', rules: json({ pick: { of: id('hb_boat/tern'), name: 'Tern' }, min: 60 }) }, Child: { boat: text('hb_boat/tern'), page: text('page/parking'), price: '61.00', rules: json({ zone: { k: id('hb_zones/Inner'), v: 'Inner' } }) } }),
      table('hb_zones', ['zone_id', 'zone_name'], { Inner: { fare: text('hb_fares/Child') }, Outer: { live: true, parent: text('hb_zones/Inner'), fare: text('hb_fares/Adult return') } })],
    places: [
      option('hb_chosen', [{ k: id('hb_fares/Adult return'), v: 'Adult return' }, { k: text('hb_fares/Child'), v: 'Child' }]), option('hb_names', by(['hb_zones/Inner', 'Inner'], ['hb_zones/Outer', 'Outer'])), option('hb_two', [[id('hb_zones/Outer'), 'Outer'], [id('hb_zones/Inner'), 'Inner']]),
      field('hb_boat/tern', 'hb_set', { a: { nr: text('hb_fares/Child'), says: 'Child' }, seats: 2, rows: 1 }), content('hb_note/lounge', all('<!-- wp:hb/fare {"chosen":{"value":', id('hb_fares/Child'), ',"label":"Child"},"columns":2} /-->')),
    ],
  }),
};
