import { ENDINGS } from '../filetypes.ts';
import { literal } from '../wildcard.ts';
import type { Sort } from './likename.ts';

/** Which numbers are ids: of items of these kinds, above a number, of items that a word before it or the name of the member says. */
export interface Meant { readonly kinds: readonly string[]; readonly above?: number; readonly word?: string; /** The word may be a plural: what it names holds them by id. */ readonly many?: boolean; /** It may be a plural too, and is no word for a measure then. */ readonly several?: boolean; /** What names of the same extension begin with. */ readonly family?: string; readonly alike?: { readonly name: string; readonly many: boolean } | undefined; /** What it stands in. */ readonly within?: string | undefined; /** One of these texts beside it says which item it is. */ readonly told?: readonly string[]; /** Is this the sort that a word beside it says? */ readonly said?: ((sort: Sort) => boolean) | undefined; /** Said of many names at once: what goes by the very thing says more, and something else may be meant. */ readonly loose?: true }

/** Files that nobody uploads. */
const PROGRAMS = ['js', 'mjs', 'php', 'html', 'htm', 'xml', 'map'];

/** Under the plural of a word, as in `plans="116"`, stand several ids, or how many: larger numbers are seldom counts. */
const MOST_COUNTED = 24;

/** A pattern with {word}: what stands before the number, and that nothing behind makes it a part of a name. */
export interface WordPattern extends Meant { readonly begin: RegExp; readonly ahead: RegExp; /** Only in a text that is nothing else. */ readonly alone: boolean; /** The name that the number stands in goes on behind it. */ readonly open: boolean }
/** Numbers that could be ids beside a word, and how far such a pattern reaches. */
export const [NUMBERS, LONGEST_BEFORE, LONGEST_ENDING] = [/\d+/g, 300, 8];

export interface Pattern { readonly before: string; readonly after: string; readonly list: boolean; /** Little says that the number is an id. */ readonly guessed: boolean; readonly meant: { readonly kinds: readonly string[]; readonly above: number } }

export function parsePattern(pattern: string, kinds: readonly string[]): Pattern {
  const [, before = '', list, above = '0', after = ''] = /^([^]*?)\{id(s)?(?:>(\d+))?\}([^]*)$/.exec(pattern) ?? [];
  return { before, after, list: list !== undefined, guessed: above !== '0' || hasWord(before), meant: { kinds, above: Number(above) } };
}

/** Does something before the number stand for any word? */
export function hasWord(before: string): boolean { return WORD.test(before); }
const WORD = /\{(?:word|family)\}/;

/** Where little says that a number is an id, it is none in another address or in the name of a file. */
const [NO_PATH, NO_FILE] = ['(?<!/)', `(?!\\.(?:${[...ENDINGS, ...PROGRAMS].join('|')})(?![\\w-]))`];
/** A text that is a way of words, such as "include/page/12", or several, and no address. */
export const WAY = /^[A-Za-z][\w-]*(?:\/[\w-]+)+(?:\s?[,;|]\s?[A-Za-z][\w-]*(?:\/[\w-]+)+)*$/;
/** A guess behind a slash counts only in a text that is such a way. */
export function isAlone({ guessed, before }: Pattern): boolean { return guessed && before.endsWith('/') && !ROOTED.test(before); }
/** What stands before the word says where in an address it is. */
const ROOTED = /\/\{(?:word|family)\}/;

/** No pattern begins within a word, but one with a sign of its own may stand right behind one: `a.post-12`. */
function apart(before: string): string { return /^[\w*{]/.test(before) ? '(?<![\\w-])' : ''; }

/** What stands behind "=" may be quoted, in data within a text also with a backslash or as an entity. */
function quoted(before: string): string { return before.endsWith('=') ? '(?:\\\\*["\']|&quot;|&#0?39;)?' : ''; }

export function placesOf(pattern: Pattern): RegExp {
  const { before, after, list, guessed } = pattern;
  const [behind, ahead] = guessed && !isAlone(pattern) ? [NO_PATH, NO_FILE] : ['', ''];
  return new RegExp(`${apart(before)}${behind}(${loose(before)}${quoted(before)})(${list ? '[\\d,|\\s]+' : '\\d+'})${loose(after)}(?![\\w-])${ahead}`, 'g');
}

/** Addresses of an interface for programs have plurals before ids. */
const OF_INTERFACE = 'wp-json/';

export function wordPattern(pattern: Pattern): WordPattern {
  const { before, after, meant } = pattern;
  const alone = isAlone(pattern);
  return { ...meant, alone, many: before.endsWith('[') || before.startsWith(OF_INTERFACE), several: pattern.list && meant.above >= MOST_COUNTED, open: /^[_-]/.test(after), begin: new RegExp(`${apart(before)}${alone || ROOTED.test(before) ? '' : NO_PATH}${loose(before).replace('\\{word\\}', '(?<word>[A-Za-z][\\w-]*)').replace('\\{family\\}', '(?<family>[A-Za-z][A-Za-z\\d]*)')}${quoted(before)}${pattern.list ? '(?:\\d+\\s?[,|]\\s?)*' : ''}$`), ahead: new RegExp(`^${NO_FILE}${loose(after)}`) };
}

/** Words that stand in every text in which the pattern is found: looking for them is much quicker than the expression. */
export function wordsIn({ before }: Pattern): string[] { return before.split(/\*| … |\{(?:word|family)\}|[( >]/).filter((word) => word !== ''); }

/** Where a word ends, or a name that goes on with a low line. */
export const ANY_WORD = '[A-Za-z_]';
/** How a text looks in which the pattern could be found, where no sign of markup says so. */
export function bareOf({ before }: Pattern): string[] {
  if (/[<[]|\w-$/.test(before)) return [];
  const [whole, behind] = before.split(WORD) as [string, string?];
  return [behind === undefined ? `${loose(whole)}\\d` : `${ANY_WORD}${loose(behind)}\\d`];
}

/** A star stands for part of a word; in code there may be more spaces, or none, and signs may be written as entities. */
function starry(text: string): string {
  const spaced = text.split('*').map(literal).join('[\\w-]*').replace(/ /g, (_space, at: number, all: string) => (/[\w}]/.test(all.charAt(at - 1)) && /^(?:\w|$)/.test(all.slice(at + 1)) ? '\\s+' : '\\s*'));
  return spaced.replaceAll('\\(', '\\(\\s*').replaceAll('>', '(?:>|&gt;)');
}

/** In a pattern, ` … ` stands for other attributes of the same short code or tag, and a star for part of a word. */
function loose(text: string): string {
  return text.split(' … ').map(starry).join('\\s(?:[^\\]>]*?\\s)?');
}

