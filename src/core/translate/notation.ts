import { isObject, MAX_DEPTH, setOwn, type Json, type JsonObject } from '../json.ts';
import { Problem } from '../problem.ts';
import { Decoded, Entries, Exact, Reference, Text, type Node, type Spelling, type TextPiece } from '../tree.ts';

/*
 * How a tree is written as I-JSON. Two signs, one escape rule: the sign doubled stands for itself.
 *   `@` at the start of a key makes the object a tagged value:  {"@ref": "template:x"}   an ordinary key "@ref" is written "@@ref"
 *   `⟦` in a text or a key starts a token that ends with `⟧`:   "⟦site⟧/fares/"           an ordinary "⟦" is written "⟦⟦"
 */
const OPEN = '⟦';
const SPELLINGS: readonly string[] = ['plain', 'swapped', 'relative', 'escaped', 'encoded'] satisfies Spelling[];

export function escapeText(text: string): string {
  return text.includes(OPEN) ? text.replaceAll(OPEN, OPEN + OPEN) : text;
}

function escapeKey(key: string): string {
  return escapeText(key.startsWith('@') ? '@' + key : key);
}

/** Writes a tree in portable notation. */
export function notate(node: Node): Json {
  if (node === null || typeof node === 'boolean' || typeof node === 'number') return node;
  if (typeof node === 'string') return escapeText(node);
  if (Array.isArray(node)) return node.map(notate);
  if (node instanceof Text) return node.pieces.map(pieceText).join('');
  if (node instanceof Reference) return referenceTag(node);
  if (node instanceof Exact) return { [`@${node.form}`]: node.text };
  if (node instanceof Decoded) return { [`@${node.codec}`]: notate(node.body), ...(node.how === '' ? {} : { how: node.how }) };
  if (node instanceof Entries) return notateEntries(node);
  const written: JsonObject = {};
  for (const [key, entry] of Object.entries(node as { [key: string]: Node })) if (entry !== undefined) setOwn(written, escapeKey(key), notate(entry));
  return written;
}

function notateEntries(entries: Entries): Json {
  const pairs = entries.pairs.map(([key, value]): [string, Json] => [typeof key === 'string' ? escapeKey(key) : keyToken(key), notate(value)]);
  if (entries.ordered) return { '@ordered': pairs };
  const written: JsonObject = {};
  for (const [key, value] of pairs) setOwn(written, key, value);
  return written;
}

function keyToken(reference: Reference): string {
  return reference.to === undefined ? escapeKey(String(reference.raw)) : `⟦${reference.as === 'name' ? 'name' : 'id'} ${reference.to}⟧`;
}

function referenceTag(reference: Reference): JsonObject {
  const as: JsonObject = reference.as === 'number' ? {} : { as: reference.as };
  return reference.to === undefined ? { '@lost': reference.raw, ...as } : { '@ref': reference.to, ...as };
}

function pieceText(piece: TextPiece): string {
  if (typeof piece === 'string') return escapeText(piece);
  if (piece.token === 'site') return piece.spelling === 'plain' ? '⟦site⟧' : `⟦site ${piece.spelling}⟧`;
  if (piece.token !== 'path') return `⟦${piece.token} ${piece.address}⟧`;
  const spelling = piece.spelling === 'plain' ? '' : ` ${piece.spelling}`;
  return `⟦path ${piece.address}${piece.variant === '' ? '' : ` variant=${encodeURIComponent(piece.variant)}`}${spelling}⟧`;
}

/** Reads portable notation back. Throws an `unreadable` problem for a tag or token that this version does not know. */
export function readNotation(json: Json, depth = 0): Node {
  if (depth > MAX_DEPTH) throw new Problem('unreadable', `a value is nested deeper than ${MAX_DEPTH} levels`);
  if (typeof json === 'string') return readText(json);
  if (Array.isArray(json)) return json.map((entry) => readNotation(entry, depth + 1));
  if (!isObject(json)) return json;
  const tag = Object.keys(json).find((key) => key.startsWith('@') && !key.startsWith('@@'));
  return tag === undefined ? readMembers(json as JsonObject, depth) : readTag(tag, json as JsonObject, depth);
}

function readMembers(json: JsonObject, depth: number): Node {
  const pairs = Object.entries(json).map(([key, value]): [string | Reference, Node] => [readKey(key), readNotation(value, depth + 1)]);
  if (pairs.some(([key]) => typeof key !== 'string')) return new Entries(pairs, false);
  const read: { [key: string]: Node } = {};
  for (const [key, value] of pairs) setOwn(read, key as string, value);
  return read;
}

function readKey(key: string): string | Reference {
  const text = readText(key.startsWith('@@') ? key.slice(1) : key);
  if (typeof text === 'string') return text;
  const [piece, ...more] = text.pieces;
  if (piece === undefined || more.length > 0 || typeof piece === 'string' || (piece.token !== 'id' && piece.token !== 'name')) throw unknown(`the key "${key}"`);
  return new Reference(piece.address, piece.token === 'id' ? 'text' : 'name');
}

function readTag(tag: string, json: JsonObject, depth: number): Node {
  const body = json[tag] as Json;
  const how = json['how'];
  const as = json['as'] ?? 'number';
  const allowed: readonly string[] = { '@json': ['how'], '@list': ['how'], '@ref': ['as'], '@lost': ['as'] }[tag] ?? [];
  const extra = Object.keys(json).find((key) => key !== tag && !allowed.includes(key));
  if (extra !== undefined) throw unknown(`"${extra}" beside "${tag}"`);
  if ((tag === '@json' || tag === '@list') && (how === undefined || typeof how === 'string')) return new Decoded(tag === '@json' ? 'json' : 'list', readNotation(body, depth + 1), how ?? '');
  if (as === 'number' || as === 'text' || as === 'name') {
    if (tag === '@ref' && typeof body === 'string') return new Reference(body, as);
    if (tag === '@lost' && (typeof body === 'string' || typeof body === 'number')) return new Reference(undefined, as, body);
  }
  if ((tag === '@number' || tag === '@bytes' || tag === '@utf16') && typeof body === 'string') return new Exact(tag.slice(1) as Exact['form'], body);
  if (tag === '@ordered' && Array.isArray(body)) return new Entries(body.map((pair) => readPair(pair, depth)), true);
  throw unknown(`the tagged value "${tag}"`);
}

function readPair(pair: Json, depth: number): [string | Reference, Node] {
  if (!Array.isArray(pair) || pair.length !== 2 || typeof pair[0] !== 'string') throw unknown('an entry of "@ordered"');
  return [readKey(pair[0]), readNotation(pair[1] as Json, depth + 1)];
}

function readText(text: string): string | Text {
  if (!text.includes(OPEN)) return text;
  const pieces: TextPiece[] = [];
  let plain = '';
  for (let i = 0; i < text.length; i++) {
    if (text[i] !== OPEN) { plain += text[i]; continue; }
    if (text[i + 1] === OPEN) { plain += OPEN; i++; continue; }
    const end = text.indexOf('⟧', i);
    if (end < 0) throw unknown(`the text "${text.slice(i, i + 40)}"`);
    if (plain !== '') pieces.push(plain);
    plain = '';
    pieces.push(readToken(text.slice(i + 1, end)));
    i = end;
  }
  if (plain !== '') pieces.push(plain);
  return pieces.every((piece) => typeof piece === 'string') ? pieces.join('') : new Text(pieces);
}

function readToken(token: string): TextPiece {
  const [word, ...rest] = token.split(' ');
  const spelling = (rest.find((arg) => SPELLINGS.includes(arg)) ?? 'plain') as Spelling;
  const address = rest[0] ?? '';
  if (word === 'site') return { token: 'site', spelling };
  if (!address.includes(':')) throw unknown(`the token "⟦${token}⟧"`);
  if (word === 'id' || word === 'name') return { token: word, address };
  if (word !== 'path') throw unknown(`the token "⟦${token}⟧"`);
  const variant = rest.find((arg) => arg.startsWith('variant='))?.slice('variant='.length) ?? '';
  return { token: 'path', address, variant: decodeURIComponent(variant), spelling };
}

function unknown(what: string): Problem {
  return new Problem('unreadable', `${what} is not known to this version of Pochette`, { remedy: 'the file may come from a newer version: update Pochette, or export it again' });
}

/** Checks a tree for what a reference points to, wherever it stands: value, key or text. */
export function pointsTo(node: Node): { address: string; strong: boolean }[] {
  if (node instanceof Reference) return node.to === undefined ? [] : [{ address: node.to, strong: true }];
  if (node instanceof Text) return node.pieces.flatMap((piece) => (typeof piece === 'string' || piece.token === 'site' ? [] : [{ address: piece.address, strong: piece.token !== 'path' }]));
  if (node instanceof Entries) return node.pairs.flatMap(([key]) => (typeof key === 'string' ? [] : pointsTo(key)));
  return [];
}

