import { kindWord, unquoteName } from '../address.ts';
import { isMeasure } from '../measures.ts';
import { pluralsOf, singularOf, snakeCased, uncamelled } from '../words.ts';

/** The name in an address. */
export function nameIn(address: string): string { return address.slice(address.indexOf(':') + 1); }

/** Words for the sort that an item is of: the first one in its name, and what things of its kind are called. */
export interface Sort { readonly own: string | undefined; readonly called: readonly string[] }

/** What the name of an item says of its sort. */
export function sortIn(name: string, called: readonly string[] = []): Sort { const end = name.indexOf('/'); return { own: end < 0 ? undefined : name.slice(0, end), called }; }

function wordsFor({ own, called }: Sort): readonly string[] { return own === undefined ? called : [own, ...called]; }

/** Is a word the one for a sort, which may be a plural? `many`: only then it may be one itself. */
function isSameWord(said: string, word: string, many: boolean): boolean {
  return word.length >= SHORTEST_WORD && (said === word || pluralsOf(said).includes(word) || (many && pluralsOf(word).includes(said)) || isBehind(said, word) || (many && isBehind(singularOf(said), word)));
}
/** What the names of an extension begin with may stand before a word without a sign between: "lxproduct". */
function isBehind(said: string, word: string): boolean { return said.length >= LONG_WORD && word.length > said.length && word.length - said.length <= LONGEST_MARK && word.endsWith(said); }
const [LONG_WORD, LONGEST_MARK] = [5, 4];

/** Does the name of a member end like a word for a sort, which may be a plural ("next_tide", "tideid")? `many`: it holds a list or a map of them; only then it may be one itself ("tides", "tide_order"). */
export function isAlike(name: string, many: boolean, sort: Sort): boolean {
  if (HOW_MANY.test(name)) return false;
  const called = many ? name.replace(IN_ORDER, '') : name;
  const chosen = called.replace(CHOSEN, '');
  return endsWithWord(called, many, sort) || (chosen !== called && endsWithWord(chosen, many, sort));
}

function endsWithWord(called: string, many: boolean, sort: Sort): boolean {
  const [own, head] = [lastWord(called), headOf(called)];
  return wordsFor(sort).some((one) => {
    const word = lastWord(one);
    return isSameWord(own, word, many) || (head !== undefined && isSameWord(head, word, many)) || (word.length >= SHORTEST_WORD && (own === `${word}id` || (many && own === `${word}ids`)));
  });
}

/** Does the name of a member end with the own name of an item ("main_contact_us" for contact-us), or this with that, where it is no measure ("kit" for default-kit)? */
export function isCalledSo(called: string, name: string): boolean {
  const own = name.slice(name.lastIndexOf('/') + 1).toLowerCase().replaceAll('-', '_');
  const said = snakeCased(called).toLowerCase().replace(/_ids?$/, '');
  const isEnd = (short: string, long: string): boolean => short.length >= SHORTEST_WORD && `_${long}`.endsWith(`_${short}`);
  return isEnd(own, said) || (isEnd(said, own) && !isMeasure(said));
}

/** Is a text the own name of an item as people write it: "Fares & tickets" for page:fares-tickets, and for page:fares-tickets-2? */
export function isTitleOf(text: string, address: string): boolean {
  const said = lettersOf(text);
  if (said.length < SHORTEST_WORD || /^\d+$/.test(said)) return false;
  const own = decoded(unquoteName(nameIn(address).split('/').at(-1) ?? '')).replace(/\.\w{2,5}$/, '');
  return [own, own.replace(/-\d+$/, '')].some((one) => lettersOf(one) === said);
}
/** Without accents, signs and entities, none of which names have that are made of titles. */
function lettersOf(text: string): string { return text.replace(/&#?\w+;/g, '').normalize('NFKD').toLowerCase().replace(/[^\p{L}\p{N}]/gu, ''); }
/** As it may stand in addresses. */
function decoded(name: string): string { try { return decodeURIComponent(name); } catch { return name; } }

/** Is a word one for a sort, or does it end like it, also as a plural: "popup" and "my_popup" for pp_popup/sale and pp_popups/sale? Dashes and low lines are the same. `many`: the word may be a plural itself. */
export function isNamed(word: string, sort: Sort, many = false): boolean {
  if (HOW_MANY.test(word)) return false;
  const said = uncamelled(word).replaceAll('-', '_');
  const end = lastWord(said);
  return wordsFor(sort).some((one) => {
    const first = uncamelled(one).replaceAll('-', '_');
    return first === said || isSameWord(end, lastWord(first), many);
  });
}

/** Does a word say the sort of an item, alone or, where the item's own name begins with it, with more words behind it: "tide" and "tide_selected" for tide/high? */
export function isOfSort(word: string, sort: Sort): boolean { return isNamed(word, sort, true) || (sort.own !== undefined && ['_', '-'].some((sign) => word.startsWith(`${sort.own ?? ''}${sign}`))); }

/** What names of one extension begin with: "lx" of lx_trip/west and _lx_order. */
export function familyOf(name: string): string | undefined { return /^_?([a-z][a-z\d]+)[_-][a-z\d]/i.exec(name)?.[1]?.toLowerCase(); }

/** The extension that an item is of, as far as its kind or its name says it: "lx" of lx-form:ask and entry:lx_trip/west. */
export function familyAt(address: string): string | undefined { return familyOf(kindWord(address)) ?? familyOf(nameIn(address)); }

/** What tells of items that they go together: the family of their names, or else their type. */
export function kinshipOf(name: string): string | undefined { return familyOf(name) ?? sortIn(name).own; }

/** "next_tide_id", "nextTideId", "tide_12" and "tide__not_in" → "tide". */
function lastWord(text: string): string {
  return uncamelled(text).replace(/[^a-z\d]+(?:ids?|\d+|(?:not_+)?in)$/, '').split(/[^a-z\d]+/).at(-1) ?? '';
}
/** What a name is about that goes on with where that is: "tides_on_front", "tideInMenu". */
function headOf(text: string): string | undefined {
  const [, head] = WHERE.exec(uncamelled(text)) ?? [];
  return head === undefined ? undefined : lastWord(head);
}
const WHERE = /^(.*[a-z\d])[_-](?:on|in|at|with|without|from|under|below|above|of)[_-](?!ids?$)[a-z]/;
const SHORTEST_WORD = 2;
/** "tides_per_place" counts what is named before. */
const HOW_MANY = /(?:^|[_-])(?:per|PER|por|par)[_-]|(?:^[pP]|(?<=[a-z])P)er[A-Z]/;
/** How the name of one of several may go on: with which one it is, or where or in which language it counts. */
const CHOSEN = /[_-](?:default|fallback|selected|current|active|main|primary|secondary|alt|global|desktop|tablet|mobile|phone|dark|light|en|de|fr|es|it|nl|pl|ru|ja|zh|sv|da|nb|fi|cs|hu|ro|tr|uk|ko|ar|he)$/;
/** How the name of a list may go on behind what is in it: as what it goes, or with what was done with all of it. */
const IN_ORDER = /(?:[_-](?:order|list|sequence|selection|shown|hidden|chosen|picked|allowed|blocked|denied|included|excluded|enabled|disabled)|(?<=[a-z])(?:Order|List|Sequence|Selection|Shown|Hidden|Chosen|Picked|Allowed|Blocked|Denied|Included|Excluded|Enabled|Disabled))$/;
