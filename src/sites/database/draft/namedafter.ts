import { sql } from 'kysely';
import { groupBy } from '../../../core/json.ts';
import { cellText, type Row } from '../cells.ts';
import type { Engine } from '../engine.ts';
import type { TableGuess } from './guess.ts';
import { likeName } from './points.ts';

/** Where a layout keeps values by their names. */
export interface Holder { readonly table: string; readonly column: string; readonly kind: string }
/** Values that are called after rows of a table: `fare_{of}_settings`, where the row with this id is a fare. */
export interface NamedAfter { readonly text: string; readonly table: string; readonly example: string }
interface Name { readonly name: string; readonly before: string; readonly id: string; readonly after: string }

/** So many names are looked at. */
const MOST_NAMES = 20_000;
const SHORTEST_WORD = 3;

/** Values whose names hold ids of rows that are to be described: what stands before the id is what their table is called, or a word that the row itself has. */
export async function namesAfterRows(engine: Engine, guesses: readonly TableGuess[], { table: name, column }: Holder, isKnown: (table: string) => boolean): Promise<NamedAfter[]> {
  const table = (await engine.known()).get(name);
  if (!table) return [];
  const { rows } = await engine.run(sql`select ${engine.own.select(engine.column(table, column))} from ${sql.table(name)} limit ${sql.lit(MOST_NAMES)}`);
  const names = rows.flatMap((row) => numberIn(cellText(engine.own.decode(row[column], engine.column(table, column)))));
  const targets = guesses.filter((one) => !isKnown(one.table.name) && one.guess.is === 'records' && one.table.key.length === 1);
  return [...groupBy(names, ({ before, after }) => `${before}{of}${after}`)].flatMap(([text, same]): NamedAfter[] => {
    const target = targets.find((one) => same.every((each) => isCalledAfter(each, one)));
    return target ? [{ text, table: target.table.name, example: same[0]?.name ?? '' }] : [];
  });
}

function numberIn(name: string): Name[] {
  const [, before, id, after = ''] = /^([a-z].*?[_-])([1-9]\d*)((?:[_-].*)?)$/i.exec(name) ?? [];
  return before === undefined || id === undefined ? [] : [{ name, before, id, after }];
}

function isCalledAfter({ before, id }: Name, { table, samples }: TableGuess): boolean {
  const row = samples.find((sample) => cellText(sample[table.key[0] ?? '']) === id);
  return row !== undefined && (likeName(before.slice(0, -1), table) || wordsOf(row).some((word) => `_${before}`.endsWith(`_${word}_`)));
}

/** Short words that a row has, as they would stand in a name. */
function wordsOf(row: Row): string[] {
  return Object.values(row).map(cellText).filter((text) => text.length >= SHORTEST_WORD && /^[a-z][\w-]*$/i.test(text));
}
