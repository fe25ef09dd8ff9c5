import { byCodeUnit } from './json.ts';

/** A node of the dependency graph; `needs` names the nodes that must come first, `firm` those of them that cannot be made good afterwards. Unknown names are ignored. */
export interface GraphNode { readonly name: string; readonly rank: number; readonly needs: readonly string[]; readonly firm?: readonly string[] }

export interface Ordered {
  readonly name: string;
  /** 0 for what needs nothing; one more than the highest level among what it needs. */
  readonly level: number;
  /** Needs that close a circle: they are completed in a second pass. */
  readonly deferred: readonly string[];
}

/**
 * Orders a graph so that everything comes after what it needs, except along edges that close a circle.
 * Depth first in the order of rank and name, so the result does not depend on the order of the input; an edge to a node that is still
 * open leads back along a circle and is deferred (R. Tarjan, Depth-first search and linear graph algorithms, 1972), and so is one to a node that firmly needs
 * an open one, by whatever ways. O(nodes + edges), where firm chains are short; no recursion.
 */
export function order(nodes: readonly GraphNode[]): Ordered[] {
  const sorted = [...nodes].sort((a, b) => a.rank - b.rank || byCodeUnit(a.name, b.name));
  const position = new Map(sorted.map((node, i) => [node.name, i]));
  const needs = sorted.map((node) => {
    const known = new Set<number>();
    for (const name of node.needs) { const i = position.get(name); if (i !== undefined) known.add(i); }
    return [...known].sort((a, b) => a - b);
  });
  const firm = sorted.map((node) => (node.firm ?? []).flatMap((name) => position.get(name) ?? []));
  return depthFirst(sorted, needs, firm).sort((a, b) => a.level - b.level || (position.get(a.name) as number) - (position.get(b.name) as number));
}

function depthFirst(sorted: readonly GraphNode[], needs: readonly (readonly number[])[], firm: readonly (readonly number[])[]): Ordered[] {
  const NEW = -2;
  const OPEN = -1;
  const level = new Array<number>(sorted.length).fill(NEW);
  const done: Ordered[] = [];
  for (let root = 0; root < sorted.length; root++) {
    if (level[root] !== NEW) continue;
    const stack = [{ at: root, next: 0, height: 0, deferred: [] as string[] }];
    level[root] = OPEN;
    for (let top = stack.at(-1); top; top = stack.at(-1)) {
      const need = needs[top.at]?.[top.next];
      if (need === undefined) { close(top); stack.pop(); continue; }
      if (level[need] === NEW && !waits(need)) { level[need] = OPEN; stack.push({ at: need, next: 0, height: 0, deferred: [] }); continue; }
      if ((level[need] as number) < 0) top.deferred.push((sorted[need] as GraphNode).name);
      else top.height = Math.max(top.height, (level[need] as number) + 1);
      top.next++;
    }
  }
  return done;

  /** Does it firmly need something that is still open? */
  function waits(at: number): boolean {
    const seen = new Set([at]);
    for (const one of seen) {
      for (const below of firm[one] ?? []) {
        if (level[below] === OPEN) return true;
        if (level[below] === NEW) seen.add(below);
      }
    }
    return false;
  }

  function close(top: { at: number; height: number; deferred: string[] }): void {
    level[top.at] = top.height;
    done.push({ name: (sorted[top.at] as GraphNode).name, level: top.height, deferred: top.deferred });
  }
}
