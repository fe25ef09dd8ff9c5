import { isUtf8 } from 'node:buffer';

/*
 * Text in the wrong character set is common in databases, and none of it may be lost. Bytes that are not UTF-8 are carried in a text
 * as lone surrogates U+DC80 to U+DCFF, one for each byte (the "surrogateescape" of PEP 383): every sequence of bytes has exactly one such text.
 */
const strict = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true });

export function textOfBytes(bytes: Uint8Array): string {
  // Databases give millions of short texts: a decoder takes several times as long for each.
  if (!isUtf8(bytes)) return escaped(bytes);
  return (Buffer.isBuffer(bytes) ? bytes : Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength)).toString('utf8');
}

export function bytesOfText(text: string): Buffer {
  if (text.isWellFormed()) return Buffer.from(text, 'utf8');
  const parts = text.split(/([\udc80-\udcff]+)(?![\udc80-\udcff])/u);
  return Buffer.concat(parts.map((part, i) => (i % 2 === 0 ? Buffer.from(part, 'utf8') : Buffer.from(Array.from(part, (char) => char.charCodeAt(0) & 0xff)))));
}

function escaped(bytes: Uint8Array): string {
  let text = '';
  for (let at = 0; at < bytes.length;) {
    const length = sequenceLength(bytes[at] as number);
    const piece = bytes.subarray(at, at + length);
    let read: string | undefined;
    try { read = piece.length === length ? strict.decode(piece) : undefined; } catch { read = undefined; }
    text += read ?? String.fromCharCode(0xdc00 + (bytes[at] as number));
    at += read === undefined ? 1 : length;
  }
  return text;
}

function sequenceLength(first: number): number {
  return first < 0x80 ? 1 : first >= 0xf0 ? 4 : first >= 0xe0 ? 3 : 2;
}

/** The same text, held on its own: a part of a longer one keeps all of that in memory. */
export function ownText(part: string): string { return Buffer.from(part, 'utf8').toString('utf8'); }
