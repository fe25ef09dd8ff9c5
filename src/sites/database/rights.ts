import { sql } from 'kysely';
import type { Engine, Table } from './engine.ts';

/** The name of the first of the tables that this user cannot write to. */
export async function refusedOf(engine: Engine, tables: readonly Table[]): Promise<string | undefined> {
  // All at once: on a distant server they would take longer than the rest of a small command.
  const writable = await Promise.all(tables.map((table) => isWritable(engine, table)));
  return tables.find((_table, i) => writable[i] !== true)?.name;
}

/** Tried, without changing a row. */
async function isWritable(engine: Engine, table: Table): Promise<boolean> {
  // A counted column may be one that only the server writes.
  const first = [...table.columns.keys()].find((name) => name !== table.counted) ?? table.counted ?? '';
  const all = sql.join([...table.columns.keys()].map((column) => sql.ref(column)));
  try {
    await engine.transaction(async (at) => {
      await engine.run(sql`update ${sql.table(table.name)} set ${sql.ref(first)} = ${sql.ref(first)} where 1 = 0`, at);
      await engine.run(sql`delete from ${sql.table(table.name)} where 1 = 0`, at);
      await engine.run(sql`insert into ${sql.table(table.name)} (${all}) ${engine.own.ownIds} select ${all} from ${sql.table(table.name)} where 1 = 0`, at);
    });
    return true;
  } catch { return false; }
}
