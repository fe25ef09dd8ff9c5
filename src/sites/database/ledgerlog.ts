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
/** What the blocks come to, and how many entries they have. */
export interface Folded { readonly origins: readonly Origin[]; readonly bases: BaseTable; readonly logged: number }

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

/** `where`: the table that they are from. Throws an `unreadable` problem for a block that this version did not write. */
export function fold(texts: readonly string[], where: string): Folded {
  const origins = new Map<string, Origin>();
  const bases = new BaseTable();
  let logged = 0;
  for (const text of texts) {
    const block = readBlock(text, where);
    const { fromSite = '', run = '' } = block;
    for (const address of block.forget ?? []) origins.delete(address);
    for (const one of block.origins ?? []) origins.set(one.address, one);
    const from = bases.from(fromSite);
    for (const address of block.forgetBases ?? []) from.remove(address);
    for (const [address, source, target = source, covers] of block.bases ?? []) from.set({ address, source, target, run, covers });
    logged += [block.forget, block.origins, block.forgetBases, block.bases].reduce((sum, list) => sum + (list?.length ?? 0), 0);
  }
  return { origins: sorted(origins.values()), bases, logged };
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
