import { NAME } from '../layout/schema.ts';
import { plainLetters } from './tongues.ts';

/** A text as the name of a kind. */
export function slug(text: string): string {
  const plain = plainLetters(text).toLowerCase().replace(/[^a-z0-9]+/g, '-').replace(/^-+|-+$/g, '');
  // Letters that are not Latin have no other name than their numbers.
  return plain || Array.from(text, (sign) => sign.codePointAt(0)?.toString(16)).join('-').slice(0, LONGEST) || 'other';
}
const LONGEST = 60;

/** The name of a table, or of a column as a member of a value, as a layout can have it. */
export function aliasOf(name: string): string { return NAME.test(name) ? name : name.replace(/[^\p{L}\p{M}\p{N}_-]+/gu, '_').replace(/^(?![\p{L}_])/u, '_'); }

/** A text in single quotes of YAML. */
export function quotedText(text: string): string { return `'${text.replaceAll("'", "''")}'`; }

/** A text as YAML takes it for a text. */
export function word(text: string): string { return /^[\p{L}_][\p{L}\p{M}\p{N}_./-]*$/u.test(text) && !/^(yes|no|on|off|true|false|null|y|n)$/i.test(text) ? text : JSON.stringify(text); }

/** A path as YAML takes it for a text. */
export function quotedPath(path: string): string { return /[[\]{},'"]/.test(path) ? `'${path}'` : path; }

/** The members of a YAML map on one line. */
export function pairs(map: Readonly<Record<string, string>>): string { return `{ ${Object.entries(map).map(([name, text]) => `${word(name)}: ${text}`).join(', ')} }`; }

/** One word alone, several as a YAML list; and the words of such a text. */
export function oneOrList(words: Iterable<string>): string { const [first = '', ...more] = words; return more.length === 0 ? first : `[${[first, ...more].join(', ')}]`; }
export function listed(text: string): string[] { return text.replace(/^\[|\]$/g, '').split(', '); }

/** What several names begin with, up to a low line. */
export function commonPrefix(names: readonly string[]): string {
  const [first = ''] = names;
  let end = first.length;
  for (const name of names) while (!name.startsWith(first.slice(0, end))) end--;
  const prefix = first.slice(0, end);
  return names.length > 1 ? prefix.slice(0, prefix.lastIndexOf('_') + 1) : '';
}
