import type { Json } from '../core/json.ts';
import { membersIn } from '../core/translate/notation.ts';

const PACKINGS = ['@json', '@list', '@php', '@base64', '@digits', '@boolean'];

/** A value without the notation around it. It is for the eye only: it cannot be read back. */
export function opened(value: Json): Json {
  if (Array.isArray(value)) return value.map(opened);
  if (typeof value !== 'object' || value === null) return value;
  const packed = PACKINGS.map((tag) => value[tag]).find((body) => body !== undefined);
  if (packed !== undefined) return opened(packed);
  // Shortened with the tokens in texts.
  if (typeof value['@ref'] === 'string') return value;
  const exact = value['@float'] ?? value['@number'] ?? value['@enum'];
  if (typeof exact === 'string') return exact;
  return Object.fromEntries(membersIn(value).map(([key, one]) => [key, opened(one)]));
}

/** Tokens in short: `⟦site⟧⟦path page:fares⟧` → `[page:fares]`. */
export function readable(text: string): string {
  return text.replace(/(?:⟦(?:site|seat)[^⟧]*⟧)?⟦(?:path|id|name) ([^ ⟧]+)[^⟧]*⟧/g, '[$1]').replace(/⟦(?:(?:site|seat) folder|base64[^⟧]*)⟧/g, '').replace(/⟦(?:site|seat)[^⟧]*⟧/g, '[site]').replace(/\{(?:"as":"\w+",)?"@ref":"([^"]+)"(?:,"as":"\w+")?\}/g, '[$1]');
}
