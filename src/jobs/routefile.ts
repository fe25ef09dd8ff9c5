import { parse, stringify } from 'yaml';
import * as z from 'zod';
import { firstIssue } from '../core/kind.ts';
import { Problem } from '../core/problem.ts';
import { planSteps, type Block, type ItemStep, type Planned, type PlannedFile, type Step } from '../core/route.ts';
import type { Choice } from './choice.ts';
import { needsOf, type Choices, type Plan } from './plan.ts';

const ROUTE = 1;
const RouteStep = z.looseObject({ step: z.number(), do: z.enum(['upload', 'create', 'update', 'complete']), item: z.string().optional(), file: z.string().optional(), fingerprint: z.string().optional(), etag: z.string().optional() });
const RouteFile = z.strictObject({
  route: z.literal(ROUTE), made: z.string(), by: z.string(), from: z.string(), to: z.string(), fromSite: z.string(), toSite: z.string(),
  choices: z.strictObject({
    selectors: z.array(z.string()), except: z.array(z.string()).optional(), owners: z.array(z.string()).optional(), titles: z.array(z.string()).optional(), since: z.string().optional(), take: z.array(z.string()).optional(), noMedia: z.boolean().optional(),
    alone: z.boolean(), leaveUnmatched: z.boolean(), as: z.record(z.string(), z.string()).default({}), matches: z.record(z.string(), z.string()).default({}), decide: z.strictObject({ all: z.enum(['source', 'target']).optional(), items: z.record(z.string(), z.enum(['source', 'target'])).default({}) }).default({ items: {} }), draft: z.boolean().default(false), allowMissing: z.boolean().default(false),
  }),
  steps: z.array(RouteStep), followUps: z.array(z.unknown()).default([]),
});
export type RouteFile = z.output<typeof RouteFile>;

const HEADER = `# A route: what an import will do, in this order. Read it, and take out steps that are not wanted.
# "pochette import --route FILE" does exactly this, or refuses because a site was changed meanwhile.
`;

/** The route as text that a colleague can read and approve. */
export function routeText(plan: Plan, by: string, made: string): string {
  const file: RouteFile = {
    route: ROUTE, made, by, from: plan.source.label, to: plan.target.label, fromSite: plan.source.origin.site.id, toSite: plan.target.facts.site.id,
    choices: choicesText(plan.choices),
    steps: plan.route.steps.map((step) => ({ ...step })), followUps: [...plan.route.followUps],
  };
  return HEADER + stringify(file, { lineWidth: 0, aliasDuplicateObjects: false });
}

function choicesText({ choice, alone, leaveUnmatched, as, matches, decide, draft, allowMissing }: Choices): RouteFile['choices'] {
  return JSON.parse(JSON.stringify({ ...choice, alone, leaveUnmatched, as, matches, decide, draft, allowMissing })) as RouteFile['choices'];
}

/** The choices that a route was made with. */
export function routeChoices({ choices: { alone, leaveUnmatched, as, matches, decide, draft, allowMissing, ...choice } }: RouteFile): Choices {
  return { choice: JSON.parse(JSON.stringify(choice)) as Choice, alone, leaveUnmatched, as, matches, decide: { items: decide.items, ...(decide.all === undefined ? {} : { all: decide.all }) }, draft, allowMissing, noMedia: choice.noMedia === true };
}

export function readRoute(text: string, path: string): RouteFile {
  let value: unknown;
  try { value = parse(text, { maxAliasCount: 0 }); } catch (error) {
    throw new Problem('unreadable', `this is not YAML: ${error instanceof Error ? error.message.split('\n')[0] : ''}`, { where: path });
  }
  const parsed = RouteFile.safeParse(value);
  if (!parsed.success) throw new Problem('unreadable', `this is not a route: ${firstIssue(parsed.error)}`, { where: path, remedy: 'make one with "pochette route FROM TO -o route.yaml"' });
  return parsed.data;
}

/**
 * Narrows a fresh plan to the steps of an approved route. Every approved step must still be what the fresh plan would do: same item, same
 * content of the source, same etag of the target. Throws `moved` with the items where it is not.
 */
export function approved(plan: Plan, file: RouteFile): Plan {
  const fresh = new Map(plan.route.steps.filter((step): step is ItemStep => step.do === 'create' || step.do === 'update').map((step) => [step.item, step]));
  const wanted = file.steps.filter((step) => step.do === 'create' || step.do === 'update');
  const moved = wanted.filter((step) => {
    const now = fresh.get(step.item ?? '');
    return now?.do !== step.do || now.fingerprint !== step.fingerprint || now.etag !== step.etag;
  }).map((step) => step.item ?? `step ${step.step}`);
  if (file.toSite !== plan.target.facts.site.id || file.fromSite !== plan.source.origin.site.id) moved.push('the route was made for other sites');
  if (moved.length > 0) {
    throw new Problem('moved', `${moved.length} steps of the route no longer fit: ${plan.source.label} or ${plan.target.label} was changed since ${file.made}`, {
      where: moved[0] as string, remedy: `make the route anew: pochette route ${file.from} ${file.to} -o FILE`, details: moved,
    });
  }
  const kept = new Set(wanted.map((step) => step.item as string));
  return { ...plan, rows: new Map([...plan.rows].filter(([address]) => kept.has(address))), route: { ...plan.route, ...narrow(plan, kept, fresh) } };
}

function narrow(plan: Plan, kept: ReadonlySet<string>, fresh: ReadonlyMap<string, ItemStep>): Pick<Plan['route'], 'steps' | 'blocks' | 'followUps'> {
  const listed = plan.source.listed();
  const items = [...fresh.values()].filter((step) => kept.has(step.item)).map((step): Planned => {
    const row = plan.rows.get(step.item);
    return {
      address: step.item, kind: step.kind, title: step.title, covers: step.covers, rank: plan.source.kinds.get(step.kind)?.description.rank ?? 50, action: step.do,
      needs: row ? needsOf(row, listed) : [], files: row?.files ?? [], fingerprint: step.fingerprint, ...(step.etag === undefined ? {} : { etag: step.etag }), ...(step.status === undefined ? {} : { status: step.status }),
    };
  });
  const used = new Set(items.flatMap((item) => item.files));
  const files = plan.route.steps.flatMap((step): PlannedFile[] => (step.do === 'upload' && used.has(step.file) ? [{ digest: step.file, type: step.type, bytes: step.bytes }] : []));
  const removed = items.flatMap((item) => item.needs.filter((need) => fresh.get(need)?.do === 'create' && !kept.has(need)).map((to) => ({ block: 'missing' as const, item: item.address, at: '', to, near: [] })));
  const steps: Step[] = planSteps(items, files);
  const concerns = (block: Block): boolean => block.block === 'read-only' || (block.block === 'requirement' ? block.unmet.requirement.neededBy.some((one) => kept.has(one)) : kept.has(block.item));
  return { steps, blocks: [...plan.route.blocks.filter(concerns), ...removed], followUps: plan.route.followUps.filter((one) => one.followUp === 'by-hand' || kept.has(one.item)) };
}
