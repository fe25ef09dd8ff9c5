import { isMeasure } from '../../../core/measures.ts';
import { singularOf } from '../../../core/words.ts';
import { inEnglish } from './tongues.ts';
import { childrenOf, unwrap, type Node } from '../../../core/tree.ts';
import { cellText, type Row } from '../cells.ts';
import type { TableGuess } from './guess.ts';
import { leavesOf } from './leaves.ts';
import { likeName } from './points.ts';
import { dataIn } from './samples.ts';
import { commonPrefix } from './words.ts';

/**
 * A number in a row, and what it is called. `name`: a value under a name, `many`: one of several in a list; `key`: a field whose name ends with it; `keys`: a member of a map of nothing but numbers, `each`: its value there;
 * `member`: the name of a member ends with it; `sort`: a value beside a word for its sort; `code`: in a short code, `given`: right behind its word, `argument`: the same under a name of its own, `arguments`: several there; `attribute`: of a tag; `data`: JSON in a comment, `comment`: the `id` there, of what the comment is called. Of an argument `code` is the word of its short code, of a comment its whole name. `within`: the name of the value that it lies in.
 */
export interface Mention { readonly called: string; readonly id: string; readonly form: 'name' | 'many' | 'key' | 'keys' | 'each' | 'member' | 'sort' | 'code' | 'argument' | 'arguments' | 'attribute' | 'data' | 'comment' | 'given'; readonly code?: string; readonly within?: string }

/** A short code that is its word and an id. */
const GIVEN = /\[([a-z][\w-]*)=["']?([1-9]\d*)["']?[\s\]]/g;
/** Short codes, and what is given to them. Attributes of tags. Members of JSON data with a number. */
const [CODE, ARGUMENT, ATTRIBUTE, DATA, COMMENT] = [/\[([a-z][\w-]*)(\s[^\]]*)\]/g, /\s([a-z][\w-]*)=["']?([1-9]\d*(?:\s?,\s?[1-9]\d*)*)(?=["'\s]|$)/g, /\sdata-([a-z][\w-]*)=["']([1-9]\d*)["']/g, /"(\w+)":\s*"?([1-9]\d*)"?\s*[,}]/g, /<!--\s+((?:[\w-]+[:/])*([a-z][\w-]*))\s+\{[^{}]*"id":\s*"?([1-9]\d*)"?\s*[,}]/g];
/** Members that say of what sort the value beside them is, and what that is called. */
export const [SAYING, HOLDING] = [['type', 'param', 'kind', 'object_type', 'field', 'subject'], ['value', 'values', 'id', 'ids', 'item', 'items']] as const;

const COMPARED = ['field', 'subject'];

/** Speaks a name of how many or how much, and not of an id? */
export function couldBeMeasure(name: string): boolean { return (isMeasure(name) || isSwitch(name)) && !/(^|_)ids?$/.test(inEnglish(name)); }
/** What is shown, hidden or allowed is named by its id, or only that it is: by a 1. */
export function couldBeOn(name: string, values: readonly string[]): boolean { return (isSwitch(name) || /^_?(?:show|hide|display)[sn]?_/.test(inEnglish(name))) && values.every((value) => value === '1'); }
/** Speaks a name of something that is on or off? */
export function isSwitch(name: string): boolean { return SWITCHES.test(inEnglish(name)); }
const SWITCHES = /^_?(?:require|enable|disable|allow|use|has|is|can|with|without|force|send|notify)[sd]?_/;

/** Does any value mean rows of a table by their ids? Then they are something by themselves. */
export function isMentioned({ table, guess, samples }: TableGuess, all: readonly TableGuess[]): boolean {
  const ids = new Set(table.key.length === 1 && guess.is === 'records' ? samples.map((row) => cellText(row[table.key[0] ?? ''])) : []);
  // What is only called "extra" is one of mx_extras, and not of mx_tour_extras.
  const shorter = all.filter((other) => other.table !== table && other.table.name.length < table.name.length);
  const isOfShorter = (called: string, id: string): boolean => shorter.some((other) => likeName(called, other.table) && other.guess.is === 'records' && other.table.key.length === 1 && other.samples.some((row) => cellText(row[other.table.key[0] ?? '']) === id) && !called.includes(singularOf(inEnglish(table.name).slice(commonPrefix([table.name, other.table.name]).length))));
  const means = (called: string, id: string): boolean => likeName(called, table) && !isOfShorter(called, id);
  return ids.size > 0 && all.some(({ mentions }) => mentions.some(({ called, id }) => ids.has(id) && !couldBeMeasure(called) && means(called.replaceAll('-', '_'), id)));
}

export function mentionsIn({ guess }: Pick<TableGuess, 'guess'>, row: Row): Mention[] {
  const key = guess.is === 'options' || guess.is === 'fields' ? cellText(row[guess.key]) : undefined;
  return Object.entries(row).flatMap(([column, cell]): Mention[] => {
    const text = cellText(cell);
    const node = dataIn(text);
    if (node !== undefined) return [...inValues(node, key ?? column), ...inMaps(node, key ?? column)].map((one) => ({ ...one, within: key ?? column }));
    const codes = [...[...text.matchAll(CODE)].flatMap(([, word = '', given = '']) => inCode(word, given)), ...[...text.matchAll(GIVEN)].map(([, called = '', id = '']): Mention => ({ called, id, form: 'given' }))];
    const attributes = [...text.matchAll(ATTRIBUTE)].map(([, name = '', id = '']): Mention => ({ called: name, id, form: 'attribute' }));
    const data = text.includes('<!--') ? [...text.matchAll(DATA)].map(([, name = '', id = '']): Mention => ({ called: name, id, form: 'data' })) : [];
    const comments = text.includes('<!--') ? [...text.matchAll(COMMENT)].map(([, code = '', called = '', id = '']): Mention => ({ called, id, form: 'comment', code })) : [];
    return [...codes, ...attributes, ...data, ...comments, ...(key === undefined ? [] : [...inText(key, text), ...inName(guess, key, text)])];
  });
}

function inValues(node: Node, whole: string): Mention[] {
  return leavesOf(node, ['$', whole]).flatMap(([path, last, id]): Mention[] => (/^\[|^\*/.test(last) ? [{ called: /[\w-]+$/.exec(path)?.[0] ?? last, id, form: last.startsWith('[') ? 'many' : 'name' }] : inText(last, id)));
}

/** A number, or several in one text. */
function inText(called: string, text: string): Mention[] {
  const ids = idsIn(text);
  return ids.map((id): Mention => ({ called, id, form: ids.length > 1 ? 'many' : 'name' }));
}
function idsIn(text: string): string[] { return /^[1-9]\d*(?:\s?,\s?[1-9]\d*)*$/.test(text) ? text.split(/\s?,\s?/) : []; }

/** What is said by the names of members, and by what stands beside a value. */
function inMaps(node: Node, called: string): Mention[] {
  const inner = unwrap(node);
  const members = childrenOf(inner);
  // An entry of a list is one of what the list is called after, and no map of several.
  const below = members.flatMap(([name, child]) => inMaps(child, typeof name === 'number' ? singularOf(called) : name));
  if (Array.isArray(inner) || members.length === 0) return below;
  const names = members.map(([name]) => String(name));
  if (names.every((name) => /^[1-9]\d*$/.test(name))) {
    const each = members.flatMap(([, child]): Mention[] => { const value = unwrap(child); return typeof value === 'number' || typeof value === 'string' ? [{ called, id: String(value), form: 'each' }] : []; });
    return [...names.map((id): Mention => ({ called, id, form: 'keys' })), ...each, ...below];
  }
  // One for each of something that is said by a word, under a name for several.
  const values = members.map(([, child]) => unwrap(child)).map((value) => (typeof value === 'number' || typeof value === 'string' ? String(value) : ''));
  const eachWord = singularOf(called) !== called && values.every((value) => /^[1-9]\d*$/.test(value)) ? values.map((id): Mention => ({ called, id, form: 'each' })) : [];
  const ended = names.flatMap((name): Mention[] => { const [, word = '', id] = /^([a-z]\w*?)[_-]([1-9]\d*)$/i.exec(name) ?? []; return id === undefined ? [] : [{ called: word, id, form: 'member' }]; });
  return [...ended, ...eachWord, ...besideSort(members), ...below];
}

function besideSort(members: readonly (readonly [string | number, Node])[]): Mention[] {
  const there = new Map(members.map(([name, child]) => [String(name), unwrap(child)]));
  const word = SAYING.map((name) => there.get(name)).find((said) => typeof said === 'string' && said !== '');
  // A field that is called after several is how many there are.
  if (typeof word !== 'string' || (COMPARED.some((name) => there.get(name) === word) && singularOf(word) !== word)) return [];
  return HOLDING.flatMap((name) => [there.get(name)].flat()).flatMap((value): Mention[] => (typeof value === 'number' || typeof value === 'string' ? [{ called: word, id: String(value), form: 'sort' }] : []));
}

/** A short code is named as the thing that it shows, whose id it has; what else it is given is called as what it is. */
function inCode(code: string, given: string): Mention[] {
  return [...given.matchAll(ARGUMENT)].flatMap(([, name = '', text = '']): Mention[] => {
    const ids = idsIn(text);
    const itself = /id$/i.test(name) ? ids.map((id): Mention => ({ called: code, id, form: 'code' })) : [];
    return [...itself, ...(/^ids?$/i.test(name) ? [] : ids.map((id): Mention => ({ called: name, id, form: ids.length > 1 ? 'arguments' : 'argument', code })))];
  });
}

/** A field whose name ends with the id that it holds. */
function inName(guess: TableGuess['guess'], key: string, id: string): Mention[] {
  return guess.is === 'fields' && /^[1-9]\d*$/.test(id) && key.endsWith(`_${id}`) ? [{ called: key.slice(0, -id.length - 1), id, form: 'key' }] : [];
}
