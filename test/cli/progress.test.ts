import { PassThrough } from 'node:stream';
import { setTimeout as wait } from 'node:timers/promises';
import { afterEach, expect, jest, test } from '@jest/globals';
import { Printer } from '../../src/cli/output/printer.ts';
import { progressBar } from '../../src/cli/output/progress.ts';

/** A terminal that only remembers what was written to it. */
function terminal(): { stream: NodeJS.WriteStream; written: () => string } {
  const chunks: string[] = [];
  const stream = Object.assign(new PassThrough(), { isTTY: true, columns: 100 });
  stream.on('data', (chunk: Buffer) => { chunks.push(chunk.toString()); });
  return { stream: stream as unknown as NodeJS.WriteStream, written: () => chunks.join('') };
}

afterEach(() => { jest.restoreAllMocks(); });

test('the bar is off the terminal before anything is printed, and does not come back over it', async () => {
  const { stream, written } = terminal();
  const now = Date.now();
  const clock = jest.spyOn(Date, 'now').mockReturnValue(now);
  const progress = progressBar(stream, true);
  progress.onProgress({ phase: 'reading', done: 0, total: 9 });
  await wait(50);
  expect(written()).toBe('');
  clock.mockReturnValue(now + 2000);
  progress.onProgress({ phase: 'comparing', done: 1, total: 9 });
  for (let i = 0; i < 100 && !written().includes('comparing'); i++) { await wait(20); progress.onProgress({ phase: 'comparing', done: 2, total: 9 }); }
  expect(written()).toContain('of 9');
  new Printer(stream, false, { before: progress.stop }).line('Route from dev to live');
  progress.stop();
  await wait(20);
  expect(written().endsWith('Route from dev to live\n')).toBe(true);
  // Where the cursor was kept is gone back to before the line, and not after it.
  progress.onProgress({ phase: 'importing', done: 3, total: 9 });
  await wait(20);
  expect(written().slice(written().lastIndexOf('Route from'))).toContain('importing');
  progress.stop();
});

test('nothing is shown where no one looks', () => {
  const { stream, written } = terminal();
  const { onProgress, stop } = progressBar(stream, false);
  onProgress({ phase: 'reading', done: 1, total: 9 });
  stop();
  expect(written()).toBe('');
});
