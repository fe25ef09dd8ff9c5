import { describe, expect, test } from '@jest/globals';
import { asReadThere, Exporter, hostOf, Importer, SiteIndex } from '../../src/core/index.ts';
import { kindOf, portableOf, twoSites } from '../helpers/arbitrary.ts';

// Names begin with a word that says what the item is: 1000000 is a tide, 1000001 a step.
const KIND = kindOf({
  id: 'tholepin/entry',
  codecs: [
    { path: '$.packed', codec: 'php' }, { path: '$.values..*', codec: 'list', named: ['*s'] }, { path: '$.values..*', codec: 'list', separator: ' ', named: ['*s'] },
    ...['$.texts', '$.texts..*', '$.held..*'].map((path) => ({ path, codec: 'html' as const, alike: 'entry', comments: { known: 'entry', none: [], '~0': [], '~flag': 'entry', '~flags': 'entry' }, patterns: { '{word}-{id>9}': 'entry', '{word}_{id>9}': 'entry', '{word}:{id>9}': 'entry', '{word}/{id>9}': 'entry', 'note/{id>9}': 'entry', 'sails({ids>9}': 'entry', 'sails([{ids>9}': 'entry', 'data-{word}={id>9}': 'entry', '[* … {word}={id>9}': 'entry', 'pier {id>1000000}': 'entry', '{word}-{id>9}-*': 'entry', '.{family}-{id>9}': 'entry', '{word}({id>9}': 'entry', '{word}.open({id>9}': 'entry', '[{word} {id>9}': 'entry', "by' => [{ids>9}": 'entry', 'over( $x, [ {ids>9}': 'entry' } })),
  ],
  references: [
    { path: '$.values..*', to: 'entry', loose: true, least: 10, alike: true }, { path: '$.held..*', to: 'entry', loose: true, least: 10, alike: true }, { path: '$.values..*', to: 'entry', in: 'keys', loose: true, least: 10, alike: true },
    { path: '$.*', to: 'entry', loose: true, least: 10, maps: true, named: ['*_tides'] },
    { path: '$..*', to: 'entry', loose: true, least: 10, kin: true }, { path: '$..*', to: 'entry', in: 'keys', loose: true, least: 10, kin: true },
    { path: '$.worded..*', to: [], named: ['no_flag'] }, { path: '$.worded..*', to: 'entry', loose: true, least: 10, named: ['~flag', '~flags', '!~0'] }, { path: '$.chosen', to: 'entry', loose: true, least: 10, kin: 'one', named: ['chosen'] },
    { path: '$.said..value', loose: true, least: 10, kindFrom: { field: ['type', 'source', '^about'], map: { '~width': [], '~picture': 'media', note: [] }, named: ['entry'] } },
    { path: '$.rules[*].value', loose: true, least: 10, kindFrom: { field: 'type', map: { picture: 'media' }, named: ['entry'] } },
  ],
});
const { dev, live, kinds } = twoSites(KIND, ['tide/high', 'flow_step/pay', 'flow_step/thanks', 'my_ferries/selkie', 'tide/low']);
const arrived = (value: object): unknown => new Importer(live, kinds).local(KIND, { value: portableOf(dev, KIND, value).value, covers: 'all' }).value;
const there = (text: string): string => text.replaceAll('100000', '200000');

describe('what a word says of a number beside it', () => {
  test.each([
    ['texts', '"tide-1000000"'], ['texts', '"tide:1000000"'], ['texts', '"at tide_1000000, then"'], ['texts', '"<p class=\\"x tide-1000000\\">"'], ['texts', '".tide-1000000.wide{}"'], ['texts', '"flow_step_1000001"'], ['texts', '"<i data-tide=1000000>"'], ['texts', '"<i data-tide=\\"1000000\\">"'],
    ['texts', '"[any x=1 flow_step=\'1000001\']"'], ['texts', '{"tide-1000000":1,"row":{"tide_1000000":2}}'], ['texts', '"pier 1000001"'], ['texts', '{"_tide_1000000_tone":1,"_tide-1000000-x":2}'], ['texts', '"#step-1000001"'], ['texts', '".flow-step-1000001"'], ['texts', '"<!-- x {\\"a\\":{\\"tide\\":1000000,\\"tides\\":[1000000]},\\"nextTideId\\":\\"1000000\\"} -->"'],
    ['texts', JSON.stringify(`[any settings="${encodeURIComponent('{"é":{"tide":1000000,"known":"1000001"}}')}"]`)], ['texts', '"include/single/tide/1000000"'], ['texts', '["on/note/1000001"]'],
    ['values', '{"tide":1000000}'], ['values', '{"tides":[1000000,"1000000"]}'], ['values', '{"next_tide":"1000000"}'], ['values', '{"nextTideId":1000000}'], ['values', '{"tide_ids":{"3":1000000}}'], ['values', '{"step":1000001}'], ['values', '{"flow_step":1000001}'], ['values', '{"by_tide":{"1000000":1}}'],
    ['values', '{"per_tide":{"1000000":1},"prices_per_tide":{"1000000":2},"tide_settings":{"1000000":{"x":1}},"tideOptions":{"1000000":"x"},"step_for_tide":{"1000000":"x"}}'], ['values', '{"step_by_tide":{"1000000":1000001}}'],
    // Braces that hold attributes, and lines of settings, with notes and headings between them.
    ['texts', '"{any:link tide=\\"1000000\\" x=1} {% any flow_step=1000001 %}"'], ['texts', JSON.stringify('; any\n[any]\ntide=1000000\r\nnext_tide: "1000004"\n\n- tides: [1000000, 1000004]\n')],
    // The sort may be a plural.
    ['texts', '"ferry_1000003"'], ['texts', '"[any ferry=1000003]"'], ['values', '{"ferry":1000003}'], ['values', '{"night_ferry":"1000003"}'], ['values', '{"ferries":[1000003]}'],
    ['rules', '[{"type":"tide","value":1000000},{"type":"flow_step","value":"1000001"}]'],
    // A word anywhere in the name; what stands beside, alone or among other words, in one of several members.
    ['worded', '{"flag_left":1000000,"bigFlags":[1000000],"The flag":"1000000","flag2":1000000}'], ['texts', '"<!-- x {\\"redFlag\\":1000000,\\"flagsLeft\\":[1000001]} -->"'],
    ['said', '[{"type":"tide_selected","value":1000000},{"type":"number","source":"my:tide","value":1000000},{"source":"flow_step_single","value":["1000001"]},{"about":"tide","settings":{"value":1000000}}]'],
    ['texts', '"if (sails(1000000) || sails( 1000001)) x"'], ['texts', '"sails([1000000,1000001])"'],
    // A name goes on behind the id; what names of one extension begin with; code, with more spaces or signs written as entities; data in a script.
    ['texts', '"#tide-1000000-wide, a.tide-1000000-x_2 {}"'], ['texts', '"a.flow-1000001 .x"'], ['texts', '"tide( 1000000 ); highTide.open(1000000)"'], ['texts', '"[tide 1000000] [flow_step  1000001 x=1]"'], ['texts', '"\'by\'=&gt;[ 1000000, 1000001 ] \'by\' => [1000000]"'], ['texts', '"over($x,[1000000])"'],
    ['texts', '"<script>var a = {\\"tide\\":1000000,\\"b\\":{\\"known\\":[1000001]}}; go({\\"tides\\":[1000000]})</script>"'], ['values', '{"tide":{"from":1000000,"to":"1000000"}}'],
    // A map of nothing but the very things, whatever each is called in it.
    ['values', '{"tides":{"full moon":1000000,"new moon":"1000004","none":0}}'], ['values', '{"next_tides":{"full":1000000,"new":1000004}}'],
    // A choice as people saw it; lists as people write them; data with its quotes as entities, or percent-encoded, that is the whole text.
    ['values', '{"tide":{"value":1000000,"label":"High"},"tides":[{"value":"1000000","text":"High"},{"text":"x","value":[1000000]}],"next_tide":{"value":1000000}}'],
    ['values', '{"tides":"1000000, 1000000 ,1000000","high_tides":" 1000000,1000000,","tideIds":"1000000,1000000","no_tides":"-1000000,-1000000","old_tides":"\\"1000000\\",\\"1000000\\"","new_tides":"1000000  1000000"}'],
    ['texts', JSON.stringify('{&quot;tide&quot;:1000000,&quot;more&quot;:[{&#34;known&#34;:1000000}]}')], ['texts', JSON.stringify(encodeURIComponent('{"tide":1000000}'))], ['texts', JSON.stringify('<!-- x {"tides":"1000000, 1000000","tide":{"label":"High","value":1000000}} -->')],
  ])('%s  %s', (field, text) => { expect(arrived({ [field]: JSON.parse(text) as unknown })).toEqual({ [field]: JSON.parse(there(text)) as unknown }); });

  test.each([
    ['texts', '"pay-1000000"'], ['texts', '"tide-1000001"'], ['texts', '"tide-1000000x"'], ['texts', '"/tide-1000000"'], ['texts', '"/tide/1000000"'], ['texts', '"see tide/1000000"'], ['texts', '"https://other.example/tide/1000000"'], ['texts', '"other.example/note/1000000"'], ['texts', '"tide_1000000.png"'], ['texts', '"<i data-tide=1000001>"'], ['texts', '{"tide-1000001":1,"tide_1000000x":2}'], ['texts', '"pier 1000000"'], ['texts', '"tide-9"'], ['texts', '"#step-1000000"'], ['texts', '"<!-- x {\\"tides\\":1000000,\\"step\\":1000000,\\"none\\":1000000,\\"tide\\":9} -->"'], ['texts', JSON.stringify(`[any settings="${encodeURIComponent('{"tides":1000000}')}"]`)],
    ['values', '{"step":1000000}'], ['values', '{"tides":1000000}'], ['values', '{"seats":1000000}'], ['values', '{"tidewater":1000000}'], ['values', '{"by_step":{"1000000":1}}'], ['values', '{"by_tide":{"7":1000000},"tide_seats":{"1000000":1}}'], ['values', '{"tide":9}'], ['values', '{"ferry":1000001}'], ['values', '{"ferr":1000003}'], ['values', '{"tides":1000003}'],
    ['values', '{"tides":{"full":1000000},"night_tides":{"full":1000000,"limit":1000004},"low_tides":{"full":1000000,"more":1000001},"high_tides":{"min":1000000,"max":1000004},"tide_seats":{"full":1000000,"new":1000004},"old_tides":{"full":1000000,"new":7}}'],
    ['worded', '{"no_flag":1000000,"flag_width":1000000,"flags_per_page":1000000,"flagship":1000000,"flag":9}'], ['texts', '"<!-- x {\\"flagWidth\\":1000000,\\"flag\\":9,\\"flagship\\":1000000} -->"'],
    ['said', '[{"type":"tide_width","value":1000000},{"type":"note","source":"tide","value":1000000},{"source":"nothing","value":1000000},{"about":"tide","beside":{"value":1000000}},{"about":"tide","options":{"deeper":{"value":1000000}}}]'], ['texts', '"mainsails(1000000) sails(7)"'], ['texts', '".tide-1000001-x .flow-1000000 flow-1000001 .flow-1000001x"'], ['texts', '"[tide1000000] tide[1000000] b => [1000000] <script>{x:{tides:1000000}}</script>"'], ['values', '{"x":{"from":1000000},"tide":{"hours":1000000}}'],
    ['values', '{"tide":{"value":1000000,"unit":"m"},"tides":"1000000,1000001.5","crossings":"1000000,1000001"}'], ['values', '{"tides":"1000000-1000001","night_tides":"1000000 - 1000000"}'],
    ['rules', '[{"type":"tide","value":1000001},{"type":"number","value":1000000},{"type":"","value":1000000},{"value":1000000}]'],
    // Code has braces too; what is not all lines of settings is none; and it does not take long to see.
    ['texts', '"if (x) { tide = 1000000; }"'], ['texts', JSON.stringify('tide=1000000\nSails at noon, they said.\n')], ['texts', JSON.stringify(`${'- tide: 1000000\r\n'.repeat(200)}said so`)],
  ])('says nothing: %s  %s', (field, text) => { expect(arrived({ [field]: JSON.parse(text) as unknown })).toEqual({ [field]: JSON.parse(text) as unknown }); });
});

test('a name that ends with an id says what the value is kept of, and not what it is', () => {
  expect(arrived({ held: { tide_1000000: 1000004, next_tide: 1000004, 'tide-1000004': '1000004' } })).toEqual({ held: { tide_2000000: 1000004, next_tide: 2000004, 'tide-2000004': '2000004' } });
});

describe('a map of ids, and a value whose item says what it is', () => {
  test.each([
    ['all_tides', '{"morning":1000000,"noon":"1000001","night":0,"none":""}'], ['all_tides', '[1000000,1000001]'], ['all_tides', '{"0":1000000,"2":1000001}'],
  ])('%s  %s', (field, text) => { expect(arrived({ [field]: JSON.parse(text) as unknown })).toEqual({ [field]: JSON.parse(there(text)) as unknown }); });

  test.each([
    ['all_tides', '{"morning":1000000,"seats":3}'], ['all_tides', '{"morning":1000000,"note":"x"}'], ['all_tides', '{"from":0,"to":1000001}'], ['all_tides', '{}'], ['other', '{"morning":1000000}'],
  ])('one that is none says that all are none: %s  %s', (field, text) => { expect(arrived({ [field]: JSON.parse(text) as unknown })).toEqual({ [field]: JSON.parse(text) as unknown }); });

  test('what is said of a map by language is said of each, and of things, of those that are selected', () => {
    const rules = kindOf({ id: 'tholepin/setting', references: [{ path: '$..*', to: 'entry', loose: true, least: 10, named: ['start_on', 'tides', '!*_limit'] }] });
    const of = (value: object): unknown => JSON.parse(new Exporter(dev).portable(rules, value, 'x').text);
    const high = { '@ref': 'entry:tide/high' };
    expect(of({ start_on: { en: 1_000_000, 'pt-br': 1_000_000, zh_Hant_TW: 0 } })).toEqual({ start_on: { en: high, 'pt-br': high, zh_Hant_TW: 0 } });
    for (const start of [{ en: 1_000_000, label: 'x' }, { en: 1_000_000, nb: 3 }, { first: 1_000_000 }, { to: 1_000_000 }]) expect(of({ start_on: start })).toEqual({ start_on: start });
    expect(of({ tides: { all: '', selected: [1_000_000], include: '1000000' } })).toEqual({ tides: { all: '', selected: [high], include: { ...high, as: 'text' } } });
    for (const value of [{ selected: [1_000_000] }, { tides: { most: 1_000_000 } }, { tides_limit: { only: 1_000_000 } }]) expect(of(value)).toEqual(value);
    // A secret stays one, whatever it lies under.
    const secret = kindOf({ id: 'tholepin/setting', secret: [{ path: '$..*', named: ['*_key', '!*_limit'] }] });
    expect(portableOf(dev, secret, { tides_limit: { api_key: 'x', size: 1 } }).value).toEqual({ tides_limit: { size: 1 } });
  });

  test('several ids of one family with the item, or with a member on the way, are taken for ids where all are', () => {
    const of = (item: string, value: object): unknown => JSON.parse(new Exporter(dev).portable(KIND, value, item).text);
    const pay = { '@ref': 'entry:flow_step/pay' };
    const numbers = [1_000_000, 1_000_001];
    expect(of('flow_trip/west', { turns: [1_000_001, 1_000_002] })).toEqual({ turns: [pay, { '@ref': 'entry:flow_step/thanks' }] });
    expect(of('fares', { _flow_turns: { x: [1_000_002, 1_000_001] } })).toMatchObject({ _flow_turns: { x: [{ '@ref': 'entry:flow_step/thanks' }, pay] } });
    for (const list of [numbers, [1_000_001, 3], [20], [1_000_001, 'x']]) expect(of('flow_trip/west', { turns: list })).toEqual({ turns: list });
    // One alone, where it is no small number and its name no measure.
    expect([of('flow_trip/west', { turns: [1_000_001] }), of('tide_trip/west', { turns: [1_000_001] }), of('flow_trip/west', { seats: [1_000_001] })]).toEqual([{ turns: [pay] }, { turns: [1_000_001] }, { seats: [1_000_001] }]);
    expect(of('flow_trip/west', { box_sizes: [1_000_001, 1_000_002] })).toEqual({ box_sizes: [1_000_001, 1_000_002] });
    // One alone: where a name says that it is chosen, and under a name that is one.
    expect([of('flow_trip/west', { chosen: 1_000_001 }), of('tide_trip/west', { chosen: 1_000_001 }), of('flow_trip/west', { other: 1_000_001 })]).toEqual([{ chosen: pay }, { chosen: 1_000_001 }, { other: 1_000_001 }]);
    expect(of('flow_trip/west', { after: { 1000002: [1_000_001] } })).toEqual({ after: { '⟦id entry:flow_step/thanks⟧': [pay] } });
    expect(of('flows/west', { turns: [1_000_001, 1_000_002] })).toEqual({ turns: [1_000_001, 1_000_002] });
    // Without a family the type says it.
    expect([of('tide/west', { chosen: 1_000_000 }), of('ferry/west', { chosen: 1_000_000 })]).toEqual([{ chosen: { '@ref': 'entry:tide/high' } }, { chosen: 1_000_000 }]);
  });

  test('the same of names of members: of several, or of one that holds more than a value', () => {
    const of = (item: string, value: object): unknown => JSON.parse(new Exporter(dev).portable(KIND, value, item).text);
    expect(of('flow_rules', { header: { 1000001: ['all'] } })).toEqual({ header: { '⟦id entry:flow_step/pay⟧': ['all'] } });
    expect(of('flow_rules', { header: { 1000001: 'a', 1000002: 'b' } })).toEqual({ header: { '⟦id entry:flow_step/pay⟧': 'a', '⟦id entry:flow_step/thanks⟧': 'b' } });
    for (const header of [{ 1000001: 'a' }, { 1000001: ['all'], 1000000: ['all'] }, { 1000001: ['all'], more: 1 }, { 1000001: ['all'], 7: ['all'] }, {}]) expect(of('flow_rules', { header })).toEqual({ header });
    expect(of('other_rules', { header: { 1000001: ['all'] } })).toEqual({ header: { 1000001: ['all'] } });
  });

  test('of the member that an item is named after, the name of the item counts', () => {
    const named = kindOf({ id: 'tholepin/setting', namedMember: 'only', references: [{ path: '$..*', to: 'entry', loose: true, least: 10, alike: true }] });
    const of = (item: string, only: unknown = 1_000_000): unknown => (JSON.parse(new Exporter(dev).portable(named, { only }, item).text) as { only: unknown }).only;
    expect([of('next_tide'), of('next_step'), of('tide_seats')]).toEqual([{ '@ref': 'entry:tide/high' }, 1_000_000, 1_000_000]);
    expect(of('tides', [1_000_000])).toEqual([{ '@ref': 'entry:tide/high' }]);
  });
});

describe('what is said beside an id', () => {
  const rules = ['value' as const, 'keys' as const].flatMap((where) => [{ path: '$..*', in: where, to: ['entry', 'told', 'media', 'page'], loose: true, least: 10, told: true }]);
  const TOLD = kindOf({ id: 'tholepin/told', references: rules, codecs: [{ path: '$.texts', codec: 'html', comments: { '~0': [] }, alike: 'entry' }] });
  const carried = (value: object): unknown => new Importer(live, kinds).local(TOLD, { value: portableOf(dev, TOLD, value).value, covers: 'all' }).value;

  test.each([
    [{ a: { ID: 1_000_002, post_title: 'Thanks!' } }, { a: { ID: 2_000_002, post_title: 'Thanks!' } }], [{ a: { x: '1000901', y: 'Fàres', n: 1_000_900 } }, { a: { x: '2000901', y: 'Fàres', n: 1_000_900 } }], [{ a: [{ k: 1_000_900, v: 'pier' }] }, { a: [{ k: 2_000_900, v: 'pier' }] }],
    [{ all: [[1_000_002, 'Thanks'], ['1000900', 'Pier'], [1_000_901, 'Pier']] }, { all: [[2_000_002, 'Thanks'], ['2000900', 'Pier'], [1_000_901, 'Pier']] }],
    [{ picks: { 1000002: 'Thanks', 1000901: 'Fares' } }, { picks: { 2000002: 'Thanks', 2000901: 'Fares' } }], [{ a: { at: 'http://dev.example/fares/?x=1', n: 1_000_901 } }, { a: { at: 'https://live.example:8443/shop/prices/?x=1', n: 2_000_901 } }],
    [{ a: { n: 1_000_900, src: '/uploads/1000000/pier.png' } }, { a: { n: 2_000_900, src: '/shop/uploads/2000000/pier.png' } }],
    [{ texts: '<!-- x {"a":{"n":1000901,"says":"Fares","width":1000900},"b":{"u":"http:\\/\\/dev.example\\/fares\\/","of":1000901}} -->' }, { texts: '<!-- x {"a":{"n":2000901,"says":"Fares","width":1000900},"b":{"u":"https:\\/\\/live.example:8443\\/shop\\/prices\\/","of":2000901}} -->' }],
  ])('says which item it is: %j', (value, wanted) => { expect(carried(value)).toEqual(wanted); });

  test.each([
    { a: { ID: 1_000_002, post_title: 'Thank' } }, { a: { n: 1_000_901, y: '' } }, { a: { n: 1_000_901, label: '901', other: 1 } }, { a: { fares: 1_000_901 } }, { title: 'Fares', x: 1_000_901 }, { picks: { 1000002: 'Thanks', 1000901: 'Thanks' } }, { picks: { 1000002: 'Thanks', more: 'Fares' } }, { picks: {} }, { a: { n: 1_000_901 }, b: { y: 'Fares' } }, { a: { n: 1_000_901, at: '/prices/' } },
  ])('says nothing: %j', (value) => { expect(carried(value)).toEqual(value); });

  test('a link says it on a site in a folder of its host as well: what arrived reads there as what was sent', () => {
    for (const a of [{ n: 1_000_900, src: '/uploads/1000000/pier.png' }, { n: 1_000_901, at: 'http://dev.example/fares/?x=1' }, { n: 1_000_901, at: '//dev.example/fares/' }]) {
      const { value } = portableOf(dev, TOLD, { a });
      expect(JSON.stringify(value)).toContain('"@ref"');
      expect(portableOf(live, TOLD, carried({ a })).value).toEqual(value);
    }
    // A path that nothing says to be a link stays; a link among other words is none of one thing.
    expect(carried({ a: { n: 1_000_901, at: '/fares/#top' } })).toEqual({ a: { n: 1_000_901, at: '/fares/#top' } });
    expect(carried({ a: { n: 1_000_901, at: 'See http://dev.example/fares/ first' } })).toEqual({ a: { n: 1_000_901, at: 'See https://live.example:8443/shop/prices/ first' } });
  });

  test('small numbers only where nothing else stands beside', () => {
    const few = new Exporter((() => { const site = new SiteIndex('http://dev.example', kinds); site.add({ kind: KIND.id, id: 4, name: 'tide/noon', title: 'Noon', etag: '""', status: 'published', size: 0 }); return site; })());
    const of = (value: object): unknown => JSON.parse(few.portable(kindOf({ id: KIND.id, references: rules }), value).text);
    expect(of({ all: [[4, 'Noon']], one: { n: 4, label: 'Noon' } })).toEqual({ all: [[{ '@ref': 'entry:tide/noon' }, 'Noon']], one: { n: { '@ref': 'entry:tide/noon' }, label: 'Noon' } });
    for (const value of [{ one: { n: 4, label: 'Noon', on: 1 } }, { one: { n: 4 } }]) expect(of(value)).toEqual(value);
  });

  test('a name as it is in an address, with letters of any language, and with a number that tells it from another', () => {
    const { dev: site } = twoSites(TOLD, ['pages/%d1%87%d0%b0%d1%81%d1%8b', 'b/lost-found-2', 'c/deck-12']);
    const of = (value: unknown): string => new Exporter(site).portable(TOLD, value).text;
    expect(of([[1_000_000, 'Часы'], [1_000_001, 'Lost &amp; found'], [1_000_002, 'Deck 12'], [1_000_002, '12']])).toMatch(/^\[\[\{[^\]]*"Часы"\],\[\{[^\]]*"Lost &amp; found"\],\[\{[^\]]*"Deck 12"\],\[1000002,"12"\]\]$/);
  });
});

describe('what is written alike on the target', () => {
  const read = (value: object, own: object) => asReadThere(portableOf(dev, KIND, value).value, portableOf(live, KIND, own).value, live);

  test('its own address, written out in full, is its address; nothing is said of it', () => {
    const { value, strays } = read({ a: 'See https://live.example:8443/shop/prices/ and http://dev.example/fares/' }, { a: 'See https://live.example:8443/shop/prices/ and https://live.example:8443/shop/prices/' });
    expect([value, strays]).toEqual([portableOf(live, KIND, { a: 'See https://live.example:8443/shop/prices/ and https://live.example:8443/shop/prices/' }).value, []]);
  });

  test('a number that is nobody on the source and somebody there is told: as a value, in a text, as a key, in what is packed', () => {
    const value = { values: { tide: 2_000_000, tides: ['2000000'], by_tide: { 2000000: 1 } }, texts: 'tide-2000000', packed: 'a:1:{i:0;i:1;}' };
    const { value: as, strays } = read(value, value);
    expect(as).toEqual(portableOf(live, KIND, value).value);
    expect(strays.map(({ at, raw, to }) => [at, raw, to])).toEqual([['/texts', '2000000', 'entry:tide/high'], ['/values/by_tide/⟦id entry:tide~1high⟧', '2000000', 'entry:tide/high'], ['/values/tide', '2000000', 'entry:tide/high'], ['/values/tides/0', '2000000', 'entry:tide/high']]);
  });

  test('what is written otherwise there stays what it is', () => {
    const [value, own] = [{ values: { tide: 2_000_001 }, texts: 'tide-2000000 ', list: [1, 2, 3] }, { values: { tide: 2_000_000 }, texts: 'tide-2000000', list: [1] }];
    expect(read(value, own)).toEqual({ value: portableOf(dev, KIND, value).value, strays: [] });
  });
});

describe('the host of the source', () => {
  const named = (value: object): readonly string[] => new Exporter(dev).portable(KIND, value).named;

  test('is told where it stands for something else than the address of the site: in values, in names, in what is packed', () => {
    expect(named({ a: 'office@dev.example', b: ['x', '.dev.example'], c: { 'ftp://DEV.example/': 1 }, packed: 'a:1:{s:2:"to";s:16:"pier@dev.example";}' })).toEqual(['/a', '/b/1', '/c/ftp:~1~1DEV.example~1', '/packed/to']);
  });

  test('is not told where it is the address, part of a longer name, or only in what a reference is called', () => {
    expect(named({ a: 'http://dev.example/fares/', b: 'dev.example', c: 'dev.example.org dev.example-shop.test adev.example', n: 5 })).toEqual([]);
  });

  test('names nothing where it is a name that many have', () => {
    expect(['http://localhost/x', 'http://127.0.0.1', 'http://127.0.0.1:8080/x', 'https://dev.example/x', 'https://[::1]:81/', 'none'].map(hostOf)).toEqual([undefined, undefined, '127.0.0.1:8080', 'dev.example', '[::1]:81', undefined]);
  });
});
