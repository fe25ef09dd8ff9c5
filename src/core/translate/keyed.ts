import { pointer } from '../address.ts';
import type { Kind } from '../kind.ts';
import { matches } from '../path.ts';
import { childOf, childrenOf, isPlainObject, Text, unwrap, type Node } from '../tree.ts';

/** Which lists of one tree go by a key; the list itself is the identity. */
export type KeyedLists = Map<Node, string>;

/** A list counts as keyed only where every entry has the key, as text or number, and no two are alike. */
export function keyedLists(kind: Kind, root: Node): KeyedLists {
  const found: KeyedLists = new Map();
  for (const rule of kind.keyed) {
    for (const match of matches(root, rule.at)) {
      const list = unwrap(match.node);
      if (Array.isArray(list) && keysOf(list, rule.key)) found.set(list, rule.key);
    }
  }
  return found;
}

export function keysOf(list: readonly Node[], key: string): string[] | undefined {
  const keys = list.map((entry) => entryKey(entry, key));
  return keys.every((text) => text !== undefined) && new Set(keys).size === keys.length ? (keys as string[]) : undefined;
}

export function entryKey(entry: Node, key: string): string | undefined {
  if (!isPlainObject(unwrap(entry))) return undefined;
  const value = childOf(entry, key);
  if (value instanceof Text) return undefined;
  return typeof value === 'string' || typeof value === 'number' ? String(value) : undefined;
}

/** The children of a node under the names that places use: keys in keyed lists, indices in others. */
export function namedChildren(node: Node, keyed: KeyedLists): [string, Node][] {
  const inner = unwrap(node);
  const key = keyed.get(inner);
  return childrenOf(node).map(([name, child]) => [key === undefined ? String(name) : entryKey(child, key) ?? String(name), child]);
}

/** Turns steps by index into the pointer of a place, with keys where lists are keyed. */
export function pointerTo(root: Node, way: readonly (string | number)[], keyed: KeyedLists): string {
  return pointer(namesAlong(root, way, keyed));
}

export function namesAlong(root: Node, way: readonly (string | number)[], keyed: KeyedLists): string[] {
  const names: string[] = [];
  let node: Node = root;
  for (const step of way) {
    const key = keyed.get(unwrap(node));
    const child = childOf(node, step);
    names.push(key === undefined ? String(step) : entryKey(child, key) ?? String(step));
    node = child;
  }
  return names;
}

/** Visits every node below a root with its pointer segments. */
export function walk(root: Node, keyed: KeyedLists, visit: (node: Node, names: readonly string[]) => void): void {
  const open: { node: Node; names: readonly string[] }[] = [{ node: root, names: [] }];
  while (open.length > 0) {
    const { node, names } = open.pop() as { node: Node; names: readonly string[] };
    visit(node, names);
    const children = namedChildren(node, keyed);
    for (let i = children.length - 1; i >= 0; i--) {
      const [name, child] = children[i] as [string, Node];
      open.push({ node: child, names: [...names, name] });
    }
  }
}
