const GAP = '…';
/** So much of what is the same is left before what differs. */
const LEAD = 12;

/** A pair of values on one line each, shortened so that the part in which they differ stays in view. */
export function shortenPair(a: string, b: string, width: number): [string, string] {
  let start = 0;
  while (start < a.length && start < b.length && a[start] === b[start]) start++;
  let end = 0;
  while (end < Math.min(a.length, b.length) - start && a[a.length - 1 - end] === b[b.length - 1 - end]) end++;
  return [shortenAround(a, start, a.length - end, width), shortenAround(b, start, b.length - end, width)];
}

/** Keeps the stretch from `start` to `end` in view, with something around it; of what is longer its beginning and its end. */
export function shortenAround(text: string, start: number, end: number, width: number): string {
  if (text.length <= width) return text;
  const from = start <= LEAD ? 0 : start - LEAD;
  const [head, tail] = [from > 0 ? GAP : '', from + width < text.length ? GAP : ''];
  if (end - from + head.length <= width - tail.length || end <= start) return head + text.slice(from, from + width - head.length - tail.length) + tail;
  return head + shortenMiddle(text.slice(from, end), width - head.length - (end < text.length ? 1 : 0)) + (end < text.length ? GAP : '');
}

/** The beginning and the end of a text, with a gap between them where it is longer than the width. */
export function shortenMiddle(text: string, width: number): string {
  if (text.length <= width) return text;
  const half = Math.ceil((width - 1) / 2);
  return `${text.slice(0, half)}${GAP}${text.slice(text.length - (width - 1 - half))}`;
}
