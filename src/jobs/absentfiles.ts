import type { Address } from '../core/address.ts';
import type { FollowUp } from '../core/route.ts';
import type { SourceRow } from '../core/source.ts';
import { AT_ONCE, inParallel } from './parallel.ts';
import { SiteSource } from './sources/site.ts';
import type { Source } from './sources/source.ts';

/** How a web server says that something is there, or that nothing is (RFC 9110, sections 15.3.1, 15.5.5 and 15.5.11). */
const [THERE, ABSENT]: readonly [number, ReadonlySet<number>] = [200, new Set([404, 410])];
/** Of more files than this the rest is not asked for. */
const MOST_ASKED = 200;

/** Files that what is carried speaks of, that no item brings and the target does not have; each with the first item that speaks of it. Of a source that can be asked only those that are there. */
export async function absentFiles(rows: Iterable<SourceRow>, source: Source, target: SiteSource): Promise<FollowUp[]> {
  const wanted = new Map<string, Address>();
  for (const { address, loose } of rows) for (const path of loose ?? []) if (!wanted.has(path)) wanted.set(path, address);
  const absent = await inParallel([...wanted].slice(0, MOST_ASKED), AT_ONCE, async ([path, item]): Promise<FollowUp[]> => {
    if (!ABSENT.has(await statusOf(target, path)) || (source instanceof SiteSource && ABSENT.has(await statusOf(source, path)))) return [];
    return [{ followUp: 'file-absent', item, path }];
  });
  return absent.flat();
}

/** Does a site answer that it has such a file? */
export async function hasFile(site: SiteSource, path: string): Promise<boolean> { return await statusOf(site, path) === THERE; }

function statusOf({ connector }: SiteSource, path: string): Promise<number> { return connector.fileStatus(path); }
