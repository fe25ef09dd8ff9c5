import type { Address } from '../core/address.ts';
import type { Kinds } from '../core/kind.ts';
import { settle, type Settlement } from '../core/settle.ts';
import type { SiteIndex } from '../core/siteindex.ts';
import type { FoundReference } from '../core/translate/portable.ts';
import type { SourceRow } from '../core/source.ts';
import { usualPath } from '../core/translate/local.ts';
import { withItem } from './cover.ts';
import type { Source } from './sources/source.ts';

/** What a target decides about references on the way to it. */
export interface Decisions {
  /** Content matched by hand: source address → target address. */
  readonly matches: Readonly<Record<Address, Address>>;
  /** Leave places empty that refer to what the target does not have. */
  readonly leaveMissing: boolean;
}

/** Carries decisions about references into rows, so that what is compared is what would be written. */
export class Settler {
  readonly #decisions: Decisions;
  readonly #index: SiteIndex;
  readonly #anything: boolean;
  readonly #carried: ReadonlySet<Address>;
  readonly #kinds: Kinds;

  /** Nothing that the source can point to needs a decision: references need not be looked at. */
  readonly #quiet: boolean;

  /** `target.anything`: it can hold a reference to whatever there is. */
  constructor(decisions: Decisions, target: { index: SiteIndex; anything: boolean }, carried: ReadonlySet<Address>, source: Pick<Source, 'kinds' | 'pointable'>) {
    this.#decisions = decisions;
    this.#index = target.index;
    this.#anything = target.anything;
    this.#carried = carried;
    this.#kinds = source.kinds;
    this.#quiet = source.pointable()?.every((address) => this.known(address) && this.#matched(address) === address) ?? false;
  }

  /** True where the target has it, or gets it. */
  known(address: Address): boolean { return this.#anything || this.#index.row(address) !== undefined || this.#carried.has(address); }

  /** References that the target can not follow: strong ones block, links are left as paths. */
  missing(row: SourceRow): FoundReference[] {
    return this.#quiet ? [] : row.references.filter((reference) => !this.known(this.#matched(reference.to)));
  }

  /** True where a decision changes this row. */
  concerns(row: SourceRow): boolean {
    if (this.#decisions.leaveMissing && row.lost.length > 0) return true;
    return !this.#quiet && row.references.some((reference) => this.#decide(reference.to, reference.strong));
  }

  async settled(row: SourceRow): Promise<SourceRow> {
    const kind = this.#kinds.get(row.kind);
    if (!kind || !this.concerns(row)) return row;
    const item = await row.load();
    const strong = new Set(row.references.filter((reference) => reference.strong).map((reference) => reference.to));
    const value = settle(item.value, (address) => this.#decide(address, strong.has(address)), (address) => usualPath(address, this.#kinds), this.#decisions.leaveMissing);
    return withItem(row, kind, { ...item, value });
  }

  #decide(address: Address, strong: boolean): Settlement | undefined {
    const matched = this.#matched(address);
    if (this.known(matched)) return matched === address ? undefined : { to: matched };
    return !strong || this.#decisions.leaveMissing ? { leave: true } : undefined;
  }

  #matched(address: Address): Address {
    return Object.hasOwn(this.#decisions.matches, address) ? this.#decisions.matches[address] as Address : address;
  }
}
