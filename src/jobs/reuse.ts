import type { Address } from '../core/address.ts';
import { holdsFiles, type Selection } from './select.ts';
import type { SiteSource } from './sources/site.ts';
import type { Source } from './sources/source.ts';

/**
 * Chosen media that the target has under another name: the same bytes are not carried twice. Source address → target address.
 * What arrives itself, and so may become another picture, is not taken for one.
 */
export async function reusedMedia(source: Source, target: SiteSource, { chosen }: Selection, as: Readonly<Record<Address, Address>>): Promise<Map<Address, Address>> {
  const listed = source.listed();
  const reused = new Map<Address, Address>();
  if (![...source.kinds.values()].some((kind) => kind.files.length > 0)) return reused;
  const fresh = new Set<Address>();
  for (const address of chosen.keys()) if (!target.index.has(address) && holdsFiles(source.kinds, listed.get(address)?.kind ?? '')) fresh.add(address);
  if (fresh.size === 0) return reused;
  const arriving = new Set([...chosen.keys()].map((address) => as[address] ?? address));
  const there = new Set([...target.listed()].filter(([address, { kind }]) => holdsFiles(target.kinds, kind) && !arriving.has(address)).map(([address]) => address));
  if (there.size === 0) return reused;
  const byFile = new Map<string, Address>();
  for await (const row of target.rows(there)) { const [file] = row.files; if (file !== undefined && !byFile.has(file)) byFile.set(file, row.address); }
  for await (const row of source.rows(fresh)) {
    // Other sizes of it may be cut otherwise, and are found by what they are called.
    const same = byFile.get(row.files[0] ?? '');
    if (same !== undefined) reused.set(row.address, same);
  }
  return reused;
}
