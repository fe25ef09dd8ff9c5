import { literal } from '../../../core/wildcard.ts';

/** What can stand in the braces of a template. */
export type Filling = (name: string) => string | undefined;

/** Begins a word that stands for a name that is not there. */
export const MADE = '~';
const LONGEST_WORD = 60;

/** Parts of a time as databases write it: from where to where. */
const TIMES: Readonly<Record<string, readonly [from: number, to: number]>> = { year: [0, 4], month: [5, 7], day: [8, 10], hour: [11, 13], minute: [14, 16], second: [17, 19] };
/** A name with the part of the time that is meant: "made:year". */
const PART = new RegExp(`^(.+):(${Object.keys(TIMES).join('|')})$`);

/** Fills `{name}`, `{a|b}`, `{a|~b}` and `{a:year}`; what nothing fills becomes empty. */
export function fill(template: string, filling: Filling): string {
  let text = '';
  for (const piece of piecesOf(template)) text += typeof piece === 'string' ? piece : firstOf(piece, filling);
  return text;
}

/** What a template asks for. */
export function namesIn(template: string): string[] { return piecesOf(template).flatMap((piece) => (typeof piece === 'string' ? [] : piece.map((name) => (name.startsWith(MADE) ? name.slice(MADE.length) : PART.exec(name)?.[1] ?? name)))); }

function firstOf(names: readonly string[], filling: Filling): string {
  for (const name of names) {
    const text = name.startsWith(MADE) ? wordOf(filling(name.slice(MADE.length)) ?? '') : partOf(name, filling);
    if (text !== undefined && text !== '') return text;
  }
  return '';
}

function partOf(name: string, filling: Filling): string | undefined {
  const [, column, part = ''] = (name.includes(':') && PART.exec(name)) || [];
  return column === undefined ? filling(name) : filling(column)?.slice(...TIMES[part] ?? []);
}

/** Letters and digits of a text, in small letters, with a dash between words. */
function wordOf(text: string): string {
  const word = text.normalize('NFKD').replace(/\p{M}+/gu, '').toLowerCase().match(/[\p{L}\p{N}]+/gu)?.join('-') ?? '';
  return word === '' ? '' : MADE + word.slice(0, LONGEST_WORD);
}

/** Text as it stands, and lists of names of which the first that is not empty is taken. */
type Pieces = readonly (string | readonly string[])[];
/** Templates are few, and are filled for every row. */
const KNOWN = new Map<string, Pieces>();
const MOST_KNOWN = 5000;

function piecesOf(template: string): Pieces {
  const known = KNOWN.get(template);
  if (known) return known;
  if (KNOWN.size >= MOST_KNOWN) KNOWN.clear();
  const pieces = template.split(/(\{[^{}]+\})/).filter((piece) => piece !== '').map((piece) => (/^\{[^{}]+\}$/.test(piece) ? piece.slice(1, -1).split('|').map((name) => name.trim()) : piece));
  KNOWN.set(template, pieces);
  return pieces;
}

/** A pattern such as `theme_{name}` as an expression; parts in braces are captured, the first one takes what it can. Where there is a `{path}`, only that has slashes. */
export function capturing(pattern: string): (text: string) => Record<string, string> | undefined {
  const names: string[] = [];
  const source = pattern.split(/(\{[^{}|]+\})/).map((piece) => {
    const name = /^\{([^{}|]+)\}$/.exec(piece)?.[1];
    if (name === undefined) return literal(piece);
    names.push(name);
    return name !== 'path' && pattern.includes('{path}') ? '([^/]+)' : '(.+)';
  }).join('');
  const expression = new RegExp(`^${source}$`, 's');
  return (text) => {
    const found = expression.exec(text);
    return found ? Object.fromEntries(names.map((name, i) => [name, found[i + 1] ?? ''])) : undefined;
  };
}
