import { Problem } from './problem.ts';
import { childOf, childrenOf, type Node, unwrap } from './tree.ts';

/** RFC 9535 JSONPath limited to names, indices, wildcard and descendant. */
type Step = { down: boolean; at: { name: string } | { index: number } | 'any' };
export interface Path {
  readonly text: string;
  readonly steps: readonly Step[];
  /** The names of a path that is made of names alone: most are, and these are walked without a list at every step. */
  readonly names: readonly string[] | undefined;
}

/** A found node with the way to it. `parent` holds it under the last of `way`. */
export interface Match { readonly way: readonly (string | number)[]; readonly parent: Node; readonly node: Node }

const NAME = String.raw`[A-Za-z_\u0080-\uffff][\w\u0080-\uffff-]*`;
const STEP = new RegExp(String.raw`(\.\.|\.)(\*|${NAME})|(\.\.)?\[(?:(\*)|(-?\d+)|'((?:[^'\\]|\\.)*)'|"((?:[^"\\]|\\.)*)")\]`, 'y');
const ALONE = new RegExp(`^${NAME}$`);

/** Can a name stand behind a dot, without brackets and quotation marks? */
export function isPlainName(name: string): boolean { return ALONE.test(name); }

/** Reads a path. Throws a usage problem that names the text and the position of the first character not understood. */
export function parsePath(text: string): Path {
  if (!text.startsWith('$')) throw badPath(text, 0);
  const steps: Step[] = [];
  STEP.lastIndex = 1;
  while (STEP.lastIndex < text.length) {
    const from = STEP.lastIndex;
    const found = STEP.exec(text);
    if (!found) throw badPath(text, from);
    steps.push(stepOf(found));
  }
  return { text, steps, names: namesOf(steps) };
}

function namesOf(steps: readonly Step[]): string[] | undefined {
  const names = steps.flatMap(({ down, at }) => (!down && at !== 'any' && 'name' in at ? [at.name] : []));
  return names.length === steps.length ? names : undefined;
}

function stepOf(found: RegExpExecArray): Step {
  const [, dots, word, downBracket, star, index, single, double] = found;
  const down = dots === '..' || downBracket !== undefined;
  if (word === '*' || star) return { down, at: 'any' };
  if (word !== undefined) return { down, at: { name: word } };
  if (index !== undefined) return { down, at: { index: Number(index) } };
  return { down, at: { name: (single ?? double ?? '').replace(/\\(?:u([0-9A-Fa-f]{4})|(.))/g, (_whole, hex: string | undefined, sign: string) => (hex === undefined ? CONTROLS[sign] ?? sign : String.fromCharCode(parseInt(hex, 16)))) } };
}

/** How control characters are written in a quoted name (RFC 9535, section 2.3.1.1). */
const CONTROLS: Readonly<Record<string, string>> = { b: '\b', f: '\f', n: '\n', r: '\r', t: '\t' };

function badPath(text: string, at: number): Problem {
  return new Problem('usage', `the path "${text}" is not understood from character ${at + 1} on`, { remedy: 'use $ with .name, [index], [*], .* and ..name' });
}

/** A match that writes its way out only where it is asked for: most are looked at and passed over. */
class Found implements Match {
  readonly node: Node;
  readonly #above: Found | undefined;
  readonly #key: string | number;
  #way: readonly (string | number)[] | undefined;

  constructor(node: Node, above?: Found, key: string | number = '') {
    this.node = node;
    this.#above = above;
    this.#key = key;
  }

  get parent(): Node { return this.#above?.node; }

  get way(): readonly (string | number)[] {
    if (this.#way) return this.#way;
    const way: (string | number)[] = [];
    for (let above = this.#above, key = this.#key; above; key = above.#key, above = above.#above) way.push(key);
    this.#way = way.reverse();
    return this.#way;
  }

  children(): Found[] { return childrenOf(this.node).map(([key, node]) => new Found(node, this, key)); }
}

/** All nodes at a path, in document order, each once. */
export function matches(root: Node, path: Path): Match[] {
  if (path.names) return atNames(root, path.names);
  let found: Found[] = [new Found(root)];
  for (const step of path.steps) {
    found = found.flatMap((match) => take(match, step));
    if (found.length === 0) break;
  }
  return found;
}

function atNames(root: Node, names: readonly string[]): Match[] {
  let parent: Node;
  let node: Node = root;
  for (const name of names) {
    parent = node;
    node = Array.isArray(unwrap(parent)) ? undefined : childOf(parent, name);
    if (node === undefined) return [];
  }
  return [{ way: names, parent, node }];
}

function take(match: Found, step: Step): Found[] {
  if (!step.down) return pick(match, step);
  const found: Found[] = [];
  const visit = (at: Found): void => {
    const children = at.children();
    for (const one of step.at === 'any' ? children : pick(at, step)) found.push(one);
    for (const child of children) if (typeof child.node === 'object' && child.node !== null) visit(child);
  };
  visit(match);
  return found;
}

function pick(match: Found, step: Step): Found[] {
  if (step.at === 'any') return match.children();
  const list = Array.isArray(unwrap(match.node));
  if ('name' in step.at && list) return [];
  if ('index' in step.at && !list) return [];
  const key = 'name' in step.at ? step.at.name : normal(step.at.index, unwrap(match.node) as Node[]);
  const node = childOf(match.node, key);
  return node === undefined ? [] : [new Found(node, match, key)];
}

function normal(index: number, list: readonly Node[]): number {
  return index < 0 ? list.length + index : index;
}
