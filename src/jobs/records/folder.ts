import { appendFileSync, existsSync, mkdirSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Address } from '../../core/address.ts';
import { sha256 } from '../../core/canonical.ts';
import { byCodeUnit } from '../../core/json.ts';
import type { PortableItem } from '../../core/item.ts';
import type { FollowUp } from '../../core/route.ts';
import { Problem } from '../../core/problem.ts';
import type { BaseEntry as LedgerBase, Origin } from '../../protocol/index.ts';
import type { Given } from '../decisions.ts';
import { RowMemory } from './memory.ts';
import { eachLine } from './lines.ts';
import { writeLines, writeWhole } from './whole.ts';

/** What a run was about to change, beside its record. */
export const SAFETY_FILE = 'safety.pochette';

/** What was last carried, of the items of a run, as it was before it. */
const BASE_BEFORE = 'base-before.ndjson';
/** Of a line of a base: the address, where nothing in it is escaped. */
const BEGINNING = /^\{"address":"([^"\\]*)"/;

/** One execution of a route or of an undo, as the records keep it. */
export interface RunRecord {
  run: string;
  verb: 'import' | 'publish' | 'undo';
  from: string;
  fromSite: string;
  to: string;
  toSite: string;
  by: string;
  started: string;
  ended?: string;
  state: 'running' | 'done' | 'restored' | 'failed';
  created: number;
  updated: number;
  deleted: number;
  files: number;
  /** For an undo: the run that it took back. */
  undoes?: string;
  /** The undo that took this run back. */
  undoneBy?: string;
}
export interface ExportRecord { verb: 'export'; from: string; file: string; title: string; by: string; at: string; items: number; files: number; bytes: number; digest: string }
/** What was last carried between two sites, per item. Forms are found by digest in the packs beside. */
export type BaseEntry = Omit<LedgerBase, 'fromSite'>;
/** What the target's ledger held of the items of a run before it: what to put back, and what to forget. */
export interface LedgerBefore { readonly origins: readonly Origin[]; readonly bases: readonly LedgerBase[]; readonly written: readonly string[] }

/** A follow-up with its number, the run that left it, and when it was ticked off. */
export type KeptFollowUp = FollowUp & { number: number; run: string; done?: string; by?: string };

/** The `.pochette` folder beside the configuration: runs, safety copies, bases, exports. Readable by its owner only. */
export class RecordsFolder {
  readonly path: string;
  readonly #forms = new Map<string, ReadonlyMap<string, string>>();

  constructor(path: string) { this.path = path; }

  runFolder(run: string): string {
    if (!/^[\w-]+$/.test(run)) throw new Problem('usage', `"${run}" is not the id of a run`, { remedy: '"pochette history" lists them' });
    return join(this.path, 'runs', run);
  }

  /** What links led to. */
  get downloads(): string { return this.#ensure('downloads'); }

  get keyFile(): string { this.#ensure('.'); return join(this.path, 'key'); }

  saveRun(record: RunRecord): void {
    const folder = this.#ensure(join('runs', record.run));
    writeWhole(join(folder, 'run.json'), JSON.stringify(record, null, 1) + '\n');
  }

  run(id: string): RunRecord | undefined {
    const path = join(this.runFolder(id), 'run.json');
    return existsSync(path) ? (this.#read(path) as RunRecord) : undefined;
  }

  /** Newest first. */
  runs(): RunRecord[] {
    const folder = join(this.path, 'runs');
    if (!existsSync(folder)) return [];
    // By the moment and not by the id, which counts seconds only.
    return readdirSync(folder).flatMap((id) => this.run(id) ?? []).sort((a, b) => byCodeUnit(b.started, a.started) || byCodeUnit(b.run, a.run));
  }

  addExport(record: ExportRecord): void {
    appendFileSync(join(this.#ensure('.'), 'exports.ndjson'), JSON.stringify(record) + '\n', { mode: 0o600 });
  }

  exports(): ExportRecord[] {
    const path = join(this.path, 'exports.ndjson');
    if (!existsSync(path)) return [];
    return linesOf(path).map((line) => JSON.parse(line) as ExportRecord).reverse();
  }

  #basePath(fromSite: string, toSite: string): string {
    return join(this.path, 'bases', `${fileName(fromSite)}--${fileName(toSite)}.ndjson`);
  }

  /** What was last carried from one site to another, an entry for each item, or for each `of` some. */
  base(fromSite: string, toSite: string, of?: (address: Address) => boolean): Iterable<BaseEntry> { return basesIn(this.#basePath(fromSite, toSite), of); }

  /** What was last carried to a site, from wherever. */
  basesTo(toSite: string): BaseEntry[] {
    const folder = join(this.path, 'bases');
    const ending = `--${fileName(toSite)}.ndjson`;
    const names = existsSync(folder) ? readdirSync(folder).filter((name) => name.endsWith(ending)) : [];
    return names.flatMap((name) => [...basesIn(join(folder, name))]);
  }

  /** What a run left there of the items that it carried whole or in parts, as far as no later one has carried them. */
  baseOf({ run, fromSite, toSite }: Pick<RunRecord, 'run' | 'fromSite' | 'toSite'>): Iterable<BaseEntry> {
    const path = this.#basePath(fromSite, toSite);
    // Most lines are of other runs: they need not be parsed.
    return (function* () { for (const line of baseLines(path)) if (line.text.includes(run)) { const entry = line.entry(); if (entry.run === run) yield entry; } })();
  }

  /** Puts entries in the place of those `of` some items. */
  changeBase(fromSite: string, toSite: string, of: (address: Address) => boolean, entries: Iterable<BaseEntry>): void {
    this.#ensure('bases');
    const path = this.#basePath(fromSite, toSite);
    writeLines(path, (function* () {
      for (const line of baseLines(path, (address) => !of(address))) yield line.text;
      for (const entry of entries) yield JSON.stringify(entry);
    })());
  }

  /** Keeps the entries of some items as they were before a run, so that its undo can restore them. */
  keepBase(run: string, fromSite: string, toSite: string, of: (address: Address) => boolean): void {
    const path = this.#basePath(fromSite, toSite);
    writeLines(join(this.runFolder(run), BASE_BEFORE), (function* () { for (const line of baseLines(path, of)) yield line.text; })());
  }

  /** Puts the entries of some items back as they were before a run; a run that kept none had none to change. */
  restoreBase(run: string, fromSite: string, toSite: string, of: (address: Address) => boolean): void {
    const path = join(this.runFolder(run), BASE_BEFORE);
    if (existsSync(path)) this.changeBase(fromSite, toSite, of, basesIn(path, of));
  }

  /** Keeps what the target's ledger held before a run, so that its undo can put it back. */
  keepLedger(run: string, before: LedgerBefore): void { writeWhole(join(this.runFolder(run), 'ledger-before.json'), JSON.stringify(before) + '\n'); }

  ledgerBefore(run: string): LedgerBefore | undefined {
    const path = join(this.runFolder(run), 'ledger-before.json');
    return existsSync(path) ? (this.#read(path) as LedgerBefore) : undefined;
  }

  /** More forms of a run by digest: `digest item-file` a line. A last line that a kill cut does not fit its digest. */
  addForms(run: string, forms: Iterable<readonly [digest: string, text: string]>): void {
    appendFileSync(join(this.#ensure('bases'), `forms-${fileName(run)}.ndjson`), [...forms].map(([digest, text]) => `${digest} ${text}\n`).join(''), { mode: 0o600 });
  }

  /** A form of a run by its digest. */
  form(run: string, digest: string): PortableItem | undefined {
    const text = this.formText(run, digest);
    return text === undefined ? undefined : (JSON.parse(text) as PortableItem);
  }

  /** The same as the text of an item file. */
  formText(run: string, digest: string): string | undefined {
    const known = this.#forms.get(run) ?? this.#readForms(run);
    this.#forms.set(run, known);
    const text = known.get(digest);
    // A form that was damaged is as good as lost.
    return text === undefined || sha256(text) !== digest ? undefined : text;
  }

  #readForms(run: string): ReadonlyMap<string, string> {
    const path = join(this.path, 'bases', `forms-${fileName(run)}.ndjson`);
    if (!existsSync(path)) return new Map();
    return new Map(linesOf(path).map((line) => [line.slice(0, line.indexOf(' ')), line.slice(line.indexOf(' ') + 1)]));
  }

  /** Answers that were kept for the next import between two sites, by question. */
  answers(fromSite: string, toSite: string): Record<string, Given> {
    const path = join(this.path, 'answers', `${fileName(fromSite)}--${fileName(toSite)}.json`);
    return existsSync(path) ? (this.#read(path) as Record<string, Given>) : {};
  }

  keepAnswers(fromSite: string, toSite: string, answers: Readonly<Record<string, Given>>): void {
    const all = { ...this.answers(fromSite, toSite), ...answers };
    writeWhole(join(this.#ensure('answers'), `${fileName(fromSite)}--${fileName(toSite)}.json`), JSON.stringify(all, null, 1) + '\n');
  }

  /** What is left for a person to do on a site, in the order of its coming up. */
  followUps(site: string): KeptFollowUp[] {
    const path = join(this.path, 'followups', `${fileName(site)}.json`);
    return existsSync(path) ? (this.#read(path) as KeptFollowUp[]) : [];
  }

  saveFollowUps(site: string, list: readonly KeptFollowUp[]): void {
    writeWhole(join(this.#ensure('followups'), `${fileName(site)}.json`), JSON.stringify(list, null, 1) + '\n');
  }

  /** Rows of a site as it was last read. */
  memory(site: string): RowMemory { return new RowMemory(join(this.path, 'remembered', `${fileName(site)}.ndjson`)); }

  #ensure(name: string): string {
    const folder = join(this.path, name);
    mkdirSync(folder, { recursive: true, mode: 0o700 });
    return folder;
  }

  #read(path: string): unknown {
    try { return JSON.parse(readFileSync(path, 'utf8')); } catch (error) {
      throw new Problem('unreadable', 'a record cannot be read', { where: path, remedy: 'restore the .pochette folder from a copy, or move this run\'s folder away', cause: error });
    }
  }
}

interface BaseLine { readonly text: string; entry(): BaseEntry }

/** Lines of bases, all or those `of` some items; those that are not parsed are passed on as they are. Parsing throws an `unreadable` problem with the line. */
function* baseLines(path: string, of?: (address: Address) => boolean): Generator<BaseLine> {
  let number = 0;
  for (const line of eachLine(path)) {
    number++;
    if (line.length === 0) continue;
    const [text, at] = [line.toString(), number];
    const entry = (): BaseEntry => {
      try { return JSON.parse(text) as BaseEntry; } catch (error) {
        throw new Problem('unreadable', 'what was remembered of the last import cannot be read', { where: `${path}:${at}`, remedy: 'restore the .pochette folder from a copy, or move this file away: what the site itself remembers is then used', cause: error });
      }
    };
    if (!of || of(BEGINNING.exec(text)?.[1] ?? entry().address)) yield { text, entry };
  }
}

/** There can be as many as a site has items: they are never held together. */
function* basesIn(path: string, of?: (address: Address) => boolean): Generator<BaseEntry> { for (const line of baseLines(path, of)) yield line.entry(); }

function linesOf(path: string): string[] { return readFileSync(path, 'utf8').split('\n').filter((line) => line !== ''); }

function fileName(id: string): string {
  return id.replace(/[^\w-]/g, '_');
}
