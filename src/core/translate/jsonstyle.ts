/** Texts, and the signs between them. */
const SIGNS = /"(?:[^"\\]|\\.)*"|[{}[\],:]/g;

/** White space and what follows it: a text, a sign, a number or word, or the end. */
const SPACE_AND_SIGN = /([ \n\r\t]*)("(?:[^"\\]|\\.)*"|[{}[\],:]|[^\s{}[\],:"]+|$)/g;
/** Begins the word that says what white space there is, in letters with how often; longer texts are left closed. */
const [GAPS, MOST_GAPS] = ['gaps=', 5000];
/** Begins the word that says which texts are escaped otherwise than the rest, each by its number with its own words. */
const [BUT, MOST_EXCEPTIONS] = ['but=', 1000];
const LETTERS = { ' ': 's', '\n': 'n', '\r': 'r', '\t': 't' } as const;
const SPACES: Readonly<Record<string, string>> = Object.fromEntries(Object.entries(LETTERS).map(([space, letter]) => [letter, space]));
const LINE_ENDS = new Set(['end', 'returns']);

/** One way in which JSON is written, as it shows in a text, and what makes it of JSON without any white space. */
interface Habit { readonly word: string; readonly shows: (text: string) => boolean; readonly apply: (json: string) => string }

const indented = (word: string, unit: string): Habit => {
  const beginning = new RegExp(`^[[{]\\r?\\n${unit}[^ \\t]`);
  return { word, shows: (text) => beginning.test(text), apply: (json) => indent(json, unit) };
};
const spaced = (word: string, comma: string): Habit => ({
  // Within texts the same signs mean nothing: then the whole does not come out the same.
  word, shows: (text) => /[^\\]": |[\]}"\dels], /.test(text),
  apply: (json) => json.replace(SIGNS, (sign) => (sign === ',' ? comma : sign === ':' ? ': ' : sign)),
});

/** What is escaped with a backslash; a backslash that is escaped itself escapes nothing. */
const behindBackslash = (escape: string, flags = ''): RegExp => new RegExp(`(?<!\\\\)((?:\\\\\\\\)*)\\\\${escape}`, flags);
const showsBehind = (escape: string) => { const shown = behindBackslash(escape); return (text: string): boolean => shown.test(text); };
/** An escaped character that is none of ASCII; one whose code is written in capitals. */
const [BEYOND_ASCII, IN_CAPITALS, CODE] = [behindBackslash('u(?!00[0-7])[0-9a-fA-F]{4}'), behindBackslash('u(?!00[0-7])(?=[0-9a-fA-F]{0,3}[A-F])[0-9a-fA-F]{4}'), behindBackslash('u([0-9a-f]{4})', 'g')];

/** How white space is set: at most one of these. The words are part of the format of files. */
const SPACING: readonly Habit[] = [indented('indented', '  '), indented('wide', '    '), indented('narrow', ' '), indented('tabs', '\t'), spaced('spaced', ', '), spaced('colons', ',')];
/** What is escaped, and how lines end, in the order in which it is done. */
const ESCAPES: readonly Habit[] = [
  { word: 'ascii', shows: (text) => BEYOND_ASCII.test(text) && !IN_CAPITALS.test(text), apply: (json) => escaped(json, /[\u0080-\uffff]/g) },
  { word: 'upper', shows: (text) => IN_CAPITALS.test(text), apply: (json) => escaped(json, /[\u0080-\uffff]/g).replace(CODE, (_code, before: string, hex: string) => `${before}\\u${hex.toUpperCase()}`) },
  { word: 'lines', shows: showsBehind('u202[89]'), apply: (json) => escaped(json, /[\u2028\u2029]/g) },
  { word: 'tags', shows: showsBehind('u003[CE]'), apply: (json) => json.replaceAll('<', '\\u003C').replaceAll('>', '\\u003E') },
  { word: 'markup', shows: showsBehind('u003[ce]'), apply: (json) => escaped(json, /[<>]/g) },
  { word: 'entities', shows: showsBehind('u0026'), apply: (json) => escaped(json, /&/g) },
  { word: 'apostrophes', shows: showsBehind('u0027'), apply: (json) => escaped(json, /'/g) },
  { word: 'slashes', shows: showsBehind('/'), apply: (json) => json.replaceAll('/', '\\/') },
  { word: 'end', shows: (text) => text.endsWith('\n'), apply: (json) => `${json}\n` },
  { word: 'returns', shows: (text) => text.includes('\r\n'), apply: (json) => json.replaceAll('\n', '\r\n') },
];

/** The words that say how a text of JSON is written; undefined where they would not give back the same bytes. `json`: the same without white space and needless escapes. */
export function styleOf(text: string, json: string): string | undefined {
  if (json === text) return '';
  const habits = ESCAPES.filter((one) => one.shows(text)).map(({ word }) => word);
  const even = fitting(text, json, habits);
  if (even !== undefined) return even;
  const apart = exceptions(text, json, habits);
  return apart === undefined ? undefined : fitting(text, json, [...habits, apart]);
}

function fitting(text: string, json: string, habits: readonly string[]): string | undefined {
  // Which spacing is meant cannot always be seen: of two that fit the beginning one may fit the whole.
  for (const spacing of [...SPACING.filter((one) => one.shows(text)), undefined]) {
    const words = [...(spacing ? [spacing.word] : []), ...habits].join(' ');
    if (styled(json, words) === text) return words;
  }
  return uneven(text, json, habits.filter((word) => !LINE_ENDS.has(word)));
}

/** Texts in which other signs are escaped than in the rest, by number: as when two programs wrote into it. Undefined where there are none, or one text has the same sign in both ways. */
function exceptions(text: string, json: string, habits: readonly string[]): string | undefined {
  const [written, plain] = [textsOf(text), textsOf(json)];
  const found: string[] = [];
  for (const [i, one] of plain.entries()) {
    const as = written[i] ?? '';
    if (escapedAs(one, new Set(habits)) === as) continue;
    const own = ESCAPES.filter((habit) => habit.shows(as)).map(({ word }) => word);
    if (escapedAs(one, new Set(own)) !== as) return undefined;
    found.push([i, ...own].join('+'));
  }
  return found.length === 0 || found.length > MOST_EXCEPTIONS || written.length !== plain.length ? undefined : BUT + found.join(',');
}

function textsOf(json: string): string[] { return (json.match(SIGNS) ?? []).filter((sign) => sign.startsWith('"')); }

/** One text with its escapes. */
function escapedAs(json: string, habits: ReadonlySet<string>): string {
  return ESCAPES.reduce((text, { word, apply }) => (habits.has(word) && !LINE_ENDS.has(word) ? apply(text) : text), json);
}

/** White space that follows no habit is kept as it is, for each place between two signs. */
function uneven(text: string, json: string, habits: readonly string[]): string | undefined {
  const gaps = signsOf(text).map(({ space }) => space);
  if (gaps.length > MOST_GAPS) return undefined;
  const words = [...habits, GAPS + gaps.map((space) => space.replace(/(.)\1*/gs, (run) => `${LETTERS[run[0] as keyof typeof LETTERS]}${run.length}`)).join(',')].join(' ');
  return styled(json, words) === text ? words : undefined;
}

/** Writes JSON as the words say; words that are not known mean nothing. */
export function styled(json: string, words: string): string {
  if (words === '') return json;
  const wanted = new Set(words.split(' '));
  const argument = (name: string): string[] | undefined => [...wanted].find((word) => word.startsWith(name))?.slice(name.length).split(',');
  const apart = argument(BUT);
  const apply = (text: string, habits: readonly Habit[]): string => habits.reduce((made, { word, apply: one }) => (wanted.has(word) ? one(made) : made), text);
  const spacedOut = apply(json, SPACING);
  const written = apart ? apply(withExceptions(spacedOut, wanted, apart), ESCAPES.filter(({ word }) => LINE_ENDS.has(word))) : apply(spacedOut, ESCAPES);
  const gaps = argument(GAPS);
  return gaps === undefined ? written : withGaps(written, gaps);
}

/** The words for a text of which others changed the habits from `before` to `now`: as two sides changed what it says. What goes by places holds no more. */
export function mergedStyle(own: string, before: string, now: string): string {
  const [mine, was, is] = [own, before, now].map((words) => new Set(withoutPlaces(words).split(' '))) as [Set<string>, Set<string>, Set<string>];
  const habits = [SPACING, ESCAPES].map((all) => all.map(({ word }) => word));
  const taken = (word: string): boolean => (mine.has(word) && !(was.has(word) && !is.has(word))) || (is.has(word) && !was.has(word));
  const [spacing = [], escapes = []] = habits.map((words) => words.filter(taken));
  return [...spacing.slice().sort((a, b) => Number(is.has(b)) - Number(is.has(a))).slice(0, 1), ...escapes].join(' ');
}

/** The words without those that go by numbers of places and texts: what they say of a text from which something was left out. */
export function withoutPlaces(words: string): string { return words.split(' ').filter((word) => !word.startsWith(GAPS) && !word.startsWith(BUT)).join(' '); }

function withExceptions(json: string, habits: ReadonlySet<string>, apart: readonly string[]): string {
  const own = new Map(apart.map((one) => { const [number = '', ...words] = one.split('+'); return [Number(number), new Set(words)]; }));
  let number = 0;
  return json.replace(SIGNS, (sign) => (sign.startsWith('"') ? escapedAs(sign, own.get(number++) ?? habits) : sign));
}

/** Every sign of a text with the white space before it; the last is its end, and empty. */
function signsOf(text: string): { space: string; sign: string }[] {
  const found: { space: string; sign: string }[] = [];
  for (const [, space = '', sign = ''] of text.matchAll(SPACE_AND_SIGN)) { found.push({ space, sign }); if (sign === '') break; }
  return found;
}

/** Only where there are as many places as there were: else something else stands there now. */
function withGaps(json: string, gaps: readonly string[]): string {
  const signs = signsOf(json);
  if (signs.length !== gaps.length) return json;
  return signs.map(({ sign }, i) => (gaps[i] ?? '').replace(/([snrt])(\d+)/g, (_run, letter: string, times: string) => (SPACES[letter] ?? '').repeat(Number(times))) + sign).join('');
}

/** A line for each member and entry; what is empty stays on its line. */
function indent(json: string, unit: string): string {
  let depth = 0;
  const line = (): string => `\n${unit.repeat(depth)}`;
  return json.replace(SIGNS, (sign, at: number) => {
    const [before, after] = [json[at - 1], json[at + 1]];
    switch (sign) {
      case '{': case '[': depth++; return after === '}' || after === ']' ? sign : sign + line();
      case '}': case ']': depth--; return before === '{' || before === '[' ? sign : line() + sign;
      case ',': return sign + line();
      case ':': return ': ';
      default: return sign;
    }
  });
}

function escaped(json: string, characters: RegExp): string {
  return json.replace(characters, (one) => `\\u${one.charCodeAt(0).toString(16).padStart(4, '0')}`);
}
