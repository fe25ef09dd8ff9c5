import { isMeasure } from './measures.ts';
import { anyOf } from './wildcard.ts';
import { snakeCased, wordsOf } from './words.ts';

/** Stands for every name with a word for a measure. */
export const MEASURE = '~0';

/** One of several with the same name. */
const NUMBERED = /_\d{1,2}$/;

/**
 * Says of a name whether it is like one of these patterns, as it stands or written with low lines and without a number at its end ("linkTo", "link-to" and "link_to_2" for link_to): with `*` for any text; `~word` for every name with this word among its words, as `~page` for
 * "next_page", "pageLists" and "The page"; `~0` for one with a word for a measure. A name that a dot parts from the one above has no words of its own.
 */
export function namesLike(patterns: readonly string[], how: { readonly caseless?: boolean } = {}): (name: string) => boolean {
  const asItStands = anyOf(patterns.filter((one) => one !== MEASURE && !one.startsWith('~')), how);
  const like = (name: string): boolean => {
    if (asItStands(name)) return true;
    const other = snakeCased(name).replace(NUMBERED, '');
    return other !== name && asItStands(other);
  };
  const words = new Set(patterns.flatMap((one) => (one.startsWith('~') && one !== MEASURE ? [one.slice(1)] : [])));
  const measures = patterns.includes(MEASURE);
  if (words.size === 0 && !measures) return like;
  return (name) => like(name) || (!name.includes('.') && ((measures && isMeasure(name)) || wordsOf(name).some((word) => words.has(word))));
}

/** Does a pattern stand for more than one name? */
export function isLike(pattern: string): boolean { return pattern.includes('*') || pattern.startsWith('~'); }
