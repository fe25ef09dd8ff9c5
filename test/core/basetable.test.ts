import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { BaseTable, type BaseEntry } from '../../src/core/basetable.ts';

test('a table of bases holds what a map of them would, whatever is set and removed', () => {
  const key = fc.record({ fromSite: fc.constantFrom('s-dev', 's-other'), address: fc.constantFrom('board:a', 'board:b', 'board:é', 'constructor:__proto__', 'board:€') });
  const change = fc.oneof(
    fc.tuple(key, fc.record({ source: fc.stringMatching(/^[0-9a-f]{0,64}$/), target: fc.stringMatching(/^[0-9a-f]{2}$/), run: fc.constantFrom('r1', 'r2') }), fc.option(fc.array(fc.string()), { nil: undefined }))
      .map(([one, rest, covers]): BaseEntry => ({ ...one, ...rest, ...(covers ? { covers } : {}) })),
    key,
  );
  fc.assert(fc.property(fc.array(change), (changes) => {
    const [table, map] = [new BaseTable(), new Map<string, BaseEntry>()];
    for (const one of changes) {
      if ('run' in one) { table.from(one.fromSite).set(one); map.set(`${one.fromSite} ${one.address}`, one); } else { table.from(one.fromSite).remove(one.address); map.delete(`${one.fromSite} ${one.address}`); }
    }
    const known = [...map.values()];
    expect([table.size, new Set(table)]).toEqual([known.length, new Set(known)]);
    for (const { fromSite, address } of changes) {
      expect(table.from(fromSite).get(address)).toEqual(map.get(`${fromSite} ${address}`));
      expect(table.from(fromSite).has(address)).toBe(map.has(`${fromSite} ${address}`));
    }
    expect(table.from('s-nowhere').get('board:a')).toBeUndefined();
  }));
});
