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

/** A star, and then a word. */
function isEnd(pattern: string): boolean { return pattern.startsWith('*') && pattern.indexOf('*', 1) < 0; }

/** A text as an expression that finds just this. */
export function literal(text: string): string { return text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'); }
