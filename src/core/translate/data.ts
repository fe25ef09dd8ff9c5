import { isLike, namesLike } from '../nameslike.ts';

/** A whole number, or a text that is one, in JSON data that stands in markup. Offsets are those of its digits. */
export interface DataNumber { readonly start: number; readonly end: number; readonly kinds: readonly string[]; /** Only where the name says what the item is: numbers above this. */ readonly above?: number; readonly alike?: { readonly name: string; readonly many: boolean } }
/** `above`: where a word only hints at it, numbers above this. */
interface Meant { readonly kinds: readonly string[]; readonly above?: number }
export interface NamedKinds { readonly name: string; readonly kinds: readonly string[] }

/** An object or list that is being read. `above`: the name of what it stands in. */
interface Frame { readonly isObject: boolean; readonly name: string; readonly above: string; /** Members so far, with those values that are texts. */ readonly members: Map<string, string>; key: string }
interface Found { readonly start: number; readonly end: number; readonly name: string; /** One of a list. */ readonly many: boolean; readonly above: string; readonly beside: ReadonlyMap<string, string> }

interface Beside { readonly name: string; readonly other: string; readonly word: string | undefined; readonly kinds: readonly string[] }

/** A text in quotes or in quotes written as entities; a number; a sign or a word. */
const TOKEN = /\s*(?:"((?:[^"\\]|\\.)*)"|(&quot;|&#34;)((?:(?!\2)[^\\]|\\(?:\2|.))*)\2|(-?\d[\d.eE+-]*)|([{}[\],:]|true|false|null))/y;
/** Of data where nobody asks what stands beside. */
const NO_MEMBERS = new Map<string, string>();
const DIGITS = /^[1-9]\d*$/;
/** Smaller numbers are counts and positions. */
const SMALLEST_GUESS = 9;
const COLON = /\s*:/y;

/**
 * Which numbers in JSON data are ids, by the names that they stand under: `name`; `above.name`, only within `above`; `name beside other`, only where the
 * same object has a member `other`, or `other=word` where that is the word. These go first where they ask for a word. A star stands for part of a word. The first of these that fits decides, names as they stand before those with a star.
 */
export class DataKinds {
  readonly #exact: ReadonlyMap<string, Meant>;
  readonly #starred: readonly { within: boolean; fits: (text: string) => boolean; meant: Meant }[];
  readonly #beside: readonly Beside[];

  readonly #alike: readonly string[];

  /** `alike`: kinds of which an id can stand under any name that says what the item is. */
  constructor(named: readonly NamedKinds[], alike: readonly string[] = []) {
    this.#alike = alike;
    const plain = named.filter(({ name }) => !name.includes(' beside '));
    this.#exact = new Map(plain.filter(({ name }) => !isLike(name)).map(({ name, kinds }) => [name, { kinds }]));
    this.#starred = plain.filter(({ name }) => isLike(name)).map(({ name, kinds }) => ({ within: name.includes('.'), fits: namesLike([name]), meant: name.startsWith('~') ? { kinds, above: SMALLEST_GUESS } : { kinds } }));
    this.#beside = named.flatMap(({ name, kinds }): Beside[] => { const [own = '', condition] = name.split(' beside '); const [other = '', word] = condition?.split('=') ?? []; return condition === undefined ? [] : [{ name: own, other, word, kinds }]; });
  }

  /** Those numbers behind the first bracket of a text that could be ids, up to where its data ends. */
  numbers(text: string): DataNumber[] {
    const first = text.search(/[{[]/);
    if (first < 0) return [];
    const numbers: DataNumber[] = [];
    for (const one of read(text, first, this.#beside.length > 0)) {
      const meant = this.#of(one);
      if (meant && meant.kinds.length > 0) numbers.push({ start: one.start, end: one.end, kinds: meant.kinds, ...(meant.above === undefined ? {} : { above: meant.above }) });
      else if (!meant && this.#alike.length > 0) numbers.push({ start: one.start, end: one.end, kinds: this.#alike, above: SMALLEST_GUESS, alike: one });
    }
    return numbers;
  }

  #of({ name, above, beside }: Found): Meant | undefined {
    const within = `${above}.${name}`;
    const besides = this.#beside.length === 0 ? [] : this.#beside.filter((one) => one.name === name && (one.word === undefined ? beside.has(one.other) : beside.get(one.other) === one.word));
    return besides.find((one) => one.word !== undefined) ?? this.#exact.get(within) ?? this.#exact.get(name) ?? this.#starred.find((one) => one.fits(one.within ? within : name))?.meant ?? besides[0];
  }
}

/** Every whole number with the name that it stands under; what is in a list stands under the name of the list. `besides`: what stands beside it is asked for. */
function read(text: string, from: number, besides: boolean): Found[] {
  const found: Found[] = [];
  const frames: Frame[] = [];
  let frame: Frame | undefined;
  TOKEN.lastIndex = from;
  for (let token = TOKEN.exec(text); token; token = TOKEN.exec(text)) {
    const end = TOKEN.lastIndex;
    const [, quoted, entity, inEntities, number, sign = ''] = token;
    const string = quoted ?? inEntities;
    if (string === undefined && number === undefined) {
      frame = follow(frames, frame, sign, besides);
      if (!frame) break;
    } else if (frame) take(found, frame, string ?? number ?? '', string === undefined ? end : end - (entity ?? '"').length, string !== undefined && frame.isObject && isKey(text, end));
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
  else if (DIGITS.test(text)) found.push({ start: end - text.length, end, name: nameIn(frame), many: !frame.isObject, above: aboveIn(frame), beside: frame.members });
  else if (noted) frame.members.set(frame.key, text);
}

function nameIn(frame: Frame | undefined): string { return frame ? (frame.isObject ? frame.key : frame.name) : ''; }
function aboveIn(frame: Frame | undefined): string { return frame ? (frame.isObject ? frame.name : frame.above) : ''; }

function isKey(text: string, end: number): boolean { COLON.lastIndex = end; return COLON.test(text); }
