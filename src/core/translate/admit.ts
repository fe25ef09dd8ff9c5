import { MAX_DEPTH, setOwn } from '../json.ts';
import { pointer } from '../address.ts';
import { Exact, type Node } from '../tree.ts';

/** A value that could not travel, with the place and the reason. */
export interface LeftOut { readonly at: string; readonly why: 'too deep' | 'not a value' | 'unsafe key' | 'damaged' }

/**
 * Takes a value as a connector gives it. What I-JSON (RFC 7493) would lose becomes an exact value;
 * what is no value at all, or is nested too deep, is named and left out. A key that could reach a prototype is kept and named: it is safe here,
 * and whoever writes files or sites decides. `way` is where the value stands; it is changed on the way down and back.
 */
export function admit(value: unknown, leftOut: LeftOut[], way: (string | number)[] = []): Node {
  const refuse = (why: LeftOut['why']): undefined => { leftOut.push({ at: pointer(way), why }); return undefined; };
  if (value === null || typeof value === 'boolean') return value;
  if (typeof value === 'string') return value.isWellFormed() ? value : new Exact('utf16', utf16Base64(value));
  if (typeof value === 'number') return Number.isFinite(value) && !Object.is(value, -0) ? value : new Exact('number', Object.is(value, -0) ? '-0' : String(value));
  if (typeof value === 'bigint') return new Exact('number', `${value}n`);
  if (value instanceof Uint8Array) return new Exact('bytes', Buffer.from(value).toString('base64'));
  if (typeof value !== 'object') return refuse('not a value');
  if (way.length >= MAX_DEPTH) return refuse('too deep');
  if (Array.isArray(value)) {
    return value.map((entry, index) => {
      way.push(index);
      const node = admit(entry, leftOut, way) ?? null;
      way.pop();
      return node;
    });
  }
  return isRecord(value) ? admitMembers(value, leftOut, way) : refuse('not a value');
}

function isRecord(value: object): value is Record<string, unknown> {
  const prototype: unknown = Object.getPrototypeOf(value);
  return prototype === Object.prototype || prototype === null;
}

function admitMembers(value: Record<string, unknown>, leftOut: LeftOut[], way: (string | number)[]): Node {
  const members: { [key: string]: Node } = {};
  for (const [key, entry] of Object.entries(value)) {
    way.push(key);
    const node = key.isWellFormed() ? admit(entry, leftOut, way) : undefined;
    if (!key.isWellFormed()) leftOut.push({ at: pointer(way).toWellFormed(), why: 'not a value' });
    if (key === '__proto__') leftOut.push({ at: pointer(way), why: 'unsafe key' });
    if (node !== undefined) setOwn(members, key, node);
    way.pop();
  }
  return members;
}

/** The local value of an exact one. */
export function release(exact: Exact): unknown {
  if (exact.form === 'bytes') return new Uint8Array(Buffer.from(exact.text, 'base64'));
  if (exact.form === 'utf16') return Buffer.from(exact.text, 'base64').toString('utf16le');
  return exact.text.endsWith('n') ? BigInt(exact.text.slice(0, -1)) : Number(exact.text);
}

function utf16Base64(text: string): string {
  return Buffer.from(text, 'utf16le').toString('base64');
}
