import { placeOf, type Address } from '../core/address.ts';
import { checkRequirements, RequirementList } from '../core/requirements.ts';
import { planSteps, type Block, type FollowUp, type Planned, type PlannedFile, type Route } from '../core/route.ts';
import { threeWay } from '../core/merge.ts';
import type { SourceRow } from '../core/source.ts';
import type { Takes } from '../core/take.ts';
import type { Bases } from './base.ts';
import { chooser, type Choice } from './choice.ts';
import { compare, type ItemFinding, type ItemStatus } from './compare.ts';
import { AT_ONCE, inParallel } from './parallel.ts';
import { bringAlong, type Along } from './along.ts';
import { companions, select, type Selection } from './select.ts';
import type { Adjusted, Passage, Wishes } from './passage.ts';
import { REQUEST_MARGIN } from './run/run.ts';
import { rowRequirements, withItem } from './cover.ts';
import { SiteSource } from './sources/site.ts';
import type { LeftOut, Source } from './sources/source.ts';
import { staysBehind } from './staysbehind.ts';
import type { OnProgress } from './workspace.ts';

/** What was chosen, and what was decided about its way. */
export interface Choices extends Wishes {
  readonly choice: Choice;
  readonly alone: boolean;
  /** What is created stays unseen by visitors until it is published. */
  readonly draft?: boolean;
  /** Whose version is taken where the target was changed since the last import: for all, or item by item. */
  readonly decide?: { readonly all?: Side; readonly items: Readonly<Record<Address, Side>> };
  /** Import what can be imported, and list the rest. */
  readonly allowMissing?: boolean;
}
export type Side = 'source' | 'target';
/** A route with all that is needed to go it. */
export interface Plan {
  readonly source: Source;
  readonly target: SiteSource;
  readonly choices: Choices;
  readonly passage: Passage;
  /** What is taken on purpose, by address on the target. */
  readonly takes: Takes;
  readonly route: Route;
  /** What will be written, by address on the target, as it will arrive. */
  readonly rows: ReadonlyMap<Address, SourceRow>;
  readonly counts: Readonly<Record<ItemStatus, number>>;
  readonly broughtAlong: readonly { address: Address; for: Address }[];
  readonly leftOut: readonly LeftOut[];
  readonly adjusted: readonly Adjusted[];
  /** Left as the target has it, because it was changed or removed there since the last import; or by decision. */
  readonly kept: readonly Address[];
  /** Changed on both sides in different places and put together, with the source's own row. */
  readonly merged: ReadonlyMap<Address, SourceRow>;
  /** Equal on both sides: fingerprints by address. */
  readonly same: ReadonlyMap<Address, { source: string; target: string }>;
  /** Asked for as drafts, and seen at once all the same: updates, and what cannot be a draft. */
  readonly seenAtOnce: readonly Address[];
}

/** Compares, checks requirements and puts what has to be written in order. Writes nothing. */
export async function plan(source: Source, target: SiteSource, choices: Choices, onProgress: OnProgress, bases?: Bases): Promise<Plan> {
  const { choice } = choices;
  const first = chooser(choice).everything ? undefined : select(source, choice);
  const isThere = (address: Address): boolean => target.index.row(address) !== undefined;
  const broughtAlong = choices.alone || !first ? [] : await bringAlong(source, first.chosen, { noMedia: choice.noMedia === true, isThere });
  const { selection, findings, passage, takes, reused } = await compare(source, target, first ? withBrought(choice, first, broughtAlong) : choice, { wishes: choices, places: false, values: true, bases });
  const draft = new Draft({ source, target, choices, passage: passage as Passage, bases, brought: new Map(broughtAlong.map((one) => [one.address, one.for])), reused });
  let done = 0;
  for await (const finding of findings) {
    await draft.take(finding);
    onProgress({ phase: 'comparing', done: ++done, total: Math.max(selection.chosen.size, done) });
  }
  const cannot = [...selection.cannot, ...source.refused].map(({ address, why, remedy }): LeftOut => ({ address, at: '', why, remedy: remedy ?? '' }));
  const finished = await draft.finish([...cannot, ...leftBehind(source, selection.chosen)]);
  const left = new Set(finished.leftOut.filter((one) => one.at === '').map((one) => one.address));
  return { source, target, choices, passage: passage as Passage, takes, broughtAlong: [...(first?.needed ?? []), ...broughtAlong].filter((one) => !left.has(one.address)), ...finished };
}

/** The same choice with what was brought along, which comes whatever the filters say of it. */
function withBrought(choice: Choice, first: Selection, brought: Along): Choice {
  if (brought.length === 0) return choice;
  const chosen = [...first.chosen].flatMap(([address, covers]) => (covers === 'all' ? [address] : covers.map((part) => `${address}#${part}`)));
  return { selectors: [...chosen, ...brought.map((one) => one.address)], ...(choice.take ? { take: choice.take } : {}), ...(choice.noMedia === true ? { noMedia: true } : {}) };
}

/** Items of other owners that belong to chosen ones, and do not come. */
export function leftBehind(source: Source, chosen: ReadonlyMap<Address, unknown>): LeftOut[] {
  const listed = source.listed();
  return [...chosen.keys()].flatMap((address) => {
    const { there, absent } = companions(source, address, listed.get(address)?.kind ?? '');
    return [
      ...there.filter((one) => !chosen.has(one)).map((one) => ({ address: one, at: '', why: `${address} belongs together with it, and it was not chosen`, remedy: `choose ${one} too` })),
      ...absent.map((one) => ({ address: one.address, at: '', why: `${address} belongs together with it: ${one.why}`, remedy: one.remedy ?? '' })),
    ];
  });
}

/** What a route is drafted on. */
interface Ground {
  readonly source: Source;
  readonly target: SiteSource;
  readonly choices: Choices;
  readonly passage: Passage;
  readonly bases: Bases | undefined;
  /** What comes along, with what it comes for. */
  readonly brought: ReadonlyMap<Address, Address>;
  /** Media that the target has under another name. */
  readonly reused: ReadonlyMap<Address, Address>;
}

/** Gathers findings into a route. */
class Draft {
  readonly #source: Source;
  readonly #target: SiteSource;
  readonly #choices: Choices;
  readonly #passage: Passage;
  #planned: Planned[] = [];
  readonly #rows = new Map<Address, SourceRow>();
  #blocks: Block[] = [];
  #followUps: FollowUp[] = [];
  readonly #adjusted: Adjusted[];
  readonly #kept: Address[] = [];
  readonly #merged = new Map<Address, SourceRow>();
  readonly #same = new Map<Address, { source: string; target: string }>();
  readonly #bases: Bases | undefined;
  readonly #leftOut: LeftOut[] = [];
  readonly #requirements = new RequirementList();
  readonly #counts: Record<ItemStatus, number> = { new: 0, differs: 0, same: 0, 'target-only': 0 };

  readonly #listed: ReadonlyMap<Address, unknown>;
  readonly #brought: ReadonlyMap<Address, Address>;

  constructor({ source, target, choices, passage, bases, brought, reused }: Ground) {
    this.#brought = brought;
    this.#bases = bases;
    this.#adjusted = [...reused].map(([from, item]) => ({ adjusted: 'reused', item, from }));
    this.#source = source;
    this.#listed = source.listed();
    this.#target = target;
    this.#choices = choices;
    this.#passage = passage;
  }

  async take(finding: ItemFinding): Promise<void> {
    this.#counts[finding.status]++;
    const { source: passed, address } = finding;
    if (finding.status === 'same' && passed && finding.target && passed.covers === 'all') this.#same.set(address, { source: passed.fingerprint, target: finding.target.fingerprint });
    const row = passed && await this.#decided(finding, passed);
    if (!row || (finding.status !== 'new' && finding.status !== 'differs')) return;
    const kind = this.#passage.kindOf(row);
    const action = finding.status === 'new' ? 'create' : 'update';
    this.#rows.set(address, row);
    this.#adjusted.push(...finding.adjusted);
    this.#planned.push({
      address, kind: row.kind, title: row.title, covers: row.covers, rank: kind?.description.rank ?? 50, action,
      needs: needsOf(row, this.#listed), files: row.files, fingerprint: row.fingerprint, ...(action === 'create' ? { status: this.#status(finding) } : {}), ...etagOf(this.#target, address),
    });
    if (kind && !this.#target.facts.abilities.portable) {
      const facts = finding.adjusted.some((one) => one.adjusted === 'version') ? { ...this.#source.origin, converted: true } : this.#source.origin;
      for (const requirement of await rowRequirements(row, kind, facts)) this.#requirements.add(requirement, address);
    }
    const { requestBytes } = this.#target.facts.limits;
    if (row.size > requestBytes * REQUEST_MARGIN) this.#blocks.push({ block: 'too-large', item: address, bytes: row.size, limit: requestBytes });
    if (finding.status === 'new' && row.covers !== 'all') this.#blocks.push({ block: 'part-of-nothing', item: address });
    this.#note(finding, row);
  }

  /** What the target changed since the last import is not lost unseen: it is kept, put together with what the source changed, or asked about. */
  async #decided(finding: ItemFinding, row: SourceRow): Promise<SourceRow | undefined> {
    const { address, by, target } = finding;
    if (by === undefined || by === 'source') return row;
    const decided = this.#choices.decide?.items[address] ?? this.#choices.decide?.all;
    if (decided === 'source') return row;
    if (decided === 'target' || by !== 'both') { this.#kept.push(address); return undefined; }
    const kind = this.#passage.kindOf(row);
    const base = this.#bases?.values(address);
    const three = kind && base && target ? threeWay(kind, base, (await row.load()).value, (await target.load()).value) : undefined;
    const value = three?.merged();
    if (kind && value !== undefined) {
      this.#merged.set(address, row);
      return withItem(row, kind, { ...(await row.load()), value });
    }
    this.#blocks.push({ block: 'clash', item: address, at: three?.clashes ?? [] });
    return row;
  }

  /** What is a draft on the source stays one; a file does not say. */
  #status({ adjusted, address, kind }: ItemFinding): 'published' | 'draft' {
    const from = adjusted.find((one) => one.adjusted === 'name')?.from ?? address;
    const was = this.#source instanceof SiteSource ? this.#source.index.row(from)?.status : undefined;
    return was === 'draft' || (this.#choices.draft === true && this.#canBeDraft(kind)) ? 'draft' : 'published';
  }

  #canBeDraft(kind: string): boolean { return this.#target.facts.abilities.drafts && this.#target.kinds.get(kind)?.description.draftable === true; }

  /** Unmatched references block or become follow-ups; values that every site has for itself are left to a person. */
  #note(finding: ItemFinding, row: SourceRow): void {
    const item = finding.address;
    for (const { at, to, strong, near, picture } of finding.unmatched) {
      if (picture) this.#followUp({ followUp: 'picture-missing', item, at, to });
      else if (!strong) this.#followUp({ followUp: 'link-missing', item, at, to });
      else if (this.#choices.leaveUnmatched) this.#followUp({ followUp: 'left-empty', item, at, to });
      else this.#blocks.push({ block: 'missing', item, at, to, near });
    }
    if (!this.#target.facts.abilities.portable) for (const { at, raw } of row.lost) this.#blocks.push({ block: 'lost', item, at, raw });
    const kept = new Set(finding.target?.withheld.map((one) => one.at));
    for (const { at, why, held } of row.withheld) {
      const there = this.#source instanceof SiteSource || held === true;
      if (why === 'unasked') this.#leftOut.push({ address: item, at, why: 'this part travels only when it is asked for', remedy: `${there ? 'add' : 'it is not in the file: export it again with'} --take ${placeOf(item, at)}` });
      else if (!kept.has(at) && why !== 'volatile') this.#followUps.push({ followUp: why === 'secret' ? 'enter-secret' : 'set-own', item, at });
    }
  }

  /** One place can hold the same link several times. */
  #followUp(one: FollowUp): void {
    const text = JSON.stringify(one);
    if (!this.#followUps.some((other) => JSON.stringify(other) === text)) this.#followUps.push(one);
  }

  async finish(leftOut: readonly LeftOut[]): Promise<Pick<Plan, 'route' | 'rows' | 'counts' | 'leftOut' | 'adjusted' | 'kept' | 'merged' | 'same' | 'seenAtOnce'>> {
    let files = await this.#files();
    if (this.#planned.length > 0 && !this.#target.facts.rights.includes('write')) this.#blocks.push({ block: 'read-only' });
    const unmet = checkRequirements(this.#requirements.list(), this.#target.facts, this.#target.kinds);
    this.#blocks = [...unmet.map((one): Block => ({ block: 'requirement', unmet: one })), ...this.#blocks];
    if (this.#choices.allowMissing === true && this.#blocks.length > 0) files = this.#withoutBlocked(files);
    if (this.#planned.length > 0) for (const what of this.#target.facts.byHand ?? []) this.#followUps.push({ followUp: 'by-hand', what });
    for (const item of this.#planned) if (item.status === 'draft') this.#followUps.push({ followUp: 'publish', item: item.address });
    const seenAtOnce = this.#choices.draft === true ? this.#planned.filter((item) => item.status !== 'draft').map((item) => item.address) : [];
    return { route: { steps: planSteps(this.#planned, files), blocks: this.#blocks, followUps: this.#followUps }, rows: this.#rows, counts: this.#counts, leftOut: [...leftOut, ...this.#leftOut], adjusted: this.#adjusted.filter((one) => one.adjusted === 'reused' || this.#rows.has(one.item)), kept: this.#kept, merged: this.#merged, same: this.#same, seenAtOnce };
  }

  /** Takes out what has to stay behind; each with its reason. */
  #withoutBlocked(files: PlannedFile[]): PlannedFile[] {
    const out = staysBehind({ planned: this.#planned, blocks: this.#blocks, brought: this.#brought, isThere: (address) => this.#target.index.row(address) !== undefined });
    this.#leftOut.push(...out.values());
    this.#planned = this.#planned.filter((item) => !out.has(item.address));
    this.#blocks = this.#blocks.filter((block) => block.block === 'read-only');
    this.#followUps = this.#followUps.filter((one) => one.followUp === 'by-hand' || !out.has(one.item));
    for (const address of out.keys()) this.#rows.delete(address);
    const used = new Set(this.#planned.flatMap((item) => item.files));
    return files.filter((file) => used.has(file.digest));
  }

  /** Files that the target does not have yet. */
  async #files(): Promise<PlannedFile[]> {
    const wanted = new Map(this.#planned.flatMap((item) => item.files.map((digest): [string, Address] => [digest, item.address])));
    const files = await inParallel([...wanted], AT_ONCE, async ([digest, item]): Promise<PlannedFile[]> => {
      if (await this.#target.mediaSize(digest)) return [];
      const clean = this.#passage.cleaned.get(digest);
      const size = clean ? { type: clean.type, bytes: clean.bytes.length } : await this.#source.mediaSize(digest);
      if (!size) { this.#blocks.push({ block: 'file-missing', item, file: digest }); return []; }
      this.#requirements.add({ need: 'upload', ...size }, item);
      return [{ digest, ...size }];
    });
    return files.flat();
  }
}

/** What must exist before an item: all that it refers to by id or name, and of the links in its texts those to what travels itself. */
export function needsOf(row: SourceRow, listed: ReadonlyMap<Address, unknown>): Address[] {
  return row.references.filter((reference) => reference.strong || listed.has(reference.to)).map((reference) => reference.to);
}

function etagOf(target: SiteSource, address: Address): { etag?: string } {
  const etag = target.index.row(address)?.etag;
  return etag === undefined ? {} : { etag };
}
