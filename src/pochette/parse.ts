import { MAX_DEPTH } from '../core/json.ts';
import { Problem } from '../core/problem.ts';

/** Parses JSON that may come from a stranger: keys that could reach a prototype and deep nesting are refused, with the key named. Nesting is looked at by whoever reads the value. */
export function parseJson(text: string, from: string): unknown {
  let value: unknown;
  try { value = JSON.parse(text); } catch (error) {
    throw new Problem('unreadable', `this is not JSON: ${error instanceof Error ? error.message : ''}`, { where: from });
  }
  // Looking at every value is slow; the key can only be there where its letters, or their escapes, are in the text.
  if (/__proto__|\\u005f/i.test(text)) refuseHostile(value, from, 0);
  return value;
}

/** Throws for the key `__proto__` and for values nested too deep. */
function refuseHostile(value: unknown, from: string, depth: number): void {
  if (typeof value !== 'object' || value === null) return;
  // Kinds and notation add levels of their own around a value.
  if (depth > 2 * MAX_DEPTH) throw new Problem('unreadable', `a value is nested deeper than ${2 * MAX_DEPTH} levels`, { where: from });
  if (Object.hasOwn(value, '__proto__')) throw new Problem('unreadable', 'the key "__proto__" is not accepted', { where: from, remedy: 'a value with this key can attack programs that read it: ask whoever made the file' });
  for (const entry of Object.values(value)) refuseHostile(entry, from, depth + 1);
}
