import { cellText, type Row } from '../cells.ts';
import type { Column } from '../engine.ts';
import { isText } from './columns.ts';
import { groupBy } from '../../../core/json.ts';
import { leavesOf, step, type Leaf } from './leaves.ts';
import { WORD_ID } from './points.ts';
import { dataIn, packingOf } from './samples.ts';
import { aliasOf, quotedPath } from './words.ts';

/** Which kind a word in a text shows, of such an id. */
export type Shown = (word: string, id: string) => string | undefined;

/** Tags and short codes with an id. */
const SHOWING = /([[<])([a-z][\w-]*)\s(?:[^\]>]*\s)?([\w-]*id)=["']?([1-9]\d*)/g;

/** Every value in a cell, packed or not, with its way. */
export function leavesIn(text: string, way: string[]): Leaf[] {
  const data = dataIn(text);
  return data !== undefined ? leavesOf(data, way) : [[way.slice(0, -1).join('.'), way.at(-1) ?? '', text]];
}

/** How columns are packed, in words of a layout. */
export function packingsOf(columns: readonly Column[], rows: readonly Row[], above: string, shown: Shown): string[] {
  return columns.filter(isText).flatMap((column) => packingsAt(rows.map((row) => cellText(row[column.name])), `${above}.${aliasOf(column.name)}`, shown, column.sorted !== true));
}

/** How values in one place are packed: some can be so in one way, some in another. `ordered`: members stay in the order in which they are written. */
export function packingsAt(texts: readonly string[], path: string, shown: Shown, ordered = true): string[] {
  const found = new Set(texts.map((text) => packingOf([text])));
  if (!found.has('html') && wordsIn(texts, shown).length > 0) found.add('html');
  return (['php', 'json', 'html'] as const).flatMap((codec) => (found.has(codec) ? [`{ path: ${quotedPath(path)}, codec: ${codec}${codec === 'json' && ordered ? ', ordered: true' : codec === 'html' ? patternsIn(texts, shown) : ''} }`] : []));
}

/** A tag or a short code is named as the thing that it shows; so is what has the id behind a word. */
function patternsIn(texts: readonly string[], shown: Shown): string {
  const found = new Map([...texts.flatMap((text) => [...text.matchAll(SHOWING)]).flatMap(([, sign = '', word = '', attribute = '', id = '']) => { const kind = shown(word, id); return kind === undefined ? [] : [[`${sign}${word} … ${attribute}={id}`, kind] as const]; }), ...wordsIn(texts, shown)]);
  return found.size === 0 ? '' : `, patterns: { ${[...found].map(([pattern, kind]) => `'${pattern}': ${kind}`).join(', ')} }`;
}

/** "/board/12" and "board:12", as patterns with their kinds. */
function wordsIn(texts: readonly string[], shown: Shown): [pattern: string, kinds: string][] {
  return texts.filter((text) => packingOf([text]) !== 'php' && packingOf([text]) !== 'json').flatMap((text) => [...text.matchAll(WORD_ID)]).flatMap(([, word = '', sign = '', id = '']): [string, string][] => { const kind = shown(word, id); return kind === undefined ? [] : [[`${word}${sign}{id}`, kind]]; });
}

/** The same of places in packed values, as lines of codecs: of texts in which ids could stand. */
export function wordsAt(leaves: readonly Leaf[], shown: Shown): string[] {
  const places = groupBy(leaves, ([path, last]) => `${path}${step(last)}`);
  return [...places].flatMap(([path, same]) => { const texts = same.map(([, , text]) => text); const found = patternsIn(texts, shown); return found === '' && !texts.some((text) => packingOf([text]) === 'html') ? [] : [`{ path: ${quotedPath(path)}, codec: html${found} }`]; });
}
