import { getOwn, isObject, setOwn, type Json } from './json.ts';
import { isTokenName, keyName, Marked, readKeyName, Reference, Text, unescapeName, type Key } from './tokens.ts';

export { Reference, Text, type Key, type Spelling, type TextPiece, type Wrapping, type Written } from './tokens.ts';

/**
 * A value while it is being translated: JSON in which some nodes are special. Only `translate/` makes these;
 * in a portable form they are tagged values or tokens in text.
 */
export type Node = Json | bigint | undefined | Special | Node[] | { [key: string]: Node };

export type Special = Decoded | Entries | Text | Reference | Exact;

/** In which way a value can lie inside a text. */
export type Packing = 'json' | 'list' | 'php' | 'base64' | 'digits' | 'boolean';

/** A value that lay inside a text: JSON in a string, a list such as "4,5,6". */
export class Decoded extends Marked {
  constructor(readonly codec: Packing, public body: Node, public how = '') { super(); }
}

/** A map whose order or whose keys need care: kept as pairs. `className`: the members of an object of that class. */
export class Entries extends Marked {
  constructor(readonly pairs: [Key, Node][], readonly ordered: boolean, readonly className?: string) { super(); }

  /** The same map with other members. */
  with(pairs: [Key, Node][]): Entries { return new Entries(pairs, this.ordered, this.className); }
}

export type ExactForm = 'number' | 'bytes' | 'utf16' | 'float' | 'enum' | 'same';
/**
 * A value that JSON cannot hold exactly: negative zero, a big number, bytes, text that is not well-formed Unicode;
 * of serialised values a float, a case of an enumeration, and what is the same value as an earlier one.
 */
export class Exact extends Marked {
  constructor(readonly form: ExactForm, readonly text: string) { super(); }
}

/** Steps lead through wrappers, so that a path reads the same whether or not a value was packed in a text. */
export function unwrap(node: Node): Node {
  let inner = node;
  while (inner instanceof Decoded) inner = inner.body;
  return inner;
}

export function isSpecial(node: unknown): node is Special {
  return node instanceof Marked;
}

export function isPlainObject(node: Node): node is { [key: string]: Node } {
  return isObject(node) && !isSpecial(node);
}

export function childrenOf(node: Node): [string | number, Node][] {
  const inner = unwrap(node);
  if (Array.isArray(inner)) return inner.map((entry, index) => [index, entry]);
  if (inner instanceof Entries) return inner.pairs.map(([key, value]) => [keyName(key), value]);
  return isPlainObject(inner) ? Object.entries(inner).map(([key, value]) => [keyName(key), value]) : [];
}

/** `name` is written like a text: a sign that starts a token is doubled where it is meant literally. */
export function childOf(node: Node, name: string | number): Node {
  const inner = unwrap(node);
  if (Array.isArray(inner)) return typeof name === 'number' ? inner.at(name) : undefined;
  if (inner instanceof Entries) return inner.pairs.find(([key]) => keyName(key) === name)?.[1];
  return isPlainObject(inner) && !isTokenName(String(name)) ? getOwn(inner, unescapeName(String(name))) : undefined;
}

/** Sets a member. A plain object that gets a key with a token becomes pairs; the node to go on with is returned. */
export function setChild(node: Node, name: string | number, value: Node): Node {
  const inner = unwrap(node);
  if (Array.isArray(inner)) inner[Number(name)] = value;
  else if (inner instanceof Entries) {
    const pair = inner.pairs.find(([key]) => keyName(key) === name);
    if (pair) pair[1] = value; else inner.pairs.push([readKeyName(String(name)), value]);
  } else if (isPlainObject(inner)) {
    if (isTokenName(String(name))) return rewrap(node, new Entries([...Object.entries(inner), [readKeyName(String(name)), value]], false));
    setOwn(inner, unescapeName(String(name)), value);
  }
  return node;
}

function rewrap(node: Node, body: Node): Node {
  if (!(node instanceof Decoded)) return body;
  node.body = rewrap(node.body, body);
  return node;
}

export function deleteChild(node: Node, name: string | number): void {
  const inner = unwrap(node);
  if (Array.isArray(inner)) inner.splice(Number(name), 1);
  else if (inner instanceof Entries) {
    const index = inner.pairs.findIndex(([key]) => keyName(key) === name);
    if (index >= 0) inner.pairs.splice(index, 1);
  } else if (isPlainObject(inner)) Reflect.deleteProperty(inner, unescapeName(String(name)));
}

export function cloneNode<T extends Node>(node: T): T {
  if (Array.isArray(node)) return node.map((entry) => cloneNode(entry)) as T;
  if (node instanceof Decoded) return new Decoded(node.codec, cloneNode(node.body), node.how) as T;
  if (node instanceof Entries) return node.with(node.pairs.map(([key, value]) => [key, cloneNode(value)])) as T;
  if (!isPlainObject(node)) return node;
  const copy: { [key: string]: Node } = {};
  for (const [key, entry] of Object.entries(node)) setOwn(copy, key, cloneNode(entry));
  return copy as T;
}
