import { PassThrough } from 'node:stream';
import { expect, test } from '@jest/globals';
import { Printer } from '../../src/cli/output/printer.ts';

test('the columns of a long table stand in line from the first row to the last', () => {
  const chunks: string[] = [];
  const stream = Object.assign(new PassThrough(), { columns: 100 });
  stream.on('data', (chunk: Buffer) => { chunks.push(chunk.toString()); });
  const rows = Array.from({ length: 1_234 }, (_, i) => [i === 777 ? 'fares/rush-hour\u001b[2J' : `f/${i}`, i, i === 12 ? 'Words '.repeat(40) : `Title ${i}`]);
  new Printer(stream, false).table(rows);
  const lines = chunks.join('').trimEnd().split('\n');
  // One title is too long for its line.
  expect(lines.length).toBeGreaterThan(1_234);
  const ends = new Set(lines.filter((line) => line.includes('Title ')).map((line) => line.indexOf('Title ')));
  expect(ends.size).toBe(1);
  expect(lines.at(-1)).toMatch(/^ {2}f\/1233 +1233 +Title 1233$/);
  expect(chunks.join('')).not.toContain('\u001b');
});
