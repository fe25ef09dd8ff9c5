import { plainKey } from '../../core/tokens.ts';
import { plainOf } from '../../core/translate/plain.ts';
import { arrayOf, readSerialised, writeSerialised } from '../../core/translate/serialised.ts';
import { Entries, isPlainObject, type Node } from '../../core/tree.ts';

/** In which ways a layout can say that a value lies packed in a column. */
export type Packed = 'php' | 'json';

/** A packed value as a tree; undefined where it cannot be read. */
export function unpacked(text: string, codec: Packed): Node {
  if (codec === 'php') { const reading = readSerialised(text); return reading.is === 'value' ? reading.node : undefined; }
  try { return JSON.parse(text) as Node; } catch { return undefined; }
}

export function packed(node: Node, codec: Packed): string {
  return codec === 'php' ? writeSerialised(node) : JSON.stringify(plainOf(node));
}

/** What a list or a map holds, by key. */
export function membersOf(node: Node): [string, Node][] {
  if (Array.isArray(node)) return node.map((entry, i) => [String(i), entry]);
  if (node instanceof Entries) return node.pairs.map(([key, value]) => [plainKey(key), value]);
  return isPlainObject(node) ? Object.entries(node) : [];
}

/** The same map or object with other members; a list where `listed` and their names allow it. */
export function withMembers(before: Node, members: [string, Node][], listed: boolean): Node {
  if (before instanceof Entries && before.className !== undefined) return before.with(members);
  return listed ? arrayOf(members) : new Entries(members, true);
}
