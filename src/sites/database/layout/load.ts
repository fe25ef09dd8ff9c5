import { existsSync, readFileSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { LineCounter, parseDocument, type Document } from 'yaml';
import { isObject } from '../../../core/json.ts';
import { Problem } from '../../../core/problem.ts';
import entries from '../layouts/entries.yaml';
import { Layout, type LayoutInput } from './schema.ts';

/** Layouts that come with Pochette, by name. */
export const SHIPPED: Readonly<Record<string, typeof entries>> = { entries };

/** A layout with everything that it extends taken in. */
export interface LoadedLayout { readonly layout: Layout; /** Where a kind is described: `file:line`. */ readonly lines: ReadonlyMap<string, string> }

/** Loads a shipped layout by name, or one from a file. Throws a usage problem that names the line. */
export function loadLayout(name: string, folder: string): LoadedLayout {
  const lines = new Map<string, string>();
  const raw = loadRaw(name, folder, lines, []);
  if (raw.alone) return { layout: raw.alone, lines };
  const parsed = Layout.safeParse(raw.json);
  if (parsed.success) return { layout: parsed.data, lines };
  throw raw.fault(parsed.error.issues[0]?.path ?? [], messageOf(parsed.error.issues[0]));
}

/** `alone`: the layout as it was checked, where it extends no other. */
interface Raw { readonly json: Record<string, unknown>; readonly alone?: Layout; readonly fault: (path: readonly PropertyKey[], message: string) => Problem }

function loadRaw(name: string, folder: string, lines: Map<string, string>, above: readonly string[]): Raw {
  const shipped = Object.hasOwn(SHIPPED, name) ? SHIPPED[name] : undefined;
  const path = shipped ? name : resolve(folder, name);
  if (above.includes(path)) throw new Problem('usage', `the layout extends itself: ${[...above, path].join(' → ')}`, { where: path, remedy: 'take one "extends" out' });
  if (!shipped && !existsSync(path)) throw new Problem('usage', `there is no layout ${name}`, { where: path, remedy: `give the path of a file, or one of ${Object.keys(SHIPPED).join(', ')}` });
  if (shipped) return shippedRaw(shipped, name, lines);
  const { json, fault, lineOf } = readRaw(path);
  // Checked by itself first, so that a fault is told with its own file and line.
  const parsed = Layout.safeParse(json);
  if (!parsed.success) { const issue = parsed.error.issues[0]; throw fault(placeOf(issue), messageOf(issue)); }
  const bases = [parsed.data.extends].flat().map((base) => loadRaw(base, dirname(path), lines, [...above, path]).json);
  parsed.data.kinds.forEach((kind, i) => { lines.set(kind.id, `${path}:${lineOf(['kinds', i])}`); });
  return { json: bases.reduceRight((below, base) => merged(base, below), json), fault, ...(bases.length === 0 ? { alone: parsed.data } : {}) };
}

/** One that was checked when the program was built. It extends no other. */
function shippedRaw({ layout, lines: own }: typeof entries, name: string, lines: Map<string, string>): Raw {
  for (const [kind, line] of Object.entries(own)) lines.set(kind, `${name}:${line}`);
  return { json: layout, alone: layout, fault: (place, message) => faultAt(name, place, message) };
}

function readRaw(path: string): Raw & { readonly lineOf: (place: readonly PropertyKey[]) => number } {
  const counter = new LineCounter();
  const document = parseDocument(readFileSync(path, 'utf8'), { lineCounter: counter });
  const [broken] = document.errors;
  if (broken) throw new Problem('usage', `this is not YAML: ${broken.message.split('\n')[0] ?? ''}`, { where: `${path}:${counter.linePos(broken.pos[0]).line}`, remedy: 'mend this line' });
  const json = document.toJS({ maxAliasCount: 200 }) as unknown;
  const lineOf = (place: readonly PropertyKey[]): number => lineAt(document, place, counter);
  const fault = (place: readonly PropertyKey[], message: string): Problem => faultAt(`${path}:${lineOf(place)}`, place, message);
  if (!isObject(json)) throw fault([], 'a map is expected');
  return { json, fault, lineOf };
}

function faultAt(where: string, place: readonly PropertyKey[], message: string): Problem {
  return new Problem('usage', `${place.map(String).join('.') || 'the layout'}: ${message}`, { where, remedy: 'docs/layouts.md describes every key' });
}

function placeOf(issue: { path: readonly PropertyKey[]; code: string; keys?: readonly string[] } | undefined): PropertyKey[] {
  return issue ? [...issue.path, ...(issue.code === 'unrecognized_keys' ? [issue.keys?.[0] ?? ''] : [])] : [];
}

function messageOf(issue: { code: string; message: string } | undefined): string {
  return issue?.code === 'unrecognized_keys' ? 'this key is not known' : issue?.message ?? 'not understood';
}

/** What extends wins; maps are taken together, kinds go by id, other lists follow one another. */
function merged(base: Record<string, unknown>, over: Record<string, unknown>): Record<string, unknown> {
  const all = { ...base };
  for (const [key, value] of Object.entries(over)) {
    const below = all[key];
    if (key === 'kinds' && Array.isArray(below) && Array.isArray(value)) all[key] = mergedKinds(below as KindJson[], value as KindJson[]);
    else if (key === 'where') all[key] = value;
    else if (isObject(below) && isObject(value)) all[key] = merged(below, value);
    else if (Array.isArray(below) && Array.isArray(value)) all[key] = [...(below as unknown[]), ...(value as unknown[])];
    else all[key] = value;
  }
  return all;
}

/** The same for a database whose tables have a prefix. */
export function withPrefix({ layout, lines }: LoadedLayout, prefix: string): LoadedLayout { return { layout: prefixed(layout, prefix) as Layout, lines }; }

/** What has no prefix in it stays the same object: a layout is large, and little in it has one. */
function prefixed(node: unknown, prefix: string): unknown {
  if (typeof node === 'string') return node.includes(PREFIX) ? node.replaceAll(PREFIX, prefix) : node;
  if (typeof node !== 'object' || node === null) return node;
  let copy: Record<string, unknown> | undefined;
  for (const key of Object.keys(node)) {
    const value = (node as Record<string, unknown>)[key];
    const filled = prefixed(value, prefix);
    if (filled !== value) (copy ??= (Array.isArray(node) ? [...node as unknown[]] : { ...node }) as Record<string, unknown>)[key] = filled;
  }
  return copy ?? node;
}
const PREFIX = '{prefix}';

type KindJson = NonNullable<LayoutInput['kinds']>[number] & Record<string, unknown>;

function mergedKinds(base: readonly KindJson[], over: readonly KindJson[]): unknown[] {
  const known = new Map<string, Record<string, unknown>>(base.map((kind) => [kind.id, kind]));
  for (const kind of over) known.set(kind.id, merged(known.get(kind.id) ?? {}, kind));
  return [...known.values()];
}

function lineAt(document: Document, place: readonly PropertyKey[], counter: LineCounter): number {
  for (let depth = place.length; depth > 0; depth--) {
    const node = document.getIn(place.slice(0, depth), true) as { range?: [number, number, number] } | undefined;
    if (node?.range) return counter.linePos(node.range[0]).line;
  }
  return 1;
}
