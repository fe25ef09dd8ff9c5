import { cellText } from '../cells.ts';
import { isTime } from './columns.ts';
import { calledLines, everywhereText, namesText } from './everywhere.ts';
import type { Guess, TableGuess } from './guess.ts';
import type { KnownTables } from './points.ts';
import { heldLines, type Held } from './held.ts';
import type { Holder, NamedAfter } from './namedafter.ts';
import { optionLines } from './options.ts';
import { DraftPlan, is, type Of } from './plan.ts';
import { recordLines } from './records.ts';
import type { Suspect } from '../suspicion.ts';
import { pairs, word } from './words.ts';

/** A row of options that says what a site is. */
interface Fact { readonly one: Of<'options'>; readonly where: string; readonly quoted: boolean }
/** A layout that comes with Pochette and fits already: only what it does not describe is drafted. */
export interface Base { readonly name: string; /** Whose the kinds of the CMS are: the owner that every such site has. */ readonly owner: string; readonly prefix: string; readonly tables: KnownTables; /** Its words for these tables, and for its kinds. */ readonly aliases: ReadonlyMap<string, string>; readonly kinds: readonly string[]; /** The one for whatever nothing else describes: what it says of values holds for any. */ readonly like: string | undefined; /** Tables whose rows belong to rows that it describes. */ readonly held: readonly Held[]; /** Where it keeps values by their names, and those that are called after rows of other tables. */ readonly holder: Holder | undefined; readonly after: readonly NamedAfter[]; /** Numbers that are ids and that it does not describe, and the columns in which its kinds have their names. */ readonly suspects: readonly Suspect[]; readonly columns: ReadonlyMap<string, string> }

/** Writes a commented beginning of a layout: everything in it is a guess that a person has to look at. */
export function draftText(name: string, guesses: readonly TableGuess[], base?: Base): string {
  const draft = new Draft(guesses, base);
  const head = [
    '# A beginning, guessed from the tables and some of their rows. Look at every line: what is wrong here is wrong in every import.',
    '# docs/layouts.md describes the keys; "pochette layout check" shows what this finds and what nothing describes.',
    'format: 1', `name: ${word(name)}`, `title: ${word(name)}`,
  ];
  if (!base) return [...head, ...draft.recognise(), ...draft.tables(), ...draft.facts(name), ...draft.called(), ...kindLines(draft.kinds(), []), ''].join('\n');
  const kinds = draft.kinds(base.holder);
  return [
    ...head, `extends: ${base.name}`, `# The layout "${base.name}" fits this database: here is only what it does not describe. Options, fields and entries of extensions are items already;`,
    '# what an extension means by them can be said with a kind of its own, as docs/layouts.md shows.',
    ...(kinds.length === 0 ? [] : draft.tables()), ...draft.everywhere(base.suspects), ...kindLines(kinds, namesText(base.suspects, base.columns)), '',
  ].join('\n');
}

/** `perhaps`: comments. */
function kindLines(kinds: readonly string[], perhaps: readonly string[]): string[] {
  if (kinds.length > 0) return [kinds.some((line) => !line.startsWith('  #')) ? 'kinds:' : 'kinds: []', ...kinds, ...perhaps];
  return perhaps.length > 0 ? ['# Names that hold the id of an item: where one means it, take the signs away, so that the name is another one where the item has another id.', '# kinds:', ...perhaps] : ['kinds: []'];
}

class Draft {
  readonly #plan: DraftPlan;

  constructor(guesses: readonly TableGuess[], base?: Base) { this.#plan = new DraftPlan(guesses, base); }

  recognise(): string[] {
    const [first] = [...this.#plan.all].sort((a, b) => b.table.columns.size - a.table.columns.size);
    return first ? ['# A database is taken for one of this shape where it has this table with these columns.', 'recognise:', `  - { table: ${this.#plan.named(first.table.name)}, columns: [${[...first.table.columns.keys()].slice(0, 6).map(word).join(', ')}] }`] : [];
  }

  tables(): string[] {
    const traces = this.#plan.own.filter((one) => this.#isLeft(one));
    const found = Object.values(this.#found());
    const left = traces.length === 0 ? [] : ['# What visitors and machines leave is nobody\'s configuration, and what people of one site have. Take a table out of this list to describe it.', `leaves: [${traces.map((one) => this.#plan.named(one.table.name)).join(', ')}]`];
    return [...left, 'tables:', ...this.#plan.own.filter((one) => !this.#isLeft(one)).map((one) => {
      const volatile = [...one.table.columns.values()].filter((column) => isTime(column, one.samples) && one.guess.is === 'records').map((column) => column.name);
      const note = `  # ${one.rows} rows: ${explained(one.guess)}`;
      const key = one.guess.is === 'links' && one.table.key.length === 0 ? `, key: [${one.guess.ends.map((end) => word(end.column)).join(', ')}]` : '';
      const facts = found.flatMap((fact) => (fact?.one === one ? fact.where : []));
      const own = facts.length === 0 ? '' : `, ignore: [${facts.join(', ')}]`;
      return `  ${this.#plan.alias(one.table.name)}: { name: ${this.#plan.named(one.table.name)}${key}${own}${volatile.length > 0 ? `, volatile: [${volatile.map(word).join(', ')}]` : ''} }${note}${own === '' ? '' : '; what says what the site is called and where it is stays its own'}`;
    })];
  }

  /** What visitors and machines leave, and what people of one site have. */
  #isLeft(one: TableGuess): boolean { return one.guess.is === 'traces' || (one.guess.is === 'links' && one.guess.ends.some(({ to }) => this.#plan.arePeople(to))) || this.#plan.arePeoples(one); }

  /** The rows that say what the site is. */
  #found(): Record<'title' | 'address' | 'theme', Fact | undefined> {
    const lookup = (test: RegExp, value: RegExp): Fact | undefined => {
      for (const one of this.#plan.all.filter(is('options'))) {
        const row = one.samples.find((sample) => test.test(cellText(sample[one.guess.key])) && value.test(cellText(sample[one.guess.value]).replace(/^"/, '')));
        if (row) return { one, where: pairs(Object.fromEntries([one.guess.scope, one.guess.key].flatMap((column) => (column === undefined ? [] : [[column, word(cellText(row[column]))]])))), quoted: cellText(row[one.guess.value]).startsWith('"') };
      }
      return undefined;
    };
    return { title: lookup(/title|site.?name|blogname/i, /\S/), address: lookup(/home|address|url/i, /^https?:\/\//), theme: lookup(/^(stylesheet|theme)$/i, /^[\w.-]+"?$/) };
  }

  facts(name: string): string[] {
    // A text that is quoted is JSON.
    const [title, address, theme] = Object.values(this.#found()).map((fact) => fact && `{ from: ${this.#plan.alias(fact.one.table.name)}, where: ${fact.where}, value: ${fact.one.guess.value}${fact.quoted ? ', codec: json, path: $' : ''} }`);
    return [
      'facts:', `  cms: { name: ${this.#plan.site}, title: ${word(name)} }  # owns all kinds that no extension owns`,
      title === undefined ? '  # title: { from: …, where: { … }, value: … }' : `  title: ${title}`,
      address === undefined ? '  # address: where the address of the site is kept; or "address:" of the site in pochette.yaml' : `  address: ${address}`,
      ...(theme === undefined ? [] : [`  theme: { name: ${theme} }`]),
    ];
  }

  /** `holder`: where the layout keeps values by their names. */
  kinds(holder?: Holder): string[] {
    const own = this.#plan.own.filter(is('options')).flatMap((one) => optionLines(this.#plan, one));
    const after = holder === undefined ? [] : this.#plan.after.flatMap((one) => this.#afterLines(holder, one));
    const open = this.#plan.own.filter(is('links')).filter((one) => !this.#isLeft(one) && this.#plan.hasLinks(one) === undefined).map(({ table }) => `  # ${table.name} is not described: what it links are not items of their own.`);
    return [...own, ...this.#plan.records().flatMap((one) => recordLines(this.#plan, one)), ...heldLines(this.#plan, this.#plan.held), ...after, ...open];
  }

  /** A kind for values that are called after rows of a table. */
  #afterLines({ table, column, kind }: Holder, { text, table: of, example }: NamedAfter): string[] {
    return [
      `  # ${example} and its like are called after rows of ${this.#plan.alias(of)}.`,
      `  - id: ${this.#plan.site}/${this.#plan.kindOfOption(table, text.replace('{of}', ''))}`, `    like: ${kind}`,
      `    rows: { pattern: { column: ${column}, text: ${word(text)} }, ids: { of: ${this.#plan.kindsIn(of)} }, known: { least: 1 }, name: '{of}', title: ${word(text)} }`,
    ];
  }

  /** Ids by what things are called. */
  called(): string[] { return calledLines(this.#plan.worded()); }

  /** Ids of the kinds that are drafted, in what the layout describes already. */
  everywhere(suspects: readonly Suspect[]): string[] {
    const targets = this.#plan.records().filter((one) => this.#plan.isDescribed(one.table.name));
    return everywhereText(targets.map((one) => ({ ...one, alias: this.#plan.alias(one.table.name), kind: this.#plan.kindsIn(one.table.name) })), this.#plan, suspects);
  }
}

function explained(guess: Guess): string {
  switch (guess.is) {
    case 'options': return `values by name (${guess.key} → ${guess.value})`;
    case 'fields': return `fields of ${guess.of}`;
    case 'links': return `links between ${guess.ends.map((end) => end.to).join(' and ')}`;
    case 'records': return guess.type === undefined ? 'records' : `records of ${guess.types.length} types (${guess.type})`;
    case 'shared': return `belongs to rows of ${[...guess.words.values()].join(' and ')}, as ${guess.of} says`;
    case 'traces': return 'traces of visitors';
    case 'unclear': return 'unclear: nothing is described from it';
  }
}
