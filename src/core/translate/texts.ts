import { MADE_IDS } from '../madeid.ts';
import { isMeasure } from '../measures.ts';
import { localId, type SiteIndex } from '../siteindex.ts';
import { WRAPPINGS } from '../tokens.ts';
import { Text, type TextPiece } from '../tree.ts';
import type { DataKinds, DataNumber, DataRead } from './data.ts';
import type { Pair } from './datareader.ts';
import { compiled, signBefore, signsIn, type HtmlRule } from './htmlrule.ts';
import { InnerText } from './innertext.ts';
import { familyOf, isAlike, isNamed, nameIn } from './likename.ts';
import { isFilePath, LinkReader } from './links.ts';
import { hidesPacked, packedIn, type Packed } from './packedtext.ts';
import { pairsIn, type Pairs } from './pairs.ts';
import { LONGEST_BEFORE, LONGEST_ENDING, NUMBERS, WAY, type Meant, type WordPattern } from './patterns.ts';
import { replaced, withoutOverlap, type Span } from './spans.ts';
import { wrapped } from './spelling.ts';

/** Where a tag begins, and an attribute of it with its value; a whole number. Each goes on from one place at a time. */
const [TAG_NAME, ATTRIBUTE, NUMBER] = [/<[a-zA-Z][^\s>/"']*/y, /[\s/]+([^\s=>"'/]+)(?:\s*=\s*(?:"([^"]*)"|'([^']*)'))?/y, /\d+/g];
const LINKS = new Set(['href', 'src', 'action', 'poster', 'data']);
/** What the names of attributes begin with that a page may choose for itself, as all of an element of its own. */
const DATA = 'data-';
function dataName(attribute: string): string { return attribute.startsWith(DATA) ? attribute.slice(DATA.length) : attribute; }
const [BEGINS_WITH_DIGIT, DIGIT] = [/^[1-9]/, /\d/];

/** A text that lies in another one: where, how it is read, what it is called there. `deep`: so many such texts are around it. */
interface Inside { readonly start: number; readonly rule: HtmlRule; readonly into: Span[]; readonly called?: string; readonly deep: number }

/** Finds a site's own address in texts and turns it, ids and paths into tokens. One per site. */
export class TextReader {
  readonly #index: SiteIndex;
  readonly #links: LinkReader;

  constructor(index: SiteIndex) {
    this.#index = index;
    this.#links = new LinkReader(index);
  }

  /** False: the site is not named in this text. Quick, because it is asked for every text. */
  concerns(text: string): boolean { return this.#links.concerns(text); }

  /** Any text: only the site's address and known paths behind it, and ids that cannot be mistaken. */
  read(text: string): string | Text {
    if (text.startsWith('/') && isFilePath(text)) return this.readUrl(text);
    return this.concerns(text) || this.#index.hasMadeIds ? replaced(text, this.#plainSpans(text)) : text;
  }

  /** A text that is one link, perhaps without the address. */
  readUrl(text: string): string | Text {
    if (!text.startsWith('/') || text.startsWith('//')) return this.read(text);
    const spans: Span[] = [];
    this.#links.bare(text, 0, spans);
    return replaced(text, this.#withMadeIds(text, spans));
  }

  /** Style rules: addresses, and `url(…)` without address. */
  readCss(text: string): string | Text {
    const spans = this.#plainSpans(text);
    this.#links.css(text, 0, spans);
    return replaced(text, withoutOverlap(spans));
  }

  /** HTML: addresses, links without address, ids in attributes and in the data of comments. */
  readHtml(text: string, rule: HtmlRule): string | Text {
    if (!compiled(rule).concerns(text) || (text.startsWith('/') && isFilePath(text))) return this.read(text);
    return replaced(text, this.#spansOf(text, rule, 0));
  }

  /** The name of a member: addresses, and ids where patterns find them. */
  readName(text: string, rule: HtmlRule): string | Text {
    const spans = this.#plainSpans(text);
    if (compiled(rule).concerns(text)) this.#patternSpans(text, rule, spans, true);
    return replaced(text, withoutOverlap(spans));
  }

  #spansOf(text: string, rule: HtmlRule, deep: number): Span[] {
    const spans = this.#plainSpans(text);
    const here: Inside = { start: 0, rule, into: spans, deep };
    this.#markupSpans(text, here);
    this.#patternSpans(text, rule, spans);
    this.#pairSpans(text, here);
    if (hidesPacked(text)) for (const one of packedIn(text)) this.#packedSpan(one, here);
    return withoutOverlap(spans);
  }

  /** What is found in every text, whatever is said of it. */
  #plainSpans(text: string): Span[] { return this.#withMadeIds(text, this.#links.spans(text)); }

  #withMadeIds(text: string, spans: Span[]): Span[] {
    const found = this.#index.hasMadeIds ? [...text.matchAll(MADE_IDS)].flatMap(({ 0: id, index }): Span[] => {
      const address = this.#index.byMadeId(id);
      return address === undefined ? [] : [{ start: index, end: index + id.length, pieces: [{ token: 'id', address }] }];
    }) : [];
    return found.length === 0 ? spans : withoutOverlap([...spans, ...found]);
  }

  #markupSpans(text: string, at: Inside): void {
    const around: AroundTag = { choice: '', asData: text.startsWith(DATA_DOCUMENT) && !text.includes(DRAWING) };
    for (let sign = text.indexOf('<'); sign >= 0; sign = text.indexOf('<', sign + 1)) {
      if (text.startsWith('<!--', sign)) {
        const end = text.indexOf('-->', sign + 4);
        if (end < 0) break;
        this.#commentSpans(text.slice(sign, end), { ...at, start: sign });
        sign = end;
      } else this.#tagSpans(text, sign, at, around);
    }
    const { data } = compiled(at.rule);
    if (data && DATA_IN_ENTITIES.test(text)) this.#innerSpans(InnerText.ofMarkup(text), at);
    if (text.includes('%')) for (const { 0: written, index } of text.matchAll(ENCODED)) this.#innerSpans(InnerText.ofEncoded(written), { ...at, start: index });
    if (data) for (const { 0: before, index } of text.matchAll(DATA_BEHIND)) this.#dataSpans(text.slice(index + before.length), data, { ...at, start: index + before.length });
    if (data) for (const found of text.matchAll(SCRIPTS)) this.#scriptSpans(found[2] ?? '', data, { ...at, start: found.index + (found[1] ?? '').length });
    for (const found of text.matchAll(STYLES)) this.#links.css(found[2] ?? '', found.index + (found[1] ?? '').length, at.into);
  }

  #tagSpans(text: string, sign: number, at: Inside, around: AroundTag): void {
    TAG_NAME.lastIndex = sign;
    if (!TAG_NAME.test(text)) return;
    ATTRIBUTE.lastIndex = TAG_NAME.lastIndex;
    const tag = text.slice(sign + 1, TAG_NAME.lastIndex);
    const isCustom = around.asData || tag.includes('-');
    const pairs: Pair[] = [];
    let [asks, sent] = [false, tag === 'option' ? around.choice : ''];
    for (let found = ATTRIBUTE.exec(text); found; found = ATTRIBUTE.exec(text)) {
      const [name = '', value] = [found[1], found[2] ?? found[3]];
      if (value === undefined) continue;
      const [behind, before] = [ATTRIBUTE.lastIndex, at.into.length];
      const start = behind - 1 - value.length;
      this.#attributeSpans(name, value, start, at);
      // A value can hold tags itself, whose attributes were read meanwhile.
      ATTRIBUTE.lastIndex = behind;
      if (name === 'name') sent = value;
      const called = isCustom || name.startsWith(DATA) ? dataName(name).replaceAll('-', '_') : name === 'value' ? sent : '';
      if (called === '') continue;
      pairs.push({ name: called, value, start });
      asks ||= at.into.length === before && BEGINS_WITH_DIGIT.test(value);
    }
    if (asks) this.#namedSpans(text, { called: isCustom ? tag : '', pairs }, at);
    if (tag === 'select') around.choice = sent;
  }

  #attributeSpans(name: string, value: string, start: number, at: Inside): void {
    const { rule, into } = at;
    const kinds = compiled(rule).attribute(name);
    if (kinds !== undefined) { this.#idSpans(value, start, { kinds }, into); return; }
    const low = name.toLowerCase();
    if (low === 'style') { this.#links.css(value, start, into); return; }
    if (low === 'srcset' || low === 'imagesrcset') {
      for (const found of value.matchAll(CANDIDATES)) this.#links.bare(found[1] ?? '', start + found.index + found[0].length - (found[1] ?? '').length, into);
      return;
    }
    const [{ data }, isData] = [compiled(rule), DATA_BEGINS.test(value)];
    if (LINKS.has(low) && !isData) this.#links.bare(value, start, into);
    else if (isEscaped(value)) this.#innerSpans(InnerText.ofMarkup(value), { ...at, start, called: dataName(low) });
    else if (data && isData) this.#dataSpans(value, data, { ...at, start, called: dataName(low) });
  }

  /** What lies in a text that is written inside this one: ids, which are written there as everywhere, and whatever else is written as it would be without. */
  #innerSpans(inner: InnerText, at: Inside): void {
    const { start, rule, into, called = '', deep } = at;
    const { text, written } = inner;
    const isAddressed = this.concerns(text);
    if (deep >= DEEPEST || !(isAddressed || DIGIT.test(text))) return;
    const { data, concerns } = compiled(rule);
    const found: Span[] = [];
    if (data && DATA_BEGINS.test(text)) this.#dataSpans(text, data, { start: 0, rule, into: found, called, deep: deep + 1 });
    if (concerns(text)) found.push(...this.#spansOf(text, rule, deep + 1));
    else if (isAddressed || this.#index.hasMadeIds) found.push(...this.#plainSpans(text));
    for (const span of withoutOverlap(found)) {
      const [begin, end] = [inner.placeOf(span.start), inner.placeOf(span.end)];
      const pieces = spelledInside(span, text.slice(span.start, span.end), written.slice(begin, end));
      if (pieces) into.push({ start: start + begin, end: start + end, pieces });
    }
  }

  /** Ids in data that a text begins with, and in texts in it. */
  #dataSpans(text: string, data: DataKinds, at: Inside): void { this.#readSpans(data.read(text, this.#index.definitions, at.called), text, at); }

  #readSpans(read: DataRead, text: string, at: Inside): void {
    this.#numberSpans(read, text, at);
    for (const { start, written, called, code } of read.texts) this.#innerSpans(code ? InnerText.ofString(written) : InnerText.ofMarkup(written), { ...at, start: at.start + start, called });
  }

  #numberSpans({ numbers }: DataRead, text: string, { start, into }: Inside): void {
    const left: DataNumber[] = [];
    const lists = new Set<unknown>();
    for (const one of numbers) {
      const isId = this.#numberSpan(text.slice(one.start, one.end), start + one.start, one.meant, into);
      if (one.list !== undefined) { if (isId) lists.add(one.list); else left.push(one); }
    }
    // In a list small numbers are ids as well, where one is large enough.
    if (lists.size > 0) for (const one of left) if (lists.has(one.list)) this.#numberSpan(text.slice(one.start, one.end), start + one.start, one.meant.map((meant) => ({ ...meant, above: 0 })), into);
  }

  /** The same in JSON that a script is, gives a name to or calls something with. */
  #scriptSpans(text: string, data: DataKinds, at: Inside): void {
    for (const { 0: before, index } of text.matchAll(DATA_IN_SCRIPT)) this.#dataSpans(text.slice(index + before.length), data, { ...at, start: at.start + index + before.length, called: calledBefore(text, index) });
  }

  #numberSpan(digits: string, start: number, meant: readonly Meant[], into: Span[]): boolean {
    const before = into.length;
    return meant.some((one) => { this.#idSpans(digits, start, one, into); return into.length > before; });
  }

  /** What stands in base64 in a text: a link or a setting that a page builder packed. What it is the id of is said by what stands before it. */
  #packedSpan({ start, end, inner, how, before }: Packed, { rule, into, deep }: Inside): void {
    if (deep >= DEEPEST) return;
    const { data } = compiled(rule);
    const found: Span[] = [];
    const at: Inside = { start: 0, rule, into: found, deep: deep + 1 };
    if (data && DATA_BEGINS.test(inner)) {
      this.#dataSpans(inner, data, at);
      for (const called of before) if (found.length === 0) this.#numberSpans(data.read(inner, this.#index.definitions, called), inner, at);
    }
    found.push(...this.#spansOf(inner, rule, deep + 1));
    const read = replaced(inner, withoutOverlap(found));
    if (read instanceof Text) into.push({ start, end, pieces: [{ token: 'base64', how }, ...read.pieces, { token: 'base64', how: 'end' }] });
  }

  #commentSpans(comment: string, at: Inside): void {
    const { data, byWord } = compiled(at.rule);
    const called = FIRST_WORD.exec(comment)?.[1] ?? '';
    const begins = data ? comment.search(/[{[]/) : -1;
    if (begins >= 0 && isEscaped(comment)) this.#innerSpans(InnerText.ofMarkup(comment.slice(begins)), { ...at, start: at.start + begins, called });
    else if (data && begins >= 0) this.#dataSpans(comment, data, { ...at, called });
    if (byWord.length === 0) return;
    const begin = comment.slice(4).trimStart();
    const own = byWord.find(({ word }) => begin.startsWith(`${word} `));
    if (own) this.#dataSpans(comment, own.data, { ...at, called: '' });
  }

  /** Ids in the attributes of short codes and in queries without an address: they are data too. */
  #pairSpans(text: string, at: Inside): void {
    for (const one of pairsIn(text)) this.#namedSpans(text, one, at);
  }

  /** Ids in names with a value each that stand together. */
  #namedSpans(text: string, { called, pairs }: Pairs, at: Inside): void {
    const read = compiled(at.rule).data?.ofPairs(pairs, this.#index.definitions, called);
    if (read) this.#readSpans(read, text, at);
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

  /** Every whole number in a short text that is the id of such an item. Beside one that is large enough a small one is an id as well. */
  #idSpans(value: string, start: number, meant: Meant, into: Span[]): void {
    const { above = 0 } = meant;
    let small: [string, number][] | undefined;
    const before = into.length;
    NUMBER.lastIndex = 0;
    for (let found = NUMBER.exec(value); found; found = NUMBER.exec(value)) {
      if (Number(found[0]) > above) this.#idSpan(found[0], start + found.index, meant, into);
      else (small ??= []).push([found[0], start + found.index]);
    }
    if (small && into.length > before) for (const [digits, at] of small) this.#idSpan(digits, at, meant, into);
  }

  #idSpan(digits: string, start: number, meant: Meant, into: Span[]): void {
    const address = digits.startsWith('0') ? undefined : this.#index.byId(meant.kinds, localId(digits), (one) => this.#isMeant(one, meant), nearTo(meant));
    if (address !== undefined) into.push({ start, end: start + digits.length, pieces: [{ token: 'id', address }] });
  }

  #isMeant(address: string, { word, many, several, family, alike, said, told }: Meant): boolean {
    const sort = this.#index.sortOf(address);
    return told?.some((text) => this.#links.says(text, address)) !== false && (word === undefined || isNamed(word, sort, many) || (several === true && isNamed(word, sort, true) && !isMeasure(word))) && (family === undefined || familyOf(nameIn(address)) === family) && (!alike || isAlike(alike.name, alike.many, sort)) && said?.(sort) !== false;
  }
}

/** What a word, or what data stands in, says of the extension. */
function nearTo({ word, within }: Meant): string | undefined {
  const name = word ?? within;
  return name === undefined ? undefined : familyOf(name.replace(/^.*:/, '').replace('/', '_'));
}

/** `choice`: the name of the element in which options stand; `asData`: the document is data, and no markup for people. */
interface AroundTag { choice: string; readonly asData: boolean }
/** How a document of XML begins, and what shows that it is a picture. */
const [DATA_DOCUMENT, DRAWING] = ['<?xml', '<svg'];

/** What a script element holds, and where data in it may begin. */
const [SCRIPTS, DATA_IN_SCRIPT] = [/(<script\b[^>]*>)([^]*?)<\/script/gi, /[=(]\s*['"]?(?=[[{])/g];
/** Where data begins that an element holds. */
const DATA_BEHIND = />\s*(?=\{\s*"|\[\s*[[{"\d])/g;
/** The name of what data in a script is given to, without what is done with it: "bar" of `bar.open({`, "bars" of `bars[12]={`. */
function calledBefore(text: string, at: number): string {
  const [, name = ''] = /([\w$.]+)(?:\[[\w'"]*\])?\s*$/.exec(text.slice(Math.max(0, at - LONGEST_NAME), at)) ?? [];
  return name.replace(/\.(?:open|show|init|load|create|render|mount|start|run)$/, '').split('.').at(-1) ?? '';
}
const LONGEST_NAME = 80;
/** What a comment with data begins with. */
const FIRST_WORD = /^<!--\s*([\w:/-]+)\s/;
/** The rules of a style element; the candidates of a srcset. */
const STYLES = /(<style\b[^>]*>)([^]*?)<\/style/gi;
const CANDIDATES = /(?:^|,)\s*([^\s,]+)/g;
/** How a text begins that is data, or is data with its quotes written as entities; what shows that a text is written as in markup. */
const [DATA_BEGINS, DATA_IN_ENTITIES, ESCAPED_MARKUP] = [/^\s*[{[]/, /^\s?[{[]+&(?:quot|#34);/, /&(?:lt|quot|#0*3[49]|#[xX]2[27]);/];
function isEscaped(value: string): boolean { return value.includes('&') && ESCAPED_MARKUP.test(value); }
/** Data or markup that is percent-encoded. */
const ENCODED = /%(?:7B|5B|3C)(?:%[0-9A-F]{2}|[\w.~!*'()-])+/gi;
/** So deep texts are looked for in texts. */
const DEEPEST = 5;

/** The pieces of what was found in a text inside a text, as they are written there; undefined where they could not be written so. */
function spelledInside({ pieces }: Span, text: string, written: string): TextPiece[] | undefined {
  if (text === written || pieces.every((piece) => typeof piece === 'object' && piece.token === 'id')) return pieces;
  const around = WRAPPINGS.find((one) => wrapped(text, [one]) === written);
  if (around === undefined) return undefined;
  const inside = pieces.flatMap((piece) => (typeof piece === 'object' && (piece.token === 'site' || piece.token === 'path') ? [{ ...piece, inside: [...piece.inside ?? [], around] }] : []));
  return inside.length === pieces.length ? inside : undefined;
}
