import { parseAllDocuments } from 'yaml';
import type { Address } from '../../core/address.ts';
import { sha256 } from '../../core/canonical.ts';
import { itemBytes, readItem, type PortableItem } from '../../core/item.ts';
import { byCodeUnit, isObject } from '../../core/json.ts';
import type { Kinds } from '../../core/kind.ts';
import { Problem } from '../../core/problem.ts';
import type { SourceRow } from '../../core/source.ts';
import { readNotation } from '../../core/translate/notation.ts';
import { findings } from '../../core/translate/portable.ts';
import type { SiteSource } from './site.ts';
import { TEXT_SITE, type Listed, type Origin, type Source } from './source.ts';

/** Items as text, YAML or JSON: pasted, piped, or kept in a file. Their kinds are those of the site that they go to. */
export class TextSource implements Source {
  readonly label: string;
  readonly kinds: Kinds;
  readonly refused = [];
  readonly origin: Origin;
  readonly #rows: readonly SourceRow[];
  readonly #listed: ReadonlyMap<Address, Listed>;

  /** `target`: where it goes. Which versions and which theme it was made with is not known: no range is checked. */
  constructor(text: string, label: string, { kinds, facts: { cms } }: Pick<SiteSource, 'kinds' | 'facts'>) {
    this.label = label;
    this.origin = { cms, theme: { name: '', title: '', version: '' }, site: { id: TEXT_SITE, title: 'a text', address: 'http://text.invalid' }, extensions: [] };
    this.kinds = kinds;
    this.#rows = readItems(text, label).map((item) => rowOf(item, kinds, label)).sort((a, b) => byCodeUnit(a.address, b.address));
    const twice = this.#rows.find((row, i) => row.address === this.#rows[i - 1]?.address);
    if (twice) throw new Problem('unreadable', `${twice.address} is in it twice`, { where: label, remedy: 'leave one of them out' });
    this.#listed = new Map(this.#rows.map((row) => [row.address, { kind: row.kind, title: row.title }]));
  }

  take(): void { /* a text holds what it holds */ }
  mayBe(): boolean { return false; }
  listed(): ReadonlyMap<Address, Listed> { return this.#listed; }
  content(): ReadonlyMap<Address, Listed> { return new Map(); }
  unavailable(): [] { return []; }
  pointable(): undefined { return undefined; }
  preload(): Promise<void> { return Promise.resolve(); }
  mediaSize(): Promise<undefined> { return Promise.resolve(undefined); }
  media(digest: string): Promise<never> { return Promise.reject(new Problem('unreadable', `a text holds no files: ${digest.slice(0, 12)}… is missing`, { where: this.label, remedy: 'export a file instead' })); }
  close(): Promise<void> { return Promise.resolve(); }

  async *rows(only?: ReadonlySet<Address>): AsyncGenerator<SourceRow> {
    for (const row of this.#rows) if (!only || only.has(row.address)) yield await Promise.resolve(row);
  }
}

/** Documents of YAML, of which JSON is a part: items as `show` prints them, with --json or without. */
function readItems(text: string, label: string): PortableItem[] {
  const documents = parseAllDocuments(text);
  const items = (Array.isArray(documents) ? documents : []).flatMap((document) => {
    const [fault] = document.errors;
    if (fault) throw new Problem('unreadable', `this is neither a pochette nor an item as text: ${fault.message.split('\n')[0] ?? ''}`, { where: label, remedy: '"pochette show SITE kind:name" prints an item as text' });
    const json: unknown = document.toJS({ maxAliasCount: 0 });
    return json === null ? [] : [readItem(isObject(json) && 'item' in json ? json['item'] : json, label)];
  });
  if (items.length === 0) throw new Problem('unreadable', 'there is no item in it', { where: label, remedy: '"pochette show SITE kind:name" prints an item as text' });
  return items;
}

function rowOf(item: PortableItem, kinds: Kinds, label: string): SourceRow {
  const kind = kinds.get(item.kind);
  if (!kind) throw new Problem('blocked', `the target has no kind ${item.kind}`, { where: `${label}, ${item.address}`, remedy: `install the extension that owns it: ${item.kind.slice(0, item.kind.indexOf('/'))}` });
  const text = itemBytes(item);
  const title = isObject(item.value) ? item.value['title'] ?? item.value['label'] : undefined;
  return {
    address: item.address, kind: item.kind, title: typeof title === 'string' ? title : item.address, covers: item.covers, fingerprint: sha256(text), size: Buffer.byteLength(text), text,
    withheld: [], leftOut: [], ...findings(kind, readNotation(item.value)), load: () => Promise.resolve(item),
  };
}
