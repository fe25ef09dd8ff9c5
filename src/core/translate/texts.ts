import { groupBy } from '../json.ts';
import { MADE_IDS } from '../madeid.ts';
import { localId, type SiteIndex } from '../siteindex.ts';
import { Text, type Spelling, type TextPiece } from '../tree.ts';
import type { DataKinds, DataNumber } from './data.ts';
import type { Pair } from './datareader.ts';
import { compiled, signBefore, signsIn, type HtmlRule } from './htmlrule.ts';
import { familyOf, isAlike, isNamed, nameIn } from './likename.ts';
import { hidesPacked, packedIn, type Packed } from './packedtext.ts';
import { pairsIn, type Pairs } from './pairs.ts';
import { LONGEST_BEFORE, LONGEST_ENDING, NUMBERS, WAY, type Meant, type WordPattern } from './patterns.ts';
import { folderOf, PATHS, spell, spelledOf, stands, unspell, type Spelled } from './spelling.ts';

/** A stretch of a text that is replaced by pieces. */
interface Span { start: number; end: number; pieces: TextPiece[] }

/** Where a tag begins, and an attribute of it with its value. They are used from one place at a time. */
const [TAG_NAME, ATTRIBUTE, NUMBER] = [/<[a-zA-Z][^\s>/"']*/y, /[\s/]+([^\s=>"'/]+)(?:\s*=\s*(?:"([^"]*)"|'([^']*)'))?/y, /\d+/g];
/** The rest of an address from its path on, where it has a query, and the parameters of that, also where markup writes them; the same percent-encoded. */
const QUERIES = {
  plain: { rest: /((?:\\+\/|[^\s"'<>?#\\(),⟦⟧])*)(\?(?:&#0*38;|[^\s"'<>#\\(),⟦⟧])*)/y, parameters: /(?<=[?&;])([\w-]+)=([1-9]\d*)(?=[.,:;!]?$|[&;#])/g },
  encoded: { rest: /((?:%2[Ff]|[\w.~-])*)(%3[Ff](?:%[0-9A-Fa-f]{2}|[\w.~-])*)/y, parameters: /(?<=%3[Ff]|%26)([\w-]+)%3[Dd]([1-9]\d*)(?=$|%26|%23)/g },
} as const;
const LINKS = new Set(['href', 'src', 'action', 'poster', 'data']);
/** What the names of attributes begin with that a page may choose for itself, as all of an element of its own. */
const DATA = 'data-';
function dataName(attribute: string): string { return attribute.startsWith(DATA) ? attribute.slice(DATA.length) : attribute; }
const BEGINS_WITH_DIGIT = /^[1-9]/;

/** Finds a site's own address in texts and turns it, ids and paths into tokens. One per site. */
export class TextReader {
  readonly #index: SiteIndex;
  readonly #spelled: readonly Spelled[];
  readonly #host: string;
  readonly #folder: string;
  readonly #parameters: Parameters;

  constructor(index: SiteIndex) {
    this.#index = index;
    this.#host = new URL(index.site).hostname;
    this.#folder = folderOf(index.site);
    this.#parameters = parametersOf(index);
    this.#spelled = spelledOf(index.site);
  }

  /** False: nothing in this text can be of the site. Quick, because it is asked for every text. */
  concerns(text: string): boolean { return text.includes(this.#host); }

  /** Any text: only the site's address and known paths behind it, and ids that cannot be mistaken. */
  read(text: string): string | Text {
    if (text.startsWith('/') && isFilePath(text)) return this.readUrl(text);
    return this.concerns(text) || this.#index.hasMadeIds ? this.#build(text, this.#plainSpans(text)) : text;
  }

  /** A text that is one link, perhaps without the address. */
  readUrl(text: string): string | Text {
    if (!text.startsWith('/') || text.startsWith('//')) return this.read(text);
    const spans: Span[] = [];
    this.#bareSpan(text, 0, spans);
    return this.#build(text, this.#withMadeIds(text, spans));
  }

  /** Style rules: addresses, and `url(…)` without address. */
  readCss(text: string): string | Text {
    const spans = this.#plainSpans(text);
    this.#cssSpans(text, 0, spans);
    return this.#build(text, withoutOverlap(spans));
  }

  /** HTML: addresses, links without address, ids in attributes and in the data of comments. */
  readHtml(text: string, rule: HtmlRule): string | Text {
    if (!compiled(rule).concerns(text) || (text.startsWith('/') && isFilePath(text))) return this.read(text);
    const spans = this.#plainSpans(text);
    this.#markupSpans(text, rule, spans);
    this.#patternSpans(text, rule, spans);
    this.#pairSpans(text, rule, spans);
    if (hidesPacked(text)) for (const one of packedIn(text)) this.#packedSpan(one, rule, spans);
    return this.#build(text, withoutOverlap(spans));
  }

  /** The name of a member: addresses, and ids where patterns find them. */
  readName(text: string, rule: HtmlRule): string | Text {
    const spans = this.#plainSpans(text);
    if (compiled(rule).concerns(text)) this.#patternSpans(text, rule, spans, true);
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

  /** What is found in every text, whatever is said of it. */
  #plainSpans(text: string): Span[] { return this.#withMadeIds(text, this.#siteSpans(text)); }

  #withMadeIds(text: string, spans: Span[]): Span[] {
    const found = this.#index.hasMadeIds ? [...text.matchAll(MADE_IDS)].flatMap(({ 0: id, index }): Span[] => {
      const address = this.#index.byMadeId(id);
      return address === undefined ? [] : [{ start: index, end: index + id.length, pieces: [{ token: 'id', address }] }];
    }) : [];
    return found.length === 0 ? spans : withoutOverlap([...spans, ...found]);
  }

  #siteSpans(text: string): Span[] {
    const spans: Span[] = [];
    const queries: Span[] = [];
    let mark = text.indexOf('?');
    for (let at = text.indexOf(this.#host); at >= 0; at = text.indexOf(this.#host, at + this.#host.length)) {
      const found = this.#spelled.find((one) => text.startsWith(one.text, at - one.before) && stands(text, at - one.before, one));
      if (!found) continue;
      const start = at - found.before;
      const end = start + found.text.length;
      const path = this.#pathSpan(text, end, found.spelling);
      const last = path?.end ?? end;
      spans.push({ start, end: last, pieces: path ? [found.token, ...path.pieces] : [found.token] });
      if (mark >= 0 && mark < last) mark = text.indexOf('?', last);
      const encoded = found.spelling.startsWith('encoded');
      if (mark >= 0 || encoded) this.#querySpans(text, end, queries, { encoded, of: addressOf(path) });
    }
    // A query can hold another address.
    return queries.length === 0 ? spans : withoutOverlap([...spans, ...queries]);
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
    // Nor is a quotation mark that is written as an entity.
    const entity = found ? -1 : written.search(/&(?:quot|apos|#0*3[49]);?/);
    if (entity >= 0) return this.#pathSpan(text, start, spelling, start + entity);
    if (!found || spell(this.#index.pathOf(found.address, found.variant) ?? '', as) !== written) return undefined;
    return { start, end: start + written.length, pieces: [{ token: 'path', address: found.address, variant: found.variant, spelling: as }] };
  }

  /** Ids in the query of an address (RFC 3986, section 3.4) of the site, where a kind says which parameters hold ids; and the id of the very item that the path is `of`. */
  #querySpans(text: string, start: number, into: Span[], { encoded = false, of }: { encoded?: boolean; of?: string | undefined }): void {
    const { rest, parameters } = QUERIES[encoded ? 'encoded' : 'plain'];
    rest.lastIndex = start;
    const [all = '', path = '', query = ''] = rest.exec(text) ?? [];
    for (const found of query.matchAll(parameters)) {
      const [, name = '', id = ''] = found;
      const kinds = this.#parameters.get(name)?.flatMap((one) => (one.path === '/' || unspell(path, encoded ? 'encoded' : 'escaped').endsWith(one.path) ? one.kind : []));
      const address = kinds ? this.#index.byId(kinds, localId(id)) : of !== undefined && String(this.#index.idOf(of)) === id ? of : undefined;
      const end = start + all.length - query.length + found.index + found[0].length;
      if (address !== undefined) into.push({ start: end - id.length, end, pieces: [{ token: 'id', address }] });
    }
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
    const { data } = compiled(rule);
    if (data && DATA_IN_ENTITIES.test(text)) this.#dataSpans(text, 0, data, into);
    if (data && text.includes('%7B')) for (const found of text.matchAll(ENCODED_DATA)) this.#encodedSpans(found[0], found.index, data, into);
    if (data) for (const found of text.matchAll(SCRIPTS)) this.#scriptSpans(found[2] ?? '', found.index + (found[1] ?? '').length, data, into);
    for (const found of text.matchAll(STYLES)) this.#cssSpans(found[2] ?? '', found.index + (found[1] ?? '').length, into);
  }

  #tagSpans(text: string, at: number, rule: HtmlRule, into: Span[]): void {
    TAG_NAME.lastIndex = at;
    if (!TAG_NAME.test(text)) return;
    ATTRIBUTE.lastIndex = TAG_NAME.lastIndex;
    const tag = text.slice(at + 1, TAG_NAME.lastIndex);
    const isCustom = tag.includes('-');
    const pairs: Pair[] = [];
    let asks = false;
    for (let found = ATTRIBUTE.exec(text); found; found = ATTRIBUTE.exec(text)) {
      const [name = '', value] = [found[1], found[2] ?? found[3]];
      if (value === undefined) continue;
      const [start, before] = [ATTRIBUTE.lastIndex - 1 - value.length, into.length];
      this.#attributeSpans(name, value, start, { rule, into });
      if (!isCustom && !name.startsWith(DATA)) continue;
      pairs.push({ name: dataName(name).replaceAll('-', '_'), value, start });
      asks ||= into.length === before && BEGINS_WITH_DIGIT.test(value);
    }
    if (asks) this.#namedSpans(text, { called: isCustom ? tag : '', pairs }, rule, into);
  }

  #attributeSpans(name: string, value: string, start: number, { rule, into }: { rule: HtmlRule; into: Span[] }): void {
    const kinds = compiled(rule).attribute(name);
    if (kinds !== undefined) { this.#idSpans(value, start, { kinds }, into); return; }
    const low = name.toLowerCase();
    if (low === 'style') { this.#cssSpans(value, start, into); return; }
    if (low === 'srcset' || low === 'imagesrcset') {
      for (const found of value.matchAll(CANDIDATES)) this.#bareSpan(found[1] ?? '', start + found.index + found[0].length - (found[1] ?? '').length, into);
      return;
    }
    const { data } = compiled(rule);
    if (data && /^\s*[{[]/.test(value)) this.#dataSpans(value, start, data, into, dataName(low));
    else if (LINKS.has(low)) this.#bareSpan(value, start, into);
  }

  /** A path without the address of the site. */
  #bareSpan(value: string, start: number, into: Span[]): void {
    if (!/^(?:\/(?!\/)|\?)/.test(value)) return;
    const isQuery = value.startsWith('?');
    const begin = isQuery ? 0 : this.#folder.length;
    // What lies beside the folder of the site is none of it.
    if (begin > 0 && !(value.startsWith(this.#folder) && /^(?:[/?#]|$)/.test(value.slice(begin)))) return;
    const span = isQuery ? undefined : this.#pathSpan(value, begin, 'plain');
    const query: Span[] = [];
    if (value.includes('?')) this.#querySpans(value, begin, query, { of: addressOf(span) });
    if (span) into.push({ start, end: start + span.end, pieces: span.pieces });
    else if (begin > 0 || HOME.test(value) || (query.length > 0 && !isQuery)) into.push({ start, end: start + begin, pieces: [{ token: 'site', spelling: 'folder' }] });
    for (const one of query) into.push({ ...one, start: start + one.start, end: start + one.end });
  }

  #cssSpans(text: string, start: number, into: Span[]): void {
    for (const found of text.matchAll(CSS_URLS)) this.#bareSpan(found[2] ?? '', start + found.index + (found[1] ?? '').length, into);
  }

  /** Ids in JSON: in a comment, or in an attribute, where its quotes may be written as entities. */
  #dataSpans(text: string, start: number, data: DataKinds, into: Span[], called = ''): void {
    for (const one of data.numbers(text, this.#index.definitions, called)) this.#numberSpan(text.slice(one.start, one.end), start + one.start, one, into);
  }

  /** The same in JSON that a script is, gives a name to or calls something with. */
  #scriptSpans(text: string, start: number, data: DataKinds, into: Span[]): void {
    for (const { 0: before, index } of text.matchAll(DATA_IN_SCRIPT)) this.#dataSpans(text.slice(index + before.length), start + index + before.length, data, into, calledBefore(text, index));
  }

  #numberSpan(digits: string, start: number, { meant }: DataNumber, into: Span[]): void {
    const before = into.length;
    for (const one of meant) { this.#idSpans(digits, start, one, into); if (into.length > before) return; }
  }

  /** The same in JSON that is percent-encoded (RFC 3986, section 2.1). Only signs of ASCII count in it. */
  #encodedSpans(text: string, start: number, data: DataKinds, into: Span[]): void {
    const places: number[] = [];
    let decoded = '';
    for (let i = 0; i < text.length; i += text[i] === '%' ? 3 : 1) { places.push(i); decoded += text[i] === '%' ? String.fromCharCode(parseInt(text.slice(i + 1, i + 3), 16)) : text[i] ?? ''; }
    for (const one of data.numbers(decoded, this.#index.definitions)) this.#numberSpan(decoded.slice(one.start, one.end), start + (places[one.start] ?? 0), one, into);
  }

  /** What stands in base64 in a text: a link or a setting that a page builder packed. What it is the id of is said by what stands before it. */
  #packedSpan({ start, end, inner, how, before }: Packed, rule: HtmlRule, into: Span[]): void {
    const { data } = compiled(rule);
    let found: Span[] = [];
    if (data && /^\s*[{[]/.test(inner)) for (const word of ['', ...before]) if (found.length === 0) this.#dataSpans(inner, 0, data, found, word);
    found = withoutOverlap([...this.#plainSpans(inner), ...found]);
    const read = found.length > 0 ? this.#build(inner, found) : this.readHtml(inner, rule);
    if (read instanceof Text) into.push({ start, end, pieces: [{ token: 'base64', how }, ...read.pieces, { token: 'base64', how: 'end' }] });
  }

  #commentSpans(comment: string, start: number, rule: HtmlRule, into: Span[]): void {
    const { data, byWord } = compiled(rule);
    if (data) this.#dataSpans(comment, start, data, into, FIRST_WORD.exec(comment)?.[1]);
    if (byWord.length === 0) return;
    const begin = comment.slice(4).trimStart();
    const own = byWord.find(({ word }) => begin.startsWith(`${word} `));
    if (own) this.#dataSpans(comment, start, own.data, into);
  }

  /** Ids in the attributes of short codes and in queries without an address: they are data too. */
  #pairSpans(text: string, rule: HtmlRule, into: Span[]): void {
    for (const one of pairsIn(text)) this.#namedSpans(text, one, rule, into);
  }

  /** Ids in names with a value each that stand together. */
  #namedSpans(text: string, { called, pairs }: Pairs, rule: HtmlRule, into: Span[]): void {
    for (const one of compiled(rule).data?.ofPairs(pairs, this.#index.definitions, called) ?? []) this.#numberSpan(text.slice(one.start, one.end), one.start, one, into);
  }

  /** Ids in class names and short codes: the pattern says what stands around them. */
  #patternSpans(text: string, rule: HtmlRule, into: Span[], isName = false): void {
    const { patterns, words } = compiled(rule);
    const [isWay, signs] = [WAY.test(text), signsIn(text)];
    for (const one of patterns) {
      if (!signs.has(one.sign) || (one.alone && !isWay) || !one.needs.every((word) => text.includes(word))) continue;
      for (const found of text.matchAll(one.places)) this.#idSpans(found[2] ?? '', found.index + (found[1] ?? '').length, one, into);
    }
    if (words.size > 0) for (const found of text.matchAll(NUMBERS)) this.#wordSpan({ text, isName, isWay }, found.index, found[0], words.get(signBefore(text, found.index)) ?? [], into);
  }

  /** A number behind a word that says what it is. Numbers are rarer than words: from each one looks back. A name may begin with a line, and go on behind the number. */
  #wordSpan({ text, isName, isWay }: { text: string; isName: boolean; isWay: boolean }, start: number, digits: string, words: readonly WordPattern[], into: Span[]): void {
    const end = start + digits.length;
    if (words.length === 0 || /[A-Za-z\d]/.test(text[end] ?? '')) return;
    const goesOn = !isName && /[_-]/.test(text[end] ?? '');
    const before = text.slice(Math.max(isName ? /^_*/.exec(text)?.[0].length ?? 0 : 0, start - LONGEST_BEFORE), start);
    for (const one of words) {
      const said = (isWay || !one.alone) && (goesOn === one.open || isName) ? one.begin.exec(before)?.groups : undefined;
      if (said !== undefined && one.ahead.test(text.slice(end, end + LONGEST_ENDING))) this.#idSpans(digits, start, { ...one, ...said }, into);
    }
  }

  /** Every whole number in a short text that is the id of such an item. */
  #idSpans(value: string, start: number, meant: Meant, into: Span[]): void {
    const { kinds, above = 0 } = meant;
    NUMBER.lastIndex = 0;
    for (let found = NUMBER.exec(value); found; found = NUMBER.exec(value)) {
      const [digits] = found;
      const address = digits.startsWith('0') || Number(digits) <= above ? undefined : this.#index.byId(kinds, localId(digits), (one) => this.#isMeant(one, meant));
      if (address === undefined) continue;
      into.push({ start: start + found.index, end: start + found.index + digits.length, pieces: [{ token: 'id', address }] });
    }
  }

  #isMeant(address: string, { word, many, family, alike, said }: Meant): boolean {
    const sort = this.#index.sortOf(address);
    return (word === undefined || isNamed(word, sort, many)) && (family === undefined || familyOf(nameIn(address)) === family) && (!alike || isAlike(alike.name, alike.many, sort)) && said?.(sort) !== false;
  }
}

/** Names of parameters of addresses that hold ids, with the path before them. */
type Parameters = ReadonlyMap<string, readonly { readonly path: string; readonly kind: string }[]>;

function parametersOf({ kinds }: SiteIndex): Parameters {
  const all = [...kinds.values()].flatMap(({ id, description }) => description.addresses.map((address) => { const [path = '', query = ''] = address.split('?'); return { name: query.slice(0, query.indexOf('=')), path, kind: id }; }));
  return groupBy(all, ({ name }) => name);
}

/** A link to where the site begins. */
const HOME = /^\/(?:#|$)/;

/** A text that is nothing but the path of a file: where a site has such a file, it means that. */
function isFilePath(text: string): boolean { return FILE_PATH.test(text); }
const FILE_PATH = /^\/(?:[^\s"'<>?#\\/]+\/)+[^\s"'<>?#\\/]+\.[A-Za-z0-9]{2,5}$/;

/** The item whose path a span is. */
function addressOf(span: Span | undefined): string | undefined {
  const [piece] = span?.pieces ?? [];
  return typeof piece === 'object' && piece.token === 'path' ? piece.address : undefined;
}

/** What a script element holds, and where data in it may begin. */
const [SCRIPTS, DATA_IN_SCRIPT] = [/(<script\b[^>]*>)([^]*?)<\/script/gi, /(?:^|[=(])\s*['"]?(?=[[{])/g];
/** The name of what data in a script is given to, without what is done with it: "bar" of `bar.open({`, "bars" of `bars[12]={`. */
function calledBefore(text: string, at: number): string {
  const [, name = ''] = /([\w$.]+)(?:\[[\w'"]*\])?\s*$/.exec(text.slice(Math.max(0, at - LONGEST_NAME), at)) ?? [];
  return name.replace(/\.(?:open|show|init|load|create|render|mount|start|run)$/, '').split('.').at(-1) ?? '';
}
const LONGEST_NAME = 80;
/** What a comment with data begins with. */
const FIRST_WORD = /^<!--\s*([\w:/-]+)\s/;
/** The rules of a style element; the candidates of a srcset; paths in `url(…)`, which may be quoted, also by entities. */
const STYLES = /(<style\b[^>]*>)([^]*?)<\/style/gi;
const CANDIDATES = /(?:^|,)\s*([^\s,]+)/g;
const DATA_IN_ENTITIES = /^\s?[{[]+&(?:quot|#34);/;
const ENCODED_DATA = /%(?:7B|5B)(?:%[0-9A-Fa-f]{2}|[\w.~!*'()-])+/g;
const CSS_URLS = /(\burl\(\s*(?:"|'|&quot;|&#34;|&#39;)?)(\/[^\s"'()&]*)/gi;

/** In the order of the text; where two overlap, the one that begins first, and of these the one found first. */
function withoutOverlap(spans: Span[]): Span[] {
  if (spans.length < 2) return spans;
  let end = 0;
  return spans.sort((a, b) => a.start - b.start).filter((span) => { const fits = span.start >= end; if (fits) ({ end } = span); return fits; });
}
