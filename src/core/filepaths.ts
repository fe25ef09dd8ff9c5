import type { Kind } from './kind.ts';
import type { Json } from './json.ts';
import { matches } from './path.ts';
import { notate, readNotation } from './translate/notation.ts';
import { keyName } from './tokens.ts';
import { Decoded, Entries, isPlainObject, type Key, type Node } from './tree.ts';

/** What the files of one item have in common: their folder, and how their names begin ("quay" of quay.jpg, quay-300x200.jpg and quay-scaled.jpg). */
export interface Stem { readonly folder: string; readonly name: string }

/** The paths of the files of an item, the main one first, as its value has them. */
export function pathsOf(kind: Kind, value: Json): string[] {
  if (kind.filePaths.length === 0) return [];
  const root = readNotation(value);
  return kind.filePaths.flatMap((path) => matches(root, path)).flatMap(({ node }) => (typeof node === 'string' ? [node] : []));
}

export function stemOf([main = '', ...more]: readonly string[]): Stem {
  const [folder, first] = split(main);
  const names = [first, ...more.filter((path) => split(path)[0] === folder).map((path) => split(path)[1])].map((name) => name.replace(/\.[^.]*$/, ''));
  const [shortest = ''] = [...names].sort((a, b) => a.length - b.length);
  let length = shortest.length;
  while (!names.every((name) => name.startsWith(shortest.slice(0, length)))) length--;
  const common = shortest.slice(0, length).replace(/[^\p{L}\p{N}]+$/u, '');
  return { folder, name: common === '' ? names[0] ?? '' : common };
}

/** Each path with what it becomes: what is not of this stem stays. */
export function movedPaths(paths: readonly string[], from: Stem, to: Stem): Map<string, string> {
  return new Map(paths.flatMap((path): [string, string][] => {
    const [folder, name] = split(path);
    if (folder !== from.folder || !name.startsWith(from.name)) return [];
    const moved = (to.folder === '' ? '' : `${to.folder}/`) + to.name + name.slice(from.name.length);
    return moved === path ? [] : [[path, moved]];
  }));
}

/** The same value with its files elsewhere: wherever one of these paths stands, or the name at its end. */
export function withPaths(kind: Kind, value: Json, moved: ReadonlyMap<string, string>): Json {
  const texts = new Map([...moved].flatMap(([from, to]) => [[from, to], [split(from)[1], split(to)[1]]] as [string, string][]));
  const root = readNotation(value);
  // A title can be the name of its file, and is for people.
  const titles = new Set((kind.titleAt ? matches(root, kind.titleAt) : []).map(({ way }) => way.join('/')));
  const visit = (node: Node, way: readonly (string | number)[]): Node => {
    if (typeof node === 'string') return titles.has(way.join('/')) ? node : texts.get(node) ?? node;
    if (Array.isArray(node)) return node.map((entry, i) => visit(entry, [...way, i]));
    if (node instanceof Decoded) return new Decoded(node.codec, visit(node.body, way), node.how);
    if (node instanceof Entries) return node.with(node.pairs.map(([key, child]): [Key, Node] => [key, visit(child, [...way, keyName(key)])]));
    return isPlainObject(node) ? Object.fromEntries(Object.entries(node).map(([key, child]) => [key, visit(child, [...way, key])])) : node;
  };
  return notate(visit(root, []));
}

function split(path: string): [folder: string, name: string] {
  const slash = path.lastIndexOf('/');
  return [path.slice(0, Math.max(0, slash)), path.slice(slash + 1)];
}
