import { ENDINGS } from '../filetypes.ts';

/** Which numbers are ids: of items of these kinds, above a number, of items whose names begin so. */
export interface Meant { readonly kinds: readonly string[]; readonly above?: number; readonly begins?: string }

/** Files that nobody uploads. */
const PROGRAMS = ['js', 'mjs', 'php', 'html', 'htm', 'xml', 'map'];

/** A pattern with {word}: what stands before the number, and that nothing behind makes it a part of a name. */
export interface WordPattern extends Meant { readonly begin: RegExp; readonly ahead: RegExp }
/** Numbers that could be ids beside a word, and how far such a pattern reaches. */
export const [LONG_NUMBER, LONGEST_BEFORE, LONGEST_ENDING] = [/\d{2,}/g, 300, 8];

export interface Pattern { readonly before: string; readonly after: string; readonly list: boolean; readonly meant: { readonly kinds: readonly string[]; readonly above: number } }

export function parsePattern(pattern: string, kinds: readonly string[]): Pattern {
  const [, before = '', list, above = '0', after = ''] = /^([^]*?)\{id(s)?(?:>(\d+))?\}([^]*)$/.exec(pattern) ?? [];
  return { before, after, list: list !== undefined, meant: { kinds, above: Number(above) } };
}

/** Where little says that a number is an id, it is none in another address or in the name of a file. */
const [NO_PATH, NO_FILE] = ['(?<!/)', `(?!\\.(?:${[...ENDINGS, ...PROGRAMS].join('|')})(?![\\w-]))`];
/** What stands behind "=" may be quoted. */
function quoted(before: string): string { return before.endsWith('=') ? '["\']?' : ''; }

export function placesOf({ before, after, list, meant: { above } }: Pattern): RegExp {
  const [behind, ahead] = above > 0 ? [NO_PATH, NO_FILE] : ['', ''];
  return new RegExp(`(?<![\\w-])${behind}(${loose(before)}${quoted(before)})(${list ? '[\\d,\\s]+' : '\\d+'})${loose(after)}(?![\\w-])${ahead}`, 'g');
}

export function wordPattern({ before, after, meant }: Pattern): WordPattern {
  return { ...meant, begin: new RegExp(`(?<![\\w-])${NO_PATH}${loose(before).replace('\\{word\\}', '(?<word>[A-Za-z][\\w-]*)')}${quoted(before)}$`), ahead: new RegExp(`^${NO_FILE}${loose(after)}`) };
}

/** How a text looks in which the pattern could be found, where no sign of markup says so. */
export function bareOf({ before }: Pattern): string[] { return /[<[]|\w-$/.test(before) ? [] : [`${before.includes('{word}') ? '[A-Za-z_]' : ''}${loose(before.replace('{word}', ''))}\\d`]; }

function literal(text: string): string {
  return text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
}

/** A star stands for part of a word. */
function starry(text: string): string { return text.split('*').map(literal).join('[\\w-]*'); }

/** In a pattern, ` … ` stands for other attributes of the same short code or tag, and a star for part of a word. */
function loose(text: string): string {
  return text.split(' … ').map(starry).join('\\s(?:[^\\]>]*?\\s)?');
}

