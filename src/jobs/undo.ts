import { join } from 'node:path';
import type { Address } from '../core/address.ts';
import { itemBytes } from '../core/item.ts';
import { Problem } from '../core/problem.ts';
import { itemKey, type LocalId, type SiteIndex } from '../core/siteindex.ts';
import type { ExactRecord, LedgerChange } from '../sites/connector.ts';
import type { RunRecord } from './records/folder.ts';
import { readJournal, type Intent, type Journalled } from './run/journal.ts';
import { reverseOperations } from './run/reverse.ts';
import { JOURNAL_FILE, Run } from './run/run.ts';
import { readSafetyCopy } from './run/safety.ts';
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
}
export interface UndoResult { readonly run: string; readonly undone: string; readonly restored: number; readonly removed: number; /** Items that do not equal the safety copy. */ readonly unequal: readonly Address[] }

/** Finds the run and works out what bringing the site back means. Writes nothing. */
export async function planUndo(workspace: Workspace, target: SiteSource, runId: string | undefined): Promise<UndoPlan> {
  const run = findRun(workspace, target, runId);
  const journal = readJournal(join(workspace.records.runFolder(run.run), JOURNAL_FILE));
  const { intents, answers } = journal;
  const records = await readSafetyCopy(workspace.records, run.run);
  const { index } = target;
  const operations = reverseOperations(journal, records, index, () => '-');
  const named = addressesByKey(index);
  const nameOf = (key: string): Address => named.get(key) ?? key;
  const last = lastEtags(intents, answers);
  const published = publishes(workspace, run).map((one) => readJournal(join(workspace.records.runFolder(one.run), JOURNAL_FILE)));
  const ours = new Set(published.flatMap((one) => [...lastEtags(one.intents, one.answers)].map(([id, etag]) => `${id} ${etag}`)));
  const changed = [...last].filter(([id, etag]) => (rowByKey(index, named, id)?.etag ?? '') !== etag && rowByKey(index, named, id)?.etag !== records.get(id)?.etag && !ours.has(`${id} ${rowByKey(index, named, id)?.etag ?? ''}`)).map(([id]) => nameOf(id));
  return {
    run, target, journal, records,
    restore: operations.flatMap((one) => (one.op === 'restore' ? [nameOf(itemKey(one))] : [])),
    remove: operations.flatMap((one) => (one.op === 'delete' ? [nameOf(itemKey(one))] : [])),
    changedSince: await meantToBe(workspace, target, run, changed),
  };
}

/** Of what is not as a run left it that which is another thing now: a site may note something for itself, in a value that means nothing. */
async function meantToBe({ records }: Workspace, target: SiteSource, run: RunRecord, changed: readonly Address[]): Promise<Address[]> {
  const there = changed.filter((address) => target.index.row(address) !== undefined);
  const base = there.length === 0 ? undefined : records.base(run.fromSite, run.toSite);
  const same = new Set<Address>();
  if (base) for await (const { address, fingerprint } of target.rows(new Set(there), { fresh: true })) { const left = base.get(address); if (left?.run === run.run && left.target === fingerprint) same.add(address); }
  return changed.filter((address) => !same.has(address));
}

/** Runs that published what an import had left as drafts: they are no change by others, and go with it. */
function publishes(workspace: Workspace, run: RunRecord): RunRecord[] {
  return workspace.records.runs().filter((one) => one.verb === 'publish' && one.from === run.run && one.toSite === run.toSite && one.undoneBy === undefined);
}

function findRun(workspace: Workspace, target: SiteSource, runId: string | undefined): RunRecord {
  const ofSite = workspace.records.runs().filter((run) => run.toSite === target.facts.site.id);
  const candidates = ofSite.filter((run) => run.undoneBy === undefined && run.state !== 'restored');
  const run = runId === undefined ? candidates.find((one) => one.verb === 'import') : ofSite.find((one) => one.run === runId);
  if (!run) {
    throw new Problem('usage', runId === undefined ? `there is no import to ${target.label} that could be undone` : `there is no run ${runId} on ${target.label}`, { remedy: `"pochette history ${target.label}" lists the runs` });
  }
  if (run.undoneBy !== undefined) throw new Problem('usage', `run ${run.run} was undone already, by ${run.undoneBy}`, { remedy: `to do it again, undo the undo: pochette undo ${target.label} ${run.undoneBy}` });
  if (run.state === 'restored') throw new Problem('usage', `run ${run.run} failed and had brought everything back itself`, { remedy: 'there is nothing to undo' });
  return run;
}

/** The etag that each item had when the run was through with it; empty for what it deleted. */
function lastEtags(intents: readonly Intent[], answers: ReadonlyMap<string, { status: number; id?: LocalId; etag?: string }>): Map<string, string> {
  const last = new Map<string, string>();
  for (const intent of intents) {
    const answer = answers.get(intent.key);
    const id = intent.id ?? answer?.id;
    if (answer && answer.status < 400 && id !== undefined) last.set(itemKey({ kind: intent.kind, id }), answer.etag ?? '');
  }
  return last;
}

function addressesByKey(index: SiteIndex): Map<string, Address> {
  return new Map([...index.rows()].map(([address, row]) => [itemKey(row), address]));
}

function rowByKey(index: SiteIndex, named: ReadonlyMap<string, Address>, key: string) {
  const address = named.get(key);
  return address === undefined ? undefined : index.row(address);
}

/** Brings the target back to the safety copy of a run. It is a run itself, with a safety copy of its own. */
export async function undo(workspace: Workspace, plan: UndoPlan, evenIfChanged: boolean): Promise<UndoResult> {
  const { target, run } = plan;
  if (plan.changedSince.length > 0 && !evenIfChanged) {
    throw new Problem('moved', `${plan.changedSince.length} items were changed after run ${run.run}`, {
      where: plan.changedSince[0] as string, remedy: `to lose those changes: pochette undo ${target.label} ${run.run} --even-if-changed`, details: plan.changedSince,
    });
  }
  const execution = await Run.begin(workspace, target, { verb: 'undo', from: run.from, fromSite: run.fromSite, undoes: run.run });
  let unequal: Address[];
  try {
    // What was read when the site was opened is enough: every operation names the etag that it was worked out for.
    const now = target.index;
    const operations = reverseOperations(plan.journal, plan.records, now, () => execution.key());
    const named = addressesByKey(now);
    const changing = operations.flatMap((one) => ('id' in one ? named.get(itemKey(one)) ?? [] : []));
    await execution.secure(changing, plan.restore.filter((address) => now.row(address) === undefined));
    await execution.send(operations, () => { workspace.onProgress({ phase: 'undoing', done: execution.record.updated + execution.record.deleted, total: operations.length }); });
    await target.connector.renewCaches();
    unequal = await notBack(plan);
    await target.connector.changeLedger({ ...restoreMemory(workspace, plan, execution.id), run: { run: run.run, verb: run.verb, by: run.by, from: run.from, started: run.started, state: 'undone', items: run.created + run.updated + run.deleted } });
    await execution.finish();
  } catch (error) {
    return await execution.takeBack(error);
  }
  for (const one of publishes(workspace, run)) workspace.records.saveRun({ ...one, undoneBy: execution.id });
  markUndone(workspace, run, execution.id);
  return { run: execution.id, undone: run.run, restored: plan.restore.length, removed: plan.remove.length, unequal };
}

/** Puts back what was remembered before the run, here and in the ledger; what is remembered now is kept for an undo of the undo. */
function restoreMemory({ records }: Workspace, { run, target, remove }: UndoPlan, undo: string): Pick<LedgerChange, 'origins' | 'forget' | 'bases' | 'forgetBases' | 'forms'> {
  const { fromSite, toSite } = run;
  const before = records.ledgerBefore(run.run);
  const written = [...new Set([...remove, ...(before?.written ?? [])])];
  const touched = new Set(written);
  records.keepBase(undo, fromSite, toSite);
  records.keepLedger(undo, { origins: [...target.origins.values()].filter((one) => touched.has(one.address)), bases: target.bases.filter((one) => one.fromSite === fromSite && touched.has(one.address)), written });
  records.restoreBase(run.run, fromSite, toSite);
  const [origins, bases] = [[...before?.origins ?? []], [...before?.bases ?? []]];
  // The run had dropped the forms that nothing named any longer.
  const forms = [...new Map(bases.flatMap((base) => [base.source, base.target].flatMap((digest) => { const item = records.form(base.run, digest) ?? records.form(run.run, digest); return item ? [[digest, itemBytes(item)] as const] : []; })))];
  return {
    forms: forms.map(([digest, text]) => ({ digest, text })),
    origins, forget: written.filter((address) => !origins.some((one) => one.address === address)),
    bases, forgetBases: written.filter((address) => !bases.some((one) => one.address === address)).map((address) => ({ address, fromSite })),
  };
}

/** What is still not as the safety copy has it. */
async function notBack({ target, records, remove }: UndoPlan): Promise<Address[]> {
  const named = addressesByKey(target.index);
  const removed = remove.flatMap((address) => target.index.row(address) ?? []).map(({ kind, id }) => ({ kind, id }));
  const etags = new Map<string, string>();
  for await (const item of target.connector.rows([...[...records.values()].map(({ kind, id }) => ({ kind, id })), ...removed])) etags.set(itemKey(item), item.etag);
  const changed = [...records.values()].filter((record) => etags.get(itemKey(record)) !== record.etag).map((record) => named.get(itemKey(record)) ?? itemKey(record));
  return [...changed, ...removed.filter((key) => etags.has(itemKey(key))).map((key) => named.get(itemKey(key)) ?? itemKey(key))];
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
