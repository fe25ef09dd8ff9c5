import { createHash, hash } from 'node:crypto';
import canonicalize from 'canonicalize';
import type { Json } from './json.ts';

/** Canonical JSON of RFC 8785, as text. */
export function canonical(value: Json): string {
  return (canonicalize as unknown as (input: unknown) => string)(value);
}

/** Is this text, from which the value was parsed, its canonical JSON? Most are, and telling so takes a fraction of writing it anew. */
export function isCanonical(text: string, value: Json): boolean {
  return (JSON.stringify(value) === text && keysInOrder(value)) || canonical(value) === text;
}

function keysInOrder(value: Json): boolean {
  if (typeof value !== 'object' || value === null) return true;
  if (Array.isArray(value)) return value.every(keysInOrder);
  let last = '';
  for (const key of Object.keys(value)) {
    if (key < last || !keysInOrder(value[key] as Json)) return false;
    last = key;
  }
  return true;
}

/** SHA-256 in hexadecimal. */
export function sha256(bytes: string | Uint8Array): string {
  return hash('sha256', bytes, 'hex');
}

/** The same of a long text that comes in pieces. */
export function sha256Of(pieces: Iterable<string>): string {
  const whole = createHash('sha256');
  let some = '';
  for (const piece of pieces) { some += piece; if (some.length > PIECE) { whole.update(some); some = ''; } }
  return whole.update(some).digest('hex');
}
const PIECE = 65_536;
