/** A whole number, or a text that is one, with the name that it stands under; what is in a list stands under the name of the list. Offsets are those of its digits. */
export interface Found { readonly start: number; readonly digits: string; readonly name: string; /** One of a list. */ readonly many: boolean; /** Which one that is. */ readonly list: unknown; readonly above: string; readonly beside: ReadonlyMap<string, string> }
/** A name with a value, and where that begins. */
export interface Pair { readonly name: string; readonly value: string; readonly start: number }
/** A text in data that could hold ids itself: as it is written there, where that begins, and the name that it stands under. `code`: as a string of JSON or code. */
export interface Quoted { readonly start: number; readonly written: string; readonly called: string; readonly code: boolean }
/** What is found in data. */
export interface Content { readonly numbers: Found[]; readonly texts: Quoted[] }
/** `besides`: what stands beside a number is asked for; `called`: the name of the outermost. */
export interface Reading { readonly besides: boolean; readonly called: string }

/** An object or list that is being read. `above`: the name of what it stands in. */
interface Frame { readonly isObject: boolean; readonly name: string; readonly above: string; /** Members so far, with those values that are texts. */ readonly members: Map<string, string>; key: string }

/** A text in quotes; a number; a sign; and as in code a text in single quotes, the name of a member without any, a word. */
const TOKEN = /\s*(?:"((?:[^"\\]|\\.)*)"|(-?\d[\d.eE+-]*)|([{}[\],:])|'((?:[^'\\]|\\.)*)'|([A-Za-z_$][\w$]*)(?=\s*:)|[A-Za-z_$][\w$.]*)/y;
const COLON = /\s*:/y;
const DIGITS = /^[1-9]\d*$/;
/** A text that is a list of ids. Most texts begin with no digit. */
const NINE = '9'.charCodeAt(0);
const LISTED = /^[1-9]\d*(?:\s?[,|;]\s?[1-9]\d*)+$/;
/** As data, markup and short codes look in a string, and what is escaped in it but slashes. */
const HOLDS_TEXT = /\\(?!\/)|[<[{&]/;
/** Of data where nobody asks what stands beside. */
const NO_MEMBERS = new Map<string, string>();

/** What stands behind the first bracket of a text, up to where its data ends: JSON, or an object of code. */
export function foundInData(text: string, how: Reading): Content {
  const first = text.search(/[{[]/);
  const reader = new Reader(text, how);
  if (first >= 0) reader.read(first);
  return reader.found;
}

/** What stands in names with a value each, where a value can be data itself. */
export function foundInPairs(pairs: readonly Pair[], called: string): Content {
  const found: Content = { numbers: [], texts: [] };
  const frame: Frame = { isObject: true, name: called, above: '', members: new Map(pairs.map(({ name, value }) => [name, DIGITS.test(value) ? '' : value])), key: '' };
  for (const { name, value, start } of pairs) {
    frame.key = name;
    if (HOLDS_TEXT.test(value)) found.texts.push({ start, written: value, called: name, code: false });
    else take(found.numbers, frame, value, start);
  }
  return found;
}

class Reader {
  readonly #text: string;
  readonly #how: Reading;
  readonly #frames: Frame[] = [];
  readonly found: Content = { numbers: [], texts: [] };

  constructor(text: string, how: Reading) {
    this.#text = text;
    this.#how = how;
  }

  read(from: number): void {
    let frame: Frame | undefined = { isObject: false, name: this.#how.called, above: '', members: NO_MEMBERS, key: '' };
    TOKEN.lastIndex = from;
    for (let token = TOKEN.exec(this.#text); token; token = TOKEN.exec(this.#text)) {
      const end = TOKEN.lastIndex;
      const [, quoted, number, sign = '', single, bare] = token;
      const string = quoted ?? single ?? bare;
      if (string === undefined && number === undefined) {
        frame = this.#follow(frame, sign);
        if (!frame) break;
      } else this.#value(frame, string ?? number ?? '', string === undefined || bare !== undefined ? end : end - 1, string !== undefined && frame.isObject && isKey(this.#text, end));
      TOKEN.lastIndex = end;
    }
  }

  /** Opens or closes an object or list; undefined behind the end of the outermost. */
  #follow(frame: Frame, sign: string): Frame | undefined {
    if (sign === '{' || sign === '[') {
      const isObject = sign === '{';
      const made = { isObject, name: nameIn(frame), above: aboveIn(frame), members: isObject && this.#how.besides ? new Map<string, string>() : frame.members, key: '' };
      this.#frames.push(made);
      return made;
    }
    if (sign === '}' || sign === ']') { this.#frames.pop(); return this.#frames.at(-1); }
    return frame;
  }

  /** A key, or a value that might be an id. */
  #value(frame: Frame, text: string, end: number, key: boolean): void {
    const start = end - text.length;
    if (key) { frame.key = text; if (frame.members !== NO_MEMBERS) frame.members.set(text, ''); }
    else if (HOLDS_TEXT.test(text)) this.found.texts.push({ start, written: text, called: nameIn(frame), code: true });
    else take(this.found.numbers, frame, text, start);
  }
}


function take(found: Found[], frame: Frame, text: string, start: number): void {
  if (DIGITS.test(text)) found.push(numberIn(frame, text, start, frame.isObject ? undefined : frame));
  else if (text.charCodeAt(0) <= NINE && LISTED.test(text)) for (const { 0: digits, index } of text.matchAll(/\d+/g)) found.push(numberIn(frame, digits, start + index, start));
  else if (frame.isObject && frame.members !== NO_MEMBERS) frame.members.set(frame.key, text);
}

function numberIn(frame: Frame, digits: string, start: number, list: unknown): Found {
  return { start, digits, name: nameIn(frame), many: list !== undefined, list, above: aboveIn(frame), beside: frame.members };
}

function nameIn(frame: Frame): string { return frame.isObject ? frame.key : frame.name; }
function aboveIn(frame: Frame): string { return frame.isObject ? frame.name : frame.above; }

function isKey(text: string, end: number): boolean { COLON.lastIndex = end; return COLON.test(text); }
