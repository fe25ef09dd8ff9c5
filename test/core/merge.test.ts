import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { canonical, mergeValues, type Json } from '../../src/core/index.ts';
import { kindOf } from '../helpers/arbitrary.ts';

const KIND = kindOf({ keyed: [{ path: '$.rows', key: 'key' }] });
const merge = (base: Json, source: Json, target: Json): ReturnType<typeof mergeValues> => mergeValues(KIND, { source: base, target: base }, source, target);
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
