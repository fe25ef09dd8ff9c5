import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { PackedLines } from '../../src/pochette/packedlines.ts';

describe('packed lines', () => {
  test('are given back one by one, in any order, from as many blocks as they take', () => {
    // Some are longer than a block, and some fill one to its end.
    const line = fc.oneof({ weight: 20, arbitrary: fc.stringMatching(/^[a-zé€ ]{0,300}$/) }, { weight: 1, arbitrary: fc.integer({ min: 65_000, max: 140_000 }).map((length) => 'x'.repeat(length)) });
    fc.assert(fc.property(fc.array(line, { minLength: 1, maxLength: 400 }), fc.boolean(), (lines, ended) => {
      const text = lines.join('\n') + (ended || lines.at(-1) === '' ? '\n' : '');
      const packed = new PackedLines(Buffer.from(text));
      expect(packed.length).toBe(lines.length);
      for (const i of [...lines.keys()].reverse()) expect(packed.at(i)).toBe(lines[i]);
      expect(Array.from(lines, (_, i) => packed.at(i))).toEqual(lines);
    }), { numRuns: 40 });
  });

  test('there are none in an empty text', () => { expect(new PackedLines(Buffer.alloc(0)).length).toBe(0); });
});
