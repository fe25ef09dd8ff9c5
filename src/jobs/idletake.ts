import { parsePlace, placeOf } from '../core/address.ts';
import { isPlace } from '../core/coverage.ts';
import { Problem } from '../core/problem.ts';
import type { SourceRow } from '../core/source.ts';

/** Refuses what was to be taken from an item and is not kept back there at all, or is a secret: nobody shall believe that it came along. */
export function refuseIdleTakes(row: SourceRow, take: readonly string[] | undefined): void {
  for (const text of take ?? []) {
    const { address, at } = parsePlace(text);
    if (address !== row.address || (row.taken ?? []).some((one) => (isPlace(at) ? one.at === at || one.at.startsWith(`${at}/`) : one.part === at))) continue;
    const held = row.withheld.filter((one) => one.why === 'site-bound' || one.why === 'unasked').map((one) => placeOf(address, one.at));
    const secret = row.withheld.some((one) => one.why === 'secret' && one.at === at);
    throw new Problem('usage', secret ? `${text} is a secret: secrets are never taken` : `nothing is kept back at ${text}`, {
      where: `--take ${text}`, remedy: secret ? 'enter it on the target by hand' : held.length > 0 ? `kept back are: ${held.join(', ')}` : 'leave the option out: the item travels whole',
    });
  }
}
