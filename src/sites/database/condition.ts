import { sql, type RawBuilder } from 'kysely';
import type { Engine, Table } from './engine.ts';
import type { Condition } from './layout/schema.ts';

/** The conditions of a layout as SQL; `true` where there are none. */
export function conditions(engine: Engine, table: Table, where: Readonly<Record<string, Condition>>): RawBuilder<unknown> {
  const all = Object.entries(where).map(([column, condition]) => one(engine, table, column, condition));
  return all.length === 0 ? sql`1 = 1` : sql.join(all, sql` and `);
}

function one(engine: Engine, table: Table, name: string, condition: Condition): RawBuilder<unknown> {
  if (typeof condition !== 'object' || Array.isArray(condition)) return engine.oneOf(table, name, [condition].flat().map(String));
  engine.column(table, name);
  const parts: RawBuilder<unknown>[] = [];
  if (condition.like !== undefined) parts.push(sql`(${sql.join([condition.like].flat().map((pattern) => like(name, pattern)), sql` or `)})`);
  if (condition.not !== undefined) parts.push(sql`not (${engine.oneOf(table, name, [condition.not].flat().map(String))})`);
  for (const pattern of [condition.notLike ?? []].flat()) parts.push(sql`not (${like(name, pattern)})`);
  return parts.length === 0 ? sql`1 = 1` : sql.join(parts, sql` and `);
}

/** `!` escapes, because a backslash means different things to different servers. */
function like(name: string, pattern: string): RawBuilder<unknown> {
  return sql`${sql.ref(name)} like ${pattern.replace(/[!%_]/g, '!$&').replaceAll('*', '%')} escape '!'`;
}
