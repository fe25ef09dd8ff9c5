import { cellText, type Row } from '../cells.ts';
import type { Column } from '../engine.ts';
import { belongingLines, childOf, codecsBelow, conditions, createOf, inChild, inFields, LOOKED_AT, membersOf, ownedBy, ownerIds, ownIds, pointing, referencesBelow, strandedIn, withBelow, type Child, type Named } from './children.ts';
import { createdOf, goneOf, isTime, made, nestedOf, orderOf } from './columns.ts';
import { statusOf } from './guess.ts';
import { flags, type Leaf } from './leaves.ts';
import type { Naming } from './naming.ts';
import { leavesIn, packingsOf, wordsAt } from './packings.ts';
import { ownLists, type OwnList } from './ownlists.ts';
import { is, type DraftPlan, type Of } from './plan.ts';
import { distinct, isMade } from './samples.ts';
import { holdsMoments } from './traces.ts';
import { aliasOf, pairs, quotedPath, slug, word } from './words.ts';

interface Link { readonly member: string; readonly text: string; readonly to: string }

/** The kinds of a table of records: one, or one for each type. */
export function recordLines(plan: DraftPlan, one: Of<'records'>): string[] {
  const types = one.guess.type === undefined ? [undefined] : one.guess.types;
  return types.flatMap((type) => new RecordKind(plan, one, type).lines());
}

class RecordKind {
  readonly #plan: DraftPlan;
  readonly #one: Of<'records'>;
  readonly #type: string | undefined;
  readonly #rows: readonly Row[];
  /** The tables that columns of these rows point to. */
  readonly #points: ReadonlyMap<string, string>;
  readonly #naming: Naming;
  readonly #columns: readonly Column[];
  readonly #fields: readonly Named[];
  readonly #children: readonly Child[];
  /** With what belongs to these in turn. */
  readonly #below: readonly Child[];
  readonly #links: readonly Link[];
  readonly #listed: readonly OwnList[];

  constructor(plan: DraftPlan, one: Of<'records'>, type: string | undefined) {
    this.#plan = plan;
    this.#one = one;
    this.#type = type;
    ({ rows: this.#rows, points: this.#points, naming: this.#naming } = plan.sort(one, type));
    this.#columns = this.#ownColumns();
    this.#fields = this.#ownFields();
    this.#children = this.#ownChildren();
    this.#below = withBelow(this.#children);
    this.#links = this.#ownLinks();
    this.#listed = ownLists({ rows: this.#rows, columns: this.#columns, key: this.#key }, one.table.name, plan.all);
  }

  get #key(): string { return this.#one.table.key[0] ?? 'id'; }

  /** Of people who have accounts only what they are called. */
  #ownColumns(): Column[] {
    const { table, guess } = this.#one;
    const apart = new Set([...(this.#naming.keyed ? [] : table.key), ...(guess.name !== undefined && this.#naming.template?.includes('/') === true ? [] : [guess.name]), guess.type, statusOf(table, this.#rows)?.column, goneOf(table), ...nestedOf(table)]);
    return [...table.columns.values()].filter((column) => (guess.people ? column.name === guess.name || column.name === guess.title : !apart.has(column.name) && !isTime(column, this.#rows)));
  }

  /** What belongs to rows of several tables, and to rows of this one. */
  #shared(): { other: Of<'shared'>; where: Record<string, string>; rows: Row[] }[] {
    return this.#plan.own.filter(is('shared')).flatMap((other) => [...other.guess.words].filter(([, table]) => table === this.#one.table.name).map(([text]) => ({ other, where: { [other.guess.of]: word(text) }, rows: other.samples.filter((row) => cellText(row[other.guess.of]) === text) })));
  }

  #ownFields(): Named[] {
    const shared = this.#shared().flatMap(({ other, where, rows }): Named[] => (other.guess.field ? [{ one: other, member: this.#plan.alias(other.table.name), by: other.guess.by, where, rows, ...other.guess.field }] : []));
    return [...this.#plan.own.filter(is('fields')).filter((other) => other.guess.of === this.#one.table.name).map((other): Named => ({ one: other, member: this.#plan.alias(other.table.name), by: other.guess.by, where: {}, rows: other.samples, key: other.guess.key, value: other.guess.value })), ...shared];
  }

  #ownChildren(): Child[] {
    // What people have is theirs.
    if (this.#one.guess.people) return [];
    return [...ownedBy(this.#plan, this.#one.table.name, '$'), ...this.#shared().flatMap(({ other, where, rows }) => (other.guess.field ? [] : [childOf(this.#plan, { one: other, member: this.#plan.alias(other.table.name), by: other.guess.by, where, rows })]))];
  }

  /** Of two tables that are both drafted one has the links: rows that two items have would be changed under each other. */
  #ownLinks(): Link[] {
    return this.#plan.own.filter(is('links')).flatMap((one): Link[] => {
      const { table, guess } = one;
      const here = guess.ends.find((end) => end.to === this.#one.table.name);
      const there = guess.ends.find((end) => end !== here);
      if (!here || !there || this.#plan.hasLinks(one) !== this.#one.table.name) return [];
      const [name, order] = [this.#plan.alias(table.name), orderOf(table)];
      const link = (member: string, where: Readonly<Record<string, string>>): Link => ({ member, to: there.to, text: `{ ids: { from: ${name}${conditions(where)}, on: ${pairs({ [here.column]: word(this.#key) })}, value: ${word(there.column)}${order === undefined ? '' : `, order: [${word(order)}]`}${createOf(one, table.key.length === 1 ? table.key[0] : '')} } }` });
      const { role } = guess;
      return role ? role.words.map((text) => link(`${name}_${slug(text).replaceAll('-', '_')}`, { [role.column]: word(text) })) : [link(name, {})];
    });
  }

  lines(): string[] {
    if (this.#naming.byId !== true) return this.#described();
    return ['  # Ids are others on every site: named by them, these rows would be put over others. Say what names them, and take the signs away.', ...this.#described().map((line) => `  # ${line.slice(2)}`)];
  }

  #described(): string[] {
    const { table, guess } = this.#one;
    const [naming, status, nested] = [this.#naming, statusOf(table, this.#rows), nestedOf(table)];
    if (!naming.usable) return [`  # ${table.name} is not described: ${naming.note ?? ''}.`];
    const created = createdOf(table, this.#one.samples);
    const [codecs, references, create] = [this.#codecs(), this.#references(), made(table, this.#one.samples, this.#key, created)];
    const note = naming.note === undefined ? '' : `# ${naming.note}`;
    return [
      `  # ${this.#rows.length} of the rows looked at.`,
      ...(nested.length === 0 ? [] : [`  # ${nested.join(', ')}: the numbers of a nested set, which only the CMS counts anew. Say under "after" how: call: an address, or byHand: what a person has to do.`]),
      `  - id: ${this.#plan.site}/${this.#plan.kindOf(table.name, this.#type)}`, ...(guess.title === undefined ? [] : [`    titleFrom: $.${aliasOf(guess.title)}`]),
      ...this.#plan.likeLine, ...this.#called(), ...(status && status.draft.length > 0 ? ['    draftable: true'] : []),
      ...(guess.people ? ['    carried: false  # people with accounts are referred to, and each site has its own'] : []),
      '    rows:', `      from: ${this.#plan.alias(table.name)}`, ...(naming.joins.length === 0 ? [] : [`      joins: { ${naming.joins.join(', ')} }`]), ...(naming.labels === undefined ? [] : [`      labels: ${naming.labels}`]), ...this.#where(),
      `      ${[naming.template === undefined ? '' : `name: '${naming.template}'`, note].filter((text) => text !== '').join('  ')}`, ...(guess.title === undefined ? (naming.labels === undefined ? [] : ["      title: '{label}'"]) : [`      title: '{${guess.title}}'`]),
      ...(status ? [`      status: { column: ${word(status.column)}, published: [${status.published.map(word).join(', ')}], draft: [${status.draft.map(word).join(', ')}], kept: ${aliasOf(status.column)} }`] : []),
      ...(created === undefined ? [] : [`      created: ${word(created)}`]), ...(naming.tree === undefined ? [] : [`      parent: ${word(naming.tree.parent)}`, `      segment: '${naming.tree.segment}'`]), ...this.#secondId(), ...this.#value(), ...(create === undefined ? [] : [`      ${create}`]),
      ...belongingLines(this.#below, (table) => (this.#listed.some(({ of }) => of.table === table) ? this.#plan.kindsIn(table.name) : undefined)),
      ...(codecs.length > 0 ? [`    codecs: [${codecs.join(', ')}]`] : []), ...(references.length > 0 ? [`    references: [${references.join(', ')}]`] : []),
      ...this.#below.filter(({ one: { table }, rows }) => orderOf(table) === undefined && holdsMoments(table, rows)).map(({ one: { table } }) => `    # Rows of ${table.name} say when they were made: if people make them on each site, put the table under "leaves". An import takes away those that only the target has.`),
      ...this.#stays(),
    ];
  }

  #called(): string[] {
    const words = this.#plan.wordsFor(this.#one, this.#type);
    return words.length === 0 ? [] : [`    called: [${words.map(word).join(', ')}]`];
  }

  #where(): string[] {
    const gone = goneOf(this.#one.table);
    const where = { ...(this.#type === undefined ? {} : { [this.#one.guess.type ?? '']: word(this.#type) }), ...(gone === undefined ? {} : { [gone]: 'null' }) };
    return Object.keys(where).length === 0 ? [] : [`      where: ${pairs(where)}`];
  }

  #secondId(): string[] {
    const found = this.#one.guess.people ? undefined : this.#columns.find(({ name }) => name !== this.#key && !this.#points.has(name) && distinct(this.#rows, name) === this.#rows.length && isMade(this.#rows, name));
    return found ? [`      # ${found.name} is an id too, which a machine made: what refers to a row by it is not followed, and an item that is there already gets this one.`] : [];
  }

  #value(): string[] {
    const members = [
      ...this.#columns.map(({ name }) => `${aliasOf(name)}: ${word(name)}`),
      ...membersOf(this.#plan, this.#key, this.#fields, this.#children), ...this.#links.map(({ member, text }) => `${member}: ${text}`),
    ];
    return members.length === 0 ? ['      value: {}'] : ['      value:', ...members.map((text) => `        ${text}`)];
  }

  #codecs(): string[] {
    return [
      ...this.#one.guess.paths.map(({ column, sign }) => `{ path: ${quotedPath(`$.${aliasOf(column)}`)}, codec: list, separator: '${sign}' }`),
      ...packingsOf(this.#columns, this.#rows, '$', this.#plan.shown), ...wordsAt(this.#inColumns().filter(([path]) => path !== '$'), this.#plan.shown),
      ...codecsBelow(this.#plan, this.#fields, this.#below),
    ];
  }

  /** Where its rows, and those that belong to them, have its own id in what is packed in them. */
  #itself(): string[] {
    const kind = this.#plan.kindOf(this.#one.table.name, this.#type);
    return [...ownIds(this.#columns, this.#rows, this.#key, '$'), ...this.#below.flatMap(ownerIds)].map((path) => `{ path: ${quotedPath(path)}, loose: true, to: ${kind} }`);
  }

  /** Where its rows list what belongs to them: items of their own, or what lies in these. */
  #lists(): string[] {
    return this.#listed.flatMap(({ path, of: { table }, keys }) => (this.#children.some(({ one }) => one.table === table) || this.#plan.isDescribed(table.name) ? [`{ path: ${quotedPath(path)}, ${keys ? 'in: keys, ' : ''}loose: true, to: ${this.#plan.kindsIn(table.name)} }`] : []));
  }

  #references(): string[] {
    return [
      ...this.#one.guess.paths.map(({ column }) => `{ path: ${quotedPath(`$.${aliasOf(column)}[*]`)}, loose: true, to: ${this.#plan.kindOf(this.#one.table.name, this.#type)} }`),
      ...this.#lists(),
      ...this.#itself(),
      ...pointing(this.#plan, this.#columns, { points: this.#points, pairs: this.#type === undefined ? this.#one.pairs : [], samples: this.#rows }, '$'), ...referencesBelow(this.#plan, this.#below),
      ...this.#links.map(({ member, to }) => this.#plan.reference(`$.${member}[*]`, to)),
      ...this.#plan.referencesIn(this.#inColumns().filter(([path]) => path !== '$'), this.#plan.around(this.#one)), ...this.#fields.flatMap((named) => this.#plan.referencesIn(inFields(named), this.#plan.around(named.one))),
    ];
  }

  /** What does not travel. Child rows with ids of what nothing describes come with what they hold otherwise: in them a column that the site insists on would stand empty. */
  #stays(): string[] {
    const stranded = strandedIn(this.#plan, this.#columns, { points: this.#points }, '$');
    return [
      ...(stranded.length === 0 ? [] : [`    # ${stranded.join(', ')}: ids of rows that nothing here describes, so that each site keeps its own.`]),
      ...flags([...this.#inColumns(), ...this.#fields.flatMap(inFields), ...this.#below.flatMap(inChild)], '', stranded),
    ];
  }

  #inColumns(): Leaf[] { return this.#rows.slice(0, LOOKED_AT).flatMap((row) => this.#columns.flatMap(({ name }) => leavesIn(cellText(row[name]), ['$', aliasOf(name)]))); }
}
