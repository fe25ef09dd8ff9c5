import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { applyChanges, canonical, compareValues, mergeTexts, threeWay, type Json, type Side } from '../../src/core/index.ts';
import { kindOf } from '../helpers/arbitrary.ts';

const KIND = kindOf({ keyed: [{ path: '$.rows', key: 'key' }] });
function merge(base: Json, source: Json, target: Json, winner?: Side): { merged: true; value: Json } | { merged: false; clashes: readonly string[] } {
  const three = threeWay(KIND, { source: base, target: base }, source, target);
  const value = three.merged(winner && (() => winner));
  return value === undefined ? { merged: false, clashes: three.clashes } : { merged: true, value };
}
const value = fc.record({
  title: fc.constantFrom('a', 'b', 'c'), size: fc.integer({ min: 0, max: 3 }), style: fc.dictionary(fc.constantFrom('ink', 'ground', 'gap'), fc.constantFrom('#111', '#222', '#333'), { noNullPrototype: true }),
  rows: fc.uniqueArray(fc.record({ key: fc.constantFrom('p', 'q', 'r', 's'), label: fc.constantFrom('x', 'y') }), { selector: (row) => row.key }),
}) as fc.Arbitrary<Json>;

test('different places merge by themselves; one place changed to two things is a clash', () => {
  const base = { title: 'a', style: { ink: '#111' }, rows: [{ key: 'p', label: 'x' }, { key: 'q', label: 'x' }] };
  const source = { title: 'b', style: { ink: '#111' }, rows: [{ key: 'p', label: 'y' }, { key: 'q', label: 'x' }, { key: 'r', label: 'n' }] };
  const target = { title: 'a', style: { ink: '#999', gap: 4 }, rows: [{ key: 'p', label: 'x' }, { key: 'q', label: 'z' }] };
  expect(merge(base, source, target)).toEqual({ merged: true, value: { title: 'b', style: { ink: '#999', gap: 4 }, rows: [{ key: 'p', label: 'y' }, { key: 'q', label: 'z' }, { key: 'r', label: 'n' }] } });
  expect(merge(base, { ...source, style: { ink: '#000' } }, target)).toEqual({ merged: false, clashes: ['/style/ink'] });
  expect(merge(base, { ...base, rows: [] }, target)).toEqual({ merged: false, clashes: ['/rows/q'] });
  expect(merge(base, { ...source, style: { ink: '#999' } }, target)).toMatchObject({ merged: true, value: { style: { ink: '#999', gap: 4 } } });
});

test('JSON in a text merges inside, however each side writes it; what is only written otherwise is a change of the whole', () => {
  const packed = (body: Json, how = ''): Json => ({ packed: how === '' ? { '@json': body } : { '@json': body, how } });
  const [base, source, target] = [packed({ a: 1, b: 'x' }, 'ascii'), packed({ a: 2, b: 'x' }), packed({ a: 1, b: '/fares/' }, 'spaced ascii slashes')];
  // The source has no sign any more that would be escaped; the target writes two things otherwise.
  expect(merge(base, source, target)).toEqual({ merged: true, value: packed({ a: 2, b: '/fares/' }, 'spaced slashes') });
  expect(merge(base, target, source)).toEqual({ merged: true, value: packed({ a: 2, b: '/fares/' }, 'spaced slashes') });
  expect(merge(base, packed({ a: 1, b: 'y' }, 'wide'), target)).toEqual({ merged: false, clashes: ['/packed/b'] });
  // Where the source is right everywhere, its gaps are right too; else nothing is known of them.
  const uneven = packed({ a: 1, b: 'z' }, 'gaps=,s2');
  expect(merge(base, uneven, base)).toEqual({ merged: true, value: uneven });
  expect(merge(base, uneven, packed({ a: 3, b: 'x' }))).toEqual({ merged: true, value: packed({ a: 3, b: 'z' }) });
  expect(compareValues(KIND, source, target)).toEqual([{ change: 'differs', at: '/packed/a', source: 2, target: 1 }, { change: 'differs', at: '/packed/b', source: 'x', target: '/fares/' }]);
  expect(compareValues(KIND, packed([1], 'wide'), packed([1]))).toEqual([{ change: 'differs', at: '/packed', source: { '@json': [1], how: 'wide' }, target: { '@json': [1] } }]);
  expect(applyChanges(KIND, target, source)).toEqual(source);
});

test('where one side did not move, the other one comes out', () => {
  fc.assert(fc.property(value, value, (base, moved) => {
    expect(merge(base, moved, base)).toEqual({ merged: true, value: JSON.parse(canonical(moved)) as Json });
    expect(canonical((merge(base, base, moved) as { value: Json }).value)).toBe(canonical(moved));
  }));
});

test('the sides can be exchanged; nothing comes out that neither side nor the base had', () => {
  const leaves = (json: Json): string[] => (typeof json === 'object' && json !== null ? Object.values(json).flatMap((one) => leaves(one)) : [JSON.stringify(json)]);
  const sorted = (json: Json): string => canonical({ ...(json as Record<string, Json>), rows: [...((json as { rows: { key: string }[] }).rows)].sort((a, b) => (a.key < b.key ? -1 : 1)) });
  fc.assert(fc.property(value, value, value, (base, a, b) => {
    const [one, other] = [merge(base, a, b), merge(base, b, a)];
    expect(one.merged).toBe(other.merged);
    if (!one.merged || !other.merged) return;
    expect(sorted(one.value)).toBe(sorted(other.value));
    const known = new Set([base, a, b].flatMap(leaves));
    expect(leaves(one.value).every((leaf) => known.has(leaf))).toBe(true);
  }), { numRuns: 300 });
});

test('a clash with a winner: its value at that place, and everything else of both', () => {
  fc.assert(fc.property(value, value, value, (base, a, b) => {
    const [ours, theirs] = [merge(base, a, b, 'source'), merge(base, b, a, 'target')];
    expect(ours.merged && theirs.merged).toBe(true);
    const three = threeWay(KIND, { source: base, target: base }, a, b);
    for (const at of three.clashes) if (['/title', '/size'].includes(at)) expect((ours as { value: Record<string, Json> }).value[at.slice(1)]).toEqual((a as Record<string, Json>)[at.slice(1)]);
    if (three.clashes.length > 0) expect(merge(base, a, b).merged).toBe(false);
  }), { numRuns: 300 });
});

test('orders: what both moved is put together, what one side added stays where it was put', () => {
  const rows = (keys: string): Json => ({ rows: Array.from(keys, (key) => ({ key, label: 'x' })) });
  const keys = (base: string, source: string, target: string): string => { const got = merge(rows(base), rows(source), rows(target)); return got.merged ? (got.value as { rows: { key: string }[] }).rows.map((row) => row.key).join('') : 'clash'; };
  expect(keys('abcdef', 'bacdef', 'abcdfe')).toBe('bacdfe');
  expect(keys('abcd', 'nabcd', 'abdc')).toBe('nabdc');
  expect(keys('abcd', 'dabc', 'abcdz')).toBe('dzabc');
  expect(keys('abcd', 'bacd', 'acd')).toBe('acd');
  expect(keys('abcd', 'bacd', 'cabd')).toBe('clash');
  // Names that read the same one behind the other in either order.
  const [base, source, target] = [['1', '11', '2', '3'], ['2', '1', '11', '3'], ['2', '11', '1', '3']].map((names): Json => ({ rows: names.map((key) => ({ key })) })) as [Json, Json, Json];
  expect(merge(base, source, target).merged).toBe(false);
});

test('texts are put together by line, markup by tag; what would not be nested is a clash', () => {
  expect(mergeTexts('one\ntwo\nthree\n', 'One\ntwo\nthree\n', 'one\ntwo\nThree\n')).toBe('One\ntwo\nThree\n');
  expect(mergeTexts('one\ntwo\n', 'one\n2\n', 'one\nzwei\n')).toBeUndefined();
  const page = '<section><h2>Sailings</h2><p>Daily</p><hr><p>Not in storms</p></section>';
  expect(mergeTexts(page, page.replace('Daily', 'Twice a day'), page.replace('<h2>', '<h2 class="big">').replace('storms', 'a storm'))).toBe('<section><h2 class="big">Sailings</h2><p>Twice a day</p><hr><p>Not in a storm</p></section>');
  // One side takes the section away around it, the other one closes it earlier.
  expect(mergeTexts('<div><p>a</p><p>b</p></div>', '<p>a</p><p>b</p></div>', '<div><p>a</p><p>c</p></div>')).toBeUndefined();
  const box = '<!-- box {"a":1} --><p>x</p><!-- /box --><p>y</p><!-- line /-->';
  expect(mergeTexts(box, box.replace('"a":1', '"a":2'), box.replace('y', 'z'))).toBe('<!-- box {"a":2} --><p>x</p><!-- /box --><p>z</p><!-- line /-->');
  expect(mergeTexts(box, box.replace('<!-- /box -->', ''), box.replace('y', 'z'))).toBeUndefined();
  const script = '<p>a</p><script>if (1<p) {\n  go("</p>");\n}</script>';
  expect(mergeTexts(script, script.replace('a', 'b'), script.replace('go', 'stay'))).toBe('<p>b</p><script>if (1<p) {\n  stay("</p>");\n}</script>');
});

test('texts: identity where one side did not move, the same either way round, and no piece that none had', () => {
  const piece = fc.constantFrom('<p>a</p>', '<p>b</p>', '<ul><li>c</li></ul>', '<br>', 'text ', '\n', '<!-- x -->');
  const html = fc.array(piece, { maxLength: 12 }).map((pieces) => pieces.join(''));
  fc.assert(fc.property(html, html, html, (base, a, b) => {
    expect(mergeTexts(base, a, base)).toBe(a);
    expect(mergeTexts(base, base, b)).toBe(b);
    const [one, other] = [mergeTexts(base, a, b), mergeTexts(base, b, a)];
    expect(one).toBe(other);
    if (one !== undefined) expect(one.split(/(?=<)/).every((part) => [base, a, b].some((known) => known.includes(part.trim())))).toBe(true);
  }), { numRuns: 400 });
});

test('answers that exclude each other are refused: one change cannot be taken back for one place and kept for another', () => {
  const [base, source, target] = [{ box: { a: 1, b: 1 } }, { box: { a: 2, b: 2 } }, {}];
  const three = threeWay(KIND, { source: base, target: base }, source, target);
  expect(three.clashes).toEqual(['/box/a', '/box/b']);
  expect(three.merged(() => 'source')).toEqual({ box: { a: 2, b: 2 } });
  expect(three.merged(() => 'target')).toEqual({});
  expect(() => three.merged((at) => (at === '/box/a' ? 'source' : 'target'))).toThrow(/the answers to \/box\/b and \/box\/a exclude each other/);
});
