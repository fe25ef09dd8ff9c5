import { describe, expect, test } from '@jest/globals';
import { belongingsOf, holderOf, inHolder } from '../../src/core/belongings.ts';
import { compileKind, KindDescription, type KindInput } from '../../src/core/kind.ts';
import { SiteIndex } from '../../src/core/siteindex.ts';
import { Importer } from '../../src/core/translate/local.ts';
import type { Json } from '../../src/core/json.ts';
import { Exporter } from '../../src/core/translate/portable.ts';

const kindOf = (more: Partial<KindInput>) => compileKind(KindDescription.parse({ id: 'quay/menu', version: 1, title: 'Menu', ...more }));
const index = (kind: ReturnType<typeof kindOf>, address = 'https://dev.skerrin.example', pages: Record<string, number | string> = {}): SiteIndex => {
  const made = new SiteIndex(address, new Map([[kind.id, kind]]));
  for (const [name, id] of Object.entries(pages)) made.add({ kind: 'quay/page', id, name, title: name, etag: 'x', status: 'published', size: 1 });
  return made;
};
/** What a target gets, given what it has. */
function carried(kind: ReturnType<typeof kindOf>, source: unknown, target: unknown): unknown {
  const site = index(kind);
  return new Importer(site, new Map([[kind.id, kind]])).local(kind, { value: JSON.parse(new Exporter(site).portable(kind, source).text) as never, covers: 'all' }, target).value;
}

describe('local ids of belongings', () => {
  const kind = kindOf({ belongings: [{ path: '$..entries[*]', id: 'id' }] });

  test('an entry with the same content keeps its id wherever it moves; a changed one is found by likeness; the rest are new', () => {
    const source = { entries: [{ id: 1, label: 'Boats', url: '/boats/', hint: 'new' }, { id: 2, label: 'Fares', url: '/fares/' }, { id: 3, label: 'Islands', url: '/islands/', hint: 'all' }] };
    const target = { entries: [{ id: 71, label: 'Islands', url: '/islands/', hint: 'some' }, { id: 72, label: 'Fares', url: '/fares/' }, { id: 73, label: 'Old', url: '/old/', hint: 'none' }] };
    expect(carried(kind, source, target)).toEqual({ entries: [{ label: 'Boats', url: '/boats/', hint: 'new' }, { id: 72, label: 'Fares', url: '/fares/' }, { id: 71, label: 'Islands', url: '/islands/', hint: 'all' }] });
  });

  test('an entry keeps its id when it moves below another', () => {
    const source = { entries: [{ id: 1, label: 'Timetable', entries: [{ id: 2, label: 'Islands', url: '/islands/' }] }] };
    const target = { entries: [{ id: 71, label: 'Timetable' }, { id: 72, label: 'Islands', url: '/islands/' }] };
    expect(carried(kind, source, target)).toEqual({ entries: [{ id: 71, label: 'Timetable', entries: [{ id: 72, label: 'Islands', url: '/islands/' }] }] });
  });

  test('in keyed lists the key decides, and nothing else', () => {
    const keyed = kindOf({ belongings: [{ path: '$.entries[*]', id: 'id' }], keyed: [{ path: '$.entries', key: 'key' }] });
    const target = { entries: [{ id: 71, key: 'b', label: 'Same' }, { id: 72, key: 'c', label: 'Other' }] };
    expect(carried(keyed, { entries: [{ id: 1, key: 'a', label: 'Same' }, { id: 2, key: 'b', label: 'New' }] }, target)).toEqual({ entries: [{ key: 'a', label: 'Same' }, { id: 71, key: 'b', label: 'New' }] });
  });
});

describe('what others mean of an item', () => {
  const menu = kindOf({ belongings: [{ path: '$..entries[*]', id: 'id', known: 'entry', by: ['$.title', '$.page'] }], references: [{ path: '$..page', to: 'page' }, { path: '$..*', to: 'entry', loose: true, named: ['next', 'id'] }] });
  const value = { next: 11, entries: [{ id: 11, title: 'Go <b>Aboard</b>!', next: 13, entries: [{ id: 12, title: 'go aboard', page: 4 }] }, { id: 13, page: 4 }, { id: '14', title: 'Go aboard 2' }, { id: 15, title: '…' }, { title: 'No id' }] };

  test('each is called after the first place that says something, and no two alike', () => {
    const site = index(menu, undefined, { fares: 4 });
    const found = belongingsOf(menu, 'top', new Exporter(site).separated(menu, value).whole);
    expect(found.map(({ address, id }) => `${address} ${id}`)).toEqual(['entry:top/go-aboard 11', 'entry:top/fares 13', 'entry:top/go-aboard-2 14', 'entry:top/entry 15', 'entry:top/go-aboard-3 12']);
    expect([holderOf('entry:top/fares', site.kinds), inHolder('entry:top/fares', 'menu:foot/main')]).toEqual(['menu:top', 'entry:foot/main/fares']);
    expect([holderOf('page:fares', site.kinds), holderOf('entry:fares', site.kinds), holderOf('entry:top/fares', new Map())]).toEqual([undefined, undefined, undefined]);
  });

  test('is found by its id, and its own id is no reference to itself; what is no longer there is forgotten', () => {
    const site = index(menu, undefined, { fares: 4 });
    const opened = (): unknown => new Exporter(site).separated(menu, value).whole;
    site.setBelongings('menu:top', belongingsOf(menu, 'top', opened() as never));
    expect(belongingsOf(menu, 'top', opened() as never)).toHaveLength(5);
    expect(JSON.parse(new Exporter(site).portable(menu, value).text)).toMatchObject({ next: { '@ref': 'entry:top/go-aboard' }, entries: [{ next: { '@ref': 'entry:top/fares' } }, {}, {}, {}, {}] });
    expect([site.has('entry:top/fares'), site.idOf('entry:top/fares'), [...site.addresses()].length]).toEqual([true, 13, 6]);
    site.setBelongings('menu:top', []);
    expect([site.has('entry:top/fares'), JSON.parse(new Exporter(site).portable(menu, value).text)]).toMatchObject([false, { next: 11 }]);
  });
});

describe('references by name', () => {
  const kind = kindOf({
    codecs: [{ path: '$..*', codec: 'list', named: ['*_ids'] }, { path: '$.packed', codec: 'json' }],
    references: [{ path: '$..*', to: 'page', loose: true, named: ['*_page', '*_ids', 'start', 'image.id', '!*per_page'] }, { path: '$..id', to: 'page', loose: true, when: { field: 'url' } }],
    secret: [{ path: '$..*', named: ['*key*'] }], unordered: ['$.tags'], namedMember: 'option',
  });
  const pages = { fares: 4, islands: 5, far: '9007199254740993' };
  const portable = (value: unknown, item = ''): unknown => JSON.parse(new Exporter(index(kind, undefined, pages)).portable(kind, value, item).text);

  test('only under such names, and only where there is such an item', () => {
    expect(portable({ front_page: 4, per_page: 4, posts_per_page: '5', other_page: 77, image: { id: 5 }, thing: { id: 5 }, link: { id: 5, url: 'x' } })).toEqual({
      front_page: { '@ref': 'page:fares' }, per_page: 4, posts_per_page: '5', other_page: 77, image: { id: { '@ref': 'page:islands' } }, thing: { id: 5 }, link: { id: { '@ref': 'page:islands' }, url: 'x' },
    });
  });

  test('the name of the item counts for the member that it names, and for no other', () => {
    expect(portable({ option: '4' }, 'start')).toEqual({ option: { '@ref': 'page:fares', as: 'text' } });
    expect(portable({ option: '4' }, 'count')).toEqual({ option: '4' });
    expect(portable({ option: 'x', order: '4', more: { option: '4' } }, 'booking_page')).toEqual({ option: 'x', order: '4', more: { option: '4' } });
    expect(portable({ order: '4', title: 'Keys' }, 'house_keys')).toEqual({ order: '4', title: 'Keys' });
  });

  test('a name in any spelling; the own name of an item; not beside what says that it is something else', () => {
    const other = kindOf({
      codecs: [{ path: '$.text', codec: 'html', comments: { noPage: [] } }],
      references: [
        { path: '$..*', to: 'page', loose: true, named: ['link_to', '!*per_page'] }, { path: '$..*', to: 'page', loose: true, least: 4, alike: 'name' },
        { path: '$..id', to: 'page', loose: true, without: ['value'], kindFrom: { field: 'type', map: { page: 'page' } } },
      ],
    });
    const read = (value: unknown): unknown => JSON.parse(new Exporter(index(other, undefined, pages)).portable(other, value, '').text);
    const fares = { '@ref': 'page:fares' };
    expect(read({ link_to: 4, linkTo: 4, 'link-to': 4, linkPerPage: 4 })).toEqual({ link_to: fares, linkTo: fares, 'link-to': fares, linkPerPage: 4 });
    expect(read({ our_fares: 4, islands: 4, fares_islands: 5, unfares: 4 })).toEqual({ our_fares: fares, islands: 4, fares_islands: { '@ref': 'page:islands' }, unfares: 4 });
    expect(read({ a: { id: 4, type: 'page' }, b: { id: 4, type: 'page', value: 'x' }, c: { id: 4, type: 'text' } })).toEqual({ a: { id: fares, type: 'page' }, b: { id: 4, type: 'page', value: 'x' }, c: { id: 4, type: 'text' } });
    // The same rules hold for data in a text.
    expect(read({ text: '<!-- x {"linkTo":4,"noPage":4,"size":4,"a":{"id":4,"type":"page"},"b":{"id":4,"type":"page","value":1},"url":"/?x=4"} -->' })).toEqual({ text: '<!-- x {"linkTo":⟦id page:fares⟧,"noPage":4,"size":4,"a":{"id":⟦id page:fares⟧,"type":"page"},"b":{"id":4,"type":"page","value":1},"url":"/?x=4"} -->' });
  });

  test('lists of ids in a text, and numbers larger than JavaScript\'s reach', () => {
    expect(portable({ page_ids: '4, 5', word_ids: 'a,b' })).toEqual({ page_ids: { '@list': [{ '@ref': 'page:fares', as: 'text' }, { '@ref': 'page:islands', as: 'text' }], how: ', ' }, word_ids: 'a,b' });
    expect(portable({ packed: '{"next_page":9007199254740993,"size":9007199254740995}' })).toEqual({ packed: { '@json': { next_page: { '@ref': 'page:far' }, size: { '@number': '9007199254740995n' } } } });
  });

  test('JSON as PHP indents and escapes it', () => {
    const text = '{\n    "next_page": 4,\n    "path": "a\\/\\u00e9",\n    "none": []\n}';
    expect(portable({ packed: text })).toEqual({ packed: { '@json': { next_page: { '@ref': 'page:fares' }, path: 'a/é', none: [] }, how: 'wide ascii slashes' } });
  });

  test('secrets by name stay; lists whose order means nothing have one order', () => {
    const made = new Exporter(index(kind, undefined, pages)).portable(kind, { api_key: 'x', nested: { licenceKey: 'y' }, tags: ['b', 'a'] });
    expect(JSON.parse(made.text)).toEqual({ nested: {}, tags: ['a', 'b'] });
    expect(made.withheld).toEqual([{ at: '/api_key', why: 'secret' }, { at: '/nested/licenceKey', why: 'secret' }]);
  });

  test('of a group that is called a secret the values stay, and the group arrives; the target keeps its own', () => {
    const source = { keys: { live: { id: 'a', on: true, none: {} }, test: 'b', more_keys: ['c'] }, list_keys: ['d'] };
    const made = new Exporter(index(kind, undefined, pages)).portable(kind, source);
    expect(JSON.parse(made.text)).toEqual({ keys: { live: { none: {} } } });
    expect(made.withheld.map((one) => one.at)).toEqual(['/keys/live/id', '/keys/live/on', '/keys/test', '/keys/more_keys', '/list_keys']);
    const arrived = (existing: unknown): unknown => new Importer(index(kind, undefined, pages), new Map([[kind.id, kind]])).local(kind, { value: JSON.parse(made.text) as Json, covers: 'all' }, existing).value;
    expect(arrived(undefined)).toEqual({ keys: { live: { none: {} } } });
    expect(arrived({ keys: { live: { id: 'z' }, test: 'y' } })).toEqual({ keys: { live: { id: 'z', none: {} }, test: 'y' } });
    expect(arrived({ keys: 'one for all' })).toEqual({ keys: 'one for all' });
  });
});
