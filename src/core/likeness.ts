import { isObject, type Json } from './json.ts';

/** Alike at least so much: likely one thing under two names. */
export const LIKELY_RENAMED = 0.6;
/** The same of what lies elsewhere, below another name or among another sort: things of two sorts can have most of their places in common. */
export const LIKELY_MOVED = 0.9;
/** Less alike than this, and called otherwise: two things that happen to have one address. */
export const UNRELATED = 0.2;

/** No single place counts more than so many words. */
const MOST_WORDS = 100;

/** A value taken apart for comparing: words by place, entries of lists under one place. */
export type Features = ReadonlyMap<string, ReadonlyMap<string, number>>;

export function features(value: Json): Features {
  const found = new Map<string, Map<string, number>>();
  const visit = (json: Json, at: string): void => {
    if (Array.isArray(json)) { json.forEach((entry) => { visit(entry, `${at}/*`); }); return; }
    if (isObject(json)) { for (const [key, member] of Object.entries(json)) visit(member, `${at}/${key}`); return; }
    const words = found.get(at) ?? new Map<string, number>();
    found.set(at, words);
    for (const word of typeof json === 'string' ? json.split(/[^\p{L}\p{N}⟦⟧:#-]+/u) : [String(json)]) if (word !== '') words.set(word, (words.get(word) ?? 0) + 1);
  };
  visit(value, '');
  return found;
}

/**
 * How alike two values are, from 0 to 1: the share of words that both have at the same places (Sørensen–Dice over multisets), each place weighing
 * by its words, up to a hundred of them.
 */
export function likeness(a: Features, b: Features): number {
  let [shared, all] = [0, 0];
  for (const at of new Set([...a.keys(), ...b.keys()])) {
    const [left, right] = [a.get(at), b.get(at)];
    const [total, common] = [count(left) + count(right), left && right ? overlap(left, right) : 0];
    const weight = Math.min(total, 2 * MOST_WORDS);
    if (total === 0) continue;
    all += weight;
    shared += weight * (2 * common) / total;
  }
  return all === 0 ? 1 : shared / all;
}

function count(words: ReadonlyMap<string, number> | undefined): number {
  let sum = 0;
  for (const times of words?.values() ?? []) sum += times;
  return sum;
}

function overlap(a: ReadonlyMap<string, number>, b: ReadonlyMap<string, number>): number {
  let sum = 0;
  for (const [word, times] of a) sum += Math.min(times, b.get(word) ?? 0);
  return sum;
}
