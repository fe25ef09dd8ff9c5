import { sql } from 'kysely';
import { groupBy } from '../../../core/json.ts';
import { inEnglish } from './tongues.ts';
import { cellText } from '../cells.ts';
import type { Engine } from '../engine.ts';
import { belongingLines, childOf, codecsBelow, membersOf, referencesBelow, withBelow, type Child, type Named } from './children.ts';
import { orderOf } from './columns.ts';
import { isUnique, type TableGuess } from './guess.ts';
import type { DraftPlan } from './plan.ts';
import { isMentioned } from './mentions.ts';
import { hasSort, isNameOf } from './points.ts';
import { isFilled } from './samples.ts';
import { pairs, word } from './words.ts';

/** A table of which a layout describes rows of every sort together, but for some that have kinds of their own. */
export interface Sorted { readonly table: string; readonly kind: string; /** The column with the ids. */ readonly key: string; /** The tables whose keys these ids are. */ readonly means: readonly string[]; /** The column that says which sort a row is. */ readonly column: string; readonly apart: readonly string[] }
/** A table whose rows belong to rows of one such sort, as the column `by` says. */
export interface Held { readonly one: TableGuess; readonly by: string; readonly of: Sorted; readonly sort: string }

/** So many rows are asked which sort they are. */
const ASKED = 500;

/** Tables that a layout does not describe, with rows that are nothing without rows of one sort that it does. */
export async function heldTables(engine: Engine, guesses: readonly TableGuess[], sorted: readonly Sorted[], isKnown: (table: string) => boolean): Promise<Held[]> {
  const found: Held[] = [];
  for (const one of guesses.filter((guess) => !isKnown(guess.table.name) && canBeHeld(guess) && !isMentioned(guess, guesses) && !guesses.some(({ points }) => [...points.values()].includes(guess.table.name)))) {
    const leads = leadsElsewhere(one, isKnown);
    for (const [by, to] of one.points) {
      if (leads && !beginsLike(one.table.name, by)) continue;
      const of = sorted.find(({ means }) => means.includes(to));
      const sort = of && isFilled(one.samples, by) ? await onlySort(engine, of, [...new Set(one.samples.map((row) => cellText(row[by])))]) : undefined;
      if (!of || sort === undefined || of.apart.includes(sort) || !(hasSort([sort], by) || one.table.key.includes(by) || one.guess.is === 'fields')) continue;
      found.push({ one, by, of, sort });
      break;
    }
  }
  return found;
}

/** What has a name is something by itself, and so is what has a title that no other has. */
function canBeHeld({ guess, unique }: TableGuess): boolean {
  return guess.is === 'links' || guess.is === 'fields' || (guess.is === 'records' && guess.name === undefined && !isUnique(guess.title, unique));
}

/** Do rows go with those of a table that is drafted as well? They belong to that one; what has the key of a row for its own is the rest of that row, whatever else it points to. */
function leadsElsewhere({ table, points }: TableGuess, isKnown: (table: string) => boolean): boolean {
  const [key = '', ...more] = table.key;
  const isRest = more.length === 0 && isKnown(points.get(key) ?? '');
  return !isRest && [...points.values()].some((to) => to !== table.name && !isKnown(to));
}

/** Is a table called after what a column points to, and then after what that has, as tour_extras is with tour_id? */
function beginsLike(table: string, by: string): boolean {
  const [stem, words] = [inEnglish(by).replace(/(?:_post|_entry|_record)?_?id$/, ''), inEnglish(table).split('_')];
  return stem !== '' && words.slice(0, -1).some((word) => isNameOf(stem, word));
}

async function onlySort(engine: Engine, { table, key, column }: Sorted, ids: readonly string[]): Promise<string | undefined> {
  const there = (await engine.known()).get(table);
  if (!there) return undefined;
  const { rows } = await engine.run(sql`select distinct ${engine.own.select(engine.column(there, column))} from ${sql.table(table)} where ${engine.oneOf(there, key, ids.slice(0, ASKED))}`);
  return rows.length === 1 ? cellText(engine.own.decode(rows[0]?.[column], engine.column(there, column))) : undefined;
}

/** A kind for each sort that such rows belong to. */
export function heldLines(plan: DraftPlan, held: readonly Held[]): string[] {
  return [...groupBy(held, ({ of, sort }) => `${of.table} ${sort}`).values()].flatMap((same) => linesOf(plan, same as [Held, ...Held[]]));
}

function linesOf(plan: DraftPlan, held: readonly [Held, ...Held[]]): string[] {
  const [{ of, sort }] = held;
  const belonging = held.map(({ one, by }) => ({ one, member: plan.alias(one.table.name), by, where: {}, rows: one.samples }));
  const named = belonging.flatMap((more): Named[] => (more.one.guess.is === 'fields' ? [{ ...more, key: more.one.guess.key, value: more.one.guess.value }] : []));
  const children = belonging.filter(({ one }) => one.guess.is !== 'fields').map((more): Child => childOf(plan, more));
  const all = withBelow(children);
  // Ids order them, which are others on every site.
  const unordered = children.filter(({ one, id }) => id.length > 1 && orderOf(one.table) === undefined).map(({ member }) => `$.${member}`);
  const [codecs, references] = [codecsBelow(plan, named, all), referencesBelow(plan, all)];
  return [
    `  # Rows of ${belonging.map(({ member }) => member).join(' and ')} belong to rows of the sort ${sort}, which are a kind of their own here.`,
    `  - id: ${plan.site}/${plan.kindOfSort(of.table, sort)}`, `    like: ${of.kind}  # and referred to as such`,
    '    rows:', `      where: ${pairs({ [of.column]: word(sort) })}`, '      value:', ...membersOf(plan, of.key, named, children).map((text) => `        ${text}`),
    ...belongingLines(all), ...(unordered.length === 0 ? [] : [`    unordered: [${unordered.join(', ')}]`]),
    ...(codecs.length > 0 ? [`    codecs: [${codecs.join(', ')}]`] : []), ...(references.length > 0 ? [`    references: [${references.join(', ')}]`] : []),
  ];
}
