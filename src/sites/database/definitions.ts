import { cellText, type Row } from './cells.ts';
import { definedBy } from '../../core/translate/refer.ts';
import { childOf, childrenOf, unwrap, type Node } from '../../core/tree.ts';
import { capturing } from './layout/template.ts';
import type { Definition } from './layout/schema.ts';
import { unpacked } from './packed.ts';

/** A row with what a lookup found in it. */
export interface Found { readonly row: Row; readonly texts: readonly string[] }

/** What rows of a site say of the values that they define, by their names; apart from these where objects in their values are called so. */
export class Definitions {
  readonly #words = new Map<string, string>();
  /** Of two that say different things of one name neither counts. */
  readonly #disputed = new Set<string>();

  add(rule: Definition, found: readonly Found[]): void {
    if (rule.members) for (const { row } of found) this.#inside(cellText(row[rule.value]), rule.members);
    else this.#named(rule, found);
  }

  get all(): ReadonlyMap<string, string> { return new Map([...this.#words].filter(([name]) => !this.#disputed.has(name))); }

  #named({ name = '', pattern, defined }: Definition, found: readonly Found[]): void {
    const captures = capturing(pattern);
    for (const { row, texts: [text] } of found) {
      const caught = captures(cellText(row[name]))?.['name'];
      const word = defined ? this.#words.get(text ?? '') : text;
      if (caught !== undefined && word !== undefined) this.#words.set(caught, word);
    }
  }

  /** Every object, however deep, that says what it is called and what it is. */
  #inside(node: Node, rule: NonNullable<Definition['members']>, deep = 0): void {
    const inner = typeof node === 'string' && PACKED.test(node) ? packedValue(node) : unwrap(node);
    if (typeof inner !== 'object' || inner === null || deep > DEEPEST) return;
    if (!Array.isArray(inner)) this.#define(inner, rule);
    for (const [, child] of childrenOf(inner)) this.#inside(child, rule, deep + 1);
  }

  #define(object: Node, { name, says }: NonNullable<Definition['members']>): void {
    const word = childOf(object, says);
    const called = name.map((one) => childOf(object, one)).find((one) => typeof one === 'string' && WORD.test(one));
    if (typeof word !== 'string' || typeof called !== 'string' || !WORD.test(word)) return;
    const key = definedBy(called);
    if ((this.#words.get(key) ?? word) !== word) this.#disputed.add(key);
    this.#words.set(key, word);
  }
}

/** What a field, or a sort of fields, is called. */
const WORD = /^[a-z_][\w-]{1,80}$/i;
/** How data begins that is packed in a text, and so deep it is looked into. */
const [PACKED, DEEPEST] = [/^(?:\s*[[{]|a:\d+:\{)/, 30];

function packedValue(text: string): Node { return unpacked(text, text.startsWith('a:') ? 'php' : 'json'); }
