import type { Address } from '../core/address.ts';
import type { Block, Planned } from '../core/route.ts';
import type { LeftOut } from './sources/source.ts';

/** What is known of the way, to say what has to stay behind. */
export interface Way {
  readonly planned: readonly Planned[];
  readonly blocks: readonly Block[];
  /** Only these may be left out. */
  readonly only: 'all' | ReadonlySet<Address>;
  /** What comes along, with what it comes for. */
  readonly brought: ReadonlyMap<Address, Address>;
  readonly isThere: (address: Address) => boolean;
}

/** Whole items that cannot be imported: what is blocked, what cannot be created without it, and what came along for it only. */
export function staysBehind(way: Way): Map<Address, LeftOut> {
  const out = new Map<Address, LeftOut>();
  for (const block of way.blocks) for (const address of itemsOf(block)) if (!out.has(address) && (way.only === 'all' || way.only.has(address))) out.set(address, { address, at: '', block, why: '', remedy: '' });
  for (let size = -1; size !== out.size;) {
    size = out.size;
    for (const item of way.planned) {
      const why = out.has(item.address) ? undefined : reason(item, way, out);
      if (why) out.set(item.address, { address: item.address, at: '', ...why });
    }
  }
  return out;
}

/** The items that a block keeps back. */
export function itemsOf(block: Block): readonly Address[] {
  if (block.block === 'requirement') return block.unmet.requirement.neededBy;
  return block.block === 'read-only' ? [] : [block.item];
}

function reason({ address, needs }: Planned, { planned, brought, isThere }: Way, out: ReadonlyMap<Address, LeftOut>): Pick<LeftOut, 'why' | 'remedy'> | undefined {
  const need = needs.find((one) => out.has(one) && !isThere(one));
  if (need !== undefined) return { why: `it refers to ${need}, which cannot be imported`, remedy: `settle what keeps ${need} back` };
  const by = brought.get(address);
  if (by === undefined || !out.has(by) || planned.some((other) => !out.has(other.address) && other.needs.includes(address))) return undefined;
  return { why: `it came along for ${by} only`, remedy: 'choose it, if it is wanted all the same' };
}
