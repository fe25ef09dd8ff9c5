import { sql } from 'kysely';
import semver from 'semver';
import { Facts } from '../../core/facts.ts';
import type { SeatFacts } from '../../core/seat.ts';
import { childOf } from '../../core/tree.ts';
import { parsePath, matches } from '../../core/path.ts';
import { cellText, type Row } from './cells.ts';
import { conditions } from './condition.ts';
import { Definitions } from './definitions.ts';
import type { Engine } from './engine.ts';
import type { Fact, Layout, Lookup } from './layout/schema.ts';
import { capturing, fill, type Filling } from './layout/template.ts';
import type { Shape } from './shape.ts';
import { unpacked } from './packed.ts';

export interface SiteFacts { readonly address?: string | undefined; readonly id: string; readonly label: string; readonly media: boolean; readonly ledger: boolean; readonly rights: readonly ('read' | 'write')[]; readonly notes: readonly string[]; /** The address of whom new rows belong to. */ readonly user?: string | undefined }

/** Asks a database what its layout says about the site. */
export class FactReader {
  readonly #engine: Engine;
  readonly #shape: Shape;

  constructor(engine: Engine, shape: Shape) {
    this.#engine = engine;
    this.#shape = shape;
  }

  async text(fact: Fact | undefined, filling: Filling = () => undefined): Promise<string> { return (await this.texts(fact, filling))[0] ?? ''; }

  /** All texts that a fact finds; of several ways the first that finds something. */
  async texts(fact: Fact | undefined, filling: Filling = () => undefined): Promise<string[]> {
    if (fact === undefined) return [];
    if (typeof fact === 'string') return [fill(fact, filling)];
    for (const lookup of [fact].flat()) {
      const found = await this.#lookUp(lookup, filling);
      if (found.length > 0) return found;
    }
    return [];
  }

  async #lookUp(lookup: Lookup, filling: Filling): Promise<string[]> { return (await this.#found(lookup, filling)).flatMap(({ texts }) => texts); }

  async #found(lookup: Lookup, filling: Filling): Promise<{ row: Row; texts: string[] }[]> {
    const table = this.#shape.table(lookup.from);
    const where = Object.fromEntries(Object.entries(lookup.where).map(([column, condition]) => [column, typeof condition === 'string' ? fill(condition, filling) : condition]));
    const rows = await this.#engine.rows(table, sql`where ${conditions(this.#engine, table, where)}`);
    return rows.map((row) => ({ row, texts: textsIn(cellText(row[lookup.value]), lookup, filling) }));
  }

  /** What rows say of the values that they define, by their names. */
  async definitions(rules: Layout['definitions']): Promise<ReadonlyMap<string, string>> {
    const found = new Definitions();
    for (const rule of rules) if (this.#shape.tables.has(rule.from)) found.add(rule, await this.#found(rule, () => undefined));
    return found.all;
  }

  async facts(own: SiteFacts, layout: Layout): Promise<Facts> {
    const { facts, media } = layout;
    const said = (await this.text(facts.address)).replace(/\/+$/, '');
    const address = own.address?.replace(/\/+$/, '') ?? said;
    const theme = await this.#theme(facts);
    const transactional = [...this.#shape.tables.values()].filter((table) => !table.transactional).map((table) => table.name);
    return Facts.parse({
      cms: { name: facts.cms?.name ?? layout.name, title: facts.cms?.title ?? layout.title, version: await this.text(facts.cms?.version) },
      site: { id: own.id, title: (await this.text(facts.title)) || own.label, address: address === '' ? 'http://localhost' : address, ...await this.#seat(facts, said, address) },
      extensions: await this.#extensions(layout), theme,
      limits: { requestBytes: 32_000_000, batchOperations: 1000, uploadBytes: media?.bytes ?? 64_000_000, uploadTypes: media?.types ?? [] },
      abilities: { drafts: true, lock: true, ledger: own.ledger, wantedIds: false, media: own.media, transaction: transactional.length === 0 }, rights: [...own.rights], user: own.user,
      notes: [
        ...own.notes, ...(transactional.length > 0 ? [`${transactional.join(', ')}: kept without transactions, so that an import that fails there is brought back row by row`] : []),
      ],
      byHand: layout.after.flatMap((one) => ('byHand' in one ? [one.byHand] : [])),
    });
  }

  /** Where the CMS lies. Where the site is said to be elsewhere than its database says, as that of a copy is, so is the CMS. */
  async #seat({ cms }: Layout['facts'], said: string, address: string): Promise<{ seat?: SeatFacts }> {
    const found = (await this.text(cms?.address)).replace(/\/+$/, '');
    if (!cms || !URL.canParse(found)) return {};
    return { seat: { address: said !== '' && (found === said || found.startsWith(`${said}/`)) ? address + found.slice(said.length) : found, paths: cms.paths } };
  }

  async #theme(facts: Layout['facts']) {
    const name = (await this.text(facts.theme?.name)) || 'none';
    const filling: Filling = (one) => (one === 'name' ? name : undefined);
    const parent = await this.text(facts.theme?.parent, filling);
    const about = async (one: string) => ({ name: one, title: (await this.text(facts.theme?.title, () => one)) || one, version: await this.text(facts.theme?.version, () => one) });
    return { ...await about(name), ...(parent !== '' && parent !== name ? { parent: await about(parent) } : {}) };
  }

  async #extensions(layout: Layout) {
    const found = new Map<string, { name: string; title: string; version: string; active: boolean }>();
    for (const rule of layout.facts.extensions) {
      const names = rule.each ? await this.texts(rule.each) : rule.name === undefined ? [] : [rule.name];
      for (const text of names) {
        const captures = rule.each ? rule.pattern.map((pattern) => capturing(pattern)(text)).find((one) => one !== undefined) ?? { name: text } : { name: text };
        const filling: Filling = (name) => (name === 'all' ? text : name === 'underscored' ? captures['name']?.replaceAll('-', '_') : captures[name]);
        const name = captures['name'] ?? text;
        const version = semver.coerce(await this.text(rule.version, filling))?.version ?? '';
        const before = found.get(name);
        const active = rule.active === undefined || !['', '0', 'no', 'off', 'false'].includes(await this.text(rule.active, filling));
        found.set(name, { name, title: (await this.text(rule.title, filling)) || before?.title || name, version: version || before?.version || '', active });
      }
    }
    return [...found.values()];
  }
}

/** What a lookup finds in a text: all of it, or what lies in it where it is packed. */
function textsIn(text: string, lookup: Lookup, filling: Filling): string[] {
  if (lookup.codec === undefined) return text === '' ? [] : [text];
  const root = unpacked(text, lookup.codec);
  const nodes = lookup.path === undefined ? [root] : matches(root, parsePath(fill(lookup.path, (name) => filling(name)?.replace(/[\\']/g, '\\$&')))).map((one) => one.node);
  return nodes.flatMap((node) => (typeof node === 'string' && node !== '' ? [node] : typeof node === 'number' ? [String(node)] : node === true ? ['1'] : typeof node === 'object' && node !== null ? [childOf(node, 'Version')].filter((one): one is string => typeof one === 'string') : []));
}
