import { diff3MergeRegions } from 'node-diff3';
import { sameList } from './json.ts';

/** More pieces than this are not put together: the time grows with their square where many are alike. */
const MOST_PIECES = 20_000;

/**
 * Two versions of a sequence put together, as `diff3` does (Khanna, Kunal, Pierce: "A Formal Investigation of Diff3", 2007): what one side left
 * as it was comes from the other. Where both changed one stretch, or touching ones, to different things, `within` puts the stretch together;
 * undefined where it cannot.
 */
export function mergePieces(base: readonly string[], source: readonly string[], target: readonly string[], within?: (base: string, source: string, target: string) => string[] | undefined): string[] | undefined {
  if (Math.max(base.length, source.length, target.length) > MOST_PIECES) return undefined;
  const [first, last] = [alike(base, source, target, 0), alike(base, source, target, -1)];
  const end = Math.min(last, Math.min(base.length, source.length, target.length) - first);
  const middle = (list: readonly string[]): string[] => list.slice(first, list.length - end);
  const merged = base.slice(0, first);
  for (const region of diff3MergeRegions(middle(source), middle(base), middle(target))) {
    if (region.stable) { merged.push(...region.bufferContent); continue; }
    const { aContent: ours, oContent: before, bContent: theirs } = region;
    const stretch = sameList(ours, theirs) ? ours : within?.(before.join(''), ours.join(''), theirs.join(''));
    if (!stretch) return undefined;
    merged.push(...stretch);
  }
  return [...merged, ...base.slice(base.length - end)];
}

/** How many pieces at the beginning (`from` 0) or at the end (-1) are alike in all three: they need no search. */
function alike(base: readonly string[], source: readonly string[], target: readonly string[], from: 0 | -1): number {
  const most = Math.min(base.length, source.length, target.length);
  let count = 0;
  for (; count < most; count++) {
    const at = from === 0 ? count : -1 - count;
    if (base.at(at) !== source.at(at) || base.at(at) !== target.at(at)) break;
  }
  return count;
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
  const paired = new Set(texts.flatMap((text) => (text.includes('<!--') ? Array.from(text.matchAll(/<!--\s*\/(\S+)/g), (found) => `!${found[1] ?? ''}`) : [])));
  return isNested(merged, paired) ? merged : undefined;
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
  let from = 0;
  const behind = (end: number): number => { SPACE.lastIndex = end; SPACE.test(text); return SPACE.lastIndex; };
  eachTag(text, (start, end) => {
    if (start > from) pieces.push(...lines(text.slice(from, start)));
    from = behind(end);
    pieces.push(text.slice(start, from));
    return true;
  });
  if (from < text.length) pieces.push(...lines(text.slice(from)));
  return pieces;
}

const SPACE = /\s*/y;
/** A comment, or a tag with its attributes; what is not closed goes to the end of the text. Each sign is looked at once. */
const TAG = /<(?=[a-zA-Z/!])(?:!--[^]*?(?:-->|$)|(\/?)([a-zA-Z][^\s/>"']*)?(?:[^"'>]+|"[^"]*(?:"|$)|'[^']*(?:'|$))*(?:>|$))/g;

/** `name` in lower case; a comment and a declaration have none. False: no further one is looked for. */
type SeenTag = (start: number, end: number, closing: boolean, name: string | undefined) => boolean;

/** Goes through all tags and comments of a text, but not what looks like one in a script or a style; says whether it saw the last one. */
function eachTag(text: string, see: SeenTag): boolean {
  for (let from = 0; ;) {
    TAG.lastIndex = from;
    const found = TAG.exec(text);
    if (!found) return true;
    from = TAG.lastIndex;
    const name = found[2]?.toLowerCase();
    const closing = found[1] === '/';
    if (!see(found.index, from, closing, name)) return false;
    if (closing || (name !== 'script' && name !== 'style')) continue;
    const close = text.slice(from).search(name === 'script' ? /<\/script/i : /<\/style/i);
    from = close < 0 ? text.length : from + close;
  }
}

/** Elements without an end (HTML Living Standard, "void elements"). */
const VOID = new Set(['area', 'base', 'br', 'col', 'embed', 'hr', 'img', 'input', 'link', 'meta', 'source', 'track', 'wbr']);

/** Every element that is opened is closed, in the right order; so are comments that come in pairs (`x … /x`). */
function isNested(text: string, paired: ReadonlySet<string>): boolean {
  const open: string[] = [];
  const fits = (closing: boolean, name: string): boolean => (closing ? open.pop() === name : open.push(name) > 0);
  const all = eachTag(text, (start, end, closing, name) => {
    if (text[end - 2] === '/' || text.startsWith('/-->', end - 4)) return true;
    if (name !== undefined) return VOID.has(name) || fits(closing, name);
    const comment = /^<!--\s*(\/?)([^\s/]\S*)/.exec(text.slice(start, end));
    const pair = `!${comment?.[2] ?? ''}`;
    return !paired.has(pair) || fits(comment?.[1] === '/', pair);
  });
  return all && open.length === 0;
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
