import type { Kind } from '../kind.ts';
import { matches, type Match } from '../path.ts';
import { canonical } from '../canonical.ts';
import { childOf, childrenOf, cloneNode, deleteChild, setChild, unwrap, type Node } from '../tree.ts';
import { keyedLists, namesAlong, type KeyedLists } from './keyed.ts';
import { notate } from './notation.ts';

/** How much two entries must have in common to be the same one, where nothing else says so. */
const ALIKE = 0.5;
/** Beyond this many on either side, likeness is not worked out. */
const MANY = 300;

interface Entry { readonly match: Match; readonly names: string; readonly keyed: boolean; readonly text: string; readonly leaves: readonly string[] }

/**
 * Belongings of a target keep their local ids when they get the source's content: the entry with the same key is the same one, then one with the same
 * content wherever it stands now, then the one that is most alike, then the one at the same place. Changes `tree`.
 */
export function keepOwnIds(kind: Kind, tree: Node, target: Node): void {
  for (const rule of kind.belongings) {
    const [wanted, there] = [entriesOf(kind, tree, rule.at, rule.id), entriesOf(kind, target, rule.at, rule.id)];
    if (there.length === 0) continue;
    const open = new Set(wanted);
    const free = new Set(there.filter((one) => childOf(one.match.node, rule.id) !== undefined));
    const take = (mine: Entry, theirs: Entry | undefined): void => {
      if (!theirs) return;
      setChild(mine.match.node, rule.id, childOf(theirs.match.node, rule.id));
      open.delete(mine);
      free.delete(theirs);
    };
    for (const same of [sameKey, sameContent]) for (const mine of [...open]) take(mine, [...free].find((theirs) => same(mine, theirs)));
    if (open.size <= MANY && free.size <= MANY) for (const [mine, theirs] of likest([...open], [...free])) if (open.has(mine) && free.has(theirs)) take(mine, theirs);
    for (const mine of [...open]) take(mine, [...free].find((theirs) => theirs.names === mine.names && !mine.keyed));
  }
}

function sameKey(a: Entry, b: Entry): boolean { return a.keyed && b.keyed && a.names === b.names; }
function sameContent(a: Entry, b: Entry): boolean { return !a.keyed && a.text === b.text; }

function entriesOf(kind: Kind, root: Node, at: Kind['belongings'][number]['at'], id: string): Entry[] {
  const keyed: KeyedLists = keyedLists(kind, root);
  const found = matches(root, at);
  const nodes = new Set<Node>(found.map((match) => match.node));
  return found.map((match): Entry => {
    // Without its own id, and without the entries below it: those are entries of their own.
    const alone = withoutNested(match.node, nodes);
    deleteChild(alone, id);
    return { match, names: namesAlong(root, match.way, keyed).join('/'), keyed: keyed.has(unwrap(match.parent)), text: canonical(notate(alone)), leaves: leavesOf(alone, '') };
  });
}

function withoutNested(node: Node, nodes: ReadonlySet<Node>): Node {
  const copy = cloneNode(node);
  const children = childrenOf(node);
  for (const [name, child] of children) {
    const inner = unwrap(child);
    if (Array.isArray(inner) && inner.some((entry) => nodes.has(entry))) deleteChild(copy, name);
  }
  return copy;
}

/** Every value with its way, as text, so that two entries can be compared by what they share. */
function leavesOf(node: Node, way: string): string[] {
  const children = childrenOf(node);
  if (children.length === 0) return [`${way}=${canonical(notate(node))}`];
  return children.flatMap(([name, child]) => leavesOf(child, `${way}/${name}`));
}

function likest(mine: readonly Entry[], theirs: readonly Entry[]): [Entry, Entry][] {
  const pairs = mine.filter((one) => !one.keyed).flatMap((one) => theirs.map((other) => ({ one, other, likeness: likeness(one.leaves, other.leaves) })));
  return pairs.filter((pair) => pair.likeness >= ALIKE).sort((a, b) => b.likeness - a.likeness).map(({ one, other }) => [one, other]);
}

function likeness(a: readonly string[], b: readonly string[]): number {
  const right = new Set(b);
  return (2 * a.filter((leaf) => right.has(leaf)).length) / Math.max(1, a.length + b.length);
}
