import type { Coverage, PortableItem } from './item.ts';
import type { Kind } from './kind.ts';
import { matches } from './path.ts';
import { Problem } from './problem.ts';
import { readNotation, notate } from './translate/notation.ts';
import { Decoded, isPlainObject, unwrap, type Node } from './tree.ts';

/** Parts with the ones that they need, in the order of the kind. Throws a usage problem for a part that the kind does not have. */
export function partsWithNeeds(kind: Kind, parts: readonly string[]): string[] {
  const wanted = new Set<string>();
  const open = [...parts];
  for (let name = open.pop(); name !== undefined; name = open.pop()) {
    const part = kind.parts.get(name);
    if (!part) throw unknownPart(kind, name);
    if (wanted.has(name)) continue;
    wanted.add(name);
    open.push(...part.needs);
  }
  return [...kind.parts.keys()].filter((name) => wanted.has(name));
}

function unknownPart(kind: Kind, name: string): Problem {
  const known = [...kind.parts.keys()];
  return new Problem('usage', `${kind.description.title} has no part "${name}"`, {
    remedy: known.length > 0 ? `its parts are: ${known.join(', ')}` : 'it can only be taken whole',
  });
}

/** What of an item lies inside a coverage: covered places with the objects around them. */
export function project(kind: Kind, item: PortableItem, covers: Coverage): PortableItem {
  if (covers === 'all') return item;
  const root = readNotation(item.value);
  const wanted = new Set<Node>();
  const scalars: { parent: Node; key: string | number }[] = [];
  const around = new Set<Node>([unwrap(root)]);
  for (const path of covers.flatMap((name) => kind.parts.get(name)?.paths ?? [])) {
    for (const match of matches(root, path)) {
      markAround(root, match.way, around);
      if (typeof match.node === 'object' && match.node !== null) wanted.add(unwrap(match.node));
      else scalars.push({ parent: unwrap(match.parent), key: match.way.at(-1) ?? '' });
    }
  }
  return { ...item, covers, value: notate(prune(root, wanted, around, scalars)) };
}

function markAround(root: Node, way: readonly (string | number)[], around: Set<Node>): void {
  let node: Node = root;
  for (const key of way) {
    around.add(unwrap(node));
    const inner = unwrap(node);
    node = Array.isArray(inner) ? inner[Number(key)] : isPlainObject(inner) ? inner[String(key)] : undefined;
  }
}

function prune(node: Node, wanted: Set<Node>, around: Set<Node>, scalars: readonly { parent: Node; key: string | number }[]): Node {
  if (node instanceof Decoded) return new Decoded(node.codec, prune(node.body, wanted, around, scalars), node.how);
  if (wanted.has(node) || !around.has(node)) return node;
  const stays = (key: string | number, child: Node): boolean =>
    wanted.has(unwrap(child)) || around.has(unwrap(child)) || scalars.some((one) => one.parent === node && String(one.key) === String(key));
  if (Array.isArray(node)) return node.filter((child, i) => stays(i, child)).map((child) => prune(child, wanted, around, scalars));
  if (!isPlainObject(node)) return node;
  return Object.fromEntries(Object.entries(node).filter(([key, child]) => stays(key, child)).map(([key, child]) => [key, prune(child, wanted, around, scalars)]));
}
