import type { CodecRule } from '../kind.ts';
import { Decoded, Entries, isPlainObject, type Node } from '../tree.ts';
import { admit, type LeftOut } from './admit.ts';

/** Ways to write one JSON value as text that are in use; the one that gives back the same bytes is remembered. */
const JSON_STYLES: Readonly<Record<string, (json: string) => string>> = {
  '': (json) => json,
  slashes: (json) => json.replaceAll('/', '\\/'),
  ascii: toAscii,
  'ascii slashes': (json) => toAscii(json).replaceAll('/', '\\/'),
  indented: (json) => JSON.stringify(JSON.parse(json), null, 2),
};

function toAscii(json: string): string {
  return json.replace(/[\u0080-\uffff]/g, (char) => '\\u' + char.charCodeAt(0).toString(16).padStart(4, '0'));
}

/** Opens a packed value. What would not come back as it was stays as it is. */
export function decode(node: Node, rule: CodecRule): Node {
  if (rule.codec === 'ordered') return isPlainObject(node) ? new Entries(Object.entries(node), true) : node;
  if (typeof node !== 'string') return node;
  if (rule.codec === 'json') return decodeJson(node);
  if (rule.codec === 'list') return decodeList(node, rule.separator);
  return node;
}

function decodeJson(text: string): Node {
  let value: unknown;
  try { value = JSON.parse(text); } catch { return text; }
  const json = JSON.stringify(value);
  const how = Object.keys(JSON_STYLES).find((style) => JSON_STYLES[style]?.(json) === text);
  if (how === undefined) return text;
  const leftOut: LeftOut[] = [];
  const body = admit(value, leftOut);
  return leftOut.some((one) => one.why !== 'unsafe key') ? text : new Decoded('json', body, how);
}

/** "4,5,6" and "4, 5, 6"; an empty text stays a text. */
function decodeList(text: string, separator: string): Node {
  if (text === '') return text;
  const how = text.includes(`${separator} `) ? `${separator} ` : separator;
  return new Decoded('list', text.split(how), how);
}

/** Packs again; `body` is local by now. */
export function encode(decoded: Decoded, body: unknown): string {
  if (decoded.codec === 'list') return (body as unknown[]).map(String).join(decoded.how);
  return (JSON_STYLES[decoded.how] ?? String)(JSON.stringify(body));
}
