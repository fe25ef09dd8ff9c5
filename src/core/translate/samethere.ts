import { pointer, type Address } from '../address.ts';
import type { Json } from '../json.ts';
import type { SiteIndex } from '../siteindex.ts';
import { keyName, pointsToItem } from '../tokens.ts';
import { Decoded, Entries, Exact, isPlainObject, Reference, Text, type Key, type Node } from '../tree.ts';
import { encode } from './codecs.ts';
import { Importer } from './local.ts';
import { notate, readNotation } from './notation.ts';
import { joinPieces } from './packedtext.ts';
import { writtenPiece, writtenReference } from './written.ts';

/** A number that means nothing on the source and happens to be the id of something on the target. */
export interface Stray { readonly at: string; readonly raw: string; readonly to: Address }

/**
 * A portable value as its target reads it, wherever both are written alike there: somebody wrote the address of the target out in full, or a
 * number that is no item's id on the source is one there. What would be written otherwise stays as it is.
 */
export function asReadThere(value: Json, there: Json, index: SiteIndex): { readonly value: Json; readonly strays: readonly Stray[] } {
  const reading = new Reading(index);
  return { value: notate(reading.node(readNotation(value), readNotation(there), [])), strays: reading.strays };
}

class Reading {
  readonly #index: SiteIndex;
  readonly strays: Stray[] = [];
  /** Inside a value in PHP's format. */
  #php = false;

  constructor(index: SiteIndex) { this.#index = index; }

  node(node: Node, there: Node, way: readonly (string | number)[]): Node {
    if (isWord(node) && isWord(there)) return this.#word(node, there, way);
    if (node instanceof Decoded && there instanceof Decoded) return node.codec === there.codec ? this.#likeWritten(new Decoded(node.codec, this.#inside(node, there, way), node.how), there) : node;
    // Of a list in a text one entry is left, or none.
    if (node instanceof Decoded && node.codec === 'list' && isWord(there)) return this.#listed(node) === this.#written(there) ? there : node;
    // An empty map and an empty list are one to PHP.
    if (this.#php && Array.isArray(there) && there.length === 0 && pairsOf(node)?.length === 0) return there;
    if (Array.isArray(node) && Array.isArray(there)) return node.map((entry, i) => (i < there.length ? this.node(entry, there[i], [...way, i]) : entry));
    const [pairs, others] = [pairsOf(node), pairsOf(there)];
    return pairs && others ? this.#pairs(node as Entries, pairs, others, way) : node;
  }

  #inside({ codec, body }: Decoded, there: Decoded, way: readonly (string | number)[]): Node {
    const before = this.#php;
    if (codec === 'php' || codec === 'json') this.#php = codec === 'php';
    const read = this.node(body, there.body, way);
    this.#php = before;
    return read;
  }

  /** How JSON is written cannot be seen where it has no sign that could be written otherwise, as what is in base64 has on one site and not on the other. */
  #likeWritten(node: Decoded, there: Decoded): Decoded {
    if (node.codec !== 'json' || node.how === there.how) return node;
    const importer = new Importer(this.#index, new Map());
    const written = importer.packed(node);
    return written !== undefined && written === importer.packed(there) ? new Decoded(node.codec, node.body, there.how) : node;
  }

  /** A list in a text, as it stands on the target. */
  #listed(list: Decoded): string | undefined {
    const entries = Array.isArray(list.body) ? list.body.map((entry) => (isWord(entry) ? this.#written(entry) : undefined)) : [undefined];
    return entries.includes(undefined) ? undefined : encode(list, entries.map(String));
  }

  #pairs(node: Entries | { [key: string]: Node }, pairs: readonly [Key, Node][], others: readonly [Key, Node][], way: readonly (string | number)[]): Node {
    const byName = new Map(others.map((pair) => [this.#keyThere(pair[0]), pair]));
    const read = pairs.map(([key, child]): [Key, Node] => {
      const other = byName.get(this.#keyThere(key));
      if (!other) return [key, child];
      if (keyName(key) !== keyName(other[0])) this.#stray(key, other[0], [...way, keyName(other[0])]);
      return [other[0], this.node(child, other[1], [...way, keyName(other[0])])];
    });
    if (node instanceof Entries) return node.with(read);
    return read.every(([key]) => typeof key === 'string') ? Object.fromEntries(read as [string, Node][]) : new Entries(read, false);
  }

  #word(node: Word, there: Word, way: readonly (string | number)[]): Node {
    if (node === there) return node;
    const [one, other] = [this.#written(node), this.#written(there)];
    if (one === undefined || one !== other) return node;
    this.#stray(node, there, way);
    return there;
  }

  #stray(node: Word, there: Word, way: readonly (string | number)[]): void {
    // A site may write the path of something with its id.
    const known = new Set(node instanceof Text ? node.pieces.flatMap((piece) => (pointsToItem(piece) ? [piece.address] : [])) : addressesIn(node));
    for (const to of addressesIn(there)) if (!known.has(to)) this.strays.push({ at: pointer(way), raw: String(this.#index.idOf(to) ?? ''), to });
  }

  #keyThere(key: Key): string { return String(this.#written(key) ?? keyName(key)); }

  /** What stands on the target for it; undefined where the target cannot follow it. */
  #written(node: Word): string | number | bigint | undefined {
    if (node instanceof Text) {
      const within = { pieces: node.pieces, index: this.#index };
      const pieces = node.pieces.map((piece, at) => writtenPiece(piece, at, within));
      return pieces.includes(undefined) ? undefined : joinPieces(node.pieces, pieces as string[]);
    }
    if (node instanceof Exact) return node.form === 'number' && /^-?\d+n$/.test(node.text) ? BigInt(node.text.slice(0, -1)) : undefined;
    return node instanceof Reference ? writtenReference(node, this.#index) : node;
  }
}

/** What stands for one text or number. */
type Word = string | number | Text | Reference | Exact;

function isWord(node: Node): node is Word { return typeof node === 'string' || typeof node === 'number' || node instanceof Text || node instanceof Reference || node instanceof Exact; }

function pairsOf(node: Node): readonly [Key, Node][] | undefined { return node instanceof Entries ? node.pairs : isPlainObject(node) ? Object.entries(node) : undefined; }

/** What a word refers to by id or name: an address or a path says what it means by itself. */
function addressesIn(node: Word): string[] {
  if (node instanceof Reference) return node.to === undefined ? [] : [node.to];
  return node instanceof Text ? node.pieces.flatMap((piece) => (pointsToItem(piece) && piece.token !== 'path' ? [piece.address] : [])) : [];
}
