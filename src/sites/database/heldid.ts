import { isMeasure } from '../../core/measures.ts';
import { familyOf, isNamed, sortIn } from '../../core/translate/likename.ts';
import type { Holding } from './layout/schema.ts';
import type { Ground } from './store.ts';

/** An id in the name of a row: whose it is, and the name with that item's name in its place. */
export interface Held { readonly member: string; readonly id: string; readonly name: string }

/** Numbers that stand alone behind a sign, as in `category_12` and `board_12_colour`. */
const NUMBERS = /(?<=[_-])[1-9]\d*(?=[_-]|$)/g;

/** Numbers in a name that could be ids. */
export function numbersIn(text: string): string[] { return [...text.matchAll(NUMBERS)].map(([id]) => id); }

/** The id that a name holds: of an item of the sort that the words before it say, or of the same extension. */
export function heldIn(text: string, { ids }: Holding, nameOf: Ground['nameOf']): Held | undefined {
  for (const { 0: id, index } of text.matchAll(NUMBERS)) {
    const before = text.slice(0, index - 1);
    for (const [member, { to, least, words }] of Object.entries(ids)) {
      const name = Number(id) < least ? undefined : nameOf(to, id);
      if (name !== undefined && (words.includes(lastWord(before)) || isNamed(before, sortIn(name)) || (Number(id) >= SMALLEST_KIN && isKin(before, name)))) return { member, id, name: text.slice(0, index) + name + text.slice(index + id.length) };
    }
  }
  return undefined;
}

/** The name of the row for the one of its item, with the id that the other item has here. */
export function withHeld(name: string, id: string, held: string): string {
  for (let at = name.indexOf(held); at >= 0; at = name.indexOf(held, at + 1)) {
    const after = name.slice(at + held.length);
    if (/[_-]/.test(name.charAt(at - 1)) && (after === '' || /^[_-]/.test(after))) return name.slice(0, at) + id + after;
  }
  return name;
}

/** Smaller numbers in the names of an extension's settings count something. */
const SMALLEST_KIN = 10;

function lastWord(text: string): string { return /[a-z]*$/i.exec(text)?.[0].toLowerCase() ?? ''; }

/** Is the item called after what all names of an extension begin with, and the number no measure? */
function isKin(before: string, name: string): boolean {
  if (isMeasure(lastWord(before))) return false;
  const family = name.includes('/') ? familyOf(name) : undefined;
  return family !== undefined && family === familyOf(`${before}_x`);
}
