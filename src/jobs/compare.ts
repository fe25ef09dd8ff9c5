import type { Address } from '../core/address.ts';
import { compareValues, type Change } from '../core/compare.ts';
import { project } from '../core/coverage.ts';
import { fingerprint } from '../core/item.ts';
import { byCodeUnit } from '../core/json.ts';
import type { Coverage } from '../core/item.ts';
import type { Kind } from '../core/kind.ts';
import type { Takes } from '../core/take.ts';
import { threeWay, type ChangedBy } from '../core/merge.ts';
import { paired, type SourceRow } from '../core/source.ts';
import type { Source } from './sources/source.ts';
import { SiteSource } from './sources/site.ts';
import { dependsOnValue } from '../core/requirements.ts';
import { narrowed } from './cover.ts';
import type { Bases } from './base.ts';
import { withBelow } from './below.ts';
import { chooser, type Choice } from './choice.ts';
import { refuseIdleTakes } from './idletake.ts';
import { collisionOf, knownRenames, type Collision } from './kinship.ts';
import { NO_WISHES, Passage, type Adjusted, type Passed, type Unmatched, type Wishes } from './passage.ts';
import { reusedMedia } from './reuse.ts';
import { select, type Selection } from './select.ts';

export type ItemStatus = 'new' | 'differs' | 'same' | 'target-only';
/** What a comparison says of one item. `changes` are there only where it differs. */
export interface ItemFinding {
  readonly address: Address;
  readonly kind: string;
  readonly title: string;
  readonly status: ItemStatus;
  readonly covers: Coverage;
  readonly changes: readonly Change[];
  /** The source's row as it would arrive. */
  readonly source?: SourceRow;
  readonly target?: SourceRow;
  /** Address and fingerprint on the source itself. */
  readonly own?: { readonly address: Address; readonly fingerprint: string };
  /** References of the source that the target cannot follow. */
  readonly unmatched: readonly Unmatched[];
  readonly adjusted: readonly Adjusted[];
  /** Who changed it since it was last carried between the two, where that is known. */
  readonly by?: ChangedBy;
  /** The same for each of the changes, in their order. */
  readonly placesBy?: readonly (ChangedBy | undefined)[];
  /** Places that both sides changed and that cannot be put together; there where both sides changed the item. */
  readonly clashes?: readonly string[];
  /** The target has something else under this address. */
  readonly collision?: Collision;
}
/** `places: false`: say which items differ, and do not open them. */
export interface CompareOptions { readonly wishes?: Wishes | undefined; /** What was last carried. */ readonly bases?: Bases | undefined; readonly places?: boolean; /** Read the target anew, whatever is remembered. */ readonly fresh?: boolean; /** Requirements will be asked of what differs. */ readonly values?: boolean; /** Whatever is referred to was chosen too. */ readonly closed?: boolean }
export interface Comparison { readonly selection: Selection; readonly findings: AsyncIterable<ItemFinding>; readonly passage: Passage | undefined; /** What is taken on purpose, by address on the target. */ readonly takes: Takes; /** Media that the target has under another name: source address → target address. */ readonly reused: ReadonlyMap<Address, Address> }

/** Compares what is chosen of a source with a target, as one walk over two sorted streams. */
export async function compare(from: Source, to: Source, choice: Choice, options: CompareOptions = {}): Promise<Comparison> {
  const all = select(from, choice);
  const given = options.wishes ?? NO_WISHES;
  const renamed = to instanceof SiteSource ? knownRenames(from, to, all.chosen.keys()) : new Map<Address, Address>();
  const wishes = renamed.size === 0 && given.as === undefined ? given : { ...given, as: await withBelow(from, all.chosen, { ...Object.fromEntries(renamed), ...given.as }) };
  const reused = to instanceof SiteSource ? await reusedMedia(from, to, all, { as: wishes.as ?? {}, closed: options.closed === true }) : new Map<Address, Address>();
  for (const address of [...reused.keys()]) if (wishes.as?.[address] !== undefined || wishes.matches[address] !== undefined) reused.delete(address);
  const selection = ![...reused.keys()].some((address) => all.chosen.has(address)) ? all : { ...all, everything: false, chosen: new Map([...all.chosen].filter(([address]) => !reused.has(address))) };
  const passage = to instanceof SiteSource ? new Passage(from, to, { ...wishes, matches: { ...Object.fromEntries(reused), ...wishes.matches } }, selection) : undefined;
  from.take(selection.takes);
  const takes: Takes = new Map([...selection.takes].map(([address, take]) => [passage?.addressOf(address) ?? address, take]));
  to.take(takes);
  return { selection, passage, takes, reused, findings: walk({ bases: options.bases, choice, from, to, selection, passage, places: options.places ?? true, values: options.values ?? false }, options.fresh ?? false) };
}

async function* walk(walking: Walk, fresh: boolean): AsyncGenerator<ItemFinding> {
  const { from, to, selection, passage, choice } = walking;
  let kinds: ReadonlySet<string> | undefined;
  const { since: _since, ...lasting } = choice;
  const wanted = chooser(lasting);
  const ofInterest = (row: Pick<SourceRow, 'address' | 'kind' | 'title'>): boolean => (from instanceof SiteSource || (kinds ??= kindsOf(from)).has(row.kind)) && wanted.of(row.address, row) !== undefined;
  const arrives = (address: Address): boolean => passage?.arrives(address) ?? selection.chosen.has(address);
  const targets = selection.everything ? to.rows(undefined, { fresh }) : to.rows(new Set([...to.listed()].flatMap(([address, one]) => (arrives(address) || ofInterest({ address, ...one }) ? [address] : []))), { fresh });
  let window: Pair[] = [];
  for await (const { address, left, right } of paired(arrivals(walking), targets)) {
    if (!left && !(right && ofInterest(right))) continue;
    window.push({ address, ...(left ? { left: left.row } : {}), ...(right ? { right } : {}), equal: left !== undefined && equalAsTheyAre(left.row, right, walking) });
    if (window.length < WINDOW) continue;
    yield* findingsOf(window, walking);
    window = [];
  }
  yield* findingsOf(window, walking);
}

function kindsOf(source: Source): ReadonlySet<string> {
  const kinds = new Set<string>();
  for (const one of source.listed().values()) kinds.add(one.kind);
  return kinds;
}

/** Rows of the source in the order of the addresses that they get on the target. */
async function* arrivals({ from, selection, passage }: Walk): AsyncGenerator<{ address: Address; row: SourceRow }> {
  const moved = new Set(passage?.renamed());
  const renamed: { address: Address; row: SourceRow }[] = [];
  if (moved.size > 0) for await (const row of from.rows(moved)) renamed.push({ address: passage?.addressOf(row.address) ?? row.address, row });
  renamed.sort((a, b) => byCodeUnit(b.address, a.address));
  const rest = selection.everything && moved.size === 0 ? undefined : new Set([...selection.chosen.keys()].filter((address) => !moved.has(address)));
  if (rest === undefined || rest.size > 0) {
    for await (const row of from.rows(rest)) {
      for (let next = renamed.at(-1); next && byCodeUnit(next.address, row.address) < 0; next = renamed.at(-1)) { yield next; renamed.pop(); }
      yield { address: row.address, row };
    }
  }
  yield* renamed.reverse();
}

/** Values are fetched for so many pairs at a time. */
const WINDOW = 256;
interface Pair { readonly address: Address; readonly left?: SourceRow; readonly right?: SourceRow; /** Nothing on the way can make them differ: they need not be looked into. */ readonly equal: boolean }

async function* findingsOf(window: readonly Pair[], walking: Walk): AsyncGenerator<ItemFinding> {
  const { from, to, bases, places, passage } = walking;
  const differing = window.filter(({ left, right }) => left && right && left.fingerprint !== right.fingerprint);
  const opened = new Set(window.filter((pair) => mustOpen(pair, walking)));
  const absent = (side: 'left' | 'right', pairs: Iterable<Pair>): Address[] => [...pairs].flatMap((pair) => { const row = pair[side]; return row && row.text === undefined ? [row.address] : []; });
  const both = bases ? window.filter((pair) => pair.left && !pair.equal && (pair.left.covers !== 'all' || (places && bases.changedBy(pair.left, pair.right) === 'both'))) : [];
  await from.preload(absent('left', passage ? new Set([...opened, ...differing]) : opened));
  // Values of the target are opened only where something in those of the source could be written alike there.
  const alike = new Set<Pair>();
  for (const pair of passage ? differing : []) if (opened.has(pair) || await passage?.couldBeAlike(pair.left as SourceRow, pair.right as SourceRow)) alike.add(pair);
  await Promise.all([to.preload(absent('right', new Set([...opened, ...alike]))), bases?.fetch(both.map((pair) => pair.address))]);
  for (const pair of window) {
    const { left, right, equal } = pair;
    if (left) refuseIdleTakes(left, walking.choice.take);
    if (left && right && equal) yield { address: left.address, kind: left.kind, title: left.title, status: 'same', covers: 'all', changes: [], source: left, target: right, own: left, unmatched: [], adjusted: [] };
    else if (left) yield await findingOf(left, right, walking, alike.has(pair));
    else if (right) yield { address: right.address, kind: right.kind, title: right.title, status: 'target-only', covers: 'all', changes: [], target: right, unmatched: [], adjusted: [], ...byOf(walking.bases, undefined, right) };
  }
}

function equalAsTheyAre(left: SourceRow, right: SourceRow | undefined, { selection, passage }: Walk): boolean {
  return left.fingerprint === right?.fingerprint && left.covers === 'all' && selection.chosen.get(left.address) === 'all' && passage?.leavesAlone(left) !== false;
}

/** Will values be needed to say what there is to say of this pair? */
function mustOpen({ left, right, equal }: Pair, { from, selection, passage, places, values }: Walk): boolean {
  if (!left || equal) return false;
  const kind = from.kinds.get(left.kind);
  if (values && kind && dependsOnValue(kind) && left.fingerprint !== right?.fingerprint) return true;
  const whole = left.covers === 'all' && selection.chosen.get(left.address) === 'all';
  return !whole || passage?.concerns(left) === true || (places && right !== undefined && left.fingerprint !== right.fingerprint);
}

interface Walk { readonly bases: Bases | undefined; readonly choice: Choice; readonly from: Source; readonly to: Source; readonly selection: Selection; readonly passage: Passage | undefined; readonly places: boolean; readonly values: boolean }

async function findingOf(left: SourceRow, right: SourceRow | undefined, { from, to, selection, passage, places, bases }: Walk, alike: boolean): Promise<ItemFinding> {
  const kind = passage?.kindOf(left) ?? from.kinds.get(left.kind);
  const covers = selection.chosen.get(left.address) ?? 'all';
  const { row: source, unmatched, adjusted } = passage ? await passedOver(passage, left, right, alike) : { row: kind ? await narrowed(left, kind, covers) : left, unmatched: [], adjusted: [] };
  const base = { address: source.address, kind: left.kind, title: left.title, covers: source.covers, source, unmatched, adjusted, own: { address: left.address, fingerprint: left.fingerprint }, ...(right ? { target: right } : {}) };
  if (!right) return { ...base, status: 'new', changes: [], ...byOf(bases, source, undefined) };
  if (source.fingerprint === right.fingerprint) return { ...base, status: 'same', changes: [] };
  const by = byOf(bases, source, right);
  // What was put onto another one by name is meant to be.
  const collision = by.by === undefined && left.address === source.address && passage && to instanceof SiteSource ? await collisionOf(from, to, source, right, left.address) : undefined;
  if (collision) return { ...base, status: 'differs', collision, ...(places ? await differing(kind, source, right, undefined) : { changes: [] }) };
  if (!places && source.covers === 'all') return { ...base, status: 'differs', changes: [], ...by };
  return { ...base, ...by, ...(await differing(kind, source, right, by.by === 'both' || source.covers !== 'all' ? bases : undefined)) };
}

async function passedOver(passage: Passage, left: SourceRow, right: SourceRow | undefined, alike: boolean): Promise<Passed> {
  const passed = await passage.pass(left, right);
  return right && alike ? { ...passed, row: (await passage.asReadThere(passed.row, right)).row } : passed;
}

/** Opens both values: are they the same in what is covered, and if not, where and by whom do they differ? */
async function differing(kind: Kind | undefined, source: SourceRow, target: SourceRow, bases: Bases | undefined): Promise<Pick<ItemFinding, 'status' | 'changes' | 'by' | 'placesBy' | 'clashes'>> {
  const [item, whole] = await Promise.all([source.load(), target.load()]);
  if (!kind) return { status: 'differs', changes: [] };
  const there = source.covers === 'all' ? whole : project(kind, whole, source.covers);
  if (source.covers !== 'all' && fingerprint(there) === source.fingerprint) return { status: 'same', changes: [] };
  const changes = compareValues(kind, item.value, there.value);
  const own = source.covers === 'all' ? undefined : bases?.partsChangedBy(kind, item, there);
  const values = source.covers === 'all' || own === 'both' ? bases?.values(source.address, kind, source.covers) : undefined;
  const both = values && threeWay(kind, values, item.value, there.value);
  return { status: 'differs', changes, ...(own ? { by: own } : {}), ...(both ? { placesBy: changes.map((change) => both.by(change.at)), clashes: both.clashes } : {}) };
}

function byOf(bases: Bases | undefined, source: SourceRow | undefined, target: SourceRow | undefined): { by?: ChangedBy } {
  const by = bases?.changedBy(source, target);
  return by === undefined ? {} : { by };
}
