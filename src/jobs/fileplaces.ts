import type { Kind } from '../core/kind.ts';
import { movedPaths, pathsOf, stemOf, withPaths, type Stem } from '../core/filepaths.ts';
import type { SourceRow } from '../core/source.ts';
import { withItem } from './cover.ts';
import type { SiteSource } from './sources/site.ts';

export interface PlacedFiles { readonly row: SourceRow; /** Where the main file goes, if another one is in its place. */ readonly instead?: string }

/** Gives the files of items their place on a target: where it has the item, they are what it calls them; a new one gives way to another file. */
export class FilePlaces {
  readonly #target: Pick<SiteSource, 'index' | 'connector'>;
  #taken: Map<string, string[]> | undefined;

  constructor(target: Pick<SiteSource, 'index' | 'connector'>) { this.#target = target; }

  /** `there`: what the target has under the same address. */
  async placed(row: SourceRow, kind: Kind, there: SourceRow | undefined): Promise<PlacedFiles> {
    if (kind.filePaths.length === 0 || row.fingerprint === there?.fingerprint) return { row };
    const item = await row.load();
    const paths = pathsOf(kind, item.value);
    const own = there && pathsOf(kind, (await there.load()).value);
    if (paths.length === 0 || own?.length === 0) return { row };
    const from = stemOf(paths);
    const moved = movedPaths(paths, from, own ? stemOf(own) : await this.#free(paths, from, row.files[0]));
    if (moved.size === 0) return { row };
    const instead = own ? undefined : moved.get(paths[0] ?? '');
    return { row: withItem(row, kind, { ...item, value: withPaths(kind, item.value, moved) }), ...(instead === undefined ? {} : { instead }) };
  }

  /** The first name under which no other file of the site is; also none that the site has no record of, if that is not this very file. */
  async #free(paths: readonly string[], from: Stem, file: string | undefined): Promise<Stem> {
    // Whatever is called otherwise stays where it is, and no number makes room for it.
    const movable = [...movedPaths(paths, from, { ...from, name: `${from.name}-` }).keys()];
    for (let number = 1; ; number++) {
      const to = number === 1 ? from : { ...from, name: `${from.name}-${number}` };
      const moved = movedPaths(movable, from, to);
      const names = movable.map((path) => moved.get(path) ?? path);
      if (names.some((path) => this.#isTaken(path))) continue;
      const there = await this.#target.connector.fileAt?.(names[0] ?? '');
      if (there !== undefined && there !== file) continue;
      for (const path of names) this.#take(path);
      return to;
    }
  }

  #isTaken(path: string): boolean { return this.#known.get(nameOf(path))?.some((other) => other === path || other.endsWith(`/${path}`)) === true; }

  #take(path: string): void {
    const name = nameOf(path);
    this.#known.set(name, [...this.#known.get(name) ?? [], path]);
  }

  /** Paths of all files that the site is known to have, by the name at their end. */
  get #known(): Map<string, string[]> {
    if (this.#taken) return this.#taken;
    this.#taken = new Map();
    for (const [, row] of this.#target.index.rows()) if (this.#target.index.kinds.get(row.kind)?.filePaths.length) for (const url of Object.values(row.urls ?? {})) this.#take(plain(url));
    return this.#taken;
  }
}

function nameOf(path: string): string { return path.slice(path.lastIndexOf('/') + 1); }

/** Addresses write some signs of a path in another way (RFC 3986, section 2.1). */
function plain(url: string): string { try { return decodeURIComponent(url); } catch { return url; } }
