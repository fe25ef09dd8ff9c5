import { bytesOfText, textOfBytes } from '../bytes.ts';
import type { CodecRule } from '../kind.ts';
import { Decoded, Entries, isPlainObject, type Node } from '../tree.ts';
import { readJson, writeJson } from './jsontext.ts';
import { literal } from '../wildcard.ts';
import { plainOf } from './plain.ts';
import { readSerialised, writeSerialised } from './serialised.ts';

/** Spellings of true and false, as `how` names them. */
const BOOLEANS: readonly string[] = ['1/0', 'yes/no', 'on/off', 'true/false', 'enabled/disabled', 'Yes/No', 'On/Off', 'TRUE/FALSE', 'y/n', 't/f', '1/', 'on/', 'yes/'];

/** A packed value that was cut or altered: its site cannot read it either. */
export const DAMAGED = Symbol('damaged');
type Open = (text: string, rule: CodecRule) => Node | typeof DAMAGED;

const OPEN: Readonly<Partial<Record<CodecRule['codec'], Open>>> = {
  json: (text, rule) => openJson(text, rule.codec === 'json' && rule.ordered),
  list: (text, rule) => (rule.codec === 'list' ? openList(text, rule.separator, rule.named !== undefined) : text),
  php: openSerialised,
  base64: (text, rule) => (rule.codec === 'base64' ? openBase64(text, rule.packed) : text),
  digits: (text) => (/^-?(0|[1-9]\d*)(\.\d*[1-9])?$/.test(text) && String(Number(text)) === text ? new Decoded('digits', Number(text)) : text),
  boolean: openBoolean,
};

/** Opens a packed value. What would not come back as it was stays as it is. */
export function decode(node: Node, rule: CodecRule): Node | typeof DAMAGED {
  if (rule.codec === 'ordered') return isPlainObject(node) ? new Entries(Object.entries(node), true) : node;
  return typeof node === 'string' ? OPEN[rule.codec]?.(node, rule) ?? node : node;
}

function openJson(text: string, ordered: boolean): Node {
  const reading = readJson(text, ordered);
  return reading ? new Decoded('json', reading.node, reading.how) : text;
}

/** "4,5,6" and "4, 5, 6"; an empty text stays a text. `numbers`: where the place was guessed from its name, only lists of numbers are lists, however they are written. */
function openList(text: string, separator: string, numbers: boolean): Node {
  if (text === '') return text;
  if (numbers) return openNumbers(text, separator);
  const how = text.includes(`${separator} `) ? `${separator} ` : separator;
  return new Decoded('list', text.split(how), how);
}

/** What people write beside numbers: spaces, quotation marks, and a minus before what is meant to be left out. */
const BESIDE = ['\t', '\r', '\n', ' ', '"', "'", '-'];

/** Where there is not the same between all of them, all that is between, before and behind them is kept. */
function openNumbers(text: string, separator: string): Node {
  if (!LEFT_OUT.test(text) && (!text.includes(separator) || !numbersParted(separator).test(text))) return text;
  const between = text.split(/\d+/);
  const [, how = ''] = between;
  const isEven = between.at(0) === '' && between.at(-1) === '' && between.slice(1, -1).every((one) => one === how);
  return new Decoded('list', text.match(/\d+/g) ?? [], isEven ? how : JSON.stringify(between));
}

/** The one that is meant to be left out. */
const LEFT_OUT = /^-[1-9]\d*$/;
const PARTED = new Map<string, RegExp>();

/** Numbers with a separator between them. Each sign can be read in one way only, so that no text takes long. */
function numbersParted(separator: string): RegExp {
  const known = PARTED.get(separator);
  if (known) return known;
  // Between numbers with nothing but spaces a line makes a range.
  const marks = separator === ' ' ? [] : BESIDE.filter((mark) => !separator.includes(mark));
  const beside = marks.length === 0 ? '' : `[${marks.join('')}]{0,8}`;
  const sign = `(?:${literal(separator)}${beside}){1,8}`;
  // One between two of them is a list of one: "|12|".
  const made = new RegExp(`^${beside}(?:(?:${sign})?\\d+(?:${beside}${sign}\\d+)+${beside}(?:${sign})?|${sign}\\d+${beside}${sign})$`);
  PARTED.set(separator, made);
  return made;
}

/** Puts a list together again. It can have more entries, or fewer, than it had. */
function writeList(entries: readonly string[], how: string): string {
  const between = how.startsWith('[') ? readBetween(how) : undefined;
  if (!between) return entries.join(how);
  const [before = '', first = ''] = between;
  return before + entries.map((entry, i) => entry + (i === entries.length - 1 ? between.at(-1) ?? '' : i + 2 < between.length ? between[i + 1] ?? '' : first)).join('');
}

function readBetween(how: string): string[] | undefined {
  const read = readJson(how, false)?.node;
  return Array.isArray(read) && read.length > 1 ? read.map(String) : undefined;
}

function openSerialised(text: string): Node | typeof DAMAGED {
  const reading = readSerialised(text);
  if (reading.is === 'damaged') return DAMAGED;
  return reading.is === 'value' ? new Decoded('php', reading.node) : text;
}

/** As it begins in base64: a serialised list or object, or JSON. */
const PACKED_BEGINNING = /^(?:YTo|Tzo|ey[I-L]|ew[o0k]|e30|W[wyz13])/;

/** `packed`: only where a packed value lies inside, which a guess may open without mistaking a word for base64. */
function openBase64(text: string, packed: boolean): Node {
  if (packed && !PACKED_BEGINNING.test(text)) return text;
  const inner = base64Text(text);
  if (inner === undefined || (packed && readJson(inner, true) === undefined && readSerialised(inner).is !== 'value')) return text;
  return new Decoded('base64', inner);
}

/** What lies inside a text in base64; undefined where it is none. */
export function base64Text(text: string): string | undefined {
  if (text.length % 4 !== 0 || text === '' || !/^[A-Za-z0-9+/]+={0,2}$/.test(text)) return undefined;
  const bytes = Buffer.from(text, 'base64');
  return bytes.toString('base64') === text ? textOfBytes(bytes) : undefined;
}

function openBoolean(text: string): Node {
  const how = BOOLEANS.find((pair) => pair.split('/').includes(text));
  return how === undefined ? text : new Decoded('boolean', how.split('/')[0] === text, how);
}

/** Packs again; everything in the body is local by now. */
export function encode({ codec, how }: Decoded, body: Node): string {
  switch (codec) {
    case 'list': return writeList((plainOf(body) as unknown[]).map(String), how);
    case 'php': return writeSerialised(body);
    case 'base64': return bytesOfText(String(plainOf(body))).toString('base64');
    case 'digits': return String(plainOf(body));
    case 'boolean': return how.split('/')[body === true ? 0 : 1] ?? '';
    case 'json': return writeJson(body, how);
  }
}
