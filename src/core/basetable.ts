import type { Address } from './address.ts';
import { Numbers, Texts, TextSet } from './columns.ts';

/** What was last carried of an item, or of parts of it, from a site: digests of the source's form as carried and of the target's as read back, and the run. */
export interface BaseEntry { readonly address: Address; readonly fromSite: string; readonly source: string; readonly target: string; readonly run: string; readonly covers?: string[] | undefined }

/** What was last carried to one site from another, in columns: there can be as many entries as it has items. An entry is made when it is asked for. */
export class BasesFrom implements Iterable<BaseEntry> {
  readonly #fromSite: string;
  readonly #addresses = new TextSet();
  readonly #runs = new TextSet();
  readonly #digests = new Texts();
  /** The run's number plus one; 0 for an entry that was removed. */
  readonly #run = new Numbers({ whole: true });
  readonly #source = new Numbers({ whole: true });
  readonly #target = new Numbers({ whole: true });
  readonly #covers = new Map<number, string[]>();
  #size = 0;

  constructor(fromSite: string) { this.#fromSite = fromSite; }

  get size(): number { return this.#size; }

  set({ address, source, target, run, covers }: Omit<BaseEntry, 'fromSite'>): void {
    const at = this.#addresses.add(address);
    if (!this.#isThere(at)) this.#size++;
    const from = this.#digests.push(source);
    this.#run.put(at, this.#runs.add(run) + 1);
    this.#source.put(at, from);
    // Of most items both sides are alike.
    this.#target.put(at, source === target ? from : this.#digests.push(target));
    if (covers) this.#covers.set(at, covers); else this.#covers.delete(at);
  }

  get(address: Address): BaseEntry | undefined {
    const at = this.#find(address);
    return at === undefined ? undefined : this.#entry(at, address);
  }

  has(address: Address): boolean { return this.#find(address) !== undefined; }

  remove(address: Address): void {
    const at = this.#find(address);
    if (at === undefined) return;
    this.#run.put(at, 0);
    this.#size--;
  }

  *[Symbol.iterator](): Generator<BaseEntry> { for (let at = 0; at < this.#addresses.size; at++) if (this.#isThere(at)) yield this.#entry(at, this.#addresses.at(at)); }

  #find(address: Address): number | undefined {
    const at = this.#addresses.find(address);
    return at !== undefined && this.#isThere(at) ? at : undefined;
  }

  #isThere(at: number): boolean { return at < this.#run.length && this.#run.at(at) > 0; }

  #entry(at: number, address: Address): BaseEntry {
    const covers = this.#covers.get(at);
    const [from, to] = [this.#source.at(at), this.#target.at(at)];
    const source = this.#digests.at(from);
    return { address, fromSite: this.#fromSite, source, target: from === to ? source : this.#digests.at(to), run: this.#runs.at(this.#run.at(at) - 1), ...(covers ? { covers } : {}) };
  }
}

/** The same from wherever. */
export class BaseTable implements Iterable<BaseEntry> {
  readonly #bySite = new Map<string, BasesFrom>();

  constructor(entries: Iterable<BaseEntry> = []) { for (const one of entries) this.from(one.fromSite).set(one); }

  get size(): number { let size = 0; for (const one of this.#bySite.values()) size += one.size; return size; }

  from(site: string): BasesFrom {
    const known = this.#bySite.get(site) ?? new BasesFrom(site);
    this.#bySite.set(site, known);
    return known;
  }

  *[Symbol.iterator](): Generator<BaseEntry> { for (const one of this.#bySite.values()) yield* one; }
}
