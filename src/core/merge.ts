import { applyRaw, rawChanges, sameLeaf, type RawChange } from './compare.ts';
import { pointer } from './address.ts';
import { sameList, type Json } from './json.ts';
import type { Kind } from './kind.ts';
import { Problem } from './problem.ts';
import { mergeOrder, mergeTexts } from './mergetext.ts';
import { notate, readNotation } from './translate/notation.ts';
import { Reference, Text, type Node } from './tree.ts';

/** Who changed something since it was last carried; neither: both sides are as it was left, which need not be equal. */
export type ChangedBy = 'source' | 'target' | 'both' | 'neither';
export type Side = 'source' | 'target';

/** The value as each side had it when it was last carried. */
export interface Base { readonly source: Json; readonly target: Json }

/** What two sides made of one value since it was last carried. */
export interface ThreeWay {
  /** Places that both sides changed, each to something else, and that cannot be put together. */
  readonly clashes: readonly string[];
  /** Who changed a place: the side that is no longer as in the base. */
  by(at: string): ChangedBy | undefined;
  /** Both changes together, on the target's value. Undefined as long as a clash has no winner. Throws a `usage` problem for winners that exclude each other. */
  merged(winner?: (at: string) => Side | undefined): Json | undefined;
}

interface Marked { readonly at: string; readonly change: RawChange }
/** A change of the source: carried out as it is, put together with the target's, or in conflict with changes of the target. */
interface Outcome { readonly ours: Marked; readonly change: RawChange | undefined; readonly against: readonly Marked[] }

/**
 * Compares both sides with the base, place by place. Where both changed one place, texts are put together by line and by tag, orders of lists by
 * what was moved; everything else that is not the same on both is a clash, also a change inside what the other side replaced or removed. That
 * what a place of the target means has gone is no change of it.
 */
export function threeWay(kind: Kind, base: Base, source: Json, given: Json): ThreeWay {
  const before = readNotation(base.source);
  const ours = changesSince(kind, before, source);
  const changed = changesSince(kind, base.target === base.source ? before : readNotation(base.target), given);
  const bereft = changed.filter(isBereft);
  const target = bereft.length === 0 ? given : without(kind, given, bereft, base.target);
  const theirs = changed.filter((one) => !bereft.includes(one));
  const near = overlapping(theirs);
  const outcomes = ours.map((one) => outcomeOf(one, near(one)));
  const clashes = [...new Set(outcomes.filter((one) => one.against.length > 0).map((one) => one.ours.at))];
  return {
    clashes,
    by: whose(ours, theirs),
    merged: (winner = () => undefined) => {
      const open = outcomes.filter((one) => one.against.length > 0);
      if (open.some((one) => winner(one.ours.at) === undefined)) return undefined;
      refuseExcluding(open, winner);
      const won = open.filter((one) => winner(one.ours.at) === 'source');
      const value = won.length === 0 ? target : without(kind, target, won.flatMap((one) => one.against), base.target);
      return applyRaw(kind, value, [...outcomes.flatMap((one) => one.change ?? []), ...won.map((one) => one.ours.change)]);
    },
  };
}

function changesSince(kind: Kind, base: Node, now: Json): Marked[] {
  return rawChanges(kind, readNotation(now), base).map((change) => ({ at: pointer(change.names), change }));
}

/** Does a place have the id that it had, which means nothing any more? */
function isBereft({ change }: Marked): boolean { return change.change === 'differs' && change.source instanceof Reference && change.source.to === undefined && change.target instanceof Reference && change.target.to !== undefined; }

function outcomeOf(ours: Marked, theirs: readonly Marked[]): Outcome {
  const against = theirs.filter((other) => !goTogether(ours.change, other.change));
  if (theirs.some((other) => sameChange(ours, other))) return { ours, change: undefined, against: [] };
  if (against.length === 0) return { ours, change: ours.change, against };
  const change = against.length === 1 && against[0]?.at === ours.at ? combined(ours.change, against[0].change) : undefined;
  return change ? { ours, change, against: [] } : { ours, change: undefined, against };
}

/** The same place in both: can what both did to it be put together? */
function combined(ours: RawChange, theirs: RawChange): RawChange | undefined {
  if (ours.change === 'order' && theirs.change === 'order') {
    const order = mergeOrder(ours.target, ours.source, theirs.source);
    return order && { ...ours, source: order };
  }
  if (ours.change !== 'differs' || theirs.change !== 'differs') return undefined;
  const [base, other, source, target] = [ours.target, theirs.target, ours.source, theirs.source].map(textOf);
  if (base === undefined || source === undefined || target === undefined || base !== other) return undefined;
  const merged = mergeTexts(base, source, target);
  return merged === undefined ? undefined : { ...ours, source: readNotation(merged) };
}

function textOf(node: Node): string | undefined {
  if (typeof node !== 'string' && !(node instanceof Text)) return undefined;
  const written = notate(node);
  return typeof written === 'string' ? written : undefined;
}

/** One change of the target cannot be taken back for one place and be kept for another one. */
function refuseExcluding(open: readonly Outcome[], winner: (at: string) => Side | undefined): void {
  const lost = new Map(open.filter((one) => winner(one.ours.at) === 'source').flatMap((one) => one.against.map((theirs) => [theirs.at, one.ours.at])));
  for (const one of open) {
    const theirs = winner(one.ours.at) === 'target' ? one.against.find((other) => lost.has(other.at)) : undefined;
    if (!theirs) continue;
    throw new Problem('usage', `the answers to ${one.ours.at} and ${lost.get(theirs.at) ?? ''} exclude each other: the target changed ${theirs.at}, around both`, { where: one.ours.at, remedy: 'answer both the same way' });
  }
}

/** Takes changes of the target back, so that the source's can be carried out instead. */
function without(kind: Kind, target: Json, theirs: readonly Marked[], base: Json): Json {
  const back = new Set(theirs.map((one) => one.at));
  return applyRaw(kind, target, rawChanges(kind, readNotation(base), readNotation(target)).filter((change) => back.has(pointer(change.names))));
}

/** Finds the changes at a place, around it and inside it. */
function overlapping(changes: readonly Marked[]): (one: Marked) => Marked[] {
  const exact = new Map<string, Marked[]>();
  const inside = new Map<string, Marked[]>();
  const add = (map: Map<string, Marked[]>, at: string, one: Marked): void => { const list = map.get(at); if (list) list.push(one); else map.set(at, [one]); };
  for (const one of changes) {
    add(exact, one.at, one);
    for (const above of around(one.at)) add(inside, above, one);
  }
  return ({ at }) => [...(exact.get(at) ?? []), ...around(at).flatMap((above) => exact.get(above) ?? []), ...(inside.get(at) ?? [])];
}

/** `/a/b/c` → `/a/b`, `/a` and the whole. */
function around(at: string): string[] {
  const found: string[] = [];
  for (let end = at.lastIndexOf('/'); end >= 0; end = at.lastIndexOf('/', end - 1)) { found.push(at.slice(0, end)); if (end === 0) break; }
  return found;
}

/** The order of a list and what is in its entries can be changed independently; so can entries be added and removed while others are moved. */
function goTogether(one: RawChange, other: RawChange): boolean {
  if (one.change === 'style') return goesWithStyle(one, other);
  if (other.change === 'style') return goesWithStyle(other, one);
  if (one.names.length === other.names.length) return false;
  const outer = one.names.length < other.names.length ? one : other;
  return outer.change === 'order';
}

/** How something is written does not hinder what happens inside, nor its order. */
function goesWithStyle(style: RawChange, other: RawChange): boolean { return other.change === 'style' || other.change === 'order' || other.names.length > style.names.length; }

function sameChange(one: Marked, other: Marked): boolean {
  const [a, b] = [one.change, other.change];
  if (one.at !== other.at || a.change !== b.change) return false;
  if (a.change === 'style' || b.change === 'style') return a.change === 'style' && b.change === 'style' && a.source.how === b.source.how && a.target.how === b.target.how;
  if (a.change === 'order' || b.change === 'order') return a.change === 'order' && b.change === 'order' && sameList(a.source, b.source);
  return a.change === 'target-only' || sameLeaf(a.source, b.source);
}

function whose(ours: readonly Marked[], theirs: readonly Marked[]): ThreeWay['by'] {
  const [here, there] = [overlapping(ours), overlapping(theirs)];
  return (at) => {
    const place = { at } as Marked;
    const counts = (one: Marked): boolean => one.change.change !== 'style' || one.at === at;
    const [bySource, byTarget] = [here(place).some(counts), there(place).some(counts)];
    return bySource ? (byTarget ? 'both' : 'source') : byTarget ? 'target' : undefined;
  };
}
