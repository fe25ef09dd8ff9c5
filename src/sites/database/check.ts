import { pointer } from '../../core/address.ts';
import { groupBy, type Json } from '../../core/json.ts';
import { compileKinds, type KindDescription } from '../../core/kind.ts';
import { localId, SiteIndex } from '../../core/siteindex.ts';
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
  /** Numbers that are ids of items, under names that nothing describes as references. They would be carried as they are. */
  readonly suspects: readonly Suspect[];
}
/** One name under which most numbers are ids of items. */
export interface Suspect { readonly kind: string; readonly name: string; readonly places: number; readonly example: Place }

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
    ...await lookAt(connector, new Exporter(index), index),
  };
}

async function lookAt(connector: DatabaseConnector, exporter: Exporter, index: SiteIndex): Promise<Pick<LayoutCheck, 'faults' | 'suspects'>> {
  const faults: Place[] = [];
  const suspicion = new Suspicion(index, referredTo(connector.shape.kinds.map((one) => one.description)));
  for await (const item of connector.items()) {
    const address = index.addressOf(item);
    const kind = index.kindOf(address);
    if (!kind) continue;
    if (item.unavailable?.why === 'damaged') faults.push({ address, at: '', what: item.unavailable.detail });
    const { lost, leftOut, text } = exporter.portable(kind, item.value, item.name);
    if (kind.description.carried) { suspicion.look(kind.id, address, JSON.parse(text) as Json); suspicion.lookAtName(kind.id, address, item.name); }
    for (const { at, raw } of lost) faults.push({ address, at, what: `the id ${raw} refers to nothing` });
    for (const { at, why } of leftOut) faults.push({ address, at, what: why === 'damaged' ? 'a packed value was cut or altered' : why });
  }
  return { faults, suspects: suspicion.suspects() };
}

/** Kinds that references lead to by id, as the kinds say themselves. */
function referredTo(kinds: readonly KindDescription[]): string[] {
  const rules = kinds.flatMap((kind) => kind.references).filter((rule) => rule.by === 'id');
  return [...new Set(rules.flatMap((rule) => [...[rule.to ?? []].flat(), ...Object.values(rule.kindFrom?.map ?? {}).flat(), ...(rule.kindFrom?.else ?? [])]))];
}

/** Names that hold something else than ids, however often their numbers are ids by chance. */
const NO_ID = /order|size|width|height|count|seats|rows|columns|max|min|rank|priority|version|length|limit|number|position|quality|opacity|percent|weight|ratio|day|hour|minute|year|month|time|date|user|author/i;
/** Smaller numbers are too often something else. */
const SMALLEST = 10;
const MOSTLY = 0.8;
/** Longer texts are written for people. */
const LONGEST = 80;

function isNumber(value: Json): value is number | string { return (typeof value === 'number' || typeof value === 'string') && /^[1-9]\d*$/.test(String(value)); }

/** Collects numbers by kind and name, and how many of them are ids. */
class Suspicion {
  readonly #index: SiteIndex;
  readonly #kinds: readonly string[];
  readonly #seen = new Map<string, { all: number; ids: number; example: Place | undefined }>();

  constructor(index: SiteIndex, kinds: readonly string[]) {
    this.#index = index;
    this.#kinds = kinds;
  }

  look(kind: string, address: string, value: Json, way: readonly string[] = []): void {
    if (typeof value === 'object' && value !== null) {
      if (!Array.isArray(value) && ('@ref' in value || '@lost' in value)) return;
      // An ordered map is a list of pairs of name and value.
      const pairs = !Array.isArray(value) && Array.isArray(value['@ordered']) ? (value['@ordered'] as [string, Json][]) : Object.entries(value);
      for (const [name, child] of pairs) this.look(kind, address, child, name.startsWith('@') ? way : [...way, name]);
      return;
    }
    const name = [...way].reverse().find((step) => !/^\d+$/.test(step)) ?? '';
    if (typeof value === 'string' && value.length <= LONGEST) this.#lookInside({ kind, name }, address, way, value);
    if (!isNumber(value) || Number(value) < SMALLEST || NO_ID.test(name)) return;
    const entry = this.#seen.get(`${kind} ${name}`) ?? { all: 0, ids: 0, example: undefined };
    this.#seen.set(`${kind} ${name}`, entry);
    entry.all++;
    const to = this.#index.byId(this.#kinds, localId(value));
    if (to === undefined) return;
    entry.ids++;
    entry.example ??= { address, at: pointer(way), what: `${value} is the id of ${to}` };
  }

  /** A number in a short text, behind a word that the address of the item with this id has too: "page/45". */
  #lookInside({ kind, name }: { kind: string; name: string }, address: string, way: readonly string[], text: string): void {
    for (const [, word = '', digits = ''] of text.matchAll(/([a-z]{3,})[/:_#=|-](\d{2,})(?![\w.-])/gi)) {
      const to = this.#index.byId(this.#kinds, localId(digits));
      if (to?.toLowerCase().includes(word.toLowerCase().replace(/s$/, '')) === true) this.#note(`${kind} ${name}`, { address, at: pointer(way), what: `"${text}" holds ${digits}, the id of ${to}` });
    }
  }

  /** A number in a name that is the id of an item: the name would mean another one elsewhere. */
  lookAtName(kind: string, address: string, name: string): void {
    for (const [digits] of name.matchAll(/(?<![\w-]|\d)\d{2,}(?!\d)|(?<=_)\d{2,}(?=_|$)/g)) {
      const to = this.#index.byId(this.#kinds, localId(digits));
      if (to !== undefined && Number(digits) >= SMALLEST && to !== address) this.#note(`${kind} (in its name)`, { address, at: '', what: `its name holds ${digits}, the id of ${to}` });
    }
  }

  #note(key: string, example: Place): void {
    const entry = this.#seen.get(key) ?? { all: 0, ids: 0, example };
    this.#seen.set(key, { ...entry, all: entry.all + 1, ids: entry.ids + 1 });
  }

  suspects(): Suspect[] {
    return [...this.#seen].flatMap(([key, { all, ids, example }]): Suspect[] => {
      const [kind, name] = [key.slice(0, key.indexOf(' ')), key.slice(key.indexOf(' ') + 1)];
      return example && ids >= all * MOSTLY ? [{ kind, name, places: ids, example }] : [];
    }).sort((a, b) => b.places - a.places);
  }
}
