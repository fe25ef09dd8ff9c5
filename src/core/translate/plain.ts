import { setOwn } from '../json.ts';
import { plainKey, type Key } from '../tokens.ts';
import { Entries, Exact, isPlainObject, type Node } from '../tree.ts';
import { release } from './admit.ts';

/** The local value of a tree in which references, texts and packed values are local already. The tree is used up: the value is made of it. */
export function plainOf(node: Node): unknown {
  if (typeof node !== 'object' || node === null) return node;
  if (node instanceof Exact) return release(node);
  if (Array.isArray(node)) { for (let i = 0; i < node.length; i++) node[i] = plainOf(node[i]) as Node; return node; }
  if (node instanceof Entries) return members(node.pairs);
  if (!isPlainObject(node)) return node;
  for (const key of Object.keys(node)) { const child = node[key]; if (typeof child === 'object') setOwn(node, key, plainOf(child) as Node); }
  return node;
}

function members(pairs: readonly [Key, Node][]): unknown {
  const plain: Record<string, unknown> = {};
  for (const [key, child] of pairs) setOwn(plain, plainKey(key), plainOf(child));
  return plain;
}
