import { bytesOfText } from '../bytes.ts';
import { BASE64_SPELLINGS, type Base64Spelling, type TextPiece } from '../tokens.ts';

/** A stretch of a text in base64, with the words before it, the nearest first. Offsets are those in the text. */
export interface Packed { readonly start: number; readonly end: number; readonly inner: string; readonly how: Base64Spelling; readonly before: readonly string[] }

/** As data, addresses and markup begin in base64, also percent-encoded before that. */
const BEGINNING = 'eyJ|W3s|Wy[IJ]|WzE|aHR0c|P[CGH][A-Za-z]|JT[NVd]';
const PACKED = new RegExp(`(?<=^|[^\\w+/-]|%[0-9A-Fa-f]{2})(?:${BEGINNING})(?:[\\w+/-]|%2[BF]){10,}(?:={1,2}|(?:%3D){1,2})?(?![\\w+/=-])`, 'g');
const HIDING = new RegExp(BEGINNING);
/** So far back what stands before it says what it is. */
const NEAR = 80;

/** Might there be any in a text? Quick, because it is asked for many. */
export function hidesPacked(text: string): boolean { return text.length >= 12 && HIDING.test(text); }

/** What lies in base64 in a text that is readable, and that packed again would be the same. */
export function packedIn(text: string): Packed[] {
  return [...text.matchAll(PACKED)].flatMap(({ 0: written, index: start }) => {
    const found = unpack(written, /%[0-9A-Fa-f]{2}$/.test(text.slice(Math.max(0, start - 3), start)));
    return found ? [{ ...found, start, end: start + written.length, before: wordsOf(text.slice(Math.max(0, start - NEAR), start)) }] : [];
  });
}

/** `encoded`: it stands in what is percent-encoded, where padding would be so too. */
function unpack(written: string, encoded: boolean): Pick<Packed, 'inner' | 'how'> | undefined {
  const bytes = Buffer.from(written.includes('%') ? decodeURIComponent(written) : written, 'base64');
  const inner = bytes.toString('utf8');
  if (inner.includes('\ufffd')) return undefined;
  const how = [...(encoded ? ['encoded' as const] : []), ...BASE64_SPELLINGS].find((one) => pack(inner, one) === written);
  return how && { inner, how };
}

function pack(text: string, how: Base64Spelling): string {
  const packed = bytesOfText(text).toString(how === 'url' ? 'base64url' : 'base64');
  return how === 'bare' ? packed.replace(/=+$/, '') : how === 'encoded' ? encodeURIComponent(packed) : packed;
}

function wordsOf(text: string): string[] { return (text.replace(/%[0-9A-Fa-f]{2}/g, ' ').match(/[A-Za-z][\w-]*/g) ?? []).reverse(); }

/** Puts the written pieces of a text together. What lay in base64 is packed again, also where its end is missing. */
export function joinPieces(pieces: readonly TextPiece[], written: readonly string[]): string {
  let marked = false;
  for (const piece of pieces) marked ||= isMark(piece);
  if (!marked) return written.join('');
  const open: { how: Base64Spelling; text: string }[] = [{ how: 'plain', text: '' }];
  const add = (text: string): void => { const last = open.at(-1); if (last) last.text += text; };
  const close = (): void => { const last = open.pop(); if (last) add(pack(last.text, last.how)); };
  pieces.forEach((piece, i) => {
    if (!isMark(piece)) add(written[i] ?? '');
    else if (piece.how !== 'end') open.push({ how: piece.how, text: '' });
    else if (open.length > 1) close();
  });
  while (open.length > 1) close();
  return open[0]?.text ?? '';
}

function isMark(piece: TextPiece): piece is Extract<TextPiece, { token: 'base64' }> { return typeof piece === 'object' && piece.token === 'base64'; }
