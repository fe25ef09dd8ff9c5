import { describe, expect, test } from '@jest/globals';
import { isDeepStrictEqual } from 'node:util';
import fc from 'fast-check';
import { applyChanges, canonical, compareValues, fingerprint, Importer, type Json } from '../../src/core/index.ts';
import { canonicalNotation, notate, readNotation } from '../../src/core/translate/notation.ts';
import { kindOf, portableOf, trickyJson, twoSites } from '../helpers/arbitrary.ts';

const PLAIN = kindOf();
const RICH = kindOf({
  codecs: [{ path: '$.blob', codec: 'json' }, { path: '$.list', codec: 'list' }, { path: '$.html', codec: 'html', attributes: { 'data-t': 'template' }, comments: { id: 'template' } }, { path: '$.link', codec: 'url' }, { path: '$.blob.inner', codec: 'json' }],
  references: [{ path: '$.ref', to: 'template' }, { path: '$.list[*]', to: 'template' }, { path: '$.byName', to: 'template', by: 'name' }, { path: '$.keys', to: 'template', in: 'keys' }, { path: '$.blob.ids', to: 'template' }],
  keyed: [{ path: '$.rows', key: 'key' }],
});
const { dev, live, kinds } = twoSites(RICH, ['a', 'b', 'c']);

/** Jest's own comparison is misled by a member called "constructor". */
function expectSame(a: unknown, b: unknown): void {
  if (!isDeepStrictEqual(a, b)) expect(a).toStrictEqual(b);
  expect(isDeepStrictEqual(a, b)).toBe(true);
}

/** Packed JSON inside packed JSON, opened. */
function unpacked(text: string): unknown {
  return JSON.parse(text, (key, value: unknown) => { if (key !== 'inner' || typeof value !== 'string') return value; try { return JSON.parse(value) as unknown; } catch { return value; } });
}

function roundTrip(kind: typeof PLAIN, value: unknown): unknown {
  const portable = portableOf(dev, kind, value);
  return new Importer(dev, kinds).local(kind, { value: portable.value, covers: 'all' }).value;
}

const richValue = fc.record({
  ref: fc.constantFrom(0, 1_000_000, 1_000_001, 1_999_999, '1000002', '007', 'x'),
  list: fc.constantFrom('', '1000000,1000001', '1000000, 1000002', '5,6', '1000000'),
  byName: fc.constantFrom('a', 'b', 'nobody', ''),
  keys: fc.dictionary(fc.constantFrom('1000000', '1000001', 'plain', '@x'), trickyJson, { maxKeys: 3, noNullPrototype: true }),
  link: fc.constantFrom('/fares/', 'http://dev.example/fares/', '//dev.example/x', 'dev.example', 'dev.example/fares/', '/other/', ''),
  html: fc.array(fc.constantFrom('<p>', '<a href="/fares/">', '<a href="http://dev.example/fares/?a=1#x">', '<b data-t="1000001">', '<!-- block {"id":1000002,"x":"\\"id\\":1000002"} -->', '<!-- {"id":[1000000,1000001]} -->', '<img src="https://dev.example/uploads/1000000/pier-small.png">', 'http:\\/\\/dev.example\\/fares\\/', 'http%3A%2F%2Fdev.example%2Ffares%2F', 'http://dev.example.org/', 'http://dev.example:81/', ' dev.example ', ' dev.example/fares/ ', ' a@dev.example ', '<', '⟦', 'text '), { maxLength: 8 }).map((parts) => parts.join('')),
  blob: fc.oneof(trickyJson, fc.record({ ids: fc.constantFrom([1_000_000, 1_000_001], 1_000_002), inner: trickyJson.map((one) => JSON.stringify(one)), url: fc.constant('http://dev.example/a/b') }, { noNullPrototype: true })).map((one) => JSON.stringify(one)),
  rows: fc.array(fc.record({ key: fc.constantFrom('x', 'y', 'z'), n: fc.integer() }, { noNullPrototype: true }), { maxLength: 3 }),
}, { noNullPrototype: true });

describe('to portable form and back', () => {
  test('is the identity for every I-JSON value and any text', () => {
    fc.assert(fc.property(trickyJson, (value) => { expectSame(roundTrip(PLAIN, value), value); }), { numRuns: 2000 });
  });

  test('is the identity for what JSON would lose', () => {
    for (const value of [-0, NaN, Infinity, -Infinity, 12345678901234567890n, new Uint8Array([0, 255]), '\ud800', { a: ['\udc00x'] }]) expect(roundTrip(PLAIN, value)).toStrictEqual(value);
  });

  test('is the identity for references, packed values and texts, up to the order of members in packed JSON', () => {
    fc.assert(fc.property(richValue, (value) => {
      const back = roundTrip(RICH, value) as typeof value;
      expectSame({ ...back, blob: null }, { ...value, blob: null });
      expectSame(unpacked(back.blob), unpacked(value.blob));
    }), { numRuns: 1000 });
  });

  test('gives packed JSON back to the byte where the site has the item already', () => {
    fc.assert(fc.property(richValue, (value) => {
      const portable = portableOf(dev, RICH, value);
      expectSame(new Importer(dev, kinds).local(RICH, { value: portable.value, covers: 'all' }, value).value, value);
    }), { numRuns: 500 });
  });

  test('what is no value is named and left out', () => {
    const portable = portableOf(dev, PLAIN, { a: 1, b: () => 1, c: [Symbol('x')], d: new Date(0) });
    expect(portable.leftOut.map((one) => one.at).sort()).toEqual(['/b', '/c/0', '/d']);
    expect(portable.value).toEqual({ a: 1, c: [null] });
  });

  test('what is nested too deep is named and left out', () => {
    let deep: Json = 'end';
    for (let i = 0; i < 80; i++) deep = { a: deep };
    const { leftOut } = portableOf(dev, PLAIN, deep);
    expect(leftOut).toHaveLength(1);
    expect(leftOut[0]?.why).toBe('too deep');
  });
});

describe('the fingerprint', () => {
  const of = (value: unknown, index = dev): string => fingerprint({ address: 'template:a', covers: 'all', kind: RICH.id, value: portableOf(index, RICH, value).value });

  test('does not depend on the order of keys', () => {
    fc.assert(fc.property(fc.dictionary(fc.string(), trickyJson, { noNullPrototype: true }), (value) => {
      expect(of(Object.fromEntries(Object.entries(value).reverse()))).toBe(of(value));
    }));
  });

  test('does not depend on site, ids or address: carried to another site, an item has the same one', () => {
    fc.assert(fc.property(richValue.filter((value) => value.ref !== 1_999_999 && !/(^|,)[56](,|$)/.test(value.list)), (value) => {
      const { value: portable } = portableOf(dev, RICH, value);
      const there = new Importer(live, kinds).local(RICH, { value: portable, covers: 'all' });
      expect(there.missing).toEqual([]);
      expect(of(there.value, live)).toBe(of(value));
      expect(JSON.stringify({ ...there.value as object, blob: '' })).not.toMatch(/(?<!@)dev\.example(?!\.org|:81)/);
    }), { numRuns: 500 });
  });
});

describe('notation', () => {
  test('read back, it is what was written', () => {
    fc.assert(fc.property(trickyJson, (value) => { expectSame(readNotation(notate(value as Json)), value); }), { numRuns: 1000 });
  });
  test('is canonical JSON, whichever way it is written', () => {
    fc.assert(fc.property(richValue, (value) => { const { text, value: json } = portableOf(dev, RICH, value); expect(text).toBe(canonical(json)); expect(canonicalNotation(readNotation(json))).toBe(text); }));
  });
  test('is read once, however deep maps with references as keys are nested', () => {
    const deep = (levels: number): Json => (levels === 0 ? 1 : { plain: deep(levels - 1), '⟦id template:x⟧': 2 });
    expect(notate(readNotation(deep(60)))).toEqual(deep(60));
  });
  test.each([[{ '@unknown': 1 }], [{ '@ref': 'a:b', extra: 1 }], ['⟦nonsense⟧'], ['⟦id'], [{ '@ordered': [1] }], [{ '@ref': 5 }]])('refuses %j', (json) => {
    expect(() => readNotation(json as Json)).toThrow(/not known to this version/);
  });
});

describe('comparison', () => {
  const keyedJson = fc.record({ rows: fc.uniqueArray(fc.record({ key: fc.constantFrom('a', 'b', 'c', 'd'), v: trickyJson }, { noNullPrototype: true }), { selector: (row) => row.key }), other: trickyJson }, { noNullPrototype: true });
  const portable = (value: unknown): Json => portableOf(dev, RICH, value).value;

  test('of a thing with itself is empty', () => {
    fc.assert(fc.property(fc.oneof(trickyJson, keyedJson, richValue), (value) => { expect(compareValues(RICH, portable(value), portable(value))).toEqual([]); }));
  });
  test('applied to the target gives the source', () => {
    fc.assert(fc.property(fc.oneof(trickyJson, keyedJson, richValue), fc.oneof(trickyJson, keyedJson, richValue), (a, b) => {
      const [source, target] = [portable(a), portable(b)];
      const same = canonical(source) === canonical(target);
      expect(compareValues(RICH, source, target).length === 0).toBe(same);
      expect(canonical(applyChanges(RICH, target, source))).toBe(canonical(source));
    }), { numRuns: 1000 });
  });
  test('goes by key in keyed lists, and names order apart', () => {
    const changes = compareValues(RICH, { rows: [{ key: 'b', v: 1 }, { key: 'a', v: 2 }] }, { rows: [{ key: 'a', v: 3 }, { key: 'b', v: 1 }] });
    expect(changes).toEqual([{ change: 'differs', at: '/rows/a/v', source: 2, target: 3 }, { change: 'order', at: '/rows', source: ['b', 'a'], target: ['a', 'b'] }]);
  });
});
