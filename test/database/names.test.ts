import { isDeepStrictEqual } from 'node:util';
import { describe, expect, test } from '@jest/globals';
import { AWAY, carrier, THINGS, type Thing } from '../helpers/twosites.ts';

// What the layout that ships with the program takes for an id, by nothing but what it is called, wherever that stands.
const arrived = carrier('http://dev.example', 'http://live.example');

type Holder = (name: string, ids: readonly number[]) => unknown;
const ONE: Record<string, Holder> = {
  number: (name, [id]) => ({ general: { [name]: id } }), text: (name, [id]) => ({ general: { [name]: String(id) } }), 'of an extension': (name, [id]) => ({ [`_mx_${name}`]: id }), JSON: (name, [id]) => JSON.stringify({ general: { [name]: id } }),
  'data of a comment': (name, [id]) => `<!-- x:box {"${name}":${id}} --><p>7</p><!-- /x:box -->`, 'deeper data': (name, [id]) => `<!-- x:box {"opts":{"${name}":"${id}"}} /-->`, 'short code': (name, [id]) => `Look: [box n="7" ${name}="${id}"]`,
  'attribute for data': (name, [id]) => `<div data-n="7" data-${dashed(name)}="${id}">7</div>`, 'element of its own': (name, [id]) => `<x-box n="7" ${dashed(name)}="${id}"></x-box>`,
};
const SEVERAL: Record<string, Holder> = {
  numbers: (name, ids) => ({ lists: { [name]: ids } }), texts: (name, ids) => ({ lists: { [name]: ids.map(String) } }), 'one text': (name, ids) => ({ lists: { [name]: ids.join(',') } }), JSON: (name, ids) => JSON.stringify({ lists: { [name]: ids } }),
  'data of a comment': (name, ids) => `<!-- x:box {"${name}":[${ids.join()}]} /-->`, 'short code': (name, ids) => `[box n="7" ${name}="${ids.join()}"]`, 'attribute for data': (name, ids) => `<i data-${dashed(name)}="${ids.join()}">7</i>`, 'data in an attribute': (name, ids) => `<i data-setup='{"${name}":[${ids.join()}]}'></i>`,
  objects: (name, ids) => ({ lists: { [name]: ids.map((id) => ({ id, label: 'One', on: 1 })) } }), choices: (name, ids) => ({ lists: { [name]: ids.map((value) => ({ label: 'One', value })) } }), 'names of members': (name, ids) => ({ lists: { [name]: Object.fromEntries(ids.map((id) => [id, { wide: 7 }])) } }),
};
const dashed = (name: string): string => name.replaceAll('_', '-').toLowerCase();
const idsOf = (thing: Thing): number[] => [THINGS[thing][2], THINGS[thing][2] + 1];
/** As the other site has it. */
const there = (value: unknown): unknown => JSON.parse(JSON.stringify(value).replace(/(?<!\d)[24]\d{3}(?!\d)/g, (id) => String(Number(id) + AWAY)));

/** Names that do not come as they would stand on the other site. */
const wrong = (holder: Holder, names: string, thing: Thing, wanted: (value: unknown) => unknown): string[] => names.split(' ').filter((name) => !isDeepStrictEqual(arrived(holder(name, idsOf(thing))), wanted(holder(name, idsOf(thing)))));
const each = (all: Record<string, Holder>, names: Partial<Record<Thing, string>>) => Object.entries(names).flatMap(([thing, some]) => Object.keys(all).map((how) => [thing as Thing, how, some] as const));

describe('one of them', () => {
  test.each(each(ONE, {
    page: 'page page_id pageId pageID selected_page target_page page_1 landing_page_id redirect_page redirect_to thank_you_page terms_page privacy_page_id login_page checkout page_ref linked_page post post_id object_id entry_id link_to goto parent_id cart_page_id notfound_page',
    image: 'image image_id imageId img logo logo_id icon_id background bg_image background_image_id photo picture thumb thumbnail_id avatar banner attachment attachment_id media_id mediaId file cover_image poster hero favicon image_mobile placeholder og_image map_pin marker pdf document_id svg upload watermark pattern_image',
    vessel: 'vessel vessel_id vesselId vesselID mx_vessel default_vessel main_vessel_id vessel_1 vessel_mobile vessel_de related_vessel record item_id target_id linked_vessel vessel_post_id', form: 'form form_id formId mx_form selected_form booking_form form_1 form_post_id', template: 'template template_id templateId email_template card_template_id tpl item_template header footer_id',
    block: 'block block_id ref reusable reusable_block_id pattern notice_block synced_pattern', category: 'category category_id categoryId cat cat_id catId default_category term_id termId category_1 primary_term exclude_category', harbour: 'harbour harbour_id harbourId mx_harbour home_harbour term_id departure_harbour arrival_harbour_id harbour_term tax_id',
    menu: 'menu menu_id menuId nav_menu nav_menu_id navigation footer_menu mobile_menu_id main_menu nav nav_id menu_1',
    person: 'user user_id author author_id owner owner_id created_by assigned_to editor manager_id notify_user default_author reviewer',
  }))('%s: %s', (thing, how, names) => { expect(wrong(ONE[how] as Holder, names, thing, there)).toEqual([]); });
});

describe('several of them', () => {
  test.each(each(SEVERAL, {
    page: 'pages page_ids pageIds exclude_pages hide_on show_on include exclude selected_pages posts post_ids post__in ids related_pages', image: 'images image_ids imageIds gallery gallery_ids photos attachments media_ids media logos pictures thumbnails backgrounds icons',
    vessel: 'vessels vessel_ids vesselIds mx_vessels related_vessels featured_vessels vessel_order', form: 'forms form_ids allowed_forms mx_forms', template: 'templates template_ids active_templates', category: 'categories category_ids cats cat_ids exclude_categories terms term_ids', harbour: 'harbours harbour_ids mx_harbours selected_harbours harbour_order terms term_ids', menu: 'menus menu_ids', person: 'users user_ids authors author_ids editors',
  }))('%s: %s', (thing, how, names) => { expect(wrong(SEVERAL[how] as Holder, names, thing, there)).toEqual([]); });
});

type Saying = (word: string, id: number) => unknown;
/** Where a word that stands by itself says of what sort an id is. */
const BESIDE: readonly Saying[] = [
  (word, id) => ({ type: word, id }), (word, id) => ({ type: word, value: String(id) }), (word, id) => ({ object_type: word, object_id: id }), (word, id) => ({ entity: word, entity_id: id }), (word, id) => ({ link_type: word, link_value: id }), (word, id) => ({ link: { id, type: word } }),
  (word, id) => ({ action: word, to: id }), (word, id) => ({ target_id: id, target_type: word }), (word, id) => ({ operator: '==', param: word, value: String(id) }), (word, id) => ({ field: word, op: 'in', values: [id, id + 1] }), (word, id) => ({ condition: word, values: `${id},${id + 1}` }), (word, id) => ({ ids: [id, id + 1], show_on: word }),
  (word, id) => [[{ is: id, location: word }]], (word, id) => [[word, id]], (word, id) => ({ include: [id], type: word }), (word, id) => ({ name: word, value: id }), (word, id) => ({ key: `${word}_id`, value: id }), (word, id) => ({ [word]: { id } }), (word, id) => ({ rules: { [word]: { in: [id], not_in: [id + 1] } } }), (word, id) => ({ targets: { [word]: { ids: [id] } } }),
];
const IN_TEXTS: readonly Saying[] = [
  ...[':', '/', '-', '_', '|', '=', '#', '::', '@'].map((sign): Saying => (word, id) => word + sign + String(id)),
  ...['!W:N', '-W:N', 'W:in:N,M', 'tax:W:N', 'single-W-N', 'single|W|N', 'W:N,W:M', 'W(N)', 'x {{W:N}} y', 'x {W_N} y', 'x %W_N% y', 'x {W:N:title} y', 'x [W N] y', 'x [W id=N] y', 'x [W_link id="N" k="7"] y', 'x {W.N.url} y', '<x-W id="N"></x-W>', '@W(N)', '{% W N %}', '.W-N{color:red}', '#W-N a{color:red}', '.single-W-N{x:y}', '<div class="a W-N b">', '<a href="#W-N">x</a>', '<a onclick="mx.W(N)">x</a>', 'var W = N;', 'const WId = N;', 'mx({W: N})', "['W_id' => N]"]
    .map((text): Saying => (word, id) => text.replaceAll('W', word).replaceAll('N', String(id)).replaceAll('M', String(id + 1))),
  ...['W-N', 'W_N', 'W:N', 'show_W_N', 'W_N_colour'].map((name): Saying => (word, id) => ({ [name.replace('W', word).replace('N', String(id))]: 'x' })),
];
const WORDS: Partial<Record<Thing, string>> = { page: 'page', image: 'attachment image media', vessel: 'mx_vessel vessel', form: 'mx_form form', template: 'mx_template template', block: 'wp_block block', category: 'category', harbour: 'mx_harbour harbour', menu: 'nav_menu menu' };

describe('a word that stands by itself', () => {
  test.each([['beside', BESIDE], ['in texts', IN_TEXTS]] as const)('%s', (_how, all) => {
    const cases = Object.entries(WORDS).flatMap(([thing, words]) => words.split(' ').flatMap((word) => all.map((saying) => saying(word, idsOf(thing as Thing)[0] ?? 0))));
    expect(cases.filter((one) => !isDeepStrictEqual(arrived(one), there(one)))).toEqual([]);
  });

  test('for people', () => {
    const id = THINGS.person[2];
    const cases = [...BESIDE.slice(0, 13).map((saying) => saying('user', id)), { author: { id } }, { users: { in: [id] } }, `user:${id}`, `author-${id}`, `user|${id}`, `[box user="${id}"]`, `[author id=${id}]`, `.author-${id}{x:y}`];
    expect(cases.filter((one) => !isDeepStrictEqual(arrived(one), there(one)))).toEqual([]);
    expect(arrived('http://dev.example/?author=2700')).toBe('http://live.example/?author=7700');
    // A word alone can be a switch that is on.
    expect(['show_author', 'hide_owner', 'has_editor'].filter((name) => !isDeepStrictEqual(arrived({ [name]: id }), { [name]: id }))).toEqual([]);
  });

  test('of another sort, of a measure or in what people read', () => {
    const cases = [{ type: 'harbour', value: 4300 }, { type: 'vessel', width: 4300 }, { type: 'page', posts_per_page: 4100 }, ['vessel', 'of', 4200], { type: 'A vessel', note: 4300 }, { vessel: { unit: 't', value: 4300 } }, 'Vessel: 4300 t', 'page 4100 of 4200', 'The vessel 4300 sails', 'vessels4300', { vessel4300: 1 }, '<img width="4200" height="4300">', 'var width = 4200;', '{% width 4200 %}'];
    expect(cases.map((one) => arrived(one))).toEqual(cases);
  });
});

describe('one for each', () => {
  test('language, of things of one sort', () => {
    const cases = [{ front: { en: 4100, de: 4101 } }, { front: { en_GB: '4300', nb: '4301' } }, { deck: { vessels: { desktop: 4300, mobile: 4301 }, header_by_day: { mon: 2, tue: 1 } } }];
    expect(cases.map((one) => arrived(one))).toEqual(cases.map(there));
    const none = [{ width: { en: 4100, de: 4101 } }, { front: { en: 4100, de: 4300 } }, { front: { en: 4100, de: 4100 } }, { front: { en: 4100, width: 4101 } }];
    expect(none.map((one) => arrived(one))).toEqual(none);
  });
});

describe('a setting that is called after what it holds', () => {
  const [harbours, assigned] = ['mx_harbours', 'mx_assigned'].map((called) => carrier('http://dev.example', 'http://live.example', called)) as [typeof arrived, typeof arrived];
  test('says it of what only tells which, and of lists and maps for each', () => {
    const cases = [{ order: [2201, 2200], default: 2200, labels: { 2200: 'A', 2201: 'B' }, n: 2200 }, { enabled: ['2200', '2201'] }];
    expect(cases.map((one) => harbours(one))).toEqual([{ order: [7201, 7200], default: 7200, labels: { 7200: 'A', 7201: 'B' }, n: 2200 }, { enabled: ['7200', '7201'] }]);
    expect(harbours({ order: 2200, limits: 2201 })).toEqual({ order: 2200, limits: 2201 });
  });
  test('of its own family, whatever is done with it where, and in maps however they go', () => {
    const rule = { where: 'front', show: 4300 };
    expect(assigned([rule, { where: 'all', show: 1 }])).toEqual(there([rule, { where: 'all', show: 1 }]));
    const map = { page: { 4100: 4300, 4101: 4301 }, role: { editor: 4300 }, user: { 2700: 4301 } };
    expect(assigned(map)).toMatchObject({ role: { editor: 9300 }, user: expect.objectContaining({ 2700: 9301 }) as object });
    const edges = [{ from: 4300, to: 4301 }, { from: 4301, to: 'end' }, { source: 4300, target: '4301' }];
    expect(edges.map((one) => assigned(one))).toEqual(edges.map(there));
    expect([{ from: 0, to: 4300 }, { from: 4300, to: 7 }, { from: 4300 }].map((one) => assigned(one))).toEqual([{ from: 0, to: 4300 }, { from: 4300, to: 7 }, { from: 4300 }]);
    const sizes = [{ wide: { a: 4300, b: 4301, width: 7 } }, { sizes: { a: { w: 4300 }, b: { w: 4301 }, c: { w: 4300 } } }];
    expect(sizes.map((one) => assigned(one))).toEqual(sizes);
  });
});

describe('in what programs read', () => {
  test.each([
    ['choices of a form', (page: number) => `<select class="x" name="page_id"><option value="${page}">A</option><option selected value='${page + 1}'>B</option></select><select name="rows"><option value="4100">4100</option></select>`],
    ['XML', (page: number) => `<?xml version="1.0"?><box page="${page}" width="4100"><image-id>${page + 100}</image-id><page_id>${page + 1}</page_id></box>`],
    ['addresses of an interface', (page: number) => `{{site}}/wp-json/mx/v1/vessels/${page + 200} {{site}}/wp-json/wp/v2/pages?include=${page},${page + 1}&per_page=4100`],
    ['a script', (page: number) => `<script>var box = {page: {id: ${page}}, n: 4100};</script>`],
  ] as const)('%s', (_what, text) => {
    const at = (page: number, site: string): string => text(page).replaceAll('{{site}}', site);
    expect(arrived(at(4100, 'http://dev.example'))).toBe(at(9100, 'http://live.example'));
  });
});

describe('none of them, though there is one with such an id', () => {
  const MEASURES = 'width count max_pages posts_per_page archive_perpage postsperpage columns position page_limit image_size image_width slides_to_show delay quality duration order step tax_rate form_height gallery_columns upload_limit record_count placeholder_height marker_size nav_height menu_width pattern_size cat_count excerpt_length logo_width per_page form_timeout slides_per_view year price template_version layout_width numberposts hero_height avatar_size map_zoom menu_depth background_opacity seats capacity vessel_count vessel_capacity vessels_per_page harbour_depth';
  const FOREIGN = 'website_id domain_id workspace_id company_id team_id license_id device_id webhook_id storeId wrapper_id container_id css_id html_id anchor_id site_id blog_id tracking_id client_id customer_id order_id transaction_id pixel_id measurement_id merchant_id account_id app_id session_id vat_id campaign_id audience_id channel_id zone_id clientId campaignId property_id level_id leadId';
  test.each((['page', 'image', 'vessel', 'harbour', 'menu'] as const).flatMap((thing) => Object.keys(ONE).map((how) => [thing, how] as const)))('%s: %s', (thing, how) => {
    expect(wrong(ONE[how] as Holder, `${MEASURES} ${FOREIGN}`, thing, (value) => value)).toEqual([]);
  });
});

describe('what lets somebody in', () => {
  const SECRETS = 'secret client_secret clientSecret api_token accessToken oauth_token refresh_token bot_token bearer app_password private_key pem salt merchant_salt hmac_key passkey smtp_pass db_pass basic_auth serial serial_number purchase_code activation_key activation_code dsn connection_string database_url webhook_url auth_key merchant_key apiKey x-api-key jwt otp_seed authorization sk stripe_sk live_key test_secret_key security_key app_key signature_key service_account';
  const PLAIN = 'primary_key foreign_key meta_key field_key sort_key cache_key public_key key_color keyboard monkey passenger bypass compass token_label token_limit design_tokens password_reset_page show_password secret_page auth_type author map_pin serial_label cookie_days signature latest_key';
  test('stays where it is, whatever it is called', () => {
    expect(SECRETS.split(' ').filter((name) => !isDeepStrictEqual(arrived({ general: { [name]: 'x1', n: 7 } }), { general: { n: 7 } }))).toEqual([]);
    expect(arrived({ tokens: { access: 'x', refresh: 'y' }, keys: { public: 'x', private: 'y' }, db: { user: 'x', pass: 'y' } })).toEqual({ tokens: {}, keys: { public: 'x' }, db: { user: 'x' } });
  });
  test('is told from what only sounds so', () => {
    expect(PLAIN.split(' ').filter((name) => !isDeepStrictEqual(arrived({ general: { [name]: 'x1' } }), { general: { [name]: 'x1' } }))).toEqual([]);
  });
});
