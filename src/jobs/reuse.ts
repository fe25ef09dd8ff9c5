import type { Address } from '../core/address.ts';
import { holdsFiles, type Selection } from './select.ts';
import type { SiteSource } from './sources/site.ts';
import type { Source } from './sources/source.ts';

/**
 * Media that the target has under another name, of those that were chosen or are referred to by what was chosen: the same bytes are not carried
 * twice, and mean the same. Source address → target address. What arrives itself, and so may become another picture, is not taken for one.
 * `closed`: whatever is referred to was chosen too.
 */
export async function reusedMedia(source: Source, target: SiteSource, { chosen, everything }: Selection, { as, closed }: { as: Readonly<Record<Address, Address>>; closed: boolean }): Promise<Map<Address, Address>> {
  const reused = new Map<Address, Address>();
  if (![...source.kinds.values()].some((kind) => kind.files.length > 0)) return reused;
  const absent = new Set<Address>();
  for (const [address, { kind }] of source.listed()) if (!target.index.has(address) && holdsFiles(source.kinds, kind)) absent.add(address);
  if (absent.size === 0) return reused;
  const arriving = new Set([...chosen.keys()].map((address) => as[address] ?? address));
  const there = new Set([...target.listed()].filter(([address, { kind }]) => holdsFiles(target.kinds, kind) && !arriving.has(address)).map(([address]) => address));
  if (there.size === 0) return reused;
  const fresh = new Set([...absent].filter((address) => chosen.has(address)));
  if (!everything && !closed && fresh.size < absent.size) for await (const row of source.rows(new Set(chosen.keys()))) for (const { to } of row.references) if (absent.has(to)) fresh.add(to);
  if (fresh.size === 0) return reused;
  const byFile = new Map<string, Address>();
  for await (const row of target.rows(there)) { const [file] = row.files; if (file !== undefined && !byFile.has(file)) byFile.set(file, row.address); }
  for await (const row of source.rows(fresh)) {
    // Other sizes of it may be cut otherwise, and are found by what they are called.
    const same = byFile.get(row.files[0] ?? '');
    if (same !== undefined) reused.set(row.address, same);
  }
  return reused;
}
