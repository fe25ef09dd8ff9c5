import { createHash } from 'node:crypto';
import { appendFileSync, existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Facts, KindInput, Ledger } from '../../protocol/index.ts';

/** A record as the simulated CMS keeps it. */
export interface SiteRecord {
  id: number; kind: string; name: string; status: 'published' | 'draft'; value: unknown;
  /** Counted by the CMS on every write; not part of the etag. */
  revision: number;
  /** When it was changed last, ISO 8601. */
  changed?: string;
  /** When it was made, ISO 8601. */
  created?: string | undefined;
}
export interface Entry { type: string; slug: string; title: string; fields: Record<string, string | number>; picture?: string }
/** What a site is apart from its records. */
export interface SiteConfig {
  facts: Omit<Facts, 'rights' | 'site' | 'user'> & { site: { id: string; title: string } };
  /** Descriptions of kinds by who owns them: the CMS itself, or an extension. */
  kinds: Record<string, readonly KindInput[]>;
  tokens: { token: string; rights: ('read' | 'write')[]; user?: string }[];
  content: Entry[];
  nextId: number;
}

/** The state of one site in one folder. Every file is written beside and then renamed, so that a kill leaves the old or the new one. */
export class State {
  readonly #folder: string;
  readonly config: SiteConfig;
  readonly records = new Map<number, SiteRecord>();
  readonly #etags = new WeakMap<SiteRecord, string>();
  readonly #sizes = new WeakMap<SiteRecord, number>();
  ledger: Ledger;
  readonly forms: Map<string, string>;
  /** Answers by Idempotency-Key. */
  readonly answers: Map<string, unknown>;

  constructor(folder: string) {
    this.#folder = folder;
    mkdirSync(join(folder, 'records'), { recursive: true });
    mkdirSync(join(folder, 'media'), { recursive: true });
    this.config = read(join(folder, 'site.json')) as SiteConfig;
    this.ledger = (existsSync(join(folder, 'ledger.json')) ? read(join(folder, 'ledger.json')) : { runs: [], origins: [], bases: [] }) as Ledger;
    this.forms = readForms(join(folder, 'forms.ndjson'));
    this.answers = new Map(readLines(join(folder, 'answers.ndjson')) as [string, unknown][]);
    for (const file of readdirSync(join(folder, 'records')).filter((name) => name.endsWith('.json'))) {
      const record = read(join(folder, 'records', file)) as SiteRecord;
      this.records.set(record.id, record);
    }
  }

  nextId(): number {
    return this.config.nextId++;
  }

  put(record: SiteRecord): void {
    this.records.set(record.id, record);
    this.config.nextId = Math.max(this.config.nextId, record.id + 1);
  }

  /** Changes with the content of a record, and with nothing else. */
  etag(record: SiteRecord): string {
    const known = this.#etags.get(record);
    if (known !== undefined) return known;
    const etag = `"${createHash('sha256').update(JSON.stringify([record.kind, record.name, record.status, record.value])).digest('hex').slice(0, 20)}"`;
    this.#etags.set(record, etag);
    return etag;
  }

  /** Size of the value in bytes. */
  size(record: SiteRecord): number {
    const size = this.#sizes.get(record) ?? Buffer.byteLength(JSON.stringify(record.value));
    this.#sizes.set(record, size);
    return size;
  }

  find(kind: string, name: string): SiteRecord | undefined {
    for (const record of this.records.values()) if (record.kind === kind && record.name === name) return record;
    return undefined;
  }

  /** Writes the records with these ids as they are now; those that are gone are removed. */
  save(ids: Iterable<number>): void {
    for (const id of new Set(ids)) {
      const record = this.records.get(id);
      if (record) this.#write(join('records', `${id}.json`), record);
      else rmSync(join(this.#folder, 'records', `${id}.json`), { force: true });
    }
    this.#write('site.json', this.config);
  }

  saveLedger(): void { this.#write('ledger.json', this.ledger); }

  /** Forms that the ledger's bases name. */
  changeForms(forms: readonly { digest: string; text: string }[], drop: readonly string[]): void {
    for (const { digest, text } of forms) this.forms.set(digest, text);
    for (const digest of drop) this.forms.delete(digest);
    const lines = [...forms.map((one) => [one.digest, one.text]), ...drop.map((digest) => [digest])];
    appendFileSync(join(this.#folder, 'forms.ndjson'), lines.map((line) => JSON.stringify(line) + '\n').join(''));
  }

  remember(answers: readonly [string, unknown][]): void {
    for (const [key, answer] of answers) this.answers.set(key, answer);
    appendFileSync(join(this.#folder, 'answers.ndjson'), answers.map((one) => JSON.stringify(one) + '\n').join(''));
  }

  mediaPath(digest: string): string { return join(this.#folder, 'media', digest); }
  hasMedia(digest: string): boolean { return existsSync(this.mediaPath(digest)); }
  readMedia(digest: string): Buffer { return readFileSync(this.mediaPath(digest)); }
  putMedia(digest: string, bytes: Uint8Array): void { writeAtomically(this.mediaPath(digest), bytes); }

  #write(name: string, value: unknown): void { writeAtomically(join(this.#folder, name), JSON.stringify(value)); }
}

/** Whole lines only: the last one may have been cut by a kill. */
function readLines(path: string): unknown[] {
  if (!existsSync(path)) return [];
  const text = readFileSync(path, 'utf8');
  return text.slice(0, text.lastIndexOf('\n') + 1).split('\n').filter((line) => line !== '').map((line) => JSON.parse(line) as unknown);
}

function read(path: string): unknown {
  return JSON.parse(readFileSync(path, 'utf8'));
}

export function writeAtomically(path: string, bytes: string | Uint8Array): void {
  writeFileSync(`${path}.tmp`, bytes);
  renameSync(`${path}.tmp`, path);
}

/** A form a line; a line without text takes one back. */
function readForms(path: string): Map<string, string> {
  const forms = new Map<string, string>();
  if (!existsSync(path)) return forms;
  for (const line of readFileSync(path, 'utf8').split('\n').filter((one) => one !== '')) {
    const [digest, text] = JSON.parse(line) as [string, string?];
    if (text === undefined) forms.delete(digest); else forms.set(digest, text);
  }
  return forms;
}
