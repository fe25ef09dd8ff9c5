import type { Extension } from './extension.ts';
import { by, described, entry, extension, field, id, KEY, option, php, picture, table, term, text } from './planted.ts';

/** What sites have in several languages, or once for each of something else. */
export const TONGUE_SHAPES: Readonly<Record<string, Extension>> = {
  'the same in several languages, by device, weekday and group, and what was copied': extension({
    types: ['hb_tale', 'hb_header', 'hb_ad'], taxonomies: ['hb_entry_group', 'hb_term_group', 'hb_ad_group'],
    things: [entry('hb_tale', 'sea'), entry('hb_tale', 'meer', true), entry('hb_header', 'wide'), entry('hb_header', 'slim', true), entry('hb_ad', 'sail'), entry('hb_ad', 'row', true), entry('hb_ad', 'swim'), ...['g5f1', 'g5f2'].map((slug) => term('hb_entry_group', slug)), term('hb_term_group', 't1'), term('hb_ad_group', 'left'), term('hb_ad_group', 'right', true)],
    places: [
      described('hb_entry_group/g5f1', php({ en: id('hb_tale/sea'), de: id('hb_tale/meer') })), described('hb_entry_group/g5f2', php({ en: id('page/haven'), de: id('page/lounge') })), described('hb_term_group/t1', php({ en: id('category/boats'), de: id('category/ports') })),
      option('hb_home_by_language', { en: id('page/haven'), de: id('page/lounge') }), option('hb_tongue_rules', { first: 'en', hidden: [id('page/parking')], sizes: { en: 60, de: 61 } }), field('hb_tale/sea', '_hb_original', text('hb_tale/meer')), field('hb_tale/meer', '_hb_copy_of', text('hb_tale/sea')), field('hb_tale/sea', '_hb_number_of', '60'),
      option('hb_headers', { desktop: id('hb_header/wide'), mobile: id('hb_header/slim'), height: 60 }), option('hb_header_by_day', { mon: id('hb_header/wide'), tue: text('hb_header/slim') }), field('hb_tale/sea', 'hb_header_mobile', text('hb_header/slim')), option('hb_trail', { breadcrumbs: { blog: id('page/haven'), prefix: '60' } }),
      option('hb_ad_weights', by(['hb_ad_group/left', by(['hb_ad/sail', 10], ['hb_ad/row', 60])], ['hb_ad_group/right', by(['hb_ad/swim', 52])])), option('hb_numbers', { property_id: 60, level_id: '52', tenant_id: 61 }),
    ],
  }),
};

/** What a site says of its languages. */
export const LANGUAGES: Extension = extension({
  taxonomies: ['hb_tongue'], tables: { hb_translations: `row_id ${KEY}, what varchar(60) not null default 'post_page', what_id bigint null, tongue varchar(7) not null default 'en', label varchar(60)`, hb_tongues: `id ${KEY}, code varchar(7) not null unique, english varchar(100) not null default '', active tinyint not null default 0` },
  things: [term('hb_tongue', 'en', true), term('hb_tongue', 'nb')], filled: [table('hb_tongues', ['id', 'code'], { en: { live: true, english: 'English' }, nb: { english: 'Norse', active: '1' } })],
  places: [option('hb_tongue_settings', { first: 'en', tongues: { en: { term_id: id('hb_tongue/en'), flag: picture('picture/mast') }, nb: { term_id: id('hb_tongue/nb') } }, nav_menus: { tholepin: { primary: { en: id('menu/topbar'), nb: id('menu/foot') } } }, page_on_front: { en: id('page/haven'), nb: id('page/lounge') }, default_category: { en: id('category/boats'), nb: id('category/crew') }, media: { always: 60 } })],
});
