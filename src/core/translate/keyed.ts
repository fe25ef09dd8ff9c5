import { pointer } from '../address.ts';
import type { Kind } from '../kind.ts';
import { matches } from '../path.ts';
import { keyName } from '../tokens.ts';
import { childOf, childrenOf, Entries, isPlainObject, isSpecial, Text, unwrap, type Node, type Special } from '../tree.ts';

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
  return keys.every((text) => text !== undefined) && new Set(keys).size === keys.length ? (keys) : undefined;
}

export function entryKey(entry: Node, key: string): string | undefined {
  const inner = unwrap(entry);
  if (!isPlainObject(inner)) return undefined;
  const value = childOf(inner, key);
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

/** Where a node stands: a chain of nodes and keys, written out only where it is wanted. */
export interface Frame { readonly node: Node; readonly key: string | number; readonly above: Frame | undefined }

export function pointerOf(frame: Frame, keyed: KeyedLists): string {
  const names: (string | number)[] = [];
  for (let at = frame; at.above; at = at.above) {
    const list = keyed.get(unwrap(at.above.node));
    names.push(list === undefined ? at.key : entryKey(at.node, list) ?? at.key);
  }
  return pointer(names.reverse());
}

/** Visits every special node below a root, in document order. Depth is limited where values come in. */
export function walkSpecial(node: Node, visit: (node: Special, frame: Frame) => void, key: string | number = '', above?: Frame): void {
  if (typeof node !== 'object' || node === null) return;
  const frame: Frame = { node, key, above };
  const inner = unwrap(node);
  if (isSpecial(inner)) visit(inner, frame);
  if (Array.isArray(inner)) for (let i = 0; i < inner.length; i++) walkSpecial(inner[i], visit, i, frame);
  else if (inner instanceof Entries) for (const [name, child] of inner.pairs) walkSpecial(child, visit, keyName(name), frame);
  else if (isPlainObject(inner)) for (const name of Object.keys(inner)) walkSpecial(inner[name], visit, keyName(name), frame);
}
