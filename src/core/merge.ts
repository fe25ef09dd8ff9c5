import { applyRaw, rawChanges, type RawChange } from './compare.ts';
import { pointer } from './address.ts';
import { canonical } from './canonical.ts';
import type { Json } from './json.ts';
import type { Kind } from './kind.ts';
import { notate, readNotation } from './translate/notation.ts';

/** Who changed something since it was last carried; neither: both sides are as it was left, which need not be equal. */
export type ChangedBy = 'source' | 'target' | 'both' | 'neither';

export type Merge =
  | { readonly merged: true; readonly value: Json }
  /** Places that both sides changed, each to something else. */
  | { readonly merged: false; readonly clashes: readonly string[] };

/** The value as each side had it when it was last carried. */
export interface Base { readonly source: Json; readonly target: Json }

/**
 * Puts the changes of both sides together: what the source changed since the base is carried out on the target's value. Where both changed one
 * place, or one of them something inside what the other changed, and not to the same, it is a clash and nothing is merged.
 */
export function mergeValues(kind: Kind, base: Base, source: Json, target: Json): Merge {
  const ours = rawChanges(kind, readNotation(source), readNotation(base.source));
  const theirs = rawChanges(kind, readNotation(target), readNotation(base.target));
  const clashes = ours.filter((one) => theirs.some((other) => overlap(one, other) && !sameChange(one, other))).map((one) => pointer(one.names));
  if (clashes.length > 0) return { merged: false, clashes: [...new Set(clashes)] };
  const open = ours.filter((one) => !theirs.some((other) => sameChange(one, other)));
  return { merged: true, value: applyRaw(kind, target, open) };
}

/** Says of each place where two values differ who changed it: the side that is no longer as in the base. */
export function changedBy(kind: Kind, base: Base, source: Json, target: Json): (at: string) => ChangedBy | undefined {
  const ours = rawChanges(kind, readNotation(source), readNotation(base.source)).map((one) => pointer(one.names));
  const theirs = rawChanges(kind, readNotation(target), readNotation(base.target)).map((one) => pointer(one.names));
  return (at) => {
    const [here, there] = [ours, theirs].map((list) => list.some((one) => within(one, at) || within(at, one)));
    return here ? (there ? 'both' : 'source') : there ? 'target' : undefined;
  };
}

function within(inner: string, outer: string): boolean { return inner === outer || inner.startsWith(`${outer}/`); }

/** The order of a list and what is inside its entries can be changed independently, as long as none is added or removed. */
function overlap(one: RawChange, other: RawChange): boolean {
  const [a, b] = [pointer(one.names), pointer(other.names)];
  if (a === b) return true;
  if (!within(a, b) && !within(b, a)) return false;
  const [outer, inner] = within(b, a) ? [one, other] : [other, one];
  return outer.change !== 'order' || (inner.names.length === outer.names.length + 1 && inner.change !== 'differs');
}

function sameChange(one: RawChange, other: RawChange): boolean {
  if (pointer(one.names) !== pointer(other.names) || one.change !== other.change) return false;
  if (one.change === 'order' || other.change === 'order') return one.change === 'order' && other.change === 'order' && one.source.join('\n') === other.source.join('\n');
  return one.change === 'target-only' || canonical(notate(one.source)) === canonical(notate(other.source));
}
