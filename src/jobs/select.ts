import type { Address } from '../core/address.ts';
import { partsWithNeeds } from '../core/coverage.ts';
import { Problem } from '../core/problem.ts';
import type { Coverage } from '../core/item.ts';
import { nearest, parseSelector, selection } from '../core/selector.ts';
import type { Absent, Listed, Source } from './sources/source.ts';

/** What was chosen, and what was chosen and cannot travel. */
export interface Selection { readonly chosen: Map<Address, Coverage>; readonly cannot: readonly Absent[]; readonly everything: boolean }

/** Applies selectors to a source. A selector that matches nothing is a usage problem that names the nearest addresses. */
export function select(source: Pick<Source, 'listed' | 'unavailable' | 'content' | 'kinds' | 'label'>, texts: readonly string[]): Selection {
  const selectors = texts.map(parseSelector);
  const listed = source.listed();
  const chosen = new Map<Address, Coverage>();
  const used = new Set<string>();
  const take = (address: Address, one: Listed): Coverage | undefined => {
    for (const selector of selectors) if (selector.matches(address, one.kind)) used.add(selector.text);
    return selection(selectors, address, one.kind);
  };
  for (const [address, one] of listed) {
    const covers = take(address, one);
    if (covers === undefined) continue;
    const kind = source.kinds.get(one.kind);
    chosen.set(address, covers === 'all' || !kind ? 'all' : partsWithNeeds(kind, covers));
  }
  const cannot = source.unavailable().filter((one) => take(one.address, one) !== undefined);
  const content = [...source.content()].filter(([address, one]) => selectors.length > 0 && take(address, one) !== undefined)
    .map(([address, one]): Absent => ({ address, ...one, why: 'it is content: it is referred to and never carried' }));
  const unused = texts.find((text) => !used.has(text));
  if (unused !== undefined) throw matchesNothing(unused, source.label, [...listed.keys()]);
  return { chosen, cannot: [...cannot, ...content], everything: selectors.length === 0 };
}

function matchesNothing(text: string, label: string, known: readonly Address[]): Problem {
  const near = nearest(text, known);
  const kinds = [...new Set(known.map((address) => address.slice(0, address.indexOf(':'))))];
  return new Problem('usage', `"${text}" matches nothing in ${label}`, {
    remedy: near.length > 0 ? `did you mean ${near.join(', ')}?` : `there are: ${kinds.map((kind) => `${kind}:*`).join(' ')}`,
  });
}
