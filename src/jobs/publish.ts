import type { Address } from '../core/address.ts';
import { Problem } from '../core/problem.ts';
import type { Operation } from '../sites/connector.ts';
import { select } from './select.ts';
import { silentPages, type PageAnswer } from './pages.ts';
import { Run } from './run/run.ts';
import type { SiteSource } from './sources/site.ts';
import type { Workspace } from './workspace.ts';

export interface PublishPlan { readonly target: SiteSource; readonly drafts: readonly Address[]; /** The run whose drafts these are. */ readonly of: string | undefined }
export interface PublishResult { readonly run: string; readonly published: readonly { address: Address; url: string | undefined }[]; readonly silent: readonly PageAnswer[] }

/** The drafts that selectors choose; those that a run left to be published; or, with neither, those of the newest import that left some. */
export function planPublish(workspace: Workspace, target: SiteSource, wish: { selectors: readonly string[]; run: string | undefined }): PublishPlan {
  const isDraft = (address: Address): boolean => target.index.row(address)?.status === 'draft';
  if (wish.selectors.length > 0) {
    const chosen = [...select(target, { selectors: wish.selectors }).chosen.keys()];
    const drafts = chosen.filter(isDraft);
    if (drafts.length === 0) throw new Problem('usage', `nothing that was chosen on ${target.label} is a draft`, { where: wish.selectors.join(' '), remedy: `"pochette followups ${target.label}" lists what waits to be published` });
    return { target, drafts, of: undefined };
  }
  const runs = workspace.records.runs().filter((run) => run.verb === 'import' && run.toSite === target.facts.site.id && run.undoneBy === undefined && (wish.run === undefined || run.run === wish.run));
  if (wish.run !== undefined && runs.length === 0) throw new Problem('usage', `there is no import ${wish.run} to ${target.label}`, { remedy: `"pochette history ${target.label}" lists the runs` });
  const left = workspace.records.followUps(target.facts.site.id).flatMap((one) => (one.followUp === 'publish' && one.done === undefined ? [one] : []));
  for (const { run } of runs) {
    const drafts = left.filter((one) => one.run === run).map(({ item }) => item).filter(isDraft);
    if (drafts.length > 0) return { target, drafts, of: run };
  }
  throw new Problem('usage', wish.run === undefined ? `no import to ${target.label} left drafts` : `the import ${wish.run} left no drafts`, { remedy: 'name what is to be published with selectors, such as template:*' });
}

/** Makes drafts visible: the second act of an import. It is a run, and can be undone. */
export async function publish(workspace: Workspace, { target, drafts, of }: PublishPlan): Promise<PublishResult> {
  const keys = drafts.flatMap((address) => target.index.row(address) ?? []).map(({ kind, id }) => ({ kind, id }));
  const run = await Run.begin(workspace, target, { verb: 'publish', from: of ?? target.label, fromSite: target.facts.site.id });
  try {
    await run.secure(drafts, []);
    const operations: Operation[] = [];
    for await (const item of target.connector.read(keys)) operations.push({ op: 'update', key: run.key(), kind: item.kind, id: item.id, ifMatch: item.etag, value: item.value, status: 'published' });
    let done = 0;
    await run.send(operations, (answers) => { done += answers.length; workspace.onProgress({ phase: 'publishing', done, total: operations.length }); });
    await target.connector.renewCaches();
    await refuseStillDrafts(target, keys);
    await run.finish();
  } catch (error) {
    return run.takeBack(error);
  }
  for (const address of drafts) { const row = target.index.row(address); if (row) target.index.add({ ...row, status: 'published' }); }
  const published = drafts.map((address) => { const path = target.index.seenAt(address); return { address, url: path === undefined ? undefined : target.index.site + path }; });
  return { run: run.id, published, silent: await silentPages(target, drafts) };
}

async function refuseStillDrafts(target: SiteSource, keys: readonly { kind: string; id: number | string }[]): Promise<void> {
  for await (const item of target.connector.read(keys)) {
    if (item.status === 'draft') throw new Problem('blocked', `${target.label} kept it as a draft`, { where: target.index.addressOf(item), remedy: 'publish it by hand, and see why the site keeps it' });
  }
}
