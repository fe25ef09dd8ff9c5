import { closeSync, existsSync, fsyncSync, openSync, readFileSync, writeSync } from 'node:fs';
import type { LocalId } from '../../core/siteindex.ts';
import type { Answer, Operation } from '../../sites/connector.ts';

/** What a run was about to do, before it did it. */
export interface Intent { readonly key: string; readonly op: Operation['op']; readonly kind: string; readonly id?: LocalId; readonly name?: string }
export type JournalLine =
  | { readonly event: 'begin'; readonly at: string }
  | { readonly event: 'intent'; readonly operation: Intent }
  | { readonly event: 'answer'; readonly key: string; readonly status: number; readonly id?: LocalId; readonly etag?: string }
  | { readonly event: 'end'; readonly at: string; readonly state: string };

/** The write-ahead record of one run: an entry for every operation, on disk before it is sent. */
export class Journal {
  readonly #file: number;

  constructor(path: string) {
    this.#file = openSync(path, 'a', 0o600);
  }

  write(lines: readonly JournalLine[]): void {
    writeSync(this.#file, lines.map((line) => JSON.stringify(line) + '\n').join(''));
    fsyncSync(this.#file);
  }

  intents(operations: readonly Operation[]): void {
    this.write(operations.map((operation) => ({ event: 'intent', operation: intentOf(operation) })));
  }

  answers(answers: readonly Answer[]): void {
    this.write(answers.map(({ key, status, id, etag }) => ({ event: 'answer', key, status, ...(id === undefined ? {} : { id }), ...(etag === undefined ? {} : { etag }) })));
  }

  close(): void { closeSync(this.#file); }
}

function intentOf(operation: Operation): Intent {
  const { key, op, kind } = operation;
  return operation.op === 'create' ? { key, op, kind, name: operation.name } : { key, op, kind, id: operation.id };
}

/** What a journal tells: every intent, and the answers that came, by key. */
export interface Journalled { readonly intents: readonly Intent[]; readonly answers: ReadonlyMap<string, { readonly status: number; readonly id?: LocalId; readonly etag?: string }> }

/** A last line that was cut by a kill is passed over. */
export function readJournal(path: string): Journalled {
  const intents: Intent[] = [];
  const answers = new Map<string, { status: number; id?: LocalId; etag?: string }>();
  const text = existsSync(path) ? readFileSync(path, 'utf8') : '';
  for (const line of text.slice(0, text.lastIndexOf('\n') + 1).split('\n').filter((one) => one !== '')) {
    const entry = JSON.parse(line) as JournalLine;
    if (entry.event === 'intent') intents.push(entry.operation);
    if (entry.event === 'answer') answers.set(entry.key, entry);
  }
  return { intents, answers };
}
