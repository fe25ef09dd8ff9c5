import type { Address } from '../core/address.ts';
import type { Route } from '../core/route.ts';
import type { SourceRow } from '../core/source.ts';
import type { Takes } from '../core/take.ts';
import type { Bases } from './base.ts';
import { chooser, type Choice } from './choice.ts';
import { compare, type ItemStatus } from './compare.ts';
import { NO_ANSWERS, withAnswers, type Answers, type Decision } from './decisions.ts';
import { Draft } from './draft.ts';
import type { EqualItem } from './equal.ts';
import { bringAlong, type Along } from './along.ts';
import { companions, select, type Chosen, type Selection } from './select.ts';
import type { Adjusted, Passage, Wishes } from './passage.ts';
import type { SiteSource } from './sources/site.ts';
import type { LeftOut, Source } from './sources/source.ts';
import type { OnProgress } from './workspace.ts';

/** What was chosen, and what was decided about its way. */
export interface Choices extends Wishes {
  readonly choice: Choice;
  readonly alone: boolean;
  /** What is created stays unseen by visitors until it is published. */
  readonly draft?: boolean;
  /** What was answered to the questions that the two sites raise. */
  readonly answers?: Answers;
  /** Import what can be imported, and list the rest. */
  readonly allowMissing?: boolean;
}
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
  /** Equal on both sides, which was not known. */
  readonly same: Iterable<EqualItem>;
  /** Questions that the two sites raise, answered or not. */
  readonly decisions: readonly Decision[];
  /** What differs, as it was on both sides: the source's own fingerprints and the target's etags, by address on the source and on the target. */
  readonly fingerprints: { readonly source: Readonly<Record<Address, string>>; readonly target: Readonly<Record<Address, string>> };
  /** Kinds of which so much is new that likely renames were not looked for. */
  readonly notCompared: readonly string[];
  /** Asked for as drafts, and seen at once all the same: updates, and what cannot be a draft. */
  readonly seenAtOnce: readonly Address[];
}

/** Compares, checks requirements and puts what has to be written in order. Writes nothing. */
export async function plan(source: Source, target: SiteSource, choices: Choices, onProgress: OnProgress, bases?: Bases): Promise<Plan> {
  const { choice } = choices;
  const first = chooser(choice).everything ? undefined : select(source, choice);
  const isThere = (address: Address): boolean => target.index.has(address);
  const broughtAlong = choices.alone || !first ? [] : await bringAlong(source, first.chosen, { noMedia: choice.noMedia === true, isThere, ...(choices.as ? { as: choices.as } : {}) });
  const answers = choices.answers ?? NO_ANSWERS;
  const brought = new Map(broughtAlong.map((one) => [one.address, one.for]));
  const comes = first?.chosen ?? source.listed();
  const isChosen = (address: Address): boolean => comes.has(address) || brought.has(address);
  const { selection, findings, passage, takes, reused } = await compare(source, target, first ? withBrought(choice, first, broughtAlong) : choice, { wishes: withAnswers(choices, answers, { source, target, isChosen }), places: false, values: true, bases, closed: first !== undefined && !choices.alone && choice.noMedia !== true });
  const draft = new Draft({ source, target, choices, answers, isChosen, passage: passage as Passage, bases, brought, reused });
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
export function leftBehind(source: Source, chosen: Pick<Chosen, 'has' | 'keys'>): LeftOut[] {
  if (![...source.kinds.values()].some((kind) => kind.description.companions.length > 0)) return [];
  const listed = source.listed();
  return [...chosen.keys()].flatMap((address) => {
    const { there, absent } = companions(source, address, listed.get(address)?.kind ?? '');
    return [
      ...there.filter((one) => !chosen.has(one)).map((one) => ({ address: one, at: '', why: `${address} belongs together with it, and it was not chosen`, remedy: `choose ${one} too` })),
      ...absent.map((one) => ({ address: one.address, at: '', why: `${address} belongs together with it: ${one.why}`, remedy: one.remedy ?? '' })),
    ];
  });
}
