import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { linesIn } from '../../src/pochette/linesin.ts';
import { PackedLines } from '../../src/pochette/packedlines.ts';

describe('packed lines', () => {
  test('are given back one by one, in any order, from as many blocks as they take', () => {
    // Some are longer than a block, and some fill one to its end.
    const line = fc.oneof({ weight: 20, arbitrary: fc.stringMatching(/^[a-zé€ ]{0,300}$/) }, { weight: 1, arbitrary: fc.integer({ min: 65_000, max: 140_000 }).map((length) => 'x'.repeat(length)) });
    fc.assert(fc.property(fc.array(line, { minLength: 1, maxLength: 400 }), (lines) => {
      const packed = new PackedLines();
      for (const one of lines) packed.add(Buffer.from(one));
      expect(packed.length).toBe(lines.length);
      for (const i of [...lines.keys()].reverse()) expect(packed.at(i)).toBe(lines[i]);
      expect(Array.from(lines, (_, i) => packed.at(i))).toEqual(lines);
    }), { numRuns: 40 });
  });

  test('there are none at first', () => { expect(new PackedLines().length).toBe(0); });
});

test('lines are the same however the text comes in pieces', async () => {
  await fc.assert(fc.asyncProperty(fc.array(fc.stringMatching(/^[a-zé€ ]{0,9}$/)), fc.boolean(), fc.array(fc.integer({ min: 1, max: 12 }), { minLength: 1 }), async (lines, ended, sizes) => {
    const text = Buffer.from(lines.join('\n') + (ended && lines.length > 0 ? '\n' : ''));
    const pieces = async function* (): AsyncGenerator<Buffer> { for (let [at, i] = [0, 0]; at < text.length; i++) { const size = sizes[i % sizes.length] ?? 1; yield await Promise.resolve(text.subarray(at, at + size)); at += size; } };
    const found: string[] = [];
    for await (const some of linesIn(pieces())) found.push(...some.map(String));
    expect(found).toEqual(text.toString().replace(/\n$/, '').split('\n').slice(text.length === 0 ? 1 : 0));
  }));
});
