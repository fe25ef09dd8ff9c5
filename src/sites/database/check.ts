import { groupBy, type Json } from '../../core/json.ts';
import { compileKinds, type Kind, type KindDescription } from '../../core/kind.ts';
import { SiteIndex } from '../../core/siteindex.ts';
import { Exporter } from '../../core/translate/portable.ts';
import type { DatabaseConnector } from './connector.ts';
import { pathsOnDisk } from './ondisk.ts';
import { surveyTables, type TableSurvey } from './survey.ts';
import { Suspicion, type Place, type Suspect } from './suspicion.ts';

export interface KindCheck { readonly kind: string; readonly items: number; readonly examples: readonly string[]; readonly where: string }
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
  /** Paths on the disk of the server. They would be carried as they are. */
  readonly onDisk: readonly Place[];
  /** Numbers that are ids of items, under names that nothing describes as references. They would be carried as they are. */
  readonly suspects: readonly Suspect[];
}
const EXAMPLES = 4;

/** Reads every item as an export would, and every row of the tables. */
export async function checkLayout(connector: DatabaseConnector): Promise<LayoutCheck> {
  const { shape } = connector;
  const facts = await connector.facts();
  const index = await indexOf(connector);
  const rows = [...index.rows()];
  const byKind = groupBy(rows, ([, row]) => row.kind);
  return {
    layout: shape.layout.name, title: shape.layout.title, prefix: shape.prefix, address: facts.site.address,
    kinds: shape.kinds.map(({ description, where }): KindCheck => { const found = byKind.get(description.id) ?? []; return { kind: description.id, items: found.length, examples: found.slice(0, EXAMPLES).map(([, row]) => row.name), where }; }),
    tables: await surveyTables(connector.engine, shape, await connector.describedRows()),
    sameName: rows.filter(([, row]) => row.unavailable?.why === 'same-name').map(([address, row]) => ({ address, at: '', what: row.unavailable?.detail ?? '' })),
    ...await lookAt(connector, new Exporter(index), index),
  };
}

/** The same numbers alone, for a draft. */
export async function suspectsOf(connector: DatabaseConnector): Promise<readonly Suspect[]> {
  const index = await indexOf(connector);
  return (await lookAt(connector, new Exporter(index), index)).suspects;
}

async function indexOf(connector: DatabaseConnector): Promise<SiteIndex> {
  const index = new SiteIndex((await connector.facts()).site.address, compileKinds(await connector.kinds(), connector.name));
  index.definitions = await connector.definitions();
  for await (const row of connector.index()) index.add(row);
  return index;
}

async function lookAt(connector: DatabaseConnector, exporter: Exporter, index: SiteIndex): Promise<Pick<LayoutCheck, 'faults' | 'onDisk' | 'suspects'>> {
  const faults: Place[] = [];
  const onDisk: Place[] = [];
  const suspicion = new Suspicion(index, referredTo(connector.shape.kinds.map((one) => one.description)));
  for await (const item of connector.items()) {
    const address = index.addressOf(item);
    const kind = index.kindOf(address);
    if (!kind) continue;
    if (item.unavailable?.why === 'damaged') faults.push({ address, at: '', what: item.unavailable.detail });
    const { lost, leftOut, text } = exporter.portable(kind, item.value, item.name);
    if (kind.description.carried) {
      const value = JSON.parse(text) as Json;
      suspicion.look({ kind: kind.id, address }, value);
      suspicion.lookAtName({ kind: kind.id, address }, item.name);
      for (const { at, path } of pathsOnDisk(value)) onDisk.push({ address, at, what: path });
    }
    for (const { at, raw } of lost) faults.push({ address, at, what: `the id ${raw} refers to nothing` });
    for (const { at, why } of leftOut) faults.push({ address, at, what: why === 'damaged' ? 'a packed value was cut or altered' : why });
  }
  return { faults, onDisk, suspects: suspicion.suspects().filter(({ kind, form, name }) => form !== 'value' || !isNoReference(index.kinds.get(kind), name)) };
}

/** Kinds that references lead to by id, as the kinds say themselves. */
function referredTo(kinds: readonly KindDescription[]): string[] {
  const rules = kinds.flatMap((kind) => kind.references).filter((rule) => rule.by === 'id');
  return [...new Set(rules.flatMap((rule) => [...[rule.to ?? []].flat(), ...Object.values(rule.kindFrom?.map ?? {}).flat(), ...(rule.kindFrom?.else ?? []), ...(rule.kindFrom?.named ?? [])]))];
}

/** Does a rule say that what is called so is no reference? `name`: the last name, with the one above it where there is one. */
function isNoReference(kind: Kind | undefined, name: string): boolean {
  return kind?.references.some(({ none, fits }) => none && (fits?.wants(name) === true || fits?.wants(name.slice(name.lastIndexOf('.') + 1)) === true)) === true;
}
