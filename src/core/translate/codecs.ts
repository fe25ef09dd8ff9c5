import { bytesOfText, textOfBytes } from '../bytes.ts';
import type { CodecRule } from '../kind.ts';
import { setOwn } from '../json.ts';
import { Decoded, Entries, Exact, isPlainObject, type Node } from '../tree.ts';
import { admit, type LeftOut } from './admit.ts';
import { plainOf } from './plain.ts';
import { readSerialised, writeSerialised } from './serialised.ts';

/** Ways to write one JSON value as text that are in use; the one that gives back the same bytes is remembered. */
const JSON_STYLES: Readonly<Record<string, (json: string) => string>> = {
  '': (json) => json,
  slashes: (json) => json.replaceAll('/', '\\/'),
  ascii: toAscii,
  'ascii slashes': (json) => toAscii(json).replaceAll('/', '\\/'),
  indented: (json) => JSON.stringify(JSON.parse(json), null, 2),
  // As PHP indents: four spaces, and all that it escapes besides.
  wide: (json) => JSON.stringify(JSON.parse(json), null, 4),
  'wide slashes': (json) => JSON.stringify(JSON.parse(json), null, 4).replaceAll('/', '\\/'),
  'wide ascii': (json) => toAscii(JSON.stringify(JSON.parse(json), null, 4)),
  'wide ascii slashes': (json) => toAscii(JSON.stringify(JSON.parse(json), null, 4)).replaceAll('/', '\\/'),
};
function toAscii(json: string): string {
  return json.replace(/[\u0080-\uffff]/g, (char) => '\\u' + char.charCodeAt(0).toString(16).padStart(4, '0'));
}

/** Spellings of true and false, as `how` names them. */
const BOOLEANS: readonly string[] = ['1/0', 'yes/no', 'on/off', 'true/false', 'enabled/disabled', 'Yes/No', 'On/Off', 'TRUE/FALSE', 'y/n', 't/f', '1/', 'on/', 'yes/'];

/** A packed value that was cut or altered: its site cannot read it either. */
export const DAMAGED = Symbol('damaged');
type Open = (text: string, rule: CodecRule) => Node | typeof DAMAGED;

const OPEN: Readonly<Partial<Record<CodecRule['codec'], Open>>> = {
  json: openJson,
  list: (text, rule) => (rule.codec === 'list' ? openList(text, rule.separator, rule.named !== undefined) : text),
  php: openSerialised,
  base64: openBase64,
  digits: (text) => (/^-?(0|[1-9]\d*)(\.\d*[1-9])?$/.test(text) && String(Number(text)) === text ? new Decoded('digits', Number(text)) : text),
  boolean: openBoolean,
};

/** Opens a packed value. What would not come back as it was stays as it is. */
export function decode(node: Node, rule: CodecRule): Node | typeof DAMAGED {
  if (rule.codec === 'ordered') return isPlainObject(node) ? new Entries(Object.entries(node), true) : node;
  return typeof node === 'string' ? OPEN[rule.codec]?.(node, rule) ?? node : node;
}

/** Stands before a whole number that is larger than JavaScript's numbers reach, while JSON is read or written. */
const BIG = '\ue000big ';
/** Texts, and whole numbers of sixteen digits and more. */
const JSON_TOKEN = /"(?:[^"\\]|\\.)*"|-?[1-9]\d{15,}(?![\d.eE])/g;

/** As ASCII styles write it, too. */
function withoutMarks(json: string): string { return !json.includes('big ') ? json : json.replace(/"(?:\ue000|\\ue000)big (-?\d+)"/g, '$1'); }

function unmarked(node: Node): Node {
  if (typeof node === 'string') return node.startsWith(BIG) ? new Exact('number', `${node.slice(BIG.length)}n`) : node;
  if (Array.isArray(node)) return node.map(unmarked);
  if (!isPlainObject(node)) return node;
  for (const [key, child] of Object.entries(node)) setOwn(node, key, unmarked(child));
  return node;
}

function writeJson(body: Node): string {
  const plain = plainOf(body);
  // Only JavaScript's big numbers cannot be written: they are rare, and looking out for them is slow.
  try { return JSON.stringify(plain); } catch { return withBigNumbers(plain); }
}

function withBigNumbers(plain: unknown): string {
  return JSON.stringify(plain, (_key, value: unknown) => (typeof value === 'bigint' ? `${BIG}${value}` : value));
}

function openJson(text: string): Node {
  // A single number or word is more likely meant as text.
  if (!/^\s*[[{]/.test(text)) return text;
  if (text.includes(BIG)) return text;
  let value: unknown;
  const marked = /\d{16}/.test(text) ? text.replace(JSON_TOKEN, (token) => (token.startsWith('"') ? token : `"${BIG}${token}"`)) : text;
  try { value = JSON.parse(marked); } catch { return text; }
  const json = JSON.stringify(value);
  const how = Object.keys(JSON_STYLES).find((style) => withoutMarks(JSON_STYLES[style]?.(json) ?? '') === text);
  if (how === undefined) return text;
  const leftOut: LeftOut[] = [];
  const admitted = admit(value, leftOut);
  const body = marked === text ? admitted : unmarked(admitted);
  return leftOut.some((one) => one.why !== 'unsafe key') ? text : new Decoded('json', body, how);
}

/** "4,5,6" and "4, 5, 6"; an empty text stays a text. `numbers`: where the place was guessed from its name, only lists of numbers are lists. */
function openList(text: string, separator: string, numbers: boolean): Node {
  if (text === '' || (numbers && !/^\d+(?:\s*\D\s*\d+)+$/.test(text))) return text;
  const how = text.includes(`${separator} `) ? `${separator} ` : separator;
  return new Decoded('list', text.split(how), how);
}

function openSerialised(text: string): Node | typeof DAMAGED {
  const reading = readSerialised(text);
  if (reading.is === 'damaged') return DAMAGED;
  return reading.is === 'value' ? new Decoded('php', reading.node) : text;
}

function openBase64(text: string): Node {
  const inner = base64Text(text);
  return inner === undefined ? text : new Decoded('base64', inner);
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
    case 'list': return (plainOf(body) as unknown[]).map(String).join(how);
    case 'php': return writeSerialised(body);
    case 'base64': return bytesOfText(String(plainOf(body))).toString('base64');
    case 'digits': return String(plainOf(body));
    case 'boolean': return how.split('/')[body === true ? 0 : 1] ?? '';
    case 'json': return withoutMarks((JSON_STYLES[how] ?? String)(writeJson(body)));
  }
}
