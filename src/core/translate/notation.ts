import { canonical } from '../canonical.ts';
import { byCodeUnit, isObject, MAX_DEPTH, setOwn, type Json, type JsonObject } from '../json.ts';
import { Problem } from '../problem.ts';
import { escapeText, keyName, pieceText, pointsToItem, readKeyName, readText, Reference, Text, unknownNotation, type Key } from '../tokens.ts';
import { Decoded, Entries, Exact, isPlainObject, type ExactForm, type Node, type Packing } from '../tree.ts';

const PACKINGS: readonly Packing[] = ['json', 'list', 'php', 'base64', 'digits', 'boolean'];
const EXACT: readonly ExactForm[] = ['number', 'bytes', 'utf16', 'float', 'enum', 'same'];

/*
 * How a tree is written as I-JSON. Two signs, one escape rule: the sign doubled stands for itself.
 *   `@` at the start of a key makes the object a tagged value:  {"@ref": "template:x"}   an ordinary key "@ref" is written "@@ref"
 *   `⟦` in a text or a key starts a token that ends with `⟧`:   "⟦site⟧/fares/"           an ordinary "⟦" is written "⟦⟦"
 */
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
  for (const [key, entry] of Object.entries(node as { [key: string]: Node })) if (entry !== undefined) setOwn(written, notateKey(key), notate(entry));
  return written;
}

/** A key is written like a text, with `@` at its start doubled. */
function notateKey(key: Key): string {
  const name = keyName(key);
  return name.startsWith('@') ? '@' + name : name;
}

function readKey(key: string): Key {
  return readKeyName(key[0] === '@' && key[1] === '@' ? key.slice(1) : key);
}

/** The members of a map as it is written: those of an ordered one are a list of pairs. Of a list its entries. */
export function membersIn(value: JsonObject | Json[]): [string, Json][] { return !Array.isArray(value) && Array.isArray(value['@ordered']) ? value['@ordered'] as [string, Json][] : Object.entries(value); }

function notateEntries(entries: Entries): Json {
  const pairs = entries.pairs.map(([key, value]): [string, Json] => [notateKey(key), notate(value)]);
  if (entries.ordered) return { '@ordered': pairs, ...(entries.className === undefined ? {} : { class: entries.className }) };
  const written: JsonObject = {};
  for (const [key, value] of pairs) setOwn(written, key, value);
  return written;
}

function referenceTag(reference: Reference): JsonObject {
  const as: JsonObject = reference.as === 'number' ? {} : { as: reference.as };
  return reference.to === undefined ? { '@lost': reference.raw, ...as } : { '@ref': reference.to, ...as };
}

/**
 * The canonical JSON (RFC 8785) of a tree in portable notation, without the detour over an object: the same text as `canonical(notate(node))`.
 */
export function canonicalNotation(node: Node): string {
  if (typeof node === 'string') return JSON.stringify(escapeText(node));
  if (node === null || typeof node === 'number' || typeof node === 'boolean') return String(node);
  if (node instanceof Text) return JSON.stringify(node.pieces.map(pieceText).join(''));
  if (Array.isArray(node)) return `[${node.map(canonicalNotation).join(',')}]`;
  if (node instanceof Decoded) return `{"@${node.codec}":${canonicalNotation(node.body)}${node.how === '' ? '' : `,"how":${JSON.stringify(node.how)}`}}`;
  if (node instanceof Entries && !node.ordered) return members(node.pairs.map(([key, value]) => [notateKey(key), value]));
  if (isPlainObject(node)) return members(Object.keys(node).map((key) => [notateKey(key), node[key]]));
  return canonical(notate(node));
}

function members(pairs: [string, Node][]): string {
  pairs.sort(([a], [b]) => byCodeUnit(a, b));
  let text = '{';
  for (const [key, value] of pairs) if (value !== undefined) text += `${text.length > 1 ? ',' : ''}${JSON.stringify(key)}:${canonicalNotation(value)}`;
  return text + '}';
}

/** Reads portable notation back. Throws an `unreadable` problem for a tag or token that this version does not know. */
export function readNotation(json: Json, depth = 0): Node {
  if (depth > MAX_DEPTH) throw new Problem('unreadable', `a value is nested deeper than ${MAX_DEPTH} levels`);
  if (typeof json === 'string') return readText(json);
  if (Array.isArray(json)) return json.map((entry) => readNotation(entry, depth + 1));
  if (!isObject(json)) return json;
  const names = Object.keys(json);
  const tag = names.find((name) => name[0] === '@' && name[1] !== '@');
  return tag === undefined ? readMembers(json, names, depth) : readTag(tag, json, depth);
}

function readMembers(json: JsonObject, names: readonly string[], depth: number): Node {
  const keys = names.map(readKey);
  if (!keys.every((key) => typeof key === 'string')) return new Entries(keys.map((key, i) => [key, readNotation(json[names[i] as string] as Json, depth + 1)]), false);
  const read: { [key: string]: Node } = {};
  keys.forEach((key, i) => { setOwn(read, key, readNotation(json[names[i] as string] as Json, depth + 1)); });
  return read;
}

function readTag(tag: string, json: JsonObject, depth: number): Node {
  const body = json[tag] as Json;
  const how = json['how'];
  const as = json['as'] ?? 'number';
  const packing = PACKINGS.find((one) => tag === `@${one}`);
  const allowed: readonly string[] = packing ? ['how'] : { '@ref': ['as'], '@lost': ['as'], '@ordered': ['class'] }[tag] ?? [];
  const extra = Object.keys(json).find((key) => key !== tag && !allowed.includes(key));
  if (extra !== undefined) throw unknownNotation(`"${extra}" beside "${tag}"`);
  if (packing && (how === undefined || typeof how === 'string')) return new Decoded(packing, readNotation(body, depth + 1), how ?? '');
  const reference = tag === '@ref' || tag === '@lost' ? readReference(tag, body, as) : undefined;
  if (reference) return reference;
  const form = EXACT.find((one) => tag === `@${one}`);
  if (form && typeof body === 'string') return new Exact(form, body);
  const className = json['class'];
  if (tag === '@ordered' && Array.isArray(body) && (className === undefined || typeof className === 'string')) return new Entries(body.map((pair) => readPair(pair, depth)), true, className);
  throw unknownNotation(`the tagged value "${tag}"`);
}

function readReference(tag: '@ref' | '@lost', body: Json, as: Json): Reference | undefined {
  if (as !== 'number' && as !== 'text' && as !== 'name') return undefined;
  if (tag === '@ref') return typeof body === 'string' ? new Reference(body, as) : undefined;
  return typeof body === 'string' || typeof body === 'number' ? new Reference(undefined, as, body) : undefined;
}

function readPair(pair: Json, depth: number): [Key, Node] {
  if (!Array.isArray(pair) || pair.length !== 2 || typeof pair[0] !== 'string') throw unknownNotation('an entry of "@ordered"');
  return [readKey(pair[0]), readNotation(pair[1] as Json, depth + 1)];
}

/** What a special node points to itself, wherever it stands: as a value, in a key or in a text. */
export function eachTarget(node: Node, see: (address: string, strong: boolean) => void): void {
  if (node instanceof Reference) { if (node.to !== undefined) see(node.to, true); } else if (node instanceof Text) {
    for (const piece of node.pieces) if (pointsToItem(piece)) see(piece.address, piece.token !== 'path');
  } else if (node instanceof Entries) for (const [key] of node.pairs) if (typeof key !== 'string') eachTarget(key, see);
}
