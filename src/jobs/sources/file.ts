import type { Address } from '../../core/address.ts';
import type { Kinds } from '../../core/kind.ts';
import type { SourceRow } from '../../core/source.ts';
import { NOTHING_TAKEN, takesPlace, type Takes } from '../../core/take.ts';
import { withoutPlaces } from '../../core/coverage.ts';
import { withItem } from '../cover.ts';
import { checkBeside } from '../../pochette/checker.ts';
import { Pochette } from '../../pochette/read.ts';
import type { Absent, Listed, Origin, Source } from './source.ts';

/** A pochette as a source. */
export class FileSource implements Source {
  readonly #listed: ReadonlyMap<Address, Listed>;
  readonly pochette: Pochette;
  readonly refused: readonly Absent[] = [];
  readonly #closed = new AbortController();
  #takes: Takes = NOTHING_TAKEN;

  /** What it is called by: the word that named it. */
  readonly label: string;

  private constructor(pochette: Pochette, listed: ReadonlyMap<Address, Listed>, label: string) {
    this.label = label;
    this.pochette = pochette;
    this.#listed = listed;
  }

  static async open(path: string, label = path): Promise<FileSource> {
    const pochette = await Pochette.open(path);
    return new FileSource(pochette, new Map(pochette.rows().map((row) => [row.address, row])), label);
  }

  get origin(): Origin { return this.pochette.about.origin; }
  get withoutMedia(): boolean { return this.pochette.about.choices.noMedia === true; }
  get kinds(): Kinds { return this.pochette.kinds; }
  listed(): ReadonlyMap<Address, Listed> { return this.#listed; }
  content(): ReadonlyMap<Address, Listed> { return new Map(); }

  unavailable(): Absent[] {
    return this.pochette.about.leftOut.filter((one) => one.at === '' && !this.#listed.has(one.address)).map((one) => ({ address: one.address, kind: '', title: one.address, why: one.why, remedy: one.remedy }));
  }

  check(): Promise<void> { return checkBeside(this.pochette, this.#closed.signal); }

  take(takes: Takes): void { this.#takes = takes; }
  mayBe(): boolean { return true; }

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
