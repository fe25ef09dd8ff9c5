import { Problem } from './problem.ts';

/** The text that names an item everywhere: `kind:name`, or `owner/kind:name` where two owners share a kind's name. */
export type Address = string;

const PLAIN = /[A-Za-z0-9._~@/-]/;
const encoder = new TextEncoder();
const decoder = new TextDecoder('utf-8', { fatal: true });

/**
 * The one quoting rule: every character of a name other than letters, digits and `. _ ~ - @ /` is written as its UTF-8 bytes,
 * each as `%` and two hexadecimal digits (the percent-encoding of RFC 3986, section 2.1).
 */
export function quoteName(name: string): string {
  if (/^[A-Za-z0-9._~@/-]*$/.test(name)) return name;
  return Array.from(name.toWellFormed(), (char) => (char.length === 1 && PLAIN.test(char) ? char : percent(char))).join('');
}

function percent(char: string): string {
  return Array.from(encoder.encode(char), (byte) => '%' + byte.toString(16).toUpperCase().padStart(2, '0')).join('');
}

export function unquoteName(quoted: string): string {
  if (!quoted.includes('%')) return quoted;
  const bytes: number[] = [];
  for (let i = 0; i < quoted.length; i++) {
    if (quoted[i] !== '%') { bytes.push(...encoder.encode(quoted[i])); continue; }
    const hex = quoted.slice(i + 1, i + 3);
    if (!/^[0-9A-Fa-f]{2}$/.test(hex)) throw badAddress(quoted);
    bytes.push(parseInt(hex, 16));
    i += 2;
  }
  try { return decoder.decode(new Uint8Array(bytes)); } catch { throw badAddress(quoted); }
}

function badAddress(text: string): Problem {
  return new Problem('usage', `"${text}" is not an address`, { remedy: 'write it as kind:name, with %XX for characters other than letters, digits and . _ ~ - @ /' });
}

/** `kind` is the short name, or `owner/kind` for a kind that is written with its owner. */
export function makeAddress(kind: string, name: string): Address {
  return `${kind}:${quoteName(name)}`;
}

export function parseAddress(address: Address): { kind: string; name: string } {
  const colon = address.indexOf(':');
  if (colon < 1 || colon === address.length - 1) throw badAddress(address);
  return { kind: address.slice(0, colon), name: unquoteName(address.slice(colon + 1)) };
}

/** The kind that an address begins with: `template:front` → `template`. */
export function kindWord(address: Address): string { return address.slice(0, address.indexOf(':')); }

/** `owner/kind` → `kind`. */
export function shortKind(kindId: string): string {
  return kindId.slice(kindId.lastIndexOf('/') + 1);
}

/** A JSON pointer (RFC 6901) over the keyed view; the empty text is the whole item. */
export function pointer(segments: readonly (string | number)[]): string {
  let text = '';
  for (const segment of segments) text += `/${typeof segment === 'string' && /[~/]/.test(segment) ? segment.replaceAll('~', '~0').replaceAll('/', '~1') : segment}`;
  return text;
}

/** The names along a JSON pointer (RFC 6901). */
export function pointerNames(at: string): string[] {
  return at.split('/').slice(1).map((name) => name.replaceAll('~1', '/').replaceAll('~0', '~'));
}

/** `kind:name#/at/a/place` or `kind:name#part` → the address, quoted where it was not, and what stands behind the #. */
export function parsePlace(text: string): { address: Address; at: string } {
  const hash = text.indexOf('#');
  const [address, at] = hash < 0 ? [text, ''] : [text.slice(0, hash), text.slice(hash + 1)];
  const { kind, name } = parseAddress(address);
  return { address: makeAddress(kind, name), at };
}

/** `field-set:crossing` and `/fields/capacity/label` → `field-set:crossing#/fields/capacity/label`. */
export function placeOf(address: Address, at: string): string {
  return at === '' ? address : `${address}#${at}`;
}
