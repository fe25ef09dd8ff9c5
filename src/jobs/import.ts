import { groupBy } from '../core/json.ts';
import { parseAddress, type Address } from '../core/address.ts';
import { compareValues, type Change } from '../core/compare.ts';
import { project } from '../core/coverage.ts';
import { Problem } from '../core/problem.ts';
import { leftByHand } from '../core/requirements.ts';
import type { FollowUp, ItemStep, Step } from '../core/route.ts';
import type { SourceRow } from '../core/source.ts';
import type { Takes } from '../core/take.ts';
import { Importer } from '../core/translate/local.ts';
import type { LocalId, LocalItem } from '../core/siteindex.ts';
import type { Answer, Operation, Origin } from '../sites/connector.ts';
import type { Bases } from './base.ts';
import type { BaseEntry } from './records/folder.ts';
import { AT_ONCE, groups, inParallel } from './parallel.ts';
import { KeptForms } from './keptforms.ts';
import { keepFollowUps } from './followups.ts';
import { remember } from './remember.ts';
import { silentPages, type PageAnswer } from './pages.ts';
import type { Adjusted } from './passage.ts';
import type { Plan } from './plan.ts';
import type { LeftOut } from './sources/source.ts';
import { Run } from './run/run.ts';
import { SiteSource } from './sources/site.ts';
import type { Workspace } from './workspace.ts';

/** How many items are translated, written and read back together. */
const CHUNK = 200;

export interface Seen { readonly address: Address; readonly title: string; readonly url: string | undefined }
export interface Unequal { readonly address: Address; readonly changes: readonly Change[] }
export interface ImportResult {
  readonly run: string;
  readonly created: number;
  readonly updated: number;
  readonly files: number;
  readonly seen: readonly Seen[];
  /** Items that read back other than they were sent. */
  readonly unequal: readonly Unequal[];
  readonly followUps: readonly FollowUp[];
  /** Public pages on which the items show and that do not answer as they should. */
  readonly silent: readonly PageAnswer[];
  readonly leftOut: readonly LeftOut[];
  readonly adjusted: readonly Adjusted[];
  /** From taking the lock to giving it back. */
  readonly took: { readonly seconds: number; readonly requests: number; readonly bytesSent: number };
}

/** Goes a route: lock, safety copy, files, items level by level, what closes circles, caches; then reads everything back and compares. */
export async function importPlan(workspace: Workspace, plan: Plan): Promise<ImportResult> {
  const { target, route } = plan;
  if (route.blocks.length > 0) throw new Problem('blocked', `the route is blocked in ${route.blocks.length} places`, { remedy: 'see "pochette route"' });
  const begun = { at: performance.now(), ...target.connector.traffic };
  const run = await Run.begin(workspace, target, { verb: 'import', from: plan.source.label, fromSite: plan.source.origin.site.id });
  let back: Awaited<ReturnType<typeof readBack>>;
  let followUps: readonly FollowUp[];
  try {
    const steps = itemSteps(route.steps);
    await refuseMoved(plan, steps);
    await run.secure(steps.filter((step) => step.do === 'update').map((step) => step.item), steps.filter((step) => step.do === 'create').map((step) => step.item));
    const writer = new Writer(workspace, plan, run);
    await writer.uploads();
    await writer.items(steps);
    await target.learnBelongings(new Set(steps.map((step) => step.item)));
    await writer.completions();
    await target.connector.renewCaches();
    back = await readBack(workspace, plan, run);
    await run.finish();
    followUps = [...route.followUps.filter((one) => one.followUp !== 'publish' || target.index.row(one.item)?.status === 'draft'), ...writer.byHand, ...back.strays];
    keepFollowUps(workspace, target.facts.site.id, run.id, followUps);
  } catch (error) {
    return await run.takeBack(error);
  }
  return {
    run: run.id, created: run.record.created, updated: run.record.updated, files: run.record.files, unequal: back.unequal, followUps,
    took: { seconds: (performance.now() - begun.at) / 1000, requests: target.connector.traffic.requests - begun.requests, bytesSent: target.connector.traffic.bytes - begun.bytes },
    seen: itemSteps(route.steps).map((step) => ({ address: step.item, title: step.title, url: step.status === 'draft' ? undefined : seenUrl(target, step.item) })),
    silent: await silentPages(target, itemSteps(route.steps).filter((step) => step.status !== 'draft').map((step) => step.item)),
    leftOut: plan.leftOut, adjusted: plan.adjusted,
  };
}

/** Fetches values of the source that are not at hand, together: one by one each would be a request. */
async function preloadSource({ source, rows, passage }: Plan, addresses: readonly Address[]): Promise<void> {
  await source.preload(addresses.filter((address) => rows.get(address)?.text === undefined).map((address) => passage.sourceOf(address)));
}

function itemSteps(steps: readonly Step[]): ItemStep[] {
  return steps.filter((step): step is ItemStep => step.do === 'create' || step.do === 'update');
}

function seenUrl(target: SiteSource, address: Address): string | undefined {
  const path = target.index.seenAt(address);
  return path === undefined ? undefined : target.index.urlOf(path);
}

/** Under the lock: is the target still what the route was made for? */
async function refuseMoved(plan: Plan, steps: readonly ItemStep[]): Promise<void> {
  const expected = new Map(steps.map((step) => [step.item, step.etag]));
  const found = new Map<Address, string>();
  const { connector, index } = plan.target;
  const keys = [...expected.keys()].flatMap((address) => index.row(address) ?? []).map(({ kind, id }) => ({ kind, id }));
  // Something new of the same name can only be found in the whole index.
  const now = [...expected.values()].includes(undefined) ? connector.index() : connector.rows(keys);
  for await (const row of now) {
    const address = index.addressOf(row);
    if (expected.has(address)) found.set(address, row.etag);
  }
  const moved = [...expected].filter(([address, etag]) => found.get(address) !== etag).map(([address]) => address);
  if (moved.length === 0) return;
  throw new Problem('moved', `${plan.target.label} was changed since the route was made`, { where: moved[0] as string, remedy: `compare again: pochette compare ${plan.source.label} ${plan.target.label}`, details: moved });
}

/** Writes steps to the target; what is created becomes known to the translator at once. */
class Writer {
  readonly #workspace: Workspace;
  readonly #plan: Plan;
  readonly #run: Run;
  readonly #importer: Importer;
  readonly #takes: Takes;
  readonly #etags = new Map<Address, { id: LocalId; etag: string }>();
  #done = 0;

  constructor(workspace: Workspace, plan: Plan, run: Run) {
    this.#workspace = workspace;
    this.#plan = plan;
    this.#run = run;
    this.#importer = new Importer(plan.target.index, plan.target.kinds);
    this.#takes = plan.takes;
  }

  /** What the kinds leave for a person, of the items that were written. */
  readonly byHand: FollowUp[] = [];

  async uploads(): Promise<void> {
    const { route, passage, source, target } = this.#plan;
    await inParallel(route.steps.filter((step) => step.do === 'upload'), AT_ONCE, async (step) => {
      const { type, bytes } = passage.cleaned.get(step.file) ?? await source.media(step.file);
      await target.connector.putMedia(step.file, type, bytes);
      this.#run.record.files++;
      this.#progress(1);
    });
  }

  async items(steps: readonly ItemStep[]): Promise<void> {
    const levels = groupBy(steps, (step) => step.level);
    for (const level of [...levels.keys()].sort((a, b) => a - b)) {
      const all = levels.get(level) as ItemStep[];
      // Steps of a level need nothing of one another: while some are being written, the next are made ready.
      let next = this.#prepared(all.slice(0, CHUNK));
      for (let i = 0; i < all.length; i += CHUNK) {
        const operations = await next;
        next = this.#prepared(all.slice(i + CHUNK, i + 2 * CHUNK));
        const answers = await this.#run.send(operations, (some) => { this.#progress(some.length); });
        all.slice(i, i + CHUNK).forEach((step, j) => { this.#remember(step, answers[j] as Answer); });
      }
      await next;
    }
  }

  #prepared(steps: readonly ItemStep[]): Promise<Operation[]> {
    const prepared = this.#operations(steps);
    // Where sending fails before it is asked for, its own failure must not go unseen.
    prepared.catch(() => undefined);
    return prepared;
  }

  async #operations(steps: readonly ItemStep[]): Promise<Operation[]> {
    if (steps.length === 0) return [];
    await preloadSource(this.#plan, steps.map((step) => step.item));
    const existing = await this.#existing(steps.filter((step) => step.do === 'update').map((step) => step.item));
    const operations: Operation[] = [];
    for (const step of steps) operations.push(await this.#operation(step, existing));
    return operations;
  }

  async #operation(step: ItemStep, existing: ReadonlyMap<Address, LocalItem>): Promise<Operation> {
    const local = existing.get(step.item);
    const value = await this.#localValue(step.item, local?.value, step.deferred);
    if (step.do === 'create') return { op: 'create', key: this.#run.key(), kind: step.kind, name: nameOf(step.item), status: step.status ?? 'published', value, ...this.#created(step.item) };
    if (!local) throw new Problem('moved', 'it is no longer there', { where: step.item });
    return { op: 'update', key: this.#run.key(), kind: local.kind, id: local.id, ifMatch: step.etag ?? local.etag, value };
  }

  #created(address: Address): Pick<SourceRow, 'created'> {
    const created = this.#plan.rows.get(address)?.created;
    return created === undefined ? {} : { created };
  }

  /** `deferred`: what it refers to and cannot yet; undefined when it is completed. */
  async #localValue(address: Address, existing: unknown, deferred?: readonly Address[]): Promise<unknown> {
    const row = this.#plan.rows.get(address) as SourceRow;
    const item = await row.load();
    const kind = this.#plan.target.kinds.get(row.kind);
    if (!kind) throw new Problem('internal', `the target lost the kind ${row.kind}`);
    const { value, missing } = this.#importer.local(kind, item, existing, this.#takes.get(address));
    const unexpected = missing.find((one) => deferred?.includes(one.to) !== true);
    if (unexpected) throw new Problem('moved', `${unexpected.to} is not on ${this.#plan.target.label}`, { where: `${address}#${unexpected.at}` });
    if (deferred !== undefined) this.byHand.push(...leftByHand(kind, item.value).map((what): FollowUp => ({ followUp: 'tend', item: address, what })));
    return value;
  }

  #remember(step: ItemStep, answer: Answer): void {
    const { id, etag, name, urls, itemStatus: status = step.status ?? 'published' } = answer;
    if (id === undefined || etag === undefined) throw new Problem('unreachable', `${this.#plan.target.label} did not say which id and etag it gave`, { where: step.item });
    this.#etags.set(step.item, { id, etag });
    if (step.do === 'update') return;
    if (name !== nameOf(step.item)) throw new Problem('moved', `${this.#plan.target.label} gave another name, ${name ?? 'none'}`, { where: step.item, remedy: 'something hidden on the target holds this name: rename it' });
    this.#plan.target.index.add({ kind: step.kind, id, name, title: step.title, etag, status, size: 0, urls });
  }

  /** Second pass: items of a circle get the references that had to wait. */
  async completions(): Promise<void> {
    const steps = this.#plan.route.steps.filter((step) => step.do === 'complete');
    const existing = await this.#existing(steps.map((step) => step.item));
    const operations: Operation[] = [];
    for (const step of steps) {
      const local = existing.get(step.item);
      if (!local) throw new Problem('moved', 'it is no longer there', { where: step.item });
      operations.push({ op: 'update', key: this.#run.key(), kind: local.kind, id: local.id, ifMatch: this.#etags.get(step.item)?.etag ?? local.etag, value: await this.#localValue(step.item, local.value) });
    }
    await this.#run.send(operations, (some) => { this.#progress(some.length); });
  }

  async #existing(addresses: readonly Address[]): Promise<Map<Address, LocalItem>> {
    const keys = addresses.flatMap((address) => this.#plan.target.index.row(address) ?? []).map(({ kind, id }) => ({ kind, id }));
    const found = new Map<Address, LocalItem>();
    if (keys.length > 0) for await (const item of this.#plan.target.connector.read(keys)) found.set(this.#plan.target.index.addressOf(item), item);
    return found;
  }

  #progress(steps: number): void {
    this.#done += steps;
    this.#workspace.onProgress({ phase: 'importing', done: this.#done, total: this.#plan.route.steps.length });
  }
}

function nameOf(address: Address): string {
  return parseAddress(address).name;
}

/** Reads every written item back, compares it with what was carried, and remembers both as the base. */
async function readBack(workspace: Workspace, plan: Plan, run: Run): Promise<{ unequal: Unequal[]; strays: FollowUp[] }> {
  const { target, source } = plan;
  const unequal: Unequal[] = [];
  const strays: FollowUp[] = [];
  const base: BaseEntry[] = [];
  const bases = workspace.bases(source, target);
  const forms = new KeptForms(workspace.records, target.connector, run.id);
  const origins: Origin[] = [];
  const left = new Set(plan.rows.keys());
  let done = 0;
  await target.learnDefinitions();
  await bases?.fetch([...plan.rows].flatMap(([address, row]) => (row.covers === 'all' ? [] : [address])));
  for await (const some of groups(target.rows(new Set(plan.rows.keys()), { fresh: true }), CHUNK)) {
    await preloadSource(plan, some.map((row) => row.address));
    for (const row of some) {
      const sent = plan.rows.get(row.address) as SourceRow;
      left.delete(row.address);
      const changes = await differences(plan, sent, row, strays);
      if (changes.length > 0) unequal.push({ address: row.address, changes });
      // Of what was put together the source has its own form still.
      if (bases) base.push(await carried(plan, plan.merged.get(row.address) ?? sent, row, { run: run.id, bases, forms }));
      // Parts that were put onto an item do not make it another one.
      if (sent.covers === 'all') origins.push(originOf(plan, run, sent, row.address));
      workspace.onProgress({ phase: 'reading back', done: ++done, total: plan.rows.size });
    }
  }
  const gone = [...left][0];
  if (gone !== undefined) throw new Problem('moved', 'it was written and cannot be read back', { where: gone });
  await remember(workspace, plan, { run: run.id, bases, base, origins, forms });
  return { unequal, strays };
}

function originOf({ source, target, passage }: Plan, run: Run, sent: SourceRow, address: Address): Origin {
  const fromId = source.idOf?.(passage.sourceOf(address));
  return { address, id: target.index.idOf(address) as LocalId, fromSite: source.origin.site.id, ...(fromId === undefined ? {} : { fromId }), run: run.id, fingerprint: sent.fingerprint, from: source.label, at: run.record.started };
}

/** What is remembered of an item that was carried: the source's own form, and the target's as it was read back. */
async function carried(plan: Plan, own: SourceRow, row: SourceRow, { run, bases, forms }: { run: string; bases: Bases; forms: KeptForms }): Promise<BaseEntry> {
  const kind = plan.passage.kindOf(own);
  if (own.covers === 'all' || !kind) return { address: row.address, source: await forms.row(own), target: await forms.row(row), run };
  const after = bases.after(kind, await own.load(), project(kind, await row.load(), own.covers));
  const { covers } = after.source;
  return { address: row.address, source: await forms.item(after.source), target: await forms.item(after.target), run, ...(covers === 'all' ? {} : { covers: [...covers] }) };
}

/** `strays`: takes what is to be looked at. */
async function differences(plan: Plan, sent: SourceRow, back: SourceRow, strays: FollowUp[]): Promise<readonly Change[]> {
  if (sent.fingerprint === back.fingerprint) return [];
  const kind = plan.source.kinds.get(sent.kind);
  if (!kind) return [];
  const item = await back.load();
  const within = sent.covers === 'all' ? item : project(kind, item, sent.covers);
  const read = await plan.passage.asReadThere(sent, { ...back, load: () => Promise.resolve(within) });
  strays.push(...read.strays.map((one): FollowUp => ({ followUp: 'stray-id', item: sent.address, ...one })));
  return compareValues(kind, (await read.row.load()).value, within.value);
}
