import { familyOf } from '../../../core/translate/likename.ts';
import { groupBy } from '../../../core/json.ts';
import { singularOf, uncamelled } from '../../../core/words.ts';
import { inEnglish } from './tongues.ts';
import { cellText, type Row } from '../cells.ts';
import { couldBeMeasure, couldBeOn, HOLDING, SAYING, type Mention } from './mentions.ts';
import type { DraftPlan, Whole } from './plan.ts';
import { isRowOf, likeName } from './points.ts';
import { listed, oneOrList } from './words.ts';
import type { Table } from '../engine.ts';
import type { Suspect } from '../suspicion.ts';

/** A table whose rows are items, with the word for their kind. `alias`: the table's name without what all begin with. */
export interface Target { readonly table: Table; readonly alias: string; readonly kind: string; readonly samples: readonly Row[] }
/** Values by their places: what the kind of a table says of its own. */
const SAID_THERE: ReadonlySet<Mention['form']> = new Set(['name', 'many', 'key']);

/** Where rows of any table seem to hold ids of these tables, in words of a layout; and below that, as comments, where numbers are ids of what the layout describes already. */
export function everywhereText(targets: readonly Target[], plan: DraftPlan, suspects: readonly Suspect[]): string[] {
  const worded = plan.worded();
  const lines: Record<Section, Lines> = { references: { sure: [], perhaps: [] }, attributes: { sure: [], perhaps: [] }, comments: { sure: [], perhaps: [] }, patterns: { sure: [], perhaps: [] } };
  // What columns of these tables hold is said where they are described.
  const seen = plan.all.flatMap((one) => { const isTarget = targets.some(({ table }) => table === one.table); return one.mentions.filter(({ form }) => !isTarget || !SAID_THERE.has(form)); });
  const byName = new NamedRules();
  for (const target of targets) mentioned(target, plan, seen, { lines, byName });
  for (const whole of plan.wholes()) named(whole, { lines, byName });
  lines.references.sure.unshift(...byName.lines());
  for (const suspect of suspects) suspected(suspect, lines);
  if (worded.length > 0) lines.references.sure.push(...byWords(`[${worded.join(', ')}]`, `[${worded.join(', ')}]`, 'least: 2, '));
  say(lines.patterns, worded.length === 0 ? [] : WORD_AND_ID.map((pattern) => `'${pattern}'`), `[${worded.join(', ')}]`);
  const sections = (Object.entries(lines) as [Section, Lines][]).filter(([, { sure, perhaps }]) => sure.length + perhaps.length > 0);
  if (sections.length === 0) return [];
  const open = sections.some(([, { sure }]) => sure.length > 0);
  return [
    ...(open ? ['# Where ids of these tables stand in what the layout describes already: look whether any of these names means something else somewhere.'] : []),
    ...(sections.some(([, { perhaps }]) => perhaps.length > 0) ? ['# Behind "#" are numbers that are ids of items, under names that nothing describes: without a line they are carried as they are. Take the sign away where one means an item.'] : []),
    `${open ? '' : '# '}everywhere:`,
    ...sections.flatMap(([name, { sure, perhaps }]) => [`  ${sure.length > 0 ? '' : '# '}${name}:`, ...sure.map((line) => `    ${line}`), ...[...new Set(perhaps)].map((line) => `    # ${line}`)]),
  ];
}

/** Where ids of these kinds stand by what things of them are called. */
export function calledLines(kinds: readonly string[]): string[] {
  if (kinds.length === 0) return [];
  return [
    '# Ids behind, beside and under the words that things are called ("called" of the kinds), wherever they stand.', 'everywhere:', '  references:',
    ...byWords(`&called [${kinds.join(', ')}]`, '*called').map((line) => `    ${line}`),
    '  alike: *called', '  patterns:', `    { ${[...WORD_AND_ID, '[{word} {id}', '[{word} … id={id}', '{{word} {id}'].map((pattern) => `'${pattern}': *called`).join(', ')} }`,
  ];
}

/** Ids by the whole of what things are called, which no number is too small for: "rate_id" and "hb_rate", but not "rate". */
function named({ kind, one, many }: Whole, { lines, byName }: Said): void {
  const last = one.replace(/^.*[_-]/, '');
  const list = (names: readonly string[]): string[] => names.flatMap((name) => [name, `*_${name}`]);
  const [ofOne, ofMany] = one === last ? [[], []] : [[one], [many]];
  byName.add(kind, list([`${last}_id`, `${last}_ids`, ...ofOne, ...ofMany]));
  byName.add(kind, list([`by_${last}`, `per_${last}`, `${last}_ids`, ...ofMany]), IN_KEYS);
  say(lines.patterns, [`'[${one} {id}'`, `'[${one} … id={id}'`, `'[* … ${last}_id={id}'`, `'[* … ${last}_ids={ids}'`], kind);
  // Data of texts is called as often with capitals.
  say(lines.comments, [`${last}_id`, `${last}_ids`, `${last}Id`, `${last}Ids`, `'*_${last}_id'`, `'*_${last}_ids'`], kind);
}

/** An id behind a word in one text. */
const WORD_AND_ID = ['{word}:{id}', '{word}|{id}', '{word}/{id}', '{word}={id}', '{word}-{id>9}', '{word}_{id>9}'];

/** References by words: where a text beside says the thing, under a name that ends like a word for it, as names of members, and beside one. `again`: the same kinds, as they are said once more. */
function byWords(kinds: string, again: string, how = ''): string[] {
  return [
    // Beside a title is often a one that says that something is on.
    `- { path: $..*, loose: true, least: 2, told: true, to: ${kinds}, named: ['*', '!~0'] }`, `- { path: $..*, in: keys, loose: true, told: true, to: ${again} }`,
    `- { path: $..*, loose: true, ${how}alike: true, to: ${again} }`, `- { path: $..*, in: keys, loose: true, ${how}alike: true, to: ${again} }`,
    `- { path: $..*, loose: true, ${how}named: [${HOLDERS.join(', ')}], kindFrom: { field: '*', map: {}, named: ${again} } }`,
    // Of what a word beside it says, no id is too small.
    ...(how === '' ? [] : [`- { path: $..*, loose: true, named: [${OBJECTS.join(', ')}], kindFrom: { field: [${SAYING.join(', ')}], map: {}, named: ${again} } }`]),
    // "id" beside a value is that of a field.
    `- { path: $..id, loose: true, ${how}without: [value, default, required, placeholder, choices], kindFrom: { field: '*', map: {}, named: ${again} } }`,
  ];
}
const OBJECTS = ['target_id', 'object_id', 'entity_id', 'item_id'];
const HOLDERS = [...HOLDING.filter((name) => name !== 'id'), 'target', 'object', ...OBJECTS, 'in', 'not_in', 'include', 'exclude'];

/** What a layout says of the ids of one table. */
function mentioned(target: Target, plan: DraftPlan, seen: readonly Mention[], { lines, byName }: Said): void {
  const { kind, table, alias } = target;
  const ids = new Set(target.samples.map((row) => cellText(row[table.key[0] ?? ''])));
  // The word of a short code may have what all names of an extension begin with before it, and nothing between: "lxboard".
  const family = familyOf(uncamelled(alias));
  const last = singularOf(alias.replace(/^.*[_-]/, ''));
  const mine = seen.filter(({ called, id, form }) => ids.has(id) && (likeName(called.replaceAll('-', '_'), table) || ((form === 'code' || form === 'given') && (last.length > 3 ? called.endsWith(last) : called === `${family ?? ''}${last}`))));
  const of = (...forms: Mention['form'][]): string[] => [...new Set(mine.filter(({ form }) => forms.includes(form)).map(({ called }) => called))];
  const isOwn = (name: string): boolean => family !== undefined && (familyOf(name) === family || mine.some(({ called, within, code }) => called === name && familyOf(within ?? code ?? '') === family));
  // What the layout has a kind for is meant by its word, unless the name is one of the extension's own.
  const isUnsure = (name: string): boolean => (couldBeMeasure(name) || plan.isTaken(inEnglish(name).replace(/_ids?$/, '').replace(/^.*_/, ''))) && !isOwn(name);
  const several = (form: Mention['form']): string[] => speaking(seen.filter((one) => one.form === form), ids, alias);
  const lists = several('many');
  const names = of('name', 'many').filter((name) => !couldBeOn(name, seen.filter(({ called }) => called === name).map(({ id }) => id)));
  byName.add(kind, [...names.filter((name) => !isUnsure(name)), ...lists]);
  const unsure = names.filter((name) => isUnsure(name) && !lists.includes(name));
  if (unsure.length > 0) lines.references.perhaps.push(ruleOf('', unsure, kind));
  byName.add(kind, several('keys'), IN_KEYS);
  byName.add(kind, eachOf(seen.filter(({ form }) => form === 'each'), ids, table).map((name) => `${name}.*`));
  const sorts = of('sort');
  if (sorts.length > 0) lines.references.sure.push(`- { path: $..*, loose: true, named: [${HOLDING.join(', ')}], kindFrom: { field: [${SAYING.join(', ')}], map: { ${sorts.map((word) => `${quoted(word)}: ${kind}`).join(', ')} } } }`);
  const keys = of('key').filter((name) => !isUnsure(name));
  byName.add(kind, keys.map((name) => `${name}_*`));
  const given = mine.flatMap(({ form, called, code }) => ((form === 'argument' || form === 'arguments') && !isUnsure(called) ? [`'[${code ?? ''} … ${called}={${form === 'argument' ? 'id' : 'ids'}}'`] : []));
  say(lines.patterns, [...[...keys, ...of('member')].map((name) => `'${name}_{id}'`), ...of('code').map((word) => `'[${word} … id={id}'`), ...of('given').map((word) => `'[${word}={id}'`), ...given], kind);
  say(lines.comments, [...of('data').map(quoted), ...mine.flatMap(({ form, code }) => (form === 'comment' ? [`'${code ?? ''}#id'`] : []))], kind);
  say(lines.attributes, of('attribute').map((name) => quoted(`data-${name}`)), kind);
}

/** What is said so far, and by name. */
interface Said { readonly lines: Record<Section, Lines>; readonly byName: NamedRules }
/** How a rule for the names of members begins. */
const IN_KEYS = 'in: keys, ';

function ruleOf(how: string, names: readonly string[], kinds: string): string {
  return `- { path: $..*, ${how}loose: true, named: [${names.map(quoted).join(', ')}], to: ${kinds} }`;
}

/** Rules by names. What is called alike in two extensions means the one or the other: there is one rule with the kinds of both. */
class NamedRules {
  readonly #kinds = new Map<string, Map<string, Set<string>>>();

  add(kind: string, names: readonly string[], how = ''): void {
    const all = this.#kinds.get(how) ?? new Map<string, Set<string>>();
    for (const name of names) all.set(name, new Set([...all.get(name) ?? [], ...listed(kind)]));
    this.#kinds.set(how, all);
  }

  lines(): string[] {
    return [...this.#kinds].flatMap(([how, all]) => [...groupBy(all, ([, kinds]) => oneOrList(kinds))].map(([kinds, same]) => ruleOf(how, same.map(([name]) => name), kinds)));
  }
}

/** A line for each of these keys. One that is there already for another table, which is called alike, means its kinds first. */
function say({ sure }: Lines, keys: readonly string[], kind: string): void {
  for (const key of new Set(keys)) {
    const at = sure.findIndex((line) => line.startsWith(`${key}: `));
    if (at < 0) sure.push(`${key}: ${kind}`);
    else {
      sure[at] = `${key}: ${oneOrList(new Set([sure[at]?.slice(key.length + 2) ?? '', kind].flatMap(listed)))}`;
    }
  }
}

/** Names of lists and of maps with a word for the table anywhere in them, of nothing but its ids: of several, or of one in a list that is called after many. */
function speaking(seen: readonly Mention[], ids: ReadonlySet<string>, alias: string): string[] {
  const wordsFor = (name: string): string[] => name.split(/[_-]/).filter((part) => isRowOf(part, alias));
  return ofOnly(ids, seen.filter(({ called }) => wordsFor(called).length > 0)).flatMap(([name, same]) => (new Set(same.map(({ id }) => id)).size > 1 || (same.every(({ form }) => form === 'many') && wordsFor(name).some((word) => word.endsWith('s'))) ? [name] : []));
}

/** Names of maps that have an id of the table for each of something else: "board_by_page", or "boards" alone. */
function eachOf(seen: readonly Mention[], ids: ReadonlySet<string>, table: Table): string[] {
  const says = (name: string): boolean => {
    const plain = name.replaceAll('-', '_');
    const [, word] = /^(.+?)_(?:for|by|per)_/.exec(plain) ?? [];
    return word === undefined ? isRowOf(plain.replace(/^.*_/, ''), table.name) : likeName(word, table);
  };
  return ofOnly(ids, seen.filter(({ called }) => says(called))).map(([name]) => name);
}

/** Names under which nothing but such ids stand. */
function ofOnly(ids: ReadonlySet<string>, seen: readonly Mention[]): [string, Mention[]][] { return [...groupBy(seen, ({ called }) => called)].filter(([, same]) => same.every(({ id }) => ids.has(id))); }

type Section = 'references' | 'attributes' | 'comments' | 'patterns';
interface Lines { readonly sure: string[]; readonly perhaps: string[] }

/** Kinds of items whose names hold ids, as comments: an option `skin_53` is the skin of what has the id 53. `columns`: where kinds have their names. */
export function namesText(suspects: readonly Suspect[], columns: ReadonlyMap<string, string>): string[] {
  const taken = new Map<string, number>();
  return suspects.flatMap(({ form, name, kind, to, example }) => {
    const column = columns.get(kind);
    if (form !== 'name' || column === undefined) return [];
    const word = name.replace(/[^a-z0-9]*\{id\}[^a-z0-9]*/gi, '-').toLowerCase().replace(/[^a-z0-9]+/g, '-').replace(/^-|-$/g, '') || 'named';
    const times = (taken.get(word) ?? 0) + 1;
    taken.set(word, times);
    const own = oneOrList(to);
    return [
      `  # - id: ${kind.slice(0, kind.indexOf('/'))}/${word}${times === 1 ? '' : `-${times}`}  # ${example.address}: ${example.what}`, `  #   like: ${kind}`,
      `  #   rows: { pattern: { column: ${column}, text: ${JSON.stringify(name.replace('{id}', '{of}'))} }, ids: { of: ${own} }, known: { least: 10 }, name: '{of}', title: ${JSON.stringify(name.replace('{id}', '{of}'))} }`,
    ];
  });
}

/** What a layout would say of numbers that are ids. */
function suspected({ name, form, to, example }: Suspect, lines: Record<Section, Lines>): void {
  const [kinds, note] = [oneOrList(to), `  # ${example.address}#${example.at}: ${example.what}`.replace(/\s+/g, ' ')];
  if (form === 'value') lines.references.perhaps.push(`${ruleOf('', [name], kinds)} ${note}`);
  if (form === 'keys') lines.references.perhaps.push(`${ruleOf(IN_KEYS, [name], kinds)} ${note}`);
  if (form === 'attribute') lines.attributes.perhaps.push(`${quoted(name)}: ${kinds} ${note}`);
  if (form === 'key') lines.patterns.perhaps.push(`${JSON.stringify(name)}: ${kinds} ${note}`);
  if (form === 'code') lines.patterns.perhaps.push(`'[* … ${name}={id}': ${kinds} ${note}`);
  const word = form === 'word' ? /^"(.*?)\d+"/.exec(example.what)?.[1] : undefined;
  if (word !== undefined) lines.patterns.perhaps.push(`${JSON.stringify(`${word}{id}`)}: ${kinds} ${note}`);
}

function quoted(name: string): string { return /^[A-Za-z_]\w*$/.test(name) ? name : JSON.stringify(name); }
