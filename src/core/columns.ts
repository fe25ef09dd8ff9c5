/*
 * What is known of many things, in a few blocks of memory: an object and some texts for each of a hundred thousand take several times the room,
 * and the garbage collector goes through all of them again and again.
 */

const BLOCK_BITS = 12;
const BLOCK = 2 ** BLOCK_BITS;
/** What is small stays so. */
const FIRST = 16;
type Block = Float64Array | Uint32Array;

/** Numbers in blocks, so that nothing is copied when there are more of them. `whole`: all are whole and below 2^32, which takes half the room. */
export class Numbers {
  readonly #make: (length: number) => Block;
  readonly #blocks: Block[] = [];
  #length = 0;

  constructor({ whole = false } = {}) { this.#make = whole ? (length) => new Uint32Array(length) : (length) => new Float64Array(length); }

  get length(): number { return this.#length; }
  /** Of a number below `length`. */
  at(i: number): number { return this.#blocks[i >> BLOCK_BITS]?.[i & (BLOCK - 1)] ?? NaN; }

  push(value: number): void {
    const block = this.#length >> BLOCK_BITS;
    const first = this.#blocks[0];
    if (block === 0 && this.#length === (first?.length ?? 0)) this.#blocks[0] = this.#grown(first);
    else if (block === this.#blocks.length) this.#blocks.push(this.#make(BLOCK));
    (this.#blocks[block] as Block)[this.#length++ & (BLOCK - 1)] = value;
  }

  /** In the place of a number that is there, or behind the last. */
  put(i: number, value: number): void {
    if (i === this.#length) this.push(value);
    else (this.#blocks[i >> BLOCK_BITS] as Block)[i & (BLOCK - 1)] = value;
  }

  #grown(block: Block | undefined): Block {
    const more = this.#make(block ? Math.min(BLOCK, block.length * 4) : FIRST);
    if (block) more.set(block);
    return more;
  }
}

/** A block of texts has so many bytes, or as many as its only text; the first one has fewer, as many sets are small. */
const TEXT_BYTES = 2 ** 16;
const FIRST_BYTES = 2 ** 10;

/** How the bytes of a text are to be read. Digests are many, and as bytes half as long. */
const ENCODINGS = ['latin1', 'utf16le', 'hex'] as const;
const FORMS = 4;
const DIGEST = /^[0-9a-f]{64}$/;
function formOf(text: string): number { return text.length === 64 && DIGEST.test(text) ? 2 : /[^\0-\xff]/.test(text) ? 1 : 0; }

/** Texts in blocks of bytes, one gigabyte at most, exact for any sequence of code units. */
export class Texts {
  readonly #blocks: Buffer[] = [];
  /** How much of each block is used. */
  readonly #used: number[] = [];
  /** Which block and where in it, four times that, and the number of its encoding. */
  readonly #places = new Numbers({ whole: true });

  get length(): number { return this.#places.length; }

  /** Says which one it is, counted from 0. */
  push(text: string): number {
    const form = formOf(text);
    const size = Buffer.byteLength(text, ENCODINGS[form]);
    const block = this.#blockFor(size);
    const from = this.#used[block] ?? 0;
    if (size > 0) this.#blocks[block]?.write(text, from, ENCODINGS[form]);
    this.#used[block] = from + size;
    this.#places.push((block * TEXT_BYTES + from) * FORMS + form);
    return this.#places.length - 1;
  }

  #blockFor(size: number): number {
    const last = this.#blocks.length - 1;
    // A place is a number below the size of a block: also of an empty text.
    if (last >= 0 && (this.#used[last] ?? 0) + size <= (this.#blocks[last]?.length ?? 0) && (this.#used[last] ?? 0) < TEXT_BYTES) return last;
    this.#used.push(0);
    return this.#blocks.push(Buffer.allocUnsafeSlow(Math.max(size, last < 0 ? FIRST_BYTES : TEXT_BYTES))) - 1;
  }

  /** Empty where there is none of this number. */
  at(i: number): string {
    if (i < 0 || i >= this.#places.length) return '';
    const begin = this.#places.at(i);
    const block = Math.floor(begin / (FORMS * TEXT_BYTES));
    const place = (at: number): number => Math.floor(at / FORMS) - block * TEXT_BYTES;
    const next = i + 1 < this.#places.length ? place(this.#places.at(i + 1)) : Infinity;
    return this.#blocks[block]?.toString(ENCODINGS[begin % FORMS], place(begin), next < TEXT_BYTES ? next : this.#used[block]) ?? '';
  }
}

/** The free places at least, of all that a table has. */
const FREE = 0.4;

/** Finds numbers by a hash of what they stand for, which lies elsewhere: a table with open addressing. */
export class HashTable {
  /** Two for each place: the hash, and the number plus one, or 0 where it is free. */
  #places = new Int32Array(32);
  #count = 0;

  get size(): number { return this.#count; }

  /** `is`: does this number stand for what is looked for? Different things can have one hash. */
  find(hash: number, is: (value: number) => boolean): number | undefined {
    const value = (this.#places[this.#place(hash, is) + 1] ?? 0) - 1;
    return value < 0 ? undefined : value;
  }

  /** In the place of the number for which `is` holds, where there is one. */
  set(hash: number, value: number, is: (value: number) => boolean): void {
    if (this.#count >= (this.#places.length / 2) * (1 - FREE)) this.#grow();
    const place = this.#place(hash, is);
    if (this.#places[place + 1] === 0) this.#count++;
    this.#places[place] = hash;
    this.#places[place + 1] = value + 1;
  }

  #place(hash: number, is: (value: number) => boolean): number {
    const places = this.#places;
    const last = places.length / 2 - 1;
    for (let at = spread(hash) & last; ; at = (at + 1) & last) {
      const value = places[at * 2 + 1] as number;
      if (value === 0 || (places[at * 2] === hash && is(value - 1))) return at * 2;
    }
  }

  #grow(): void {
    const before = this.#places;
    this.#places = new Int32Array(before.length * 2);
    this.#count = 0;
    for (let at = 0; at < before.length; at += 2) if (before[at + 1] !== 0) this.set(before[at] as number, (before[at + 1] as number) - 1, () => false);
  }
}

/** Another one in each process: nobody can make a file of which all texts have one hash. */
const BASIS = 0x811c9dc5 ^ Math.floor(Math.random() * 2 ** 32);

/** FNV-1a over the code units (Fowler, Noll and Vo: 32 bits), as a signed number. */
export function hashOf(text: string): number {
  let hash = BASIS;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return hash | 0;
}

/** Its low bits depend on all of them: numbers that follow one another would otherwise lie side by side in a table. */
function spread(hash: number): number {
  const mixed = Math.imul(hash ^ (hash >>> 16), 0x45d9f3b);
  return mixed ^ (mixed >>> 15);
}

/** Texts by texts. */
export class TextMap {
  readonly #keys = new TextSet();
  readonly #values = new Texts();
  /** Which of the values each key has. */
  readonly #places = new Numbers({ whole: true });

  has(key: string): boolean { return this.#keys.find(key) !== undefined; }

  get(key: string): string | undefined {
    const at = this.#keys.find(key);
    return at === undefined ? undefined : this.#values.at(this.#places.at(at));
  }

  set(key: string, value: string): void {
    if (this.get(key) !== value) this.#places.put(this.#keys.add(key), this.#values.push(value));
  }
}

/** Texts that are each there once, and which one a text is. */
export class TextSet {
  readonly #texts = new Texts();
  readonly #table = new HashTable();

  get size(): number { return this.#texts.length; }
  at(i: number): string { return this.#texts.at(i); }
  find(text: string): number | undefined { return this.#table.find(hashOf(text), (i) => this.#texts.at(i) === text); }

  /** Says which one it is, of old or from now on. */
  add(text: string): number {
    const known = this.find(text);
    if (known !== undefined) return known;
    const added = this.#texts.push(text);
    this.#table.set(hashOf(text), added, () => false);
    return added;
  }

  /** Adds it, and says whether it was not there. */
  isNew(text: string): boolean {
    const before = this.size;
    return this.add(text) === before;
  }

  *[Symbol.iterator](): Generator<string> { for (let i = 0; i < this.size; i++) yield this.at(i); }
}
