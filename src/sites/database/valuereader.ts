import { localId } from '../../core/siteindex.ts';
import { matches, parsePath } from '../../core/path.ts';
import { setOwn } from '../../core/json.ts';
import { anyOf } from '../../core/wildcard.ts';
import type { Fields, ListRule, Passing, Spec } from './layout/schema.ts';
import { cellAt, valueAt, type Loaded } from './loaded.ts';
import { unpacked } from './packed.ts';
import { idOf } from './rowid.ts';
import type { Ground } from './store.ts';

/** A media file: its path in the media folder, and its digest where it is there. */
export interface PlacedFile { readonly path: string; readonly file: string | undefined }

/** Makes local values out of rows. */
export class ValueReader {
  readonly #ground: Ground;

  constructor(ground: Ground) { this.#ground = ground; }

  value(specs: Readonly<Record<string, Spec>>, loaded: Loaded, files?: readonly PlacedFile[]): Record<string, unknown> {
    const value: Record<string, unknown> = {};
    for (const [member, spec] of Object.entries(specs)) {
      if (typeof spec === 'string') { value[member] = valueAt(loaded, spec); continue; }
      if ('owner' in spec) { value[member] = ownerOf(this.#ground, spec.of, cellAt(loaded, spec.owner) ?? ''); continue; }
      if ('while' in spec) { if (holds(spec.while, loaded)) value[member] = valueAt(loaded, spec.column); continue; }
      if ('usual' in spec) { const text = cellAt(loaded, spec.column); if (text === null || ![spec.usual].flat().includes(text)) value[member] = valueAt(loaded, spec.column); continue; }
      const rows = loaded.sets.get(member) ?? [];
      if ('fields' in spec) value[member] = fieldValues(spec.fields, rows, loaded);
      else if ('ids' in spec) value[member] = inOrder(rows, spec.ids.order).map((row) => cellAt(row, spec.ids.value));
      else if ('list' in spec) value[member] = this.#entries(spec.list, rows);
      else if ('files' in spec && files) value[member] = files;
    }
    return value;
  }

  #entries(rule: ListRule, rows: readonly Loaded[]): unknown[] {
    const entries = inOrder(rows, rule.order).map((row): { row: Loaded; entry: Record<string, unknown> } => ({ row, entry: { id: localId(entryId(row, rule)), ...this.value(rule.value, row) } }));
    if (!rule.tree) return entries.map((one) => one.entry);
    const { parent, member, root } = rule.tree;
    const byId = new Map(entries.map((one) => [String(one.entry['id']), one.entry]));
    const top: unknown[] = [];
    for (const { row, entry } of entries) {
      const above = placeText(rule.value, row, parent);
      const holder = above === (root ?? '0') || above === '' || above === String(entry['id']) ? undefined : byId.get(above);
      if (holder) (holder[member] ??= [], holder[member] as unknown[]).push(entry); else top.push(entry);
    }
    return top;
  }

  /** The files of an item, the main one first; undefined where its kind has none. */
  async files(specs: Readonly<Record<string, Spec>>, loaded: Loaded): Promise<PlacedFile[] | undefined> {
    const spec = Object.values(specs).find((one) => typeof one === 'object' && 'files' in one);
    if (!spec || typeof spec === 'string' || !('files' in spec)) return undefined;
    const main = placeText(specs, loaded, spec.files.main);
    if (main === '') return [];
    const folder = main.includes('/') ? main.slice(0, main.lastIndexOf('/') + 1) : '';
    const more = spec.files.more ? packedTexts(placeText(specs, loaded, spec.files.more.of), spec.files.more.codec, [spec.files.more.path].flat()) : [];
    const paths = [...new Set([main, ...more.map((name) => folder + name)])];
    return Promise.all(paths.map(async (path) => ({ path, file: await this.#ground.library?.digest(path) })));
  }
}

/** Whom a row belongs to: somebody unknown counts as the user that new rows belong to. */
export function ownerOf({ nameOf, author }: Pick<Ground, 'nameOf' | 'author'>, kind: string, id: string): string { return nameOf(kind, id) === undefined ? author() : id; }

function holds(words: Passing['while'], loaded: Loaded): boolean { return Object.entries(words).every(([column, some]) => [some].flat().includes(cellAt(loaded, column) ?? '')); }

/** Attribute rows as a map; a key that is there several times holds a list. */
function fieldValues(rule: Fields, rows: readonly Loaded[], above: Loaded): Record<string, unknown> {
  const values: Record<string, unknown> = {};
  for (const [key, same] of fieldRows(rule, rows)) {
    const texts = same.map((row) => valueAt(row, rule.value));
    if (rule.own.includes(key) && texts[0] === cellAt(above, Object.values(rule.on)[0] ?? '')) continue;
    setOwn(values, key, texts.length === 1 ? texts[0] : texts);
  }
  return values;
}

/** The attribute rows that a rule describes, by key. */
export function fieldRows(rule: Fields, rows: readonly Loaded[]): Map<string, Loaded[]> {
  const [only, except] = [rule.only && anyOf(rule.only), anyOf(rule.except)];
  const found = new Map<string, Loaded[]>();
  for (const row of rows) {
    const key = cellAt(row, rule.key) ?? '';
    if (except(key) || only?.(key) === false) continue;
    const same = found.get(key);
    if (same) same.push(row); else found.set(key, [row]);
  }
  return found;
}

/** The text at `column`, or at `MEMBER.KEY` of attribute rows. */
export function placeText(specs: Readonly<Record<string, Spec>>, loaded: Loaded, place: string): string {
  const row = attributeRow(specs, loaded, place);
  if (row === undefined) return cellAt(loaded, place) ?? '';
  return row === null ? '' : cellAt(row.row, row.column) ?? '';
}

/** The attribute row that a place means; null where it is not there; undefined where the place is a column. */
export function attributeRow(specs: Readonly<Record<string, Spec>>, loaded: Loaded, place: string): { row: Loaded; column: string } | null | undefined {
  const dot = place.indexOf('.');
  const spec = dot < 0 ? undefined : specs[place.slice(0, dot)];
  if (typeof spec !== 'object' || !('fields' in spec)) return undefined;
  const row = loaded.sets.get(place.slice(0, dot))?.find((one) => cellAt(one, spec.fields.key) === place.slice(dot + 1));
  return row ? { row, column: spec.fields.value } : null;
}

/** Numbers by size, other text by code unit; what comes first in the order decides first. */
export function inOrder(rows: readonly Loaded[], order: readonly string[]): Loaded[] {
  const compare = (a: string, b: string): number => (/^-?\d{1,15}$/.test(a) && /^-?\d{1,15}$/.test(b) ? Number(a) - Number(b) : a < b ? -1 : a > b ? 1 : 0);
  return [...rows].sort((a, b) => order.map((place) => compare(cellAt(a, place) ?? '', cellAt(b, place) ?? '')).find((sign) => sign !== 0) ?? 0);
}

/** What tells a child row from the others of its item. */
export function entryId(row: Loaded, { id }: Pick<ListRule, 'id'>): string {
  const [only = '', ...more] = [id].flat();
  return more.length === 0 ? cellAt(row, only) ?? '' : String(idOf([only, ...more], Object.fromEntries([only, ...more].map((place) => [place, cellAt(row, place)]))));
}

/** Texts at paths inside a packed value. */
export function packedTexts(text: string, codec: 'php' | 'json', paths: readonly string[]): string[] {
  const node = unpacked(text, codec);
  return node === undefined ? [] : paths.flatMap((path) => matches(node, parsePath(path))).flatMap(({ node: found }) => (typeof found === 'string' ? [found] : typeof found === 'number' ? [String(found)] : []));
}
