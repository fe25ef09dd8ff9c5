import { hash } from 'node:crypto';
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
