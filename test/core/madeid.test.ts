import { describe, expect, test } from '@jest/globals';
import { compileKind, KindDescription } from '../../src/core/kind.ts';
import { SiteIndex } from '../../src/core/siteindex.ts';
import { Importer } from '../../src/core/translate/local.ts';
import { Exporter } from '../../src/core/translate/portable.ts';

const IDS = {
  dev: { card: '0b54fe57-9d35-4d0f-8f0e-5c8a3c1c9d01', plain: '0b54fe579d354d0f8f0e5c8a3c1c9d02', sorted: '01HZX3T5V8J6K2M4N7P9Q0R1S2', small: '01hzx3t5v8j6k2m4n7p9q0r1s3' },
  live: { card: 'f1a2b3c4-0000-4000-8000-000000000001', plain: 'f1a2b3c4000040008000000000000002', sorted: '01JAAAAAAAAAAAAAAAAAAAAAAA', small: '01jbbbbbbbbbbbbbbbbbbbbbbb' },
} as const;
type Ids = { readonly card: string; readonly plain: string; readonly sorted: string; readonly small: string };
const kind = compileKind(KindDescription.parse({ id: 'quay/settings', version: 1, title: 'Settings', codecs: [{ path: '$.html', codec: 'html' }, { path: '$.css', codec: 'css' }, { path: '$.json', codec: 'json' }] }));
const site = (address: string, ids: Ids): SiteIndex => {
  const index = new SiteIndex(address, new Map([[kind.id, kind]]));
  for (const [name, id] of Object.entries(ids)) index.add({ kind: 'quay/card', id, name, title: name, etag: 'x', status: 'published', size: 1 });
  index.add({ kind: 'quay/page', id: 12, name: 'fares', title: 'Fares', etag: 'x', status: 'published', size: 1, urls: { '': '/fares/' } });
  return index;
};
const dev = site('https://dev.skerrin.example', IDS.dev);
const live = site('https://skerrin-ferries.example', IDS.live);
const there = (value: unknown): unknown => new Importer(live, new Map([[kind.id, kind]])).local(kind, { value: JSON.parse(new Exporter(dev).portable(kind, value).text) as never, covers: 'all' }).value;

describe('ids that a machine made up', () => {
  test.each([
    ['alone', (ids: Ids) => ({ a: ids.card, b: [ids.plain, ids.sorted, ids.small] })],
    ['inside texts', (ids: Ids) => ({ a: `[[card:${ids.card}]], ${ids.plain}; card-${ids.sorted}.` })],
    ['in markup, styles and JSON', (ids: Ids) => ({ html: `<x-card ref="${ids.card}" data-more='{"c":"${ids.plain}"}'></x-card>`, css: `#card-${ids.card} { color: red }`, json: `{"deep":{"c":"${ids.card}","n":["${ids.sorted}"]}}` })],
    ['as names of members', (ids: Ids) => ({ order: { [ids.card]: 1, [`card:${ids.plain}`]: 2 } })],
    ['in addresses, of the site or not', (ids: Ids) => ({ path: `/cards/${ids.card}/edit`, other: `https://elsewhere.example/?card=${ids.card}` })],
  ])('are followed %s, though no rule leads there', (_where, value) => { expect(there(value(IDS.dev))).toEqual(value(IDS.live)); });

  test('a reference to one is found, so that the route knows of it', () => {
    expect(new Exporter(dev).portable(kind, { a: IDS.dev.card, b: `x ${IDS.dev.sorted}` }).references.map(({ at, to, strong }) => [at, to, strong])).toEqual([['/a', 'card:card', true], ['/b', 'card:sorted', true]]);
  });

  test('what no item has, and what is longer, stays as it is', () => {
    const value = { a: '0b54fe57-9d35-4d0f-8f0e-5c8a3c1c9dff', b: `${IDS.dev.card}00`, c: `x${IDS.dev.plain}`, d: IDS.dev.card.toUpperCase() };
    expect(there(value)).toEqual(value);
  });
});
