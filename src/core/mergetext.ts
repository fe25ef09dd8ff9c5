import { diff3MergeRegions } from 'node-diff3';

/** More pieces than this are not put together: the time grows with their square where many are alike. */
const MOST_PIECES = 20_000;

/**
 * Two versions of a sequence put together, as `diff3` does (Khanna, Kunal, Pierce: "A Formal Investigation of Diff3", 2007): what one side left
 * as it was comes from the other. Where both changed one stretch, or touching ones, to different things, `within` puts the stretch together;
 * undefined where it cannot.
 */
export function mergePieces(base: readonly string[], source: readonly string[], target: readonly string[], within?: (base: string, source: string, target: string) => string[] | undefined): string[] | undefined {
  if (Math.max(base.length, source.length, target.length) > MOST_PIECES) return undefined;
  const merged: string[] = [];
  for (const region of diff3MergeRegions([...source], [...base], [...target])) {
    if (region.stable) { merged.push(...region.bufferContent); continue; }
    const [ours, theirs] = [region.aContent.join(''), region.bContent.join('')];
    const stretch = ours === theirs ? region.aContent : within?.(region.oContent.join(''), ours, theirs);
    if (!stretch) return undefined;
    merged.push(...stretch);
  }
  return merged;
}

/**
 * Two versions of a text put together: line by line, and where there is markup in it tag by tag within lines. Undefined is a clash: both changed
 * one place, or what came out would not be nested as markup has to be.
 */
export function mergeTexts(base: string, source: string, target: string): string | undefined {
  const texts = [base, source, target];
  const markup = texts.some((text) => MARKUP.test(text));
  const byTag = (one: string, ours: string, theirs: string): string[] | undefined => mergePieces(markupPieces(one), markupPieces(ours), markupPieces(theirs));
  const merged = mergePieces(lines(base), lines(source), lines(target), markup ? byTag : undefined)?.join('');
  if (merged === undefined || !markup) return merged;
  const pieces = texts.map(markupPieces);
  const paired = new Set(texts.flatMap((text) => Array.from(text.matchAll(/<!--\s*\/(\S+)/g), (found) => found[1] ?? '')));
  return [...pieces, markupPieces(merged)].every((one) => isNested(one, paired)) ? merged : undefined;
}

const MARKUP = /<[a-zA-Z/!]/;

function lines(text: string): string[] {
  const found: string[] = [];
  let from = 0;
  for (let end = text.indexOf('\n'); end >= 0; end = text.indexOf('\n', from)) { found.push(text.slice(from, end + 1)); from = end + 1; }
  if (from < text.length || found.length === 0) found.push(text.slice(from));
  return found;
}

/** Tags and comments are pieces, each with the white space behind it; so are the lines between them, and what is in a script or a style. */
function markupPieces(text: string): string[] {
  const pieces: string[] = [];
  let at = 0;
  while (at < text.length) {
    const end = pieceEnd(text, at);
    const space = /\s*/y;
    space.lastIndex = end;
    const next = space.test(text) ? space.lastIndex : end;
    if (text[at] === '<') pieces.push(text.slice(at, next)); else pieces.push(...lines(text.slice(at, next)));
    const raw = text[at] === '<' ? /^<(script|style)\b/i.exec(text.slice(at, at + 8)) : null;
    at = next;
    if (!raw) continue;
    const close = text.slice(at).search(new RegExp(`</${raw[1] ?? ''}`, 'i'));
    const stop = close < 0 ? text.length : at + close;
    pieces.push(...lines(text.slice(at, stop)));
    at = stop;
  }
  return pieces.filter((piece) => piece !== '');
}

/** Where the tag, the comment or the stretch of text that begins here ends. */
function pieceEnd(text: string, at: number): number {
  const found = (end: number, length: number): number => (end < 0 ? text.length : end + length);
  if (text[at] !== '<') return found(text.indexOf('<', at), 0);
  if (text.startsWith('<!--', at)) return found(text.indexOf('-->', at + 4), 3);
  if (!MARKUP.test(text.slice(at, at + 2))) return found(text.indexOf('<', at + 1), 0);
  let quote = '';
  for (let i = at + 1; i < text.length; i++) {
    const sign = text[i] as string;
    if (quote !== '') { if (sign === quote) quote = ''; } else if (sign === '"' || sign === "'") quote = sign;
    else if (sign === '>') return i + 1;
  }
  return text.length;
}

/** Elements without an end (HTML Living Standard, "void elements"). */
const VOID = new Set(['area', 'base', 'br', 'col', 'embed', 'hr', 'img', 'input', 'link', 'meta', 'source', 'track', 'wbr']);

/** Every element that is opened is closed, in the right order; so are comments that come in pairs (`x … /x`). */
function isNested(pieces: readonly string[], paired: ReadonlySet<string>): boolean {
  const open: string[] = [];
  for (const piece of pieces) {
    if (!piece.startsWith('<')) continue;
    const comment = piece.startsWith('<!--') ? /^<!--\s*(\/?)([^\s/]\S*)/.exec(piece) : null;
    const tag = comment ? null : /^<(\/?)([a-zA-Z][^\s/>]*)/.exec(piece);
    const name = comment?.[2] !== undefined ? `!${comment[2]}` : tag?.[2]?.toLowerCase();
    if (name === undefined || /\/(?:--)?>\s*$/.test(piece) || VOID.has(name) || (comment?.[2] !== undefined && !paired.has(comment[2]))) continue;
    if ((comment ?? tag)?.[1] === '') open.push(name);
    else if (open.pop() !== name) return false;
  }
  return open.length === 0;
}

/**
 * The order of a list whose entries both sides moved, by the names of its entries: those that all three have are put together, what the source
 * added follows what it followed there. Undefined where both moved the same ones to different places.
 */
export function mergeOrder(base: readonly string[], source: readonly string[], target: readonly string[]): string[] | undefined {
  const [inBase, inSource, inTarget] = [new Set(base), new Set(source), new Set(target)];
  const common = (list: readonly string[]): string[] => list.filter((name) => inBase.has(name) && inSource.has(name) && inTarget.has(name));
  const merged = mergePieces(common(base), common(source), common(target));
  if (!merged || new Set(merged).size !== merged.length || merged.length !== common(base).length) return undefined;
  return placed(merged, source);
}

/** Adds to a list the names of another one that it does not have, each behind the name that it follows there. */
export function placed(list: readonly string[], from: readonly string[]): string[] {
  const known = new Set(list);
  const after = new Map<string | undefined, string[]>();
  let last: string | undefined;
  for (const name of from) {
    if (known.has(name)) { last = name; continue; }
    after.set(last, [...(after.get(last) ?? []), name]);
  }
  return [...(after.get(undefined) ?? []), ...list.flatMap((name) => [name, ...(after.get(name) ?? [])])];
}
