import { sql, type RawBuilder } from 'kysely';
import { cellText } from './cells.ts';
import { conditions } from './condition.ts';
import type { Engine } from './engine.ts';
import type { Drop } from './layout/schema.ts';
import type { Shape } from './shape.ts';

/** Rows that the layout drops after an import, since the site makes them anew: they are nobody's configuration. */
export class Caches {
  readonly #engine: Engine;
  readonly #shape: Shape;
  /** Of rules that name their rows after values of another table: all names that were seen. What an undo takes away had its cache too. */
  readonly #names = new Map<Drop, Set<string>>();

  constructor(engine: Engine, shape: Shape) {
    this.#engine = engine;
    this.#shape = shape;
  }

  get #rules(): Drop[] { return this.#shape.layout.after.flatMap((one) => ('drop' in one ? [one.drop] : [])); }

  /** Looks which names there are now. */
  async look(): Promise<void> {
    for (const rule of this.#rules) {
      if (!rule.each) continue;
      const { from, column, text } = rule.each;
      const table = this.#shape.table(from);
      const { rows } = await this.#engine.run(sql`select distinct ${sql.ref(column)} as ${sql.ref('value')} from ${sql.table(table.name)}`);
      const names = rows.map((row) => text.replace('{value}', () => cellText(this.#engine.own.decode(row['value'], this.#engine.column(table, column)))));
      this.#names.set(rule, new Set([...this.#names.get(rule) ?? [], ...names]));
    }
  }

  /** The condition for rows of a table that are no caches. */
  none(alias: string): RawBuilder<unknown> {
    const rules = this.#rules.filter((rule) => rule.from === alias);
    return rules.length === 0 ? sql`1 = 1` : sql.join(rules.map((rule) => sql`(${this.#condition(rule)}) is not true`), sql` and `);
  }

  async drop(): Promise<void> {
    await this.look();
    for (const rule of this.#rules) await this.#engine.run(sql`delete from ${sql.table(this.#shape.table(rule.from).name)} where ${this.#condition(rule)}`);
  }

  #condition(rule: Drop): RawBuilder<unknown> {
    const table = this.#shape.table(rule.from);
    const only = rule.each ? sql`and ${this.#engine.oneOf(table, rule.each.as, [...this.#names.get(rule) ?? []])}` : sql``;
    return sql`${conditions(this.#engine, table, rule.where)} ${only}`;
  }
}
