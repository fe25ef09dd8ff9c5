import type { Pair } from './datareader.ts';

/** Names with a value each that stand together in a text, and what they are the attributes of. Offsets are those in the text. */
export interface Pairs { readonly called: string; readonly pairs: readonly Pair[] }

/** Where a short code begins; one of its attributes, or a word without a value. They are used from one place at a time. */
const [CODE, ARGUMENT] = [/\[([A-Za-z][\w-]*)(?=\s)/g, /\s+(?:([\w-]+)\s*=\s*(?:"([^"]*)"|'([^']*)'|([^\s"'\]]+))|[^\s=\]]+)/y];
/** The query of an address alone (RFC 3986, section 3.4), as the whole of a text or of what is quoted in it; names and values of a text that is nothing else. */
const QUERY = /(?<=^|["'])[\w-]+(?:\[\w*\])?=[^\s"'<>&]*(?:(?:&amp;|&)[\w-]+(?:\[\w*\])?=[^\s"'<>&]*)+(?=["']|$)/g;
const SAID = /^[\w-]+:[^\s;:]+(?:;[\w-]+:[^\s;:]+)+;?$/;

/** The attributes of short codes, queries without an address, and "name:value;name:value". */
export function pairsIn(text: string): Pairs[] {
  const found: Pairs[] = [];
  if (text.includes('[')) for (const { 0: { length }, 1: called = '', index } of text.matchAll(CODE)) found.push({ called, pairs: argumentsFrom(text, index + length) });
  if (text.includes('&')) for (const { 0: query, index } of text.matchAll(QUERY)) found.push({ called: '', pairs: split(query, index, /&(?:amp;)?/g, '=') });
  if (text.includes(';') && SAID.test(text)) found.push({ called: '', pairs: split(text, 0, /;/g, ':') });
  return found.filter(({ pairs }) => pairs.length > 0);
}

function argumentsFrom(text: string, from: number): Pair[] {
  const pairs: Pair[] = [];
  ARGUMENT.lastIndex = from;
  for (let found = ARGUMENT.exec(text); found; found = ARGUMENT.exec(text)) {
    const [, name, double, single, bare] = found;
    const value = double ?? single ?? bare;
    if (name !== undefined && value !== undefined) pairs.push({ name, value, start: ARGUMENT.lastIndex - (bare === undefined ? 1 : 0) - value.length });
  }
  return pairs;
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
