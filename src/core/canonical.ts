import { createHash, hash } from 'node:crypto';
import canonicalize from 'canonicalize';
import type { Json } from './json.ts';

/** Canonical JSON of RFC 8785, as text. */
export function canonical(value: Json): string {
  return (canonicalize as unknown as (input: unknown) => string)(value);
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
