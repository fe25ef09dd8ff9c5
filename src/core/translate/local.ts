import { whereOf, type Kind, type Kinds } from '../kind.ts';
import { parseAddress, pointer, type Address } from '../address.ts';
import { setOwn, type Json } from '../json.ts';
import type { Coverage } from '../item.ts';
import { isFirm, isPlace, selectedBy } from '../coverage.ts';
import type { Take } from '../take.ts';
import { SettledText } from '../settledtext.ts';
import type { SiteIndex } from '../siteindex.ts';
import { childOf, childrenOf, cloneNode, Decoded, deleteChild, Entries, Exact, isPlainObject, Reference, setChild, Text, unwrap, type Key, type Node } from '../tree.ts';
import { keyName, pointsToItem } from '../tokens.ts';
import { keepOwnIds } from './align.ts';
import { encode } from './codecs.ts';
import { keyedLists, namedChildren, namesAlong, pointerTo, type KeyedLists } from './keyed.ts';
import { notate, readNotation } from './notation.ts';
import { joinPieces } from './packedtext.ts';
import { plainOf } from './plain.ts';
import { Exporter, type Separated } from './portable.ts';
import { writtenPath, writtenPiece, writtenReference } from './written.ts';

export interface Missing { readonly at: string; readonly to: Address }
export interface Localised {
  readonly value: unknown;
  /** References that could not be resolved; they stand empty. */
  readonly missing: readonly Missing[];
}

/** Makes local values for one site out of portable forms. */
export class Importer {
  readonly #index: SiteIndex;
  readonly #kinds: Kinds;
  readonly #exporter: Exporter;

  constructor(index: SiteIndex, kinds: Kinds) {
    this.#index = index;
    this.#kinds = kinds;
    this.#exporter = new Exporter(index);
  }

  /**
   * The local value that makes an item equal to its portable form inside its coverage. `existing` is the value that the site has now:
   * outside the coverage it stays, and so do site-bound, secret and volatile values and the ids of belongings, except what is taken on purpose.
   */
  local(kind: Kind, portable: { value: Json; covers: Coverage; address?: Address }, existing?: unknown, take?: Take): Localised {
    const source = readNotation(portable.value);
    const tree = existing === undefined ? source : merge(kind, source, portable.covers, this.#exporter.separated(kind, existing, portable.address === undefined ? '' : parseAddress(portable.address).name, take));
    const missing: Missing[] = [];
    if (kind.description.portable) return { value: notate(tree), missing };
    const keyed = keyedLists(kind, tree);
    return { value: plainOf(this.#resolve(tree, { names: [], keyed, missing, open: [], isFirm: (at) => isFirm(kind, at) })), missing };
  }

  /** A packed value as it is written on the site; undefined where something in it is not there. */
  packed(node: Decoded): unknown {
    const missing: Missing[] = [];
    const value = this.#resolve(node, { names: [], keyed: NO_KEYS, missing, open: [], isFirm: () => false });
    return missing.length > 0 ? undefined : value;
  }

  /** The same tree with references, texts and packed values made local. `names`: the way to the node; it is changed on the way down and back. */
  #resolve(node: Node, at: Resolving): Node {
    if (typeof node !== 'object' || node === null) return node;
    if (node instanceof Reference) return this.#local(node, at);
    if (node instanceof Text) return this.#text(node, at);
    if (node instanceof Decoded) return encode(node, this.#resolve(node.body, at));
    if (Array.isArray(node)) return this.#resolveList(node, at);
    if (node instanceof Exact) return node;
    if (node instanceof Entries) return this.#resolveEntries(node, at);
    const local: { [key: string]: Node } = {};
    for (const key of Object.keys(node)) {
      const child = node[key];
      if (child !== undefined) setOwn(local, key, typeof child === 'object' && child !== null ? this.#resolveBelow(child, keyName(key), at) : child);
    }
    return local;
  }

  #resolveBelow(child: Node, name: string, at: Resolving): Node {
    at.names.push(name);
    const value = this.#resolve(child, at);
    at.names.pop();
    return value;
  }

  #resolveEntries(node: Entries, at: Resolving): Node {
    return node.with(node.pairs.flatMap(([key, child]): [string, Node][] => {
      const text = typeof key === 'string' ? key : key instanceof Text ? this.#text(key, at) : String(this.#local(key, at));
      return child !== undefined && (typeof key === 'string' || text !== '') ? [[text, this.#resolveBelow(child, keyName(key), at)]] : [];
    }));
  }

  #resolveList(list: Node[], at: Resolving): Node[] {
    const resolved: Node[] = [];
    for (const [name, child] of namedChildren(list, at.keyed)) {
      const [before, open] = [at.missing.length, at.open.length];
      const value = this.#resolveBelow(child, name, at);
      // An unresolved entry of a list of references is dropped: an empty id in it would mean something. So is a row that the site does not take without what it points to.
      const isLost = child instanceof Reference || isPointer(child) ? at.missing.length > before : at.open.slice(open).some(at.isFirm);
      // What it lies in may come all the same.
      if (isLost) at.open.length = open; else resolved.push(value);
    }
    return resolved;
  }

  #local(reference: Reference, at: Resolving): number | string | bigint {
    const found = writtenReference(reference, this.#index);
    if (found !== undefined) return found;
    if (reference.to !== undefined) lack(at, reference.to);
    at.open.push(pointer(at.names));
    return reference.as === 'number' ? 0 : '';
  }

  #text(text: Text, at: Resolving): string {
    const written = this.#pieces(text);
    if (!written.includes(undefined)) return joinPieces(text.pieces, written as string[]);
    // An id that the site does not have is left out, so that what it stands in stays a list or data.
    const settled = new SettledText();
    text.pieces.forEach((piece, i) => {
      if (written[i] !== undefined || !pointsToItem(piece)) { settled.add(piece); return; }
      // What is there, and has no path that is known, is written with the usual one.
      if (piece.token !== 'path' || !this.#index.has(piece.address)) lack(at, piece.address);
      if (piece.token === 'path') settled.add(piece); else settled.leaveOut();
    });
    const { pieces } = settled.text();
    return joinPieces(pieces, this.#pieces({ pieces }, true).map((one) => one ?? ''));
  }

  /** The pieces of a text as the site has them; undefined where it has not. `usual`: a path that it has not is written as it would be. */
  #pieces({ pieces }: Pick<Text, 'pieces'>, usual = false): (string | undefined)[] {
    const within = { pieces, index: this.#index };
    return pieces.map((piece, i) => writtenPiece(piece, i, within) ?? (usual && typeof piece === 'object' && piece.token === 'path' ? writtenPath(usualPath(piece.address, this.#kinds), piece, i, within) : undefined));
  }
}

const NO_KEYS: KeyedLists = new Map();

/** Where resolving is, what lists go by keys, and what is missing so far. `open`: where references stand empty, also those that mean nothing. */
interface Resolving { readonly names: string[]; readonly keyed: KeyedLists; readonly missing: Missing[]; readonly open: string[]; readonly isFirm: (at: string) => boolean }

/** A text that is nothing but an id, as a machine makes them. A path can be written though nothing is there. */
function isPointer(node: Node): boolean { return node instanceof Text && node.pieces.length === 1 && node.pieces.every((piece) => pointsToItem(piece) && piece.token !== 'path'); }

function lack({ names, missing }: Resolving, to: Address): void { missing.push({ at: pointer(names), to }); }

/** Where an item that the site does not have would be: what the kind says, else its name. */
export function usualPath(address: Address, kinds: Kinds): string {
  const { kind: short, name } = parseAddress(address);
  const kind = [...kinds.values()].find((one) => one.short === short);
  return whereOf(kind, name) ?? `/${name}`;
}

/** Inside the coverage the source, outside it the target; then what the target keeps. */
function merge(kind: Kind, source: Node, covers: Coverage, target: Separated): Node {
  let tree = source;
  if (covers !== 'all') {
    tree = cloneNode(target.root);
    overlayParts(kind, source, tree, covers);
  }
  for (const kept of target.kept) if (kept.why !== 'own-id' && !(kept.why === 'volatile' && has(kind, tree, kept.names))) put(kind, tree, kept.names, kept.node, target.whole);
  keepOwnIds(kind, tree, target.whole);
  return followOrder(tree, target.whole);
}

function overlayParts(kind: Kind, source: Node, tree: Node, covers: readonly string[]): void {
  const sourceKeys = keyedLists(kind, source);
  for (const name of covers) {
    const wanted = selectedBy(kind, name, source, sourceKeys).map((match) => ({ names: namesAlong(source, match.way, sourceKeys), node: match.node }));
    const names = new Set(wanted.map((one) => pointer(one.names)));
    const treeKeys = keyedLists(kind, tree);
    for (const match of selectedBy(kind, name, tree, treeKeys).reverse()) {
      if (match.way.length > 0 && !names.has(pointerTo(tree, match.way, treeKeys))) deleteChild(match.parent, match.way.at(-1) as string | number);
    }
    for (const one of wanted) put(kind, tree, one.names, one.node, source);
  }
  orderCovered(kind, source, tree, covers);
}

/** Entries of a keyed list that are covered one by one take the source's order among themselves; the others stay where they are. */
function orderCovered(kind: Kind, source: Node, tree: Node, covers: readonly string[]): void {
  const lists = new Set(covers.filter(isPlace).map((place) => place.slice(0, place.lastIndexOf('/'))));
  for (const above of lists) {
    const [from, to] = [source, tree].map((root) => { const keyed = keyedLists(kind, root); return { keyed, list: above === '' ? undefined : unwrap(selectedBy(kind, above, root, keyed)[0]?.node) }; }) as [Sided, Sided];
    if (!Array.isArray(from.list) || !Array.isArray(to.list) || !from.keyed.has(from.list) || !to.keyed.has(to.list)) continue;
    const list = to.list as Node[];
    const entries = new Map(namedChildren(list, to.keyed));
    const wanted = namedChildren(from.list, from.keyed).map(([name]) => name).filter((name) => entries.has(name) && covers.includes(above + pointer([name])));
    const slots = wanted.map((name) => list.indexOf(entries.get(name))).sort((a, b) => a - b);
    slots.forEach((slot, i) => { list[slot] = entries.get(wanted[i] ?? ''); });
  }
}
interface Sided { readonly keyed: KeyedLists; readonly list: Node }

/** What means nothing gives way to what arrives. */
function has(kind: Kind, tree: Node, names: readonly string[]): boolean {
  const keyed = keyedLists(kind, tree);
  let at = tree;
  for (const name of names) at = childNamed(at, name, keyed);
  return at !== undefined;
}

/**
 * Puts a node at a place given by names. Objects on the way are made after the shape of the tree it comes from;
 * an entry of a list that is not there is not made: whoever removed it removed what was in it.
 */
function put(kind: Kind, tree: Node, names: readonly string[], node: Node, shape: Node): void {
  let at = tree;
  let model = shape;
  const keyed = keyedLists(kind, tree);
  const modelKeyed = keyedLists(kind, shape);
  for (const [depth, name] of names.entries()) {
    if (depth === names.length - 1) { setNamed(at, name, node, keyed); return; }
    let next = childNamed(at, name, keyed);
    model = childNamed(model, name, modelKeyed);
    const inner = unwrap(next);
    // A map of which nothing was left to carry came as an empty list.
    if (next === undefined || (Array.isArray(inner) && inner.length === 0 && !Array.isArray(unwrap(model)))) {
      if (Array.isArray(unwrap(at)) || Array.isArray(unwrap(model))) return;
      next = emptyLike(model);
      setChild(at, name, next);
    }
    at = next;
  }
}

function childNamed(node: Node, name: string, keyed: KeyedLists): Node {
  return namedChildren(node, keyed).find(([key]) => key === name)?.[1];
}

function setNamed(node: Node, name: string, value: Node, keyed: KeyedLists): void {
  const children = namedChildren(node, keyed);
  const index = children.findIndex(([key]) => key === name);
  const list = unwrap(node);
  if (!Array.isArray(list)) setChild(node, name, value);
  else if (index >= 0) (list as Node[])[index] = value;
  else (list as Node[]).push(value);
}

function emptyLike(model: Node): Node {
  if (model instanceof Decoded) return new Decoded(model.codec, emptyLike(model.body), model.how);
  return model instanceof Entries ? model.with([]) : {};
}

/** Gives the members of objects the order that the target has: text that holds JSON then changes only where its content does. */
function followOrder(node: Node, model: Node): Node {
  if (node instanceof Decoded) return new Decoded(node.codec, followOrder(node.body, unwrap(model)), node.how);
  const like = unwrap(model);
  if (Array.isArray(node)) return node.map((entry, i) => followOrder(entry, Array.isArray(like) ? like[i] : undefined));
  if (isPlainObject(node)) return Object.fromEntries(inOrder(Object.entries(node), like));
  return node instanceof Entries && !node.ordered ? new Entries(inOrder(node.pairs, like), false) : node;
}

function inOrder<K extends Key>(pairs: readonly (readonly [K, Node])[], like: Node): [K, Node][] {
  const place = new Map(childrenOf(like).map(([name], i) => [String(name), i]));
  const rank = (key: Key): number => place.get(keyName(key)) ?? place.size;
  return pairs.map(([key, value]): [K, Node] => [key, followOrder(value, childOf(like, keyName(key)))]).sort(([a], [b]) => rank(a) - rank(b));
}
