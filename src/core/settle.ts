import { pointer, type Address } from './address.ts';
import { isFirm } from './coverage.ts';
import type { Json } from './json.ts';
import type { Kind } from './kind.ts';
import { matches } from './path.ts';
import { withoutPlaces } from './translate/jsonstyle.ts';
import { notate, readNotation } from './translate/notation.ts';
import { SettledText } from './settledtext.ts';
import { written } from './translate/spelling.ts';
import { isBare, keyName, pointsToItem } from './tokens.ts';
import { Decoded, deleteChild, Entries, isPlainObject, Reference, setChild, Text, type Key, type Node } from './tree.ts';

/** What becomes of one reference on the way to a certain target: another item, or nothing. */
export type Settlement = { to: Address } | { leave: true };

/**
 * Carries decisions about references into a portable value: matched content gets the target's address; what is left out stands empty,
 * in a text as the plain path that it had. `undefined` from `decide` leaves a reference alone. `lost`: references to nothing are emptied too,
 * because their raw id means something else on another site.
 */
export function settle({ kind, value }: { kind: Kind; value: Json }, decide: (address: Address) => Settlement | undefined, pathOf: (address: Address) => string, lost = false): Json {
  const text = (node: Text): Text => {
    const settled = new SettledText();
    for (const [i, piece] of node.pieces.entries()) {
      const decided = pointsToItem(piece) ? decide(piece.address) : undefined;
      if (!decided || !pointsToItem(piece)) settled.add(piece);
      else if ('to' in decided) settled.add({ ...piece, address: decided.to });
      else if (piece.token !== 'path') settled.leaveOut();
      else { if (isBare(node.pieces, i)) settled.add({ token: 'site', spelling: 'folder' }); settled.add(written(pathOf(piece.address), piece)); }
    }
    return settled.text();
  };
  const names: (string | number)[] = [];
  /** How many references stand empty now without which the site takes no row. */
  let firm = 0;
  const reference = (node: Reference): Node => {
    const found = settleReference(node, decide, lost);
    if (!(found instanceof Reference) && isFirm(kind, pointer(names))) firm++;
    return found;
  };
  const below = (child: Node, name: string | number): Node => {
    names.push(name);
    const found = visit(child);
    names.pop();
    return found;
  };
  const list = (entries: readonly Node[]): Node[] => entries.flatMap((entry, i) => {
    const before = firm;
    const found = below(entry, i);
    if (entry instanceof Reference) return found instanceof Reference ? [found] : [];
    const isTaken = firm === before;
    // What a row that stays behind lies in may come all the same.
    firm = before;
    return isTaken ? [found] : [];
  });
  const visit = (node: Node): Node => {
    if (node instanceof Reference) return reference(node);
    if (node instanceof Text) return text(node);
    if (Array.isArray(node)) return list(node);
    if (node instanceof Decoded) { const body = visit(node.body); return new Decoded(node.codec, body, styleOf(node, body)); }
    if (node instanceof Entries) return node.with(node.pairs.flatMap(([key, child]) => settledPair(key instanceof Text ? text(key) : key, below(child, keyName(key)), decide, lost)));
    return isPlainObject(node) ? Object.fromEntries(Object.entries(node).map(([key, child]) => [key, below(child, key)])) : node;
  };
  const settled = visit(readNotation(value));
  dropLoneLists(kind, settled);
  return notate(settled);
}

/** How a text is written of which something may have been left out. */
function styleOf({ codec, body, how }: Decoded, settled: Node): string {
  const rest = codec === 'json' ? withoutPlaces(how) : how;
  return rest === how || countIn(body) === countIn(settled) ? how : rest;
}

/** How many values there are in one, itself and names of members among them. */
function countIn(node: Node): number {
  const below = Array.isArray(node) ? node : node instanceof Entries ? node.pairs.flat() : node instanceof Decoded ? [node.body] : isPlainObject(node) ? Object.entries(node).flat() : [];
  return below.reduce<number>((count, one) => count + countIn(one), 1);
}

function settleReference(node: Reference, decide: (address: Address) => Settlement | undefined, lost: boolean): Node {
  const settled = node.to !== undefined ? decide(node.to) : lost ? { leave: true } as const : undefined;
  if (!settled) return node;
  return 'to' in settled ? new Reference(settled.to, node.as, node.raw) : node.as === 'number' ? 0 : '';
}

function settledPair(key: Key, value: Node, decide: (address: Address) => Settlement | undefined, lost: boolean): [Key, Node][] {
  if (!(key instanceof Reference)) return [[key, value]];
  const settled = settleReference(key, decide, lost);
  return settled instanceof Reference ? [[settled, value]] : [];
}

/** Where of several entries under one name one is left, or none. */
function dropLoneLists(kind: Kind, root: Node): void {
  for (const { node, parent, way } of kind.several.flatMap((path) => matches(root, path))) {
    const key = way.at(-1);
    if (!Array.isArray(node) || node.length > 1 || key === undefined) continue;
    if (node.length === 1) setChild(parent, key, node[0]); else deleteChild(parent, key);
  }
}

/** The same value with other media files, by digest. */
export function replaceFiles(kind: Kind, value: Json, others: ReadonlyMap<string, string>): Json {
  const root = readNotation(value);
  for (const { node, parent, way } of kind.files.flatMap((path) => matches(root, path))) {
    const other = typeof node === 'string' ? others.get(node) : undefined;
    const key = way.at(-1);
    if (other !== undefined && key !== undefined) setChild(parent, key, other);
  }
  return notate(root);
}
