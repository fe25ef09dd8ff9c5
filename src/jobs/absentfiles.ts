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
  const [there, here] = [new PublicFiles(target), source instanceof SiteSource ? new PublicFiles(source) : undefined];
  const absent = await inParallel([...wanted].slice(0, MOST_ASKED), AT_ONCE, async ([path, item]): Promise<FollowUp[]> => {
    if (!ABSENT.has(await there.status(path)) || (here && ABSENT.has(await here.status(path)))) return [];
    return [{ followUp: 'file-absent', item, path }];
  });
  return absent.flat();
}

/** The files of a site, as visitors get them. A site that did not answer once is not asked again: each time would take as long. */
export class PublicFiles {
  readonly #site: SiteSource;
  #silent = false;

  constructor(site: SiteSource) { this.#site = site; }

  /** 0 where the site does not answer. */
  async status(path: string): Promise<number> {
    if (this.#silent) return 0;
    const status = await this.#site.connector.fileStatus(this.#site.index.urlOf(path));
    if (status === 0) this.#silent = true;
    return status;
  }

  async has(path: string): Promise<boolean> { return await this.status(path) === THERE; }
}
