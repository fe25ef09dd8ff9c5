import { shortKind, unquoteName, type Address, parseAddress } from './address.ts';
import { byCodeUnit } from './json.ts';
import { Problem } from './problem.ts';

/** `template:*`, `settings:tickets#mail`, `field-set:crossing#/fields/vessel`, `ticket-desk/settings:*`; `*` stands for any characters, `?` for one. */
export interface Selector {
  readonly text: string;
  readonly part: string | undefined;
  matches(address: Address, kindId: string): boolean;
}

export function parseSelector(text: string): Selector {
  const found = /^([^:#\s]+):([^#]+)(?:#([a-z0-9-]+|\/[^]+))?$/.exec(text);
  if (!found) {
    throw new Problem('usage', `"${text}" is not a selector`, { remedy: 'write kind:name, for example "template:*", "settings:tickets#mail" or "field-set:crossing#/fields/vessel"' });
  }
  const [, kind = '', name = '', part] = found;
  const kindPattern = wildcard(kind);
  const namePattern = wildcard(unquoteName(name));
  return {
    text, part,
    matches(address, kindId) {
      const parsed = parseAddress(address);
      const candidates = [parsed.kind, kindId, shortKind(kindId)];
      return candidates.some((one) => kindPattern.test(one)) && namePattern.test(parsed.name);
    },
  };
}

function wildcard(text: string): RegExp {
  const body = text.replace(/[.+^${}()|[\]\\]/g, '\\$&').replaceAll('*', '[^]*').replaceAll('?', '[^]');
  return new RegExp(`^${body}$`, 'u');
}

/** What is selected: undefined is nothing, 'all', or the parts. No selectors at all select everything. */
export function selection(selectors: readonly Selector[], address: Address, kindId: string): 'all' | string[] | undefined {
  if (selectors.length === 0) return 'all';
  const hits = selectors.filter((selector) => selector.matches(address, kindId));
  if (hits.length === 0) return undefined;
  if (hits.some((selector) => selector.part === undefined)) return 'all';
  return [...new Set(hits.map((selector) => selector.part as string))].sort();
}

/** The known texts nearest to one that matched nothing, by edit distance; at most three. */
export function nearest(text: string, known: Iterable<string>): string[] {
  const scored = [...known].map((one) => ({ one, distance: editDistance(text.slice(0, 80), one.slice(0, 80)) }));
  return scored.filter(({ distance }) => distance <= Math.max(3, text.length / 2))
    .sort((a, b) => a.distance - b.distance || commonStart(b.one, text) - commonStart(a.one, text) || byCodeUnit(a.one, b.one)).slice(0, 3).map(({ one }) => one);
}

function commonStart(a: string, b: string): number {
  let length = 0;
  while (length < a.length && a[length] === b[length]) length++;
  return length;
}

/** Levenshtein distance, one row at a time. */
function editDistance(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++) {
      next.push(Math.min((row[j] as number) + 1, (next[j - 1] as number) + 1, (row[j - 1] as number) + (a[i - 1] === b[j - 1] ? 0 : 1)));
    }
    row = next;
  }
  return row[b.length] as number;
}
