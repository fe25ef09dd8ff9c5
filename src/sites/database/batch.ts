import { Problem } from '../../core/problem.ts';
import { itemKey, type IndexRow, type LocalId } from '../../core/siteindex.ts';
import type { Answer, ItemKey, Operation } from '../connector.ts';
import { Changes } from './changes.ts';
import type { Engine, Executor } from './engine.ts';
import type { LedgerTable } from './ledger.ts';
import type { Library } from './media/library.ts';
import type { Shape } from './shape.ts';
import { Refused, type Store, type Unit } from './store.ts';

interface Ground {
  readonly engine: Engine;
  readonly shape: Shape;
  readonly library: Library | undefined;
  readonly ledger: LedgerTable;
  store(kind: string): Store;
  some(keys: readonly ItemKey[], at: Executor, lock: boolean): Promise<Map<string, { unit: Unit; store: Store }>>;
  outlines(keys: readonly ItemKey[], at: Executor): Promise<ReadonlyMap<string, IndexRow>>;
}
interface Outcome { readonly operation: Operation; readonly status: number; readonly id: () => LocalId }

/** A refusal of one operation, with which the whole batch is rolled back. */
class RefusedAt extends Error {
  readonly key: string;
  readonly refused: Refused;
  /** It is this one, and not only one of the batch. */
  readonly known: boolean;

  constructor(key: string, refused: Refused, known = true) {
    super(refused.message);
    this.key = key;
    this.refused = refused;
    this.known = known;
  }
}

/** One transaction for a batch of operations: what was read is locked and compared before anything is written, and what was done is noted with it. */
export class Batch {
  readonly #ground: Ground;

  constructor(ground: Ground) { this.#ground = ground; }

  async run(operations: readonly Operation[]): Promise<Answer[]> {
    const { engine, library } = this.#ground;
    try {
      const answers = await engine.transaction((at) => this.#within(operations, at));
      await library?.settle();
      return answers;
    } catch (error) {
      await library?.rollBack();
      if (!(error instanceof RefusedAt)) throw error;
      const { key: refusedKey, refused: { status, message, at, remedy } } = await this.#refusedAlone(operations, error);
      return operations.map(({ key }): Answer => (key === refusedKey
        ? { key, status, problem: { type: 'about:blank', title: message, status, ...(at === '' ? {} : { where: at }), ...(remedy === undefined ? {} : { remedy }) } } : { key, status: 424 }));
    }
  }

  /** The server takes many rows at once and does not say whose it refused: half of them are tried, and half of those, until it is one, and none of it stays. */
  async #refusedAlone(operations: readonly Operation[], all: RefusedAt): Promise<RefusedAt> {
    if (all.known || operations.length === 1) return all;
    const half = operations.slice(0, Math.ceil(operations.length / 2));
    const first = await this.#tried(half);
    if (first) return this.#refusedAlone(half, first);
    const rest = operations.slice(half.length);
    const last = await this.#tried(rest);
    if (last) return this.#refusedAlone(rest, last);
    // Each half would be taken: they only do not go together.
    return new RefusedAt(all.key, new Refused(all.refused.status, all.message, `one of ${operations.length} items that are written together`, all.refused.remedy));
  }

  /** What would be refused of some operations, with which nothing is done. */
  async #tried(operations: readonly Operation[]): Promise<RefusedAt | undefined> {
    const taken = new Error('taken');
    try { await this.#ground.engine.transaction(async (at) => { await this.#within(operations, at); throw taken; }); } catch (error) {
      if (error instanceof RefusedAt) return error;
      if (error !== taken) throw error;
    } finally { await this.#ground.library?.rollBack(); }
    return undefined;
  }

  async #within(operations: readonly Operation[], at: Executor): Promise<Answer[]> {
    const { engine, ledger, shape } = this.#ground;
    const known = await ledger.answered(operations.map((one) => one.key), at);
    const open = operations.filter((one) => !known.has(one.key));
    const changes = new Changes(at);
    const stores = new Map<string, Store>();
    const there = await this.#ground.some(open.flatMap((one) => ('id' in one ? [{ kind: one.kind, id: one.id }] : [])), at, true);
    for (const [key, { store }] of there) stores.set(key.slice(0, key.indexOf(' ')), store);
    const outcomes: Outcome[] = [];
    for (const operation of open) {
      const store = stores.get(operation.kind) ?? this.#ground.store(operation.kind);
      stores.set(operation.kind, store);
      outcomes.push(await this.#apply(operation, 'id' in operation ? there.get(itemKey(operation))?.unit : undefined, store, changes));
    }
    await this.#dropEmptied(changes, at);
    await this.#dropFiles(changes, at);
    await ledger.mark([...changes.marks, ...changes.files.placed.map(fileMark)], at);
    try { await changes.write(engine, shape.layout); } catch (error) { throw this.#whileWriting(error, open); }
    const answers = await this.#answers(outcomes, at);
    await ledger.remember(answers, at);
    const given = new Map([...known, ...answers.map((answer): [string, Answer] => [answer.key, answer])]);
    return operations.map(({ key }) => given.get(key) ?? { key, status: 424 });
  }

  /** What we made only to hold other things goes with the last of them. */
  async #dropEmptied(changes: Changes, at: Executor): Promise<void> {
    const empty = changes.emptied.filter((one) => one.still());
    const ours = await this.#ground.ledger.takeMarks([...new Set(empty.map((one) => one.mark))], at);
    for (const { mark, table, row } of empty) if (ours.has(mark)) changes.remove(table, row);
  }

  /** A file that was there before we came may serve others: only those that we brought go with their item. */
  async #dropFiles({ files: { gone } }: Changes, at: Executor): Promise<void> {
    const ours = await this.#ground.ledger.takeMarks(gone.map(fileMark), at);
    this.#ground.library?.unplace(gone.filter((path) => ours.has(fileMark(path))));
  }

  /** Without transactions some of it may be there by now: then it is no answer, and whoever sent it has to look at what is there. */
  #whileWriting(error: unknown, open: readonly Operation[]): unknown {
    const refusal = refusalOf(error, open);
    if (!refusal || [...this.#ground.shape.tables.values()].every((table) => table.transactional)) return refusal ?? error;
    return new Problem('blocked', refusal.message, { cause: error });
  }

  async #apply(operation: Operation, unit: Unit | undefined, store: Store, changes: Changes): Promise<Outcome> {
    try {
      if (operation.op === 'create') {
        const made = await store.create(operation, operation.value as Record<string, unknown>, changes);
        return { operation, status: 201, id: () => made.id() };
      }
      const id = (): LocalId => operation.id;
      if (operation.op === 'restore' && operation.ifMatch === '*') {
        if (unit) throw new Refused(412, 'it is there already');
        await store.restore(operation.record, undefined, changes);
        return { operation, status: 201, id };
      }
      if (!unit) throw new Refused(404, 'it is no longer there');
      if (unit.etag !== operation.ifMatch) throw new Refused(412, 'it was changed meanwhile');
      if (operation.op === 'update') await store.update(unit, operation.value as Record<string, unknown>, changes, operation.status === unit.status ? undefined : operation.status);
      else if (operation.op === 'delete') await store.remove(unit, changes);
      else await store.restore(operation.record, unit, changes);
      return { operation, status: operation.op === 'delete' ? 204 : 200, id };
    } catch (error) {
      if (error instanceof Refused) throw new RefusedAt(operation.key, new Refused(error.status, error.message, `${operation.kind} ${operation.op === 'create' ? operation.name : operation.id}${error.at === '' ? '' : `, ${error.at}`}`));
      throw error;
    }
  }

  /** Looks at what was written, for the new etags. */
  async #answers(outcomes: readonly Outcome[], at: Executor): Promise<Answer[]> {
    const now = await this.#ground.outlines(outcomes.filter(({ operation }) => operation.op !== 'delete').map(({ operation, id }) => ({ kind: operation.kind, id: id() })), at);
    return outcomes.map(({ operation, status, id }): Answer => {
      const row = now.get(itemKey({ kind: operation.kind, id: id() }));
      if (!row && (operation.op === 'create' || operation.op === 'update')) throw new RefusedAt(operation.key, new Refused(422, 'what was written is not found again: by its layout it is no item of this kind, or it has another id'));
      return { key: operation.key, status, id: id(), ...(row ? { name: row.name, etag: row.etag } : {}), ...(row && operation.op === 'create' && row.status !== operation.status ? { itemStatus: row.status } : {}), ...(row?.urls ? { urls: row.urls } : {}) };
    });
  }
}

function fileMark(path: string): string { return `file ${path}`; }

/** What a server says about values that it does not take, in words. */
function refusalOf(error: unknown, open: readonly Operation[]): RefusedAt | undefined {
  const { code, errno, message } = error as { code?: string; errno?: number; message?: string };
  const [first] = open;
  if (!first) return undefined;
  const told = message ?? '';
  if (errno === 1062 || code === '23505' || /UNIQUE constraint/.test(told)) return new RefusedAt(first.key, new Refused(409, `something on the site holds a name or key of it already: ${told}`), false);
  if (![1406, 1264, 1366, 1048, 1452, 3819, 4025].includes(errno ?? 0) && !/^(22|23)/.test(code ?? '') && !/constraint failed/.test(told)) return undefined;
  const remedy = REMEDIES.find(({ codes }) => codes.includes(errno ?? code ?? ''))?.remedy;
  return new RefusedAt(first.key, new Refused(422, `the database does not take a value: ${told}`, '', `${remedy ?? 'change the value on the source'}, or leave the item out with --except`), false);
}

/** MySQL's and PostgreSQL's numbers. */
const REMEDIES: readonly { codes: readonly (string | number)[]; remedy: string }[] = [
  { codes: [1366, '22P05', '22021'], remedy: 'the table keeps characters of another set: convert it to one that has them all (utf8mb4, UTF8)' },
  { codes: [1406, 1264, '22001', '22003'], remedy: 'the column is too narrow for it: widen the column, or make the value shorter on the source' },
];
