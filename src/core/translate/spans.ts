import { Text, type TextPiece } from '../tree.ts';

/** A stretch of a text that is replaced by pieces. */
export interface Span { start: number; end: number; pieces: TextPiece[] }

/** In the order of the text; where two overlap, the one that begins first, and of these the one found first. */
export function withoutOverlap(spans: Span[]): Span[] {
  if (spans.length < 2) return spans;
  let end = 0;
  return spans.sort((a, b) => a.start - b.start).filter((span) => { const fits = span.start >= end; if (fits) ({ end } = span); return fits; });
}

/** A text with its stretches replaced, which do not overlap. */
export function replaced(text: string, spans: readonly Span[]): string | Text {
  if (spans.length === 0) return text;
  const pieces: TextPiece[] = [];
  let at = 0;
  for (const span of spans) {
    if (span.start > at) pieces.push(text.slice(at, span.start));
    for (const piece of span.pieces) pieces.push(piece);
    at = span.end;
  }
  if (at < text.length) pieces.push(text.slice(at));
  return new Text(pieces);
}
