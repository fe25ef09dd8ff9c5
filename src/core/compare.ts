import { pointer } from './address.ts';
import { canonical } from './canonical.ts';
import { sameList, type Json } from './json.ts';
import type { Kind } from './kind.ts';
import { placed } from './mergetext.ts';
import { keyName } from './tokens.ts';
import { entryKey, keyedLists, keysOf, type KeyedLists } from './translate/keyed.ts';
import { mergedStyle } from './translate/jsonstyle.ts';
import { notate, readNotation } from './translate/notation.ts';
import { childOf, childrenOf, Decoded, deleteChild, Entries, isPlainObject, setChild, unwrap, type Node } from './tree.ts';

/** One difference between the portable values of two items. `at` is a pointer over the keyed view. */
export type Change =
  | { readonly change: 'new'; readonly at: string; readonly source: Json }
  | { readonly change: 'target-only'; readonly at: string; readonly target: Json }
  | { readonly change: 'differs'; readonly at: string; readonly source: Json; readonly target: Json }
  | { readonly change: 'order'; readonly at: string; readonly source: string[]; readonly target: string[] };

/** `names` is the way to where the walk is now. */
interface Walk { readonly sourceKeys: KeyedLists; readonly targetKeys: KeyedLists; readonly names: string[]; readonly found: RawChange[] }
/** A change with its way as names, before it is written as a pointer. */
export type RawChange = { names: readonly string[]; change: 'new' | 'target-only' | 'differs'; source: Node; target: Node } | { names: readonly string[]; change: 'order'; source: string[]; target: string[] } | Restyled;
/** Packed JSON is written in another way, whatever else differs in it. */
interface Restyled { names: readonly string[]; change: 'style'; source: Decoded; target: Decoded }

/** All differences, in document order of the source; empty exactly where the two are equal. */
export function compareValues(kind: Kind, source: Json, target: Json): Change[] {
  const changes = rawChanges(kind, readNotation(source), readNotation(target));
  // How it is written goes with what differs inside; it is worth a word only where nothing does.
  return changes.filter((one) => one.change !== 'style' || !changes.some((other) => other !== one && isWithin(other.names, one.names))).map(written);
}

function isWithin(names: readonly string[], outer: readonly string[]): boolean { return names.length >= outer.length && outer.every((name, i) => name === names[i]); }

export function rawChanges(kind: Kind, source: Node, target: Node): RawChange[] {
  const walk: Walk = { sourceKeys: keyedLists(kind, source), targetKeys: keyedLists(kind, target), names: [], found: [] };
  differ(source, target, walk);
  return walk.found;
}

function written(raw: RawChange): Change {
  const at = pointer(raw.names);
  switch (raw.change) {
    case 'new': return { change: 'new', at, source: notate(raw.source) };
    case 'target-only': return { change: 'target-only', at, target: notate(raw.target) };
    case 'differs': case 'style': return { change: 'differs', at, source: notate(raw.source), target: notate(raw.target) };
    case 'order': return { change: 'order', at, source: raw.source, target: raw.target };
  }
}

function differ(source: Node, target: Node, walk: Walk): void {
  if (source === target) return;
  if (source instanceof Decoded && target instanceof Decoded && sameShape(source, target)) {
    differ(source.body, target.body, walk);
    if (source.how !== target.how) walk.found.push({ names: [...walk.names], change: 'style', source, target });
  } else if (Array.isArray(source) && Array.isArray(target) && walk.sourceKeys.get(source) === walk.targetKeys.get(target)) differLists(source, target, walk);
  else if (isMap(source) && isMap(target) && sameSort(source, target)) {
    if (isPlainObject(source) && isPlainObject(target)) differPlain(source, target, walk);
    else differMembers(named(source), named(target), walk);
    if (isOrdered(source)) differOrder(childrenOf(source).map(([key]) => String(key)), childrenOf(target).map(([key]) => String(key)), walk);
  } else if (!sameLeaf(source, target)) walk.found.push({ names: [...walk.names], change: 'differs', source, target });
}

/** Most leaves are plain: they need not be written out to be compared. Numbers are, for -0 is 0 in canonical form. */
export function sameLeaf(source: Node, target: Node): boolean {
  if (source === target) return true;
  if ((typeof source === 'string' && typeof target === 'string') || typeof source === 'boolean' || typeof target === 'boolean') return false;
  return canonical(notate(source)) === canonical(notate(target));
}

/** Only then can a difference inside be carried out inside. */
function sameShape(source: Decoded, target: Decoded): boolean {
  const [a, b] = [source.body, target.body];
  if (source.codec !== target.codec || (source.how !== target.how && source.codec !== 'json')) return false;
  return a instanceof Decoded && b instanceof Decoded ? sameShape(a, b) : (Array.isArray(a) && Array.isArray(b)) || (isMap(a) && isMap(b) && sameSort(a, b));
}

function isMap(node: Node): boolean {
  return node instanceof Entries || isPlainObject(node);
}

function sameSort(a: Node, b: Node): boolean {
  return isOrdered(a) === isOrdered(b) && classOf(a) === classOf(b);
}

function classOf(node: Node): string | undefined {
  return node instanceof Entries ? node.className : undefined;
}

function isOrdered(node: Node): boolean {
  return node instanceof Entries && node.ordered;
}

/** Members by the names that places use. */
function named(node: Node): Map<string, Node> {
  return new Map(childrenOf(node).map(([key, child]) => [String(key), child]));
}

function differLists(source: Node[], target: Node[], walk: Walk): void {
  const key = walk.sourceKeys.get(source);
  const byKey = (list: Node[]) => new Map(list.map((entry, i) => [key === undefined ? String(i) : entryKey(entry, key) ?? String(i), entry]));
  const [left, right] = [byKey(source), byKey(target)];
  differMembers(left, right, walk);
  if (key !== undefined) differOrder([...left.keys()], [...right.keys()], walk);
}

function differMembers(source: ReadonlyMap<string, Node>, target: ReadonlyMap<string, Node>, walk: Walk): void {
  for (const [key, node] of source) {
    walk.names.push(key);
    if (target.has(key)) differ(node, target.get(key), walk);
    else walk.found.push({ names: [...walk.names], change: 'new', source: node, target: undefined });
    walk.names.pop();
  }
  for (const [key, node] of target) if (!source.has(key)) walk.found.push({ names: [...walk.names, key], change: 'target-only', source: undefined, target: node });
}

/** The same for members of plain objects, of which there are most: nothing is made of those that are equal. */
function differPlain(source: { [key: string]: Node }, target: { [key: string]: Node }, walk: Walk): void {
  const found = (key: string, change: 'new' | 'target-only'): void => { walk.found.push({ names: [...walk.names, keyName(key)], change, source: change === 'new' ? source[key] : undefined, target: change === 'new' ? undefined : target[key] }); };
  for (const key of Object.keys(source)) {
    if (!Object.hasOwn(target, key)) { found(key, 'new'); continue; }
    if (source[key] === target[key]) continue;
    walk.names.push(keyName(key));
    differ(source[key], target[key], walk);
    walk.names.pop();
  }
  for (const key of Object.keys(target)) if (!Object.hasOwn(source, key)) found(key, 'target-only');
}

/** Order counts only where adding at the end and removing would not already give it. */
function differOrder(source: readonly string[], target: readonly string[], walk: Walk): void {
  if (sameList(source, target)) return;
  const [inSource, inTarget] = [new Set(source), new Set(target)];
  const reached = [...target.filter((key) => inSource.has(key)), ...source.filter((key) => !inTarget.has(key))];
  if (reached.some((key, i) => key !== source[i])) walk.found.push({ names: [...walk.names], change: 'order', source: [...source], target: [...target] });
}

/** Carries out a comparison on the target's value; the result equals the source's. */
export function applyChanges(kind: Kind, target: Json, source: Json): Json {
  return applyRaw(kind, target, rawChanges(kind, readNotation(source), readNotation(target)));
}

/** Carries out on a value what leads from one state of a portion of it to another one. */
export function overlay(kind: Kind, whole: Json, before: Json, now: Json): Json {
  return applyRaw(kind, whole, rawChanges(kind, readNotation(now), readNotation(before)));
}

/** Carries out changes on a value in which all places around them exist. */
export function applyRaw(kind: Kind, target: Json, changes: readonly RawChange[]): Json {
  const holder: Node = [readNotation(target)];
  const keys = keyedLists(kind, holder[0]);
  // Removals from the end, so that indices before them stay true; then values; the order of lists, and how all of it is written, last.
  const rank = { 'target-only': 0, differs: 1, new: 2, order: 3, style: 4 } as const;
  const removals = changes.filter((change) => change.change === 'target-only').reverse();
  const others = changes.filter((change) => change.change !== 'target-only').sort((a, b) => rank[a.change] - rank[b.change]);
  for (const change of [...removals, ...others]) applyOne(holder, change, keys);
  return notate(holder[0]);
}

function applyOne(holder: Node[], change: RawChange, keys: KeyedLists): void {
  const full = ['0', ...change.names];
  const way: [Node, string | number][] = [];
  let parent: Node = holder;
  for (const name of full.slice(0, -1)) { const at = keyOf(parent, name, keys); way.push([parent, at]); parent = childOf(parent, at); }
  const key = keyOf(parent, full.at(-1) as string, keys);
  if (change.change === 'target-only') { deleteChild(parent, key); return; }
  if (change.change === 'style') { restyle(childOf(parent, key), change); return; }
  if (change.change === 'order') { reorder(childOf(parent, key), change.source, keys); return; }
  const list = unwrap(parent);
  if (Array.isArray(list) && change.change === 'new') (list as Node[]).push(change.source);
  else {
    const grown = setChild(parent, key, change.source);
    const [above, at] = way.at(-1) ?? [];
    if (grown !== parent && at !== undefined) setChild(above, at, grown);
  }
}

function keyOf(node: Node, name: string, keys: KeyedLists): string | number {
  const list = unwrap(node);
  if (!Array.isArray(list)) return name;
  const key = keys.get(list);
  return key === undefined ? Number(name) : list.findIndex((entry) => entryKey(entry, key) === name);
}

/** As the source writes it, where it is the source's; else with the habits that the source took up or dropped. */
function restyle(node: Node, { source, target }: Restyled): void {
  let packed = node;
  while (packed instanceof Decoded && packed.codec !== source.codec) packed = packed.body;
  if (packed instanceof Decoded) packed.how = sameLeaf(packed.body, source.body) ? source.how : mergedStyle(packed.how, target.how, source.how);
}

function reorder(node: Node, order: readonly string[], keys: KeyedLists): void {
  const inner = unwrap(node);
  // What the order does not know stays behind what it stands behind now.
  const ranks = (now: readonly string[]): ((name: string) => number) => { const place = new Map(placed(order, now).map((name, i) => [name, i])); return (name) => place.get(name) ?? 0; };
  if (inner instanceof Entries) { const rank = ranks(inner.pairs.map(([key]) => keyName(key))); inner.pairs.sort(([a], [b]) => rank(keyName(a)) - rank(keyName(b))); }
  if (!Array.isArray(inner)) return;
  const key = keys.get(inner) ?? '';
  const names = keysOf(inner, key);
  if (!names) return;
  const rank = ranks(names);
  inner.sort((a, b) => rank(entryKey(a, key) ?? '') - rank(entryKey(b, key) ?? ''));
}

