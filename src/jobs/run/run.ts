import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import type { Address } from '../../core/address.ts';
import { isProblem, Problem } from '../../core/problem.ts';
import { itemKey, type SiteIndex } from '../../core/siteindex.ts';
import type { Answer, Operation } from '../../sites/connector.ts';
import type { RunRecord } from '../records/folder.ts';
import { restoreMemory, tellLedger } from '../remember.ts';
import { readIndex, unfinishedRuns, type SiteSource } from '../sources/site.ts';
import type { Workspace } from '../workspace.ts';
import { Journal, readJournal } from './journal.ts';
import { reverseOperations } from './reverse.ts';
import { readSafetyCopy, takeSafetyCopy, type RowsOf } from './safety.ts';

const LOCK_SECONDS = 120;
const RENEW_MS = 40_000;
/** Room for what stands around the operations in a request. */
export const REQUEST_MARGIN = 0.9;
export const JOURNAL_FILE = 'journal.ndjson';

export type RunWish = Pick<RunRecord, 'verb' | 'from' | 'fromSite'> & { undoes?: string };

/**
 * One execution: takes the writer's lock, saves what it will change, sends operations with the intent on disk first,
 * and brings everything back where it fails on the way.
 */
export class Run {
  readonly record: RunRecord;
  readonly #workspace: Workspace;
  readonly #target: SiteSource;
  readonly #journal: Journal;
  #renewal: NodeJS.Timeout | undefined;
  #count = 0;
  readonly #touched = new Set<string>();
  #secured = false;

  private constructor(workspace: Workspace, target: SiteSource, record: RunRecord) {
    this.#workspace = workspace;
    this.#target = target;
    this.record = record;
    mkdirSync(workspace.records.runFolder(record.run), { recursive: true, mode: 0o700 });
    this.#journal = new Journal(join(workspace.records.runFolder(record.run), JOURNAL_FILE));
  }

  get id(): string { return this.record.run; }

  /** Takes the lock first: everything read afterwards stays true, as far as writers keep to locks. */
  static async begin(workspace: Workspace, target: SiteSource, wish: RunWish): Promise<Run> {
    const run = workspace.newRunId();
    const lock = { owner: workspace.you, run, seconds: LOCK_SECONDS };
    await target.connector.lock(lock);
    await refuseUnfinished(workspace, target, wish.undoes);
    const execution = new Run(workspace, target, {
      run, ...wish, to: target.label, toSite: target.facts.site.id, by: workspace.you, started: workspace.now().toISOString(), state: 'running', created: 0, updated: 0, deleted: 0, files: 0,
    });
    execution.#renewal = setInterval(() => { void target.connector.lock(lock).catch(() => undefined); }, RENEW_MS);
    execution.#renewal.unref();
    return execution;
  }

  /** Writes the safety copy. Nothing may be sent before. `rows`: who has the items as they are now, if not the target. */
  async secure(changing: readonly Address[], absent: readonly Address[], rows?: RowsOf): Promise<void> {
    await takeSafetyCopy(this.#workspace.records, this.id, this.#target, { changing, absent, ...(rows ? { rows } : {}) });
    this.#workspace.records.saveRun(this.record);
    await this.#target.connector.changeLedger({ run: this.#ledgerRun('running') });
    this.#journal.write([{ event: 'begin', at: this.record.started }]);
    this.#secured = true;
  }

  key(): string { return `${this.id}-${++this.#count}`; }

  /** Sends operations in pieces that the site accepts. Throws at the first refusal. */
  async send(operations: readonly Operation[], onAnswers: (answers: readonly Answer[]) => void = () => undefined): Promise<Answer[]> {
    if (!this.#secured) throw new Problem('internal', 'a run sent before its safety copy was written');
    const all: Answer[] = [];
    for (const piece of pieces(operations, this.#target.facts.limits)) {
      this.#journal.intents(piece);
      const answers = await this.#target.connector.batch(piece);
      this.#journal.answers(answers);
      const refused = firstRefusal(answers);
      if (refused) throw refusal(refused, this.#target, piece.find((one) => one.key === refused.key));
      this.#tally(piece, answers);
      onAnswers(answers);
      all.push(...answers);
    }
    return all;
  }

  /** Counts items, not operations: one that is created and then completed counts once. */
  #tally(operations: readonly Operation[], answers: readonly Answer[]): void {
    operations.forEach(({ op, kind }, i) => {
      const id = itemKey({ kind, id: answers[i]?.id ?? '' });
      if (op === 'delete') this.record.deleted++;
      else if (op === 'create') this.record.created++;
      else if (!this.#touched.has(id)) this.record.updated++;
      this.#touched.add(id);
    });
  }

  async finish(): Promise<void> {
    await this.#end('done');
  }

  /** Before anything was sent: leave as if the run had never been. */
  async withdraw(): Promise<void> {
    clearInterval(this.#renewal);
    this.#journal.close();
    await this.#target.connector.unlock();
  }

  /** After a failure: brings the site back, and says which it was. */
  async takeBack(cause: unknown): Promise<never> {
    if (!this.#secured) { await this.withdraw().catch(() => undefined); throw cause; }
    const name = this.#target.label;
    try {
      const now = await currentIndex(this.#target);
      const journal = readJournal(join(this.#workspace.records.runFolder(this.id), JOURNAL_FILE));
      const records = await readSafetyCopy(this.#workspace.records, this.id);
      const operations = reverseOperations(journal, records, now, () => this.key());
      for (const piece of pieces(operations, this.#target.facts.limits)) {
        const refused = firstRefusal(await this.#target.connector.batch(piece));
        if (refused) throw refusal(refused, this.#target, piece.find((one) => one.key === refused.key));
      }
      await this.#target.connector.renewCaches();
      // It may have failed while it was remembered.
      const memory = this.#workspace.records;
      if (memory.ledgerBefore(this.id)) await tellLedger(this.#target.connector, restoreMemory(memory, this.record, []));
      await this.#end('restored');
    } catch (failure) {
      await this.#end('failed').catch(() => undefined);
      throw new Problem('interrupted', `run ${this.id} failed, and ${name} could not be brought back: ${messageOf(failure)}`, {
        where: this.#target.connector.url, remedy: `when ${name} answers again: pochette undo ${name} ${this.id}`, details: [`it failed because: ${messageOf(cause)}`], cause,
      });
    }
    const problem = isProblem(cause) ? cause : undefined;
    throw new Problem(problem?.code === 'moved' ? 'moved' : 'restored', `${messageOf(cause)}. Everything that run ${this.id} had written on ${name} was brought back`, {
      ...(problem?.where === undefined ? {} : { where: problem.where }), remedy: problem?.remedy ?? 'look at the cause, then import again', cause,
    });
  }

  async #end(state: 'done' | 'restored' | 'failed'): Promise<void> {
    clearInterval(this.#renewal);
    this.record.state = state;
    this.record.ended = this.#workspace.now().toISOString();
    this.#workspace.records.saveRun(this.record);
    this.#journal.write([{ event: 'end', at: this.record.ended, state }]);
    this.#journal.close();
    await this.#target.connector.changeLedger({ run: this.#ledgerRun(state) });
    await this.#target.connector.unlock();
  }

  #ledgerRun(state: 'running' | 'done' | 'restored' | 'failed') {
    const { run, verb, by, from, started, created, updated, deleted } = this.record;
    return { run, verb, by, from, started, state, items: created + updated + deleted };
  }
}

/** Under the lock nobody else can be at work: what has begun and not ended was cut off, and has to be taken back first. */
async function refuseUnfinished(workspace: Workspace, target: SiteSource, undoes: string | undefined): Promise<void> {
  const { label, facts } = target;
  const told = unfinishedRuns(await target.connector.runs()).map((run) => run.run);
  const local = workspace.records.runs().filter((run) => run.toSite === facts.site.id && run.undoneBy === undefined && (run.state === 'running' || run.state === 'failed')).map((run) => run.run);
  const run = [...told, ...local].find((one) => one !== undoes);
  if (run === undefined) return;
  await target.connector.unlock();
  throw new Problem('interrupted', `run ${run} on ${label} was cut off before it had ended`, { where: target.connector.url, remedy: `bring ${label} back first: pochette undo ${label} ${run}` });
}

export function currentIndex({ connector, facts, kinds }: SiteSource): Promise<SiteIndex> {
  return readIndex(connector, facts, kinds);
}

/** Cuts a list of operations by the site's limits of count and bytes. */
function* pieces(operations: readonly Operation[], limits: { batchOperations: number; requestBytes: number }): Generator<Operation[]> {
  let piece: Operation[] = [];
  let bytes = 0;
  for (const operation of operations) {
    const size = Buffer.byteLength(JSON.stringify(operation)) + 1;
    if (piece.length > 0 && (piece.length >= limits.batchOperations || bytes + size > limits.requestBytes * REQUEST_MARGIN)) {
      yield piece;
      piece = [];
      bytes = 0;
    }
    piece.push(operation);
    bytes += size;
  }
  if (piece.length > 0) yield piece;
}

/** The operation that was refused, and not one that was left undone because of it. */
function firstRefusal(answers: readonly Answer[]): Answer | undefined {
  return answers.find((answer) => answer.problem) ?? answers.find((answer) => answer.status >= 400);
}

function refusal(answer: Answer, { connector, index }: SiteSource, operation: Operation | undefined): Problem {
  const { problem } = answer;
  const row = operation && (operation.op === 'create' ? operation : index.rowOf(operation));
  return new Problem(answer.status === 412 ? 'moved' : 'blocked', `${connector.name} refused: ${problem?.title ?? `status ${answer.status}`}${problem?.detail === undefined ? '' : ` (${problem.detail})`}`, {
    where: problem?.where ?? (row && index.addressOf(row)) ?? connector.url, remedy: problem?.remedy ?? (answer.status === 412 ? 'compare again and decide anew' : 'see what the site says'),
  });
}

export function messageOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}
