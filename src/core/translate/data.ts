import { asksBeside, type CodecStep, type ReferenceStep } from '../kind.ts';
import { isLike, MEASURE, namesLike } from '../nameslike.ts';
import type { Meant } from './patterns.ts';
import { CHOSEN, meaningHere, SEEN_AS } from './refer.ts';

/** A whole number, or a text that is one, in JSON data that stands in markup. Offsets are those of its digits. The first meaning counts that there is an item for. */
export interface DataNumber { readonly start: number; readonly end: number; readonly meant: readonly Meant[] }
export interface NamedKinds { readonly name: string; readonly kinds: readonly string[] }

/** An object or list that is being read. `above`: the name of what it stands in. */
interface Frame { readonly isObject: boolean; readonly name: string; readonly above: string; /** Members so far, with those values that are texts. */ readonly members: Map<string, string>; key: string }
interface Found { readonly start: number; readonly end: number; readonly name: string; /** One of a list. */ readonly many: boolean; readonly above: string; readonly beside: ReadonlyMap<string, string> }

interface Beside { readonly name: string; readonly other: string; readonly isWord: string | undefined; readonly meant: Meant }

/** A text in quotes or in quotes written as entities; a number; a sign; and as in code a text in single quotes, the name of a member without any, a word. */
const TOKEN = /\s*(?:"((?:[^"\\]|\\.)*)"|(&quot;|&#34;)((?:(?!\2)[^\\]|\\(?:\2|.))*)\2|(-?\d[\d.eE+-]*)|([{}[\],:])|'((?:[^'\\]|\\.)*)'|([A-Za-z_$][\w$]*)(?=\s*:)|[A-Za-z_$][\w$.]*)/y;
/** Of data where nobody asks what stands beside. */
const NO_MEMBERS = new Map<string, string>();
const DIGITS = /^[1-9]\d*$/;
/** A text that is a list of ids. Most texts begin with no digit. */
const NINE = '9'.charCodeAt(0);
const LISTED = /^[1-9]\d*(?:\s?[,|;]\s?[1-9]\d*)+$/;
/** A name that no rule knows. */
const OUTSIDE = '<!--';
const NOTHING_DEFINED: ReadonlyMap<string, string> = new Map();
const COLON = /\s*:/y;
/** Smaller numbers are counts and positions. */
const SMALLEST_GUESS = 9;
/** Said of every name with a word for a measure. */
const A_MEASURE: Meant = { kinds: [], above: SMALLEST_GUESS };

/**
 * Which numbers in JSON data are ids, by the names that they stand under: `name`; `above.name`, only within `above`; `name beside other`, only where the
 * same object has a member `other`, or `other=word` where that is the word. These go first where they ask for a word. A star stands for part of a word. The first of these that fits decides, names as they stand before those with a star.
 */
export class DataKinds {
  readonly #exact: ReadonlyMap<string, Meant>;
  readonly #starred: readonly { within: boolean; fits: (text: string) => boolean; meant: Meant }[];
  readonly #beside: readonly Beside[];

  readonly #alike: readonly string[];
  readonly #rules: CodecStep['inData'];

  /** `alike`: kinds of which an id can stand under any name that says what the item is; `rules`: what is said of values of the same kind holds for data too. */
  constructor(named: readonly NamedKinds[], alike: readonly string[] = [], rules?: CodecStep['inData']) {
    this.#alike = alike;
    this.#rules = rules;
    const plain = named.filter(({ name }) => !name.includes(' beside '));
    this.#exact = new Map(plain.filter(({ name }) => !isLike(name)).map(({ name, kinds }) => [name, { kinds }]));
    this.#starred = plain.filter(({ name }) => isLike(name)).map(({ name, kinds }) => ({ within: name.includes('.'), fits: namesLike([name]), meant: name === MEASURE && kinds.length === 0 ? A_MEASURE : name.startsWith('~') ? { kinds, above: SMALLEST_GUESS } : { kinds } }));
    this.#beside = named.flatMap(({ name, kinds }): Beside[] => { const [own = '', condition] = name.split(' beside '); const [other = '', word] = condition?.split('=') ?? []; return condition === undefined ? [] : [{ name: own, other, isWord: word, meant: { kinds } }]; });
  }

  /** Those numbers behind the first bracket of a text that could be ids, up to where its data ends. `definitions`: what the site says of values, by the name of what defines them; `called`: the name of it all. */
  numbers(text: string, definitions = NOTHING_DEFINED, called = ''): DataNumber[] {
    const first = text.search(/[{[]/);
    if (first < 0) return [];
    const numbers: DataNumber[] = [];
    for (const found of read(text, first, { besides: this.#beside.length > 0 || this.#rules !== undefined, called })) {
      const one = ofChoice(found);
      const said = this.#defined(found, definitions) ?? this.#of(one);
      // A guess that is none for a small number leaves it to the others.
      const isOpen = !said || (said.above !== undefined && Number(text.slice(one.start, one.end)) <= said.above);
      const meant = isOpen || said === A_MEASURE ? this.#guesses(one, isOpen) : [said];
      if (meant.some(({ kinds }) => kinds.length > 0)) numbers.push({ start: one.start, end: one.end, meant });
    }
    return numbers;
  }

  /** What defines a value says more than its name. */
  #defined({ name, above, beside }: Found, definitions: ReadonlyMap<string, string>): Meant | undefined {
    if (definitions.size === 0) return undefined;
    const rules = this.#placeOf(above, name)?.rules('').values.filter((rule) => rule.sorts?.defined) ?? [];
    return rules.map((rule): Meant => meaningHere(rule, Object.fromEntries(beside), { name, item: '', definitions, around: undefined })).find(({ kinds }) => kinds.length > 0);
  }

  /** What is called as the very thing is none of the measures that go by that word: if it is `open` what the name means, anything is guessed. */
  #guesses(one: Found, open: boolean): Meant[] {
    const all = [...this.#alikeTo(one), ...this.#asValue(one)];
    return open ? all : all.filter((guess) => guess.alike);
  }

  #alikeTo(found: Found): Meant[] {
    return this.#alike.length === 0 ? [] : [{ kinds: this.#alike, above: SMALLEST_GUESS, alike: saying(found) }];
  }

  /** Where a value of these names would stand, for what is said of values. */
  #placeOf(above: string, name: string) {
    const outside = this.#rules?.().child(OUTSIDE);
    return (above === '' ? outside : outside?.child(above))?.child(name);
  }

  /** What a value with such names would mean, as far as it goes by the names and by what stands beside it. */
  #asValue(one: Found): Meant[] {
    const { name, above, many, beside } = one;
    const place = this.#placeOf(above, name);
    if (!place) return [];
    const found: Meant[] = [];
    for (const rule of (many ? place.entry(0, 1) : place).rules('').values) {
      if (rule.none) break;
      if (!goesByNames(rule)) continue;
      const { rule: { said }, kinds } = meaningHere(rule, asksBeside(rule) ? Object.fromEntries(beside) : undefined, { name, item: '', definitions: NOTHING_DEFINED, around: undefined });
      const least = (many ? rule.listed : undefined) ?? rule.least ?? 1;
      if (kinds.length > 0) found.push({ kinds, above: least - 1, said, ...(rule.alike === true ? { alike: saying(one) } : {}) });
    }
    return found;
  }

  #of({ name, above, beside }: Found): Meant | undefined {
    const within = `${above}.${name}`;
    const besides = this.#beside.length === 0 ? [] : this.#beside.filter((one) => one.name === name && (one.isWord === undefined ? beside.has(one.other) : beside.get(one.other) === one.isWord));
    return besides.find((one) => one.isWord !== undefined)?.meant ?? this.#exact.get(within) ?? this.#exact.get(name) ?? this.#starred.find((one) => one.fits(one.within ? within : name))?.meant ?? besides[0]?.meant;
  }
}

/** The value of a choice, as people saw it when they chose, is what the choice is called. */
function ofChoice(one: Found): Found {
  return one.name === CHOSEN && SEEN_AS.some((name) => one.beside.has(name)) ? { ...one, name: one.above, above: '', many: true } : one;
}

/** The name that says what a number is: "id" says it of what it stands in. */
function saying({ name, above, many }: Found): { name: string; many: boolean } { return { name: name === 'id' ? above : name, many }; }

/** Can a rule for values be followed where only names are known, and what stands beside? */
function goesByNames({ loose, by, kin, maps, alike, sorts, otherwise }: ReferenceStep): boolean {
  return loose && by === 'id' && !kin && maps !== 'only' && typeof alike !== 'string' && !sorts?.defined && otherwise === undefined;
}

/** Every whole number with the name that it stands under; what is in a list stands under the name of the list. `besides`: what stands beside it is asked for; `called`: the name of the outermost. */
function read(text: string, from: number, { besides, called }: { besides: boolean; called: string }): Found[] {
  const found: Found[] = [];
  const frames: Frame[] = [];
  let frame: Frame | undefined = { isObject: false, name: called, above: '', members: NO_MEMBERS, key: '' };
  TOKEN.lastIndex = from;
  for (let token = TOKEN.exec(text); token; token = TOKEN.exec(text)) {
    const end = TOKEN.lastIndex;
    const [, quoted, entity, inEntities, number, sign = '', single, bare] = token;
    const string = quoted ?? inEntities ?? single ?? bare;
    if (string === undefined && number === undefined) {
      frame = follow(frames, frame, sign, besides);
      if (!frame) break;
    } else take(found, frame, string ?? number ?? '', string === undefined || bare !== undefined ? end : end - (entity ?? '"').length, string !== undefined && frame.isObject && isKey(text, end));
    TOKEN.lastIndex = end;
  }
  return found;
}

/** Opens or closes an object or list; undefined behind the end of the outermost. */
function follow(frames: Frame[], frame: Frame | undefined, sign: string, besides: boolean): Frame | undefined {
  if (sign === '{' || sign === '[') {
    const isObject = sign === '{';
    const made = { isObject, name: nameIn(frame), above: aboveIn(frame), members: isObject && besides ? new Map<string, string>() : frame?.members ?? NO_MEMBERS, key: '' };
    frames.push(made);
    return made;
  }
  if (sign === '}' || sign === ']') { frames.pop(); return frames.at(-1); }
  return frame;
}

/** A key, or a value that might be an id. */
function take(found: Found[], frame: Frame, text: string, end: number, key: boolean): void {
  const noted = frame.isObject && frame.members !== NO_MEMBERS;
  if (key) { frame.key = text; if (noted) frame.members.set(text, ''); }
  else if (DIGITS.test(text)) found.push(numberIn(frame, text, end - text.length, !frame.isObject));
  else if (text.charCodeAt(0) <= NINE && LISTED.test(text)) for (const { 0: digits, index } of text.matchAll(/\d+/g)) found.push(numberIn(frame, digits, end - text.length + index, true));
  else if (noted) frame.members.set(frame.key, text);
}

function numberIn(frame: Frame, digits: string, start: number, many: boolean): Found {
  return { start, end: start + digits.length, name: nameIn(frame), many, above: aboveIn(frame), beside: frame.members };
}

function nameIn(frame: Frame | undefined): string { return frame ? (frame.isObject ? frame.key : frame.name) : ''; }
function aboveIn(frame: Frame | undefined): string { return frame ? (frame.isObject ? frame.name : frame.above) : ''; }

function isKey(text: string, end: number): boolean { COLON.lastIndex = end; return COLON.test(text); }
