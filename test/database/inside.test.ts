import { describe, expect, test } from '@jest/globals';
import { AWAY, carrier, THINGS } from '../helpers/twosites.ts';

// Ids and addresses in texts that are written inside other texts: whatever stands around them, they are found, and the rest stays as it is written.
const [DEV, LIVE] = ['https://dev.skerrin.example', 'https://www.skerrin.example'] as const;
const arrived = carrier(DEV, LIVE);

type Ids = Record<keyof typeof THINGS, number>;
const HERE = Object.fromEntries(Object.entries(THINGS).map(([thing, [, , first]]) => [thing, first])) as Ids;
const THERE = Object.fromEntries(Object.entries(THINGS).map(([thing, [, , first]]) => [thing, first + AWAY])) as Ids;

/** Texts with ids in them. */
const NOTATIONS: Record<string, (ids: Ids) => string> = {
  'class of a picture': ({ image }) => `<img class="wp-image-${image}">`, 'attributes for data': ({ page, vessel }) => `<div data-page-id="${page}"></div><div data-vessel='${vessel}'></div>`, 'data with its sort': ({ page }) => `<div data-id="${page}" data-type="page">x</div>`,
  'element of its own': ({ vessel }) => `<x-map vessel="${vessel}"></x-map>`, 'short codes': ({ form, image }) => `Look: [x_row][x_form id="${form}" title="a"]in [x_img image='${image}'][/x_form][/x_row]`, 'block': ({ image, block }) => `<!-- wp:image {"id":${image}} --><p>x</p><!-- /wp:image --><!-- wp:block {"ref":${block}} /-->`,
  'data in an attribute': ({ page, image }) => `<b data-c='{"page_id":${page},"image":{"id":${image}}}'>x</b>`, 'script': ({ page, form }) => `<script>var x = {"page_id":${page},"form":"${form}"};</script>`, 'data that an element holds': ({ page, image }) => `<script type="application/json">{"page_id":${page},"m":{"image":${image}}}</script><div>{"image":${image}}</div>`,
  data: ({ page, image, vessel }) => JSON.stringify({ page_id: page, image: { id: image }, vessels: [vessel] }), 'what a form sends': ({ form }) => `<input type="hidden" name="form_id" value="${form}">`, query: ({ page, vessel }) => `page_id=${page}&vessel=${vessel}`,
  'data under "data"': ({ vessel, page }) => `<x-map data='{"vessel":${vessel}}'></x-map><object data="{&quot;page_id&quot;:${page}}"></object>`, 'a comment with entities': ({ page }) => `<!-- x:box {&quot;page_id&quot;:${page}} -->`,
  'attributes behind one with markup': ({ page, form }) => `<div data-text="&lt;b class=&quot;x&quot;&gt;7" data-page-id="${page}" data-form='${form}'>x</div>`,
  'markup in an attribute': ({ image, form }) => `<iframe srcdoc="&lt;img class=&quot;wp-image-${image}&quot;&gt;&lt;b data-form-id=&quot;${form}&quot;&gt;"></iframe>`,
};

type Around = (text: string) => string;
const entities: Around = (text) => text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign] ?? sign);
const inBlock = (data: unknown): string => JSON.stringify(data).replace(/[<>&]|--/g, (signs) => signs.replace(/./g, (sign) => `\\u00${sign.charCodeAt(0).toString(16)}`)).replaceAll('\\"', '\\u0022');
const AROUND: Record<string, Around> = {
  'as it is': (text) => text, 'a string of a block': (text) => `<!-- x:box ${inBlock({ n: 7, text })} /-->`, 'deep in a block': (text) => `<!-- x:box ${inBlock({ list: [{ inner: { text } }] })} --><p>7</p><!-- /x:box -->`,
  'data in an attribute': (text) => `<div data-setup="${entities(JSON.stringify({ n: 7, text }))}">7</div>`, 'an attribute': (text) => `<div data-text="${entities(text)}">7</div>`, JSON: (text) => JSON.stringify({ text }), 'JSON with slashes escaped': (text) => JSON.stringify({ text }).replaceAll('/', '\\/'),
  'a short code, percent-encoded': (text) => `[x_box n="7" text="${encodeURIComponent(JSON.stringify([{ text }]))}"]`, 'a short code, in base64': (text) => `[x_raw]${Buffer.from(encodeURIComponent(`<p>${text}</p>`)).toString('base64')}[/x_raw]`, 'a script': (text) => `<script>start(${inBlock({ text })});</script>`,
};
const twice = Object.keys(AROUND).flatMap((outer) => Object.keys(AROUND).map((inner) => [outer, inner] as const));

describe('ids', () => {
  test.each(twice)('%s around %s', (outer, inner) => {
    const text = (ids: Ids, notation: string): string => [inner, outer].reduce((written, around) => AROUND[around]?.(written) ?? '', NOTATIONS[notation]?.(ids) ?? '');
    // A query alone is one only where nothing stands around it.
    const all = Object.keys(NOTATIONS).filter((one) => one !== 'query' || !`${outer} ${inner}`.includes('base64'));
    expect(Object.fromEntries(all.map((one) => [one, arrived(text(HERE, one))]))).toEqual(Object.fromEntries(all.map((one) => [one, text(THERE, one)])));
  });
});

describe('addresses', () => {
  const backslashes = (count: number): Around => (address) => address.replaceAll('/', `${'\\'.repeat(count)}/`);
  const SPELLED: Record<string, Around> = {
    plain: (address) => address, escaped: backslashes(1), 'escaped twice': backslashes(3), 'escaped again': backslashes(2), 'percent-encoded': encodeURIComponent, 'percent-encoded twice': (address) => encodeURIComponent(encodeURIComponent(address)), 'without scheme': (address) => address.replace('https:', ''),
    'with a code for the slash': (address) => address.replaceAll('/', '\\u002f'), 'with an entity for it': (address) => address.replaceAll('/', '&#x2F;'), 'of a calendar': (address) => address.replace('https', 'webcal'), 'through another site': (address) => `https://small.example/${address.replace('https://', '')}?w=300`, 'of a socket': (address) => address.replace('https', 'wss'),
    'the host alone': (address) => `<p>${address.replace(/^https:\/\/|\/fares\/$/g, '')}</p>`, 'the host in a line': (address) => `Book:\n${address.replace('https://', '')}`,
  };
  test.each(twice.filter(([outer, inner]) => !`${outer}${inner}`.includes('base64')))('%s around %s', (outer, inner) => {
    const text = (site: string, spelled: string): string => [inner, outer].reduce((written, around) => AROUND[around]?.(written) ?? '', SPELLED[spelled]?.(`${site}/fares/`) ?? '');
    const all = Object.keys(SPELLED);
    expect(Object.fromEntries(all.map((one) => [one, arrived(text(DEV, one))]))).toEqual(Object.fromEntries(all.map((one) => [one, text(LIVE, one)])));
  });

  test('stay where a serialised value says how long they are, and in mailboxes and longer names', () => {
    const texts = ['<p>a:1:{s:1:"u";s:34:"https://dev.skerrin.example/fares/";}</p>', 'info@dev.skerrin.example', 'ftp://dev.skerrin.example/', 'https://my-dev.skerrin.example/', 'https://dev.skerrin.example.org/', '/srv/dev.skerrin.example/x'];
    expect(texts.map((text) => arrived(text))).toEqual(texts);
  });
});
