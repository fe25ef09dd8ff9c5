import { ENDINGS } from '../filetypes.ts';
import { Entries, isPlainObject, Text, unwrap, type Node } from '../tree.ts';
import { PATHS, unspell } from './spelling.ts';

/** A whole text that is the path of a file; the same as the end of a path. */
const [WHOLE, ENDING] = ['^/(?:[^\\s"\'<>?#\\\\/]+/)+[^\\s"\'<>?#\\\\/]+', ''].map((before) => new RegExp(`${before}\\.(?:${[...ENDINGS, 'js'].join('|')})$`, 'i')) as [RegExp, RegExp];
/** Without any of these a portable form speaks of no file by its path. */
const BEFORE_PATHS = ['⟦site', '⟦seat', '"/'];

/** Might a portable form speak of such files? */
export function mayHaveLooseFiles(text: string): boolean { return BEFORE_PATHS.some((one) => text.includes(one)); }

/** Paths, on its own site, of files that a value speaks of and that no item has: those of items are tokens. */
export function looseFiles(root: Node): string[] {
  const found = new Set<string>();
  const walk = (node: Node): void => {
    const inner = unwrap(node);
    if (typeof inner === 'string') { if (inner.startsWith('/') && WHOLE.test(inner)) found.add(inner); return; }
    if (inner instanceof Text) { addPaths(inner, found); return; }
    for (const child of Array.isArray(inner) ? inner : inner instanceof Entries ? inner.pairs.map(([, value]) => value) : isPlainObject(inner) ? Object.values(inner) : []) walk(child);
  };
  walk(root);
  return [...found];
}

/** What stands behind the address of the site, where that is the path of a file. */
function addPaths({ pieces }: Text, into: Set<string>): void {
  for (let i = 1; i < pieces.length; i++) {
    const [piece, behind] = [pieces[i - 1], pieces[i]];
    if (typeof behind !== 'string' || typeof piece !== 'object' || piece.token !== 'site' || piece.inside) continue;
    const { end, as } = PATHS[piece.spelling];
    end.lastIndex = 0;
    const path = unspell(end.exec(behind)?.[0] ?? '', as);
    if (path.startsWith('/') && ENDING.test(path)) into.add(path);
  }
}
