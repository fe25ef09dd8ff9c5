import { groupBy, onceFor } from '../json.ts';
import type { CodecStep } from '../kind.ts';
import { isLike, namesLike } from '../nameslike.ts';
import { DataKinds, NamesInData, type NamedKinds } from './data.ts';
import { hidesPacked } from './packedtext.ts';
import { ANY_WORD, bareOf, hasWord, isAlone, parsePattern, placesOf, wordPattern, wordsIn, type Meant, type WordPattern } from './patterns.ts';

export type HtmlRule = Extract<CodecStep, { codec: 'html' }>;

/** A pattern without {word}. `sign`: none of its places is in a text without it; empty where there is no such sign. */
export interface PlainPattern extends Meant { readonly places: RegExp; readonly alone: boolean; readonly needs: readonly string[]; readonly sign: string }

/** What a rule says of HTML, as it is used. */
export interface Compiled {
  readonly attribute: KindsByName;
  readonly patterns: readonly PlainPattern[];
  /** Those with {word}, by the sign before the number. */
  readonly words: ReadonlyMap<string, readonly WordPattern[]>;
  readonly data: DataKinds | undefined;
  /** Keys that count only in comments that begin with a word. */
  readonly byWord: readonly { word: string; data: DataKinds }[];
  /** False: there is nothing for the rule in a text. Quick, because it is asked for every text. */
  readonly concerns: (text: string) => boolean;
}
type KindsByName = (name: string) => readonly string[] | undefined;

type Said = Omit<Compiled, 'data'> & { readonly inData: NamesInData | undefined };

const COMPILED = new WeakMap<HtmlRule, Compiled>();
/** Signs of markup, of a short code, of code. */
const [MARKUP, SIGNS, DIGIT] = [/[<[]/, ['[', '(', '='], /\d/];

/** JSON that is percent-encoded, or written with entities; names with a value each. */
const SPELLED = /%(?:7[Bb]|5[Bb]|3[Cc])|[{[]&(?:quot|#34);|(?:^|[&;])[\w-]+(?:\[\w*\])?[=:]\d/;

/** The expressions of a rule, made once. */
export function compiled(rule: HtmlRule): Compiled {
  const known = COMPILED.get(rule);
  if (known) return known;
  const { attributes, comments, patterns, alike, inData } = rule;
  const { inData: names, ...rest } = said({ attributes, comments, patterns, alike });
  const made: Compiled = { ...rest, data: names && new DataKinds(names, [alike].flat(), inData) };
  COMPILED.set(rule, made);
  return made;
}

/** What does not hang on the kind that a rule is of. */
const said = onceFor((rule: Pick<HtmlRule, 'attributes' | 'comments' | 'patterns' | 'alike'>): Said => {
  const named = Object.entries(rule.comments).map(([key, kinds]) => { const [name = '', word] = key.split('#').reverse(); return { name, word, kinds: [kinds].flat() }; });
  const patterns = Object.entries(rule.patterns).map(([pattern, kinds]) => parsePattern(pattern, [kinds].flat()));
  const bare = new RegExp([/\w-\d/.source, ...withoutCovered(patterns.flatMap(bareOf))].join('|'));
  const [anywhere, worded] = [named.filter(({ word }) => word === undefined), named.filter(({ word }) => word !== undefined)];
  return {
    // Where no digit is, no id is.
    concerns: (text) => MARKUP.test(text) || (DIGIT.test(text) && (bare.test(text) || SPELLED.test(text) || hidesPacked(text))),
    attribute: kindsByName(Object.entries(rule.attributes).map(([name, kinds]) => ({ name, kinds: [kinds].flat() }))),
    patterns: patterns.filter(({ before }) => !hasWord(before)).map((one) => ({ ...one.meant, within: /^\[([\w-]+)/.exec(one.before)?.[1], places: placesOf(one), alone: isAlone(one), needs: wordsIn(one), sign: SIGNS.find((sign) => one.before.includes(sign)) ?? '' })),
    words: bySign(patterns.filter(({ before }) => hasWord(before)).map((one) => ({ before: one.before, list: one.list, pattern: wordPattern(one) }))),
    inData: rule.alike.length > 0 || anywhere.length > 0 ? new NamesInData(anywhere) : undefined,
    byWord: [...groupBy(worded, ({ word }) => word ?? '')].map(([word, same]) => ({ word, data: new DataKinds(new NamesInData(same)) })),
  };
});

/** Which of the signs that patterns ask for are in a text. */
export function signsIn(text: string): ReadonlySet<string> { return new Set(['', ...SIGNS.filter((sign) => text.includes(sign))]); }

/** The sign before a number, as patterns have it: white space is one sign, and so are what a quotation begins with and a space in a list. */
export function signBefore(text: string, at: number): string {
  const sign = text.charAt(at - 1);
  return /\s/.test(sign) ? (BETWEEN.includes(text.charAt(at - 2)) ? SPACED : ' ') : /["';\\]/.test(sign) ? '"' : sign;
}

function bySign(all: readonly { readonly before: string; readonly list: boolean; readonly pattern: WordPattern }[]): Map<string, WordPattern[]> {
  const found = new Map<string, WordPattern[]>();
  for (const { before, list, pattern } of all) {
    const signs = new Set([...signsOf(before), ...(list ? BETWEEN : [])]);
    if ([' ', ...BETWEEN].some((sign) => signs.has(sign))) signs.add(SPACED);
    for (const sign of signs) found.set(sign, [...found.get(sign) ?? [], pattern]);
  }
  return found;
}

/** Between the ids of a list, perhaps with a space behind it, where what has a space before its number is found too. */
const [BETWEEN, SPACED] = [[',', '|'], ', '];

/** What can stand before the number of a pattern: behind "=" a quotation may begin, and where space may be, there may be none. */
function signsOf(before: string): string[] {
  const last = before.charAt(before.length - 1);
  return last === '=' ? ['=', '"'] : last === '(' ? ['(', ' '] : last === ' ' ? [' ', before.charAt(before.length - 2)] : [last];
}

/** Without those that another one finds as well, which asks for less before the number. */
function withoutCovered(bare: readonly string[]): readonly string[] {
  const short = bare.filter((one) => one.startsWith(ANY_WORD)).map((one) => one.slice(ANY_WORD.length));
  return [...new Set(bare)].filter((one) => !short.some((rest) => one.endsWith(rest) && /^[a-z_]$/i.test(one.charAt(one.length - rest.length - 1))));
}

/** Names as they stand decide before those with a star. */
function kindsByName(named: readonly NamedKinds[]): KindsByName {
  const exact = new Map(named.filter(({ name }) => !isLike(name)).map(({ name, kinds }) => [name, kinds]));
  const starred = named.filter(({ name }) => isLike(name)).map(({ name, kinds }) => ({ fits: namesLike([name]), kinds }));
  return starred.length === 0 ? (name) => exact.get(name) : (name) => exact.get(name) ?? starred.find(({ fits }) => fits(name))?.kinds;
}
