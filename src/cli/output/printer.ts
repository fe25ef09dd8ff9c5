import { stripVTControlCharacters } from 'node:util';
import { Chalk, type ChalkInstance } from 'chalk';
import Table from 'cli-table3';
import { clean } from '../../core/clean.ts';

const GAP = 2;
const [MIN_COLUMNS, MOST_COLUMNS] = [60, 140];
/** Wider cells than this, but in the last column, stand outside the columns. */
const WIDEST = 100;
/** So many rows are laid out at once: the library goes through all that were before for each. */
const LAID_OUT = 100;
const NO_LINES = Object.fromEntries(['top', 'top-mid', 'top-left', 'top-right', 'bottom', 'bottom-mid', 'bottom-left', 'bottom-right', 'left', 'left-mid', 'mid', 'mid-mid', 'right', 'right-mid', 'middle'].map((name) => [name, '']));

/** Text that is ready for the terminal: cleaned, perhaps coloured. */
export class Styled {
  constructor(readonly text: string) {}
}
export type Part = string | number | Styled;

/** Prints lines and tables. Whatever is not `Styled` is cleaned, so that nothing from a site reaches the terminal raw. */
export class Printer {
  readonly #out: NodeJS.WritableStream;
  readonly #before: () => void;
  readonly #chalk: ChalkInstance;
  /** The terminal shows colours as they are. */
  readonly #exact: boolean;
  readonly width: number;
  /** Width for values, which are shortened: a hundred where there is no terminal. */
  readonly columns: number;

  /** `before` is called before anything is written: what else stands on the terminal has to go. */
  constructor(out: NodeJS.WritableStream & { columns?: number }, color: boolean, { exact = false, before = () => undefined }: { exact?: boolean; before?: () => void } = {}) {
    this.#before = before;
    this.#exact = exact;
    this.#out = out;
    this.#chalk = new Chalk({ level: color ? 2 : 0 });
    this.width = out.columns ?? 140;
    this.columns = Math.max(MIN_COLUMNS, Math.min(out.columns ?? 100, MOST_COLUMNS));
  }

  line(...parts: Part[]): void { this.raw(parts.map(text).join('') + '\n'); }
  /** Text that was made for output as it is: JSON, YAML. */
  raw(text: string): void { this.#before(); this.#out.write(text); }
  json(value: unknown): void { this.raw(JSON.stringify(value, null, 2) + '\n'); }

  strong(part: Part): Styled { return new Styled(this.#chalk.bold(text(part))); }
  faint(part: Part): Styled { return new Styled(this.#chalk.dim(text(part))); }
  good(part: Part): Styled { return new Styled(this.#chalk.green(text(part))); }
  bad(part: Part): Styled { return new Styled(this.#chalk.red(text(part))); }
  note(part: Part): Styled { return new Styled(this.#chalk.yellow(text(part))); }
  name(part: Part): Styled { return new Styled(this.#chalk.cyan(text(part))); }
  /** A patch of a colour, `#rrggbb`; nothing where it would be shown as another one. */
  swatch(colour: string): Styled { return new Styled(this.#chalk.level === 0 || !this.#exact ? '' : ` ${new Chalk({ level: 3 }).bgHex(colour)('  ')}`); }
  join(...parts: Part[]): Styled { return new Styled(parts.map(text).join('')); }

  heading(part: Part): void { this.line(); this.line(this.strong(part)); }

  /** Columns without lines; the last one takes what is left of the width. */
  table(rows: readonly (readonly Part[])[], indent = 2): void {
    const cells = rows.map((row) => row.map(text));
    // One name of two hundred characters must not push the rest of every line out of sight.
    const isAligned = (row: readonly string[]): boolean => row.slice(0, -1).every((cell) => stripVTControlCharacters(cell).length <= WIDEST);
    const aligned = cells.filter(isAligned);
    const shape = { chars: NO_LINES, style: { head: [], border: [], 'padding-left': 0, 'padding-right': GAP, compact: true }, ...this.#lastColumn(aligned, indent) };
    // The widest cells stand in the last row, which is not printed: groups have the same columns.
    const last = widest(aligned);
    const group: string[][] = [];
    const flush = (): void => {
      if (group.length === 0) return;
      const table = new Table(shape);
      table.push(...group.splice(0), last);
      for (const line of table.toString().split('\n').slice(0, -1)) this.line(new Styled(' '.repeat(indent) + line.trimEnd()));
    };
    for (const row of cells) {
      if (isAligned(row)) {
        if (group.push(row) === LAID_OUT) flush();
        continue;
      }
      flush();
      this.line(new Styled(' '.repeat(indent) + row.join(' '.repeat(GAP)).trimEnd()));
    }
    flush();
  }

  /** The last column is wrapped where a line would not fit; the terminal would break it anywhere. */
  #lastColumn(cells: readonly (readonly string[])[], indent: number): object {
    const LEAST = 20;
    const count = Math.max(0, ...cells.map((row) => row.length));
    const widths = Array.from({ length: count }, (_, i) => Math.max(0, ...cells.map((row) => stripVTControlCharacters(row[i] ?? '').length + GAP)));
    const room = this.width - indent - widths.slice(0, -1).reduce((sum, width) => sum + width, 0);
    return (widths.at(-1) ?? 0) > room && room >= LEAST ? { colWidths: [...widths.slice(0, -1), room], wordWrap: true, wrapOnWordBoundary: true } : {};
  }
}

/** Of each column but the last the widest cell. */
function widest(rows: readonly (readonly string[])[]): string[] {
  const count = Math.max(0, ...rows.map((row) => row.length));
  const width = (row: readonly string[], i: number): number => stripVTControlCharacters(row[i] ?? '').length;
  return Array.from({ length: count }, (_, i) => (i === count - 1 ? '' : rows.reduce<readonly string[]>((best, row) => (width(row, i) > width(best, i) ? row : best), [])[i] ?? ''));
}

function text(part: Part): string {
  return part instanceof Styled ? part.text : clean(String(part));
}
