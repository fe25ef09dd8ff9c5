import * as z from 'zod';
import { BaseTable } from '../../core/basetable.ts';
import { byCodeUnit, groupBy, inChunks } from '../../core/json.ts';
import { Problem } from '../../core/problem.ts';
import { Origin, type BaseEntry, type LedgerChange } from '../../protocol/index.ts';

/** So many entries stand together. */
const BLOCK = 500;

/**
 * A block of the log of a ledger: some entries of one change. Whoever reads goes through the blocks in their order; a later entry replaces an earlier one.
 * Rows of their own would take longer than the import that made them: every item of a site has an entry. A base is `[address, source, target, parts]`,
 * without the target where both sides were alike.
 */
const Block = z.strictObject({
  origins: z.array(Origin).optional(),
  forget: z.array(z.string()).optional(),
  fromSite: z.string().optional(),
  run: z.string().optional(),
  bases: z.array(z.tuple([z.string(), z.string(), z.string().optional(), z.array(z.string()).optional()])).optional(),
  forgetBases: z.array(z.string()).optional(),
});
type Block = z.output<typeof Block>;
type Entries = Pick<LedgerChange, 'origins' | 'forget' | 'bases' | 'forgetBases'>;

/** A change as blocks, in JSON. What is forgotten stands before what is new. */
export function blocksOf({ origins = [], forget = [], bases = [], forgetBases = [] }: Entries): string[] {
  const blocks: Block[] = [
    ...pieces(forget).map((some) => ({ forget: some })), ...pieces(origins).map((some) => ({ origins: some })),
    ...alike(forgetBases, ({ fromSite }) => fromSite).flatMap(([{ fromSite }, same]) => pieces(same).map((some) => ({ fromSite, forgetBases: some.map((one) => one.address) }))),
    ...alike(bases, ({ fromSite, run }) => `${run} ${fromSite}`).flatMap(([{ fromSite, run }, same]) => pieces(same).map((some) => ({ fromSite, run, bases: some.map(written) }))),
  ];
  return blocks.map((block) => JSON.stringify(block));
}

function written({ address, source, target, covers }: BaseEntry): NonNullable<Block['bases']>[number] {
  if (covers) return [address, source, target, covers];
  return source === target ? [address, source] : [address, source, target];
}

/** What the blocks come to that are taken up, in their order: of a large site there are too many to have all of them at once. */
export class Folded {
  readonly bases = new BaseTable();
  /** Entries that were taken up. */
  logged = 0;
  readonly #origins = new Map<string, Origin>();
  readonly #where: string;

  /** `where`: the table that they are from. */
  constructor(where: string) { this.#where = where; }

  get origins(): Origin[] { return sorted(this.#origins.values()); }

  /** Throws an `unreadable` problem for a block that this version did not write. */
  take(text: string): void {
    const block = readBlock(text, this.#where);
    const { fromSite = '', run = '' } = block;
    for (const address of block.forget ?? []) this.#origins.delete(address);
    for (const one of block.origins ?? []) this.#origins.set(one.address, one);
    const from = this.bases.from(fromSite);
    for (const address of block.forgetBases ?? []) from.remove(address);
    for (const [address, source, target = source, covers] of block.bases ?? []) from.set({ address, source, target, run, covers });
    this.logged += [block.forget, block.origins, block.forgetBases, block.bases].reduce((sum, list) => sum + (list?.length ?? 0), 0);
  }
}

function readBlock(text: string, where: string): Block {
  try { return Block.parse(JSON.parse(text)); } catch (cause) {
    throw new Problem('unreadable', 'what Pochette remembers there of earlier imports is not understood', { where, cause, remedy: 'it was made by another version, or altered: update Pochette; or remove the rows that begin with "log " (who changed what since is then not known)' });
  }
}

function sorted<T extends { readonly address: string; readonly fromSite: string }>(list: Iterable<T>): T[] { return [...list].sort((a, b) => byCodeUnit(a.address, b.address) || byCodeUnit(a.fromSite, b.fromSite)); }

function pieces<T>(list: readonly T[]): T[][] {
  return [...inChunks(list, BLOCK)];
}

function alike<T>(list: readonly T[], keyOf: (one: T) => string): [T, T[]][] {
  return [...groupBy(list, keyOf).values()].map((same): [T, T[]] => [same[0] as T, same]);
}
