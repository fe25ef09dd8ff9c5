import * as z from 'zod';
import { parsePlace, type Address } from '../core/address.ts';
import type { Adjustments } from '../core/adjust.ts';
import { setOwn, type Json } from '../core/json.ts';
import { Problem } from '../core/problem.ts';
import { planSteps, type Block, type ItemStep, type Planned, type PlannedFile, type Step } from '../core/route.ts';
import type { Choice } from './choice.ts';
import { isAnswer, NO_ANSWERS, type Answers, type Given } from './decisions.ts';
import { needsOf } from './draft.ts';
import { itemsOf } from './staysbehind.ts';
import type { Choices, Plan } from './plan.ts';
import { readYaml, type YamlFile } from './yamlfile.ts';

export const ROUTE_VERSION = 2;
/** Stands where an answer is wanted. */
export const OPEN = '?';

const RouteStep = z.strictObject({
  step: z.number().int(), do: z.enum(['upload', 'create', 'update', 'complete']), item: z.string().optional(), from: z.string().optional().describe('what it is called on the source, where that is other'), file: z.string().optional().describe('SHA-256 of the file'),
  title: z.string().optional(), why: z.string().optional().describe('for reading only'),
});
const RouteDecision = z.strictObject({
  question: z.enum(['clash', 'collision', 'same-key', 'rename', 'missing', 'requirement']), id: z.string(), asks: z.string().optional().describe('for reading only'), items: z.array(z.string()).default([]),
  other: z.string().optional(), likeness: z.number().optional(), answers: z.array(z.string()).describe('what can be answered; kind:name stands for any item of the target'),
  answer: z.string().describe('one of the answers, or ? as long as there is none'), of: z.strictObject({ source: z.string(), target: z.string() }).optional().describe('fingerprints of what was asked about; not to be edited'),
});
export const RouteFile = z.strictObject({
  $schema: z.string().optional(), route: z.literal(ROUTE_VERSION), made: z.string(), by: z.string(), from: z.string(), to: z.string(), fromSite: z.string(), toSite: z.string(),
  summary: z.array(z.string()).default([]).describe('in plain words; for reading only'),
  decisions: z.array(RouteDecision).default([]).describe('questions with their answers: edit the answers'),
  adjustments: z.record(z.string(), z.json()).default({}).describe('values that are other on this site: kind:name#/place → value'),
  steps: z.array(RouteStep).describe('what is done, in this order: take out what is not wanted'),
  followUps: z.array(z.string()).default([]).describe('what is left for a person; for reading only'),
  choices: z.strictObject({
    selectors: z.array(z.string()), except: z.array(z.string()).optional(), owners: z.array(z.string()).optional(), titles: z.array(z.string()).optional(), since: z.string().optional(), take: z.array(z.string()).optional(), noMedia: z.boolean().optional(),
    alone: z.boolean(), leaveUnmatched: z.boolean(), as: z.record(z.string(), z.string()).default({}), matches: z.record(z.string(), z.string()).default({}), all: z.enum(['source', 'target']).optional(), keep: z.array(z.string()).default([]).describe('what the target keeps as it is'), draft: z.boolean().default(false), allowMissing: z.boolean().default(false),
  }).describe('what the route was made with'),
  fingerprints: z.strictObject({ source: z.record(z.string(), z.string()), target: z.record(z.string(), z.string()), decisions: z.array(z.string()) }).describe('what both sides were when the route was made; not to be edited'),
});
export type RouteFile = z.output<typeof RouteFile>;
export type ReadRoute = YamlFile<RouteFile>;

/** The choices of a plan as a route keeps them; its answers and adjustments stand where they can be edited. */
export function keptChoices({ choice, alone, leaveUnmatched, as, matches, answers, keep, draft, allowMissing }: Choices): RouteFile['choices'] {
  return JSON.parse(JSON.stringify({ ...choice, alone, leaveUnmatched, as, matches, all: answers?.all, keep: keep ?? [], draft, allowMissing })) as RouteFile['choices'];
}

/** The choices that a route was made with, and the answers that stand in it now. `replan`: the answers hold whatever has changed. */
export function routeChoices({ value, where }: ReadRoute, replan: boolean): Choices {
  const { alone, leaveUnmatched, as, matches, all, keep, draft, allowMissing, ...choice } = value.choices;
  return {
    choice: JSON.parse(JSON.stringify(choice)) as Choice, alone, leaveUnmatched, as, matches, keep, draft, allowMissing, noMedia: choice.noMedia === true,
    answers: routeAnswers(value, where, replan, all), adjustments: readAdjustments(value.adjustments, (place) => where(['adjustments', place])),
  };
}

function routeAnswers(file: RouteFile, where: ReadRoute['where'], replan: boolean, all: Answers['all']): Answers {
  const each: Record<string, Given> = {};
  file.decisions.forEach(({ id, question, answer, answers, of }, i) => {
    if (Object.hasOwn(each, id) || file.decisions.findIndex((one) => one.id === id) !== i) throw edited(`${id} is decided twice`, where(['decisions', i, 'id']), 'keep one of the two');
    if (!file.fingerprints.decisions.includes(id)) throw edited(`there is no question about ${id} in this route`, where(['decisions', i, 'id']), 'take it out; what else shall be decided goes into the command that makes the route');
    if (answer === OPEN) return;
    const free = question === 'missing' || question === 'rename' || question === 'same-key' ? /^[^:\s]+:\S+$/ : question === 'collision' ? /^both:\S+$/ : undefined;
    if (!isAnswer(answer) || !(answers.includes(answer) || free?.test(answer))) throw edited(`"${answer}" is no answer to this question`, where(['decisions', i, 'answer']), `write ${[...answers, OPEN].join(' or ')}`);
    setOwn(each as Record<string, never>, id, { answer, ...(replan ? {} : { of }) } as never);
  });
  return { ...NO_ANSWERS, each, ...(all === undefined ? {} : { all }) };
}

/** `kind:name#/place` → value, by item. */
export function readAdjustments(places: Readonly<Record<string, unknown>>, where: (place: string) => string): Record<Address, Adjustments> {
  const found: Record<Address, Record<string, Json>> = {};
  for (const [place, value] of Object.entries(places)) {
    const { address, at } = parsePlace(place);
    if (!at.startsWith('/')) throw edited(`"${place}" is no place`, where(place), 'write kind:name#/place, as "pochette compare" does');
    (found[address] ??= {})[at] = value as Json;
  }
  return found;
}

/** Reads a route that may have been edited. Throws a problem with line and column. */
export function readRoute(text: string, path: string): ReadRoute {
  const read = readYaml(text, { schema: RouteFile, path, code: 'unreadable', remedy: 'docs/howto/review.md says what may be edited; "pochette route FROM TO -o route.yaml" makes a new one', mend: 'mend this line, or make the route anew' });
  const seen = new Set<string>();
  read.value.steps.forEach((step, i) => {
    const name = nameOf(step);
    if (name === undefined || (!step.do.startsWith('up') && step.item === undefined)) throw edited('this step names nothing', read.where(['steps', i]), 'take it out');
    if (seen.has(name)) throw edited(`${step.item ?? step.file ?? ''} stands in two steps`, read.where(['steps', i]), 'take one of them out');
    seen.add(name);
    if (step.do !== 'upload' && !Object.hasOwn(read.value.fingerprints.source, step.from ?? step.item ?? '')) throw edited(`${step.item ?? ''} was no step of this route`, read.where(['steps', i, 'item']), 'steps can be taken out and not be added: make the route anew with what you want in it');
  });
  return read;
}

function edited(message: string, where: string, remedy: string): Problem { return new Problem('unreadable', message, { where, remedy }); }

/** A step by what it does; the two passes over an item that closes a circle are two steps. */
function nameOf({ do: word, item, file }: RouteFile['steps'][number]): string | undefined {
  const what = word === 'upload' ? file : item;
  return what === undefined ? undefined : `${word === 'update' ? 'create' : word} ${what}`;
}

/**
 * Narrows a fresh plan to the steps of an approved route. Both sides must still be what they were when it was made: throws `moved` with the items
 * that are not. `replan`: they need not, and only what was taken out stays out.
 */
export function approved(plan: Plan, { value: file }: ReadRoute, replan: boolean): Plan {
  const sites = file.toSite === plan.target.facts.site.id && file.fromSite === plan.source.origin.site.id;
  if (!sites) throw new Problem('moved', 'this route was made for other sites', { where: `${file.from} → ${file.to}`, remedy: `make it anew: pochette route ${file.from} ${file.to} -o FILE` });
  if (!replan) refuseOtherPrints(plan, file);
  const left = new Set(file.steps.flatMap((step) => (step.do === 'create' || step.do === 'update') && step.item !== undefined ? [step.item, step.from ?? step.item] : []));
  const items = plan.route.steps.filter((step): step is ItemStep => step.do === 'create' || step.do === 'update');
  const stays = ({ item }: ItemStep): boolean => {
    const names = [item, plan.passage.sourceOf(item)];
    return names.some((name) => left.has(name)) || (replan && !names.some((name) => Object.hasOwn(file.fingerprints.source, name)));
  };
  const kept = new Set(items.filter(stays).map((step) => step.item));
  const fresh = new Map(items.map((step) => [step.item, step]));
  return { ...plan, rows: new Map([...plan.rows].filter(([address]) => kept.has(address))), route: { ...plan.route, ...narrow(plan, kept, fresh, replan ? undefined : file) } };
}

function refuseOtherPrints(plan: Plan, file: RouteFile): void {
  const { source } = plan.fingerprints;
  const etag = (address: Address): string => plan.target.index.etagOf(address) ?? '';
  const moved = Object.entries(file.fingerprints.source).filter(([address, digest]) => source[address] !== digest).map(([address]) => `${address} on ${file.from}`);
  const known = new Set([...Object.keys(file.fingerprints.source), ...Object.keys(file.fingerprints.target)]);
  for (const address of known) if (etag(address) !== (file.fingerprints.target[address] ?? '')) moved.push(`${address} on ${file.to}`);
  if (moved.length === 0) return;
  throw new Problem('moved', `${file.from} or ${file.to} was changed since the route was made on ${file.made.slice(0, 10)}`, { where: moved[0] as string, remedy: 'look with "pochette compare"; then --replan keeps the answers and what was taken out, or make the route anew', details: moved });
}

function narrow(plan: Plan, kept: ReadonlySet<string>, fresh: ReadonlyMap<string, ItemStep>, file: RouteFile | undefined): Pick<Plan['route'], 'steps' | 'blocks' | 'followUps'> {
  const listed = plan.source.listed();
  const items = [...fresh.values()].filter((step) => kept.has(step.item)).map((step): Planned => {
    const row = plan.rows.get(step.item);
    return {
      address: step.item, kind: step.kind, title: step.title, covers: step.covers, rank: plan.source.kinds.get(step.kind)?.description.rank ?? 50, action: step.do,
      ...(row ? needsOf(row, listed, plan.target.kinds) : { needs: [], firm: [], inside: [] }), files: row?.files ?? [], fingerprint: step.fingerprint, ...(step.etag === undefined ? {} : { etag: step.etag }), ...(step.status === undefined ? {} : { status: step.status }),
    };
  });
  const used = new Set(items.flatMap((item) => item.files));
  const files = plan.route.steps.flatMap((step): PlannedFile[] => (step.do === 'upload' && used.has(step.file) ? [{ digest: step.file, type: step.type, bytes: step.bytes }] : []));
  const steps: Step[] = planSteps(items, files);
  const dropped = [...items.flatMap((item) => item.needs.filter((need) => fresh.get(need)?.do === 'create' && !kept.has(need)).map((to): Block => ({ block: 'dropped', item: item.address, needs: to }))), ...(file ? droppedHelp(steps, items, { file, plan }) : [])];
  const concerns = (block: Block): boolean => itemsOf(block).length === 0 || itemsOf(block).some((one) => kept.has(one));
  return { steps, blocks: [...plan.route.blocks.filter(concerns), ...dropped], followUps: plan.route.followUps.filter((one) => one.followUp === 'by-hand' || kept.has(one.item)) };
}

/** Uploads and completions that were taken out, and that steps which are left need. */
function droppedHelp(steps: readonly Step[], items: readonly Planned[], { file, plan }: { file: RouteFile; plan: Plan }): Block[] {
  const left = new Set(file.steps.map(nameOf));
  const closing = new Set(plan.route.steps.flatMap((step) => (step.do === 'complete' ? [step.item] : [])));
  return steps.flatMap((step): Block[] => {
    if (step.do === 'upload' && !left.has(`upload ${step.file}`)) return items.filter((item) => item.files.includes(step.file)).map((item) => ({ block: 'dropped', item: item.address, needs: `the file ${step.file.slice(0, 12)}…` }));
    // Fewer steps can make another item close the circle: that one was in no route.
    if (step.do === 'complete' && closing.has(step.item) && !left.has(`complete ${step.item}`)) return [{ block: 'dropped', item: step.item, needs: `its references to ${step.refersTo.join(', ')} in the end` }];
    return [];
  });
}
