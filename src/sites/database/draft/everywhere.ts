import { isMeasure } from '../../../core/measures.ts';
import { familyOf } from '../../../core/translate/likename.ts';
import { cellText, type Row } from '../cells.ts';
import { packingOf, type TableGuess } from './guess.ts';
import { leavesOf } from './leaves.ts';
import { likeName } from './points.ts';
import type { Table } from '../engine.ts';
import type { Suspect } from '../suspicion.ts';
import { unpacked } from '../packed.ts';

/** A table whose rows are items, with the word for their kind. `alias`: the table's name without what all begin with. */
export interface Target { readonly table: Table; readonly alias: string; readonly kind: string; readonly samples: readonly Row[] }
interface Seen { readonly called: string; readonly id: string; readonly form: 'name' | 'key' | 'code' | 'data' }

/** Short codes with an id: the word, the attribute, the id. Members of JSON data with a number. */
const [CODE, DATA] = [/\[([a-z][\w-]*)\s(?:[^\]]*\s)?([\w-]*id)=["']?([1-9]\d*)/g, /"(\w+)":\s*"?([1-9]\d*)"?\s*[,}]/g];

/** Where rows of any table seem to hold ids of these tables, in words of a layout; and below that, as comments, where numbers are ids of what the layout describes already. */
export function everywhereText(targets: readonly Target[], guesses: readonly TableGuess[], suspects: readonly Suspect[]): string[] {
  const lines: Record<Section, Lines> = { references: { sure: [], perhaps: [] }, attributes: { sure: [], perhaps: [] }, comments: { sure: [], perhaps: [] }, patterns: { sure: [], perhaps: [] } };
  // What columns of these tables hold is said where they are described.
  const seen = guesses.flatMap((one) => { const isTarget = targets.some(({ table }) => table === one.table); return one.samples.flatMap((row) => mentions(one, row)).filter(({ form }) => !isTarget || (form !== 'name' && form !== 'key')); });
  for (const target of targets) {
    const ids = new Set(target.samples.map((row) => cellText(row[target.table.key[0] ?? ''])));
    const mine = seen.filter(({ called, id }) => ids.has(id) && likeName(called, target.table));
    const of = (form: Seen['form']): string[] => [...new Set(mine.filter((one) => one.form === form).map((one) => one.called))];
    const family = familyOf(target.alias);
    const isUnsure = (name: string): boolean => couldBeMeasure(name) && (family === undefined || familyOf(name) !== family);
    const rule = (names: readonly string[]): string[] => (names.length === 0 ? [] : [`- { path: $..*, loose: true, named: [${names.map(quoted).join(', ')}], to: ${target.kind} }`]);
    lines.references.sure.push(...rule(of('name').filter((name) => !isUnsure(name))));
    lines.references.perhaps.push(...rule(of('name').filter(isUnsure)));
    const keys = of('key').filter((name) => !isUnsure(name));
    lines.references.sure.push(...rule(keys.map((name) => `${name}_*`)));
    lines.patterns.sure.push(...keys.map((name) => `'${name}_{id}': ${target.kind}`));
    lines.comments.sure.push(...of('data').map((name) => `${quoted(name)}: ${target.kind}`));
    // A short code is named as the thing that it shows.
    lines.patterns.sure.push(...of('code').map((word) => `'[${word} … id={id}': ${target.kind}`));
  }
  for (const suspect of suspects) suspected(suspect, lines);
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

/** Speaks a name of how many or how much, and not of an id? */
function couldBeMeasure(name: string): boolean { return isMeasure(name) && !/(^|_)ids?$/i.test(name); }

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
    const own = to.length === 1 ? to[0] ?? '' : `[${to.join(', ')}]`;
    return [
      `  # - id: ${kind.slice(0, kind.indexOf('/'))}/${word}${times === 1 ? '' : `-${times}`}  # ${example.address}: ${example.what}`, `  #   like: ${kind}`,
      `  #   rows: { pattern: { column: ${column}, text: ${JSON.stringify(name.replace('{id}', '{of}'))} }, ids: { of: ${own} }, known: { least: 10 }, name: '{of}', title: ${JSON.stringify(name.replace('{id}', '{of}'))} }`,
    ];
  });
}

/** What a layout would say of numbers that are ids. */
function suspected({ name, form, to, example }: Suspect, lines: Record<Section, Lines>): void {
  const [kinds, note] = [to.length === 1 ? to[0] ?? '' : `[${to.join(', ')}]`, `  # ${example.address}#${example.at}: ${example.what}`.replace(/\s+/g, ' ')];
  if (form === 'value') lines.references.perhaps.push(`- { path: $..*, loose: true, named: [${quoted(name)}], to: ${kinds} } ${note}`);
  if (form === 'keys') lines.references.perhaps.push(`- { path: $..*, in: keys, loose: true, named: [${quoted(name)}], to: ${kinds} } ${note}`);
  if (form === 'attribute') lines.attributes.perhaps.push(`${quoted(name)}: ${kinds} ${note}`);
  if (form === 'key') lines.patterns.perhaps.push(`${JSON.stringify(name)}: ${kinds} ${note}`);
  if (form === 'code') lines.patterns.perhaps.push(`'[* … ${name}={id}': ${kinds} ${note}`);
  const word = form === 'word' ? /^"(.*?)\d+"/.exec(example.what)?.[1] : undefined;
  if (word !== undefined) lines.patterns.perhaps.push(`${JSON.stringify(`${word}{id}`)}: ${kinds} ${note}`);
}

/** Numbers in a row, with what they are called. */
function mentions({ guess }: TableGuess, row: Row): Seen[] {
  const key = guess.is === 'options' || guess.is === 'fields' ? cellText(row[guess.key]) : undefined;
  return Object.entries(row).flatMap(([column, cell]): Seen[] => {
    const text = cellText(cell);
    const packing = packingOf([text]);
    if (packing === 'php' || packing === 'json') return leavesOf(unpacked(text, packing), ['$', key ?? column]).map(([path, last, id]): Seen => ({ called: /^\[|^\*/.test(last) ? /[\w-]+$/.exec(path)?.[0] ?? last : last, id, form: 'name' }));
    const codes = [...text.matchAll(CODE)].map(([, word = '', , id = '']): Seen => ({ called: word, id, form: 'code' }));
    const data = text.includes('<!--') ? [...text.matchAll(DATA)].map(([, name = '', id = '']): Seen => ({ called: name, id, form: 'data' })) : [];
    return [...codes, ...data, ...(key !== undefined && /^[1-9]\d*$/.test(text) ? [{ called: key, id: text, form: 'name' as const }, ...inName(guess, key, text)] : [])];
  });
}

/** A field whose name ends with the id that it holds. */
function inName(guess: TableGuess['guess'], key: string, id: string): Seen[] {
  return guess.is === 'fields' && key.endsWith(`_${id}`) ? [{ called: key.slice(0, -id.length - 1), id, form: 'key' }] : [];
}

function quoted(name: string): string { return /^[A-Za-z_]\w*$/.test(name) ? name : JSON.stringify(name); }
