import type { CodecRule, Kind, ReferenceRule, Withholding } from '../kind.ts';
import type { Address } from '../address.ts';
import { byCodeUnit, setOwn, type Json } from '../json.ts';
import { matches, Walk, type Match } from '../path.ts';
import { localId, type SiteIndex } from '../siteindex.ts';
import { childOf, cloneNode, deleteChild, Decoded, Entries, Exact, isPlainObject, Reference, setChild, unwrap, type Key, type Node } from '../tree.ts';
import { admit, type LeftOut } from './admit.ts';
import { base64Text, DAMAGED, decode } from './codecs.ts';
import { keyedLists, namesAlong, pointerOf, walkSpecial, type KeyedLists } from './keyed.ts';
import { canonicalNotation, eachTarget, readNotation } from './notation.ts';
import { pointer } from '../address.ts';
import { takesPlace, type Take } from '../take.ts';
import { looksSerialised, readSerialised } from './serialised.ts';
import { TextReader } from './texts.ts';

export interface FoundReference { readonly at: string; readonly to: Address; /** false: a link in a text, which may be left as it is. */ readonly strong: boolean }
/** `held`: the source could give it; else it is not even there. */
export interface Withheld { readonly at: string; readonly why: Withholding; readonly held?: boolean }
export interface Lost { readonly at: string; readonly raw: number | string }

/** A place that usually stays and is in the value on purpose; `part`: the part that was asked for. */
export interface Taken { readonly at: string; readonly part?: string }

/** What became of a local value. */
export interface Portable {
  /** The portable value as canonical JSON. */
  readonly text: string;
  readonly references: readonly FoundReference[];
  readonly withheld: readonly Withheld[];
  /** References to nothing: they keep their raw id and can be restored on their own site only. */
  readonly lost: readonly Lost[];
  readonly leftOut: readonly LeftOut[];
  readonly taken: readonly Taken[];
  /** Digests of media files. */
  readonly files: readonly string[];
}

/** A withheld value with where it stood, by names of the keyed view. */
export interface Kept { readonly names: readonly string[]; readonly node: Node; readonly why: Withholding }

export interface Separated { readonly root: Node; readonly kept: readonly Kept[]; readonly whole: Node }

/** Makes portable forms of the items of one site. Pure: all that it needs of the site is in the index. */
export class Exporter {
  readonly #index: SiteIndex;
  readonly #texts: TextReader;

  constructor(index: SiteIndex) {
    this.#index = index;
    this.#texts = new TextReader(index);
  }

  /** `item`: the name of the item, which some rules ask for. `take`: what is taken although it usually stays. */
  portable(kind: Kind, local: unknown, item = '', take?: Take): Portable {
    const leftOut: LeftOut[] = [];
    const root = this.#decoded(kind, local, leftOut, item);
    const { root: tree, kept, keyed, taken } = separate(kind, root, item, take);
    return { text: canonicalNotation(tree), ...findings(kind, tree, keyed), withheld: kept.filter((one) => one.why !== 'own-id').map((one) => ({ at: pointer(one.names), why: one.why })), leftOut, taken };
  }

  /** The value as a tree, with what stays on the site taken out and named; `whole` is the same with everything in its place. */
  separated(kind: Kind, local: unknown, item = '', take?: Take): Separated {
    const root = this.#decoded(kind, local, [], item);
    const whole = cloneNode(root);
    const { kept } = separate(kind, root, item, take);
    return { root, kept, whole };
  }

  #decoded(kind: Kind, local: unknown, leftOut: LeftOut[], item: string): Node {
    if (kind.description.portable) return readNotation(admitted(local, leftOut));
    // One holder above the root, so that a rule for the whole value is like any other.
    const holder: Node = [admit(local, leftOut)];
    const walk = new Walk();
    const set = (match: Match, node: Node): void => {
      if (node === match.node) return;
      walk.changed();
      const last = match.way.at(-1);
      if (last === undefined) holder[0] = node; else setChild(match.parent, last, node);
    };
    for (const rule of kind.codecs) {
      for (const match of walk.at(holder[0], rule.at)) {
        if (rule.fits?.(match.way, item) === false) continue;
        const opened = inInnermost(match.node, (inner) => this.#open(inner, rule));
        if (opened === DAMAGED) leftOut.push({ at: pointer(match.way), why: 'damaged' });
        else set(match, opened);
      }
    }
    this.#refer(kind, holder, { set, walk }, item);
    holder[0] = this.#readTexts(holder[0], leftOut);
    for (const { node } of kind.unordered.flatMap((path) => matches(holder[0], path))) sortEntries(unwrap(node));
    return holder[0];
  }

  #open(node: Node, rule: CodecRule): Node | typeof DAMAGED {
    switch (rule.codec) {
      case 'html': return typeof node === 'string' ? this.#texts.readHtml(node, rule) : node;
      case 'css': return typeof node === 'string' ? this.#texts.readCss(node) : node;
      case 'url': return typeof node === 'string' ? this.#texts.readUrl(node) : node;
      default: return decode(node, rule);
    }
  }

  #refer(kind: Kind, holder: Node[], { set, walk }: { set: (match: Match, node: Node) => void; walk: Walk }, item: string): void {
    for (const rule of kind.references) {
      for (const match of walk.at(holder[0], rule.at)) {
        if (rule.loose && rule.in === 'value' && !couldBeId(match.node)) continue;
        if (rule.fits?.(match.way, item) === false) continue;
        if (rule.when && !fulfilled(rule.when, match.parent)) continue;
        const from = rule.kindFrom && childOf(match.parent, rule.kindFrom.field);
        const kinds = rule.kindFrom ? [(typeof from === 'string' && Object.hasOwn(rule.kindFrom.map, from) ? rule.kindFrom.map[from] : rule.kindFrom.else) ?? []].flat() : rule.kinds;
        if (kinds.length === 0) continue;
        if (rule.in === 'keys') this.#referKeys(match, kinds, rule, set);
        else set(match, this.#reference(match.node, kinds, rule));
      }
    }
  }

  #reference(node: Node, kinds: readonly string[], rule: Pick<ReferenceRule, 'by' | 'loose' | 'least'>): Node {
    if (node instanceof Decoded) { node.body = this.#reference(node.body, kinds, rule); return node; }
    if (Array.isArray(node)) {
      node.forEach((entry, i) => { node[i] = this.#reference(entry, kinds, rule); });
      return node;
    }
    if (node instanceof Exact && /^[1-9]\d*n$/.test(node.text)) {
      const to = this.#index.byId(kinds, node.text.slice(0, -1));
      return to === undefined ? node : new Reference(to, 'number', node.text.slice(0, -1));
    }
    if ((typeof node !== 'string' && typeof node !== 'number') || node === '' || node === 0) return node;
    const found = this.#look(node, kinds, rule);
    return rule.loose && found instanceof Reference && found.to === undefined ? node : found;
  }

  #look(raw: string | number, kinds: readonly string[], { by, least }: Pick<ReferenceRule, 'by' | 'least'>): Reference | string | number {
    if (least !== undefined && Number(raw) < least) return raw;
    if (by === 'name') {
      if (typeof raw !== 'string') return raw;
      return new Reference(this.#index.byName(kinds, raw), 'name', raw);
    }
    const as = typeof raw === 'number' ? 'number' : 'text';
    const found = this.#index.byId(kinds, localId(raw));
    // A number that is no item's id points to nothing; any other text may mean something else.
    return found !== undefined || /^[1-9]\d*$/.test(String(raw)) ? new Reference(found, as, raw) : raw;
  }

  #referKeys(match: Match, kinds: readonly string[], rule: Pick<ReferenceRule, 'by' | 'least'>, set: (match: Match, node: Node) => void): void {
    const inner = unwrap(match.node);
    const pairs = inner instanceof Entries ? inner.pairs : isPlainObject(inner) ? Object.entries(inner) : undefined;
    if (!pairs) return;
    const read = pairs.map(([key, value]): [Key, Node] => {
      const found = typeof key === 'string' ? this.#look(key, kinds, rule) : key;
      return [found instanceof Reference && found.to === undefined ? key : typeof found === 'number' ? key : found, value];
    });
    const entries = inner instanceof Entries ? inner.with(read) : new Entries(read, false);
    if (match.node instanceof Decoded) match.node.body = entries; else set(match, entries);
  }

  #readTexts(node: Node, leftOut: LeftOut[]): Node {
    if (typeof node === 'string') return this.#readText(node, leftOut);
    if (Array.isArray(node)) { node.forEach((entry, i) => { node[i] = this.#readTexts(entry, leftOut); }); return node; }
    if (node instanceof Decoded) { node.body = this.#readTexts(node.body, leftOut); return node; }
    if (node instanceof Entries) return node.with(node.pairs.map(([key, value]) => [typeof key === 'string' ? this.#texts.read(key) : key, this.#readTexts(value, leftOut)]));
    if (!isPlainObject(node)) return node;
    return this.#readMembers(node, leftOut);
  }

  /** What lies inside a text in base64 that nobody declared, where the site's address is in it. */
  #hidden(text: string): string | undefined {
    const inner = text.length >= SHORTEST_HIDING ? base64Text(text) : undefined;
    return inner !== undefined && this.#texts.concerns(inner) ? inner : undefined;
  }

  /** A serialised value says its own length: where the site's address is in it, it is opened, declared or not. */
  #readText(text: string, leftOut: LeftOut[]): Node {
    const inner = this.#hidden(text);
    if (inner !== undefined) return new Decoded('base64', this.#readTexts(inner, leftOut));
    if (!this.#texts.concerns(text) || !looksSerialised(text)) return this.#texts.read(text);
    const reading = readSerialised(text);
    if (reading.is === 'value') return new Decoded('php', this.#readTexts(reading.node, leftOut));
    if (!leftOut.some((one) => one.why === 'damaged')) leftOut.push({ at: '', why: 'damaged' });
    return text;
  }

  #readMembers(node: { [key: string]: Node }, leftOut: LeftOut[]): Node {
    let spelled = false;
    for (const key of Object.keys(node)) {
      const entry = node[key];
      if (typeof entry === 'string' ? this.#texts.concerns(entry) || this.#hidden(entry) !== undefined : typeof entry === 'object') setOwn(node, key, this.#readTexts(entry, leftOut));
      spelled ||= this.#texts.concerns(key);
    }
    return spelled ? new Entries(Object.entries(node).map(([key, entry]) => [this.#texts.read(key), entry]), false) : node;
  }
}

/** A value can be packed several times over: what one rule opened, the next one opens further. */
function inInnermost(node: Node, open: (inner: Node) => Node | typeof DAMAGED): Node | typeof DAMAGED {
  if (!(node instanceof Decoded)) return open(node);
  if (typeof node.body !== 'string' && !(node.body instanceof Decoded)) return node;
  const opened = inInnermost(node.body, open);
  return opened === DAMAGED ? DAMAGED : opened === node.body ? node : new Decoded(node.codec, opened, node.how);
}

/** A portable form as it came: JSON, where it is safe. */
function admitted(local: unknown, leftOut: LeftOut[]): Json {
  const before = leftOut.length;
  admit(local, leftOut);
  return leftOut.length > before ? null : local as Json;
}

/** One order for lists that have none, the same on every site. */
function sortEntries(list: Node): void {
  if (!Array.isArray(list)) return;
  const order = new Map(list.map((entry) => [entry, canonicalNotation(entry)]));
  list.sort((a, b) => byCodeUnit(order.get(a) ?? '', order.get(b) ?? ''));
}

function fulfilled({ field, is }: { field: string; is?: string | number | boolean | undefined }, parent: Node): boolean {
  const value = childOf(parent, field);
  return is === undefined ? value !== undefined : value === is;
}

/** No address fits into a shorter text in base64. */
const SHORTEST_HIDING = 16;

/** Quickly: might a reference stand here? */
function couldBeId(node: Node): boolean {
  const inner = unwrap(node);
  return typeof inner === 'number' ? inner > 0 : typeof inner === 'string' ? inner !== '' && inner.length <= MAX_ID : Array.isArray(inner) || inner instanceof Exact;
}
/** No id is longer than this. */
const MAX_ID = 64;

/** Takes site-bound, secret and volatile values, parts that nobody asked for, and local ids of belongings out of a tree. */
function separate(kind: Kind, root: Node, item: string, take?: Take): { root: Node; kept: Kept[]; keyed: KeyedLists; taken: Taken[] } {
  const taken: Taken[] = [];
  const keyed = keyedLists(kind, root);
  const kept: Kept[] = [];
  const out: Match[] = [];
  const walk = new Walk();
  for (const rule of kind.withheld) {
    for (const match of walk.at(root, rule.at)) {
      if (match.way.length === 0 || Array.isArray(unwrap(match.parent)) || rule.fits?.(match.way, item) === false) continue;
      const names = namesAlong(root, match.way, keyed);
      if (take && isTaken(take, rule, names)) { taken.push({ at: pointer(names), ...(rule.part === undefined ? {} : { part: rule.part }) }); continue; }
      kept.push({ names, node: match.node, why: rule.why });
      out.push(match);
    }
  }
  for (const match of out) deleteChild(match.parent, match.way.at(-1) as string);
  return { root, kept, keyed, taken };
}

/** Secrets are never taken. */
function isTaken(take: Take, rule: Kind['withheld'][number], names: readonly string[]): boolean {
  if (rule.why === 'unasked' && rule.part !== undefined && take.parts.has(rule.part)) return true;
  return (rule.why === 'unasked' || rule.why === 'site-bound') && takesPlace(take, pointer(names));
}

/** What a tree in portable form refers to, and what it cannot. */
export function findings(kind: Kind, root: Node, keyed = keyedLists(kind, root)): { references: FoundReference[]; lost: Lost[]; files: string[] } {
  const references: FoundReference[] = [];
  const lost: Lost[] = [];
  walkSpecial(root, (node, frame) => {
    let at: string | undefined;
    eachTarget(node, (to, strong) => { references.push({ at: at ??= pointerOf(frame, keyed), to, strong }); });
    if (node instanceof Reference && node.to === undefined) lost.push({ at: pointerOf(frame, keyed), raw: node.raw });
  });
  const files = kind.files.flatMap((path) => matches(root, path)).flatMap(({ node }) => (typeof node === 'string' ? [node] : []));
  return { references, lost, files };
}

