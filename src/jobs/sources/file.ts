import type { Address } from '../../core/address.ts';
import type { Kinds } from '../../core/kind.ts';
import type { SourceRow } from '../../core/source.ts';
import { Pochette } from '../../pochette/read.ts';
import type { Absent, Listed, Origin, Source } from './source.ts';

/** A pochette as a source. */
export class FileSource implements Source {
  readonly #listed: ReadonlyMap<Address, Listed>;
  readonly pochette: Pochette;
  readonly refused: readonly Absent[] = [];

  private constructor(pochette: Pochette, listed: ReadonlyMap<Address, Listed>) {
    this.pochette = pochette;
    this.#listed = listed;
  }

  static async open(path: string): Promise<FileSource> {
    const pochette = await Pochette.open(path);
    return new FileSource(pochette, new Map(pochette.rows().map((row) => [row.address, row])));
  }

  get label(): string { return this.pochette.path; }
  get origin(): Origin { return this.pochette.about.origin; }
  get kinds(): Kinds { return this.pochette.kinds; }
  listed(): ReadonlyMap<Address, Listed> { return this.#listed; }
  content(): ReadonlyMap<Address, Listed> { return new Map(); }

  unavailable(): Absent[] {
    return this.pochette.about.leftOut.filter((one) => one.at === '' && !this.#listed.has(one.address)).map((one) => ({ address: one.address, kind: '', title: one.address, why: one.why }));
  }

  rows(only?: ReadonlySet<Address>): AsyncIterable<SourceRow> { return eachOf(this.pochette.rows(only)); }
  pointable(): undefined { return undefined; }
  preload(): Promise<void> { return Promise.resolve(); }
  mediaSize(digest: string) { return Promise.resolve(this.pochette.mediaSize(digest)); }
  media(digest: string) { return Promise.resolve(this.pochette.media(digest)); }
  close(): Promise<void> { this.pochette.close(); return Promise.resolve(); }
}

async function* eachOf<T>(list: readonly T[]): AsyncGenerator<T> {
  for (const one of list) yield await Promise.resolve(one);
}
