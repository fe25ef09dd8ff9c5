import { pointerNames, type Address } from './address.ts';
import { applyRaw, type RawChange } from './compare.ts';
import { keyedLists, namedChildren } from './translate/keyed.ts';
import type { Json } from './json.ts';
import type { Kind } from './kind.ts';
import { Problem } from './problem.ts';
import { readNotation } from './translate/notation.ts';
import { Entries, isPlainObject, unwrap, type Node } from './tree.ts';

/** Values that are other on one certain site, by pointer over the keyed view. */
export type Adjustments = Readonly<Record<string, Json>>;

/**
 * Puts other values at places of a portable value; a member that is not there yet is added. `partial`: only a portion of the item is at hand, and
 * what lies outside it is passed over. Throws a `usage` problem for a place that has nothing around it.
 */
export function adjust(kind: Kind, address: Address, value: Json, adjustments: Adjustments, partial = false): Json {
  const root = readNotation(value);
  const keyed = keyedLists(kind, root);
  const step = (node: Node, name: string): Node => namedChildren(node, keyed).find(([key]) => key === name)?.[1];
  const changes = Object.entries(adjustments).flatMap(([at, wanted]): RawChange[] => {
    const names = pointerNames(at);
    const around = names.slice(0, -1).reduce<Node>(step, root);
    const last = names.at(-1);
    if (last !== undefined && holdsMembers(around)) return [{ names, change: step(around, last) === undefined ? 'new' : 'differs', source: readNotation(wanted), target: undefined }];
    if (partial) return [];
    throw new Problem('usage', `there is no place ${at} to adjust`, { where: address, remedy: `"pochette show SITE ${address}" shows its places` });
  });
  return changes.length === 0 ? value : applyRaw(kind, value, changes);
}

function holdsMembers(node: Node): boolean {
  const inner = unwrap(node);
  return Array.isArray(inner) || inner instanceof Entries || isPlainObject(inner);
}
