import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { HashTable, Numbers, TextMap, Texts, TextSet } from '../../src/core/columns.ts';

/** Any sequence of code units, halves of pairs among them. */
const anyText = fc.array(fc.oneof(fc.integer({ min: 0, max: 0xff }), fc.integer({ min: 0, max: 0xffff })), { maxLength: 30 }).map((units) => String.fromCharCode(...units));

describe('columns', () => {
  test('give numbers back, also where there are more than fit into one block', () => {
    const [numbers, list] = [new Numbers(), Array.from({ length: 20_000 }, (_, i) => (i % 7 === 0 ? NaN : i * 1e9 - 0.5))];
    for (const number of list) numbers.push(number);
    expect(Array.from(list, (_, i) => numbers.at(i))).toEqual(list);
    expect(numbers.length).toBe(20_000);
    const [whole, up] = [new Numbers({ whole: true }), Array.from({ length: 5000 }, (_, i) => 2 ** 32 - 1 - i)];
    for (const number of up) whole.push(number);
    expect(Array.from(up, (_, i) => whole.at(i))).toEqual(up);
  });

  test('give texts back as they were, whatever is in them', () => {
    const digest = fc.stringMatching(/^[0-9a-fA-F]{63,65}$/);
    fc.assert(fc.property(fc.array(fc.oneof(anyText, digest), { maxLength: 50 }), (list) => {
      const texts = new Texts();
      for (const text of list) texts.push(text);
      expect(Array.from(list, (_, i) => texts.at(i))).toEqual(list);
    }));
  });

  test('texts fill blocks to their last byte, and longer ones have a block of their own', () => {
    const list = ['a'.repeat(1024), '', 'é'.repeat(65_536), '', '', 'b', 'c'.repeat(200_000), 'd', '€'.repeat(40_000), '', ...Array.from({ length: 5000 }, (_, i) => 'x'.repeat(i % 91) + String(i))];
    const texts = new Texts();
    for (const text of list) texts.push(text);
    expect(Array.from(list, (_, i) => texts.at(i))).toEqual(list);
    expect([texts.at(-1), texts.at(list.length), texts.length]).toEqual(['', '', list.length]);
  });

  test('a set says which one a text is, and keeps each once', () => {
    fc.assert(fc.property(fc.array(fc.oneof(anyText, fc.constantFrom('a', 'b', 'ab')), { maxLength: 200 }), (list) => {
      const set = new TextSet();
      const known = new Map<string, number>();
      for (const text of list) {
        if (!known.has(text)) known.set(text, known.size);
        expect(set.add(text)).toBe(known.get(text));
      }
      expect([...set]).toEqual([...known.keys()]);
      for (const [text, i] of known) expect(set.find(text)).toBe(i);
      expect(set.find('nowhere to be found')).toBeUndefined();
    }));
  });

  test('a map gives for each text what was put there last', () => {
    fc.assert(fc.property(fc.array(fc.tuple(fc.constantFrom<string[]>('a', 'b', 'ab', ''), anyText), { maxLength: 50 }), (list) => {
      const [map, known] = [new TextMap(), new Map(list)];
      for (const [key, value] of list) map.set(key, value);
      for (const key of ['a', 'b', 'ab', '', 'c']) expect([map.has(key), map.get(key)]).toEqual([known.has(key), known.get(key)]);
    }));
  });

  test('a table tells apart what has the same hash, and replaces what is the same', () => {
    const names = ['pier', 'mast', 'buoy'];
    const table = new HashTable();
    names.forEach((_, i) => { table.set(7, i, () => false); });
    for (const [i, name] of names.entries()) expect(table.find(7, (one) => names[one] === name)).toBe(i);
    expect(table.find(7, () => false)).toBeUndefined();
    table.set(7, 9, (one) => one === 1);
    expect([table.size, table.find(7, (one) => one === 9), table.find(7, (one) => one === 1)]).toEqual([3, 9, undefined]);
  });
});
