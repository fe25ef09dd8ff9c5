import { SPELLINGS } from '../tokens.ts';
import type { Spelling, TextPiece } from '../tree.ts';
import { hostOf } from './named.ts';

const [PLAIN_END, ESCAPED_END, TWICE_END, ENCODED_END, ENCODED_ESCAPED_END] = [/[^\s"'<>?#\\(),⟦⟧]*/y, /(?:\\\/|[^\s"'<>?#\\(),⟦⟧])*/y, /(?:\\\\\\\/|[^\s"'<>?#\\(),⟦⟧])*/y, /(?:%2[Ff]|[A-Za-z0-9._~-])*/y, /(?:%5C%2F|[A-Za-z0-9._~-])*/y];
/** Where a path behind an address ends, and how it is written there. */
export const PATHS: Readonly<Record<Spelling, { readonly end: RegExp; readonly as: Spelling }>> = {
  plain: { end: PLAIN_END, as: 'plain' }, folder: { end: PLAIN_END, as: 'plain' }, swapped: { end: PLAIN_END, as: 'plain' }, relative: { end: PLAIN_END, as: 'plain' }, bare: { end: PLAIN_END, as: 'plain' }, host: { end: /(?:)/y, as: 'plain' },
  escaped: { end: ESCAPED_END, as: 'escaped' }, 'escaped-relative': { end: ESCAPED_END, as: 'escaped' }, 'escaped-twice': { end: TWICE_END, as: 'escaped-twice' },
  encoded: { end: ENCODED_END, as: 'encoded' }, 'encoded-lower': { end: ENCODED_END, as: 'encoded-lower' }, 'encoded-escaped': { end: ENCODED_ESCAPED_END, as: 'encoded-escaped' },
};

/** An address in one of its spellings, with how much of it stands before the name of the host. */
export interface Spelled { readonly spelling: Spelling; readonly text: string; readonly before: number; readonly token: TextPiece; /** The site lies in a folder of its host. */ readonly folder: boolean }

/** How an address begins with the name of the host: that could also be in a mailbox, or the rest of a longer name. */
const HOSTS: ReadonlySet<Spelling> = new Set(['bare', 'host']);

/** The address of a site in all its spellings, the longer ones first: "//host" is the end of "http://host". */
export function spelledOf(site: string): Spelled[] {
  const { hostname, pathname } = new URL(site);
  const usable = SPELLINGS.filter((spelling) => spelling !== 'folder' && (!HOSTS.has(spelling) || hostOf(site) !== undefined));
  return usable.map((spelling): Spelled => { const text = spell(site, spelling); return { spelling, text, before: text.indexOf(hostname), token: { token: 'site', spelling }, folder: pathname !== '/' }; }).sort((a, b) => b.text.length - a.text.length);
}

/** "//host" must not be the rest of "other://host", and what follows must not make it another host, port or folder. */
export function stands(text: string, start: number, { spelling, text: { length }, folder }: Spelled): boolean {
  if (start < 0 || ((spelling === 'relative' || spelling === 'escaped-relative') && text[start - 1] === ':')) return false;
  if (HOSTS.has(spelling) && /[\w.@/:%\\-]/.test(text[start - 1] ?? '')) return false;
  const next = text[start + length] ?? '';
  if ((spelling === 'host' && next === '/') || (spelling === 'bare' && next !== '/' && !folder)) return false;
  return !/[A-Za-z0-9:_~-]/.test(next) && !(next === '.' && /[A-Za-z0-9]/.test(text[start + length + 1] ?? ''));
}

/** The folder of its host that a site lies in, without a slash at its end; empty for most. */
export function folderOf(site: string): string { return new URL(site).pathname.replace(/\/+$/, ''); }

/** Writes an address or a path in one of its spellings. */
export function spell(text: string, spelling: Spelling): string {
  switch (spelling) {
    case 'plain': return text;
    case 'folder': return folderOf(text);
    case 'swapped': return text.startsWith('https:') ? 'http' + text.slice(5) : text.startsWith('http:') ? 'https' + text.slice(4) : text;
    case 'relative': return text.replace(/^https?:/, '');
    case 'bare': return text.replace(/^https?:\/\//, '');
    case 'host': return text.replace(/^https?:\/\/([^/]*).*/, '$1');
    case 'escaped': return text.replaceAll('/', '\\/');
    case 'escaped-relative': return text.replace(/^https?:/, '').replaceAll('/', '\\/');
    case 'escaped-twice': return text.replaceAll('/', '\\\\\\/');
    case 'encoded': return encodeURIComponent(text);
    case 'encoded-escaped': return encodeURIComponent(text.replaceAll('/', '\\/'));
    case 'encoded-lower': return encodeURIComponent(text).replace(/%../g, (hex) => hex.toLowerCase());
  }
}

export function unspell(text: string, spelling: Spelling): string {
  if (spelling === 'escaped') return text.replaceAll('\\/', '/');
  if (spelling === 'escaped-twice') return text.replaceAll('\\\\\\/', '/');
  if (spelling === 'encoded-escaped') return decodeURIComponent(text).replaceAll('\\/', '/');
  return spelling.startsWith('encoded') ? decodeURIComponent(text) : text;
}
