import { describe, expect, test } from '@jest/globals';
import { Importer, settle, SiteIndex } from '../../src/core/index.ts';
import { kindOf } from '../helpers/arbitrary.ts';

const leaveGone = (value: object, kind = kindOf()): unknown => settle({ kind, value: value as never }, (address) => (address.includes('gone') ? { leave: true } : undefined), (address) => `/${address.slice(address.indexOf(':') + 1)}/`);
const [A, B, X] = ['⟦id page:gone-a⟧', '⟦id page:gone-b⟧', '⟦id page:here⟧'];

test.each([
  [`<!-- x {"pages":[${A},${X},${B}],"n":1} -->`, `<!-- x {"pages":[${X}],"n":1} -->`], [`[${A},${B}]`, '[]'], [`[${X}, ${A}, ${X}]`, `[${X}, ${X}]`], [`{"page":${A},"next": ${B} }`, '{"page":0,"next": 0 }'], [`{"page":"${A}"}`, '{"page":""}'],
  [`[box pages="${A},${X}" more='${X}|${B}' page=${A} k]`, `[box pages="${X}" more='${X}' page= k]`], [`include=${A},${X}&exclude=${X},${A}&n=2`, `include=${X}&exclude=${X}&n=2`], [`${X},${A}`, X], [`${A},${X}`, X],
  [`{&quot;pages&quot;:[${A},${X}]}`, `{&quot;pages&quot;:[${X}]}`], [`at tide-${A}, then more; or ${X}, they say`, `at tide-, then more; or ${X}, they say`], [`<a href="⟦site⟧⟦path page:gone-a⟧">x</a>`, '<a href="⟦site⟧/gone-a/">x</a>'], [`x${A}${B}y`, 'xy'],
])('ids that are left out of a text leave it whole: %s', (text, wanted) => { expect(leaveGone({ text })).toEqual({ text: wanted }); });

test('of rows under one name one is the value, and none is nothing; other lists stay lists', () => {
  const kind = kindOf({ several: ['$.fields.*'] });
  expect(leaveGone({ list: [1], fields: { none: [], one: ['a'], two: ['a', 'b'], text: 'a', inside: { list: [1] } } }, kind)).toEqual({ list: [1], fields: { one: 'a', two: ['a', 'b'], text: 'a', inside: { list: [1] } } });
});

test('an object keeps its class, and a map its order', () => {
  expect(leaveGone({ text: A, o: { '@php': { '@ordered': [['a', 1], ['b', { '@ordered': [['9', A], ['1', 'x']] }]], class: 'Tide' } } })).toEqual({ text: '', o: { '@php': { '@ordered': [['a', 1], ['b', { '@ordered': [['9', ''], ['1', 'x']] }]], class: 'Tide' } } });
});

test('how a text of JSON is spaced and escaped by place says nothing of one from which something was left out', () => {
  const packed = (how: string, members: [string, number][]) => ({ text: { '@json': { '@ordered': members }, how } });
  expect(leaveGone(packed('slashes but=1 gaps=s1,,,s1,,,s1,', [[A, 1], [X, 2]]))).toEqual(packed('slashes', [[X, 2]]));
  expect(leaveGone(packed('slashes but=1', [['a', 1], [X, 2]]))).toEqual(packed('slashes but=1', [['a', 1], [X, 2]]));
});

test('ids that a site does not have yet leave a text whole, and are said to be missing', () => {
  const kind = kindOf();
  const kinds = new Map([[kind.id, kind]]);
  const index = new SiteIndex('https://live.example', kinds);
  const { value, missing } = new Importer(index, kinds).local(kind, { value: { text: `{"pages":[${A},7,${B}],"page":${A}} [box pages="${A}"]` }, covers: 'all' });
  expect(value).toEqual({ text: '{"pages":[7],"page":0} [box pages=""]' });
  expect(missing.map(({ to }) => to)).toEqual(['page:gone-a', 'page:gone-b', 'page:gone-a', 'page:gone-a']);
});

describe('a row without which the site takes nothing of what it points to', () => {
  const kind = kindOf({ firm: ['$.rows..label', '$.rows..cells..page'] });
  const reference = (to: string) => ({ '@ref': to });
  const rows = [{ label: reference('page:gone-a'), n: 1 }, { label: reference('page:here'), n: 2, cells: [{ page: reference('page:gone-b') }, { page: reference('page:here') }] }];
  test('stays behind, and what it lies in comes', () => {
    expect(leaveGone({ rows, list: [reference('page:gone-a'), reference('page:here')], label: reference('page:gone-a') }, kind)).toEqual({ rows: [{ label: reference('page:here'), n: 2, cells: [{ page: reference('page:here') }] }], list: [reference('page:here')], label: 0 });
  });
  test('is left out too where the target turns out to lack that', () => {
    const index = new SiteIndex('https://live.example', new Map([[kind.id, kind]]));
    index.add({ kind: kind.id, id: 7, name: 'here', title: 'Here', etag: '""', status: 'published', size: 0 });
    const on = (value: object): unknown => JSON.parse(JSON.stringify(value).replaceAll('page:here', `${kind.short}:here`)) as unknown;
    const { value } = new Importer(index, new Map([[kind.id, kind]])).local(kind, { value: on({ rows }) as never, covers: 'all' });
    expect(value).toEqual({ rows: [{ label: 7, n: 2, cells: [{ page: 7 }] }] });
  });
});
