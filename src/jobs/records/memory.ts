import { closeSync, mkdirSync, openSync, renameSync, rmSync, writeSync } from 'node:fs';
import { dirname } from 'node:path';
import type { Address } from '../../core/address.ts';
import { byCodeUnit } from '../../core/json.ts';
import type { SourceRow } from '../../core/source.ts';
import { IndexedRow, indexLine } from '../../pochette/indexedrow.ts';
import { eachLine, LineFile } from './lines.ts';

const CLOSING_BRACE = 0x7d;
const WRITE_CHARACTERS = 2 ** 18;
const BEGINNING = ' {"address":';
/** What is so many lines further on is sought. */
const FAR = 100;
/** The address as it stands in a line, which is JSON. */
const ADDRESS = /"(?:[^"\\]|\\.)*"/y;

/**
 * Rows of a site as they were when it was last read whole: an item whose etag is the same need not be fetched again.
 * That holds only while everything it was resolved with is the same, so the memory carries a digest of that, the environment.
 * First line: the environment; then `etag line-of-the-index` for each item, in the order of addresses, so that it is gone through beside a site
 * and never held. It is a copy of what can be read again: a missing or damaged one is an empty one.
 */
export class RowMemory {
  readonly #path: string;

  constructor(path: string) { this.#path = path; }

  /** The lines, where they were written in the same environment. */
  recall(environment: string): Recall { return new Recall(this.#path, environment); }

  learn(environment: string): Learning { return new Learning(this.#path, environment); }
}

/** A way through the lines of a memory, once, by rising addresses. */
export class Recall {
  readonly path: string;
  #file: LineFile | undefined;
  #lines: Generator<Buffer, undefined> | undefined;
  /** Where the next line begins. */
  #next = 0;
  #at: Remembered | undefined;

  constructor(path: string, environment: string) {
    this.path = path;
    this.#file = LineFile.open(path);
    this.#lines = this.#file?.lines();
    if (this.#line()?.toString() === environment) this.#forward(); else this.close();
  }

  /** The line of the index of an item, if it had this etag. Asked for in the order of addresses. */
  find(address: Address, etag: string): string | undefined {
    for (let passed = 0; this.#at && byCodeUnit(this.#at.address, address) < 0; passed++) {
      if (passed === FAR) this.#leap(address);
      this.#forward();
    }
    return this.#at?.address === address && this.#at.etag === etag ? this.#at.line.toString('utf8', this.#at.start) : undefined;
  }

  /** Nothing is remembered any more that could be found. */
  get open(): boolean { return this.#at !== undefined; }

  close(): void {
    this.#file?.close();
    this.#file = this.#lines = this.#at = undefined;
  }

  #line(): Buffer | undefined {
    const line = this.#lines?.next().value;
    this.#next += line === undefined ? 0 : line.length + 1;
    return line;
  }

  /** Passes lines over, up to shortly before an address. */
  #leap(address: Address): void {
    const begin = this.#file?.seek(this.#next, (line) => { const there = beginningOf(line)?.address; return there !== undefined && byCodeUnit(there, address) < 0; }) ?? this.#next;
    if (begin === this.#next) return;
    this.#next = begin;
    this.#lines = this.#file?.lines(begin);
  }

  #forward(): void {
    const line = this.#line();
    const before = this.#at?.address;
    this.#at = line && beginningOf(line);
    // A damaged line, or one out of order: what follows is not believed.
    if (!this.#at || (before !== undefined && byCodeUnit(before, this.#at.address) >= 0)) this.close();
  }
}

let begun = 0;

/** A new memory, written beside the old one as rows come; begun only when something new comes, with what the old one said up to there. */
export class Learning {
  readonly #path: string;
  readonly #environment: string;
  readonly #number = `${process.pid}-${++begun}`;
  #file: number | undefined;
  #waiting = '';
  /** The last row that the old memory had, as long as there was none other. */
  #passed: Address | undefined;

  constructor(path: string, environment: string) {
    this.#path = path;
    this.#environment = environment;
  }

  /** Its own for each: two may be at it, also in one program that reads a site twice. */
  get #part(): string { return `${this.#path}.${this.#number}.part`; }

  /** Rows of which something was left out are not remembered: an index has no place for that. */
  add(etag: string, row: SourceRow): void {
    if (this.#file === undefined && row instanceof IndexedRow) { this.#passed = row.address; return; }
    if (row.leftOut.length > 0 || etag.includes('{')) return;
    if (this.#file === undefined) this.#begin();
    this.#waiting += `${etag} ${indexLine(row)}\n`;
    if (this.#waiting.length > WRITE_CHARACTERS) this.#flush();
  }

  #begin(): void {
    mkdirSync(dirname(this.#path), { recursive: true, mode: 0o700 });
    this.#file = openSync(this.#part, 'w', 0o600);
    this.#waiting = `${this.#environment}\n`;
    if (this.#passed === undefined) return;
    const lines = eachLine(this.#path);
    lines.next();
    for (const line of lines) {
      if (byCodeUnit(beginningOf(line)?.address ?? '\uffff', this.#passed) > 0) break;
      this.#waiting += `${line.toString()}\n`;
      if (this.#waiting.length > WRITE_CHARACTERS) this.#flush();
    }
  }

  /** From now on this is what is remembered. */
  keep(): void {
    if (this.#file === undefined) return;
    this.#flush();
    this.#close();
    renameSync(this.#part, this.#path);
  }

  /** After `keep`, nothing is left to drop. */
  drop(): void {
    if (this.#file === undefined) return;
    this.#close();
    rmSync(this.#part, { force: true });
  }

  #flush(): void {
    if (this.#file !== undefined) writeSync(this.#file, this.#waiting);
    this.#waiting = '';
  }

  #close(): void {
    if (this.#file !== undefined) closeSync(this.#file);
    this.#file = undefined;
  }
}

/** The etag that an item had, its address, and where the line of the index begins in the line. */
interface Remembered { readonly address: Address; readonly etag: string; readonly line: Buffer; readonly start: number }

function beginningOf(line: Buffer): Remembered | undefined {
  // One that was cut.
  if (line.at(-1) !== CLOSING_BRACE) return undefined;
  const text = line.toString('utf8', 0, 400);
  const space = text.indexOf(BEGINNING);
  ADDRESS.lastIndex = space + BEGINNING.length;
  const [address] = (space < 0 ? undefined : ADDRESS.exec(text)) ?? (line.length > 400 ? ADDRESS.exec(line.toString()) : undefined) ?? [];
  return address === undefined ? undefined : { etag: text.slice(0, space), address: address.includes('\\') ? JSON.parse(address) as string : address.slice(1, -1), line, start: Buffer.byteLength(text.slice(0, space + 1)) };
}
