import type { FollowUp } from '../core/route.ts';
import { Problem } from '../core/problem.ts';
import { PublicFiles } from './absentfiles.ts';
import { AT_ONCE, inParallel } from './parallel.ts';
import type { KeptFollowUp } from './records/folder.ts';
import type { SiteSource } from './sources/site.ts';
import type { Workspace } from './workspace.ts';

/** Adds what a run left for a person. What was left by an earlier run in the same place is the same thing, and counts once. */
export function keepFollowUps(workspace: Workspace, site: string, run: string, followUps: readonly FollowUp[]): void {
  if (followUps.length === 0) return;
  const fresh = new Set(followUps.map(keyOf));
  const before = workspace.records.followUps(site).filter((one) => one.done !== undefined || !fresh.has(keyOf(one)));
  let number = before.reduce((highest, one) => Math.max(highest, one.number), 0);
  workspace.records.saveFollowUps(site, [...before, ...followUps.map((one) => ({ ...one, number: ++number, run }))]);
}

function keyOf(one: FollowUp): string {
  if (one.followUp === 'by-hand') return `by-hand ${one.what}`;
  return [one.followUp, one.item, 'at' in one ? one.at : '', 'to' in one ? one.to : '', 'what' in one ? one.what : '', 'path' in one ? one.path : ''].join(' ');
}

export interface FollowUpList { readonly open: readonly KeptFollowUp[]; readonly done: readonly KeptFollowUp[] }

/** What is open on a site. What can be seen to be done is ticked off: what was missing is there, what was a draft is published. */
export async function openFollowUps(workspace: Workspace, target: SiteSource, tick: readonly number[]): Promise<FollowUpList> {
  const site = target.facts.site.id;
  const list = workspace.records.followUps(site);
  const unknown = tick.find((number) => !list.some((one) => one.number === number && one.done === undefined));
  if (unknown !== undefined) throw new Problem('usage', `there is no open follow-up ${unknown} on ${target.label}`, { remedy: `"pochette followups ${target.label}" lists them with their numbers` });
  const now = workspace.now().toISOString();
  const undone = new Set(workspace.records.runs().filter((run) => run.undoneBy !== undefined).map((run) => run.run));
  const files = new PublicFiles(target);
  const after = await inParallel(list.filter((one) => !undone.has(one.run)), AT_ONCE, async (one) => {
    if (one.done !== undefined) return one;
    if (tick.includes(one.number)) return { ...one, done: now, by: workspace.you };
    return await isSettled(one, target, files) ? { ...one, done: now, by: 'seen on the site' } : one;
  });
  if (JSON.stringify(after) !== JSON.stringify(list)) workspace.records.saveFollowUps(site, after);
  return { open: after.filter((one) => one.done === undefined), done: after.filter((one) => one.done !== undefined) };
}

async function isSettled(one: FollowUp, target: SiteSource, files: PublicFiles): Promise<boolean> {
  switch (one.followUp) {
    case 'link-missing': return target.index.has(one.to);
    case 'file-absent': return files.has(one.path);
    case 'publish': return target.index.row(one.item)?.status !== 'draft';
    default: return false;
  }
}
