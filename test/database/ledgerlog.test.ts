import { describe, expect, test } from '@jest/globals';
import * as fc from 'fast-check';
import { changedLedger, LedgerChange, type Ledger } from '../../src/protocol/index.ts';
import { blocksOf, Folded } from '../../src/sites/database/ledgerlog.ts';

const address = fc.constantFrom('template:a', 'template:b', 'menu:c', 'settings:__proto__', 'page:ü x');
const [site, run, digest] = [fc.constantFrom('s-dev', 's-old'), fc.constantFrom('r1', 'r2'), fc.constantFrom('d1', 'd2', 'd3')];
const base = fc.record({ address, fromSite: site, source: digest, target: digest, run, covers: fc.option(fc.array(fc.constantFrom('texts', '/a/b'), { minLength: 1 }), { nil: undefined }) })
  .map(({ covers, ...one }) => (covers ? { ...one, covers } : one));
const origin = fc.record({ address, id: fc.oneof(fc.integer({ min: 1 }), fc.constantFrom('a-1', '99999999999999999999')), fromSite: site, run, fingerprint: digest });
const key = ({ address: one, fromSite = '' }: { address: string; fromSite?: string }): string => `${fromSite} ${one}`;
/** A change names each thing once, as an import does. */
const change = fc.record({
  origins: fc.uniqueArray(origin, { selector: (one) => one.address }), forget: fc.uniqueArray(address),
  bases: fc.uniqueArray(base, { selector: key }), forgetBases: fc.uniqueArray(fc.record({ address, fromSite: site }), { selector: key }),
}).map((made) => ({ ...made, forget: made.forget.filter((one) => !made.origins.some((other) => other.address === one)), forgetBases: made.forgetBases.filter((one) => !made.bases.some((other) => key(other) === key(one))) }));
const sortedBy = <T>(list: readonly T[]): string[] => list.map((one) => JSON.stringify(one, Object.keys(one as object).sort())).sort();

function fold(texts: readonly string[], where: string): Folded {
  const folded = new Folded(where);
  for (const text of texts) folded.take(text);
  return folded;
}

describe('the log of a ledger', () => {
  test('comes to what the changes come to, one after the other', () => {
    fc.assert(fc.property(fc.array(change, { maxLength: 6 }), (changes) => {
      const ledger = changes.reduce<Ledger>((before, one) => changedLedger(before, LedgerChange.parse(one)), { runs: [], origins: [], bases: [] });
      const folded = fold(changes.flatMap(blocksOf), 'ledger');
      expect([sortedBy(folded.origins), sortedBy([...folded.bases])]).toEqual([sortedBy(ledger.origins), sortedBy(ledger.bases)]);
      const shortened = fold(blocksOf({ origins: folded.origins, bases: [...folded.bases] }), 'ledger');
      expect([shortened.origins, sortedBy([...shortened.bases]), shortened.logged]).toEqual([folded.origins, sortedBy([...folded.bases]), folded.origins.length + folded.bases.size]);
    }));
  });

  test('stands in few blocks, however many items there are', () => {
    const bases = Array.from({ length: 5001 }, (_, i) => ({ address: `template:sheet-${i}`, fromSite: 's-dev', source: 'd1', target: 'd1', run: 'r1' }));
    const blocks = blocksOf({ bases });
    expect(blocks).toHaveLength(11);
    expect([...fold(blocks, 'ledger').bases]).toHaveLength(5001);
  });

  test('that was altered says so, with the table and what to do', () => {
    for (const text of ['{', '{"bases":[["template:a"]]}', '{"other":1}']) expect(() => fold([text], 'qs_pochette_ledger')).toThrow(expect.objectContaining({ code: 'unreadable', where: 'qs_pochette_ledger' }));
  });
});
