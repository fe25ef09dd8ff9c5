import { stringify } from 'yaml';
import { kindWord, placeOf } from '../core/address.ts';
import { groupBy } from '../core/json.ts';
import type { ItemStep, Step } from '../core/route.ts';
import type { Plan } from '../jobs/plan.ts';
import { keptChoices, OPEN, ROUTE_VERSION, type RouteFile } from '../jobs/routefile.ts';
import { many, some } from './units.ts';
import { adjustedText, followUpText, questionText } from './words.ts';

const HEADER = `# A route: what an import will do, in this order, for someone to read and approve.
# It may be edited: the answers under "decisions", values under "adjustments", and steps can be taken out.
# "pochette import --route FILE" does exactly this, or refuses because a site was changed meanwhile.
`;

/** The route as text that a colleague can read, edit and approve. */
export function routeText(plan: Plan, by: string, made: string): string {
  const { source, target, route, fingerprints } = plan;
  const [from, to] = [source.label, target.label];
  const file: RouteFile = {
    route: ROUTE_VERSION, made, by, from, to, fromSite: source.origin.site.id, toSite: target.facts.site.id,
    summary: routeSummary(plan),
    decisions: plan.decisions.map(({ answer, otherwise, items, ...decision }) => {
      const asks = questionText({ ...decision, items }, from, to);
      const { question, id, ...more } = decision;
      return { question, id, asks, items: [...items], ...more, answers: [...more.answers], answer: answer ?? otherwise ?? OPEN };
    }),
    adjustments: Object.fromEntries(Object.entries(plan.choices.adjustments ?? {}).flatMap(([address, places]) => Object.entries(places).map(([at, value]) => [placeOf(address, at), value]))),
    steps: route.steps.map((step) => ({ step: step.step, do: step.do, ...('item' in step ? { item: step.item, ...fromOf(plan, step.item) } : { file: step.file }), ...('title' in step && step.title !== '' ? { title: step.title } : {}), ...whyOf(step) })),
    followUps: route.followUps.map(followUpText),
    choices: keptChoices(plan.choices),
    fingerprints: { source: { ...fingerprints.source }, target: { ...fingerprints.target }, decisions: plan.decisions.map((one) => one.id) },
  };
  return HEADER + stringify(JSON.parse(JSON.stringify(file)), { lineWidth: 0, aliasDuplicateObjects: false });
}

function fromOf({ passage }: Plan, item: string): { from?: string } {
  const from = passage.sourceOf(item);
  return from === item ? {} : { from };
}

function whyOf(step: Step): { why?: string } {
  const only = (step.do === 'create' || step.do === 'update') && step.covers !== 'all' ? [`only ${step.covers.join(', ')}`] : [];
  const why = [...only, stepReason(step)].filter((one) => one !== '').join('; ');
  return why === '' ? {} : { why };
}

/** Why a step stands where it stands. */
export function stepReason(step: Step): string {
  if (step.do === 'complete') return `gets its references to ${named(step.refersTo, step.item)}, now that ${step.refersTo.length === 1 ? 'it is' : 'they are'} there`;
  const [first, ...more] = step.before;
  const before = first ? `before ${first.step}: ${first.item} uses it${more.length > 0 ? `, and ${many(more.length, 'other')}` : ''}` : '';
  const circle = step.do !== 'upload' && step.deferred.length > 0 ? `at first without ${named(step.deferred, step.item)}: ${step.deferred.every((one) => one === step.item) ? 'its id is not known before' : 'they refer to each other'}` : '';
  return [before, circle].filter((one) => one !== '').join('; ');
}

function named(addresses: readonly string[], own: string): string { return addresses.map((one) => (one === own ? 'itself' : one)).join(', '); }

/** What an import will do, in plain words: what is made, changed and left, what visitors will notice, what cannot be undone, what is open. */
export function routeSummary({ route, counts, kept, merged, leftOut, adjusted, decisions, target, choices }: Plan): string[] {
  const to = target.label;
  const steps = route.steps.filter((step): step is ItemStep => step.do === 'create' || step.do === 'update');
  const of = (word: Step['do']): number => route.steps.filter((step) => step.do === word).length;
  const open = decisions.filter((one) => one.answer === undefined && one.otherwise === undefined);
  return [
    `Made on ${to}: ${kindsOf(steps.filter((step) => step.do === 'create'))}.`,
    `Changed on ${to}: ${kindsOf(steps.filter((step) => step.do === 'update'))}.`,
    `Left as it is: ${many(counts.same, 'item')} that ${counts.same === 1 ? 'is' : 'are'} the same${kept.length > 0 ? `, and ${some(kept, 6)}, changed or removed on ${to} since the last import or kept by decision` : ''}.`,
    ...(merged.size > 0 ? [`Put together from both sides: ${some([...merged.keys()], 6)}.`] : []),
    ...[...groupBy(adjusted, adjustedText)].map(([text, list]) => `${some([...new Set(list.map((one) => one.item))], 4)} ${text}.`),
    ...(leftOut.length > 0 ? [`Left out: ${some(leftOut.map((one) => placeOf(one.address, one.at)), 6)}.`] : []),
    noticed(steps, target, choices.draft === true),
    `An undo brings all items back as they were${of('upload') > 0 ? `; the ${many(of('upload'), 'uploaded file')} stay on the site` : ''}. It cannot bring back what others change in these items in between.`,
    ...(open.length > 0 ? [`Open: ${many(open.length, 'question')}, to be answered under "decisions" before this can be imported.`] : []),
  ];
}

function kindsOf(steps: readonly ItemStep[]): string {
  if (steps.length === 0) return 'nothing';
  return [...groupBy(steps, (step) => kindWord(step.item))].map(([kind, list]) => (list.length > 3 ? `${list.length} of kind ${kind}` : list.map((step) => step.item).join(', '))).join('; ');
}

/** Which pages change before visitors' eyes; what has no page of its own can show on any. */
function noticed(steps: readonly ItemStep[], { index, kinds }: Plan['target'], draft: boolean): string {
  const seen = steps.filter((step) => step.status !== 'draft');
  if (seen.length === 0) return draft ? 'Visitors notice nothing before "pochette publish".' : 'Visitors notice nothing.';
  const pages = [...new Set(seen.flatMap((step) => index.seenAt(step.item) ?? []))].sort();
  const everywhere = [...new Set(seen.filter((step) => index.seenAt(step.item) === undefined && kinds.get(step.kind)?.description.where === undefined).map((step) => kindWord(step.item)))];
  const parts = [...(pages.length > 0 ? [`the pages ${some(pages, 8)}`] : []), ...(everywhere.length > 0 ? [`wherever these show: ${everywhere.join(', ')}`] : [])];
  return `Visitors notice at once: ${parts.length > 0 ? parts.join('; ') : 'the new items'}.`;
}
