import { SLASH } from '../seat.ts';
import type { SiteIndex } from '../siteindex.ts';
import type { Reference, TextPiece, Written } from '../tree.ts';
import { isBare } from '../tokens.ts';
import { folderOf, wrapped, written } from './spelling.ts';

/** What stands on a site for a reference; undefined where it does not have the item. A number that JavaScript's numbers do not reach is still a number. */
export function writtenReference(reference: Pick<Reference, 'to' | 'as' | 'raw'>, index: SiteIndex): number | string | bigint | undefined {
  if (reference.to === undefined) return reference.raw;
  const found = reference.as === 'name' ? index.nameOf(reference.to) : index.idOf(reference.to);
  if (found === undefined) return undefined;
  return reference.as !== 'number' ? String(found) : typeof found === 'string' && /^\d+$/.test(found) ? BigInt(found) : found;
}

/** The pieces of a text, on a site. */
interface Within { readonly pieces: readonly TextPiece[]; readonly index: SiteIndex }

/** The same for a piece of a text, one of several. */
export function writtenPiece(piece: TextPiece, at: number, { pieces, index }: Within): string | undefined {
  if (typeof piece === 'string') return piece.startsWith('?') && isQuery(pieces[at - 1], index) ? `&${piece.slice(1)}` : piece;
  if (piece.token === 'base64') return '';
  if (piece.token === 'site') return siteBefore(pieces[at + 1], piece, index);
  if (piece.token === 'path') { const path = index.pathOf(piece.address, piece.variant); return path === undefined ? undefined : writtenPath(path, piece, at, { pieces, index }); }
  const found = piece.token === 'name' ? index.nameOf(piece.address) : index.idOf(piece.address);
  return found === undefined ? undefined : String(found);
}

/** Has the address that stands before a query one already, because the site finds things by their ids? */
function isQuery(before: TextPiece | undefined, index: SiteIndex): boolean { return typeof before === 'object' && before.token === 'path' && index.pathOf(before.address, before.variant)?.includes('?') === true; }

/** A path as it stands on a site: with the folder that the site lies in, where no address is before it; without that of its CMS, where its address is. */
export function writtenPath(path: string, as: Written, at: number, { pieces, index: { site, seat } }: Within): string {
  if (isBare(pieces, at)) return wrapped(folderOf(site), as.inside) + written(path, as);
  const before = pieces[at - 1];
  const below = typeof before === 'object' && before.token === 'site' && before.seat ? seat?.below ?? '' : '';
  return written(below !== '' && path.startsWith(`${below}/`) ? path.slice(below.length) : path, as);
}

/** The address of a site, or of its CMS, or the folder of that, without which a link still has to begin with a slash. */
function siteBefore(next: TextPiece | undefined, as: Extract<TextPiece, { token: 'site' }>, { site, seat }: SiteIndex): string {
  const base = as.seat ? seat?.address ?? site : site;
  if (as.spelling !== 'folder') return written(base, as);
  return folderOf(base) || (typeof next === 'object' || (next !== undefined && BEGINS_WITH_SLASH.test(next)) ? '' : '/');
}
const BEGINS_WITH_SLASH = new RegExp(`^${SLASH}`);
