import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { json } from '../helpers/imports.ts';
import { Bench, changeOn } from '../helpers/sites.ts';

const bench = new Bench();
beforeAll(async () => { await bench.start('dev', 'live'); });
afterAll(async () => { await bench.stop(); });

const by = async (address: string): Promise<unknown> => (json((await bench.run('compare', 'dev', 'live', address, '--json')).out) as { items: { by?: string }[] }).items[0]?.by;

test('what was the same already stays known when an import is taken back; what was carried does not', async () => {
  // The same on both before anything is carried.
  for (const site of ['dev', 'live']) await changeOn(bench.site(site), 'tholepin/style', 'site-style', () => ({ css: '.same{}', label: 'The same' }));
  expect((await bench.run('import', 'dev', 'live', 'style:*', 'template:winter-timetable', '--yes')).code).toBe(0);
  expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
  await changeOn(bench.site('live'), 'tholepin/style', 'site-style', (value) => ({ ...value, label: 'By hand' }));
  expect([await by('style:site-style'), await by('template:winter-timetable')]).toEqual(['target', undefined]);
});
