import { sql } from 'kysely';
import { randomUUID } from 'node:crypto';
import { LedgerRun, type Answer, type LedgerChange } from '../../protocol/index.ts';
import { sha256 } from '../../core/canonical.ts';
import { byCodeUnit } from '../../core/json.ts';
import { cellText } from './cells.ts';
import type { Engine, Executor } from './engine.ts';
import type { KnownLedger } from '../connector.ts';
import { blocksOf, Folded } from './ledgerlog.ts';

/** Entries of the log are numbered, in so many digits that they sort as they came. */
const LOG = 'log ';
const DIGITS = 10;
/** So many blocks are read at once. */
const AT_ONCE = 20;
/** With so many more entries that later ones have replaced than others, the log is written anew. */
const MOST_IDLE = 10_000;

/** Our own memory in the database of a site: a table of our own, of key and text. */
export class LedgerTable {
  readonly #engine: Engine;
  readonly name: string;
  /** How many more entries of the log count no more than do, as far as was read. */
  #idle = 0;

  constructor(engine: Engine, prefix: string) {
    this.#engine = engine;
    this.name = `${prefix}pochette_ledger`;
  }

  async isThere(): Promise<boolean> { return (await this.#engine.known()).has(this.name); }

  /** Makes the table, where the user may. False: the local records are all there is. */
  async make(): Promise<boolean> {
    if (await this.isThere()) return true;
    try {
      await this.#engine.run(sql`create table ${sql.table(this.name)} (entry varchar(190) not null primary key, content ${this.#engine.longText} not null)`);
    } catch { return false; }
    this.#engine.forget();
    return this.isThere();
  }

  async read(): Promise<KnownLedger> {
    const [runs, { origins, bases, logged }] = await Promise.all([this.runs(), this.#folded(() => undefined)]);
    this.#idle = logged - 2 * (origins.length + bases.size);
    return { runs, origins, bases };
  }

  async runs(): Promise<LedgerRun[]> {
    const table = (await this.#engine.known()).get(this.name);
    const rows = table ? await this.#engine.rows(table, sql`where entry like ${'run %'}`) : [];
    return rows.map((row) => LedgerRun.parse(JSON.parse(cellText(row['content'])))).sort((a, b) => byCodeUnit(a.run, b.run));
  }

  async change(change: LedgerChange): Promise<void> {
    if (!await this.isThere()) return;
    const { run, forms = [], dropForms = [] } = change;
    await this.#engine.transaction(async (at) => {
      await this.#remove(dropForms.map((digest) => `form ${digestKey(digest)}`), at);
      await this.#put([...(run ? [[`run ${run.run}`, JSON.stringify(run)] as const] : []), ...forms.map((one) => [`form ${digestKey(one.digest)}`, one.text] as const)], at);
      await this.#log(blocksOf(change), at);
      if (this.#idle > MOST_IDLE) await this.#shorten(at);
    });
  }

  /** Behind all blocks that are there. The number alone might be taken by someone else at the same moment. */
  async #log(blocks: readonly string[], at: Executor): Promise<void> {
    if (blocks.length === 0) return;
    const table = (await this.#engine.known()).get(this.name);
    const [last] = table ? await this.#engine.rows(table, sql`where entry like ${`${LOG}%`} order by entry desc limit 1`, at) : [];
    const begin = last ? Number(cellText(last['entry']).split(' ')[1]) + 1 : 1;
    await this.#put(blocks.map((block, i) => [`${LOG}${String(begin + i).padStart(DIGITS, '0')} ${randomUUID().slice(0, 8)}`, block] as const), at);
  }

  /** Writes what the log comes to in place of it. */
  async #shorten(at: Executor): Promise<void> {
    const entries: string[] = [];
    const { origins, bases } = await this.#folded((entry) => entries.push(entry), at);
    await this.#remove(entries, at);
    await this.#log(blocksOf({ origins, bases: [...bases] }), at);
    this.#idle = 0;
  }

  async forms(digests: readonly string[]): Promise<Map<string, string>> {
    const table = await this.isThere() && digests.length > 0 ? (await this.#engine.known()).get(this.name) : undefined;
    if (!table) return new Map();
    const rows = await this.#engine.rows(table, sql`where ${this.#engine.oneOf(table, 'entry', digests.map((digest) => `form ${digestKey(digest)}`))}`);
    return new Map(rows.map((row) => [cellText(row['entry']).slice('form '.length), cellText(row['content'])]));
  }

  /** Answers that were given to these keys: a batch that is sent again is not carried out again. */
  async answered(keys: readonly string[], at: Executor): Promise<Map<string, Answer>> {
    if (!await this.isThere()) return new Map();
    const table = (await this.#engine.known()).get(this.name);
    if (!table) return new Map();
    const rows = await this.#engine.rows(table, sql`where ${this.#engine.oneOf(table, 'entry', keys.map((key) => `answer ${key}`))}`, at);
    return new Map(rows.map((row) => { const answer = JSON.parse(cellText(row['content'])) as Answer; return [answer.key, answer]; }));
  }

  async remember(answers: readonly Answer[], at: Executor): Promise<void> {
    if (await this.isThere()) await this.#put(answers.map((answer) => [`answer ${answer.key}`, JSON.stringify(answer)] as const), at);
  }

  /** Remembers that something was made by us. */
  async mark(marks: readonly string[], at: Executor): Promise<void> {
    if (await this.isThere()) await this.#put(marks.map((mark) => [`made ${digestKey(mark)}`, mark] as const), at);
  }

  /** Which of these were made by us; they are forgotten. */
  async takeMarks(marks: readonly string[], at: Executor): Promise<Set<string>> {
    const table = marks.length > 0 && await this.isThere() ? (await this.#engine.known()).get(this.name) : undefined;
    if (!table) return new Set();
    const rows = await this.#engine.rows(table, sql`where ${this.#engine.oneOf(table, 'entry', marks.map((mark) => `made ${digestKey(mark)}`))}`, at);
    await this.#remove(rows.map((row) => cellText(row['entry'])), at);
    return new Set(rows.map((row) => cellText(row['content'])));
  }

  /** The answers of a run are needed only as long as it may be sent again. */
  async forgetAnswers(run: string): Promise<void> {
    if (await this.isThere()) await this.#engine.run(sql`delete from ${sql.table(this.name)} where entry like ${`answer ${run}%`}`);
  }

  /** Goes through the log, some blocks at a time. */
  async #folded(each: (entry: string) => void, at?: Executor): Promise<Folded> {
    const folded = new Folded(this.name);
    const table = (await this.#engine.known()).get(this.name);
    for (let last: string | undefined = LOG; table && last !== undefined;) {
      const rows = await this.#engine.rows(table, sql`where entry like ${`${LOG}%`} and entry > ${last} order by entry limit ${sql.lit(AT_ONCE)}`, at);
      for (const row of rows) { each(cellText(row['entry'])); folded.take(cellText(row['content'])); }
      last = rows.length < AT_ONCE ? undefined : cellText(rows.at(-1)?.['entry']);
    }
    return folded;
  }

  async #put(entries: readonly (readonly [string, string])[], at: Executor): Promise<void> {
    const table = (await this.#engine.known()).get(this.name);
    if (table) await this.#engine.put(table, entries.map(([entry, content]) => ({ entry, content })), at);
  }

  async #remove(entries: readonly string[], at: Executor): Promise<void> {
    if (entries.length > 0) await this.#engine.run(sql`delete from ${sql.table(this.name)} where entry in (${sql.join(entries)})`, at);
  }
}

/** Addresses can be longer than a key may be. */
function digestKey(address: string): string { return /^[\x21-\x7e]{1,150}$/.test(address) ? address : sha256(address); }
