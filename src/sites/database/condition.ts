import { sql, type RawBuilder } from 'kysely';
import type { Engine, Table } from './engine.ts';
import type { Condition } from './layout/schema.ts';

type Scalar = string | number | null;

/** The conditions of a layout as SQL; `true` where there are none. */
export function conditions(engine: Engine, table: Table, where: Readonly<Record<string, Condition>>): RawBuilder<unknown> {
  const all = Object.entries(where).map(([column, condition]) => one(engine, table, column, condition));
  return all.length === 0 ? sql`1 = 1` : sql.join(all, sql` and `);
}

function one(engine: Engine, table: Table, name: string, condition: Condition): RawBuilder<unknown> {
  const { nullable } = engine.column(table, name);
  if (typeof condition !== 'object' || condition === null || Array.isArray(condition)) return among(engine, table, name, condition);
  const parts: RawBuilder<unknown>[] = [];
  if (condition.like !== undefined) parts.push(sql`(${sql.join([condition.like].flat().map((pattern) => like(name, pattern)), sql` or `)})`);
  // To SQL nothing at all is neither equal nor unequal.
  const except = (what: RawBuilder<unknown>): RawBuilder<unknown> => (nullable ? sql`(${sql.ref(name)} is null or not (${what}))` : sql`not (${what})`);
  if (condition.not !== undefined) parts.push([condition.not].flat().includes(null) ? sql`not (${among(engine, table, name, condition.not)})` : except(among(engine, table, name, condition.not)));
  for (const pattern of [condition.notLike ?? []].flat()) parts.push(except(like(name, pattern)));
  return parts.length === 0 ? sql`1 = 1` : sql.join(parts, sql` and `);
}

/** One of these values; nothing at all is a value too. */
function among(engine: Engine, table: Table, name: string, list: Scalar | readonly Scalar[]): RawBuilder<unknown> {
  const values = Array.isArray(list) ? list as readonly Scalar[] : [list as Scalar];
  const texts = values.flatMap((one) => (one === null ? [] : [String(one)]));
  const empty = sql`${sql.ref(name)} is null`;
  if (!values.includes(null)) return engine.oneOf(table, name, texts);
  return texts.length === 0 ? empty : sql`(${empty} or ${engine.oneOf(table, name, texts)})`;
}

/** `!` escapes, because a backslash means different things to different servers. */
function like(name: string, pattern: string): RawBuilder<unknown> {
  return sql`${sql.ref(name)} like ${pattern.replace(/[!%_]/g, '!$&').replaceAll('*', '%')} escape '!'`;
}
