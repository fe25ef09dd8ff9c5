import { placeOf, pointerNames } from './address.ts';
import { byCodeUnit } from './json.ts';
import type { Coverage, PortableItem } from './item.ts';
import type { Kind } from './kind.ts';
import { matches, type Match } from './path.ts';
import { Problem } from './problem.ts';
import { keyedLists, namedChildren, type KeyedLists } from './translate/keyed.ts';
import { readNotation, notate } from './translate/notation.ts';
import { childrenOf, Decoded, deleteChild, Entries, isPlainObject, unwrap, type Node } from './tree.ts';
import { keyName } from './tokens.ts';

/** A name of a coverage that is no part but a place, such as "/fields/vessel". */
export function isPlace(name: string): boolean { return name.startsWith('/'); }

/** What one name of a coverage selects: the nodes of a part, or the one at a place. */
export function selectedBy(kind: Kind, name: string, root: Node, keyed: KeyedLists): Match[] {
  if (isPlace(name)) return matchAt(root, pointerNames(name), keyed);
  return (kind.parts.get(name)?.paths ?? []).flatMap((path) => matches(root, path));
}

function matchAt(root: Node, names: readonly string[], keyed: KeyedLists): Match[] {
  const way: (string | number)[] = [];
  let parent: Node;
  let node: Node = root;
  for (const name of names) {
    const index = namedChildren(node, keyed).findIndex(([one]) => one === name);
    const child = childrenOf(node)[index];
    if (!child) return [];
    way.push(child[0]);
    parent = node;
    node = child[1];
  }
  return way.length === 0 ? [] : [{ way, parent, node }];
}

/** The parts that a place lies in. */
export function partsAt(kind: Kind, at: string): string[] {
  const found = namedAt(kind.partPlaces, at);
  return [...kind.parts.keys()].filter((part) => found.has(part));
}

/** Does what is at this place keep visitors out? */
export function isGuard(kind: Kind, at: string): boolean { return namedAt(kind.guards, at).size > 0; }

/** Is a reference at this place one without which the site does not take the item? */
export function isFirm(kind: Kind, at: string): boolean { return kind.description.firm.length > 0 && namedAt(kind.firm, at).size > 0; }

/** A number in a pointer may be the index of an entry or a name: it counts as either. */
function namedAt(set: Kind['partPlaces'], at: string): Set<string> {
  let places = [set.top];
  const found = new Set(places.flatMap((place) => place.rules('')));
  for (const name of pointerNames(at)) {
    places = places.flatMap((place) => (/^\d+$/.test(name) ? [place.child(name), place.entry(Number(name), NaN)] : [place.child(name)]));
    for (const place of places) for (const part of place.rules('')) found.add(part);
  }
  return found;
}

/** Parts with the ones that they need, in the order of the kind, then places. Throws a usage problem for a part that the kind does not have. */
export function partsWithNeeds(kind: Kind, names: readonly string[]): string[] {
  const wanted = new Set<string>();
  const open = names.filter((name) => !isPlace(name));
  for (let name = open.pop(); name !== undefined; name = open.pop()) {
    const part = kind.parts.get(name);
    if (!part) throw unknownPart(kind, name);
    if (wanted.has(name)) continue;
    wanted.add(name);
    open.push(...part.needs);
  }
  return [...[...kind.parts.keys()].filter((name) => wanted.has(name)), ...names.filter(isPlace).sort(byCodeUnit)];
}

function unknownPart(kind: Kind, name: string): Problem {
  const known = [...kind.parts.keys()];
  return new Problem('usage', `${kind.description.title} has no part "${name}"`, {
    remedy: known.length > 0 ? `its parts are: ${known.join(', ')}` : 'it can only be taken whole',
  });
}

/** What of an item lies inside a coverage: covered places with the objects around them, entries of keyed lists with their key. */
export function project(kind: Kind, item: PortableItem, covers: Coverage): PortableItem {
  if (covers === 'all') return item;
  const root = readNotation(item.value);
  const keyed = keyedLists(kind, root);
  const marks: Marks = { wanted: new Set(), around: new Set([unwrap(root)]), scalars: [], keyed };
  for (const match of covers.flatMap((name) => selectedBy(kind, name, root, keyed))) {
    markAround(root, match.way, marks.around);
    if (typeof match.node === 'object' && match.node !== null) marks.wanted.add(unwrap(match.node));
    else marks.scalars.push({ parent: unwrap(match.parent), key: match.way.at(-1) ?? '' });
  }
  return { ...item, covers, value: notate(prune(root, marks)) };
}

/** The item without what stands at some places. */
export function withoutPlaces(kind: Kind, item: PortableItem, places: readonly string[]): PortableItem {
  const root = readNotation(item.value);
  for (const place of places) {
    const [match] = matchAt(root, pointerNames(place), keyedLists(kind, root));
    const key = match?.way.at(-1);
    if (match && key !== undefined) deleteChild(match.parent, key);
  }
  return { ...item, value: notate(root) };
}

/** Throws a usage problem for a place of the coverage that the item does not have. */
export function refuseUnknownPlaces(kind: Kind, item: PortableItem, covers: Coverage): void {
  if (covers === 'all' || !covers.some(isPlace)) return;
  const root = readNotation(item.value);
  const keyed = keyedLists(kind, root);
  const unknown = covers.find((name) => isPlace(name) && selectedBy(kind, name, root, keyed).length === 0);
  if (unknown === undefined) return;
  const near = namesBeside(root, pointerNames(unknown), keyed);
  throw new Problem('usage', `there is no place ${unknown} in it`, { where: placeOf(item.address, unknown), remedy: near.length > 0 ? `beside it there are: ${near.join(', ')}` : '"pochette show" prints the whole item' });
}

const NAMED_AT_ONCE = 12;

/** What there is at the deepest place on the way that exists. */
function namesBeside(root: Node, names: readonly string[], keyed: KeyedLists): string[] {
  for (let depth = names.length - 1; depth > 0; depth--) {
    const [match] = matchAt(root, names.slice(0, depth), keyed);
    if (match) return namedChildren(match.node, keyed).map(([name]) => name).slice(0, NAMED_AT_ONCE);
  }
  return namedChildren(root, keyed).map(([name]) => name).slice(0, NAMED_AT_ONCE);
}

interface Marks {
  /** Nodes that are kept with all that is in them. */
  readonly wanted: Set<Node>;
  /** Nodes around these, kept as far as needed. */
  readonly around: Set<Node>;
  readonly scalars: { parent: Node; key: string | number }[];
  readonly keyed: KeyedLists;
}

function markAround(root: Node, way: readonly (string | number)[], around: Set<Node>): void {
  let node: Node = root;
  for (const key of way) {
    around.add(unwrap(node));
    node = childrenOf(node).find(([name]) => name === key)?.[1];
  }
}

function prune(node: Node, marks: Marks, key?: string): Node {
  if (node instanceof Decoded) return new Decoded(node.codec, prune(node.body, marks, key), node.how);
  if (marks.wanted.has(node) || !marks.around.has(node)) return node;
  const stays = (name: string | number, child: Node): boolean =>
    name === key || marks.wanted.has(unwrap(child)) || marks.around.has(unwrap(child)) || marks.scalars.some((one) => one.parent === node && String(one.key) === String(name));
  if (Array.isArray(node)) return node.filter((child, i) => stays(i, child)).map((child) => prune(child, marks, marks.keyed.get(node)));
  if (node instanceof Entries) return node.with(node.pairs.filter(([name, child]) => stays(keyName(name), child)).map(([name, child]) => [name, prune(child, marks)]));
  if (!isPlainObject(node)) return node;
  return Object.fromEntries(Object.entries(node).filter(([name, child]) => stays(name, child)).map(([name, child]) => [name, prune(child, marks)]));
}
