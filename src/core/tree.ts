import { getOwn, isObject, setOwn, type Json } from './json.ts';

/**
 * A value while it is being translated: JSON in which some nodes are special. Only `translate/` makes these;
 * in a portable form they are tagged values or tokens in text.
 */
export type Node = Json | bigint | undefined | Special | Node[] | { [key: string]: Node };

export type Special = Decoded | Entries | Text | Reference | Exact;

/** A value that lay inside a text: JSON in a string, a list such as "4,5,6". */
export class Decoded {
  constructor(readonly codec: 'json' | 'list', public body: Node, readonly how = '') {}
}

/** A map whose order or whose keys need care: kept as pairs. A key that is a reference stands as one. */
export class Entries {
  constructor(readonly pairs: [string | Reference, Node][], readonly ordered: boolean) {}
}

/** A text with translated pieces. */
export class Text {
  constructor(readonly pieces: readonly TextPiece[]) {}
}
export type TextPiece =
  | string
  | { token: 'site'; spelling: Spelling }
  | { token: 'path'; address: string; variant: string; spelling: Spelling }
  | { token: 'id' | 'name'; address: string };
/** How an address is written: plainly, with the other scheme, without scheme, with `\/`, or percent-encoded. */
export type Spelling = 'plain' | 'swapped' | 'relative' | 'escaped' | 'encoded';

/** A place that points to an item; `as` is the local form. `to` of undefined: it points to nothing, and `raw` is kept. */
export class Reference {
  constructor(readonly to: string | undefined, readonly as: 'number' | 'text' | 'name', readonly raw: number | string = 0) {}
}

/** A value that JSON cannot hold exactly: negative zero, a big number, bytes, text that is not well-formed Unicode. */
export class Exact {
  constructor(readonly form: 'number' | 'bytes' | 'utf16', readonly text: string) {}
}

/** Steps lead through wrappers, so that a path reads the same whether or not a value was packed in a text. */
export function unwrap(node: Node): Node {
  let inner = node;
  while (inner instanceof Decoded) inner = inner.body;
  return inner;
}

export function isSpecial(node: unknown): node is Special {
  return node instanceof Decoded || node instanceof Entries || node instanceof Text || node instanceof Reference || node instanceof Exact;
}

export function isPlainObject(node: Node): node is { [key: string]: Node } {
  return isObject(node) && !isSpecial(node);
}

/** A key as it is written in a place and looked up by a path. */
export function keyText(key: string | Reference): string {
  return typeof key === 'string' ? key : key.to ?? String(key.raw);
}

export function childrenOf(node: Node): [string | number, Node][] {
  const inner = unwrap(node);
  if (Array.isArray(inner)) return inner.map((entry, index) => [index, entry]);
  if (inner instanceof Entries) return inner.pairs.map(([key, value]) => [keyText(key), value]);
  return isPlainObject(inner) ? Object.entries(inner) : [];
}

export function childOf(node: Node, key: string | number): Node {
  const inner = unwrap(node);
  if (Array.isArray(inner)) return typeof key === 'number' ? inner.at(key) : undefined;
  if (inner instanceof Entries) return inner.pairs.find(([name]) => keyText(name) === key)?.[1];
  return isPlainObject(inner) ? getOwn(inner, String(key)) : undefined;
}

export function setChild(node: Node, key: string | number, value: Node): void {
  const inner = unwrap(node);
  if (Array.isArray(inner)) inner[Number(key)] = value;
  else if (inner instanceof Entries) {
    const pair = inner.pairs.find(([name]) => keyText(name) === key);
    if (pair) pair[1] = value; else inner.pairs.push([String(key), value]);
  } else if (isPlainObject(inner)) setOwn(inner, String(key), value);
}

export function deleteChild(node: Node, key: string | number): void {
  const inner = unwrap(node);
  if (Array.isArray(inner)) inner.splice(Number(key), 1);
  else if (inner instanceof Entries) {
    const index = inner.pairs.findIndex(([name]) => keyText(name) === key);
    if (index >= 0) inner.pairs.splice(index, 1);
  } else if (isPlainObject(inner)) delete inner[String(key)];
}

export function cloneNode<T extends Node>(node: T): T {
  if (Array.isArray(node)) return node.map((entry) => cloneNode(entry)) as T;
  if (node instanceof Decoded) return new Decoded(node.codec, cloneNode(node.body), node.how) as T;
  if (node instanceof Entries) return new Entries(node.pairs.map(([key, value]) => [key, cloneNode(value)]), node.ordered) as T;
  if (!isPlainObject(node)) return node;
  const copy: { [key: string]: Node } = {};
  for (const [key, entry] of Object.entries(node)) setOwn(copy, key, cloneNode(entry));
  return copy as T;
}
