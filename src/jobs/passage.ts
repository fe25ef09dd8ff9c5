import { parseAddress, type Address } from '../core/address.ts';
import { holderOf, inHolder, itemOf } from '../core/belongings.ts';
import { adjust, type Adjustments } from '../core/adjust.ts';
import { convert, converterFor } from '../core/convert.ts';
import { overlay } from '../core/compare.ts';
import { project, refuseUnknownPlaces } from '../core/coverage.ts';
import type { Coverage } from '../core/item.ts';
import { getOwn, sameList } from '../core/json.ts';
import type { Converter, Kind } from '../core/kind.ts';
import { Problem } from '../core/problem.ts';
import { nearest, parseSelector, type Selector } from '../core/selector.ts';
import { replaceFiles, settle, type Settlement } from '../core/settle.ts';
import type { SourceRow } from '../core/source.ts';
import { usualPath } from '../core/translate/local.ts';
import type { FoundReference } from '../core/translate/portable.ts';
import { asReadThere, type Stray } from '../core/translate/samethere.ts';
import { cleanSvg, SVG } from './cleansvg.ts';
import { narrowed, withItem } from './cover.ts';
import { FilePlaces } from './fileplaces.ts';
import type { Selection } from './select.ts';
import type { SiteSource } from './sources/site.ts';
import type { Source } from './sources/source.ts';

/** What was decided about the way to a target. */
export interface Wishes {
  /** Content matched by hand: source address → target address. */
  readonly matches: Readonly<Record<Address, Address>>;
  /** Leave places empty that refer to what the target does not have. */
  readonly leaveUnmatched: boolean;
  /** The same for single ones, by what they refer to. */
  readonly leave?: readonly Address[];
  /** Another name on the target, or another item that is there: source address → target address. */
  readonly as?: Readonly<Record<Address, Address>>;
  /** Values that are other on this target: by address on the target, then by place. */
  readonly adjustments?: Readonly<Record<Address, Adjustments>>;
  /** What the target keeps as it has it, places, parts and items, as selectors. */
  readonly keep?: readonly string[];
  /** Pictures are not carried: places that refer to one stay empty where the target lacks it. */
  readonly noMedia?: boolean;
}
export const NO_WISHES: Wishes = { matches: {}, leaveUnmatched: false };

/** What became other on the way, besides ids and addresses. */
export type Adjusted =
  | { readonly adjusted: 'name'; readonly item: Address; readonly from: Address }
  | { readonly adjusted: 'user'; readonly item: Address; readonly at: string; readonly from: Address; readonly to: Address }
  /** The same person is called otherwise there. */
  | { readonly adjusted: 'person'; readonly item: Address; readonly at: string; readonly from: Address; readonly to: Address }
  | { readonly adjusted: 'version'; readonly item: Address; readonly kind: string; readonly from: number; readonly to: number; readonly loses: readonly string[] }
  /** The same picture is there under another name. */
  | { readonly adjusted: 'reused'; readonly item: Address; readonly from: Address }
  /** Places that have another value on this target. */
  | { readonly adjusted: 'value'; readonly item: Address; readonly at: readonly string[] }
  /** Places, parts or all of it ('') that the target keeps as it has them. */
  | { readonly adjusted: 'kept'; readonly item: Address; readonly at: readonly string[] }
  /** Another file of the target is where its file was: it gets another name. */
  | { readonly adjusted: 'moved'; readonly item: Address; readonly to: string }
  | { readonly adjusted: 'cleaned'; readonly item: Address; readonly removed: readonly string[] };

export interface Unmatched extends FoundReference {
  /** What the target has that is most like it. */
  readonly near: readonly Address[];
  /** A picture that is left out by choice. */
  readonly picture: boolean;
}
export interface Passed { readonly row: SourceRow; readonly unmatched: readonly Unmatched[]; readonly adjusted: readonly Adjusted[] }

/** Carries rows of a source to one target: what comes out is what would be written there, and so what is to be compared. */
export class Passage {
  readonly #source: Source;
  readonly #target: SiteSource;
  readonly #wishes: Wishes;
  readonly #selection: Selection;
  /** Short kinds whose items are users: where the target lacks one, it is the user of the token. */
  readonly #users: ReadonlySet<string>;
  /** Addresses on the target, with those on the source; undefined where they are the same. */
  readonly #renamed: ReadonlyMap<Address, Address> | undefined;
  readonly #converters = new Map<string, Converter | undefined>();
  /** Nothing that the source can point to needs a decision: references need not be looked at. */
  readonly #quiet: boolean;
  /** What the target keeps. */
  readonly #keeps: readonly Selector[];
  /** Nothing goes another way than any other thing. */
  readonly #straight: boolean;
  readonly #nearest = new Map<Address, readonly Address[]>();
  readonly #host: string;
  readonly #places: FilePlaces;
  /** Cleaned files by digest. */
  readonly cleaned = new Map<string, { type: string; bytes: Buffer }>();

  constructor(source: Source, target: SiteSource, wishes: Wishes, selection: Selection) {
    this.#source = source;
    this.#target = target;
    this.#wishes = wishes;
    this.#selection = selection;
    this.#users = new Set([...source.kinds.values()].flatMap((kind) => kind.references.filter((rule) => rule.otherwise === 'user').flatMap((rule) => rule.kinds)));
    this.#renamed = Object.keys(wishes.as ?? {}).length === 0 ? undefined : new Map([...selection.chosen.keys()].map((address) => [this.addressOf(address), address]));
    this.#keeps = (wishes.keep ?? []).map(parseSelector);
    this.#straight = !wishes.leaveUnmatched && [wishes.matches, wishes.as, wishes.adjustments, wishes.leave].every((one) => Object.keys(one ?? {}).length === 0);
    this.#host = new URL(target.index.site).hostname;
    this.#places = new FilePlaces(target);
    this.#refuseStrangeNames();
    this.#quiet = this.#goesStraight(source.pointable());
  }

  #goesStraight(addresses: Iterable<Address> | undefined): boolean {
    for (const address of addresses ?? []) if (!this.#known(address) || this.#matched(address) !== address) return false;
    return addresses !== undefined;
  }

  /** The address that an item gets on the target. */
  addressOf(address: Address): Address { return getOwn(this.#wishes.as, address) ?? address; }

  /** Places that refer to this stay empty, where the target does not have it. */
  leaves(address: Address): boolean { return this.#wishes.leaveUnmatched || this.#wishes.leave?.includes(address) === true; }

  /** The address that an item had on the source. */
  sourceOf(address: Address): Address { return this.#renamed?.get(address) ?? address; }

  /** Will something of this address be written to the target? */
  arrives(address: Address): boolean { return this.#renamed ? this.#renamed.has(address) : this.#selection.chosen.has(address); }

  /** The chosen items that get another address. */
  renamed(): Address[] { return this.#renamed === undefined ? [] : [...this.#selection.chosen.keys()].filter((address) => this.addressOf(address) !== address); }

  /** The kind that describes a row when it has arrived. */
  kindOf(row: SourceRow): Kind | undefined {
    const kind = this.#source.kinds.get(row.kind);
    return kind && this.#converter(kind) ? this.#target.kinds.get(kind.id) : kind;
  }

  /** A row is carried over to a form that the target can read. */
  converts(row: SourceRow): boolean {
    const kind = this.#source.kinds.get(row.kind);
    return kind !== undefined && this.#converter(kind) !== undefined;
  }

  /** True where nothing was decided that could make this row another one, if the target has an equal one: it can follow all that it points to. */
  leavesAlone(row: SourceRow): boolean {
    return this.#straight && !this.converts(row) && !(row.files.length > 0 && this.#source.mayBe(row.address, SVG));
  }

  /** True where the value has to be opened to carry it. */
  concerns(row: SourceRow): boolean {
    if (this.#wishes.leaveUnmatched && row.lost.length > 0) return true;
    if (this.converts(row) || this.addressOf(row.address) !== row.address || this.#adjustments(this.addressOf(row.address)) || this.#kept(this.addressOf(row.address), row.kind).length > 0) return true;
    if (row.files.length > 0 && this.#source.mayBe(row.address, SVG)) return true;
    return !this.#quiet && row.references.some((reference) => this.#decide(reference.to, reference.strong));
  }

  /** `there`: what the target has under the address that it gets. */
  async pass(row: SourceRow, there?: SourceRow): Promise<Passed> {
    const kind = this.#source.kinds.get(row.kind);
    const covers = this.#selection.chosen.get(row.address) ?? 'all';
    if (!kind) return { row, unmatched: [], adjusted: [] };
    const adjusted: Adjusted[] = [];
    const arrives = this.addressOf(row.address);
    if (arrives !== row.address) adjusted.push({ adjusted: 'name', item: arrives, from: row.address });
    const converted = await this.#converted(row, kind, arrives, adjusted);
    const { row: placed, instead } = await this.#places.placed(converted, this.kindOf(row) ?? kind, there);
    if (instead !== undefined) adjusted.push({ adjusted: 'moved', item: arrives, to: instead });
    const covered = await this.#covered(placed, this.kindOf(row) ?? kind, covers);
    const set = await this.#withAdjustments(covered, this.kindOf(row) ?? kind, arrives, adjusted);
    const kept = there ? await this.#withKept(set, there, this.kindOf(row) ?? kind, adjusted) : set;
    const cleaned = await this.#cleaned(kept, kind, arrives, adjusted);
    const unmatched = this.#unmatched(cleaned);
    const owners = this.#owners(cleaned, there);
    for (const { at, to } of cleaned.references) {
      const [person, user] = [this.#person(to), this.#user(to)];
      if (person !== undefined) adjusted.push({ adjusted: 'person', item: arrives, at, from: to, to: person });
      if (user !== undefined && !owners.has(to)) adjusted.push({ adjusted: 'user', item: arrives, at, from: to, to: user });
    }
    return { row: await this.#settled(cleaned, this.kindOf(row) ?? kind, arrives, owners), unmatched, adjusted };
  }

  /** Might anything of a row be written alike on the target, though it reads otherwise? The target's value need not be opened to tell. */
  async couldBeAlike(row: SourceRow, there: SourceRow): Promise<boolean> {
    // What was left out of lists leaves them written as something else.
    if (this.#wishes.leaveUnmatched) return true;
    // How often each is meant counts too: of two places one may hold a number that says nothing there.
    const known = row.references.map((one) => this.#matched(one.to)).sort();
    if (!sameList(known, there.references.map((one) => one.to).sort())) return true;
    // The target may write the path of something with its id.
    if (row.references.some(({ to, strong }) => !strong && this.#target.index.pathOf(this.#matched(to), '')?.includes('?') === true)) return true;
    const text = row.text ?? JSON.stringify((await row.load()).value);
    // Other ids in base64 are other signs, which may be written otherwise or not.
    return text.includes(this.#host) || text.includes('"@base64"');
  }

  /** The row as the target reads it, wherever that is written alike there; with numbers that are ids by chance. Both values are opened. */
  async asReadThere(row: SourceRow, there: SourceRow): Promise<{ row: SourceRow; strays: readonly Stray[] }> {
    const kind = this.kindOf(row);
    if (!kind || row.fingerprint === there.fingerprint) return { row, strays: [] };
    const [item, own] = await Promise.all([row.load(), there.load()]);
    const { value, strays } = asReadThere(item.value, own.value, this.#target.index);
    const read = withItem(row, kind, { ...item, value });
    return { row: read.fingerprint === row.fingerprint ? row : read, strays };
  }

  async #converted(row: SourceRow, kind: Kind, arrives: Address, adjusted: Adjusted[]): Promise<SourceRow> {
    const converter = this.#converter(kind);
    const to = this.#target.kinds.get(kind.id);
    if (!converter || !to) return row;
    const item = await row.load();
    adjusted.push({ adjusted: 'version', item: arrives, kind: kind.id, from: kind.description.version, to: converter.version, loses: converter.loses });
    return withItem(row, to, { ...item, value: convert(item.value, converter, row.address) });
  }

  async #covered(row: SourceRow, kind: Kind, covers: Coverage): Promise<SourceRow> {
    if (covers !== 'all') refuseUnknownPlaces(kind, await row.load(), covers);
    return narrowed(row, kind, covers);
  }

  #adjustments(arrives: Address): Adjustments | undefined {
    return getOwn(this.#wishes.adjustments, arrives);
  }

  async #withAdjustments(row: SourceRow, kind: Kind, arrives: Address, adjusted: Adjusted[]): Promise<SourceRow> {
    const adjustments = this.#adjustments(arrives);
    if (!adjustments) return row;
    const item = await row.load();
    const value = adjust(kind, arrives, item.value, adjustments, item.covers !== 'all');
    const after = withItem(row, kind, { ...item, value });
    if (after.fingerprint !== row.fingerprint) adjusted.push({ adjusted: 'value', item: arrives, at: Object.keys(adjustments) });
    return after;
  }

  #kept(arrives: Address, kind: string): string[] { return this.#keeps.filter((one) => one.matches(arrives, kind)).map((one) => one.part ?? ''); }

  /** What the target keeps arrives as the target has it: it is no change, whatever the source has there. */
  async #withKept(row: SourceRow, there: SourceRow, kind: Kind, adjusted: Adjusted[]): Promise<SourceRow> {
    const places = this.#kept(there.address, row.kind);
    if (places.length === 0) return row;
    const [item, own] = await Promise.all([row.load(), there.load()]);
    const covers: Coverage = places.includes('') ? item.covers : places;
    const [before, now] = [project(kind, item, covers), project(kind, own, covers)];
    const after = withItem(row, kind, { ...item, value: overlay(kind, item.value, before.value, now.value) });
    if (after.fingerprint === row.fingerprint) return row;
    adjusted.push({ adjusted: 'kept', item: there.address, at: places });
    return after;
  }

  /** Pictures that could hold scripts lose them. */
  async #cleaned(row: SourceRow, kind: Kind, arrives: Address, adjusted: Adjusted[]): Promise<SourceRow> {
    const others = new Map<string, string>();
    for (const digest of this.#source.mayBe(row.address, SVG) ? row.files : []) {
      if ((await this.#source.mediaSize(digest))?.type !== SVG) continue;
      const clean = await cleanSvg((await this.#source.media(digest)).bytes);
      if (clean.removed.length === 0) continue;
      others.set(digest, clean.digest);
      this.cleaned.set(clean.digest, { type: SVG, bytes: clean.bytes });
      adjusted.push({ adjusted: 'cleaned', item: arrives, removed: clean.removed });
    }
    if (others.size === 0) return row;
    const item = await row.load();
    return withItem(row, kind, { ...item, value: replaceFiles(kind, item.value, others) });
  }

  async #settled(row: SourceRow, kind: Kind, arrives: Address, owners: ReadonlyMap<Address, Address>): Promise<SourceRow> {
    const lost = this.#wishes.leaveUnmatched && row.lost.length > 0;
    if (!lost && arrives === row.address && (this.#quiet || !row.references.some((reference) => this.#decide(reference.to, reference.strong)))) return row;
    const item = await row.load();
    const strong = new Set(row.references.filter((reference) => reference.strong).map((reference) => reference.to));
    const value = settle({ kind, value: item.value }, (address) => { const owner = owners.get(address); return owner === undefined ? this.#decide(address, strong.has(address)) : { to: owner }; }, (address) => usualPath(address, this.#source.kinds), this.#wishes.leaveUnmatched);
    return withItem(row, kind, { ...item, address: arrives, value });
  }

  /** References that the target cannot follow: strong ones block, links are left as paths. */
  #unmatched(row: SourceRow): Unmatched[] {
    if (this.#quiet) return [];
    return row.references.filter((one) => !this.#known(this.#matched(one.to)) && this.#user(one.to) === undefined)
      .map((one) => ({ ...one, near: this.#near(one.to), picture: this.#isPicture(one.to) }));
  }

  /** Worked out once for each address: the whole index is gone through for it. */
  #near(address: Address): readonly Address[] {
    const known = this.#nearest.get(address) ?? this.#findNear(address);
    this.#nearest.set(address, known);
    return known;
  }

  #findNear(address: Address): Address[] {
    const { kind, name } = parseAddress(address);
    const named = [...this.#target.index.addresses()].filter((other) => other.startsWith(`${kind}:`));
    const near = nearest(`${kind}:${name}`, named);
    return near.length > 0 ? near : named.slice(0, 3);
  }

  #isPicture(address: Address): boolean {
    const { kind } = parseAddress(address);
    return (this.#wishes.noMedia === true || this.#source.withoutMedia === true) && [...this.#source.kinds.values()].some((one) => one.short === kind && one.files.length > 0);
  }

  /** True where the target has it, or gets it. */
  #known(address: Address): boolean { return this.#target.facts.abilities.portable === true || this.#target.index.has(address) || this.arrives(itemOf(address, this.#source.kinds)); }

  /** Who stands in for a person that the target does not have. */
  #user(address: Address): Address | undefined {
    if (!this.#users.has(parseAddress(address).kind) || this.#known(this.#matched(address))) return undefined;
    const { user } = this.#target.facts;
    return user !== undefined && this.#target.index.has(user) ? user : undefined;
  }

  /** For people that the target does not have: whom the item belongs to there already, which stays so. */
  #owners(row: SourceRow, there: SourceRow | undefined): ReadonlyMap<Address, Address> {
    const now = new Map((there?.references ?? []).flatMap(({ at, to }) => (this.#users.has(parseAddress(to).kind) ? [[at, to] as const] : [])));
    return new Map(now.size === 0 ? [] : row.references.flatMap(({ at, to }) => { const owner = now.get(at); return owner !== undefined && this.#user(to) !== undefined ? [[to, owner] as const] : []; }));
  }

  #decide(address: Address, strong: boolean): Settlement | undefined {
    const matched = this.#matched(address);
    if (this.#known(matched)) return matched === address ? undefined : { to: matched };
    const user = this.#user(address);
    if (user !== undefined) return { to: user };
    return !strong || this.leaves(address) || this.#isPicture(address) ? { leave: true } : undefined;
  }

  #matched(address: Address): Address {
    const byHand = getOwn(this.#wishes.matches, address);
    if (byHand !== undefined) return byHand;
    const holder = holderOf(address, this.#source.kinds);
    if (holder !== undefined) return inHolder(address, this.#selection.chosen.has(holder) ? this.addressOf(holder) : holder);
    return this.#selection.chosen.has(address) ? this.addressOf(address) : this.#person(address) ?? address;
  }

  /** A person whom the target knows under another name. */
  #person(address: Address): Address | undefined {
    // Asked for everything that is referred to, and most of it is there.
    if (this.#known(address)) return undefined;
    const { kind } = parseAddress(address);
    const alias = this.#users.has(kind) ? this.#source.aliasOf?.(address) : undefined;
    return alias === undefined ? undefined : this.#target.index.byAlias(kind, alias);
  }

  #converter(kind: Kind): Converter | undefined {
    const target = this.#target.kinds.get(kind.id);
    if (!target) return undefined;
    if (!this.#converters.has(kind.id)) this.#converters.set(kind.id, converterFor(kind, target, this.#source.origin, this.#target.facts));
    return this.#converters.get(kind.id);
  }

  /** Another name has to be of the same kind, for something that was chosen, and for one thing only. */
  #refuseStrangeNames(): void {
    const taken = new Map<Address, Address>();
    for (const address of this.#renamed ? this.#selection.chosen.keys() : []) {
      const arrives = this.addressOf(address);
      const other = taken.get(arrives);
      if (other !== undefined) throw new Problem('usage', `${other} and ${address} would both become ${arrives}`, { where: '--as', remedy: 'give one of them another name, or leave it out' });
      taken.set(arrives, address);
      if (parseAddress(arrives).kind !== parseAddress(address).kind) throw new Problem('usage', `${address} cannot become ${arrives}: that is another kind`, { where: '--as', remedy: `write ${address}=${parseAddress(address).kind}:other-name` });
    }
    const strange = Object.keys(this.#wishes.as ?? {}).find((address) => !this.#selection.chosen.has(address));
    if (strange !== undefined) throw new Problem('usage', `${strange} is not among what was chosen of ${this.#source.label}`, { where: '--as', remedy: 'choose the item too, by its name on the source' });
  }
}
