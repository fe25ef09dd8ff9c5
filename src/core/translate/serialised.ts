import { bytesOfText, textOfBytes } from '../bytes.ts';
import { MAX_DEPTH } from '../json.ts';
import { plainKey } from '../tokens.ts';
import { Entries, Exact, isPlainObject, type Node } from '../tree.ts';

/*
 * The serialisation format of PHP (the manual's serialize() and unserialize()). Only data is read: nothing is ever instantiated.
 *   N;  b:1;  i:5;  d:0.5;  s:3:"abc";  a:2:{key value …}  O:5:"Class":1:{name value …}  E:9:"Suit:Rose";  R:2;  r:2;
 * Lengths count bytes. R and r point to an earlier value by its number; here they point to it by its place, so that they stay right when something
 * before them is added or removed.
 */
const QUOTE = 0x22;
const INTEGER = /^(0|-?[1-9]\d{0,18})$/;
/** How such a text begins: enough to suspect one, not enough to believe it. */
const BEGINNING = /^(?:a:\d+:\{|O:\d+:"|s:\d+:"|C:\d+:")/;

class NotSerialised extends Error {}

/** Behind the name of a class: its objects pack themselves, as a list of what they are made of, with numbers for names. No class can be called so. */
const COUNTED = '#';

/** What a text turned out to be: a value, one that was cut or altered, or just text. */
export type Reading = { readonly is: 'value'; readonly node: Node } | { readonly is: 'damaged' } | { readonly is: 'text' };

/**
 * Reads a serialised value. It counts as one only where writing it again gives the same bytes. One that begins like a value and does not end like one was cut;
 * other text that cannot be read as one is text.
 */
export function readSerialised(text: string): Reading {
  if (!/^(?:[abidOsCE]:|N;)/.test(text)) return { is: 'text' };
  let node: Node;
  try { node = new Parser(bytesOfText(text)).whole(); } catch (error) {
    if (!(error instanceof NotSerialised)) throw error;
    return { is: looksSerialised(text) && !/[;}]$/.test(text) ? 'damaged' : 'text' };
  }
  return writeSerialised(node) === text ? { is: 'value', node } : { is: 'damaged' };
}

export function looksSerialised(text: string): boolean { return BEGINNING.test(text); }

class Parser {
  readonly #bytes: Buffer;
  #at = 0;
  /** Places of the values so far, by number. */
  readonly #places: string[] = [];

  constructor(bytes: Buffer) { this.#bytes = bytes; }

  whole(): Node {
    const node = this.#value([]);
    if (this.#at !== this.#bytes.length) throw new NotSerialised();
    return node;
  }

  #value(way: readonly string[]): Node {
    if (way.length >= MAX_DEPTH) throw new NotSerialised();
    const sort = this.#letter();
    if (sort !== 'R') this.#places.push(placeText(way));
    switch (sort) {
      case 'N': this.#expect(';'); return null;
      case 'b': return this.#boolean();
      case 'i': return integer(this.#until(';', ':'));
      case 'd': return float(this.#until(';', ':'));
      case 's': { const text = this.#text(); this.#expect(';'); return text; }
      case 'E': { const name = this.#text(); this.#expect(';'); return new Exact('enum', name); }
      case 'a': return arrayOf(this.#members(way, this.#count()).pairs);
      case 'O': { const name = this.#text(); const { pairs, counted } = this.#members(way, this.#count()); return new Entries(pairs, true, `${name}${counted ? COUNTED : ''}`); }
      case 'R': case 'r': return new Exact('same', `${sort}:${this.#pointed()}`);
      default: throw new NotSerialised();
    }
  }

  #members(way: readonly string[], count: number): { pairs: [string, Node][]; counted: boolean } {
    this.#expect('{');
    const pairs: [string, Node][] = [];
    let counted = false;
    for (let i = 0; i < count; i++) {
      const sort = this.#letter();
      const key = sort === 'i' ? this.#until(';', ':') : sort === 's' ? this.#text() : undefined;
      if (key === undefined) throw new NotSerialised();
      if (sort === 's') this.#expect(';');
      counted ||= sort === 'i';
      pairs.push([key, this.#value([...way, key])]);
    }
    this.#expect('}');
    return { pairs, counted };
  }

  #boolean(): boolean {
    const digit = this.#until(';', ':');
    if (digit !== '0' && digit !== '1') throw new NotSerialised();
    return digit === '1';
  }

  #pointed(): string {
    const place = this.#places[Number(this.#until(';', ':')) - 1];
    if (place === undefined) throw new NotSerialised();
    return place;
  }

  #count(): number {
    const count = Number(this.#until(':', ':'));
    // Every member takes four bytes at least: a larger count is a lie.
    if (!Number.isInteger(count) || count < 0 || count > this.#bytes.length / 4) throw new NotSerialised();
    return count;
  }

  #text(): string {
    const length = Number(this.#until(':', ':'));
    const start = this.#at + 1;
    if (!Number.isInteger(length) || length < 0 || this.#bytes[this.#at] !== QUOTE || this.#bytes[start + length] !== QUOTE) throw new NotSerialised();
    this.#at = start + length + 1;
    return textOfBytes(this.#bytes.subarray(start, start + length));
  }

  #letter(): string { return String.fromCharCode(this.#bytes[this.#at++] ?? 0); }

  #expect(char: string): void { if (this.#letter() !== char) throw new NotSerialised(); }

  /** What stands between `before` and the next `end`. */
  #until(end: string, before: string): string {
    this.#expect(before);
    const found = this.#bytes.indexOf(end, this.#at, 'latin1');
    if (found < 0 || found - this.#at > 40) throw new NotSerialised();
    const text = this.#bytes.toString('latin1', this.#at, found);
    this.#at = found + 1;
    return text;
  }
}

function integer(text: string): Node {
  const value = Number(text);
  return Number.isSafeInteger(value) && String(value) === text ? value : new Exact('number', `${BigInt(INTEGER.test(text) ? text : 0)}n`);
}

/** A float that JSON would make an integer, or would write in another way, is exact. */
function float(text: string): Node {
  const value = Number(text);
  return Number.isFinite(value) && !Number.isInteger(value) && String(value) === text ? value : new Exact('float', text);
}

/** An array of PHP: a list where its keys are those of one, else a map in its order. */
export function arrayOf(members: [string, Node][]): Node {
  return members.every(([key], i) => key === String(i)) ? members.map(([, value]) => value) : new Entries(members, true);
}

function placeText(way: readonly string[]): string { return way.map((step) => '/' + step.replaceAll('~', '~0').replaceAll('/', '~1')).join(''); }

/** Writes a value whose references and texts are local already. Throws where something points to a value that is not before it. */
export function writeSerialised(node: Node): string {
  return new Writer().value(node, []);
}

class Writer {
  readonly #numbers = new Map<string, number>();
  #count = 0;

  value(node: Node, way: readonly string[]): string {
    if (node instanceof Exact && node.form === 'same') return this.#same(node.text);
    this.#numbers.set(placeText(way), ++this.#count);
    if (node === null || node === undefined) return 'N;';
    if (typeof node === 'boolean') return `b:${node ? 1 : 0};`;
    if (typeof node === 'number') return Number.isSafeInteger(node) ? `i:${node};` : `d:${node};`;
    if (typeof node === 'bigint') return `i:${node};`;
    if (typeof node === 'string') return `${quoted('s', node)};`;
    if (node instanceof Exact) return exact(node);
    if (Array.isArray(node)) return this.#members('a', node.map((entry, i) => [String(i), entry]), way, true);
    if (node instanceof Entries) {
      const pairs = node.pairs.map(([key, value]): [string, Node] => [plainKey(key), value]);
      if (node.className === undefined) return this.#members('a', pairs, way, true);
      const isCounted = node.className.endsWith(COUNTED);
      return this.#members(quoted('O', isCounted ? node.className.slice(0, -COUNTED.length) : node.className), pairs, way, isCounted);
    }
    if (isPlainObject(node)) return this.#members('a', Object.entries(node), way, true);
    throw new NotSerialised('a value that is not local yet');
  }

  /** In arrays, keys that are whole numbers are numbers; in objects every name is text, unless they pack themselves. */
  #members(head: string, pairs: readonly (readonly [string, Node])[], way: readonly string[], numbers: boolean): string {
    let text = `${head}:${pairs.length}:{`;
    for (const [key, value] of pairs) text += (numbers && isIndex(key) ? `i:${key};` : `${quoted('s', key)};`) + this.value(value, [...way, key]);
    return text + '}';
  }

  #same(pointer: string): string {
    const number = this.#numbers.get(pointer.slice(2));
    if (number === undefined) throw new NotSerialised(`nothing stands before it at ${pointer.slice(2)}`);
    if (pointer.startsWith('r')) this.#count++;
    return `${pointer.slice(0, 1)}:${number};`;
  }
}

function exact(node: Exact): string {
  switch (node.form) {
    case 'float': return `d:${node.text};`;
    case 'enum': return `${quoted('E', node.text)};`;
    case 'utf16': return `${quoted('s', Buffer.from(node.text, 'base64').toString('utf16le'))};`;
    case 'bytes': return `${quoted('s', textOfBytes(Buffer.from(node.text, 'base64')))};`;
    case 'number': return node.text.endsWith('n') ? `i:${node.text.slice(0, -1)};` : `d:${node.text};`;
    case 'same': throw new NotSerialised('written apart');
  }
}

/** PHP makes an integer of such a key: within 64 bits, without a sign before zero, without zeros in front. */
function isIndex(key: string): boolean {
  return INTEGER.test(key) && BigInt(key) >= -(2n ** 63n) && BigInt(key) < 2n ** 63n;
}

function quoted(sort: string, text: string): string {
  return `${sort}:${text.isWellFormed() ? Buffer.byteLength(text) : bytesOfText(text).length}:"${text}"`;
}
