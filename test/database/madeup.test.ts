import { expect, test } from '@jest/globals';
import { inEverySort } from '../helpers/databasepair.ts';
import { MadeUp } from '../helpers/madeup.ts';

/** Shapes that a draft has to make out by itself: a database each, with things that refer to one another in all the ways that there are. */
const SEEDS = [20, 21, 25, 27, 28, 30, 33, 36];

for (const seed of SEEDS) {
  inEverySort(`a database of a made-up shape, ${seed},`, (sort, site) => new MadeUp(seed, sort).statements(site), (pair, sort) => {
    test('is drafted, and everything arrives with what it means; there is nothing left to do, and an undo takes it back', async () => {
      const world = new MadeUp(seed, sort);
      await pair.drafted();
      const seen = (): string[] => world.seen((query) => pair.rows(query), 'live');
      const wanted = world.seen((query) => pair.rows(query, 'dev'), 'dev');
      const before = seen();
      const ran = await pair.bench.run('import', 'dev', 'live', '--yes', '--decide', 'source', '--json');
      expect([ran.err, ran.code]).toEqual(['', 0]);
      expect(seen()).toEqual(wanted);
      expect((await pair.bench.run('import', 'dev', 'live', '--yes')).out).toContain('Nothing to do');
      expect((await pair.bench.run('undo', 'live', '--yes')).code).toBe(0);
      expect(seen()).toEqual(before);
    });
  });
}
