import { sql } from 'kysely';
import { BaseEntry, Ledger, Origin, type Answer, type LedgerChange, type LedgerRun } from '../../protocol/index.ts';
import { sha256 } from '../../core/canonical.ts';
import { cellText } from './cells.ts';
import type { Engine, Executor } from './engine.ts';

/** Our own memory in the database of a site: a table of our own, of key and text. */
export class LedgerTable {
  readonly #engine: Engine;
  readonly name: string;

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

  async read(): Promise<Ledger> {
    const entries = await this.isThere() ? await this.#entries(['run ', 'origin ', 'base ']) : [];
    const runs = entries.filter(([entry]) => entry.startsWith('run ')).map(([, content]) => JSON.parse(content) as LedgerRun);
    return Ledger.parse({ runs: runs.sort((a, b) => (a.run < b.run ? -1 : 1)), origins: entries.filter(([entry]) => entry.startsWith('origin ')).map(([, content]) => Origin.parse(JSON.parse(content))), bases: entries.filter(([entry]) => entry.startsWith('base ')).map(([, content]) => BaseEntry.parse(JSON.parse(content))) });
  }

  async change({ run, origins = [], forget = [], bases = [], forgetBases = [], forms = [], dropForms = [] }: LedgerChange): Promise<void> {
    if (!await this.isThere()) return;
    await this.#engine.transaction(async (at) => {
      await this.#remove([...forget.map((address) => `origin ${digestKey(address)}`), ...forgetBases.map(baseEntry), ...dropForms.map((digest) => `form ${digestKey(digest)}`)], at);
      await this.#put([
        ...(run ? [[`run ${run.run}`, JSON.stringify(run)] as const] : []), ...origins.map((one) => [`origin ${digestKey(one.address)}`, JSON.stringify(one)] as const),
        ...bases.map((one) => [baseEntry(one), JSON.stringify(one)] as const), ...forms.map((one) => [`form ${digestKey(one.digest)}`, one.text] as const),
      ], at);
    });
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

  /** The answers of a run are needed only as long as it may be sent again. */
  async forgetAnswers(run: string): Promise<void> {
    if (await this.isThere()) await this.#engine.run(sql`delete from ${sql.table(this.name)} where entry like ${`answer ${run}%`}`);
  }

  async #entries(beginnings: readonly string[]): Promise<[string, string][]> {
    const table = (await this.#engine.known()).get(this.name);
    if (!table) return [];
    const rows = await this.#engine.rows(table, sql`where ${sql.join(beginnings.map((one) => sql`entry like ${one + '%'}`), sql` or `)}`);
    return rows.map((row) => [cellText(row['entry']), cellText(row['content'])]);
  }

  async #put(entries: readonly (readonly [string, string])[], at: Executor): Promise<void> {
    const table = (await this.#engine.known()).get(this.name);
    if (table) await this.#engine.put(table, entries.map(([entry, content]) => ({ entry, content })), at);
  }

  async #remove(entries: readonly string[], at: Executor): Promise<void> {
    if (entries.length > 0) await this.#engine.run(sql`delete from ${sql.table(this.name)} where entry in (${sql.join(entries)})`, at);
  }
}

function baseEntry({ address, fromSite }: { address: string; fromSite: string }): string { return `base ${digestKey(`${fromSite} ${address}`)}`; }

/** Addresses can be longer than a key may be. */
function digestKey(address: string): string { return /^[\x21-\x7e]{1,150}$/.test(address) ? address : sha256(address); }
