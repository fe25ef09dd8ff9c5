/**
 * Says of a text whether it is like one of these patterns, in which `*` stands for any text. Most patterns are a word, or a star and an end:
 * these are looked up, which takes a fraction of trying one after the other.
 */
export function anyOf(patterns: readonly string[], { caseless = false } = {}): (text: string) => boolean {
  const cased = caseless ? patterns.map((pattern) => pattern.toLowerCase()) : patterns;
  const words = new Set(cased.filter((pattern) => !pattern.includes('*')));
  const ends = new Set(cased.filter(isEnd).map((pattern) => pattern.slice(1)));
  const lengths = [...new Set([...ends].map((end) => end.length))];
  const others = cased.filter((pattern) => pattern.includes('*') && !isEnd(pattern));
  const bodies = others.map((pattern) => pattern.split('*').map((piece) => literal(piece)).join('.*'));
  const expression = bodies.length === 0 ? undefined : new RegExp(`^(?:${bodies.join('|')})$`, 's');
  return (text) => {
    const looked = caseless ? text.toLowerCase() : text;
    return words.has(looked) || lengths.some((length) => looked.length >= length && ends.has(looked.slice(looked.length - length))) || expression?.test(looked) === true;
  };
}

/**
 * The same for names, where `~word` stands for every name with this word among its words, also as a plural: `~page` for "next_page", "pageLists"
 * and "pages left". A name that a dot parts from the one above has no words of its own.
 */
export function namesLike(patterns: readonly string[], how: { readonly caseless?: boolean } = {}): (name: string) => boolean {
  const like = anyOf(patterns.filter((one) => !one.startsWith('~')), how);
  const words = new Set(patterns.flatMap((one) => (one.startsWith('~') ? [one.slice(1), ...pluralsOf(one.slice(1))] : [])));
  return words.size === 0 ? like : (name) => like(name) || (!name.includes('.') && wordsOf(name).some((word) => words.has(word)));
}

/** Does a pattern stand for more than one name? */
export function isLike(pattern: string): boolean { return pattern.includes('*') || pattern.startsWith('~'); }

/** "nextPage_id2" → next, page, id. */
function wordsOf(name: string): string[] { return name.replace(/(?<=[a-z\d])(?=[A-Z])/g, '_').toLowerCase().split(/[^a-z]+/); }

/** What an English word may be as a plural. */
export function pluralsOf(word: string): string[] { return word.length < 2 ? [] : [`${word}s`, `${word}es`, ...(word.endsWith('y') ? [`${word.slice(0, -1)}ies`] : [])]; }

/** A star, and then a word. */
function isEnd(pattern: string): boolean { return pattern.startsWith('*') && pattern.indexOf('*', 1) < 0; }

/** A text as an expression that finds just this. */
export function literal(text: string): string { return text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'); }
