import { randomInt, randomUUID } from 'node:crypto';

/** How the two are written for which there is a standard. */
const [UUID, ULID] = ['[0-9a-f]{8}(-?)(?:[0-9a-f]{4}\\1){3}[0-9a-f]{12}', '[0-7][0-9A-HJKMNP-TV-Z]{25}'];

/**
 * Ids that a machine made up, so that no two things have the same one, and they say by themselves what they mean, wherever they stand: UUIDs (RFC 9562), with or
 * without hyphens; ULIDs, which begin with a time; and random letters and digits of the lengths that programs make.
 */
const FORMS: readonly { readonly is: RegExp; /** What makes another one of this form, as layouts say it. */ readonly made: string }[] = [
  { is: new RegExp(`^${UUID}$`, 'i'), made: '{uuid}' },
  { is: new RegExp(`^${ULID}$`, 'i'), made: '{ulid}' },
  { is: /^(?=.*[a-f])(?=(?:\D*\d){4})[0-9a-f]{24}$/, made: '{random hex 24}' },
  { is: /^c(?=(?:\D*\d){2})[0-9a-z]{24}$/, made: 'c{random lower 24}' },
  { is: /^(?=(?:\D*\d){2})[a-z][0-9a-z]{23}$/, made: '{random letter 1}{random lower 23}' },
  { is: /^(?=.*\d)(?=.*[A-Z])(?=.*[a-z])[0-9A-Za-z]{27}$/, made: '{random mixed 27}' },
  { is: /^(?=.*\d)(?=.*[A-Z])(?=.*[a-z])[\w-]{21}$/, made: '{random url 21}' },
];

/** Every text in a text that could be one. */
export const MADE_IDS = new RegExp(String.raw`(?<![0-9A-Za-z])(?:${UUID}|${ULID}|[0-9a-z]{24,25}|[0-9a-z]{27}|(?<![\w-])[\w-]{21}(?![\w-]))(?![0-9A-Za-z])`, 'gi');

/** All of them have so many signs: every text that a site has for an id is asked. */
const [SHORTEST, LONGEST] = [21, 36];
export function isMadeId(text: string): boolean { return text.length >= SHORTEST && text.length <= LONGEST && FORMS.some(({ is }) => is.test(text)); }

/** What a layout says to make ids of the form that all of these have. */
export function makingOf(ids: readonly string[]): string | undefined { return ids.length === 0 ? undefined : FORMS.find(({ is }) => ids.every((id) => is.test(id)))?.made; }

const DIGITS = '0123456789';
const LETTERS = 'abcdefghijklmnopqrstuvwxyz';
const SIGNS: Readonly<Record<string, string>> = { hex: `${DIGITS}abcdef`, letter: LETTERS, lower: DIGITS + LETTERS, mixed: DIGITS + LETTERS.toUpperCase() + LETTERS, url: `${DIGITS}${LETTERS.toUpperCase()}${LETTERS}_-` };
/** Crockford's base 32, as ULIDs are written in. */
const CROCKFORD = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';
const RANDOM = /^random (hex|letter|lower|mixed|url) ([1-9]\d?)$/;

function random(signs: string, length: number): string { return Array.from({ length }, () => signs.charAt(randomInt(signs.length))).join(''); }

/** A new id, or a part of one, for a word in a template: "uuid", "ulid" or "random hex 24"; nothing for any other word. */
export function madeFor(word: string): string | undefined {
  if (word === 'uuid') return randomUUID();
  if (word === 'ulid') return Array.from({ length: 10 }, (_none, i) => CROCKFORD.charAt(Math.floor(Date.now() / 32 ** (9 - i)) % 32)).join('') + random(CROCKFORD, 16);
  const [, signs = '', length = ''] = RANDOM.exec(word) ?? [];
  return length === '' ? undefined : random(SIGNS[signs] ?? '', Number(length));
}
