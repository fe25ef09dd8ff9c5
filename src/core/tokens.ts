import { Problem } from './problem.ts';

/** What a tree has besides JSON; one class above all of it, so that one look tells it from plain objects. */
export abstract class Marked { declare protected readonly special: true; }

/** A place that points to an item; `as` is the local form. `to` of undefined: it points to nothing, and `raw` is kept. */
export class Reference extends Marked {
  constructor(readonly to: string | undefined, readonly as: 'number' | 'text' | 'name', readonly raw: number | string = 0) { super(); }
}

/** A text with translated pieces. */
export class Text extends Marked {
  constructor(readonly pieces: readonly TextPiece[]) { super(); }
}
export type TextPiece =
  | string
  | ({ token: 'site'; /** It is the address of its CMS, where that lies elsewhere. */ seat?: true } & Written)
  | ({ token: 'path'; address: string; variant: string } & Written)
  | { token: 'id' | 'name'; address: string }
  | { token: 'base64'; how: Base64Spelling | 'end' };
/** How base64 (RFC 4648) is written that stands in a text: as it is, without padding, for addresses and without padding, percent-encoded. */
export const BASE64_SPELLINGS = ['plain', 'bare', 'url', 'encoded'] as const;
export type Base64Spelling = (typeof BASE64_SPELLINGS)[number];
/**
 * How an address is written: plainly, with the other scheme, without scheme, without slashes before the host, as the host alone; with `\/`, also without scheme, escaped once more or twice; with the code of the slash, or its
 * entity in HTML; percent-encoded in upper or lower case, twice, or with `\/` before that. `folder`: only the folder of the host that the site lies in, with which links of its own begin that name no host.
 */
export const SPELLINGS = [
  'plain', 'folder', 'swapped', 'escaped', 'escaped-relative', 'escaped-again', 'escaped-twice', 'code', 'code-upper', 'entity', 'entity-hex', 'encoded', 'encoded-lower', 'encoded-escaped', 'encoded-twice', 'relative', 'bare', 'host',
] as const;
export type Spelling = (typeof SPELLINGS)[number];
/** How a text is written inside another one: in a string of JSON (RFC 8259, section 7), there with slashes escaped or with codes for backslashes; percent-encoded (RFC 3986, section 2.1) in upper or lower case. */
export const WRAPPINGS = ['string', 'string-slashes', 'string-codes', 'percent', 'percent-lower'] as const;
export type Wrapping = (typeof WRAPPINGS)[number];
/** How an address or a path stands in a text. `inside`: the text is inside others, the innermost first. */
export interface Written { readonly spelling: Spelling; readonly inside?: readonly Wrapping[] }
/** A key of a map may be a reference, or a text that holds the address of the site. */
export type Key = string | Reference | Text;

/*
 * `⟦` in a text starts a token that ends with `⟧`; doubled it stands for itself.
 */
const OPEN = '⟦';

export function escapeText(text: string): string {
  return text.includes(OPEN) ? text.replaceAll(OPEN, OPEN + OPEN) : text;
}

export function pieceText(piece: TextPiece): string {
  if (typeof piece === 'string') return escapeText(piece);
  if (piece.token === 'site') return `⟦${piece.seat ? 'seat' : 'site'}${writtenWords(piece)}⟧`;
  if (piece.token === 'base64') return piece.how === 'plain' ? '⟦base64⟧' : `⟦base64 ${piece.how}⟧`;
  if (piece.token !== 'path') return `⟦${piece.token} ${piece.address}⟧`;
  return `⟦path ${piece.address}${piece.variant === '' ? '' : ` variant=${encodeURIComponent(piece.variant)}`}${writtenWords(piece)}⟧`;
}

function writtenWords({ spelling, inside = [] }: Written): string { return [...(spelling === 'plain' ? [] : [spelling]), ...inside].map((word) => ` ${word}`).join(''); }

/** Does a piece stand for an item? */
export function pointsToItem(piece: TextPiece): piece is Extract<TextPiece, { address: string }> { return typeof piece === 'object' && 'address' in piece; }

/** Begins a path, the piece that it is, without an address before it? Then it begins with the folder that the site lies in. */
export function isBare(pieces: readonly TextPiece[], at: number): boolean {
  const [before, piece] = [pieces[at - 1], pieces[at]];
  return typeof piece === 'object' && piece.token === 'path' && !(typeof before === 'object' && before.token === 'site');
}

/** Reads a text in portable notation. Throws an `unreadable` problem for a token that this version does not know. */
export function readText(text: string): string | Text {
  if (!text.includes(OPEN)) return text;
  const pieces: TextPiece[] = [];
  let plain = '';
  let from = 0;
  for (let at = text.indexOf(OPEN); at >= 0; at = text.indexOf(OPEN, from)) {
    plain += text.slice(from, at);
    if (text[at + 1] === OPEN) { plain += OPEN; from = at + 2; continue; }
    const end = text.indexOf('⟧', at);
    if (end < 0) throw unknownNotation(`the text "${text.slice(at, at + 40)}"`);
    if (plain !== '') pieces.push(plain);
    plain = '';
    pieces.push(readToken(text.slice(at + 1, end)));
    from = end + 1;
  }
  plain += text.slice(from);
  if (plain !== '') pieces.push(plain);
  return pieces.every((piece) => typeof piece === 'string') ? pieces.join('') : new Text(pieces);
}

/** Tokens that were read before: the same few come again and again. */
const READ = new Map<string, TextPiece>();
const MOST_READ = 20_000;

function readToken(token: string): TextPiece {
  const known = READ.get(token);
  if (known !== undefined) return known;
  const piece = parseToken(token);
  if (READ.size >= MOST_READ) READ.clear();
  READ.set(token, piece);
  return piece;
}

function parseToken(token: string): TextPiece {
  const [word, ...rest] = token.split(' ');
  const address = rest[0] ?? '';
  if (word === 'site' || word === 'seat') return { token: 'site', ...(word === 'seat' ? { seat: true } : {}), ...readWritten(rest, token) };
  if (word === 'base64') { const how = [...BASE64_SPELLINGS, 'end' as const].find((one) => one === (rest[0] ?? 'plain')); if (how) return { token: 'base64', how }; }
  if (!address.includes(':')) throw unknownNotation(`the token "⟦${token}⟧"`);
  if (word === 'id' || word === 'name') return { token: word, address };
  if (word !== 'path') throw unknownNotation(`the token "⟦${token}⟧"`);
  const variant = rest.find((arg) => arg.startsWith('variant='))?.slice('variant='.length) ?? '';
  return { token: 'path', address, variant: decodeURIComponent(variant), ...readWritten(rest.slice(1).filter((arg) => !arg.startsWith('variant=')), token) };
}

function readWritten(words: readonly string[], token: string): Written {
  const spelling = SPELLINGS.find((one) => one === words[0]);
  const inside = words.slice(spelling === undefined ? 0 : 1).map((word) => WRAPPINGS.find((one) => one === word) ?? unknown(token));
  return { spelling: spelling ?? 'plain', ...(inside.length > 0 ? { inside } : {}) };
}

function unknown(token: string): never { throw unknownNotation(`the token "⟦${token}⟧"`); }

/** The name of a key in places and paths: a text in portable notation. */
export function keyName(key: Key): string {
  if (typeof key === 'string') return escapeText(key);
  if (key instanceof Text) return key.pieces.map(pieceText).join('');
  return key.to === undefined ? escapeText(String(key.raw)) : `⟦${key.as === 'name' ? 'name' : 'id'} ${key.to}⟧`;
}

/** The key of a map whose keys are local by now. */
export function plainKey(key: Key): string {
  return typeof key === 'string' ? key : keyName(key);
}

export function readKeyName(name: string): Key {
  const text = readText(name);
  if (typeof text === 'string') return text;
  const [piece] = text.pieces;
  const alone = text.pieces.length === 1 && piece !== undefined && typeof piece !== 'string';
  return alone && (piece.token === 'id' || piece.token === 'name') ? new Reference(piece.address, piece.token === 'id' ? 'text' : 'name') : text;
}

/** True for a name with a token in it: no plain object has such a key. */
export function isTokenName(name: string): boolean {
  return name.includes(OPEN) && name.replaceAll(OPEN + OPEN, '').includes(OPEN);
}

export function unescapeName(name: string): string {
  return name.includes(OPEN) ? name.replaceAll(OPEN + OPEN, OPEN) : name;
}

export function unknownNotation(what: string): Problem {
  return new Problem('unreadable', `${what} is not known to this version of Pochette`, { remedy: 'the file may come from a newer version: update Pochette, or export it again' });
}
