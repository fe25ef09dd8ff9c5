import { diffLines } from 'diff';

/** One line of a text comparison. */
export interface LineChange { readonly line: string; readonly side: 'source' | 'target' | 'both' }

/** Compares two texts line by line; `around` lines of common text are kept beside changes. */
export function compareLines(source: string, target: string, around = 1): LineChange[] {
  const all = diffLines(target, source).flatMap((chunk): LineChange[] =>
    chunk.value.replace(/\n$/, '').split('\n').map((line) => ({ line, side: chunk.added ? 'source' : chunk.removed ? 'target' : 'both' })));
  const near = (i: number): boolean => all.slice(Math.max(0, i - around), i + around + 1).some((one) => one.side !== 'both');
  return all.filter((one, i) => one.side !== 'both' || near(i));
}
