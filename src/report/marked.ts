import { diffLines, diffWordsWithSpace } from 'diff';
import { Html, html } from '../core/html.ts';
import { many } from './units.ts';

/** A stretch of a text: the same on both sides, or what one side has instead of the other's. */
type Stretch = { readonly same: string } | { readonly source: string; readonly target: string };

/** Longer stretches than this, both together, and texts with more changed lines than that, are marked as wholes: finer marks would cost more than they tell. */
const [LONGEST_BY_WORD, MOST_LINES] = [20_000, 2_000];
/** What is the same is cut to so many lines, or signs where lines are long, beside what differs. */
const [LINES_BESIDE, SIGNS_BESIDE] = [2, 160];
/** It is only cut where this much, at least, need not be read. */
const WORTH_CUTTING = 80;

/** Both texts with what differs marked in each, and most of what is the same left out. */
export function markedTexts(source: string, target: string): [Html, Html] {
  const stretches = stretchesOf(source, target);
  const side = (wanted: 'source' | 'target'): Html => html`${stretches.map((one, i) => ('same' in one ? shortened(one.same, i > 0, i < stretches.length - 1) : one[wanted] === '' ? html`` : html`<mark>${one[wanted]}</mark>`))}`;
  return [side('source'), side('target')];
}

/** By lines first, then by words within the lines that differ. */
function stretchesOf(source: string, target: string): Stretch[] {
  const found: Stretch[] = [];
  const whole = { source, target };
  const pieces = diffLines(target, source, { maxEditLength: MOST_LINES });
  if (!pieces) return [whole];
  for (let i = 0; i < pieces.length; i++) {
    const [piece, next] = [pieces[i], pieces[i + 1]];
    if (!piece?.removed || !next?.added) { add(found, piece); continue; }
    i++;
    if (piece.value.length + next.value.length > LONGEST_BY_WORD) found.push({ source: next.value, target: piece.value });
    else for (const word of diffWordsWithSpace(piece.value, next.value)) add(found, word);
  }
  return found;
}

/** What is the same in neighbouring pieces is one stretch. */
function add(found: Stretch[], piece: { value: string; added?: boolean; removed?: boolean } | undefined): void {
  if (!piece) return;
  const last = found.at(-1);
  if (piece.added) found.push({ source: piece.value, target: '' });
  else if (piece.removed) found.push({ source: '', target: piece.value });
  else if (last && 'same' in last) found[found.length - 1] = { same: last.same + piece.value };
  else found.push({ same: piece.value });
}

/** The beginning where something that differs stands before it, the end where something follows. */
function shortened(text: string, after: boolean, before: boolean): Html {
  const from = after ? beside(text, 1) : 0;
  const to = before ? text.length - beside(text, -1) : text.length;
  const cut = text.slice(from, to);
  if (cut.length < WORTH_CUTTING) return html`${text}`;
  const lines = cut.split('\n').length - 1;
  return html`${text.slice(0, from)}<i class="cut${lines > 1 ? ' lines' : ''}">… ${lines > 1 ? many(lines, 'line') : many(cut.length, 'character')} the same …</i>${text.slice(to)}`;
}

/** How many signs at the beginning (1) or at the end (-1) of a text are worth showing: the rest of the line, and some lines more. */
function beside(text: string, end: 1 | -1): number {
  const lines = text.split('\n');
  const near = (end === 1 ? lines.slice(0, LINES_BESIDE + 1) : lines.slice(-LINES_BESIDE - 1)).join('\n').length;
  return near <= 2 * SIGNS_BESIDE ? near : SIGNS_BESIDE;
}
