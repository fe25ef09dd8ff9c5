import { ownText } from '../core/bytes.ts';
import type { Coverage, PortableItem } from '../core/item.ts';
import { Problem } from '../core/problem.ts';
import { besides, type SourceRow } from '../core/source.ts';
import { isIndexLine, type IndexLine } from './format.ts';
import { parseJson } from './parse.ts';

/** How a line begins that Pochette wrote; others are parsed whole at once. */
const BEGINNING = /^\{"address":"([^"\\]+:[^"\\]+)","kind":"([^"\\]+)","title":("(?:[^"\\]|\\.)*"),"covers":("all"|\[[^\]]*\]),"fingerprint":"([0-9a-f]{64})",/;

const WHOLE = '"all"';

/** Where lines are from: what one of them is called in messages, and how its item is loaded. */
interface From {
  where(line: number): string;
  load(row: IndexedRow): PortableItem | Promise<PortableItem>;
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
 * when something else of it is wanted.
 */
export class IndexedRow implements SourceRow {
  readonly address: string;
  readonly kind: string;
  readonly fingerprint: string;
  readonly title: string;
  readonly covers: Coverage;
  /** The line as it stands in the index. */
  readonly raw: string;
  /** Which one of the lines it is. */
  readonly number: number;
  readonly #lines: IndexLines;

  constructor(text: string, lines: IndexLines, number = 0) {
    this.raw = text;
    this.#lines = lines;
    this.number = number;
    const found = BEGINNING.exec(text);
    const [address = '', kind = '', title = '', covers = '', fingerprint = ''] = found?.slice(1) ?? [];
    const begun = found ? { address, kind: lines.kind(kind), title: title.includes('\\') ? JSON.parse(title) as string : title.slice(1, -1), covers: covers === WHOLE ? 'all' as const : JSON.parse(covers) as Coverage, fingerprint } : this.line;
    ({ address: this.address, kind: this.kind, title: this.title, covers: this.covers, fingerprint: this.fingerprint } = begun);
  }

  get line(): IndexLine { return this.#lines.parsed(this); }
  get leftOut() { return NOTHING_LEFT_OUT; }
  get size() { return this.line.size; }
  get references() { return this.line.references; }
  // Few lines have any: of the others it is known without parsing the line.
  get files() { return this.raw.includes('"files":[]') ? [] : this.line.files; }
  get withheld() { return this.line.withheld; }
  get lost() { return this.line.lost; }
  get taken() { return this.raw.includes('"taken":[') ? this.line.taken ?? [] : []; }
  get named() { return this.raw.includes('"named":[') ? this.line.named ?? [] : []; }
  get draft() { return this.raw.includes('"draft":true') && this.line.draft === true; }
  get created() { return this.raw.includes('"created":"') ? this.line.created : undefined; }
  get loose() { return this.raw.includes('"loose":[') ? this.line.loose ?? [] : []; }

  load(): Promise<PortableItem> { return Promise.resolve().then(() => this.#lines.from.load(this)); }
}

/** The line of a row, in the order of members that `BEGINNING` reads. */
export function indexLine(row: SourceRow): string {
  if (row instanceof IndexedRow) return row.raw;
  const { address, kind, title, covers, fingerprint, size, references, files, withheld, lost } = row;
  return JSON.stringify({ address, kind, title, covers, fingerprint, size, references, files, withheld, lost, ...besides(row) } satisfies IndexLine);
}
