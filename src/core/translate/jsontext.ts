import { MAX_DEPTH, setOwn } from '../json.ts';
import { plainKey, type Key } from '../tokens.ts';
import { Entries, Exact, isPlainObject, type Node } from '../tree.ts';
import { admit, release, type LeftOut } from './admit.ts';
import { plainOf } from './plain.ts';
import { styled, styleOf } from './jsonstyle.ts';

/** Packed JSON, and the words that say how it is written. */
export interface JsonReading { readonly node: Node; readonly how: string }

const TOKEN = /[ \t\r\n]*(?:("(?:[^"\\]|\\.)*")|(-?(?:0|[1-9]\d*)(?:\.\d+)?(?:[eE][+-]?\d+)?)|([{}[\],:]|true|false|null))/y;

/** Reads a text of JSON (RFC 8259); undefined where it is none, or would not be written again byte for byte. `ordered`: objects as ordered maps. */
export function readJson(text: string, ordered: boolean): JsonReading | undefined {
  // A single number or word is more likely meant as text.
  if (!/^[ \t\r\n]*[[{]/.test(text)) return undefined;
  let value: unknown;
  try { value = JSON.parse(text); } catch { return undefined; }
  const how = styleOf(text, JSON.stringify(value));
  if (how === undefined) return readExactly(text, ordered);
  const leftOut: LeftOut[] = [];
  const node = admit(value, leftOut);
  return leftOut.some((one) => one.why !== 'unsafe key') ? undefined : { node: ordered ? inOrder(node) : node, how };
}

/** Every object as an ordered map. The tree is used up. */
function inOrder(node: Node): Node {
  if (Array.isArray(node)) { for (let i = 0; i < node.length; i++) node[i] = inOrder(node[i]); return node; }
  if (node instanceof Entries) { for (const pair of node.pairs) pair[1] = inOrder(pair[1]); return node; }
  if (!isPlainObject(node)) return node;
  const pairs: [Key, Node][] = Object.entries(node);
  for (const pair of pairs) pair[1] = inOrder(pair[1]);
  return new Entries(pairs, true);
}

/** With numbers as they are spelled. */
function readExactly(text: string, ordered: boolean): JsonReading | undefined {
  let node: Node;
  try { node = new Parser(text, ordered).read(); } catch (error) { if (error instanceof Unreadable) return undefined; throw error; }
  const how = styleOf(text, exactText(node));
  return how === undefined ? undefined : { node, how };
}

/** Everything in the tree is local by now; it is used up. */
export function writeJson(node: Node, how: string): string { return styled(needsCare(node) ? exactText(node) : JSON.stringify(plainOf(node)), how); }

/** Is there anything in it that JavaScript would write otherwise? */
function needsCare(node: Node): boolean {
  if (typeof node !== 'object' || node === null) return typeof node === 'bigint';
  if (node instanceof Exact) return true;
  if (node instanceof Entries) return node.ordered || node.pairs.some(([, value]) => needsCare(value));
  return Array.isArray(node) ? node.some(needsCare) : isPlainObject(node) && Object.values(node).some(needsCare);
}

function exactText(node: Node): string {
  if (typeof node === 'bigint') return String(node);
  if (node instanceof Exact) return node.form === 'float' || node.text === '-0' ? node.text : exactText(release(node) as Node);
  if (Array.isArray(node)) return `[${node.map(exactText).join(',')}]`;
  if (node instanceof Entries) return membersText(node.ordered ? node.pairs : unordered(node.pairs));
  return isPlainObject(node) ? membersText(Object.entries(node)) : JSON.stringify(node ?? null);
}

/** In the order in which JavaScript keeps members, so that they can be read again as no ordered map. */
function unordered(pairs: readonly (readonly [Key, Node])[]): [Key, Node][] {
  const object: { [key: string]: Node } = {};
  for (const [key, value] of pairs) setOwn(object, plainKey(key), value);
  return Object.entries(object);
}

function membersText(pairs: readonly (readonly [Key, Node])[]): string {
  return `{${pairs.map(([key, value]) => `${JSON.stringify(plainKey(key))}:${exactText(value)}`).join(',')}}`;
}

class Unreadable extends Error {}

/** Reads what `JSON.parse` has accepted already. */
class Parser {
  readonly #text: string;
  readonly #ordered: boolean;
  readonly #token = new RegExp(TOKEN);

  constructor(text: string, ordered: boolean) {
    this.#text = text;
    this.#ordered = ordered;
  }

  read(): Node { return this.#value(this.#next(), 0); }

  #next(): string {
    const found = this.#token.exec(this.#text);
    if (!found) throw new Unreadable();
    return found[1] ?? found[2] ?? found[3] ?? '';
  }

  #value(token: string, depth: number): Node {
    if (depth > MAX_DEPTH) throw new Unreadable();
    switch (token[0]) {
      case '{': return this.#object(depth);
      case '[': return this.#list(depth);
      case '"': return admit(JSON.parse(token), []) ?? null;
      case 't': return true;
      case 'f': return false;
      case 'n': return null;
      default: return number(token);
    }
  }

  #list(depth: number): Node {
    const list: Node[] = [];
    for (let token = this.#next(); token !== ']'; token = this.#next()) if (token !== ',') list.push(this.#value(token, depth + 1));
    return list;
  }

  #object(depth: number): Node {
    const pairs: [string, Node][] = [];
    for (let token = this.#next(); token !== '}'; token = this.#next()) {
      if (token === ',') continue;
      const key = JSON.parse(token) as string;
      this.#next();
      if (!key.isWellFormed()) throw new Unreadable();
      pairs.push([key, this.#value(this.#next(), depth + 1)]);
    }
    const object: { [key: string]: Node } = {};
    for (const [key, value] of pairs) setOwn(object, key, value);
    // Of two members with one name only the last would be left.
    const keys = Object.keys(object);
    if (keys.length !== pairs.length) throw new Unreadable();
    if (this.#ordered) return new Entries(pairs, true);
    // Names that are whole numbers come first, and by size, in the objects of JavaScript.
    if (pairs.some(([key], i) => keys[i] !== key)) throw new Unreadable();
    return object;
  }
}

function number(token: string): Node {
  const value = Number(token);
  if (String(value) === token) return value;
  return /^-?[1-9]\d*$/.test(token) ? new Exact('number', `${token}n`) : new Exact('float', token);
}
