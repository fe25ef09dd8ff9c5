import { groupBy } from '../../core/json.ts';
import { compileKinds } from '../../core/kind.ts';
import { SiteIndex } from '../../core/siteindex.ts';
import { Exporter } from '../../core/translate/portable.ts';
import type { DatabaseConnector } from './connector.ts';
import { surveyTables, type TableSurvey } from './survey.ts';

export interface KindCheck { readonly kind: string; readonly items: number; readonly examples: readonly string[]; readonly where: string }
export interface Place { readonly address: string; readonly at: string; readonly what: string }
/** What a layout finds in a database, and what it does not. */
export interface LayoutCheck {
  readonly layout: string;
  readonly title: string;
  readonly prefix: string;
  readonly address: string;
  readonly kinds: readonly KindCheck[];
  readonly tables: readonly TableSurvey[];
  /** Several rows with one name: only the first of them can travel. */
  readonly sameName: readonly Place[];
  /** Values that cannot be read, and references to nothing. */
  readonly faults: readonly Place[];
}

const EXAMPLES = 4;

/** Reads every item as an export would, and every row of the tables. */
export async function checkLayout(connector: DatabaseConnector): Promise<LayoutCheck> {
  const { shape } = connector;
  const facts = await connector.facts();
  const kinds = compileKinds(await connector.kinds(), connector.name);
  const index = new SiteIndex(facts.site.address, kinds);
  for await (const row of connector.index()) index.add(row);
  const rows = [...index.rows()];
  const byKind = groupBy(rows, ([, row]) => row.kind);
  return {
    layout: shape.layout.name, title: shape.layout.title, prefix: shape.prefix, address: facts.site.address,
    kinds: shape.kinds.map(({ description, where }): KindCheck => { const found = byKind.get(description.id) ?? []; return { kind: description.id, items: found.length, examples: found.slice(0, EXAMPLES).map(([, row]) => row.name), where }; }),
    tables: await surveyTables(connector.engine, shape, await connector.describedRows()),
    sameName: rows.filter(([, row]) => row.unavailable?.why === 'same-name').map(([address, row]) => ({ address, at: '', what: row.unavailable?.detail ?? '' })),
    faults: await faultsOf(connector, new Exporter(index), index),
  };
}

async function faultsOf(connector: DatabaseConnector, exporter: Exporter, index: SiteIndex): Promise<Place[]> {
  const faults: Place[] = [];
  for await (const item of connector.items()) {
    const address = index.addressOf(item);
    const kind = index.kindOf(address);
    if (!kind) continue;
    if (item.unavailable?.why === 'damaged') faults.push({ address, at: '', what: item.unavailable.detail });
    const { lost, leftOut } = exporter.portable(kind, item.value, item.name);
    for (const { at, raw } of lost) faults.push({ address, at, what: `the id ${raw} refers to nothing` });
    for (const { at, why } of leftOut) faults.push({ address, at, what: why === 'damaged' ? 'a packed value was cut or altered' : why });
  }
  return faults;
}
