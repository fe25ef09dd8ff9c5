import type { Address } from '../core/address.ts';
import { compareValues, type Change } from '../core/compare.ts';
import { project } from '../core/coverage.ts';
import { fingerprint } from '../core/item.ts';
import type { Coverage } from '../core/item.ts';
import { paired, type SourceRow } from '../core/source.ts';
import type { Source } from './sources/source.ts';
import { SiteSource } from './sources/site.ts';
import { dependsOnValue } from '../core/requirements.ts';
import { narrowed } from './cover.ts';
import { Settler, type Decisions } from './settle.ts';
import { select, type Selection } from './select.ts';
import { parseSelector, selection } from '../core/selector.ts';

export type ItemStatus = 'new' | 'differs' | 'same' | 'target-only';
/** What a comparison says of one item. `changes` are there only where it differs. */
export interface ItemFinding {
  readonly address: Address;
  readonly kind: string;
  readonly title: string;
  readonly status: ItemStatus;
  readonly covers: Coverage;
  readonly changes: readonly Change[];
  /** The source's row, with decisions carried in. */
  readonly source?: SourceRow;
  readonly target?: SourceRow;
  /** References of the source that the target cannot follow. */
  readonly missing: readonly { at: string; to: Address; strong: boolean }[];
}
/** `places: false`: say which items differ, and do not open them. */
export interface CompareOptions { readonly decisions?: Decisions | undefined; readonly places?: boolean; /** Read the target anew, whatever is remembered. */ readonly fresh?: boolean; /** Requirements will be asked of what differs. */ readonly values?: boolean }
export interface Comparison { readonly selection: Selection; readonly findings: AsyncIterable<ItemFinding> }
export const NO_DECISIONS: Decisions = { matches: {}, leaveMissing: false };

/** Compares what is chosen of a source with a target, as one walk over two sorted streams. */
export function compare(from: Source, to: Source, selectors: readonly string[], options: CompareOptions = {}): Comparison {
  const chosen = select(from, selectors);
  return { selection: chosen, findings: walk(from, to, selectors, chosen, options) };
}

async function* walk(from: Source, to: Source, selectors: readonly string[], chosen: Selection, { decisions = NO_DECISIONS, places = true, fresh = false, values = false }: CompareOptions): AsyncGenerator<ItemFinding> {
  const settler = to instanceof SiteSource ? new Settler(decisions, { index: to.index, anything: to.facts.abilities.portable === true }, new Set(chosen.chosen.keys()), from) : undefined;
  const kinds = new Set([...from.listed().values()].map((one) => one.kind));
  const parsed = selectors.map(parseSelector);
  const ofInterest = (row: SourceRow): boolean => (from instanceof SiteSource || kinds.has(row.kind)) && selection(parsed, row.address, row.kind) !== undefined;
  const some = chosen.everything ? undefined : new Set(chosen.chosen.keys());
  const targets = chosen.everything ? to.rows(undefined, { fresh }) : to.rows(new Set([...to.listed()].filter(([address, one]) => some?.has(address) || selection(parsed, address, one.kind) !== undefined).map(([address]) => address)), { fresh });
  const walking: Walk = { from, to, chosen, settler, places, values };
  let window: Pair[] = [];
  for await (const pair of paired(from.rows(some), targets)) {
    if (!pair.left && !(pair.right && ofInterest(pair.right))) continue;
    window.push(pair);
    if (window.length < WINDOW) continue;
    yield* findingsOf(window, walking);
    window = [];
  }
  yield* findingsOf(window, walking);
}

/** Values are fetched for so many pairs at a time. */
const WINDOW = 256;
interface Pair { readonly address: Address; readonly left?: SourceRow; readonly right?: SourceRow }

async function* findingsOf(window: readonly Pair[], walking: Walk): AsyncGenerator<ItemFinding> {
  const { from, to } = walking;
  const opened = window.filter((pair) => mustOpen(pair, walking));
  const absent = (side: 'left' | 'right'): Address[] => opened.flatMap((pair) => (pair[side] && pair[side].text === undefined ? [pair.address] : []));
  await Promise.all([from.preload(absent('left')), to.preload(absent('right'))]);
  for (const { left, right } of window) {
    if (left) yield await findingOf(left, right, walking);
    else if (right) yield { address: right.address, kind: right.kind, title: right.title, status: 'target-only', covers: 'all', changes: [], target: right, missing: [] };
  }
}

/** Will values be needed to say what there is to say of this pair? */
function mustOpen({ address, left, right }: Pair, { from, chosen, settler, places, values }: Walk): boolean {
  if (!left) return false;
  const kind = from.kinds.get(left.kind);
  if (values && kind && dependsOnValue(kind) && left.fingerprint !== right?.fingerprint) return true;
  const whole = left.covers === 'all' && chosen.chosen.get(address) === 'all';
  return !whole || settler?.concerns(left) === true || (places && right !== undefined && left.fingerprint !== right.fingerprint);
}

interface Walk { readonly from: Source; readonly to: Source; readonly chosen: Selection; readonly settler: Settler | undefined; readonly places: boolean; readonly values: boolean }

async function findingOf(left: SourceRow, right: SourceRow | undefined, { from, chosen, settler, places }: Walk): Promise<ItemFinding> {
  const kind = from.kinds.get(left.kind);
  const covered = kind ? await narrowed(left, kind, chosen.chosen.get(left.address) ?? 'all') : left;
  const source = settler ? await settler.settled(covered) : covered;
  const base = { address: left.address, kind: left.kind, title: left.title, covers: source.covers, source, missing: settler?.missing(covered) ?? [], ...(right ? { target: right } : {}) };
  if (!right) return { ...base, status: 'new', changes: [] };
  if (source.fingerprint === right.fingerprint) return { ...base, status: 'same', changes: [] };
  if (!places && source.covers === 'all') return { ...base, status: 'differs', changes: [] };
  const [item, whole] = await Promise.all([source.load(), right.load()]);
  const target = kind && source.covers !== 'all' ? project(kind, whole, source.covers) : whole;
  if (kind && source.covers !== 'all' && fingerprint(target) === source.fingerprint) return { ...base, status: 'same', changes: [] };
  const changes = kind ? compareValues(kind, item.value, target.value) : [];
  return { ...base, status: 'differs', changes };
}
