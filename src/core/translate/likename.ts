import { isMeasure } from '../measures.ts';
import { pluralsOf, snakeCased, uncamelled } from '../words.ts';

/** The name in an address. */
export function nameIn(address: string): string { return address.slice(address.indexOf(':') + 1); }

/** Does the name of a member end like the first word in the name of an item, which may be a plural ("next_tide", "tideid")? `many`: it holds a list or a map of them; only then it may be one itself ("tides", "tide_order"). */
export function isAlike(called: string, many: boolean, name: string): boolean {
  if (!name.includes('/')) return false;
  const [own, word] = [lastWord(many ? called.replace(IN_ORDER, '') : called), lastWord(firstWord(name))];
  return word.length >= SHORTEST_WORD && (own === word || own === `${word}id` || pluralsOf(own).includes(word) || (many && (own === `${word}ids` || pluralsOf(word).includes(own))));
}

/** Does the name of a member end with the own name of an item ("main_contact_us" for contact-us), or this with that, where it is no measure ("kit" for default-kit)? */
export function isCalledSo(called: string, name: string): boolean {
  const own = name.slice(name.lastIndexOf('/') + 1).toLowerCase().replaceAll('-', '_');
  const said = snakeCased(called).toLowerCase().replace(/_ids?$/, '');
  const isEnd = (short: string, long: string): boolean => short.length >= SHORTEST_WORD && `_${long}`.endsWith(`_${short}`);
  return isEnd(own, said) || (isEnd(said, own) && !isMeasure(said));
}

/** Is a word the first one in the name of an item, or does it end like it, also as a plural: "popup" and "my_popup" for pp_popup/sale and pp_popups/sale? Dashes and low lines are the same. `many`: the word may be a plural itself. */
export function isNamed(word: string, name: string, many = false): boolean {
  if (!name.includes('/')) return false;
  const [said, first] = [word, firstWord(name)].map((text) => uncamelled(text).replaceAll('-', '_')) as [string, string];
  const [end, kind] = [lastWord(said), lastWord(first)];
  return first === said || (kind.length >= SHORTEST_WORD && (end === kind || pluralsOf(end).includes(kind) || (many && pluralsOf(kind).includes(end))));
}

/** Does a word say the sort of an item, alone or with more words behind it: "tide" and "tide_selected" for tide/high? */
export function isOfSort(word: string, name: string): boolean { return isNamed(word, name) || (name.includes('/') && ['_', '-'].some((sign) => word.startsWith(firstWord(name) + sign))); }

/** What names of one extension begin with: "lx" of lx_trip/west and _lx_order. */
export function familyOf(name: string): string | undefined { return /^_?([a-z][a-z\d]+)[_-][a-z\d]/i.exec(name)?.[1]?.toLowerCase(); }

function firstWord(name: string): string { return name.slice(0, name.indexOf('/')); }

/** "next_tide_id", "nextTideId", "tide_12" and "tide__not_in" → "tide". */
function lastWord(text: string): string {
  return uncamelled(text).replace(/[^a-z\d]+(?:ids?|\d+|(?:not_+)?in)$/, '').split(/[^a-z\d]+/).at(-1) ?? '';
}
const SHORTEST_WORD = 3;
/** How the name of a list may go on behind what is in it. */
const IN_ORDER = /(?:[_-](?:order|list|sequence|selection)|(?<=[a-z])(?:Order|List|Sequence|Selection))$/;
