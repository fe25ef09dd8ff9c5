import type { Address } from '../../core/address.ts';
import { getOwn } from '../../core/json.ts';
import type { Kinds } from '../../core/kind.ts';
import type { SourceRow } from '../../core/source.ts';
import { NOTHING_TAKEN, takesPlace, type Takes } from '../../core/take.ts';
import { withoutPlaces } from '../../core/coverage.ts';
import { withItem } from '../cover.ts';
import { checkBeside } from '../../pochette/checker.ts';
import { Pochette } from '../../pochette/read.ts';
import type { Absent, Listed, Listing, Origin, Source } from './source.ts';

/** A pochette as a source. */
export class FileSource implements Source {
  readonly #listed: Listing;
  readonly pochette: Pochette;
  readonly refused: readonly Absent[] = [];
  readonly #closed = new AbortController();
  #takes: Takes = NOTHING_TAKEN;

  /** What it is called by: the word that named it. */
  readonly label: string;

  private constructor(pochette: Pochette, label: string) {
    this.label = label;
    this.pochette = pochette;
    this.#listed = new FileListing(pochette);
  }

  static async open(path: string, label = path): Promise<FileSource> {
    const pochette = await Pochette.open(path);
    try { return new FileSource(await pochette.openIndex(), label); } catch (error) { pochette.close(); throw error; }
  }

  get origin(): Origin { return this.pochette.about.origin; }
  get withoutMedia(): boolean { return this.pochette.about.choices.noMedia === true; }
  get kinds(): Kinds { return this.pochette.kinds; }
  listed(): Listing { return this.#listed; }
  content(): Listing { return new Map(); }

  unavailable(): Absent[] {
    return this.pochette.about.leftOut.filter((one) => one.at === '' && !this.#listed.has(one.address)).map((one) => ({ address: one.address, kind: '', title: one.address, why: one.why, remedy: one.remedy }));
  }

  check(): Promise<void> { return checkBeside(this.pochette, this.#closed.signal); }

  take(takes: Takes): void { this.#takes = takes; }
  mayBe(): boolean { return true; }
  aliasOf(address: Address): string | undefined { return getOwn(this.pochette.about.aliases, address); }

  async *rows(only?: ReadonlySet<Address>): AsyncGenerator<SourceRow> {
    for (const row of this.pochette.rows(only)) yield row.taken.length > 0 ? await this.#held(row) : row;
  }

  /** What the file holds on purpose is held back again, until it is asked for by name on this side too. */
  async #held(row: SourceRow): Promise<SourceRow> {
    const kind = this.kinds.get(row.kind);
    const take = this.#takes.get(row.address);
    const back = (row.taken ?? []).filter((one) => !(one.part !== undefined && take?.parts.has(one.part) === true) && !takesPlace(take, one.at));
    if (!kind || back.length === 0) return row;
    const without = withItem(row, kind, withoutPlaces(kind, await row.load(), back.map((one) => one.at)));
    return { ...without, taken: row.taken?.filter((one) => !back.includes(one)) ?? [], withheld: [...row.withheld, ...back.map((one) => ({ at: one.at, why: one.part === undefined ? 'site-bound' as const : 'unasked' as const, held: true }))] };
  }
  pointable(): undefined { return undefined; }
  preload(): Promise<void> { return Promise.resolve(); }
  mediaSize(digest: string) { return Promise.resolve(this.pochette.mediaSize(digest)); }
  media(digest: string) { return Promise.resolve(this.pochette.media(digest)); }
  close(): Promise<void> { this.#closed.abort(); this.pochette.close(); return Promise.resolve(); }
}

/** The items of a file. */
class FileListing implements Listing {
  readonly #pochette: Pochette;

  constructor(pochette: Pochette) { this.#pochette = pochette; }

  get size(): number { return this.#pochette.size; }
  has(address: Address): boolean { return this.#pochette.has(address); }
  get(address: Address): Listed | undefined { return this.#pochette.entry(address); }
  keys(): Iterable<Address> { return this.#pochette.addresses(); }
  *values(): Generator<Listed> { for (const [, one] of this) yield one; }
  [Symbol.iterator](): Iterator<[Address, Listed]> { return this.#pochette.entries(); }
}
