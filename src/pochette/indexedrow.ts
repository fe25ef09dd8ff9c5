import type { Coverage, PortableItem } from '../core/item.ts';
import { Problem } from '../core/problem.ts';
import type { SourceRow } from '../core/source.ts';
import { isIndexLine, type IndexLine } from './format.ts';
import { parseJson } from './parse.ts';

/** How a line begins that Pochette wrote; others are parsed whole at once. */
const BEGINNING = /^\{"address":"([^"\\]+:[^"\\]+)","kind":"([^"\\]+)","title":("(?:[^"\\]|\\.)*"),"covers":("all"|\[[^\]]*\]),"fingerprint":"([0-9a-f]{64})",/;

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
  readonly leftOut = [];
  /** The line as it stands in the index. */
  readonly raw: string;
  readonly #from: string;
  readonly #load: (row: IndexedRow) => PortableItem | Promise<PortableItem>;
  #line: IndexLine | undefined;

  constructor(text: string, from: string, load: (row: IndexedRow) => PortableItem | Promise<PortableItem>) {
    this.raw = text;
    this.#from = from;
    this.#load = load;
    const found = BEGINNING.exec(text);
    const [address = '', kind = '', title = '', covers = '', fingerprint = ''] = found?.slice(1) ?? [];
    const begun = found ? { address, kind, title: JSON.parse(title) as string, covers: JSON.parse(covers) as Coverage, fingerprint } : this.line;
    ({ address: this.address, kind: this.kind, title: this.title, covers: this.covers, fingerprint: this.fingerprint } = begun);
  }

  get line(): IndexLine {
    if (this.#line) return this.#line;
    const line = parseJson(this.raw, this.#from);
    if (!isIndexLine(line)) throw new Problem('unreadable', 'this line of the index is not understood', { where: this.#from, remedy: 'export the file again' });
    this.#line = line;
    return line;
  }

  get size() { return this.line.size; }
  get references() { return this.line.references; }
  /** Few lines have any: the others need not be parsed to know. */
  get files() { return this.raw.includes('"files":[]') ? [] : this.line.files; }
  get withheld() { return this.line.withheld; }
  get lost() { return this.line.lost; }
  get taken() { return this.raw.includes('"taken":[') ? this.line.taken ?? [] : []; }

  load(): Promise<PortableItem> { return Promise.resolve().then(() => this.#load(this)); }
}

/** The line of a row, in the order of members that `BEGINNING` reads. */
export function indexLine(row: SourceRow): string {
  if (row instanceof IndexedRow) return row.raw;
  const { address, kind, title, covers, fingerprint, size, references, files, withheld, lost, taken } = row;
  return JSON.stringify({ address, kind, title, covers, fingerprint, size, references, files, withheld, lost, ...(taken && taken.length > 0 ? { taken } : {}) } satisfies IndexLine);
}
