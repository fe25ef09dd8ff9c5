/** Draws by chance, the same for the same seed. */
export interface Draws {
  /** From 0 up to 1. */
  readonly next: () => number;
  /** A whole number below. */
  readonly whole: (below: number) => number;
  readonly pick: <T>(list: readonly T[]) => T;
  /** So many of them, none twice, or all. */
  readonly some: <T>(list: readonly T[], count: number) => T[];
  readonly chance: (part: number) => boolean;
}

export function draws(seed: number): Draws {
  let state = seed;
  const next = (): number => {
    // Mulberry32, in the public domain.
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
  const whole = (below: number): number => Math.floor(next() * below);
  return {
    next, whole, pick: <T>(list: readonly T[]) => list[whole(list.length)] as T, chance: (part) => next() < part,
    some: <T>(list: readonly T[], count: number) => { const left = [...list]; return Array.from({ length: Math.min(count, left.length) }, () => left.splice(whole(left.length), 1)[0] as T); },
  };
}
