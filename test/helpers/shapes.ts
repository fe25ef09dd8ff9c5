import type { Extension, Place } from './extension.ts';
import { FIELD_SHAPES } from './fieldshapes.ts';
import { all, by, content, entry, extension, field, id, json, KEY, list, option, page, php, picture, rows, table, term, text } from './planted.ts';
import { TOLD_SHAPES } from './toldshapes.ts';
import { LANGUAGES, TONGUE_SHAPES } from './tongueshapes.ts';

/** Extensions as there are many: what they keep, and in which form. Numbers about 60 are measures, or count parts of the thing itself, and are ids of something else by chance. */
export const SHAPES: Readonly<Record<string, Extension>> = {
  'tickets, with areas, ways to pay and swatches in tables': extension({
    types: ['hbticket', 'hb_voucher'], taxonomies: ['hbticket_sort', 'hb_hull'],
    tables: {
      hb_areas: `area_id ${KEY}, area_name varchar(200) not null, area_order int not null default 0`, hb_area_places: `place_id ${KEY}, area_id bigint unsigned not null, place_code varchar(100) not null default '', place_sort varchar(40) not null default ''`,
      hb_area_ways: `way_id ${KEY}, area_id bigint unsigned not null default 0, way_name varchar(100) not null, way_order int not null default 0`,
      hb_swatches: `swatch_id ${KEY}, swatch_name varchar(100) not null, swatch_title varchar(100), swatch_type varchar(20) not null default 'select', discount int not null default 0`,
      hb_dues: `due_id ${KEY}, due_country varchar(2) not null default '', due varchar(8) not null default '', due_name varchar(100) not null`,
    },
    things: [...['single', 'return'].map((slug) => entry('hbticket', slug, true)), ...['pass', 'bike'].map((slug) => entry('hbticket', slug)), entry('hb_voucher', 'summer'), term('hbticket_sort', 'day', true), term('hbticket_sort', 'extras'), term('hb_hull', 'blue')],
    filled: [
      table('hb_areas', ['area_id', 'area_name'], { Isles: { live: true, area_order: '1' }, Mainland: { area_order: '2' } }), table('hb_area_ways', ['way_id', 'way_name'], { flat: { area_id: text('hb_areas/Isles'), way_order: '1' }, free: { area_id: text('hb_areas/Mainland'), way_order: '1' } }),
      table('hb_swatches', ['swatch_id', 'swatch_name'], { hull: { live: true, swatch_title: 'Hull', swatch_type: 'paint' }, size: { swatch_title: 'Size', discount: '60' } }), table('hb_dues', ['due_id', 'due_name'], { 'Harbour due': { due_country: 'SK', due: '20.0' } }),
    ],
    places: [
      rows('hb_areas/Mainland', 'hb_area_places', 'area_id', 'place_id', [{ place_code: 'SK:01', place_sort: 'parish' }, { place_code: 'SK', place_sort: 'country' }]),
      option('hb_basket_page_id', text('page/lounge')), option('default_hbticket_sort', text('hbticket_sort/extras')), option('hb_letterhead_image', picture('picture/bow')), option('hb_weight_unit', 'kg'),
      option(all('hb_flat_', id('hb_area_ways/flat'), '_settings'), { title: 'By van', cost: '60' }), option(all('hb_free_', id('hb_area_ways/free'), '_settings'), { title: 'On foot', least: '61' }),
      field('hbticket/pass', '_also_ids', [id('hbticket/bike'), id('hbticket/single')]), field('hbticket/single', '_children', [id('hbticket/pass'), id('hbticket/bike')]), field('hbticket/pass', '_picture_gallery', list('picture/quay', 'picture/mast')), field('hbticket/pass', '_price', '60.00'), field('hbticket/pass', '_stock', '61'),
      field('hb_voucher/summer', 'ticket_ids', list('hbticket/single', 'hbticket/pass')), field('hb_voucher/summer', 'ticket_sorts', [id('hbticket_sort/day'), id('hbticket_sort/extras')]), field('hb_voucher/summer', 'usage_limit', '61'), { in: 'term', of: 'hbticket_sort/day', name: 'thumbnail_id', value: text('picture/deck') },
      { in: 'terms', of: 'hbticket/pass', name: 'hbticket_sort', value: [id('hbticket_sort/day'), id('hbticket_sort/extras')] },
      content('hb_note/lounge', all('<!-- wp:hb/picked {"columns":3,"tickets":[', id('hbticket/single'), ',', id('hbticket/bike'), ']} /--><a href="{home}/?add-to-basket=', id('hbticket/pass'), '">Buy</a> [hb_tickets ids="', list('hbticket/single', 'hbticket/bike'), '" columns="60"] [hb_category id="', id('hbticket_sort/day'), '"] [add_to_basket id="', id('hbticket/pass'), '" quantity="60"]')),
    ],
  }),
  'classes, as maps in maps by id, with questions in tables': extension({
    types: ['hb-class', 'hb-lesson', 'hb-topic', 'hb-test', 'hb-question'],
    tables: { hb_test_master: `id ${KEY}, name varchar(200) not null, intro text, minutes int not null default 0`, hb_test_question: `id ${KEY}, test_id int not null default 0, sort int not null default 0, title varchar(200) not null, answers longtext` },
    things: [entry('hb-class', 'knots', true), entry('hb-class', 'tides'), entry('hb-lesson', 'bowline', true), entry('hb-lesson', 'hitch'), entry('hb-topic', 'rope'), entry('hb-test', 'final'), entry('hb-question', 'which'), entry('hb-question', 'when')],
    filled: [
      table('hb_test_master', ['id', 'name'], { Final: { intro: all('<p>See <a href="', page('page/haven'), '">here</a></p>'), minutes: '60' } }),
      table('hb_test_question', ['id', 'title'], { 'Which knot': { test_id: text('hb_test_master/Final'), sort: '1', answers: php([{ says: all('<img src="', picture('picture/quay'), '">'), points: 60, right: true }]) }, When: { test_id: text('hb_test_master/Final'), sort: '2', answers: php([]) } }),
    ],
    places: [
      field('hb-class/tides', '_hb_plan', { steps: { tree: { 'hb-lesson': by(['hb-lesson/bowline', { 'hb-topic': by(['hb-topic/rope', { 'hb-test': [] }]) }], ['hb-lesson/hitch', { 'hb-test': by(['hb-test/final', []]) }]) }, flat: [all('hb-lesson:', id('hb-lesson/bowline')), all('hb-topic:', id('hb-topic/rope')), all('hb-test:', id('hb-test/final'))] }, class_id: id('hb-class/tides'), version: '4.60', count: 4 }),
      field('hb-class/tides', '_hb_class', { 'hb-class_requires': [id('hb-class/knots')], 'hb-class_price': '60', 'hb-class_certificate': id('page/parking') }), field('hb-lesson/hitch', all('hb_class_', id('hb-class/tides')), text('hb-class/tides')), field('hb-lesson/hitch', 'class_id', text('hb-class/tides')),
      field('hb-test/final', 'test_master_id', text('hb_test_master/Final')), field('hb-test/final', 'hb_test_questions', by(['hb-question/which', id('hb_test_question/Which knot')], ['hb-question/when', id('hb_test_question/When')])), field('hb-question/which', 'test_id', text('hb-test/final')), field('hb-question/which', 'points', '60'),
      content('hb_note/lounge', all('[hb_classes include="', list('hb-class/knots', 'hb-class/tides'), '"] [hb_test test_id="', id('hb-test/final'), '"] [class_content class_id="', id('hb-class/tides'), '" num="60"]')),
    ],
  }),
  'parts of pages, as JSON in JSON, in addresses and in base64': extension({
    types: ['hb_part'], things: [entry('hb_part', 'kit', true), entry('hb_part', 'single'), entry('hb_part', 'card')],
    places: [
      option('hb_active_kit', text('hb_part/kit')), option('hb_conditions', { header: by(['hb_part/kit', ['all']]), single: by(['hb_part/single', [all('only/single/page/', id('page/lounge')), all('not/single/in_category/', id('category/crew'))]]) }), field('hb_part/single', '_hb_conditions', [all('only/single/page/', id('page/lounge'))]),
      field('hb_part/kit', '_hb_page', { colours: [{ _id: 'main', colour: '#606061' }], site_logo: { url: picture('picture/mast'), id: id('picture/mast') }, width: { unit: 'px', size: 60 }, css: all('a{background:url(', picture('picture/bow'), ')}') }),
      field('hb_note/lounge', '_hb_parts', json([{ id: '6061a6b', kind: 'section', settings: { image: { url: picture('picture/bow'), id: id('picture/bow'), alt: '' }, slides: [{ id: id('picture/quay'), url: picture('picture/quay') }], padding: { top: '60', right: '61', bottom: '62', left: '63' } }, elements: [
        { id: '60', kind: 'section', widget: 'image', settings: { link: { url: '{home}/haven/' }, width: { size: 60 } }, elements: [] },
        { id: 'b2', kind: 'template', settings: { template_id: text('hb_part/card'), made: { link: all('[hb-tag id="a1b2c3d" name="to" settings="', { $encoded: json({ post_id: text('page/parking') }) }, '"]') } } },
        { id: 'b3', kind: 'posts', settings: { include_term_ids: [text('category/crew')], exclude_ids: [text('page/freight')], posts_per_page: 60, gap: { size: 61 } } }, { id: 'b4', kind: 'code', settings: { code: all('[hb-template id="', id('hb_part/card'), '"]') } },
        { id: 'b5', kind: 'link', settings: { href: all('#do%3Ddialog%26settings%3D', { $encoded: { $base64: json({ id: text('hb_part/single'), toggle: false }) } }) } }, { id: 'b6', kind: 'menu', settings: { menu: 'topbar', menu_id: text('menu/foot'), toggle: 60 } },
      ] }])),
    ],
  }),
  'languages': LANGUAGES,
  'detours and what machines are told of pages': extension({
    tables: { hb_detours: `id ${KEY}, url text not null, place int not null default 0, group_id int not null default 0, kind enum('url', 'guess', 'error') not null default 'url', leads_to text, label varchar(50)`, hb_groups: `id ${KEY}, name varchar(50) not null, place int not null default 0` },
    filled: [table('hb_groups', ['id', 'name'], { Moved: { place: '2' } }), table('hb_detours', ['id', 'label'], { one: { url: '/old-quay/', place: '60', group_id: text('hb_groups/Moved'), leads_to: all('/?page_id=', id('page/haven')) }, two: { url: '^/p/(\\d+)$', group_id: text('hb_groups/Moved'), kind: 'guess', leads_to: php({ known: '{home}/lounge/', unknown: page('page/parking') }) } })],
    places: [
      option('hb_titles', { 'title-page': '%title% - %site%', company_logo: picture('picture/mast'), company_logo_id: id('picture/mast'), 'social-image-id-post': id('picture/bow') }), option('hb_term_titles', { category: by(['category/boats', { title: 'Boats', 'picture-id': id('picture/quay') }], ['category/crew', { hidden: 'yes' }]) }),
      option('hb_map_of_site', { excluded_posts: list('page/parking', 'page/lounge'), exclude_terms: [id('category/crew')], max_entries: 60, exclude: { page: [id('page/parking')] }, limit: { page: 60, category: 61 }, frequency: { page: 60 } }), field('hb_note/lounge', '_hb_primary_category', text('category/crew')), field('hb_note/lounge', '_hb_score', '60'),
    ],
  }),
  'levels of members, with small ids, and rows that go with them': extension({
    types: ['hb_plan'], things: [entry('hb_plan', 'gold'), entry('hb_plan', 'silver', true)],
    tables: { hb_levels: `id ${KEY}, name varchar(255) not null, says longtext, first_payment decimal(18,8) not null default 0, period enum('Day', 'Week', 'Year') default 'Week'`, hb_levels_pages: 'level_id int unsigned not null, page_id bigint unsigned not null, changed timestamp not null default current_timestamp, unique key both_of_them (level_id, page_id)', hb_level_meta: `meta_id ${KEY}, level_id bigint unsigned not null default 0, meta_key varchar(255), meta_value longtext` },
    filled: [table('hb_levels', ['id', 'name'], { Crew: { says: all('<img src="', picture('picture/bow'), '">'), first_payment: '60.00000000', period: 'Year' }, Guest: { live: true } })],
    places: [
      rows('hb_levels/Crew', 'hb_levels_pages', 'level_id', 'page_id', [{ page_id: text('page/parking') }]), rows('hb_levels/Crew', 'hb_level_meta', 'level_id', 'meta_key', [{ meta_key: 'badge', meta_value: php({ image_id: id('picture/quay') }) }, { meta_key: 'colour', meta_value: '60' }, { meta_key: 'confirmation_page_id', meta_value: text('page/lounge') }]),
      option('hb_page_ids', { login: id('page/lounge'), account: text('page/haven'), none: '' }), option('hb_rules', [{ id: 'rule_60', what: 'post_type', name: 'page', object_ids: [id('page/parking')], plan_id: id('hb_plan/gold') }]), option('hb_levels_order', list('hb_levels/Crew', 'hb_levels/Guest')), field('hb_plan/gold', '_hb_levels', [text('hb_levels/Crew')]),
      content('hb_note/lounge', all('[hb_members level="', list('hb_levels/Crew', 'hb_levels/Guest'), '"]Hello[/hb_members][hb_join level_id="', id('hb_levels/Crew'), '"][hb_gate plans="', id('hb_plan/gold'), '" seats="60"]x[/hb_gate]')),
    ],
  }),
  'galleries and slides, which mean one another': extension({
    tables: { hb_sliders: `id ${KEY}, title tinytext not null, alias tinytext, params longtext`, hb_slides: `id ${KEY}, slider_id int not null default 0, slide_order int not null default 0, params longtext, label varchar(20)`, hb_galleries: `gid ${KEY}, name varchar(255) not null, path text, pageid bigint not null default 0, cover bigint not null default 0`, hb_pictures: `pid ${KEY}, galleryid bigint not null default 0, filename varchar(255) not null, sortorder bigint not null default 0` },
    filled: [
      table('hb_sliders', ['id', 'title'], { Front: { live: true }, 'Crew faces': { alias: 'crew-faces', params: json({ layout: { width: 1160, height: 60 }, shown: { post: { category: list('category/crew'), list: list('page/lounge', 'page/haven') } }, other: { url: picture('picture/bow'), imageId: id('picture/bow') } }) } }),
      table('hb_slides', ['id', 'label'], { s1: { slider_id: text('hb_sliders/Crew faces'), slide_order: '1', params: json({ 0: { text: all('<a href="', page('page/lounge'), '">Go</a>'), uid: 60 }, 1: { media: { imageUrl: picture('picture/quay'), imageId: id('picture/quay') } } }) } }),
      table('hb_galleries', ['gid', 'name'], { Storms: { path: 'wp-content/storms/', pageid: text('page/lounge'), cover: text('hb_pictures/storm2.png') } }), table('hb_pictures', ['pid', 'filename'], { 'storm1.png': { galleryid: text('hb_galleries/Storms'), sortorder: '1' }, 'storm2.png': { galleryid: text('hb_galleries/Storms'), sortorder: '2' } }),
    ],
    places: [content('hb_note/lounge', all('[hbslider alias="crew-faces"] [hbslider id="', id('hb_sliders/Crew faces'), '"] [hb_gallery id=', id('hb_galleries/Storms'), ' images=60]')), option('hb_gallery_settings', { path: 'wp-content/galleries/', thumbwidth: 61, default_slider: id('hb_sliders/Crew faces') })],
  }),
  'sets of fields, and values that they describe': extension({
    types: ['hb_set', 'hb_field', 'vessel'], taxonomies: ['hullclass'], things: [entry('hb_set', 'set-6061a'), entry('hb_field', 'field-6062b'), entry('vessel', 'heron'), entry('vessel', 'tern', true), term('hullclass', 'steel')],
    places: [
      content('hb_set/set-6061a', php({ location: [[{ param: 'page', operator: '==', value: text('page/lounge') }], [{ param: 'post_category', operator: '==', value: 'category:crew' }, { param: 'nav_menu', operator: '==', value: id('menu/foot') }]], menu_order: 60 })),
      content('hb_field/field-6062b', php({ type: 'post_object', default_value: text('page/parking'), parent: id('hb_set/set-6061a'), conditions: [[{ field: 'field-6063c', operator: '==', value: '60' }]], wrapper: { width: '60', class: '', id: '60' } })),
      field('vessel/heron', 'rows', '2'), field('vessel/heron', 'rows_0_image', text('picture/mast')), field('vessel/heron', 'rows_1_link', { title: 'x', url: page('page/parking') }), field('vessel/heron', 'rows_0_speed', '60'), field('vessel/heron', 'related_vessels', [text('vessel/tern')]), field('vessel/heron', 'hullclass', text('hullclass/steel')), field('vessel/heron', 'length_m', '60'), ...Object.entries({ ping_status: 'open', comment_status: 'open', post_status: 'pending', menu_order: 7 }).map(([name, value]): Place => ({ in: 'record', of: 'vessel/heron', name, value })),
      { in: 'terms', of: 'vessel/heron', name: 'hullclass', value: [id('hullclass/steel')] }, { in: 'term', of: 'hullclass/steel', name: 'featured_vessel', value: text('vessel/heron') },
    ],
  }),
  'cabins, with capitals in all names': extension({
    tables: { hbSorts: `id ${KEY}, name varchar(255) not null, position int not null default 0`, hbCabins: `id ${KEY}, name varchar(255) not null, price double not null default 0, sortId int, picturePath varchar(700), settings text, pageId int`, hbStaff: `id ${KEY}, email varchar(255), firstName varchar(255)`, hbStaffToCabins: `id ${KEY}, userId int, staffId int not null, cabinId int not null, price double not null default 0`, hbAsks: `id ${KEY}, title varchar(255), content json, createdAt datetime default current_timestamp` },
    filled: [
      table('hbSorts', ['id', 'name'], { Berths: { position: '60' } }), table('hbCabins', ['id', 'name'], { 'Night cabin': { price: '60.5', sortId: text('hbSorts/Berths'), picturePath: picture('picture/mast'), settings: json({ general: { redirectUrl: page('page/lounge'), pageId: id('page/haven'), minimumTime: 60 } }), pageId: text('page/lounge') }, 'Day cabin': { sortId: text('hbSorts/Berths') } }),
      table('hbStaff', ['id', 'email'], { 'crew@skerrin.example': { firstName: 'Crew' } }), table('hbAsks', ['id', 'title'], { Ask: { content: json({ fields: [{ id: 60, type: 'select', label: 'x', pageId: id('page/haven') }], redirect_page_id: id('page/lounge') }) } }),
    ],
    places: [rows('hbStaff/crew@skerrin.example', 'hbStaffToCabins', 'staffId', 'id', [{ cabinId: text('hbCabins/Night cabin'), price: '60' }, { cabinId: text('hbCabins/Day cabin'), price: '61' }]), option('hb_cabin_settings', json({ general: { defaultCabinId: id('hbCabins/Night cabin'), slotLength: 60 } })), content('hb_note/lounge', all('[hb-booking cabin=', id('hbCabins/Night cabin'), ' sort=', id('hbSorts/Berths'), ']'))],
  }),
  'letters to readers, with groups of these': extension({
    tables: {
      hb_letters: `id ${KEY}, hash varchar(150), subject varchar(250) not null, type varchar(20) not null default 'plain', status varchar(20) not null default 'draft', body longtext, created_at timestamp null, deleted_at timestamp null`, hb_readers: `id ${KEY}, name varchar(90) not null, type varchar(90) not null default 'plain'`, hb_reader_filters: `id ${KEY}, readers_id int unsigned not null, filter longblob, action varchar(200)`,
      hb_letter_reader: `id ${KEY}, letter_id int unsigned not null, readers_id int unsigned not null, updated_at timestamp not null default current_timestamp, unique key both_of_them (letter_id, readers_id)`, hb_knobs: `id ${KEY}, name varchar(90) not null`, hb_letter_knob: `id ${KEY}, letter_id int unsigned not null, knob_id int unsigned not null, value longtext, unique key both_of_them (letter_id, knob_id)`,
    },
    filled: [
      table('hb_letters', ['id', 'subject'], { 'Welcome aboard': { type: 'welcome', status: 'active', hash: '60616a', body: json({ blocks: [{ type: 'image', link: page('page/lounge'), src: picture('picture/mast'), width: '60px' }, { type: 'posts', posts: [{ id: id('page/freight') }], amount: '60' }] }) }, Monthly: { live: true, type: 'plain' } }),
      table('hb_readers', ['id', 'name'], { Islanders: { type: 'filtered' } }), table('hb_knobs', ['id', 'name'], { after: { live: true }, readers: {} }),
    ],
    places: [
      rows('hb_letters/Welcome aboard', 'hb_letter_reader', 'letter_id', 'id', [{ readers_id: text('hb_readers/Islanders') }]), rows('hb_letters/Welcome aboard', 'hb_letter_knob', 'letter_id', 'id', [{ knob_id: text('hb_knobs/after'), value: '60' }]), rows('hb_readers/Islanders', 'hb_reader_filters', 'readers_id', 'id', [{ filter: php({ letter_id: text('hb_letters/Monthly'), days: 60, page_ids: [id('page/parking')] }), action: 'opened' }]),
      option('hb_letter_settings', { pages: { leave: id('page/parking'), manage: text('page/lounge') }, readers: [text('hb_readers/Islanders')], popup: { delay: 60, posts: { all: '', selected: [text('page/parking')] } } }),
    ],
  }),
  'forms whose fields have numbers of their own': extension({
    tables: { hb_form: `id ${KEY}, title varchar(150) not null, active tinyint not null default 1`, hb_form_meta: 'form_id int unsigned not null primary key, fields longtext, answers longtext', hb_form_feed: `id ${KEY}, form_id int unsigned not null default 0, feed_order int not null default 0, meta longtext, slug varchar(50) not null` },
    filled: [table('hb_form', ['id', 'title'], { 'Ask the crew': { active: '1' }, Lost: { live: true } }), table('hb_form_feed', ['id', 'slug'], { mailer: { form_id: text('hb_form/Ask the crew'), feed_order: '1', meta: json({ list_id: 'a60', mapped_email: '61', landingPage: text('page/lounge'), delay: 60 }) } })],
    places: [
      rows('hb_form/Ask the crew', 'hb_form_meta', 'form_id', 'form_id', [{ fields: json({ id: id('hb_form/Ask the crew'), nextFieldId: 63, fields: [{ id: 60, type: 'text', label: 'Name', formId: id('hb_form/Ask the crew'), rules: [{ fieldId: '61', operator: 'is', value: '60' }] }, { id: 61, type: 'select', label: 'Page', choices: [{ text: 'One', value: '60' }], inputs: [{ id: '61.1', label: 'a' }] }] }), answers: json({ '5f60616263': { id: '5f60616263', type: 'page', pageId: id('page/lounge') } }) }]),
      option('hb_form_settings', { default_form: id('hb_form/Ask the crew') }), content('hb_note/lounge', all('[hb_form id="', id('hb_form/Ask the crew'), '" field_values="x=60"]<!-- wp:hb/form {"formId":"', id('hb_form/Ask the crew'), '","fieldId":60} /-->')),
    ],
  }),
  'notices with conditions, and steps that lead to one another': extension({
    types: ['hb_notice', 'hb_look'], things: [entry('hb_notice', 'sale'), entry('hb_notice', 'news', true), entry('hb_look', 'dark')],
    places: [
      field('hb_notice/sale', 'hb_settings', { conditions: [[{ target: 'page_selected', selected: [text('page/parking'), text('page/haven')] }], [{ target: 'tax_category_selected', selected: list('category/crew', 'category/boats') }]], triggers: [{ type: 'auto', settings: { delay: 60, cookie_name: [all('hb-', id('hb_notice/sale'))] } }, { type: 'click', settings: { selectors: all('.hb-notice-', id('hb_notice/news'), ', #x60') } }], look_id: id('hb_look/dark'), height: 60 }),
      option('hb_notice_options', { default_look_id: id('hb_look/dark'), limits: { page: 60, post: 61 } }), option('hb_flow', json({ nodes: [{ id: 60, type: 'start', position: { x: 60, y: 61 }, data: { pageId: id('page/lounge') } }, { id: 61, type: 'notice', data: { notice_id: id('hb_notice/sale'), delay: 60 } }], edges: [{ id: 'e60-61', source: 60, target: 61 }], last_id: 61 })),
      content('hb_note/lounge', all('<a class="hb-notice-', id('hb_notice/sale'), '" href="#hb-notice-', id('hb_notice/sale'), '">x</a> [notice_opener id="', id('hb_notice/sale'), '" tag="span"]')),
    ],
  }),
  'a tree of places in which names come again, and what else there is to say of entries': extension({
    types: ['hb_boat'], things: [entry('hb_boat', 'skua', true), entry('hb_boat', 'gannet')],
    tables: {
      hb_places: `id ${KEY}, parent_id int unsigned not null default 0, slug varchar(60) not null default '', title varchar(90) not null, \`order\` int not null default 0, \`group\` varchar(20) not null default 'x', page_id bigint unsigned`, hb_prices: 'sku varchar(30) not null primary key, amount decimal(12,4) not null default 0, boat_id bigint unsigned not null default 0',
      hb_boat_more: 'post_id bigint unsigned not null primary key, sku varchar(60), price decimal(19,4), twice decimal(20,4) generated always as (price * 2) stored',
    },
    filled: [
      table('hb_places', ['id', 'title'], { Root: { slug: 'root', order: '1', group: 'a', page_id: text('page/haven') }, Leaf: { parent_id: text('hb_places/Root'), slug: 'leaf', order: '1', group: 'b' }, Twig: { parent_id: text('hb_places/Root'), slug: 'twig', order: '2', group: 'b' }, 'Leaf of leaf': { parent_id: text('hb_places/Leaf'), slug: 'leaf', order: '60', page_id: text('page/lounge') } }),
    ],
    places: [
      rows('hb_boat/gannet', 'hb_boat_more', 'post_id', 'post_id', [{ sku: 'GA-2', price: '60.5000' }]), rows('hb_boat/skua', 'hb_boat_more', 'post_id', 'post_id', [{ sku: 'SK-1', price: '61.0000' }]), rows('hb_boat/gannet', 'hb_prices', 'boat_id', 'sku', [{ sku: 'GA-2', amount: '60.1234' }]), rows('hb_boat/skua', 'hb_prices', 'boat_id', 'sku', [{ sku: 'SK-1', amount: '60.0000' }]),
      option('hb_place_settings', { default_place: id('hb_places/Leaf of leaf'), hb_place_id: id('hb_places/Twig') }),
    ],
  }),
  'sections of a course, in tables of which rows belong to entries': extension({
    types: ['hb_course', 'hb_test', 'hb_quest'], things: [entry('hb_course', 'rigging'), entry('hb_test', 'first'), entry('hb_quest', 'q1'), entry('hb_quest', 'q2')],
    tables: { hb_sections: `section_id ${KEY}, section_name varchar(255) not null default '', section_course_id bigint unsigned not null default 0, section_order int not null default 1, says longtext`, hb_test_quests: `test_quest_id ${KEY}, test_id bigint unsigned not null default 0, quest_id bigint unsigned not null default 0, quest_order int not null default 1`, hb_quest_answers: `answer_id ${KEY}, quest_id bigint unsigned not null default 0, title text, value varchar(32) not null default '', \`order\` int not null default 1` },
    places: [
      rows('hb_course/rigging', 'hb_sections', 'section_course_id', 'section_id', [{ section_name: 'One', section_order: '1', says: all('<a href="', page('page/lounge'), '">x</a>') }, { section_name: 'Two', section_order: '2', says: '60' }]), rows('hb_test/first', 'hb_test_quests', 'test_id', 'test_quest_id', [{ quest_id: text('hb_quest/q1'), quest_order: '1' }, { quest_id: text('hb_quest/q2'), quest_order: '2' }]),
      rows('hb_quest/q1', 'hb_quest_answers', 'quest_id', 'answer_id', [{ title: 'Yes', value: 'a6061', order: '1' }, { title: all('<img src="', picture('picture/bow'), '">'), value: 'b60', order: '2' }]), field('hb_course/rigging', '_hb_final_test', text('hb_test/first')), field('hb_test/first', '_hb_passing_grade', '60'),
    ],
  }),
  'runs of letters, with steps in an order that is called a sequence, and lists that are meant as such': extension({
    tables: {
      hb_lists: `id ${KEY}, title varchar(190) not null, slug varchar(190) not null unique, created_at timestamp null`, hb_letters: `id ${KEY}, title varchar(190) not null, slug varchar(190) not null unique, frame_letter_id bigint unsigned null, says longtext, setup longtext`,
      hb_runs: `id ${KEY}, title varchar(190) not null, trigger_name varchar(150), state varchar(50) not null default 'draft', setup text`, hb_run_steps: `id ${KEY}, run_id bigint unsigned not null, parent_id bigint unsigned not null default 0, action_name varchar(150), title varchar(190), setup text, delay int, sequence int`,
    },
    filled: [
      table('hb_lists', ['id', 'slug'], { crew: { title: 'Crew' }, guests: { live: true, title: 'Guests' } }),
      table('hb_letters', ['id', 'slug'], { frame: { title: 'Frame', says: '<html>60</html>' }, welcome: { title: 'Welcome', frame_letter_id: text('hb_letters/frame'), says: all('<a href="', page('page/lounge'), '">x</a>'), setup: php({ to: [{ list: text('hb_lists/crew'), tag: 'all' }, { list: text('hb_lists/guests'), tag: '60' }], width: 60 }) } }),
      table('hb_runs', ['id', 'title'], { Greet: { trigger_name: 'list_joined', state: 'published', setup: php({ lists: [id('hb_lists/crew')], page_ids: [id('page/haven')] }) }, Chase: { live: true, trigger_name: 'page_seen', state: 'draft', setup: php({ lists: [] }) } }),
    ],
    places: [
      option('hb_mailing', { footer: all('<a href="', page('page/freight'), '">x</a>'), rows: '60', confirm: { after_page: id('page/lounge') }, choose: { list_ids: [text('hb_lists/crew'), text('hb_lists/guests')] } }),
      rows('hb_runs/Greet', 'hb_run_steps', 'run_id', 'sequence', [{ sequence: '1', action_name: 'send', title: 'Send', setup: php({ letter_id: text('hb_letters/welcome') }), delay: '0' }, { sequence: '2', action_name: 'wait', title: 'Wait', setup: php({ time: 60 }), delay: '60' }, { sequence: '3', action_name: 'join', title: 'Join', setup: php({ lists: [text('hb_lists/guests')] }), delay: '0' }]),
    ],
  }),
  'bays, shown by a short code and a block that are called after the extension and them': extension({
    tables: { hb_bays: `id ${KEY}, bay_title varchar(190) not null, width varchar(6) not null default '100', zoom int not null default 0, more longtext` },
    filled: [table('hb_bays', ['id', 'bay_title'], { Isles: { width: '600', zoom: '60', more: php({ zoom: '61', arrow: picture('picture/bow') }) }, Town: { live: true, width: '100', zoom: '1', more: php({ zoom: '1' }) } })],
    places: [option('hb_bay_settings', { default_bay: id('hb_bays/Isles'), wrapper_id: '60' }), content('hb_note/lounge', all('[hbbay id="', id('hb_bays/Isles'), '" zoom="60"] <!-- wp:hb/bay {"id":', id('hb_bays/Town'), ',"zoom":60} /-->'))],
  }),
  'plans that say how many images, settings by terms, accounts of a service': extension({
    types: ['hb_offer'], taxonomies: ['hb_group'], things: [entry('hb_offer', 'pass'), term('hb_group', 'top'), term('hb_group', 'side', true)],
    tables: { hb_plans: `id ${KEY}, label varchar(190) not null, amount decimal(10,2) not null default 0, images int not null default 0`, hb_sources: `id ${KEY}, account_id varchar(190) not null, sort varchar(50) not null default '', screen varchar(90) not null default ''`, hb_streams: `id ${KEY}, stream_name varchar(190) not null, setup longtext` },
    filled: [
      table('hb_plans', ['id', 'label'], { Basic: { live: true, amount: '0.00', images: '6' }, Plus: { amount: '60.50', images: '60' } }), table('hb_sources', ['id', 'account_id'], { 178414060: { sort: 'business', screen: 'skerrin' } }),
      table('hb_streams', ['id', 'stream_name'], { Quay: { setup: json({ sources: [text('hb_sources/178414060')], num: '60', head: picture('picture/mast') }) } }),
    ],
    places: [
      option('hb-groups', by(['hb_group/top', { sort: 'slider', share: 60 }], ['hb_group/side', { sort: 'plain', share: 'all' }])), option('hb_archive_perpage', '60'), option('hb_places', { foot: { item: all('group_', id('hb_group/top')), box: { 'wrapper-id': '60' } } }),
      field('hb_offer/pass', '_hb[plan_id]', text('hb_plans/Plus')), field('hb_offer/pass', '_hb[images]', text('picture/quay')),
    ],
  }),
  'what entries say of themselves, lists between bars, names of what is chosen': extension({
    types: ['hb_sheet', 'hb_part'], taxonomies: ['hb_shelf'], things: [entry('hb_sheet', 'enquiry'), entry('hb_sheet', 'callback', true), entry('hb_part', 'bar'), term('hb_shelf', 'new'), term('hb_shelf', 'old', true)],
    places: [
      content('hb_sheet/enquiry', json({ id: id('hb_sheet/enquiry'), field_id: 60, fields: [{ id: '60', type: 'select', choices: [{ label: 'A', value: '60', image: picture('picture/deck') }] }], after: { 1: { type: 'page', page: text('page/lounge') } } })),
      field('hb_sheet/callback', 'hb_setup', json({ id: text('hb_sheet/callback'), parts: [{ key: 60, src: id('picture/bow') }], edges: [{ src: 60, dst: 61 }], groups: [{ taxonomy: 'hb_shelf', default: id('hb_shelf/new') }] })),
      field('hb_part/bar', '_related_posts', all('|', id('page/haven'), '|', id('page/freight'), '|')), field('hb_part/bar', '_also_pages', all(',', id('page/haven'), ',')), option('hb_featured', list('page/haven', 'page/lounge')), option('hb_excluded_posts', all(id('page/parking'), ';', id('page/haven'))),
      option('hb_page_css', by(['page/freight', '.x{width:60px}'])), option('hb_resource_sizes', { 60: 'x' }),
    ],
  }),
  'tours with days, prices by season and extras, of which other tables have words': extension({
    types: ['hb_tour'], taxonomies: ['hb_place'], things: [entry('hb_tour', 'fjords'), entry('hb_tour', 'caves', true), term('hb_place', 'north'), term('hb_place', 'south', true)],
    tables: {
      hb_days: `id ${KEY}, tour_post_id bigint unsigned not null, day_no int not null, heading varchar(190), body longtext, place_term_id bigint unsigned, photo_ids text`, hb_seasons: `id ${KEY}, code varchar(30) not null unique, label varchar(90)`,
      hb_prices: 'tour_id bigint unsigned not null, season_id int not null, adults decimal(8,2) not null default 0, primary key (tour_id, season_id)', hb_extras: `id ${KEY}, name varchar(90) not null, price decimal(8,2), icon_id bigint unsigned`,
      hb_tour_extras: `id ${KEY}, tour_id bigint unsigned not null, extra_id int not null, included tinyint not null default 0, sort_order int not null default 0`,
    },
    filled: [table('hb_seasons', ['id', 'code'], { low: { live: true, label: 'Low' }, high: { label: 'High' } }), table('hb_extras', ['id', 'name'], { Lunch: { price: '60.00', icon_id: text('picture/deck') }, Boat: { live: true, price: '61.50' } })],
    places: [
      rows('hb_tour/fjords', 'hb_days', 'tour_post_id', 'day_no', [{ day_no: '1', heading: 'Out', body: all('<img src="', picture('picture/bow'), '" class="wp-image-', id('picture/bow'), '">'), place_term_id: text('hb_place/north'), photo_ids: list('picture/bow', 'picture/mast') }, { day_no: '2', heading: 'Back', body: '60', place_term_id: text('hb_place/south'), photo_ids: '' }]),
      rows('hb_tour/fjords', 'hb_prices', 'tour_id', 'adults', [{ season_id: text('hb_seasons/low'), adults: '60.00' }, { season_id: text('hb_seasons/high'), adults: '80.00' }]), rows('hb_tour/fjords', 'hb_tour_extras', 'tour_id', 'sort_order', [{ extra_id: text('hb_extras/Boat'), included: '1', sort_order: '1' }, { extra_id: text('hb_extras/Lunch'), included: '0', sort_order: '2' }]),
      field('hb_tour/fjords', 'hb_similar', [id('hb_tour/caves')]), field('hb_tour/fjords', 'hb_map', { kml: text('picture/mast'), zoom: 60 }), option('hb_tour_settings', { default_season: id('hb_seasons/low'), hide_extras: [id('hb_extras/Lunch')], max_adults: 60 }), content('hb_note/lounge', all('[hb_tour id="', id('hb_tour/fjords'), '" season="', id('hb_seasons/high'), '"] [hb_extras ids="', list('hb_extras/Lunch', 'hb_extras/Boat'), '"]')),
    ],
  }),
  'quizzes with questions and outcomes, whose plural is a word of its own': extension({
    tables: {
      hb_quizzes: `id ${KEY}, quiz_name varchar(190) not null, quiz_slug varchar(90) not null default '', setup longtext, look_id int not null default 0, result_page bigint not null default 0`, hb_looks: `id ${KEY}, look_name varchar(90) not null, css text`,
      hb_questions: `question_id ${KEY}, quiz_id int not null, question_name text not null, answers text, question_order int not null default 0`, hb_outcomes: `id ${KEY}, quiz_id int not null, score_from int not null, score_to int not null, heading varchar(190), picture_id bigint`,
    },
    filled: [table('hb_looks', ['id', 'look_name'], { Night: { css: '#quiz-60 { width: 60px }' } }), table('hb_quizzes', ['id', 'quiz_slug'], { knots: { quiz_name: 'Knots', look_id: text('hb_looks/Night'), result_page: text('page/haven'), setup: php({ limit: 60, next_quiz: id('hb_quizzes/lights') }) }, lights: { live: true, quiz_name: 'Lights', setup: php({ limit: 0, next_quiz: 0 }) } })],
    places: [
      rows('hb_quizzes/knots', 'hb_questions', 'quiz_id', 'question_order', [{ question_name: 'Which?', question_order: '1', answers: php([['Bowline', 60, 1], ['Hitch', 0, 0]]) }, { question_name: 'When?', question_order: '2', answers: php([['At 60', 1, 1]]) }]),
      rows('hb_quizzes/knots', 'hb_outcomes', 'quiz_id', 'score_from', [{ score_from: '0', score_to: '60', heading: 'Low', picture_id: text('picture/bow') }, { score_from: '61', score_to: '100', heading: 'High', picture_id: text('picture/deck') }]),
      option('hb_quiz_settings', { default_quiz: id('hb_quizzes/knots'), results_amount: '60' }), content('hb_note/lounge', all('[hb_quiz id="', id('hb_quizzes/knots'), '"]')),
    ],
  }),
  'forms whose fields are meant by their ids, alone and in lists, and prices with an icon each': extension({
    tables: {
      hb_forms: `id ${KEY}, form_key varchar(60) not null unique, name varchar(190) not null, setup longtext`, hb_fields: `id ${KEY}, form_id bigint not null, field_key varchar(60) not null, label varchar(190) not null default '', place int not null default 0, setup longtext`,
      hb_tiers: `id ${KEY}, tier varchar(90) not null, icon_id bigint unsigned`,
    },
    filled: [
      table('hb_forms', ['id', 'form_key'], { contact: { name: 'Contact', setup: php({ email_field: text('hb_fields/mail'), title_field: id('hb_fields/reason'), submit: 'Send', max_fields: 2, layout: [[id('hb_fields/mail'), id('hb_fields/reason')], [id('hb_fields/other')]], widths: by(['hb_fields/mail', 60], ['hb_fields/reason', 40], ['hb_fields/other', 100]) }) } }),
      table('hb_fields', ['id', 'field_key'], {
        mail: { form_id: text('hb_forms/contact'), label: 'Mail', place: '1', setup: json({ required: 1, max: 2 }) }, reason: { form_id: text('hb_forms/contact'), label: 'Reason', place: '2', setup: json({ required: 0 }) },
        other: { form_id: text('hb_forms/contact'), label: 'Other', place: '3', setup: json({ show: [{ field: text('hb_fields/reason'), is: 'other' }] }) },
      }),
      table('hb_tiers', ['id', 'tier'], { Bunk: { icon_id: text('picture/deck') }, Deck: { icon_id: text('picture/bow') } }),
    ],
    places: [option('hb_settings', { default_form: id('hb_forms/contact'), reply_field: id('hb_fields/mail'), tiers: { front: id('hb_tiers/Deck'), side: id('hb_tiers/Bunk') }, rows: 60 })],
  }),
  'walks with stops, which nothing but the walk itself means, in a list': extension({
    tables: { hb_walks: `id ${KEY}, walk_key varchar(60) not null unique, name varchar(190) not null, plan longtext`, hb_walk_bits: `id ${KEY}, walk_id bigint unsigned not null, heading varchar(190) not null, said longtext` },
    filled: [
      table('hb_walks', ['id', 'walk_key'], { pier: { name: 'Pier', plan: json({ order: [id('hb_walk_bits/Lamp'), id('hb_walk_bits/Steps'), id('hb_walk_bits/Bell')], minutes: 60 }) } }),
      table('hb_walk_bits', ['id', 'heading'], { Bell: { walk_id: text('hb_walks/pier'), said: 'x' }, Lamp: { walk_id: text('hb_walks/pier'), said: 'y' }, Steps: { walk_id: text('hb_walks/pier'), said: 'z' } }),
    ],
    places: [option('hb_walk_settings', { default_walk: id('hb_walks/pier'), seconds: 60 })],
  }),
  'guides in folders that have the ids of those above them, links between things, and settings in the form of files': extension({
    types: ['hb_guide'], taxonomies: ['hb_topic'],
    tables: {
      hb_folders: `id ${KEY}, name varchar(190) not null, parent int not null default 0, ord int not null default 0, path varchar(190) not null default ''`, hb_folder_files: 'folder_id bigint not null, file_id bigint not null, ord int not null default 0, primary key (folder_id, file_id)',
      hb_ties: `tie_id ${KEY}, type varchar(44) not null, from_id bigint unsigned not null, to_id bigint unsigned not null, position int not null default 0`,
    },
    things: [entry('hb_guide', 'boarding'), entry('hb_guide', 'luggage', true), entry('hb_guide', 'pets'), term('hb_topic', 'before'), term('hb_topic', 'aboard', true)],
    filled: [table('hb_folders', ['id', 'name'], {
      Boats: { live: true, path: all('/', id('hb_folders/Boats'), '/') }, Crew: { parent: text('hb_folders/Boats'), ord: '2', path: all('/', id('hb_folders/Boats'), '/', id('hb_folders/Crew'), '/') },
      Old: { parent: text('hb_folders/Crew'), ord: '1', path: all('/', id('hb_folders/Boats'), '/', id('hb_folders/Crew'), '/', id('hb_folders/Old'), '/') },
    })],
    places: [
      rows('hb_folders/Crew', 'hb_folder_files', 'folder_id', 'ord', [{ file_id: text('picture/bow'), ord: '1' }, { file_id: text('picture/quay'), ord: '2' }]),
      rows('hb_guide/boarding', 'hb_ties', 'from_id', 'position', [{ type: 'near', to_id: text('hb_guide/pets'), position: '1' }, { type: 'near', to_id: text('hb_guide/luggage'), position: '2' }]),
      option('hb_size_guide', { page: text('page/haven'), rows: 60 }), option('hb_start_folder', text('hb_folders/Crew')),
      option('hb_guides', { topics_on_front: [id('hb_topic/before'), id('hb_topic/aboard')], lately: [id('hb_guide/pets')], opened: [text('hb_topic/aboard'), text('hb_topic/before')], query: { cat: all('-', id('category/boats')), per_page: '-60' }, sizes: [60] }),
      option('hb_file', all('; told 60 times\n[pages]\npage_id=', id('page/haven'), '\nlogo_id = ', id('picture/mast'), '\nlimit=60\nhome = {home}/haven/\n')),
      option('hb_outline', all('from:\n  page_id: ', id('page/parking'), '\n  limit: 60\n  categories: [', id('category/crew'), ', ', id('category/ports'), ']\n')),
      option('hb_call', all('hb({ pageId: ', id('page/lounge'), ', limit: 60, images: [', id('picture/bow'), ', ', id('picture/deck'), '] });')),
      field('hb_guide/boarding', 'hb_near', [text('hb_guide/pets')]), content('hb_guide/boarding', all('<p>[hb_go ', id('hb_guide/pets'), '] [hb_columns 3] {hb:link page="', id('page/freight'), '" rows="60"} {% hb guide=', id('hb_guide/luggage'), ' %}</p><style>.a { page = 60 }</style>')),
    ],
  }),
  'surveys with scores from and to, settings by tier and by menu, and one id under a plural': extension({
    types: ['hb_survey', 'hb_tier'],
    things: [entry('hb_survey', 'crossing'), entry('hb_survey', 'staff', true), entry('hb_tier', 'crew'), entry('hb_tier', 'guest', true)],
    places: [
      field('hb_survey/crossing', '_hb_after', { page: id('page/haven'), score_pages: [{ from: 0, to: 60, page: text('page/freight') }, { from: 61, to: 100, page: text('page/parking') }] }), field('hb_survey/crossing', '_hb_see_also', list('hb_survey/staff', 'hb_survey/crossing')),
      field('hb_survey/crossing', '_hb_exclude_on', [text('page/freight')]), content('hb_survey/crossing', all('<a data-hb="', id('hb_survey/staff'), '" data-columns="60">s</a>')),
      option('hb_restrict', { hb_survey: by(['hb_survey/crossing', { tiers: text('hb_tier/crew'), seats: '60' }], ['hb_survey/staff', { tiers: list('hb_tier/crew', 'hb_tier/guest'), seats: '61' }]) }),
      option('hb_login_redirect', { usual: text('page/haven'), editor: text('page/freight'), by_tier: by(['hb_tier/crew', text('page/parking')], ['hb_tier/guest', text('page/lounge')]) }),
      option('hb_category_layout', by(['category/boats', 'grid'], ['category/ports', 'list'])), option(all('hb_menu_', id('menu/topbar')), { sticky: 1, logo: id('picture/bow') }),
    ],
  }),
  'services by calendar, rules that say of which field they speak, and what is chosen said at the end of a name': extension({
    taxonomies: ['hb_zone'], things: [term('hb_zone', 'north'), term('hb_zone', 'south', true)],
    tables: {
      hb_calendars: `id ${KEY}, title varchar(100) not null, page_id bigint unsigned not null default 0, options longtext`,
      hb_services: 'id int unsigned not null auto_increment primary key, title varchar(100) not null, calendar_ids varchar(200), duration int not null default 0, thanks_page bigint unsigned, params text',
      hb_rules: 'id int unsigned not null auto_increment primary key, title varchar(100) not null, service_id int unsigned not null, conditions longtext',
    },
    filled: [
      table('hb_calendars', ['id', 'title'], { 'Small boats': { live: true, page_id: text('page/haven'), options: php({ menu: id('menu/foot'), services: [id('hb_services/Tour'), id('hb_services/Ride')], limit: 60 }) }, 'Large boats': { page_id: text('page/lounge'), options: php({ menu: id('menu/topbar'), services: [], limit: 52 }) } }),
      table('hb_services', ['id', 'title'], { Tour: { calendar_ids: list('hb_calendars/Small boats', 'hb_calendars/Large boats'), duration: '60', thanks_page: text('page/timings'), params: json({ next_service: id('hb_services/Ride'), seats: 60 }) }, Ride: { live: true, calendar_ids: list('hb_calendars/Large boats'), duration: '52', thanks_page: text('page/haven'), params: json({ next_service: id('hb_services/Tour'), seats: 52 }) } }),
      table('hb_rules', ['id', 'title'], { 'No tours': { service_id: text('hb_services/Tour'), conditions: json([{ field: 'calendar', op: 'in', value: [text('hb_calendars/Small boats')] }, { field: 'seats', op: '>', value: 60 }, { field: 'services', op: '>', value: 2 }]) } }),
    ],
    places: [
      option('hb_zone_default', text('hb_zone/north')), option('hb_locations', { primary: id('menu/topbar'), footer: text('menu/foot'), mobile: '', width: 60 }),
      option('hb_snippet', all('<?php if (in_category(array(', id('category/boats'), '))) the_hb(60); if (is_page(array(', id('page/parking'), ', ', id('page/freight'), '))) the_hb([60]);')),
    ],
  }),
  ...TONGUE_SHAPES,
  ...FIELD_SHAPES,
  ...TOLD_SHAPES,
};
