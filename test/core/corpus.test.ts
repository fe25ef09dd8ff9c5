import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { Importer, type SiteIndex } from '../../src/core/index.ts';
import { kindOf, portableOf, twoSites } from '../helpers/arbitrary.ts';

const KIND = kindOf({
  id: 'tholepin/template',
  codecs: [
    { path: '$.html', codec: 'html', attributes: { 'data-template': 'template', 'data-pictures': 'media', 'data-*-board': ['media', 'template'] }, comments: { '*Ref': ['media', 'template'], noRef: [], template: 'template', templates: 'template', media: 'media', 'reusable#id': 'template', 'id beside url': 'media', 'id beside kind=board': 'template', 'query.only': 'template', 'by.*': 'template' }, patterns: { '[* … board={id}': ['media', 'template'], 'stop:{id}': 'template', 'template-{id}': 'template', '[board id="{id}"': 'template', '[pictures ids="{ids}"]': 'media' } },
    { path: '$.url', codec: 'url' }, { path: '$.css', codec: 'css' }, { path: '$.json', codec: 'json' }, { path: '$.json.inner', codec: 'json' }, { path: '$.json.html', codec: 'html', comments: { template: 'template' } },
    { path: '$.list', codec: 'list' }, { path: '$.bars', codec: 'list', separator: '|' }, { path: '$.php', codec: 'php' }, { path: '$.packed', codec: 'base64' }, { path: '$.packed', codec: 'json' }, { path: '$.maybe', codec: 'base64', packed: true }, { path: '$.maybe', codec: 'php' }, { path: '$.maybe', codec: 'json' }, { path: '$.ordered', codec: 'json', ordered: true }, { path: '$.twice', codec: 'php' }, { path: '$.twice', codec: 'html' }, { path: '$.gaps', codec: 'php' }, { path: '$.gaps..*', codec: 'json' }, { path: '$.gaps..*', codec: 'php' }, { path: '$.phpjson', codec: 'php' }, { path: '$.phpjson.data', codec: 'json' },
  ],
  references: [
    ...['$.id', '$.list[*]', '$.bars[*]', '$.json.to', '$.json.inner.to', '$.json.all[*]', '$.php.to', '$.php.all[*]', '$.twice.to', '$.packed.to', '$.maybe.to', '$.ordered.to', '$.phpjson.data.to', '$.deep[*].a.b', '$..somewhere'].map((path) => ({ path, to: 'template' })),
    { path: '$.kinds[*].target', kindFrom: { field: 'shows', map: { picture: 'media', template: 'template', page: 'page' } } },
    ...['$.widths', '$.json.widths', '$.php.widths'].map((path) => ({ path, to: 'template', in: 'keys' as const })), { path: '$.byName', to: 'page', by: 'name' as const }, { path: '$.either', to: ['media', 'template'] },
    { path: '$.plain.*', to: 'template', loose: true, least: 1_000_001 },
    { path: '$.loosely', to: 'template', loose: true, least: 1_000_001, in: 'keys' },
    { path: '$.gaps..*', to: 'template', loose: true, named: ['pages', 'rows.id', '*_id'] }, { path: '$.gaps..*', to: 'template', loose: true, in: 'keys', named: ['by_id'] },
    { path: '$.mode', to: 'template', when: { field: 'type', is: 'template' } },
  ],
});
const { dev, live, kinds } = twoSites(KIND, ['a', 'b']);

/** Writes a text as one of the two sites has it. */
function as(site: SiteIndex, text: string): string {
  const base = site === dev ? 1_000_000 : 2_000_000;
  const [address, pier, small, fares] = [site.site, `/uploads/${base}/pier.png`, `/uploads/${base}/pier-small.png`, site === dev ? '/fares/' : '/prices/'];
  const folder = new URL(address).pathname.replace(/\/$/, '');
  const escaped = (one: string): string => one.replaceAll('/', '\\/');
  const plain: Record<string, string> = { A: String(base), B: String(base + 1), M: String(base + 900), P: String(base + 901), S: address, host: new URL(address).host, bare: address.slice(address.indexOf('/') + 2), pier, small, fares, folder, ownpier: folder + pier, ownsmall: folder + small, ownfares: folder + fares };
  const ways: Record<string, (one: string) => string> = { '': (one) => one, '\\': escaped, '\\\\': (one) => escaped(one).replaceAll('\\', '\\\\'), '%': encodeURIComponent, '%\\': (one) => encodeURIComponent(escaped(one)), '%l': (one) => encodeURIComponent(one).replace(/%../g, (hex) => hex.toLowerCase()), '//': (one) => one.replace(/^https?:/, ''), '\\//': (one) => escaped(one.replace(/^https?:/, '')), '&': (one) => one.replaceAll('/', '&#x2F;'), u: (one) => one.replaceAll('/', '\\u002F') };
  return text.replace(/\{(%l|%\\|%|\\\\|\\\/\/|\\|\/\/|&|u|)([A-Za-z]+)\}/g, (whole, way: string, name: string) => { const value = plain[name]; return value === undefined ? whole : (ways[way]?.(value) ?? whole); });
}

/** Lengths of serialised texts follow what stands in them. */
const serialised = (text: string): string => text.replace(/s:\?:"([^"]*)";/g, (_whole, inner: string) => `s:${Buffer.byteLength(inner)}:"${inner}";`);
const base64 = (text: string): string => Buffer.from(text).toString('base64');
/** What stands between tildes is in base64, written in some way. */
const within = (how: (packed: string) => string) => (text: string): string => JSON.stringify(text.replace(/~([^~]*)~/g, (_whole, inner: string) => how(base64(inner))));
const [asIs, encoded, forAddress] = [within((packed) => packed), within(encodeURIComponent), within((packed) => packed.replace(/=+$/, '').replaceAll('+', '-').replaceAll('/', '_'))];

/** A place that holds something of the site, by the field that it stands in; {ownfares} is a path on its host, {A} and {B} are ids of templates, {M} of a picture, {P} of a page, {S} the address. */
const PLACES: readonly [string, string, ((text: string) => string)?][] = [
  ['id', '{A}'], ['id', '"{B}"'], ['id', '["{A}",{B}]'], ['list', '"{A},{B}"'], ['list', '"{A}, {B}"'], ['bars', '"{A}|{B}"'], ['list', '"{A}"'], ['byName', '"fares"'], ['either', '{M}'], ['either', '{A}'],
  ['kinds', '[{"shows":"picture","target":{M}},{"shows":"template","target":{A}},{"shows":"page","target":"{P}"}]'], ['deep', '[{"a":{"b":{A}}},{"a":{"b":0}},{"a":{"b":{B}}}]'], ['x', '{"y":{"somewhere":{A}}}'], ['widths', '{"{A}":12,"{B}":6}'],
  ['html', '<a href="{S}{fares}">fares</a>'], ['html', '<a href="{ownfares}">fares</a>'], ['html', '<a href=\'{ownfares}\'>fares</a>'], ['html', '<a href="{//S}{fares}">fares</a>'], ['html', '<a href="{S}/contact/?from=a">x</a>'], ['html', '<a href="{S}">home</a>'], ['html', '<a href="{S}{fares}#cars">cars</a>'], ['html', '<a href="{S}{fares}?day=1&amp;b=2">cars</a>'],
  ['html', '<img src="{S}{pier}" alt="Pier">'], ['html', '<img src="{ownpier}">'], ['html', '<img src="{S}{small}" data-pictures="{M}">'], ['html', '<img srcset="{S}{small} 1x, {S}{pier} 2x">'], ['html', '<img srcset="{ownsmall} 300w,{ownpier} 900w" src="{ownsmall}">'], ['html', '<source srcset="{ownpier}">'],
  ['html', '<div style="background:url({S}{pier})">'], ['html', '<div style="background:url({ownpier}) no-repeat">'], ['html', '<div style="background:url(\'{ownpier}\')">'], ['html', '<div style="background:url(&quot;{ownpier}&quot;)">'], ['html', '<style>.a{background:url("{ownpier}")}.b{background:url({S}{small})}</style>'], ['html', '<video poster="{ownpier}"></video>'], ['html', '<form action="{ownfares}">'],
  ['html', '<div data-template="{A}">'], ['html', '<div data-template=\'{B}\'>'], ['html', '<div data-pictures="{M}, {M}">'], ['html', '<!-- block {"template":{A}} -->'], ['html', '<!-- block {"template":"{A}","n":3} -->'], ['html', '<!-- block {"templates":[{A},{B}]} -->'], ['html', '<!-- reusable {"id":{A}} /-->'], ['html', '<!-- block {"url":"{S}{fares}","template":{B}} --><p>x</p>'], ['html', '<!-- block {"a":{"media":{M}}} -->'],
  ['html', '<div data-setup=\'{"template":{A},"url":"{\\S}{\\fares}"}\'>'], ['html', '<div data-setup="{&quot;template&quot;:{A}}">'], ['html', '<div data-setup="{&quot;templates&quot;:[{A},{B}]}">'], ['html', '<div data-setup="{&quot;media&quot;:&quot;{M}&quot;}">'],
  ['html', '<p class="wide template-{A} x">'], ['html', '[board id="{A}" rows="3"]'], ['html', '[pictures ids="{M},{M}"]'], ['html', 'See {S}{fares} now'], ['html', '<a href="https://share.example/?u={%S}{%fares}">share</a>'], ['html', '<a href="https://share.example/?u={%lS}{%lfares}">share</a>'], ['html', '<script>var u="{\\S}{\\fares}";</script>'], ['html', '<a href="{S}{pier}">a</a><a href="{S}{pier}">b</a>'],
  ['url', '"{S}{fares}"'], ['url', '"{ownfares}"'], ['url', '"{ownfares}#x"'], ['url', '"{//S}{fares}"'], ['url', '"{ownpier}"'],
  ['css', '".a{background:url({S}{pier})}"'], ['css', '".a{background:url({ownpier})}.b{background:url(\'{ownsmall}\')}"'], ['css', '"@import url({ownfares});"'],
  ['text', '"{S}{fares}"'], ['text', '"Write to {S}, or call"'], ['text', '"{S}{fares}, {S}{pier}."'], ['text', '"{//S}/x"'], ['text', '"{\\\\S}{\\\\fares}"'], ['text', '"{%S}"'], ['text', '"({S}{fares})"'],
  ['json', '{"to":{A}}', JSON.stringify], ['json', '{"n":1.5,"to":"{A}"}', JSON.stringify], ['json', '{"all":[{A},{B}]}', JSON.stringify], ['json', '{"url":"{S}{fares}"}', JSON.stringify], ['json', '{"url":"{\\S}{\\fares}"}', JSON.stringify], ['json', '{"widths":{"{A}":1}}', JSON.stringify], ['json', '{"html":"<!-- block {\\"template\\":{A}} --><a href=\\"{S}{fares}\\">x</a>"}', JSON.stringify], ['json', '{"inner":"{\\"to\\":{A},\\"url\\":\\"{S}{fares}\\"}"}', JSON.stringify], ['json', '{"raw":"{\\"url\\":\\"{\\\\S}{\\\\fares}\\"}"}', JSON.stringify],
  ['php', 'a:1:{s:2:"to";i:{A};}', JSON.stringify], ['php', 'a:1:{s:3:"url";s:?:"{S}{fares}";}', (text) => JSON.stringify(serialised(text))], ['php', 'a:1:{s:3:"all";a:2:{i:0;i:{A};i:1;s:7:"{B}";}}', JSON.stringify], ['php', 'a:1:{s:6:"widths";a:1:{i:{A};s:1:"x";}}', JSON.stringify], ['phpjson', 'a:1:{s:4:"data";s:?:"{^to^:{A}}";}', (text) => JSON.stringify(serialised(text).replaceAll('^', '"').replace(/s:\d+:"(\{.*\})";/, (_w, inner: string) => `s:${Buffer.byteLength(inner)}:"${inner}";`))],
  ['text', 'a:1:{s:3:"url";s:?:"{S}{fares}";}', (text) => JSON.stringify(serialised(text))], ['packed', '{"to":{A},"url":"{S}{pier}"}', (text) => JSON.stringify(base64(text))], ['text', '{"url":"{S}{pier}"}', (text) => JSON.stringify(base64(text))],
  ['html', '<div data-side-board="{A}">'], ['html', '<!-- any {"boatRef":{A},"picRef":"{M}"} -->'], ['html', '[any-word x="1" board="{B}"]'], ['plain', '{"x":{B}}'], ['loosely', '{"{B}":1,"x":2}'],
  ['html', '<!-- g {"pics":[{"id":{M},"url":"{S}{pier}"},{"url":"{S}{small}","id":"{M}"}]} -->'], ['html', '<!-- g {"kind":"board","id":{A},"url":"{S}"} -->'], ['html', '<!-- g {"id":{A},"kind":"board"} -->'], ['html', '<!-- q {"query":{"only":[{A},{B}],"n":3}} -->'], ['html', '<!-- q {"by":{"x":{A},"y":[{B}]}} /-->'], ['html', '<div data-g="{&quot;a&quot;:{&quot;id&quot;:{M},&quot;url&quot;:&quot;{S}{pier}&quot;}}">'],
  ['text', '"{S}/?p={P}"'], ['text', '"{S}/?kind=page&p={P}#top"'], ['text', '"{S}/?kind=page&amp;p={P}."'], ['text', '"{\\\\S}\\\\/?p={P}"'], ['html', '<a href="{folder}/?p={P}">x</a>'], ['html', '<a href="{S}{fares}?x=1&#038;p={P}">x</a>'], ['url', '"{folder}/?p={P}"'],
  ['text', '"{S}/office/edit?page={P}&way=x"'], ['text', '"{\\S}\\/office\\/edit?page={P}"'], ['html', '<a href="{folder}/office/edit?way=x&amp;page={P}">x</a>'], ['text', '"to={%S}%2F%3Fp%3D{P}&x=1"'], ['text', '"{S}/go?to={%lS}%2f%3fx%3d1%26p%3d{P}"'], ['html', '<a href="https://share.example/?u={%S}%2Foffice%2Fedit%3Fpage%3D{P}">share</a>'],
  ['text', '"x %7B%22u%22%3A%22{%\\S}{%\\fares}%22%7D"'], ['html', '[x set="%7B%22template%22%3A{A}%2C%22u%22%3A%22{%\\S}%22%7D"]'],
  ...['{"template":"{A}"}', '{"template":{A},"x":1}', '{"templates":[{A},"{B}"]}', '{"x":{"media":{M},"say":"ø>?"}}', '{"u":"{\\S}{\\fares}"}'].flatMap((data): (typeof PLACES)[number][] => [['html', `<a href="#x%3Aaction%3Dopen%26set%3D~${data}~">x</a>`, encoded], ['html', `<a data-x="~${data}~">x</a>`, asIs], ['html', `<a href="?d=~${data}~&amp;e=1">x</a>`, forAddress]]),
  ['html', '#x%3Aset%3D~{"template":{A}}~', encoded], ['html', '[raw]~<a href="{S}{fares}">x</a>~[/raw]', asIs], ['html', '[raw]~%3Ca%20href%3D%22{%S}{%fares}%22%3E~[/raw]', asIs], ['html', '<a href="/go?to=~{S}{fares}~">x</a>', encoded],
  ['html', "<script>open({template: {A}, url: '{S}{fares}', more: [x, {media: '{M}'}]});</script>"], ['html', '<div data-templates=\'[{A},{B}]\'>'], ['html', '<div data-templates="[{A}]">'], ['html', '<script>board.templates[7] = [{A}];</script>'],
  ['html', '<!-- block {"config":"{\\"template\\":{A},\\"media\\":\\"{M}\\"}"} -->'], ['html', '<!-- block {"config":"{\\u0022template\\u0022:\\u0022{A}\\u0022}","media":{M}} -->'], ['html', '<div data-x="{&quot;config&quot;:&quot;{\\&quot;template\\&quot;:{A}}&quot;}">'],
  ['html', '[x n=1 template="{A}" media={M} y]'], ['html', "[x set='{\"template\":{A}}' templates='{A}, {B}']"], ['html', '[x templates="[{A},{B}]"]'], ['html', 'kind=x&template={A}&templates={A},{B}'], ['html', '<i data-q="kind=x&amp;templates[]={A}&amp;templates[]={B}">'], ['html', 'kind:x;template:{A}'],
  ['twice', 'a:1:{s:2:"to";i:{A};}', (text) => JSON.stringify([1, 2].reduce((packed) => `s:${Buffer.byteLength(packed)}:"${packed}";`, text))], ['twice', 'a:2:{s:2:"to";i:{A};s:3:"url";s:?:"{S}{fares}";}', (text) => { const inner = serialised(text); return JSON.stringify(`s:${Buffer.byteLength(inner)}:"${inner}";`); }],
  ['html', '[note board={A}]'], ['html', "[note x=1 board='{M}' y]"], ['html', 'at stop:{A}, later'],
  ['maybe', '{"to":{A}}', (text) => JSON.stringify(base64(text))], ['maybe', 'a:1:{s:2:"to";i:{A};}', (text) => JSON.stringify(base64(text))], ['ordered', '{"z":1,"to":{A},"a":[{"c":1,"b":2}]}', JSON.stringify], ['ordered', '{"{B}":1,"{A}":2,"to":{A}}', (text) => JSON.stringify(text.replaceAll('"2000001":1,"2000000":2', '"1":1').replaceAll('"1000001":1,"1000000":2', '"1":1'))],
  ['json', '{"e": [1e3, -0], "n": 1.0, "to": {A}}', JSON.stringify], ['json', '{\n\t"none": [],\n\t"text": "\\u00e9",\n\t"to": {A}\n}\n', JSON.stringify],
  ['gaps', 'a:1:{s:5:"pages";a:2:{i:0;i:{A};i:3;s:7:"{B}";}}', JSON.stringify], ['gaps', 'a:1:{s:4:"rows";a:2:{i:2;a:1:{s:2:"id";i:{A};}i:5;a:1:{s:2:"id";i:{B};}}}', JSON.stringify], ['gaps', 'a:1:{s:5:"by_id";a:1:{i:{A};a:1:{s:4:"x_id";i:{B};}}}', JSON.stringify],
  ['gaps', 's:?:"a:1:{s:1:^j^;s:?:^{~a_id~:{A},~k~:~{|a_id|:{B}}~}^;}";', (text) => JSON.stringify(text.replace(/s:\?:"(.*)";$/, (_w, inner: string) => { const body = inner.replace(/s:\?:\^(.*)\^/, (_v, json: string) => { const plain = json.replaceAll('~', '"').replaceAll('|', '\\"'); return `s:${plain.length}:"${plain}"`; }).replaceAll('^', '"'); return `s:${body.length}:"${body}";`; }))],
  ['text', '"{host}"'], ['text', '"On {bare}{fares}, at {host} and ({host})."'], ['text', '"{bare}/?p={P}"'], ['html', 'See <b>{bare}{fares}</b>'], ['url', '"{bare}{fares}"'],
  ['css', '".a{background:url({S}{pier}?id={M}) no-repeat}"'], ['html', '<img src="{S}{small}?v=3&amp;id={M}">'], ['html', '<img src="{ownpier}?id={M}">'],
  ['html', '<a href="{folder}/">home</a>'], ['html', '<a href="{folder}/#top">up</a>'], ['mode', '{A}'], ['keys', '{"{S}{fares}":1}'],
];

/** Looks alike, and means nothing of the site: it must arrive as it was. */
const ALIKE: readonly [string, string][] = [
  ['html', '<!-- any {"noRef":1000000} -->'], ['html', '<!-- g {"id":1000900} -->'], ['html', '<!-- g {"only":[1000000],"x":{"id":1000900,"y":{"url":"/"}}} -->'], ['text', '"http://other.example/?p=1000901"'], ['html', '<a href="/edit?page=1000901">'], ['text', '"http%3A%2F%2Fother.example%2F%3Fp%3D1000901"'], ['html', '[note board=1000000x]'], ['html', 'nonstop:1000000'], ['text', '"/?p=1000901"'], ['html', '<a href="/?p=1000901x">'], ['html', '<a href="/?page=1000901">'], ['maybe', '"test"'], ['maybe', '"eyJ0byI6MTAwMDAwMH0"'], ['maybe', '"YTox"'], ['html', '<div data-side-boards="1000000">'], ['html', '[any-word aboard="1000000"]'], ['plain', '{"x":1000000}'], ['loosely', '{"1000000":1}'],
  ['id', '1000777'], ['id', '0'], ['id', '""'], ['number', '1000000'], ['list', '"1,2,3"'], ['list', '"a,b"'], ['list', '"01000000"'], ['html', '<div data-other="1000000">'], ['html', '<p>Ticket 1000000 of 1000001</p>'], ['html', '<!-- block {"other":1000000} -->'], ['html', '<!-- 1000000 -->'], ['html', '<p class="template-10000000">'], ['html', '<p class="mytemplate-1000000x">'], ['html', '<a href="tel:1000000">'],
  ['html', '<a href="/unknown/">x</a>'], ['html', '<a href="http://dev.example.org/fares/">x</a>'], ['html', '<a href="http://other.dev.example/fares/">x</a>'], ['html', '<a href="http://dev.example:81/fares/">x</a>'], ['html', '<a href="mailto:office@dev.example">x</a>'], ['html', '<a href="http://dev.example-shop.test/">x</a>'], ['html', '<div data-template="new 17">'], ['html', '<div data-setup=\'{"other":1000000}\'>'], ['html', '{"template":1000000}'], ['html', '<img srcset="/elsewhere.png 2x">'], ['html', '<div style="background:url(/elsewhere.png)">'],
  ...['{"other":1000000}', '{"template":1000777}', '<a href="http://other.example/">x</a>'].map((data): [string, string] => ['html', `<a href="#x%3Dset%3D${encodeURIComponent(base64(data))}">`]), ['html', `<a data-x="A${base64('{"template":1000000}')}">`], ['html', `<a data-x="${base64('{"template":1000000}')}x">`], ['html', '<script>if (template == 1) { go({other: 1000000}) }</script>'], ['html', '[x other=1000000]'], ['html', 'kind=x&other=1000000'], ['html', 'template=1000000'], ['html', '<!-- block {"config":"{\\"other\\":1000000}"} -->'],
  ['url', '"/unknown/"'], ['url', '"#fares"'], ['url', '"fares/"'], ['url', '"//cdn.example/fares/"'], ['text', '"/fares/"'], ['text', '"ftp://dev.example/"'], ['html', '<img src="/elsewhere.png?id=1000900">'], ['text', '"office@dev.example, .dev.example, a-dev.example, dev.example:81, dev.example.org"'], ['text', '"http:\\\\/dev.example"'], ['text', '"⟦site⟧ ⟦id template:a⟧"'], ['css', '".a{color:#100000}"'], ['css', '".a{background:url(#grad)}"'], ['text', '"a:1:{i:0;i:1000000;}"'], ['packed', '"not base64 1000000"'], ['json', '"{broken"'], ['php', '"a:1:{broken"'], ['number', '1e21'], ['text', '"http:\\\\/\\\\/dev.example.org\\\\/fares"'],
];

const carried = (field: string, local: string): string => {
  const value = { [field]: JSON.parse(local) as unknown, ...(field === 'mode' ? { type: 'template' } : {}) };
  return JSON.stringify((new Importer(live, kinds).local(KIND, { value: portableOf(dev, KIND, value).value, covers: 'all' }).value as Record<string, unknown>)[field]);
};
const written = (site: SiteIndex, [field, text, pack]: (typeof PLACES)[number]): string => { const told = as(site, text); return pack ? pack(told) : field === 'html' ? JSON.stringify(told) : told; };

test.each(PLACES.map((place) => [place[0], place[1], place] as const))('%s  %s', (field, _text, place) => {
  const [source, wanted] = [written(dev, place), written(live, place)];
  expect(source === wanted && field !== 'byName').toBe(false);
  expect(JSON.parse(carried(field, source))).toEqual(JSON.parse(wanted));
  expect(carried(field, source)).not.toMatch(/dev\.example|100000[01]|100090[01]|\/uploads\/1000000|ZGV2LmV4/);
});

test.each(ALIKE)('as it was: %s  %s', (field, text) => {
  const local = field === 'html' ? JSON.stringify(text) : text;
  expect(JSON.parse(carried(field, local))).toEqual(JSON.parse(local));
});

test('links of a site in a folder of its host: without the folder where the other lies at the top, and none of what lies beside it', () => {
  const back = (html: string): unknown => (new Importer(dev, kinds).local(KIND, { value: portableOf(live, KIND, { html }).value, covers: 'all' }).value as { html: string }).html;
  const links = ['/shop/prices/', '/shop/unknown/', '/shop/', '/shop', '/shop?x=1', '/shop/?p=2000901', '/shop/uploads/2000000/pier.png', '/shops/', '/prices/', '/', '?x=1'];
  expect(links.map((link) => back(`<a href="${link}">`))).toEqual(['/fares/', '/unknown/', '/', '/', '/?x=1', '/?p=1000901', '/uploads/1000000/pier.png', '/shops/', '/prices/', '/', '?x=1'].map((link) => `<a href="${link}">`));
});

/** Pieces of what stands in texts, whole or broken. */
const BITS = ['[any ', '[x board="1000000" template=1000001', ']', '"', "'", '&', '&amp;', 'template=1000000', 'templates[]=1000001', '{"template":1000000}', '{\\"template\\":1000001}', '{\\u0022template\\u0022:1000000}', '<!-- a {"config":"', '"} -->', "<div data-x='", '>', '<script>', '</script>', 'go({template: 1000000, x: [1000001]})', 'templates[7] = {', '}', '%3D', '#s=', 'http://dev.example/fares/', 'ø', '⟦', '⟧', ';', 'template:1000000;x:1', ' ', '=', '\\', '%', 'eyJ'];
const PACKINGS = [base64, (text: string) => base64(text).replace(/=+$/, ''), (text: string) => Buffer.from(text).toString('base64url'), (text: string) => encodeURIComponent(base64(text))];
const piece = fc.oneof({ weight: 5, arbitrary: fc.constantFrom(...BITS) }, { weight: 1, arbitrary: fc.tuple(fc.constantFrom(...BITS), fc.constantFrom(...PACKINGS)).map(([bit, pack]) => pack(`{"template":1000000,"say":"${bit}"}`)) });

test('whatever stands together in a text comes back as it was', () => {
  fc.assert(fc.property(fc.array(piece, { maxLength: 14 }), (pieces) => {
    const value = { html: pieces.join('') };
    expect(new Importer(dev, kinds).local(KIND, { value: portableOf(dev, KIND, value).value, covers: 'all' }).value).toEqual(value);
  }), { numRuns: 3000, seed: 7 });
});

test('the corpus is large enough', () => { expect(PLACES.length).toBeGreaterThanOrEqual(80); });
