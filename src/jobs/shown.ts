import { pointer } from '../core/address.ts';
import type { Change } from '../core/compare.ts';
import { isObject } from '../core/json.ts';
import type { ItemFinding } from './compare.ts';
import { cleanPage } from './cleanpage.ts';
import { pageText } from '../sites/page.ts';
import type { SiteSource } from './sources/site.ts';
import type { Source } from './sources/source.ts';

/** A media file as far as it is shown: its bytes where they are few. */
export interface ShownFile { readonly type: string; readonly bytes: number; readonly content?: Buffer }

/** No larger picture is taken along, and no more of all of them together. */
const [LARGEST, MOST] = [200_000, 3_000_000];

/** Files of items that are new or differ, from both sides, for showing them. */
export class ShownFiles {
  readonly found = new Map<string, ShownFile>();
  readonly #sides: readonly [Source, Source];
  #bytes = 0;

  constructor(source: Source, target: Source) { this.#sides = [source, target]; }

  async see({ status, source, target }: ItemFinding): Promise<void> {
    if (status === 'same') return;
    for (const [row, side] of [[source, this.#sides[0]], [target, this.#sides[1]]] as const) for (const digest of row?.files ?? []) await this.#take(digest, side);
  }

  async #take(digest: string, side: Source): Promise<void> {
    if (this.found.has(digest)) return;
    const size = await side.mediaSize(digest);
    if (!size) return;
    const small = size.type.startsWith('image/') && size.bytes <= LARGEST && this.#bytes + size.bytes <= MOST;
    if (small) this.#bytes += size.bytes;
    this.found.set(digest, { ...size, ...(small ? { content: (await side.media(digest)).bytes } : {}) });
  }
}

/** How an item looks on both sides now: whole pages, as a visitor gets them. */
export interface Preview { readonly source?: string; readonly target?: string }
/** Of so many items the pages are fetched, none larger than this. */
const [MOST_PAGES, LARGEST_PAGE] = [40, 150_000];

/** Pages of items that have one of their own, from the sites that can give it. */
export async function previewsOf(findings: readonly Pick<ItemFinding, 'address' | 'kind' | 'status'>[], source: Source, target: Source): Promise<Map<string, Preview>> {
  const found = new Map<string, Preview>();
  for (const { address, kind } of findings) {
    if (found.size === MOST_PAGES) break;
    const own = [source, target].some((side) => side.kinds.get(kind)?.description.where?.includes('{name}'));
    if (!own) continue;
    const [left, right] = await Promise.all([source, target].map((side) => pageOf(side, address)));
    if (left !== undefined || right !== undefined) found.set(address, { ...(left === undefined ? {} : { source: left }), ...(right === undefined ? {} : { target: right }) });
  }
  return found;
}

async function pageOf(side: Source, address: string): Promise<string | undefined> {
  const { index } = side as Partial<SiteSource>;
  const path = index?.row(address) ? index.seenAt(address) : undefined;
  const text = index && path !== undefined ? await pageText(index.urlOf(path), LARGEST_PAGE) : undefined;
  return text === undefined ? undefined : cleanPage(text);
}

/** Of an item that only one side has, all that is in it, as places. */
export async function placesOf({ status, changes, source, target }: ItemFinding): Promise<readonly Change[]> {
  const row = status === 'new' ? source : status === 'target-only' ? target : undefined;
  if (!row) return changes;
  const { value } = await row.load();
  const members: [string, typeof value][] = isObject(value) ? Object.entries(value).map(([name, member]) => [pointer([name]), member]) : [['', value]];
  return members.map(([at, member]) => (status === 'new' ? { change: 'new', at, source: member } : { change: 'target-only', at, target: member }));
}
