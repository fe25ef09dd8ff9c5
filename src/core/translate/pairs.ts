import type { Pair } from './datareader.ts';

/** Names with a value each that stand together in a text, and what they are the attributes of. Offsets are those in the text. */
export interface Pairs { readonly called: string; readonly pairs: readonly Pair[] }

/** Where a short code begins, or what stands in braces; one of its attributes, or a word without a value: up to where another one begins. They are used from one place at a time. */
const [CODE, IN_BRACES, ARGUMENT] = [/\[([A-Za-z][\w-]*)(?=\s)/g, /\{[{%]?\s?([A-Za-z][\w-]*(?:[:.][\w-]+)*)(?=\s)/g, /\s+(?:([\w-]+)\s*=\s*(?:"([^"]*)"|'([^']*)'|([^\s"'[\]{}]+))|[^\s=[\]{}]+)/y];
/** What closes it. */
const CLOSED = /\s*\/?[%}]/y;
/** The query of an address alone (RFC 3986, section 3.4), as the whole of a text or of what is quoted in it; where its second name stands; what cannot be in one. Most texts have no such name, which is quickly seen. */
const [QUERY, SECOND, OUTSIDE] = [/[\w-]+(?:\[\w*\])?=[^\s"'<>&]*(?:(?:&amp;|&)[\w-]+(?:\[\w*\])?=[^\s"'<>&]*)+(?=["']|$)/y, /&(?!quot;|#)(?:amp;)?[\w-]+(?:\[\w*\])?=/g, /[\s"'<>?]/];
/** So long the first name with its value can be. */
const LONGEST_FIRST = 200;
/** Names and values of a text, or of an attribute, that is nothing else; and what is between them. */
const SAID = /^[\w-]+:[^\s;:|]+(?:([;|])[\w-]+:[^\s;:|]*)(?:\1[\w-]+:[^\s;:|]*)*\1?$/;

/** An element with a number in it, or several. */
const ELEMENT = /<([A-Za-z][\w-]*)>(\d+(?:\s?,\s?\d+)*)(?=<\/\1>)/g;

/** A line of a file for settings: a note, a heading, a name with a value, an entry of a list, or nothing. */
const SETTING = /^[ \t]*(?:[#;].*|\[[\w .-]*\]|(?:-[ \t]+)?[\w.-]+[ \t]*(?:=|:(?![:/])).*|-[ \t].*)?\r?$/;
/** One of them that holds a number, or several. */
const LINE = /^[ \t]*(?:-[ \t]+)?([A-Za-z_][\w.-]*)[ \t]*[=:][ \t]*["'[]?(\d+(?:\s?,\s?\d+)*)(?=["'\]]?[ \t]*\r?$)/gm;

/** The attributes of short codes, queries without an address, elements of XML that hold a number, "name:value;name:value", and lines of settings. */
export function pairsIn(text: string): Pairs[] {
  const found: Pairs[] = [];
  if (text.includes('[')) for (const { 0: { length }, 1: called = '', index } of text.matchAll(CODE)) {
    const { pairs } = argumentsFrom(text, index + length);
    found.push({ called, pairs }, ...pairs.flatMap(({ value, start }) => saidIn(value, start)));
  }
  if (text.includes('{')) for (const { 0: { length }, 1: called = '', index } of text.matchAll(IN_BRACES)) found.push({ called: called.replace(/^.*[:.]/, ''), pairs: inBraces(text, index + length) });
  let behind = 0;
  for (const { index } of text.includes('&') ? text.matchAll(SECOND) : []) {
    if (index < behind) continue;
    const query = queryAround(text, index);
    behind = query ? query.start + query.text.length : endOf(text, index);
    if (query) found.push({ called: '', pairs: split(query.text, query.start, /&(?:amp;)?/g, '=') });
  }
  if (text.startsWith('<?xml')) for (const { 0: { length }, 1: name = '', 2: value = '', index } of text.matchAll(ELEMENT)) found.push({ called: '', pairs: [{ name: name.replaceAll('-', '_'), value, start: index + length - value.length }] });
  found.push(...saidIn(text, 0));
  if (areSettings(text)) found.push({ called: '', pairs: [...text.matchAll(LINE)].map(({ 0: { length }, 1: name = '', 2: value = '', index }) => ({ name, value, start: index + length - value.length })) });
  return found.filter(({ pairs }) => pairs.length > 0);
}

/** "name:value;name:value", from a place of a text on. */
function saidIn(text: string, start: number): Pairs[] {
  const between = /[;|]/.test(text) ? SAID.exec(text)?.[1] : undefined;
  return between === undefined ? [] : [{ called: '', pairs: split(text, 0, between === ';' ? /;/g : /\|/g, ':').map((pair) => ({ ...pair, start: pair.start + start })) }];
}

/** Are there several lines, and all of such a file? Most texts are none, as their first line says. */
function areSettings(text: string): boolean {
  const end = text.indexOf('\n');
  return end >= 0 && SETTING.test(text.slice(0, end)) && text.split('\n').every((line) => SETTING.test(line));
}

/** The query whose second name begins there. */
function queryAround(text: string, second: number): { text: string; start: number } | undefined {
  let start = second;
  while (start > 0 && second - start < LONGEST_FIRST && !OUTSIDE.test(text.charAt(start - 1))) start--;
  if (start > 0 && !/["']/.test(text.charAt(start - 1))) return undefined;
  QUERY.lastIndex = start;
  const [found] = QUERY.exec(text) ?? [];
  return found === undefined ? undefined : { text: found, start };
}

/** Where what stands together ends: in it no other query begins. */
function endOf(text: string, from: number): number {
  let end = from + 1;
  while (end < text.length && !OUTSIDE.test(text.charAt(end))) end++;
  return end;
}

/** `end`: behind the last of them. */
function argumentsFrom(text: string, from: number): { pairs: Pair[]; end: number } {
  const pairs: Pair[] = [];
  let end = from;
  ARGUMENT.lastIndex = from;
  for (let found = ARGUMENT.exec(text); found; found = ARGUMENT.exec(text)) {
    const [, name, double, single, bare] = found;
    const value = double ?? single ?? bare;
    end = ARGUMENT.lastIndex;
    if (name !== undefined && value !== undefined) pairs.push({ name, value, start: ARGUMENT.lastIndex - (bare === undefined ? 1 : 0) - value.length });
  }
  return { pairs, end };
}

/** Code has braces too: only what is closed behind its attributes. */
function inBraces(text: string, from: number): Pair[] {
  const { pairs, end } = argumentsFrom(text, from);
  CLOSED.lastIndex = end;
  return CLOSED.test(text) ? pairs : [];
}

function split(text: string, from: number, between: RegExp, sign: string): Pair[] {
  const pairs: Pair[] = [];
  let at = 0;
  for (const { 0: { length }, index } of [...text.matchAll(between), { 0: '', index: text.length }]) {
    const one = text.slice(at, index);
    const behind = one.indexOf(sign) + 1;
    if (behind > 1) pairs.push({ name: one.slice(0, behind - 1).replace(/\[\w*\]$/, ''), value: one.slice(behind), start: from + at + behind });
    at = index + length;
  }
  return pairs;
}
