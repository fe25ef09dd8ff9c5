import { join } from 'node:path';
import type { Address } from '../core/address.ts';
import type { PortableItem } from '../core/item.ts';
import { Problem } from '../core/problem.ts';
import { itemKey, type LocalId, type SiteIndex } from '../core/siteindex.ts';
import { readNotation } from '../core/translate/notation.ts';
import { findings } from '../core/translate/portable.ts';
import type { ExactRecord, ItemKey } from '../sites/connector.ts';
import type { RecordsFolder, RunRecord } from './records/folder.ts';
import { keepMemory, restoreMemory, tellLedger } from './remember.ts';
import { readJournal, type Intent, type Journalled } from './run/journal.ts';
import { reverseOperations } from './run/reverse.ts';
import { JOURNAL_FILE, Run } from './run/run.ts';
import { readSafetyCopy, type RowsOf } from './run/safety.ts';
import type { SiteSource } from './sources/site.ts';
import type { Workspace } from './workspace.ts';

/** What an undo would do. */
export interface UndoPlan {
  readonly run: RunRecord;
  readonly target: SiteSource;
  readonly restore: readonly Address[];
  readonly remove: readonly Address[];
  /** Items that someone changed after the run. */
  readonly changedSince: readonly Address[];
  readonly journal: Journalled;
  readonly records: ReadonlyMap<string, ExactRecord>;
  /** Of a site that was opened in part: its items as they are. */
  readonly kept: RowsOf | undefined;
}
export interface UndoResult { readonly run: string; readonly undone: string; readonly restored: number; readonly removed: number; /** Items that do not equal the safety copy. */ readonly unequal: readonly Address[] }

/**
 * Opens the site, finds the run and works out what bringing the site back means. Writes nothing. Where everything is as the run left it, and what that
 * was is at hand, only the items of the run are looked at: of a large site the rest takes long. The plan's target has to be closed.
 */
export async function openUndo(workspace: Workspace, site: string, runId: string | undefined): Promise<UndoPlan> {
  const part = await workspace.openSite(site, undefined, (id) => keysOf(workspace, id, runId));
  try {
    const plan = await planUndo(workspace, part, runId);
    if (!part.part || (plan.changedSince.length === 0 && plan.kept)) return plan;
  } catch (error) { await part.close(); throw error; }
  await part.close();
  const target = await workspace.openSite(site);
  try { return await planUndo(workspace, target, runId); } catch (error) { await target.close(); throw error; }
}

/** The items of a run that ended well, and whose answers all came; undefined where more has to be known. */
function keysOf(workspace: Workspace, site: string, runId: string | undefined): ItemKey[] | undefined {
  const { records } = workspace;
  const run = candidates(records, site).find((one) => (runId === undefined ? one.verb === 'import' : one.run === runId));
  // What was published since is not as the run left it.
  if (run?.verb !== 'import' || run.state !== 'done' || publishes(workspace, run).length > 0) return undefined;
  const { intents, answers } = readJournal(join(records.runFolder(run.run), JOURNAL_FILE));
  const items = lastEtags(intents, answers);
  const answered = intents.every(({ key }) => { const answer = answers.get(key); return answer !== undefined && answer.status < 400 && (answer.id ?? '') !== ''; });
  return answered ? [...items.values()].map(({ kind, id }) => ({ kind, id })) : undefined;
}

/** The forms of the items that are there as a run left them; undefined where one is not known any more. */
function keptRows({ records }: Workspace, { index, kinds }: SiteSource, run: RunRecord): RowsOf | undefined {
  const left = new Map<Address, string>();
  for (const one of records.baseOf(run)) if (one.covers === undefined) left.set(one.address, one.target);
  const known = new Map<Address, string>();
  for (const address of index.addresses()) {
    const text = records.formText(run.run, left.get(address) ?? '');
    if (text === undefined || !index.kindOf(address)) return undefined;
    known.set(address, text);
  }
  return function* (addresses) {
    for (const address of addresses) {
      const [row, text] = [index.row(address), known.get(address)];
      const kind = row && kinds.get(row.kind);
      if (!row || !kind || text === undefined) continue;
      const item = JSON.parse(text) as PortableItem;
      yield {
        address, kind: row.kind, title: row.title, covers: 'all', fingerprint: left.get(address) ?? '', size: Buffer.byteLength(text), text,
        ...findings(kind, readNotation(item.value)), withheld: [], leftOut: [], load: () => Promise.resolve(item),
      };
    }
  };
}

async function planUndo(workspace: Workspace, target: SiteSource, runId: string | undefined): Promise<UndoPlan> {
  const run = findRun(workspace, target, runId);
  const journal = readJournal(join(workspace.records.runFolder(run.run), JOURNAL_FILE));
  const { intents, answers } = journal;
  const records = await readSafetyCopy(workspace.records, run.run);
  const { index } = target;
  const operations = reverseOperations(journal, records, index, () => '-');
  const last = lastEtags(intents, answers);
  const published = publishes(workspace, run).map((one) => readJournal(join(workspace.records.runFolder(one.run), JOURNAL_FILE)));
  const ours = new Set(published.flatMap((one) => [...lastEtags(one.intents, one.answers)].map(([key, { etag }]) => `${key} ${etag}`)));
  const changed = [...last].filter(([key, left]) => {
    const etag = index.rowOf(left)?.etag;
    // What is not found when it is asked for alone may be there all the same: then the whole site is opened.
    if (target.part && etag === undefined) return left.etag !== '';
    return (etag ?? '') !== left.etag && etag !== records.get(key)?.etag && !ours.has(`${key} ${etag ?? ''}`);
  }).map(([, left]) => nameOf(index, left));
  return {
    run, target, journal, records,
    restore: operations.flatMap((one) => (one.op === 'restore' ? [nameOf(index, one)] : [])),
    remove: operations.flatMap((one) => (one.op === 'delete' ? [nameOf(index, one)] : [])),
    changedSince: target.part ? changed : await meantToBe(workspace, target, run, changed),
    kept: target.part && changed.length === 0 ? keptRows(workspace, target, run) : undefined,
  };
}

/** Of what is not as a run left it that which is another thing now: a site may note something for itself, in a value that means nothing. */
async function meantToBe({ records }: Workspace, target: SiteSource, run: RunRecord, changed: readonly Address[]): Promise<Address[]> {
  const there = changed.filter((address) => target.index.has(address));
  if (there.length === 0) return [...changed];
  const left = new Map<Address, string>();
  for (const one of records.baseOf(run)) left.set(one.address, one.target);
  const same = new Set<Address>();
  for await (const { address, fingerprint } of target.rows(new Set(there), { fresh: true })) if (left.get(address) === fingerprint) same.add(address);
  return changed.filter((address) => !same.has(address));
}

/** Runs that published what an import had left as drafts: they are no change by others, and go with it. */
function publishes(workspace: Workspace, run: RunRecord): RunRecord[] {
  return workspace.records.runs().filter((one) => one.verb === 'publish' && one.from === run.run && one.toSite === run.toSite && one.undoneBy === undefined);
}

/** Runs that could be taken back. */
function candidates(records: RecordsFolder, site: string): RunRecord[] { return records.runs().filter((run) => run.toSite === site && run.undoneBy === undefined && run.state !== 'restored'); }

function findRun(workspace: Workspace, target: SiteSource, runId: string | undefined): RunRecord {
  const ofSite = workspace.records.runs().filter((run) => run.toSite === target.facts.site.id);
  const run = runId === undefined ? candidates(workspace.records, target.facts.site.id).find((one) => one.verb === 'import') : ofSite.find((one) => one.run === runId);
  if (!run) {
    throw new Problem('usage', runId === undefined ? `there is no import to ${target.label} that could be undone` : `there is no run ${runId} on ${target.label}`, { remedy: `"pochette history ${target.label}" lists the runs` });
  }
  if (run.undoneBy !== undefined) throw new Problem('usage', `run ${run.run} was undone already, by ${run.undoneBy}`, { remedy: `to do it again, undo the undo: pochette undo ${target.label} ${run.undoneBy}` });
  if (run.state === 'restored') throw new Problem('usage', `run ${run.run} failed and had brought everything back itself`, { remedy: 'there is nothing to undo' });
  return run;
}

/** The etag that each item had when the run was through with it; empty for what it deleted. */
function lastEtags(intents: readonly Intent[], answers: ReadonlyMap<string, { status: number; id?: LocalId; etag?: string }>): Map<string, ItemKey & { etag: string }> {
  const last = new Map<string, ItemKey & { etag: string }>();
  for (const intent of intents) {
    const answer = answers.get(intent.key);
    const id = intent.id ?? answer?.id;
    if (answer && answer.status < 400 && id !== undefined) last.set(itemKey({ kind: intent.kind, id }), { kind: intent.kind, id, etag: answer.etag ?? '' });
  }
  return last;
}

/** What an item is called now; its key where it is not there. */
function nameOf(index: SiteIndex, item: ItemKey): Address {
  const row = index.rowOf(item);
  return row ? index.addressOf(row) : itemKey(item);
}

/** Brings the target back to the safety copy of a run. It is a run itself, with a safety copy of its own. */
export async function undo(workspace: Workspace, plan: UndoPlan, evenIfChanged: boolean): Promise<UndoResult> {
  const { target, run } = plan;
  if (plan.changedSince.length > 0 && !evenIfChanged) {
    const { length } = plan.changedSince;
    throw new Problem('moved', `${length === 1 ? '1 item was' : `${length} items were`} changed after run ${run.run}`, {
      where: plan.changedSince[0] as string, remedy: `to lose those changes: pochette undo ${target.label} ${run.run} --even-if-changed`, details: plan.changedSince,
    });
  }
  const execution = await Run.begin(workspace, target, { verb: 'undo', from: run.from, fromSite: run.fromSite, undoes: run.run });
  let unequal: Address[];
  try {
    // What was read when the site was opened is enough: every operation names the etag that it was worked out for.
    const now = target.index;
    const operations = reverseOperations(plan.journal, plan.records, now, () => execution.key());
    const changing = operations.flatMap((one) => { const row = 'id' in one ? now.rowOf(one) : undefined; return row ? [now.addressOf(row)] : []; });
    await execution.secure(changing, plan.restore.filter((address) => !now.has(address)), plan.kept);
    await execution.send(operations, () => { workspace.onProgress({ phase: 'undoing', done: execution.record.updated + execution.record.deleted, total: operations.length }); });
    await target.connector.renewCaches();
    unequal = await notBack(plan);
    keepMemory(workspace.records, target, execution.id, { of: run, removed: plan.remove });
    await tellLedger(target.connector, restoreMemory(workspace.records, run, plan.remove));
    await target.connector.changeLedger({ run: { run: run.run, verb: run.verb, by: run.by, from: run.from, started: run.started, state: 'undone', items: run.created + run.updated + run.deleted } });
    await execution.finish();
  } catch (error) {
    return await execution.takeBack(error);
  }
  for (const one of publishes(workspace, run)) workspace.records.saveRun({ ...one, undoneBy: execution.id });
  markUndone(workspace, run, execution.id);
  return { run: execution.id, undone: run.run, restored: plan.restore.length, removed: plan.remove.length, unequal };
}

/** What is still not as the safety copy has it. */
async function notBack({ target, records, remove }: UndoPlan): Promise<Address[]> {
  const removed = remove.flatMap((address) => target.index.row(address) ?? []).map(({ kind, id }) => ({ kind, id }));
  const etags = new Map<string, string>();
  for await (const item of target.connector.rows([...[...records.values()].map(({ kind, id }) => ({ kind, id })), ...removed])) etags.set(itemKey(item), item.etag);
  const changed = [...records.values()].filter((record) => etags.get(itemKey(record)) !== record.etag).map((record) => nameOf(target.index, record));
  return [...changed, ...removed.filter((key) => etags.has(itemKey(key))).map((key) => nameOf(target.index, key))];
}

/** An undone undo makes the run that it had taken back count again. */
function markUndone(workspace: Workspace, run: RunRecord, by: string): void {
  workspace.records.saveRun({ ...run, undoneBy: by });
  if (run.undoes === undefined) return;
  const first = workspace.records.run(run.undoes);
  if (!first) return;
  const { undoneBy: _gone, ...open } = first;
  workspace.records.saveRun(open);
}
