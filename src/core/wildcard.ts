/** Says of a text whether it is like one of these patterns, in which `*` stands for any text. */
export function anyOf(patterns: readonly string[], { caseless = false } = {}): (text: string) => boolean {
  if (patterns.length === 0) return () => false;
  const bodies = patterns.map((pattern) => pattern.split('*').map((piece) => piece.replace(/[.+?^${}()|[\]\\]/g, '\\$&')).join('.*'));
  const expression = new RegExp(`^(?:${bodies.join('|')})$`, caseless ? 'is' : 's');
  return (text) => expression.test(text);
}
