import { groupBy } from '../json.ts';
import type { CodecRule } from '../kind.ts';
import { localId, type SiteIndex } from '../siteindex.ts';
import { SPELLINGS } from '../tokens.ts';
import { anyOf } from '../wildcard.ts';
import { Text, type Spelling, type TextPiece } from '../tree.ts';

/** A stretch of a text that is replaced by pieces. */
interface Span { start: number; end: number; pieces: TextPiece[] }
type HtmlRule = Extract<CodecRule, { codec: 'html' }>;

const [PLAIN_END, ESCAPED_END, TWICE_END, ENCODED_END] = [/[^\s"'<>?#\\(),⟦⟧]*/y, /(?:\\\/|[^\s"'<>?#\\(),⟦⟧])*/y, /(?:\\\\\\\/|[^\s"'<>?#\\(),⟦⟧])*/y, /(?:%2[Ff]|[A-Za-z0-9._~-])*/y];
/** Where a path behind an address ends, and how it is written there. */
const PATHS: Readonly<Record<Spelling, { readonly end: RegExp; readonly as: Spelling }>> = {
  plain: { end: PLAIN_END, as: 'plain' }, swapped: { end: PLAIN_END, as: 'plain' }, relative: { end: PLAIN_END, as: 'plain' },
  escaped: { end: ESCAPED_END, as: 'escaped' }, 'escaped-relative': { end: ESCAPED_END, as: 'escaped' }, 'escaped-twice': { end: TWICE_END, as: 'escaped-twice' },
  encoded: { end: ENCODED_END, as: 'encoded' }, 'encoded-lower': { end: ENCODED_END, as: 'encoded-lower' },
};
/** Where a tag begins, and an attribute of it with its value. They are used from one place at a time. */
const [TAG_NAME, ATTRIBUTE, NUMBER] = [/<[a-zA-Z][^\s>/"']*/y, /[\s/]+([^\s=>"'/]+)(?:\s*=\s*(?:"([^"]*)"|'([^']*)'))?/y, /\d+/g];
const LINKS = new Set(['href', 'src', 'action', 'poster', 'data']);

/** Finds a site's own address in texts and turns it, ids and paths into tokens. One per site. */
export class TextReader {
  readonly #index: SiteIndex;
  readonly #spelled: readonly Spelled[];
  readonly #host: string;

  constructor(index: SiteIndex) {
    this.#index = index;
    this.#host = new URL(index.site).hostname;
    // The longer ones first: "//host" is the end of "http://host".
    this.#spelled = SPELLINGS.map((spelling) => ({ spelling, text: spell(index.site, spelling), token: { token: 'site' as const, spelling } })).map((one) => ({ ...one, before: one.text.indexOf(this.#host) })).sort((a, b) => b.text.length - a.text.length);
  }

  /** False: nothing in this text can be of the site. Quick, because it is asked for every text. */
  concerns(text: string): boolean { return text.includes(this.#host); }

  /** Any text: only the site's address and known paths behind it. */
  read(text: string): string | Text {
    return this.concerns(text) ? this.#build(text, this.#siteSpans(text)) : text;
  }

  /** A text that is one link, perhaps without the address. */
  readUrl(text: string): string | Text {
    if (!text.startsWith('/') || text.startsWith('//')) return this.read(text);
    const path = this.#pathSpan(text, 0, 'plain');
    return this.#build(text, path ? [path] : []);
  }

  /** Style rules: addresses, and `url(…)` without address. */
  readCss(text: string): string | Text {
    const spans = this.#siteSpans(text);
    this.#cssSpans(text, 0, spans);
    return this.#build(text, withoutOverlap(spans));
  }

  /** HTML: addresses, links without address, ids in attributes and in the data of comments. */
  readHtml(text: string, rule: HtmlRule): string | Text {
    if (!MARKUP.test(text)) return this.read(text);
    const spans = this.#siteSpans(text);
    this.#markupSpans(text, rule, spans);
    this.#patternSpans(text, rule, spans);
    return this.#build(text, withoutOverlap(spans));
  }

  #build(text: string, spans: readonly Span[]): string | Text {
    if (spans.length === 0) return text;
    const pieces: TextPiece[] = [];
    let at = 0;
    for (const span of spans) {
      if (span.start > at) pieces.push(text.slice(at, span.start));
      for (const piece of span.pieces) pieces.push(piece);
      at = span.end;
    }
    if (at < text.length) pieces.push(text.slice(at));
    return new Text(pieces);
  }

  #siteSpans(text: string): Span[] {
    const spans: Span[] = [];
    for (let at = text.indexOf(this.#host); at >= 0; at = text.indexOf(this.#host, at + this.#host.length)) {
      const found = this.#spelled.find((one) => text.startsWith(one.text, at - one.before) && stands(text, at - one.before, one));
      if (!found) continue;
      const start = at - found.before;
      const end = start + found.text.length;
      const path = this.#pathSpan(text, end, found.spelling);
      spans.push({ start, end: path?.end ?? end, pieces: path ? [found.token, ...path.pieces] : [found.token] });
    }
    return spans;
  }

  /** A path that the site knows; only where writing it again would give the same text. `stop`: no sign behind it belongs to the path. */
  #pathSpan(text: string, start: number, spelling: Spelling, stop = text.length): Span | undefined {
    const { end, as } = PATHS[spelling];
    end.lastIndex = start;
    end.test(text);
    const written = text.slice(start, Math.min(end.lastIndex, stop));
    const found = this.#index.byPath(unspell(written, as));
    // The end of a sentence is no part of a path.
    if (!found && /[.;:!]$/.test(written)) return this.#pathSpan(text, start, spelling, start + written.length - 1);
    if (!found || spell(this.#index.pathOf(found.address, found.variant) ?? '', as) !== written) return undefined;
    return { start, end: start + written.length, pieces: [{ token: 'path', address: found.address, variant: found.variant, spelling: as }] };
  }

  #markupSpans(text: string, rule: HtmlRule, into: Span[]): void {
    for (let at = text.indexOf('<'); at >= 0; at = text.indexOf('<', at + 1)) {
      if (text.startsWith('<!--', at)) {
        const end = text.indexOf('-->', at + 4);
        if (end < 0) break;
        this.#commentSpans(text.slice(at, end), at, rule, into);
        at = end;
      } else this.#tagSpans(text, at, rule, into);
    }
    for (const found of text.matchAll(STYLES)) this.#cssSpans(found[2] ?? '', found.index + (found[1] ?? '').length, into);
  }

  #tagSpans(text: string, at: number, rule: HtmlRule, into: Span[]): void {
    TAG_NAME.lastIndex = at;
    if (!TAG_NAME.test(text)) return;
    ATTRIBUTE.lastIndex = TAG_NAME.lastIndex;
    for (let found = ATTRIBUTE.exec(text); found; found = ATTRIBUTE.exec(text)) {
      const value = found[2] ?? found[3];
      if (value !== undefined) this.#attributeSpans(found[1] ?? '', value, ATTRIBUTE.lastIndex - 1 - value.length, { rule, into });
    }
  }

  #attributeSpans(name: string, value: string, start: number, { rule, into }: { rule: HtmlRule; into: Span[] }): void {
    const kinds = compiled(rule).attribute(name);
    if (kinds !== undefined) { this.#idSpans(value, start, kinds, into); return; }
    const low = name.toLowerCase();
    if (low === 'style') { this.#cssSpans(value, start, into); return; }
    if (low === 'srcset' || low === 'imagesrcset') {
      for (const found of value.matchAll(CANDIDATES)) this.#bareSpan(found[1] ?? '', start + found.index + found[0].length - (found[1] ?? '').length, into);
      return;
    }
    const { data } = compiled(rule);
    if (data && /^\s*[{[]/.test(value)) this.#dataSpans(value, start, data, into);
    else if (LINKS.has(low)) this.#bareSpan(value, start, into);
  }

  /** A path without the address of the site. */
  #bareSpan(value: string, start: number, into: Span[]): void {
    if (!value.startsWith('/') || value.startsWith('//')) return;
    const span = this.#pathSpan(value, 0, 'plain');
    if (span) into.push({ start, end: start + span.end, pieces: span.pieces });
  }

  #cssSpans(text: string, start: number, into: Span[]): void {
    for (const found of text.matchAll(CSS_URLS)) this.#bareSpan(found[2] ?? '', start + found.index + (found[1] ?? '').length, into);
  }

  /** Ids in JSON: in a comment, or in an attribute, where its quotes may be written as entities. */
  #dataSpans(text: string, start: number, { values, kinds }: Keys, into: Span[]): void {
    values.lastIndex = 0;
    for (let found = values.exec(text); found; found = values.exec(text)) {
      const ids = found[2] ?? '';
      this.#idSpans(ids, start + values.lastIndex - ids.length, kinds(found[1] ?? '') ?? [], into);
    }
  }

  #commentSpans(comment: string, start: number, rule: HtmlRule, into: Span[]): void {
    const { data, words } = compiled(rule);
    if (data) this.#dataSpans(comment, start, data, into);
    if (words.length === 0) return;
    const begin = comment.slice(4).trimStart();
    const own = words.find(({ word }) => begin.startsWith(`${word} `));
    if (own) this.#dataSpans(comment, start, own.keys, into);
  }

  /** Ids in class names and short codes: the pattern says what stands around them. */
  #patternSpans(text: string, rule: HtmlRule, into: Span[]): void {
    for (const { places, kinds } of compiled(rule).patterns) for (const found of text.matchAll(places)) this.#idSpans(found[2] ?? '', found.index + (found[1] ?? '').length, kinds, into);
  }

  /** Every whole number in a short text that is the id of such an item. */
  #idSpans(value: string, start: number, kinds: readonly string[], into: Span[]): void {
    NUMBER.lastIndex = 0;
    for (let found = NUMBER.exec(value); found; found = NUMBER.exec(value)) {
      const [digits] = found;
      const address = digits.startsWith('0') ? undefined : this.#index.byId(kinds, localId(digits));
      if (address !== undefined) into.push({ start: start + found.index, end: start + found.index + digits.length, pieces: [{ token: 'id', address }] });
    }
  }
}

/** An address in one of its spellings, with how much of it stands before the name of the host. */
interface Spelled { readonly spelling: Spelling; readonly text: string; readonly before: number; readonly token: TextPiece }

/** "//host" must not be the rest of "other://host", and what follows must not make it another host, port or folder. */
function stands(text: string, start: number, { spelling, text: { length } }: Spelled): boolean {
  if (start < 0 || ((spelling === 'relative' || spelling === 'escaped-relative') && text[start - 1] === ':')) return false;
  const next = text[start + length] ?? '';
  return !/[A-Za-z0-9:_~-]/.test(next) && !(next === '.' && /[A-Za-z0-9]/.test(text[start + length + 1] ?? ''));
}

/** The rules of a style element; the candidates of a srcset; paths in `url(…)`, which may be quoted, also by entities. */
const STYLES = /(<style\b[^>]*>)([^]*?)<\/style/gi;
const CANDIDATES = /(?:^|,)\s*([^\s,]+)/g;
const CSS_URLS = /(\burl\(\s*(?:"|'|&quot;|&#34;|&#39;)?)(\/[^\s"'()&]*)/gi;

/** In the order of the text; where two overlap, the one that begins first, and of these the one found first. */
function withoutOverlap(spans: Span[]): Span[] {
  let end = 0;
  return spans.sort((a, b) => a.start - b.start).filter((span) => { const fits = span.start >= end; if (fits) ({ end } = span); return fits; });
}

/** Without any of these there is neither markup, nor a short code, nor a class name with a number. */
const MARKUP = /[<[]|\w-\d/;

function literal(text: string): string {
  return text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
}

/** Keys of JSON data whose numbers are ids, as one expression: the key, and the number or list of numbers behind it. */
interface Keys { readonly values: RegExp; readonly kinds: KindsByName }
interface Compiled { readonly attribute: KindsByName; readonly patterns: readonly { places: RegExp; kinds: readonly string[] }[]; readonly data: Keys | undefined; /** Keys that count only in comments that begin with a word. */ readonly words: readonly { word: string; keys: Keys }[] }
type KindsByName = (name: string) => readonly string[] | undefined;
type NamedKinds = { readonly name: string; readonly kinds: readonly string[] };
const COMPILED = new WeakMap<HtmlRule, Compiled>();

/** The expressions of a rule, made once. */
function compiled(rule: HtmlRule): Compiled {
  const known = COMPILED.get(rule);
  if (known) return known;
  const named = Object.entries(rule.comments).map(([key, kinds]) => { const [name = '', word] = key.split('#').reverse(); return { name, word, kinds: [kinds].flat() }; });
  const made: Compiled = {
    attribute: kindsByName(Object.entries(rule.attributes).map(([name, kinds]) => ({ name, kinds: [kinds].flat() }))),
    patterns: Object.entries(rule.patterns).map(([pattern, kinds]) => {
      const [before = '', after = ''] = pattern.split(/\{ids?\}/);
      return { kinds: [kinds].flat(), places: new RegExp(`(?<![\\w-])(${loose(before)})(${pattern.includes('{ids}') ? '[\\d,\\s]+' : '\\d+'})${loose(after)}(?![\\w-])`, 'g') };
    }),
    data: keysOf(named.filter(({ word }) => word === undefined)),
    words: [...groupBy(named.filter(({ word }) => word !== undefined), ({ word }) => word ?? '')].flatMap(([word, same]) => { const keys = keysOf(same); return keys ? [{ word, keys }] : []; }),
  };
  COMPILED.set(rule, made);
  return made;
}

/** Names as they stand decide before those with a star. */
function kindsByName(named: readonly NamedKinds[]): KindsByName {
  const exact = new Map(named.filter(({ name }) => !name.includes('*')).map(({ name, kinds }) => [name, kinds]));
  const starred = named.filter(({ name }) => name.includes('*')).map(({ name, kinds }) => ({ fits: anyOf([name]), kinds }));
  return starred.length === 0 ? (name) => exact.get(name) : (name) => exact.get(name) ?? starred.find(({ fits }) => fits(name))?.kinds;
}

function keysOf(named: readonly NamedKinds[]): Keys | undefined {
  if (named.length === 0) return undefined;
  const quote = '(?:"|&quot;|&#34;)';
  const written = named.map(({ name, kinds }) => ({ name: JSON.stringify(name).slice(1, -1), kinds }));
  const keys = written.map(({ name }) => starry(name)).join('|');
  return { values: new RegExp(`${quote}(${keys})${quote}\\s*:\\s*(\\d+|${quote}\\d+${quote}|\\[(?:[\\d,\\s"]|&quot;)*\\])`, 'g'), kinds: kindsByName(written) };
}

/** A star stands for part of a word. */
function starry(text: string): string { return text.split('*').map(literal).join('[\\w-]*'); }

/** In a pattern, ` … ` stands for other attributes of the same short code or tag, and a star for part of a word. */
function loose(text: string): string {
  return text.split(' … ').map(starry).join('\\s(?:[^\\]>]*?\\s)?');
}

/** Writes an address or a path in one of its spellings. */
export function spell(text: string, spelling: Spelling): string {
  switch (spelling) {
    case 'plain': return text;
    case 'swapped': return text.startsWith('https:') ? 'http' + text.slice(5) : text.startsWith('http:') ? 'https' + text.slice(4) : text;
    case 'relative': return text.replace(/^https?:/, '');
    case 'escaped': return text.replaceAll('/', '\\/');
    case 'escaped-relative': return text.replace(/^https?:/, '').replaceAll('/', '\\/');
    case 'escaped-twice': return text.replaceAll('/', '\\\\\\/');
    case 'encoded': return encodeURIComponent(text);
    case 'encoded-lower': return encodeURIComponent(text).replace(/%../g, (hex) => hex.toLowerCase());
  }
}

function unspell(text: string, spelling: Spelling): string {
  if (spelling === 'escaped') return text.replaceAll('\\/', '/');
  if (spelling === 'escaped-twice') return text.replaceAll('\\\\\\/', '/');
  return spelling.startsWith('encoded') ? decodeURIComponent(text) : text;
}
