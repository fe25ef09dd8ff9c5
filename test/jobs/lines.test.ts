import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, test } from '@jest/globals';
import { eachLine } from '../../src/jobs/records/lines.ts';

describe('the lines of a file', () => {
  const folder = mkdtempSync(join(tmpdir(), 'pochette-lines-'));
  afterAll(() => { rmSync(folder, { recursive: true }); });
  const read = (text: string): string[] => {
    writeFileSync(join(folder, 'lines'), text);
    return Array.from(eachLine(join(folder, 'lines')), (line) => line.toString());
  };

  test('come one after the other, however long, with or without an end', () => {
    expect(read('')).toEqual([]);
    expect(read('one\n\ntwo')).toEqual(['one', '', 'two']);
    expect(read('one\n')).toEqual(['one']);
    const long = ['a'.repeat(300_000), 'b', 'é'.repeat(400_000), '', ...Array.from({ length: 40_000 }, (_, i) => `line ${i}`)];
    expect(read(`${long.join('\n')}\n`)).toEqual(long);
  });

  test('there are none of a file that is not there', () => { expect([...eachLine(join(folder, 'absent'))]).toEqual([]); });
});
