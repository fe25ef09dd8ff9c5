import { pointer, type Address } from '../core/address.ts';
import { project } from '../core/coverage.ts';
import type { Kind } from '../core/kind.ts';
import { threeWay } from '../core/merge.ts';
import { matches } from '../core/path.ts';
import type { Unmet } from '../core/requirements.ts';
import type { Block, Planned } from '../core/route.ts';
import type { SourceRow } from '../core/source.ts';
import { notate, readNotation } from '../core/translate/notation.ts';
import type { ItemFinding } from './compare.ts';
import { withItem } from './cover.ts';
import { answerTo, type Decision } from './decisions.ts';
import type { Ground } from './draft.ts';
import { likelyRenames } from './kinship.ts';

/** Finds out what has to be decided about findings, carries out what was decided, and blocks on the rest. */
export class Questions {
  readonly #ground: Ground;
  readonly #blocks: Block[];
  readonly #decisions = new Map<string, Decision>();
  readonly #fresh: Address[] = [];
  readonly #only: Address[] = [];
  readonly #out = new Set<Address>();
  /** Left as the target has it. */
  readonly kept: Address[] = [];
  /** Changed on both sides and put together, with the source's own row. */
  readonly merged = new Map<Address, SourceRow>();

  constructor(ground: Ground, blocks: Block[]) {
    this.#ground = ground;
    this.#blocks = blocks;
  }

  /** Answers that were given about the way are decisions too, though they leave no question. */
  get decisions(): Decision[] {
    const { answers, isChosen } = this.#ground;
    const others = Object.entries(answers.each).filter(([id, { answer }]) => !this.#decisions.has(id) && (/^both/.test(answer) || answer.includes(':'))).map(([id, { answer, kept }]): Decision => {
      const [question, offered] = answer.startsWith('both') ? ['collision', ['source', 'target', 'both']] as const : isChosen(id) ? ['rename', [answer, 'new']] as const : ['missing', [answer, 'leave']] as const;
      return { question, id, items: [id], answers: offered, answer, ...(kept === true ? { kept } : {}) };
    });
    return [...this.#decisions.values(), ...others];
  }

  /** Items that were answered to be left out. */
  get leftOut(): ReadonlySet<Address> { return this.#out; }

  see({ status, address }: ItemFinding): void {
    if (status === 'new') this.#fresh.push(address);
    else if (status === 'target-only') this.#only.push(address);
  }

  /** What becomes of the row: carried, put together with what the target changed, or kept as the target has it. */
  async settle(finding: ItemFinding, row: SourceRow): Promise<SourceRow | undefined> {
    const { address, by, target, collision } = finding;
    const id = this.#ground.passage.sourceOf(address);
    const of = target && { source: row.fingerprint, target: target.fingerprint };
    if (collision && of) {
      const answer = this.#ask({ question: 'collision', id, items: [id], other: address, likeness: collision.likeness, answers: ['source', 'target', 'both'], of }, this.#ground.answers.all);
      if (answer === undefined) this.#blocks.push({ block: 'collision', item: address, titles: [collision.sourceTitle, collision.targetTitle], likeness: collision.likeness, ...(collision.origin === undefined ? {} : { origin: collision.origin }) });
      return this.#orKept(answer === 'target', address, row);
    }
    if (by === undefined || by === 'source') return row;
    const whole = answerTo(this.#ground.answers, id, of) ?? this.#ground.answers.all;
    if (by === 'both' && whole !== undefined && of) this.#ask({ question: 'clash', id, items: [id], answers: ['source', 'target'], of }, whole);
    if (by !== 'both' || whole === 'target') return this.#orKept(whole !== 'source', address, row);
    return whole === 'source' ? row : this.#clash(finding, row, id, of);
  }

  /** Changed on both sides: put together as far as it goes; what clashes is asked place by place. */
  async #clash({ address, target }: ItemFinding, row: SourceRow, id: Address, of: Decision['of']): Promise<SourceRow> {
    const kind = this.#ground.passage.kindOf(row);
    await this.#ground.bases?.fetch([address]);
    const base = kind && this.#ground.bases?.values(address, kind, row.covers);
    const item = await row.load();
    const there = kind && target && project(kind, await target.load(), row.covers);
    const three = base && there ? threeWay(kind, base, item.value, there.value) : undefined;
    const places = three ? three.clashes.map((at) => ({ at, id: `${id}#${at}` })) : [{ at: '', id }];
    const answers = new Map(places.map((place) => [place.at, this.#ask({ question: 'clash', id: place.id, items: [id], answers: ['source', 'target'], ...(of ? { of } : {}) })]));
    const value = three?.merged((at) => { const side = answers.get(at); return side === 'source' || side === 'target' ? side : undefined; });
    if (kind && value !== undefined) {
      this.merged.set(address, row);
      return withItem(row, kind, { ...item, value });
    }
    this.#blocks.push({ block: 'clash', item: address, at: three ? three.clashes.filter((at) => answers.get(at) === undefined) : [] });
    return row;
  }

  /** Of what the target has removed: false where it was decided that it stays away. */
  comesAgain(address: Address): boolean {
    const { answers, passage } = this.#ground;
    if ((answerTo(answers, passage.sourceOf(address)) ?? answers.all) === 'target') return false;
    this.kept.splice(this.kept.indexOf(address), 1);
    return true;
  }

  #orKept(kept: boolean, address: Address, row: SourceRow): SourceRow | undefined {
    if (kept) this.kept.push(address);
    return kept ? undefined : row;
  }

  /** Asks once for every id; the answer is what was given to it, else `otherwise`. */
  #ask(question: Omit<Decision, 'answer'>, otherwise?: string): string | undefined {
    const { id, items, of } = question;
    const answer = answerTo(this.#ground.answers, id, of) ?? otherwise;
    const known = this.#decisions.get(id);
    this.#decisions.set(id, { ...question, items: [...new Set([...(known?.items ?? []), ...items])], ...(answer === undefined ? {} : { answer }), ...(this.#ground.answers.each[id]?.kept === true && answer !== undefined ? { kept: true } : {}) });
    if (answer === 'leave-out') for (const item of items) this.#out.add(item);
    return answer;
  }

  missing(item: Address, to: Address, near: readonly Address[]): void {
    this.#ask({ question: 'missing', id: to, items: [this.#ground.passage.sourceOf(item)], answers: [...near, 'leave'] }, this.#ground.passage.leaves(to) ? 'leave' : undefined);
  }

  /** Gives back those that stand in the way. Where only a name says that something is needed, it may be carried all the same. */
  requirements(unmet: readonly Unmet[]): Unmet[] {
    return unmet.filter(({ requirement }) => {
      const byName = requirement.need === 'extension' && requirement.byName === true;
      return this.#ask({ question: 'requirement', id: requirementId(requirement), items: requirement.neededBy, answers: byName ? ['leave-out', 'anyway'] : ['leave-out'] }) !== 'anyway' || !byName;
    });
  }

  /** New items that may be ones that the target has under another name. */
  async renames(): Promise<{ skipped: string[] }> {
    const { source, target, passage } = this.#ground;
    const fresh = this.#fresh.filter((address) => passage.sourceOf(address) === address);
    const { renames, skipped } = await likelyRenames(source, target, fresh, this.#only);
    for (const { address, to, likeness } of renames) this.#ask({ question: 'rename', id: address, items: [address], other: to, likeness, answers: [to, 'new'], otherwise: 'new' });
    return { skipped };
  }

  /** Values that no two items may share: between what comes and what will be there, and among what comes. */
  async keys(planned: readonly Planned[], rows: ReadonlyMap<Address, SourceRow>): Promise<void> {
    const { passage, target } = this.#ground;
    const kinds = new Set<string>();
    const holders = new Map<string, Address>();
    const arriving: { address: Address; at: string; key: string }[] = [];
    for (const { address } of planned) {
      const row = rows.get(address);
      const kind = row && passage.kindOf(row);
      if (!row || !kind || kind.unique.length === 0) continue;
      kinds.add(kind.id);
      for (const { at, key } of uniqueValues(kind, (await row.load()).value)) arriving.push({ address, at, key });
    }
    if (kinds.size === 0) return;
    const there = new Set([...target.listed()].filter(([address, one]) => kinds.has(one.kind) && !rows.has(address)).map(([address]) => address));
    await target.preload([...there]);
    for await (const row of target.rows(there)) {
      const kind = target.kinds.get(row.kind);
      for (const { at, key } of kind ? uniqueValues(kind, (await row.load()).value) : []) holders.set(`${row.kind} ${at} ${key}`, row.address);
    }
    for (const { address, at, key } of arriving) {
      const slot = `${rows.get(address)?.kind ?? ''} ${at} ${key}`;
      const other = holders.get(slot);
      if (other === undefined) { holders.set(slot, address); continue; }
      this.#sameKey(address, other, at, key, rows.has(other));
    }
  }

  #sameKey(item: Address, other: Address, at: string, key: string, arrives: boolean): void {
    const id = this.#ground.passage.sourceOf(item);
    const answer = this.#ask({ question: 'same-key', id, items: [id], other, answers: arrives ? ['leave-out'] : [other, 'leave-out'] });
    this.#blocks.push({ block: 'same-key', item, at, key, other, arrives });
    if (answer === 'leave-out') this.#out.add(item);
  }
}

function requirementId(requirement: Unmet['requirement']): string {
  switch (requirement.need) {
    case 'kind': return `requirement:${requirement.kind}`;
    case 'extension': return `requirement:${requirement.extension}`;
    case 'tier': return `requirement:${requirement.extension}/tier`;
    case 'feature': return `requirement:${requirement.extension}/${requirement.feature}`;
    case 'theme': return `requirement:theme/${requirement.theme}`;
    case 'upload': return `requirement:upload/${requirement.type}`;
  }
}

function uniqueValues(kind: Kind, value: Parameters<typeof readNotation>[0]): { at: string; key: string }[] {
  const root = readNotation(value);
  return kind.unique.flatMap((path) => matches(root, path).flatMap(({ node, way }) => {
    const key = node === undefined || node === null || node === '' ? undefined : notate(node);
    return key === undefined ? [] : [{ at: pointer(way.map(String)), key: typeof key === 'string' ? key : JSON.stringify(key) }];
  }));
}

