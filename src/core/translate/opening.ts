import { pointer } from '../address.ts';
import type { CodecStep, Kind, Opened, ReferenceStep } from '../kind.ts';
import { setOwn } from '../json.ts';
import { PathSet, type Place } from '../pathset.ts';
import { childOf, Decoded, Entries, isPlainObject, Text, unwrap, type Key, type Node } from '../tree.ts';
import { keyName } from '../tokens.ts';
import type { LeftOut } from './admit.ts';
import { base64Text, DAMAGED, decode } from './codecs.ts';
import { familyAt } from './likename.ts';
import { CHOSEN, chosenIn, couldBeId, countsAsList, holdsSettings, isNumber, isOfMaps, meaningHere, type Here, type Meaning, type Referrer, type Way } from './refer.ts';
import { looksSerialised, readSerialised } from './serialised.ts';
import type { TextReader } from './texts.ts';

type At = Place<CodecStep | ReferenceStep, Opened>;
/** A rule with the kinds that it means at one place. */
const NOTHING: readonly Meaning[] = [];
/** Where no rule leads. */
const NOWHERE: At = new PathSet<CodecStep | ReferenceStep, Opened>([], () => ({ codecs: [], values: [], keys: [], asks: false })).top;
/** No address fits into a shorter text in base64. */
const SHORTEST_HIDING = 16;

/**
 * Opens the value of one item, in one walk: what is packed is opened, ids become references, and addresses in texts become tokens. What a rule opens is
 * a place like any other: rules that lead there go on inside it, however deep.
 */
export class Opening {
  readonly #texts: TextReader;
  readonly #referrer: Referrer;
  readonly #item: string;
  readonly #kind: string;
  readonly #leftOut: LeftOut[];
  readonly #top: At;
  readonly #namedMember: string | undefined;
  /** Names to where the walk is, and the objects that it has gone into. */
  readonly #way: (string | number)[] = [];
  readonly #called: Way;
  readonly #inside: Node[] = [];

  constructor({ texts, referrer }: { texts: TextReader; referrer: Referrer }, kind: Kind, item: string, leftOut: LeftOut[]) {
    this.#texts = texts;
    this.#referrer = referrer;
    this.#item = item;
    this.#kind = kind.id;
    this.#called = { names: this.#way, family: familyAt(`${kind.short}:${item}`) };
    this.#leftOut = leftOut;
    this.#top = kind.opening.top;
    this.#namedMember = kind.description.namedMember;
  }

  /** The tree is used up: what comes back is made of it. */
  read(root: Node): Node {
    const rules = this.#top.rules(this.#item);
    return this.#refer(this.#open(root, rules.codecs), { place: this.#top, rules, siblings: undefined, above: NOTHING });
  }

  #open(node: Node, codecs: readonly CodecStep[]): Node {
    if (codecs.length === 0 || (typeof node !== 'string' && (typeof node !== 'object' || node === null))) return node;
    let opened: Node = node;
    let again = true;
    for (const rule of codecs) {
      // Before a text is read as one, all that is packed in it is open.
      if (again && OF_TEXTS.has(rule.codec)) { opened = this.#openAgain(opened, codecs); again = false; }
      opened = this.#openBy(opened, rule);
    }
    return again ? this.#openAgain(opened, codecs) : opened;
  }

  /** What was packed several times in one way, where that cannot be mistaken for a text. */
  #openAgain(node: Node, codecs: readonly CodecStep[]): Node {
    let opened = node;
    for (let before: unknown; opened !== before && hidesText(opened);) {
      before = opened;
      for (const rule of codecs) if (rule.codec === 'php' || rule.codec === 'json') opened = this.#openBy(opened, rule);
    }
    return opened;
  }

  #openBy(node: Node, rule: CodecStep): Node {
    const now = this.#openInnermost(node, rule);
    if (now !== DAMAGED) return now;
    this.#noteDamaged();
    return node;
  }

  /** Once for a place, however many rules come to it. */
  #noteDamaged(): void {
    const at = pointer(this.#way);
    if (!this.#leftOut.some((one) => one.why === 'damaged' && one.at === at)) this.#leftOut.push({ at, why: 'damaged' });
  }

  /** A value can be packed several times over: what one rule opened, the next one opens further. */
  #openInnermost(node: Node, rule: CodecStep): Node | typeof DAMAGED {
    if (!(node instanceof Decoded)) return this.#unpack(node, rule);
    if (typeof node.body !== 'string' && !(node.body instanceof Decoded)) return node;
    const opened = this.#openInnermost(node.body, rule);
    return opened === DAMAGED ? DAMAGED : opened === node.body ? node : new Decoded(node.codec, opened, node.how);
  }

  #unpack(node: Node, rule: CodecStep): Node | typeof DAMAGED {
    switch (rule.codec) {
      case 'html': return typeof node === 'string' ? this.#texts.readHtml(node, rule) : node;
      case 'css': return typeof node === 'string' ? this.#texts.readCss(node) : node;
      case 'url': return typeof node === 'string' ? this.#texts.readUrl(node) : node;
      default: return decode(node, rule);
    }
  }

  /** A node that is opened already. `above`: rules that hold for the list that it is an entry of, or `mapped`, for the map that counts like one. */
  #refer(node: Node, { place, rules, siblings, above, mapped = false }: { place: At; rules: Opened; siblings: Node; above: readonly Meaning[]; mapped?: boolean }): Node {
    const inner = unwrap(node);
    const chosen = rules.values.length === 0 && above.length === 0 ? undefined : chosenIn(inner);
    const meanings = rules.values.length === 0 ? above : this.#meanings(rules.values, chosen ?? inner, siblings, above);
    if (chosen !== undefined) return this.#below(node, { place, keys: NOTHING, above: meanings.map((one) => ({ ...one, ofChoice: true as const })), choice: true });
    if (Array.isArray(inner)) return this.#below(node, { place, keys: NOTHING, above: meanings });
    const alike = typeof inner === 'object' ? this.#alikeIn(inner, rules.values) : NOTHING;
    if (alike.length > 0) return this.#below(node, { place, keys: NOTHING, above: alike, mapped: true });
    let found = node;
    for (const one of meanings) found = this.#referrer.value(found, one.kinds, one.rule, this.#wayFor(one));
    const keys = rules.keys.length === 0 || typeof inner !== 'object' ? NOTHING : this.#meanings(rules.keys, inner, siblings, NOTHING);
    // What holds for such a map holds for maps in it too, as of the pages for each use in each language.
    const forAll = rules.values.length > 0 || mapped ? meanings.filter(({ rule }) => countsAsList(rule, inner)) : NOTHING;
    return this.#below(found, forAll.length > 0 ? { place, keys, above: forAll, mapped: true } : { place, keys, above: meanings });
  }

  /** Those rules that mean something here, in their order. `inner`: what might be an id or a list of ids. */
  #meanings(rules: readonly ReferenceStep[], inner: Node, siblings: Node, above: readonly Meaning[]): readonly Meaning[] {
    const own: Meaning[] = [];
    let here: Here | undefined;
    for (const rule of rules) {
      const isMap = countsAsList(rule, inner);
      if (rule.none) break;
      if (isOfMaps(rule) && !isMap) continue;
      if (rule.in === 'value' && rule.loose && !isMap && !couldBeId(inner)) continue;
      if (rule.itself && !this.#referrer.isIdOf(inner, this.#kind, this.#item)) continue;
      if (rule.kin && !this.#areKin(inner, rule, siblings)) continue;
      const meaning = rule.told ? this.#told(rule, inner, siblings) : meaningHere(rule, siblings, here ??= this.#here());
      if (meaning.kinds.length > 0 && (!isMap || this.#isMapOfIds(inner, meaning))) own.push(meaning);
    }
    return own.length === 0 ? above : above.length === 0 ? own : [...above, ...own].sort((a, b) => a.rule.order - b.rule.order);
  }

  /** At the top the name of the item itself stands beside everything, and says nothing of it. */
  #told(rule: ReferenceStep, inner: Node, siblings: Node): Meaning {
    return { rule: { ...rule, least: 1 }, kinds: this.#way.length > 1 || rule.in === 'keys' ? this.#referrer.toldKinds(inner, rule, siblings) : [] };
  }

  /** What holds for the values of a map that is called after them. */
  #alikeIn(map: Node, rules: readonly ReferenceStep[]): readonly Meaning[] {
    const called = (rule: ReferenceStep): string => String(this.#wayFor({ rule }).names.at(-1) ?? '');
    return rules.flatMap((rule): Meaning[] => (rule.alike === true && !isOfMaps(rule) && this.#referrer.isMapOfAlike(map, rule, called(rule)) ? [{ rule, kinds: rule.kinds, ofMap: true }] : []));
  }

  #areKin(inner: Node, rule: ReferenceStep, siblings: Node): boolean {
    const names = [this.#item, ...this.#way];
    if (!this.#referrer.areKin(inner, rule, names)) return false;
    if (rule.beside === undefined) return true;
    const other = unwrap(childOf(siblings, rule.beside));
    return other !== undefined && (!isNumber(other) || this.#referrer.areKin(other, rule, names));
  }

  #isMapOfIds(map: Node, { kinds, rule }: Meaning): boolean {
    return rule.maps === 'languages' ? this.#referrer.areTranslations(map, kinds, rule, String(this.#way.at(-1) ?? '')) : this.#referrer.isMapOfIds(map, kinds, rule);
  }

  /** The names on the way to a value, with that of the item for the member that it names, where a rule asks for it. */
  #wayFor({ rule: { alike }, ofChoice, ofMap }: Pick<Meaning, 'rule' | 'ofChoice' | 'ofMap'>): Way {
    if (ofMap) return { ...this.#called, names: [this.#item, ...this.#way.slice(this.#way[0] === this.#namedMember ? 1 : 0, -1), 0] };
    if (ofChoice) return { ...this.#called, names: this.#way.toSpliced(this.#way.lastIndexOf(CHOSEN), 1) };
    return alike !== false && this.#way[0] === this.#namedMember ? { ...this.#called, names: [this.#item, ...this.#way.slice(1)] } : this.#called;
  }

  #here(): Here {
    const around = holdsSettings(this.#way.at(-2)) ? this.#inside.at(-2) : undefined;
    return { name: String(this.#way.at(-1) ?? ''), item: this.#item, definitions: this.#referrer.definitions, around };
  }

  #below(node: Node, at: Inside): Node {
    if (typeof node === 'string') return this.#text(node);
    if (typeof node !== 'object' || node === null) return node;
    if (Array.isArray(node)) return this.#list(node, at);
    if (node instanceof Decoded) { node.body = this.#below(node.body, { ...at, listed: node.codec === 'list' }); return node; }
    if (node instanceof Entries) return this.#entries(node, at);
    return isPlainObject(node) ? this.#members(node, at) : node;
  }

  #list(list: Node[], { place, above: said, listed }: Inside): Node {
    const above = said.length === 0 ? said : said.map((one) => this.#referrer.inList(one, list));
    for (let i = 0; i < list.length; i++) {
      const entry = place.entry(i, list.length);
      const rules = entry.rules(this.#item);
      this.#way.push(i);
      // An entry of a text that was a list is no list of one again.
      list[i] = this.#refer(this.#open(list[i], listed === true ? rules.codecs.filter(({ codec }) => codec !== 'list') : rules.codecs), { place: entry, rules, siblings: list, above });
      this.#way.pop();
    }
    return list;
  }

  #members(object: { [key: string]: Node }, { place, keys, above, mapped = false, choice = false }: Inside): Node {
    const names = Object.keys(object);
    const referred = this.#keys(object, keys);
    const before = referred instanceof Entries ? referred.pairs.map(([key]) => key) : names;
    const isEntry = (i: number): boolean => isGap(before[i]);
    const opened = names.map((key, i): Member => {
      const name = keyName(key);
      const child = isEntry(i) ? place.numbered(name, i, names.length) : place.child(name);
      const rules = child.rules(this.#item);
      const packed = object[key];
      if (rules.codecs.length > 0) { this.#way.push(name); const node = this.#open(packed, rules.codecs); this.#way.pop(); if (node !== packed) setOwn(object, key, node); }
      return { name, key: this.#name(before[i] ?? key, rules), place: child, rules };
    });
    // Conditions look at what stands beside as it was opened, not at what becomes of it.
    const siblings = opened.some(({ rules }) => rules.asks) ? { ...object } : object;
    for (let i = 0; i < names.length; i++) {
      const key = names[i] as string;
      const node = object[key];
      const now = this.#member(node, opened[i] as Member, siblings, mapped || isEntry(i) || (choice && key === CHOSEN) ? above : NOTHING, mapped);
      if (now !== node) setOwn(object, key, now);
    }
    return opened.every(({ key }, i) => key === names[i]) ? object : new Entries(names.map((key, i) => [(opened[i] as Member).key, object[key]]), false);
  }

  #entries(entries: Entries, { place, keys, above, mapped = false, choice = false }: Inside): Node {
    const { pairs } = entries;
    const referred = this.#keys(entries, keys) as Entries;
    const isEntry = (i: number): boolean => isGap(referred.pairs[i]?.[0]);
    const opened = pairs.map((pair, i): Member => {
      const name = keyName(pair[0]);
      const child = isEntry(i) ? place.numbered(name, i, pairs.length) : place.child(name);
      const rules = child.rules(this.#item);
      this.#way.push(name);
      pair[1] = this.#open(pair[1], rules.codecs);
      this.#way.pop();
      return { name, key: this.#name(referred.pairs[i]?.[0] ?? name, rules), place: child, rules };
    });
    const siblings = opened.some(({ rules }) => rules.asks) ? entries.with(pairs.map(([key, value]) => [key, value])) : entries;
    pairs.forEach((pair, i) => { pair[1] = this.#member(pair[1], opened[i] as Member, siblings, mapped || isEntry(i) || (choice && opened[i]?.name === CHOSEN) ? above : NOTHING, mapped); });
    return opened.every(({ key }, i) => key === pairs[i]?.[0]) ? entries : entries.with(pairs.map(([, value], i) => [(opened[i] as Member).key, value]));
  }

  #member(node: Node, { name, key, place, rules: all }: Member, siblings: Node, above: readonly Meaning[], mapped: boolean): Node {
    const rules = key instanceof Text && isKeptOf(name, node) ? { ...all, values: [] } : all;
    // Numbers and the like are done with, unless they are ids.
    if (typeof node !== 'string' && typeof node !== 'object' && rules.values.length === 0 && above.length === 0) return node;
    this.#way.push(name);
    this.#inside.push(siblings);
    const now = this.#refer(node, { place, rules, siblings, above, mapped });
    this.#inside.pop();
    this.#way.pop();
    return now;
  }

  #keys(node: Node, keys: readonly Meaning[]): Node {
    let found = node;
    for (const one of keys) found = this.#referrer.keys(found, one.kinds, one.rule, this.#wayFor(one));
    return found;
  }

  /** The name of a member with what stands in it: the address of the site, ids where patterns for texts find them. */
  #name(key: Key, rules: Opened): Key {
    if (typeof key !== 'string') return key;
    const html = NUMBERED.test(key) ? rules.codecs.find((rule) => rule.codec === 'html') : undefined;
    return html?.codec === 'html' ? this.#texts.readName(key, html) : this.#texts.read(key);
  }

  /** Text that nobody declared. A serialised value says its own length, and base64 hides: where the site's address is in them, they are opened. */
  #text(text: string): Node {
    const inner = this.#hidden(text);
    if (inner !== undefined) return new Decoded('base64', this.#plain(inner));
    if (!this.#texts.concerns(text) || !looksSerialised(text)) return this.#texts.read(text);
    const reading = readSerialised(text);
    if (reading.is === 'value') return new Decoded('php', this.#plain(reading.node));
    if (!this.#leftOut.some((one) => one.why === 'damaged')) this.#leftOut.push({ at: '', why: 'damaged' });
    return text;
  }

  /** What lies inside a text in base64 that nobody declared, where the site's address is in it. */
  #hidden(text: string): string | undefined {
    const inner = text.length >= SHORTEST_HIDING ? base64Text(text) : undefined;
    return inner !== undefined && this.#texts.concerns(inner) ? inner : undefined;
  }

  /** Only texts are read in it: no rule leads there. */
  #plain(node: Node): Node { return this.#below(node, { place: NOWHERE, keys: NOTHING, above: NOTHING }); }
}

/** Codecs that read a text as it is. */
const OF_TEXTS: ReadonlySet<string> = new Set(['html', 'css', 'url']);

/** Is there a text inside what was opened? */
function hidesText(node: Node): boolean { return node instanceof Decoded && (typeof node.body === 'string' || hidesText(node.body)); }

/** Is this the key of a list with gaps, which is a map by numbers? What holds for a list holds for its entries, unless the numbers are ids themselves. */
function isGap(key: Key | undefined): boolean {
  // Most keys are words, which one look tells.
  return typeof key === 'string' && key.charCodeAt(0) <= NINE && /^\d{1,9}$/.test(key);
}
const NINE = '9'.charCodeAt(0);
/** A name that could hold an id beside words. */
const NUMBERED = /[^\d]\d/;

/** A name that ends with the id of an item says that item: another value is something that is kept of it. */
function isKeptOf(name: string, node: Node): boolean {
  if (typeof node !== 'string' && typeof node !== 'number') return false;
  const [id] = /\d+$/.exec(name) ?? [];
  return id !== undefined && id !== String(node);
}

/** What holds below a node. `above`: rules for the list itself, and so for its entries. `listed`: it was a text that is a list. `mapped`: a map that counts like a list. */
interface Inside { readonly place: At; readonly keys: readonly Meaning[]; readonly above: readonly Meaning[]; readonly listed?: boolean; readonly mapped?: boolean; /** It holds for the value of a choice. */ readonly choice?: boolean }
interface Member { readonly name: string; /** Its name with what was found in that. */ readonly key: Key; readonly place: At; readonly rules: Opened }
