import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, test } from '@jest/globals';
import type { SourceRow } from '../../src/core/source.ts';
import { RowMemory } from '../../src/jobs/records/memory.ts';

describe('what is remembered of a site', () => {
  const folder = mkdtempSync(join(tmpdir(), 'pochette-memory-'));
  afterAll(() => { rmSync(folder, { recursive: true }); });
  const path = join(folder, 'site.ndjson');
  const memory = new RowMemory(path);

  /** Some lines are short, some are longer than what is read at once. */
  const row = (i: number): SourceRow => ({
    address: `entry:board-${String(i).padStart(5, '0')}`, kind: 'entry-store/entry', title: 'x'.repeat(i % 997 === 0 ? 30_000 : i % 90), covers: 'all', fingerprint: String(i).padStart(64, '0'),
    references: [], files: [], withheld: [], lost: [], leftOut: [], size: i, load: () => Promise.reject(new Error('not asked for')),
  });
  const COUNT = 5_000;
  const learning = memory.learn('environment');
  for (let i = 0; i < COUNT; i++) learning.add(`"e${i}"`, row(i));
  learning.keep();

  /** Asked for one way through. */
  const found = (wanted: readonly number[], etag = (i: number) => `"e${i}"`): (string | undefined)[] => {
    const recall = memory.recall('environment');
    try { return wanted.map((i) => { const line = recall.find(row(i).address, etag(i)); return line === undefined ? undefined : (JSON.parse(line) as SourceRow).fingerprint; }); } finally { recall.close(); }
  };
  const known = (wanted: readonly number[]): string[] => wanted.map((i) => row(i).fingerprint);

  test.each([
    ['all', 1], ['many', 7], ['some far from one another', 211], ['few', 1_499],
  ])('is found, %s', (_name, step) => {
    const wanted = Array.from({ length: Math.ceil(COUNT / step) }, (_, i) => i * step);
    expect(found(wanted)).toEqual(known(wanted));
  });

  test('the last is found, what is not there or was changed is not, and what comes after that is', () => {
    expect(found([COUNT - 1])).toEqual(known([COUNT - 1]));
    expect(found([3, 2_500, 4_000, COUNT + 7], (i) => (i === 2_500 ? '"other"' : `"e${i}"`))).toEqual([...known([3]), undefined, ...known([4_000]), undefined]);
    expect(memory.recall('another environment').open).toBe(false);
  });

  test('nothing behind a damaged line is believed, wherever one comes upon it', () => {
    const lines = readFileSync(path, 'utf8').split('\n');
    for (let i = 1_000; i < lines.length; i++) lines[i] = `${lines[i]?.slice(0, -1)}`;
    writeFileSync(path, lines.join('\n'));
    expect(found([998, 1_500, 4_900])).toEqual([...known([998]), undefined, undefined]);
  });
});
