import type { Address } from '../core/address.ts';
import { checkRequirements, RequirementList } from '../core/requirements.ts';
import { planSteps, type Block, type FollowUp, type Planned, type PlannedFile, type Route, type Step } from '../core/route.ts';
import type { SourceRow } from '../core/source.ts';
import { byCodeUnit } from '../core/json.ts';
import { compare, type ItemFinding, type ItemStatus } from './compare.ts';
import { select } from './select.ts';
import type { Decisions } from './settle.ts';
import { narrowed, rowRequirements } from './cover.ts';
import type { SiteSource } from './sources/site.ts';
import type { Absent, Source } from './sources/source.ts';
import type { OnProgress } from './workspace.ts';

export interface Choices extends Decisions { readonly selectors: readonly string[]; readonly alone: boolean }
/** A route with all that is needed to go it. */
export interface Plan {
  readonly source: Source;
  readonly target: SiteSource;
  readonly choices: Choices;
  readonly route: Route;
  /** What will be written, by address, with decisions carried in. */
  readonly rows: ReadonlyMap<Address, SourceRow>;
  readonly counts: Readonly<Record<ItemStatus, number>>;
  readonly broughtAlong: readonly { address: Address; for: Address }[];
  readonly cannot: readonly Absent[];
}

/** Compares, checks requirements and puts what has to be written in order. Writes nothing. */
export async function plan(source: Source, target: SiteSource, choices: Choices, onProgress: OnProgress): Promise<Plan> {
  const broughtAlong = choices.alone || choices.selectors.length === 0 ? [] : await missingBelow(source, target, choices);
  const selectors = [...choices.selectors, ...broughtAlong.map((one) => one.address)];
  const { selection, findings } = compare(source, target, selectors, { decisions: choices, places: false, values: true });
  const draft = new Draft(source, target, choices);
  let done = 0;
  for await (const finding of findings) {
    await draft.take(finding);
    onProgress({ phase: 'comparing', done: ++done, total: Math.max(selection.chosen.size, done) });
  }
  return { source, target, choices, broughtAlong, cannot: [...selection.cannot, ...source.refused], ...(await draft.finish()) };
}

/** What chosen items refer to, and what that refers to, as far as the target does not have it. */
async function missingBelow(source: Source, target: SiteSource, choices: Choices): Promise<{ address: Address; for: Address }[]> {
  const { chosen } = select(source, choices.selectors);
  const listed = source.listed();
  const brought = new Map<Address, Address>();
  let frontier = new Set(chosen.keys());
  while (frontier.size > 0) {
    const next = new Set<Address>();
    for await (const row of source.rows(frontier)) {
      const kind = source.kinds.get(row.kind);
      const covered = kind ? await narrowed(row, kind, chosen.get(row.address) ?? 'all') : row;
      for (const { to } of covered.references) {
        if (chosen.has(to) || brought.has(to) || target.index.row(to) || !listed.has(to)) continue;
        brought.set(to, row.address);
        next.add(to);
      }
    }
    frontier = next;
  }
  return [...brought].map(([address, one]) => ({ address, for: one })).sort((a, b) => byCodeUnit(a.address, b.address));
}

/** Gathers findings into a route. */
class Draft {
  readonly #source: Source;
  readonly #target: SiteSource;
  readonly #choices: Choices;
  readonly #planned: Planned[] = [];
  readonly #rows = new Map<Address, SourceRow>();
  readonly #blocks: Block[] = [];
  readonly #followUps: FollowUp[] = [];
  readonly #requirements = new RequirementList();
  readonly #counts: Record<ItemStatus, number> = { new: 0, differs: 0, same: 0, 'target-only': 0 };

  readonly #listed: ReadonlyMap<Address, unknown>;

  constructor(source: Source, target: SiteSource, choices: Choices) {
    this.#source = source;
    this.#listed = source.listed();
    this.#target = target;
    this.#choices = choices;
  }

  async take(finding: ItemFinding): Promise<void> {
    this.#counts[finding.status]++;
    const { source: row, address } = finding;
    if (!row || (finding.status !== 'new' && finding.status !== 'differs')) return;
    const kind = this.#source.kinds.get(row.kind);
    this.#rows.set(address, row);
    this.#planned.push({
      address, kind: row.kind, title: row.title, covers: row.covers, rank: kind?.description.rank ?? 50, action: finding.status === 'new' ? 'create' : 'update',
      needs: needsOf(row, this.#listed),
      files: row.files, fingerprint: row.fingerprint, ...etagOf(this.#target, address),
    });
    if (kind && !this.#target.facts.abilities.portable) for (const requirement of await rowRequirements(row, kind, this.#source.origin)) this.#requirements.add(requirement, address);
    if (finding.status === 'new' && row.covers !== 'all') this.#blocks.push({ block: 'part-of-nothing', item: address });
    this.#note(finding, row);
  }

  /** Missing references block or become follow-ups; values that every site has for itself are left to a person. */
  #note(finding: ItemFinding, row: SourceRow): void {
    const item = finding.address;
    for (const { at, to, strong } of finding.missing) {
      if (!strong) this.#followUps.push({ followUp: 'link-missing', item, at, to });
      else if (this.#choices.leaveMissing) this.#followUps.push({ followUp: 'left-empty', item, at, to });
      else this.#blocks.push({ block: 'missing', item, at, to });
    }
    if (!this.#target.facts.abilities.portable) for (const { at, raw } of row.lost) this.#blocks.push({ block: 'lost', item, at, raw });
    const kept = new Set(finding.target?.withheld.map((one) => one.at));
    for (const { at, why } of row.withheld) {
      if (kept.has(at) || why === 'volatile') continue;
      this.#followUps.push({ followUp: why === 'secret' ? 'enter-secret' : 'set-own', item, at });
    }
  }

  async finish(): Promise<Pick<Plan, 'route' | 'rows' | 'counts'>> {
    const files = await this.#files();
    if (this.#planned.length > 0 && !this.#target.facts.rights.includes('write')) this.#blocks.push({ block: 'read-only' });
    if (this.#planned.length > 0) for (const what of this.#target.facts.byHand ?? []) this.#followUps.push({ followUp: 'by-hand', what });
    const unmet = checkRequirements(this.#requirements.list(), this.#target.facts, this.#target.kinds);
    const blocks = [...unmet.map((one): Block => ({ block: 'requirement', unmet: one })), ...this.#blocks];
    const steps: Step[] = planSteps(this.#planned, files);
    return { route: { steps, blocks, followUps: this.#followUps }, rows: this.#rows, counts: this.#counts };
  }

  /** Files that the target does not have yet. */
  async #files(): Promise<PlannedFile[]> {
    const wanted = new Map(this.#planned.flatMap((item) => item.files.map((digest): [string, Address] => [digest, item.address])));
    const files: PlannedFile[] = [];
    for (const [digest, item] of wanted) {
      if (await this.#target.mediaSize(digest)) continue;
      const size = await this.#source.mediaSize(digest);
      if (!size) { this.#blocks.push({ block: 'file-missing', item, file: digest }); continue; }
      files.push({ digest, ...size });
      this.#requirements.add({ need: 'upload', ...size }, item);
    }
    return files;
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
