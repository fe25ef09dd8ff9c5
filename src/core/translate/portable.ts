import type { Kind, WithheldStep, Withholding } from '../kind.ts';
import type { Address } from '../address.ts';
import { byCodeUnit, type Json } from '../json.ts';
import { matches } from '../path.ts';
import type { Place } from '../pathset.ts';
import type { SiteIndex } from '../siteindex.ts';
import { childOf, childrenOf, cloneNode, Decoded, deleteChild, Entries, isPlainObject, Reference, setChild, unwrap, type Node, type Packing } from '../tree.ts';
import { admit, type LeftOut } from './admit.ts';
import { keyedLists, namesAlong, pointerOf, walkSpecial, type KeyedLists } from './keyed.ts';
import { canonicalNotation, eachTarget, readNotation } from './notation.ts';
import { Opening } from './opening.ts';
import { pointer } from '../address.ts';
import { Referrer } from './refer.ts';
import { takesPlace, type Take } from '../take.ts';
import { looseFiles, mayHaveLooseFiles } from './loosefiles.ts';
import { hostOf, placesNaming } from './named.ts';
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
  /** Places that speak of the site's host in a way that is no address of it. */
  readonly named: readonly string[];
  /** Paths of files that it speaks of and that no item has. */
  readonly loose: readonly string[];
}

/** A withheld value with where it stood, by names of the keyed view. */
export interface Kept { readonly names: readonly string[]; readonly node: Node; readonly why: Withholding }

export interface Separated { readonly root: Node; readonly kept: readonly Kept[]; readonly whole: Node }

/** Makes portable forms of the items of one site. Pure: all that it needs of the site is in the index. */
export class Exporter {
  readonly #site: { readonly texts: TextReader; readonly referrer: Referrer };
  readonly #host: string | undefined;

  constructor(index: SiteIndex) {
    this.#site = { texts: new TextReader(index), referrer: new Referrer(index) };
    this.#host = hostOf(index.site);
  }

  /** `item`: the name of the item, which some rules ask for. `take`: what is taken although it usually stays. */
  portable(kind: Kind, local: unknown, item = '', take?: Take): Portable {
    const leftOut: LeftOut[] = [];
    const root = this.#opened(kind, local, leftOut, item);
    const { root: tree, kept, keyed, taken } = separate(kind, root, item, take);
    const text = canonicalNotation(tree);
    const named = this.#host !== undefined && text.includes(this.#host) ? placesNaming(tree, this.#host) : [];
    const loose = mayHaveLooseFiles(text) ? looseFiles(tree) : [];
    return { text, named, loose, ...findings(kind, tree, keyed), withheld: kept.filter((one) => one.why !== 'own-id').map((one) => ({ at: pointer(one.names), why: one.why })), leftOut, taken };
  }

  /** The value as a tree, with what stays on the site taken out and named; `whole` is the same with everything in its place. */
  separated(kind: Kind, local: unknown, item = '', take?: Take): Separated {
    const root = this.#opened(kind, local, [], item);
    const whole = cloneNode(root);
    const { kept } = separate(kind, root, item, take);
    return { root, kept, whole };
  }

  #opened(kind: Kind, local: unknown, leftOut: LeftOut[], item: string): Node {
    if (kind.description.portable) return readNotation(admitted(local, leftOut));
    const root = new Opening(this.#site, kind, item, leftOut).read(admit(local, leftOut));
    for (const { at, own } of kind.unordered) for (const { node } of matches(root, at)) sortEntries(unwrap(node), own);
    return root;
  }
}

/** A portable form as it came: JSON, where it is safe. */
function admitted(local: unknown, leftOut: LeftOut[]): Json {
  const before = leftOut.length;
  admit(local, leftOut);
  return leftOut.length > before ? null : local as Json;
}

/** One order for lists that have none, the same on every site, where the ids of their entries are others. */
function sortEntries(list: Node, own: string | undefined): void {
  if (!Array.isArray(list)) return;
  const order = new Map(list.map((entry) => [entry, canonicalNotation(own === undefined ? entry : lacking(entry, own))]));
  list.sort((a, b) => byCodeUnit(order.get(a) ?? '', order.get(b) ?? ''));
}

function lacking(entry: Node, member: string): Node { const rest = cloneNode(entry); deleteChild(rest, member); return rest; }

/** Takes site-bound, secret and volatile values, parts that nobody asked for, and local ids of belongings out of a tree. */
function separate(kind: Kind, root: Node, item: string, take?: Take): { root: Node; kept: Kept[]; keyed: KeyedLists; taken: Taken[] } {
  const taken: Taken[] = [];
  const keyed = keyedLists(kind, root);
  const kept: Kept[] = [];
  const out: Standing[] = [];
  for (const one of standing(kind, root, item)) {
    const names = namesAlong(root, one.way, keyed);
    if (take && isTaken(take, one.rule, names)) { taken.push({ at: pointer(names), ...(one.rule.part === undefined ? {} : { part: one.rule.part }) }); continue; }
    kept.push({ names, node: one.node, why: one.rule.why });
    out.push(one);
  }
  for (const { parent, way } of out) deleteChild(parent, way.at(-1) as string);
  for (const { way } of out) emptyAsRead(root, way.slice(0, -1));
  return { root, kept, keyed, taken };
}

/** A serialised map of which nothing is left reads like an empty list: so it is one here too, or the target would never equal it. */
function emptyAsRead(root: Node, way: readonly (string | number)[]): void {
  const here: { at: Node; packing?: Packing; replace?: (value: Node) => void } = { at: root };
  for (const step of [...way, undefined]) {
    while (here.at instanceof Decoded) {
      const packed = here.at;
      [here.at, here.packing, here.replace] = [packed.body, packed.codec, (value) => { packed.body = value; }];
    }
    if (step === undefined) continue;
    const above = here.at;
    [here.at, here.replace] = [childOf(above, step), (value) => { setChild(above, step, value); }];
  }
  if (here.packing === 'php' && here.at instanceof Entries && here.at.className === undefined && here.at.pairs.length === 0) here.replace?.([]);
}

/** A member that a rule keeps on the site. */
interface Standing { readonly rule: WithheldStep; readonly way: readonly (string | number)[]; readonly parent: Node; readonly node: Node }

/** Members at the places of the rules, in the order of the rules, and for each in that of the document; one that several rules keep for one reason is there once. */
function standing(kind: Kind, root: Node, item: string): Standing[] {
  const found: Standing[] = [];
  const way: (string | number)[] = [];
  const walk = (node: Node, place: Place<WithheldStep, readonly WithheldStep[]>): void => {
    if (place.idle || typeof node !== 'object' || node === null) return;
    const inner = unwrap(node);
    if (Array.isArray(inner)) { inner.forEach((entry, i) => { way.push(i); walk(entry, place.entry(i, inner.length)); way.pop(); }); return; }
    for (const [name, child] of childrenOf(inner)) {
      const below = place.child(name as string);
      way.push(name);
      for (const rule of below.rules(item)) if (rule.is === undefined || unwrap(child) === rule.is) found.push(...standingAt({ rule, way: [...way], parent: node, node: child }));
      walk(child, below);
      way.pop();
    }
  };
  walk(root, kind.withheld.top);
  const seen = new Set<string>();
  return found.filter(({ rule, way: at }) => { const key = JSON.stringify([rule.why, rule.part, ...at]); return !seen.has(key) && seen.add(key); }).sort((a, b) => a.rule.order - b.rule.order);
}

/** A group of settings that only its name makes a secret stays what it is, without the values in it: an extension may count on its being there. */
function standingAt(one: Standing): Standing[] {
  const inner = unwrap(one.node);
  if (one.rule.why !== 'secret' || one.rule.fits === undefined || !(isPlainObject(inner) || inner instanceof Entries || (Array.isArray(inner) && inner.length === 0))) return [one];
  // Of a group that came without its values nothing is left that could be kept.
  return childrenOf(inner).flatMap(([name, child]) => standingAt({ rule: one.rule, way: [...one.way, name], parent: one.node, node: child }));
}

/** Secrets are never taken. */
function isTaken(take: Take, rule: WithheldStep, names: readonly string[]): boolean {
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

