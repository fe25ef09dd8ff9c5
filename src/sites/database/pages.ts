import { sql, type RawBuilder } from 'kysely';
import type { Row } from './cells.ts';
import { keyOrder, type Engine, type Table } from './engine.ts';

/** Which rows are meant, and how many at a time. */
interface Pages { readonly where: RawBuilder<unknown>; readonly size: number }

/** All rows of a table in the order of its key, a page at a time: `fetch` has what stands behind the name of the table. The next page is asked for while one is worked on. */
export async function* pagesByKey(engine: Engine, table: Table, { where, size }: Pages, fetch: (rest: RawBuilder<unknown>) => Promise<Row[]>): AsyncGenerator<Row[]> {
  const page = (after: RawBuilder<unknown>): Promise<Row[]> => fetch(sql`where ${where} ${after} ${keyOrder(table)} limit ${sql.lit(size)}`);
  for (let next: Promise<Row[]> | undefined = page(sql``); next;) {
    const rows: Row[] = await next;
    const last = rows.at(-1);
    next = !last || rows.length < size ? undefined : page(sql`and ${behind(engine, table, last)}`);
    // Whoever stops before it is asked for must not leave a failure that nobody looks at.
    next?.catch(() => undefined);
    if (rows.length > 0) yield rows;
  }
}

/** Rows whose key comes after that of another. Of a key of several columns the first is compared alone too: for pairs of columns not every server uses an index. */
function behind(engine: Engine, table: Table, last: Row): RawBuilder<unknown> {
  const compared = (name: string, sign: '>' | '>=' | '='): RawBuilder<unknown> => sql`${sql.ref(name)} ${sql.raw(sign)} ${engine.beside(last[name] ?? null, engine.column(table, name))}`;
  const rest = ([name = '', ...more]: readonly string[]): RawBuilder<unknown> => (more.length === 0 ? compared(name, '>') : sql`${compared(name, '>=')} and (${compared(name, '>')} or (${compared(name, '=')} and ${rest(more)}))`);
  return rest(table.key);
}
