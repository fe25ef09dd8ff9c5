import { isObject, setOwn } from '../json.ts';
import { plainKey, type Key } from '../tokens.ts';
import { Entries, Exact, type Node } from '../tree.ts';
import { release } from './admit.ts';

/** The local value of a tree in which references, texts and packed values are local already. */
export function plainOf(node: Node): unknown {
  if (node instanceof Exact) return release(node);
  if (Array.isArray(node)) return node.map(plainOf);
  if (!isObject(node)) return node;
  const plain: Record<string, unknown> = {};
  const pairs: [Key, Node][] = node instanceof Entries ? node.pairs : Object.entries(node);
  for (const [key, child] of pairs) setOwn(plain, plainKey(key), plainOf(child));
  return plain;
}
