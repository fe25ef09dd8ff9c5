import { ownText } from '../core/bytes.ts';
import type { Coverage, PortableItem } from '../core/item.ts';
import { Problem } from '../core/problem.ts';
import type { SourceRow } from '../core/source.ts';
import { isIndexLine, type IndexLine } from './format.ts';
import { parseJson } from './parse.ts';

/** How a line begins that Pochette wrote; others are parsed whole at once. */
const BEGINNING = /^\{"address":"([^"\\]+:[^"\\]+)","kind":"([^"\\]+)","title":("(?:[^"\\]|\\.)*"),"covers":("all"|\[[^\]]*\]),"fingerprint":"([0-9a-f]{64})",/;

/** Where lines are from: what one of them is called in messages, how its item is loaded, and its text, where it can be read again. */
interface From {
  where(line: number): string;
  load(row: IndexedRow): PortableItem | Promise<PortableItem>;
  text?(line: number): string;
}

/** What the rows of one index have in common. The line that was parsed last is kept: of a row several things are asked for, and then of the next. */
export class IndexLines {
  readonly from: From;
  #row: IndexedRow | undefined;
  #line: IndexLine | undefined;
  readonly #kinds = new Map<string, string>();

  constructor(from: From) { this.from = from; }

  /** The few kinds there are, each held once. */
  kind(name: string): string {
    const known = this.#kinds.get(name);
    if (known !== undefined) return known;
    const own = ownText(name);
    this.#kinds.set(own, own);
    return own;
  }

  /** Throws an `unreadable` problem where it is not understood. */
  parsed(row: IndexedRow): IndexLine {
    if (this.#line && this.#row === row) return this.#line;
    const where = this.from.where(row.number);
    const line = parseJson(row.raw, where);
    if (!isIndexLine(line)) throw new Problem('unreadable', 'this line of the index is not understood', { where, remedy: 'export the file again' });
    this.#row = row;
    this.#line = line;
    return line;
  }
}

const NOTHING_LEFT_OUT: SourceRow['leftOut'] = [];

/**
 * A row of an index in text. A comparison asks most rows for no more than address and fingerprint: the rest of the line is parsed, and checked,
 * when something else of it is wanted. There are as many as items, so that it holds little; and nothing of it keeps the text in memory that it was read from.
 */
export class IndexedRow implements SourceRow {
  readonly address: string;
  readonly kind: string;
  readonly fingerprint: string;
  readonly title: string;
  readonly covers: Coverage;
  /** Which one of the lines it is. */
  readonly number: number;
  /** Few lines have any: of the others it is known without reading the line again. */
  readonly #hasFiles: boolean;
  readonly #hasTaken: boolean;
  readonly #hasNamed: boolean;
  readonly #text: string | undefined;
  readonly #lines: IndexLines;

  constructor(text: string, lines: IndexLines, number = 0) {
    this.#text = lines.from.text ? undefined : text;
    this.#lines = lines;
    this.number = number;
    this.#hasFiles = !text.includes('"files":[]');
    this.#hasTaken = text.includes('"taken":[');
    this.#hasNamed = text.includes('"named":[');
    const found = BEGINNING.exec(text);
    const [address = '', kind = '', title = '', covers = '', fingerprint = ''] = found?.slice(1) ?? [];
    const begun = found ? { address: ownText(address), kind: lines.kind(kind), title: JSON.parse(title) as string, covers: JSON.parse(covers) as Coverage, fingerprint: ownText(fingerprint) } : this.line;
    ({ address: this.address, kind: this.kind, title: this.title, covers: this.covers, fingerprint: this.fingerprint } = begun);
  }

  /** The line as it stands in the index. */
  get raw(): string { return this.#text ?? this.#lines.from.text?.(this.number) ?? ''; }
  get line(): IndexLine { return this.#lines.parsed(this); }
  get leftOut() { return NOTHING_LEFT_OUT; }
  get size() { return this.line.size; }
  get references() { return this.line.references; }
  get files() { return this.#hasFiles ? this.line.files : []; }
  get withheld() { return this.line.withheld; }
  get lost() { return this.line.lost; }
  get taken() { return this.#hasTaken ? this.line.taken ?? [] : []; }
  get named() { return this.#hasNamed ? this.line.named ?? [] : []; }

  load(): Promise<PortableItem> { return Promise.resolve().then(() => this.#lines.from.load(this)); }
}

/** The line of a row, in the order of members that `BEGINNING` reads. */
export function indexLine(row: SourceRow): string {
  if (row instanceof IndexedRow) return row.raw;
  const { address, kind, title, covers, fingerprint, size, references, files, withheld, lost, taken, named } = row;
  return JSON.stringify({ address, kind, title, covers, fingerprint, size, references, files, withheld, lost, ...(taken && taken.length > 0 ? { taken } : {}), ...(named && named.length > 0 ? { named } : {}) } satisfies IndexLine);
}
