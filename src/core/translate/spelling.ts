import { groupBy } from '../json.ts';
import { SPELLINGS } from '../tokens.ts';
import { literal } from '../wildcard.ts';
import type { Spelling, TextPiece, Wrapping, Written } from '../tree.ts';
import { hostOf } from './named.ts';

/** How a slash is written in those spellings that differ by that alone: in JSON (RFC 8259), which may be escaped itself, and in JSON inside JSON. */
const SLASHES: Readonly<Partial<Record<Spelling, string>>> = {
  escaped: '\\/', 'escaped-relative': '\\/', 'escaped-again': '\\\\/', 'escaped-twice': '\\\\\\/', code: '\\u002f', 'code-upper': '\\u002F', entity: '&#47;', 'entity-hex': '&#x2F;',
};
const PLAIN = '[^\\s"\'<>?#\\\\(),⟦⟧]';
const [PLAIN_END, ENCODED_END] = [new RegExp(`${PLAIN}*`, 'y'), /(?:%2[Ff]|[A-Za-z0-9._~-])*/y];
const ENDS: Readonly<Partial<Record<Spelling, RegExp>>> = {
  host: /(?:)/y, encoded: ENCODED_END, 'encoded-lower': ENCODED_END, 'encoded-escaped': /(?:%5C%2F|[A-Za-z0-9._~-])*/y, 'encoded-twice': /(?:%252[Ff]|[A-Za-z0-9._~-])*/y,
};
/** How a path is written behind an address that has less than the path could have. */
const AS: Readonly<Partial<Record<Spelling, Spelling>>> = { folder: 'plain', swapped: 'plain', relative: 'plain', bare: 'plain', host: 'plain', 'escaped-relative': 'escaped' };
/** Where a path behind an address ends, and how it is written there. */
export const PATHS = Object.fromEntries(SPELLINGS.map((spelling) => [spelling, { end: ENDS[spelling] ?? endOf(SLASHES[spelling]), as: AS[spelling] ?? spelling }])) as Readonly<Record<Spelling, { readonly end: RegExp; readonly as: Spelling }>>;

function endOf(slash: string | undefined): RegExp { return slash === undefined ? PLAIN_END : new RegExp(`(?:${literal(slash)}|${PLAIN})*`, 'y'); }

/** An address in one of its spellings, with how much of it stands before the name of the host. */
export interface Spelled { readonly spelling: Spelling; readonly text: string; readonly before: number; readonly token: Extract<TextPiece, { token: 'site' }>; /** The site lies in a folder of its host. */ readonly folder: boolean }

/** How an address begins with the name of the host: that could also be in a mailbox, or the rest of a longer name. */
const HOSTS: ReadonlySet<Spelling> = new Set(['bare', 'host']);
/** What is a sign of its own right before the name of a host, though it ends like a word: a sign that is escaped, and no part of a name. */
const ESCAPED_SIGN = /(?:\\u(?!00(?:40|2[dDeE]|5[fF]))[0-9A-Fa-f]{4}|\\x[0-9A-Fa-f]{2}|(?:\\|%5C)[nrt]|%(?:25)*(?!40|2[dDeE]|5[fF])[2-7][0-9A-Fa-f])$/;
/** An address that goes through another site, such as one that makes pictures smaller. */
const THROUGH = /https?:\\*\/\\*\/[^\s"'<>]+\/$/;
/** Schemes that go to the same place of a site as its own. */
const SAME_PLACE = /(?<![A-Za-z])(?:https?|wss?|webcals?|feed):$/i;
/** So far back what stands before a host is looked at. */
const NEAR = 300;

/** The address of a site in all its spellings, by the sign before its host, or none where the host begins it; the longer ones first: "//host" is the end of "http://host". */
export function spelledOf(site: string): ReadonlyMap<string, readonly Spelled[]> {
  const { hostname, pathname } = new URL(site);
  const usable = SPELLINGS.filter((spelling) => spelling !== 'folder' && (!HOSTS.has(spelling) || hostOf(site) !== undefined));
  const all = usable.map((spelling): Spelled => { const text = spell(site, spelling); return { spelling, text, before: text.indexOf(hostname), token: { token: 'site', spelling }, folder: pathname !== '/' }; }).sort((a, b) => b.text.length - a.text.length);
  return groupBy(all, ({ text, before }) => text.charAt(before - 1));
}

/** "//host" must not be the rest of "other://host", and what follows must not make it another host, port or folder. */
export function stands(text: string, start: number, { spelling, text: { length }, folder }: Spelled): boolean {
  if (start < 0) return false;
  const before = text.charAt(start - 1);
  if ((spelling === 'relative' || spelling === 'escaped-relative') && before === ':' && !SAME_PLACE.test(text.slice(Math.max(0, start - NEAR), start))) return false;
  if (HOSTS.has(spelling) && /[\w.@/:%\\-]/.test(before)) { const near = text.slice(Math.max(0, start - NEAR), start); if (!ESCAPED_SIGN.test(near) && !THROUGH.test(near)) return false; }
  const next = text.charAt(start + length);
  if ((spelling === 'host' && next === '/') || (spelling === 'bare' && next !== '/' && !folder)) return false;
  return !/[A-Za-z0-9:_~-]/.test(next) && !(next === '.' && /[A-Za-z0-9]/.test(text.charAt(start + length + 1)));
}

/** The folder of its host that a site lies in, without a slash at its end; empty for most. */
export function folderOf(site: string): string { return new URL(site).pathname.replace(/\/+$/, ''); }

/** Writes an address or a path in one of its spellings. */
export function spell(text: string, spelling: Spelling): string {
  const slash = SLASHES[spelling];
  if (slash !== undefined) return (spelling === 'escaped-relative' ? withoutScheme(text) : text).replaceAll('/', slash);
  switch (spelling) {
    case 'folder': return folderOf(text);
    case 'swapped': return text.startsWith('https:') ? 'http' + text.slice(5) : text.startsWith('http:') ? 'https' + text.slice(4) : text;
    case 'relative': return withoutScheme(text);
    case 'bare': return text.replace(/^https?:\/\//, '');
    case 'host': return text.replace(/^https?:\/\/([^/]*).*/, '$1');
    case 'encoded': return encodeURIComponent(text);
    case 'encoded-twice': return encodeURIComponent(encodeURIComponent(text));
    case 'encoded-escaped': return encodeURIComponent(text.replaceAll('/', '\\/'));
    case 'encoded-lower': return encodeURIComponent(text).replace(/%../g, (hex) => hex.toLowerCase());
    default: return text;
  }
}

function withoutScheme(site: string): string { return site.replace(/^https?:/, ''); }

export function unspell(text: string, spelling: Spelling): string {
  const slash = SLASHES[spelling];
  if (slash !== undefined) return text.replaceAll(slash, '/');
  if (spelling === 'encoded-escaped') return decodeURIComponent(text).replaceAll('\\/', '/');
  if (spelling === 'encoded-twice') return decodeURIComponent(decodeURIComponent(text));
  return spelling.startsWith('encoded') ? decodeURIComponent(text) : text;
}

/** Writes an address or a path as it stands in a text. */
export function written(text: string, { spelling, inside }: Written): string { return wrapped(spell(text, spelling), inside); }

/** What is written of a text where it stands inside other ones. */
export function wrapped(text: string, inside: readonly Wrapping[] = []): string {
  return inside.reduce((written, one) => {
    switch (one) {
      case 'string': return written.replaceAll('\\', '\\\\');
      case 'string-slashes': return written.replaceAll('\\', '\\\\').replaceAll('/', '\\/');
      case 'string-codes': return written.replaceAll('\\', '\\u005c');
      case 'percent': return encodeURIComponent(written);
      case 'percent-lower': return spell(written, 'encoded-lower');
    }
  }, text);
}
