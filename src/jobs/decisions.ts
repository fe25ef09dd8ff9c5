import { makeAddress, parseAddress, type Address } from '../core/address.ts';
import type { Side } from '../core/merge.ts';
import { Problem } from '../core/problem.ts';
import type { Wishes } from './passage.ts';
import type { SiteSource } from './sources/site.ts';
import type { Source } from './sources/source.ts';

export type QuestionKind = 'clash' | 'collision' | 'same-key' | 'rename' | 'missing' | 'requirement';

/** A question that the two sites raise, with its answer where there is one. */
export interface Decision {
  readonly question: QuestionKind;
  /** What it is answered by: an item, a place in one, or a requirement. Unique in a route. */
  readonly id: string;
  /** The items that depend on it, as they are called on the source. */
  readonly items: readonly Address[];
  /** The other thing that the question is about: the item that it may be, or that has its key. */
  readonly other?: Address;
  /** For a rename and a collision, from 0 to 1. */
  readonly likeness?: number;
  /** What can be answered; `kind:name` stands for any item of the target of that kind. */
  readonly answers: readonly string[];
  readonly answer?: string;
  /** What is done without an answer; a question without it has to be answered. */
  readonly otherwise?: string;
  /** What the item was on both sides when it was asked: the answer holds for this only. */
  readonly of?: { readonly source: string; readonly target: string };
  /** The answer is one of an earlier time. */
  readonly kept?: boolean;
}

/** An answer, and what it was given for. `kept`: at an earlier time. */
export interface Given { readonly answer: string; readonly of?: { readonly source: string; readonly target: string } | undefined; readonly kept?: boolean }

/** What was answered: to all clashes and collisions at once, and to single questions. */
export interface Answers { readonly all?: Side | undefined; readonly each: Readonly<Record<string, Given>> }
export const NO_ANSWERS: Answers = { each: {} };

const WORDS = /^(source|target|both|both:\S+|new|leave|leave-out|anyway|[^:=\s]+:\S+)$/;

/** `source`, `target`, or `id=answer`: options, and lines of a route. Throws a `usage` problem. */
export function readAnswers(texts: readonly string[]): Answers {
  const each: Record<string, Given> = {};
  let all: Side | undefined;
  for (const text of texts) {
    if (text === 'source' || text === 'target') { all = text; continue; }
    const { id, answer } = splitAnswer(text);
    if (each[id] !== undefined && each[id].answer !== answer) throw new Problem('usage', `${id} is answered twice: ${each[id].answer} and ${answer}`, { where: '--decide', remedy: 'keep one of the two' });
    each[id] = { answer };
  }
  return { each, ...(all === undefined ? {} : { all }) };
}

function splitAnswer(text: string): { id: string; answer: string } {
  const at = text.lastIndexOf('=');
  const [id, answer] = [text.slice(0, at), text.slice(at + 1)];
  if (at < 1 || !id.includes(':') || !isAnswer(answer)) throw new Problem('usage', `"${text}" is no decision`, { where: '--decide', remedy: 'write --decide source, --decide target, --decide kind:name=source or another answer that the question offers' });
  return { id, answer };
}

export function isAnswer(text: string): boolean { return WORDS.test(text); }

/** The answer to a question, as long as it was given for what is there now. */
export function answerTo(answers: Answers, id: string, of?: Decision['of']): string | undefined {
  const given = Object.hasOwn(answers.each, id) ? answers.each[id] : undefined;
  if (!given || (given.of && of && (given.of.source !== of.source || given.of.target !== of.target))) return undefined;
  return given.answer;
}

/** Answers that were kept, below those that are given now. */
export function withKept(answers: Answers, kept: Readonly<Record<string, Given>>): Answers {
  return { ...answers, each: { ...Object.fromEntries(Object.entries(kept).map(([id, given]) => [id, { ...given, kept: true }])), ...answers.each } };
}

/** What is worth keeping of a plan's decisions: each answer with what it was given for. */
export function toKeep(decisions: readonly Decision[]): Record<string, Given> {
  return Object.fromEntries(decisions.flatMap(({ id, answer, of }) => (answer === undefined ? [] : [[id, { answer, ...(of ? { of } : {}) }] as const])));
}

/** Turns answers about names and references into wishes about the way: what is called otherwise there, what stands in for it, and what stays empty. */
export function withAnswers(wishes: Wishes, answers: Answers, { source, target, isChosen }: { source: Source; target: SiteSource; isChosen: (address: Address) => boolean }): Wishes {
  const as: Record<Address, Address> = { ...wishes.as };
  const matches: Record<Address, Address> = { ...wishes.matches };
  const leave: Address[] = [...(wishes.leave ?? [])];
  for (const [id, { answer }] of Object.entries(answers.each)) {
    if (answer === 'leave') leave.push(id);
    else if (answer.startsWith('both')) as[id] = answer === 'both' ? freeName(id, source, target) : makeAddress(parseAddress(id).kind, answer.slice('both:'.length));
    else if (/^[^:=\s]+:/.test(answer)) (isChosen(id) ? as : matches)[id] = answer;
  }
  return { ...wishes, as, matches, leave };
}

/** The first name that neither side has: `fares-2`. */
function freeName(address: Address, source: Source, target: SiteSource): Address {
  const { kind, name } = parseAddress(address);
  for (let i = 2; ; i++) {
    const free = makeAddress(kind, `${name}-${i}`);
    if (!target.index.has(free) && !source.listed().has(free)) return free;
  }
}
