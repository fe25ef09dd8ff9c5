import { placeOf, type Address } from '../core/address.ts';
import { holderOf } from '../core/belongings.ts';
import { isFirm, isGuard } from '../core/coverage.ts';
import type { Kind, Kinds } from '../core/kind.ts';
import { checkRequirements, RequirementList } from '../core/requirements.ts';
import { planSteps, type Block, type FollowUp, type Planned, type PlannedFile } from '../core/route.ts';
import type { SourceRow } from '../core/source.ts';
import { hostOf, placesNaming } from '../core/translate/named.ts';
import { readNotation } from '../core/translate/notation.ts';
import { absentFiles } from './absentfiles.ts';
import type { Bases } from './base.ts';
import { isCalledAfter } from './below.ts';
import type { ItemFinding, ItemStatus } from './compare.ts';
import { EqualItems } from './equal.ts';
import type { Answers } from './decisions.ts';
import { AT_ONCE, inParallel } from './parallel.ts';
import type { Adjusted, Passage } from './passage.ts';
import type { Choices, Plan } from './plan.ts';
import { Questions } from './questions.ts';
import { REQUEST_MARGIN } from './run/run.ts';
import { rowRequirements } from './cover.ts';
import { SiteSource } from './sources/site.ts';
import type { LeftOut, Listing, Source } from './sources/source.ts';
import { itemsOf, staysBehind } from './staysbehind.ts';

/** What a route is drafted on. */
export interface Ground {
  readonly source: Source;
  readonly target: SiteSource;
  readonly choices: Choices;
  readonly answers: Answers;
  readonly isChosen: (address: Address) => boolean;
  readonly passage: Passage;
  readonly bases: Bases | undefined;
  /** What comes along, with what it comes for. */
  readonly brought: ReadonlyMap<Address, Address>;
  /** Media that the target has under another name. */
  readonly reused: ReadonlyMap<Address, Address>;
}

/** Gathers findings into a route. */
export class Draft {
  readonly #source: Source;
  readonly #target: SiteSource;
  readonly #choices: Choices;
  readonly #passage: Passage;
  readonly #bases: Bases | undefined;
  #planned: Planned[] = [];
  readonly #rows = new Map<Address, SourceRow>();
  #blocks: Block[] = [];
  #followUps: FollowUp[] = [];
  readonly #adjusted: Adjusted[];
  readonly #same = new EqualItems();
  readonly #questions: Questions;
  readonly #leftOut: LeftOut[] = [];
  /** Items that are called after something which is left away. */
  readonly #nameless = new Set<Address>();
  /** Removed on the target since the last import: they stay away, unless something that comes needs them. */
  readonly #gone = new Map<Address, { readonly finding: ItemFinding; readonly row: SourceRow }>();
  readonly #fingerprints = { source: {} as Record<Address, string>, target: {} as Record<Address, string> };
  readonly #requirements = new RequirementList();
  readonly #counts: Record<ItemStatus, number> = { new: 0, differs: 0, same: 0, 'target-only': 0 };

  readonly #listed: Pick<Listing, 'has'>;
  readonly #brought: ReadonlyMap<Address, Address>;

  constructor(ground: Ground) {
    const { source, target, choices, passage, bases, brought, reused } = ground;
    this.#bases = bases;
    this.#brought = brought;
    this.#questions = new Questions(ground, this.#blocks);
    this.#adjusted = [...reused].map(([from, item]) => ({ adjusted: 'reused', item, from }));
    this.#source = source;
    this.#listed = source.listed();
    this.#target = target;
    this.#choices = choices;
    this.#passage = passage;
  }

  async take(finding: ItemFinding): Promise<void> {
    this.#counts[finding.status]++;
    this.#questions.see(finding);
    this.#noteState(finding);
    const { source: passed, address } = finding;
    const row = passed && await this.#questions.settle(finding, passed);
    if (row && (finding.status === 'new' || finding.status === 'differs')) await this.#plan(finding, row);
    else if (passed && finding.status === 'new') this.#gone.set(address, { finding, row: passed });
  }

  async #plan(finding: ItemFinding, row: SourceRow): Promise<void> {
    const { address } = finding;
    const kind = this.#passage.kindOf(row);
    const action = finding.status === 'new' ? 'create' : 'update';
    const open = this.#unguarded(finding, row, this.#target.kinds.get(row.kind) ?? kind);
    this.#rows.set(address, row);
    this.#adjusted.push(...finding.adjusted);
    this.#planned.push({
      address, kind: row.kind, title: row.title, covers: row.covers, rank: kind?.description.rank ?? 50, action,
      ...needsOf(row, this.#listed, this.#target.kinds), files: row.files, fingerprint: row.fingerprint, ...(action === 'create' ? { status: this.#status(finding.kind, row, open) } : {}), ...etagOf(this.#target, address),
    });
    if (kind && !this.#target.facts.abilities.portable) {
      const facts = finding.adjusted.some((one) => one.adjusted === 'version') ? { ...this.#source.origin, converted: true } : this.#source.origin;
      for (const requirement of await rowRequirements(row, kind, facts)) this.#requirements.add(requirement, address);
    }
    const { requestBytes } = this.#target.facts.limits;
    if (row.size > requestBytes * REQUEST_MARGIN) this.#blocks.push({ block: 'too-large', item: address, bytes: row.size, limit: requestBytes });
    if (open !== undefined && !(action === 'create' && this.#canBeDraft(row.kind))) this.#blocks.push({ block: 'unguarded', item: address, at: open });
    if (finding.status === 'new' && row.covers !== 'all') this.#blocks.push({ block: 'part-of-nothing', item: address });
    this.#note(finding, row);
    await this.#noteHost(address, row);
  }

  /** What speaks of the source by the name of its host, and would go on doing so: unless the target is a part of it. */
  async #noteHost(item: Address, row: SourceRow): Promise<void> {
    // Asked for every row that is carried, and few have any.
    if (!row.named?.length) return;
    const [host, there] = [this.#source.origin.site.address, this.#target.index.site].map(hostOf);
    if (host === undefined || there === host || there?.endsWith(`.${host}`)) return;
    const { value } = await row.load();
    for (const at of placesNaming(readNotation(value), host)) this.#followUp({ followUp: 'source-named', item, at, host });
  }

  /** What both sides are: of what differs for a route that is gone later, of what is equal, and was not known to be, for the next comparison. */
  #noteState({ own, status, address, source, target }: ItemFinding): void {
    if (status === 'same' && source?.covers === 'all' && target) {
      const [text, equal] = [source.text ?? target.text, { address, source: source.fingerprint, target: target.fingerprint }];
      if (this.#bases?.knows(equal) === false) this.#same.add({ ...equal, ...(text === undefined ? {} : { text }) });
    }
    if (!own || status === 'same') return;
    this.#fingerprints.source[own.address] = own.fingerprint;
    for (const there of [address, own.address]) {
      const { etag } = etagOf(this.#target, there);
      if (etag !== undefined) this.#fingerprints.target[there] = etag;
    }
  }

  /** The place of what keeps visitors out of an item on the source, and would not on the target. */
  #unguarded({ target, address }: ItemFinding, row: SourceRow, kind: Kind | undefined): string | undefined {
    if (!kind || row.withheld.length === 0 || this.#target.index.row(address)?.status === 'draft') return undefined;
    return row.withheld.find((one) => one.why === 'secret' && isGuard(kind, one.at) && target?.withheld.some((own) => own.at === one.at) !== true)?.at;
  }

  /** What is a draft on the source stays one. What would be open to everyone waits for what guards it. */
  #status(kind: string, row: SourceRow, open: string | undefined): 'published' | 'draft' {
    return (open !== undefined || row.draft === true || this.#choices.draft === true) && this.#canBeDraft(kind) ? 'draft' : 'published';
  }

  #canBeDraft(kind: string): boolean { return this.#target.facts.abilities.drafts && this.#target.kinds.get(kind)?.description.draftable === true; }

  /** Unmatched references block or become follow-ups; values that every site has for itself are left to a person. */
  #note(finding: ItemFinding, row: SourceRow): void {
    const item = finding.address;
    for (const one of finding.unmatched) this.#noteUnmatched(item, row, one);
    if (!this.#target.facts.abilities.portable) for (const { at, raw } of row.lost) this.#blocks.push({ block: 'lost', item, at, raw });
    const kept = new Set(finding.target?.withheld.map((one) => one.at));
    for (const { at, why, held } of row.withheld) {
      const there = this.#source instanceof SiteSource || held === true;
      if (why === 'unasked') this.#leftOut.push({ address: item, at, why: 'this part travels only when it is asked for', remedy: `${there ? 'add' : 'it is not in the file: export it again with'} --take ${placeOf(item, at)}` });
      else if (!kept.has(at) && why !== 'volatile') this.#followUps.push({ followUp: why === 'secret' ? 'enter-secret' : 'set-own', item, at });
    }
  }

  #noteUnmatched(item: Address, row: SourceRow, { at, to, strong, near, picture }: ItemFinding['unmatched'][number]): void {
    if (picture || !strong) { this.#followUp({ followUp: picture ? 'picture-missing' : 'link-missing', item, at, to }); return; }
    const naming = this.#isNamedBy(item, row, { at, to });
    const leaves = this.#passage.leaves(to);
    if (leaves && !naming) this.#followUp({ followUp: 'left-empty', item, at, to });
    else this.#blocks.push({ block: 'missing', item, at, to, near, ...(naming ? { naming } : {}) });
    if (leaves && naming) this.#nameless.add(item);
    this.#questions.missing(item, to, near);
  }

  /** Is the name of an item made of what stands at a place? In a tree it goes on from that of the item above. */
  #isNamedBy(item: Address, row: SourceRow, { at, to }: { at: string; to: Address }): boolean {
    const kind = this.#source.kinds.get(row.kind);
    return item.startsWith(`${to}/`) || (kind !== undefined && (kind.references.some((rule) => rule.naming && rule.path === `$.${at.slice(1)}`) || (isFirm(kind, at) && isCalledAfter(item, to))));
  }

  /** One place can hold the same link several times. */
  #followUp(one: FollowUp): void {
    const text = JSON.stringify(one);
    if (!this.#followUps.some((other) => JSON.stringify(other) === text)) this.#followUps.push(one);
  }

  async finish(leftOut: readonly LeftOut[]): Promise<Pick<Plan, 'route' | 'rows' | 'counts' | 'leftOut' | 'adjusted' | 'kept' | 'merged' | 'same' | 'seenAtOnce' | 'decisions' | 'notCompared' | 'fingerprints'>> {
    await this.#bringBack();
    this.#seeInside();
    let files = await this.#files();
    if (this.#planned.length > 0 && !this.#target.facts.rights.includes('write')) this.#blocks.push({ block: 'read-only' });
    const unmet = checkRequirements(this.#requirements.list(), this.#target.facts, this.#target.kinds);
    await this.#questions.keys(this.#planned, this.#rows);
    const { skipped: notCompared } = await this.#questions.renames();
    this.#blocks.unshift(...this.#questions.requirements(unmet).map((one): Block => ({ block: 'requirement', unmet: one })));
    const outs = this.#choices.allowMissing === true ? 'all' : new Set([...this.#questions.leftOut, ...this.#nameless]);
    if (this.#blocks.length > 0 && (outs === 'all' || outs.size > 0)) files = this.#withoutBlocked(files, outs);
    if (this.#planned.length > 0) for (const what of this.#target.facts.byHand ?? []) this.#followUps.push({ followUp: 'by-hand', what });
    for (const what of this.#absent()) this.#followUps.push({ followUp: 'by-hand', what });
    this.#followUps.push(...await absentFiles(this.#rows.values(), this.#source, this.#target));
    // What its own site keeps from visitors is nothing to be published here.
    for (const item of this.#planned) if (item.status === 'draft' && this.#rows.get(item.address)?.draft !== true) this.#followUps.push({ followUp: 'publish', item: item.address });
    const seenAtOnce = this.#planned.filter((item) => item.status !== 'draft' && (this.#choices.draft === true || (item.action === 'create' && this.#rows.get(item.address)?.draft === true))).map((item) => item.address);
    const { kept, merged, decisions } = this.#questions;
    return {
      route: { steps: planSteps(this.#planned, files), blocks: this.#blocks, followUps: this.#followUps }, rows: this.#rows, counts: this.#counts, leftOut: [...leftOut, ...this.#leftOut],
      adjusted: this.#adjusted.filter((one) => one.adjusted === 'reused' || this.#rows.has(one.item)), kept, merged, decisions, notCompared, fingerprints: this.#fingerprints, same: this.#same, seenAtOnce,
    };
  }

  /** What the target has removed and something that comes needs comes again; where that was decided otherwise, what needs it cannot come. */
  async #bringBack(): Promise<void> {
    // The list grows while it is gone through.
    for (const { address: item, needs } of this.#planned) {
      for (const to of new Set(needs)) {
        const gone = this.#gone.get(to);
        if (!gone) continue;
        if (this.#questions.comesAgain(to)) { this.#gone.delete(to); await this.#plan(gone.finding, gone.row); } else this.#blocks.push({ block: 'missing', item, at: '', to, near: [] });
      }
    }
  }

  /** What is meant inside an item that does not come must lie in what the target has of it. */
  #seeInside(): void {
    const comes = new Set(this.#planned.map((one) => one.address));
    for (const { address: item, inside } of this.#planned) for (const { to, holder } of inside) if (!comes.has(holder) && !this.#target.index.has(to)) this.#blocks.push({ block: 'missing', item, at: '', to, near: [] });
  }

  /** Where nothing but a name says what belongs to an extension, some of it may belong to one that the target has not. */
  #absent(): string[] {
    if (!this.#planned.some((one) => this.#source.kinds.get(one.kind)?.description.ownedByName === true)) return [];
    const asked = this.#blocks.flatMap((one) => (one.block === 'requirement' && one.unmet.requirement.need === 'extension' ? [one.unmet.requirement.extension] : []));
    const there = new Set([...this.#target.facts.extensions.map((one) => one.name), ...asked]);
    const absent = this.#source.origin.extensions.filter((one) => !there.has(one.name)).map((one) => one.title);
    return absent.length === 0 ? [] : [`activate ${absent.join(', ')} if any of this belongs to ${absent.length > 1 ? 'one of them' : 'it'}: ${this.#source.label} has ${absent.length > 1 ? 'them' : 'it'}, and ${this.#target.label} has not`];
  }

  /** Takes out what has to stay behind; each with its reason. */
  #withoutBlocked(files: PlannedFile[], only: 'all' | ReadonlySet<Address>): PlannedFile[] {
    const out = staysBehind({ planned: this.#planned, blocks: this.#blocks, only, brought: this.#brought, isThere: (address) => this.#target.index.has(address) });
    this.#leftOut.push(...out.values());
    this.#planned = this.#planned.filter((item) => !out.has(item.address));
    this.#blocks = this.#blocks.filter((block) => itemsOf(block).length === 0 || itemsOf(block).some((address) => !out.has(address)));
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
export function needsOf(row: SourceRow, listed: Pick<Listing, 'has'>, kinds: Kinds): Pick<Planned, 'needs' | 'firm' | 'inside'> {
  const inside = row.references.flatMap(({ to }) => { const holder = holderOf(to, kinds); return holder === undefined ? [] : [{ to, holder }]; });
  const needed = row.references.filter((reference) => reference.strong || listed.has(reference.to));
  const kind = kinds.get(row.kind);
  return { inside, needs: [...needed.map(({ to }) => to), ...inside.map(({ holder }) => holder).filter((one) => one !== row.address)], firm: needed.flatMap(({ at, to }) => (kind && isFirm(kind, at) ? [to] : [])) };
}

function etagOf(target: SiteSource, address: Address): { etag?: string } {
  const etag = target.index.etagOf(address);
  return etag === undefined ? {} : { etag };
}
