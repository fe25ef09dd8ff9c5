import { kindWord, placeOf, type Address } from '../core/address.ts';
import { itemOf } from '../core/belongings.ts';
import { refuseUnknownPlaces } from '../core/coverage.ts';
import type { Coverage } from '../core/item.ts';
import { byCodeUnit } from '../core/json.ts';
import type { Withholding } from '../core/kind.ts';
import { RequirementList, type NeededBy } from '../core/requirements.ts';
import type { SourceRow } from '../core/source.ts';
import type { Withheld } from '../core/translate/portable.ts';
import { PochetteWriter } from '../pochette/write.ts';
import { FORMAT, type About } from '../pochette/format.ts';
import { coveredRow, rowRequirements } from './cover.ts';
import { chooser, type Choice } from './choice.ts';
import { refuseIdleTakes } from './idletake.ts';
import { leftBehind } from './plan.ts';
import { bringAlong } from './along.ts';
import { holdsFiles, select, type Chosen } from './select.ts';
import type { Absent, LeftOut, Listing, Origin, Source } from './sources/source.ts';
import type { OnProgress } from './workspace.ts';

export interface ExportWish { readonly choice: Choice; readonly file: string; readonly alone: boolean; readonly title?: string; readonly description?: string; readonly version?: string; readonly author: string; readonly cover?: Buffer }
export interface ExportResult {
  readonly file: string;
  readonly bytes: number;
  readonly digest: string;
  readonly title: string;
  /** Items by short kind. */
  readonly counts: Readonly<Record<string, number>>;
  readonly items: number;
  readonly files: number;
  /** Items that were brought along because a chosen one refers to them, with one that does. */
  readonly broughtAlong: readonly { address: Address; for: Address }[];
  readonly requirements: readonly NeededBy[];
  readonly withheld: readonly { address: Address; at: string; why: Withholding }[];
  readonly leftOut: readonly LeftOut[];
  /** Content that is referred to: the target must have it. */
  readonly content: readonly { address: Address; from: Address }[];
}

/** Exports a selection into a file. The same state and choices give the same bytes. */
export async function exportItems(source: Source, wish: ExportWish, onProgress: OnProgress): Promise<ExportResult> {
  const selection = select(source, wish.choice);
  source.take(selection.takes);
  const whole = chooser(wish.choice).everything;
  const brought = wish.alone || whole ? [] : await bringAlong(source, selection.chosen, { noMedia: wish.choice.noMedia === true });
  const chosen: Chosen = brought.length === 0 ? selection.chosen : new Map([...selection.chosen, ...brought.map(({ address }): [Address, Coverage] => [address, 'all'])]);
  const gather = new Gather(source, chosen, wish.choice.noMedia === true);
  for (const one of selection.cannot) gather.leftOut.push(asLeftOut(one));
  gather.leftOut.push(...leftBehind(source, chosen));
  const writer = new PochetteWriter(wish.file);
  try {
    const all = selection.everything ? undefined : new Set(chosen.keys());
    for await (const row of source.rows(all, { fresh: true })) {
      refuseIdleTakes(row, wish.choice.take);
      await gather.take(row, writer);
      onProgress({ phase: 'reading', done: writer.counts.items, total: chosen.size });
    }
    await gather.writeFiles(writer, onProgress);
    for (const one of source.refused) gather.leftOut.push(asLeftOut(one));
    if (wish.cover) writer.cover(wish.cover);
    const about = gather.about(wish, writer.counts);
    const { bytes, digest } = await writer.finish(about);
    return { file: wish.file, bytes, digest, title: about.title, ...writer.counts, counts: gather.counts, broughtAlong: [...selection.needed, ...brought], requirements: gather.requirements.list(), withheld: gather.withheld, leftOut: gather.leftOut, content: gather.content() };
  } catch (error) {
    await writer.abandon();
    throw error;
  }
}

/** Collects what the file and the result say about the items. */
class Gather {
  readonly requirements = new RequirementList();
  readonly withheld: { address: Address; at: string; why: Withholding }[] = [];
  readonly leftOut: LeftOut[] = [];
  readonly counts: Record<string, number> = {};
  readonly #content = new Map<Address, Address>();
  readonly #files = new Map<string, Address>();
  readonly #kinds = new Set<string>();
  readonly #aliases = new Map<Address, string>();
  readonly #source: Source;
  readonly #chosen: Chosen;
  readonly #contentOfSource: Listing;
  readonly #listed: Listing;
  readonly #noMedia: boolean;

  constructor(source: Source, chosen: Chosen, noMedia: boolean) {
    this.#listed = source.listed();
    this.#noMedia = noMedia;
    this.#source = source;
    this.#chosen = chosen;
    this.#contentOfSource = source.content();
  }

  async take(whole: SourceRow, writer: PochetteWriter): Promise<void> {
    const covers = this.#chosen.get(whole.address) ?? 'all';
    const described = this.#source.kinds.get(whole.kind);
    if (described && covers !== 'all') refuseUnknownPlaces(described, await whole.load(), covers);
    const row = await coveredRow(this.#source, whole, covers);
    await writer.item(row);
    const kind = this.#source.kinds.get(row.kind);
    const short = kindWord(row.address);
    this.counts[short] = (this.counts[short] ?? 0) + 1;
    this.#kinds.add(row.kind);
    if (kind) for (const requirement of await rowRequirements(row, kind, this.#source.origin)) this.requirements.add(requirement, row.address);
    for (const one of row.withheld) this.#stays(row.address, one);
    for (const one of row.leftOut) this.leftOut.push({ address: row.address, at: one.at, why: one.why, remedy: 'mend it on the source' });
    for (const one of row.lost) this.leftOut.push({ address: row.address, at: one.at, why: `refers to nothing: the id ${one.raw} is not there`, remedy: 'mend it on the source; at an import --leave-unmatched empties it' });
    for (const digest of row.files) if (!this.#files.has(digest)) this.#files.set(digest, row.address);
    for (const { to, at } of row.references) this.#refers(row.address, itemOf(to, this.#source.kinds), at);
  }

  #stays(address: Address, { at, why }: Withheld): void {
    if (why === 'unasked') this.leftOut.push({ address, at, why: 'this part travels only when it is asked for', remedy: `add --take ${placeOf(address, at)}` });
    else if (why !== 'volatile') this.withheld.push({ address, at, why });
  }

  #refers(from: Address, to: Address, at: string): void {
    const content = this.#contentOfSource.get(to);
    const kind = content?.kind ?? this.#listed.get(to)?.kind;
    if (kind !== undefined) this.#kinds.add(kind);
    const alias = this.#source.aliasOf?.(to);
    if (alias !== undefined) this.#aliases.set(to, alias);
    if (content) { if (!this.#content.has(to)) this.#content.set(to, from); return; }
    if (this.#chosen.has(to) || this.leftOut.some((one) => one.address === from && one.at === at && one.why.includes(`${to},`))) return;
    const picture = this.#noMedia && kind !== undefined && holdsFiles(this.#source.kinds, kind);
    this.leftOut.push(picture ? { address: from, at, why: `will lack the picture ${to}, as pictures are left out by choice`, remedy: 'without --no-media it comes along; a target that has it shows it' }
      : { address: from, at, why: `refers to ${to}, which is not in the file`, remedy: 'the target must have it, or choose it too' });
  }

  async writeFiles(writer: PochetteWriter, onProgress: OnProgress): Promise<void> {
    for (const [digest, address] of [...this.#files].sort(([a], [b]) => byCodeUnit(a, b))) {
      const size = await this.#source.mediaSize(digest);
      if (!size) { this.leftOut.push({ address, at: '', why: `its file ${digest.slice(0, 12)}… is not on the site`, remedy: 'upload it to the source again' }); continue; }
      const { type, bytes } = await this.#source.media(digest);
      await writer.media({ digest, type, bytes });
      this.requirements.add({ need: 'upload', type, bytes: bytes.length }, address);
      onProgress({ phase: 'files', done: writer.counts.files, total: this.#files.size });
    }
  }

  content(): { address: Address; from: Address }[] {
    return [...this.#content].map(([address, from]) => ({ address, from })).sort((a, b) => byCodeUnit(a.address, b.address));
  }

  about(wish: ExportWish, counts: { items: number; files: number }): About {
    const { origin } = this.#source;
    return {
      format: FORMAT, title: wish.title ?? defaultTitle(wish, origin), description: wish.description ?? '', version: wish.version ?? '', author: wish.author,
      origin: { cms: origin.cms, site: origin.site, extensions: origin.extensions, theme: origin.theme },
      kinds: [...this.#kinds].sort(byCodeUnit).flatMap((id) => this.#source.kinds.get(id)?.description ?? []),
      requirements: this.requirements.list().map((one) => ({ ...one, neededBy: [...one.neededBy] })), leftOut: this.leftOut, choices: { ...(JSON.parse(JSON.stringify(wish.choice)) as Omit<About['choices'], 'alone'>), alone: wish.alone }, counts,
      ...(this.#aliases.size > 0 ? { aliases: Object.fromEntries(this.#aliases) } : {}),
    };
  }
}

function defaultTitle(wish: ExportWish, origin: Origin): string {
  const { selectors } = wish.choice;
  return selectors.length === 0 ? `Everything of ${origin.site.title}` : `${selectors.join(', ')} of ${origin.site.title}`;
}

function asLeftOut({ address, why, remedy }: Absent): LeftOut { return { address, at: '', why, remedy: remedy ?? '' }; }
