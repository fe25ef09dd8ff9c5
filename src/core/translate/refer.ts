import { kindWord } from '../address.ts';
import { FIRST, type ReferenceStep } from '../kind.ts';
import { areSizes, isMeasure } from '../measures.ts';
import { SAYS_WHICH } from '../words.ts';
import { localId, type SiteIndex } from '../siteindex.ts';
import { isAlike, isCalledSo, isOfSort, kinshipOf, nameIn, sortIn, type Sort } from './likename.ts';
import { LinkReader } from './links.ts';
import { childOf, childrenOf, Decoded, Entries, Exact, isPlainObject, Reference, Text, unwrap, type Key, type Node } from '../tree.ts';

type Looking = Pick<ReferenceStep, 'by' | 'least' | 'listed' | 'alike'> & Sorted;
/** What is said beside a value of the sort of the items that are meant: is it this one? */
interface Sorted { readonly said?: ((sort: Sort) => boolean) | undefined }
/** Names on the way to a node. */
type Names = readonly (string | number)[];
/** The same, and the extension that the item is of. */
export interface Way { readonly names: Names; readonly family: string | undefined }
/** A rule at one place: the kinds that it means there, and what says the sort of the items, where that counts. */
export interface Meaning { readonly rule: ReferenceStep & Sorted; readonly kinds: readonly string[]; /** It is said of the choice whose value stands here. */ readonly ofChoice?: true; /** It is said of the map in which this is a value. */ readonly ofMap?: true }

/** What a value is called, the item that it is in, and what the site says that defines it. */
export interface Here { readonly name: string; readonly item: string; readonly definitions: ReadonlyMap<string, string>; /** What stands beside the object that it is in, where that only holds settings. */ readonly around: Node }

/** What a rule means here, beside these siblings; no kinds where it does not hold, or what a word says is how many there are. */
export function meaningHere(rule: ReferenceStep, siblings: Node, here: Here): Meaning {
  const meaning = meaningOf(rule, siblings, here);
  return rule.sorts && meaning.kinds.length > 0 && isCompared(siblings) ? { rule, kinds: [] } : meaning;
}

function meaningOf(rule: ReferenceStep, siblings: Node, here: Here): Meaning {
  if ((rule.when && !fulfilled(rule.when, siblings)) || rule.without.some((field) => childOf(siblings, field) !== undefined)) return { rule, kinds: [] };
  if (!rule.sorts) return { rule, kinds: rule.kinds };
  const { fields, others, named } = rule.sorts;
  const said: string[] = [];
  for (const field of fields) for (const there of saidBy(field, siblings, here)) {
    const word = rule.sorts.defined ? here.definitions.get(typeof there === 'string' ? there : '') : there;
    if (typeof word !== 'string' || word === '') continue;
    const kinds = rule.sorts.kinds(word);
    // What an extension calls after itself may be a thing, though the word alone would say that it is none.
    if (kinds?.length === 0 && named.length > 0 && FULL_NAME.test(word)) return { rule: { ...rule, said: ({ own }) => own === word }, kinds: named };
    if (kinds) return { rule, kinds };
    said.push(word);
  }
  return said.length > 0 && named.length > 0 ? { rule: { ...rule, said: (sort) => said.some((word) => isOfSort(word, sort)) }, kinds: named } : { rule, kinds: others };
}

/** Is what stands here more or less than something, which no id is? */
function isCompared(siblings: Node): boolean {
  if (siblings instanceof Entries) return siblings.pairs.some(([, sign]) => saysMoreOrLess(sign));
  // Asked for most references: nothing is made for it.
  if (isPlainObject(siblings)) for (const name in siblings) if (saysMoreOrLess(siblings[name])) return true;
  return false;
}
function saysMoreOrLess(sign: unknown): boolean { return typeof sign === 'string' && COMPARING.test(sign); }
const COMPARING = /^(?:[<>]=?|[gl]te?|(?:greater|less|more|fewer)(?:[_ -]than(?:[_ -]or[_ -]equal(?:[_ -]to)?)?)?|at[_ -](?:least|most))$/i;

const FULL_NAME = /^[a-z\d]+[_-][a-z\d]/i;
/** Stands for the name of the item, for its sort, for what objects define that are called as the member, for every other member, and before a field of what is around. */
const [OF_ITEM, OF_SORT, OF_MEMBER, ANY, AROUND] = ['{item}', '{sort}', '{member}', '*', '^'];
/** A word that could be one for a sort, and no title. */
const ONE_WORD = /^[a-z][\w-]{1,40}$/i;

/** What a field says that a rule asks for. */
function saidBy(field: string, siblings: Node, here: Here): readonly Node[] {
  if (field === OF_ITEM) return [here.item];
  if (field === OF_SORT) return [sortIn(here.item).own];
  if (field === OF_MEMBER) return definedAs(here.name);
  if (field === FIRST) return Array.isArray(siblings) ? siblings.slice(0, 1) : [];
  if (field === ANY) return childrenOf(siblings).flatMap(([, value]) => (typeof value === 'string' && ONE_WORD.test(value) ? [value] : []));
  return [field.startsWith(AROUND) ? childOf(here.around, field.slice(AROUND.length)) : childOf(siblings, field.replace('{name}', here.name))];
}
/** What a value is called where something defines it: a field of one of several rows has its place in its name, and what is hidden a line before it. */
function definedAs(name: string): string[] {
  const plain = name.replace(/^_+/, '');
  return [...new Set([name, plain, plain.replace(/^.*_\d+_/, '')])].map(definedBy);
}
/** What a definition is called that an object makes of what is called so. */
export function definedBy(name: string): string { return `.${name}`; }

/** The value of an object that is nothing but a choice: beside it is what people saw when they chose, or nothing. */
export function chosenIn(node: Node): Node | undefined {
  if (typeof node !== 'object' || node === null || Array.isArray(node)) return undefined;
  // Most have no such member, which is quickly seen.
  if (node instanceof Entries ? !node.pairs.some(([key]) => key === CHOSEN) : !Object.hasOwn(node, CHOSEN)) return undefined;
  const value = childOf(node, CHOSEN);
  return value !== undefined && (SEEN_AS.some((name) => typeof childOf(node, name) === 'string') || childrenOf(node).length === 1) ? value : undefined;
}
/** The member that is chosen, and those that say it to people. */
export const [CHOSEN, SEEN_AS] = ['value', ['label', 'text']] as const;

/** Names of objects that say nothing but that settings of something are in them. */
const SETTINGS = new Set(['settings', 'options', 'data', 'config', 'configuration', 'args', 'params', 'parameters', 'attributes', 'attrs', 'props']);
export function holdsSettings(name: string | number | undefined): boolean { return typeof name === 'string' && SETTINGS.has(name); }

function fulfilled({ field, is }: NonNullable<ReferenceStep['when']>, siblings: Node): boolean {
  const value = childOf(siblings, field);
  return is === undefined ? value !== undefined : value === is;
}

/** Turns ids and names into references, as rules say. One per site. */
export class Referrer {
  readonly #index: SiteIndex;
  readonly #links: LinkReader;

  constructor(index: SiteIndex) {
    this.#index = index;
    this.#links = new LinkReader(index);
  }

  get definitions(): ReadonlyMap<string, string> { return this.#index.definitions; }

  /** Is a value the local id of an item? */
  isIdOf(value: Node, kind: string, name: string): boolean { return (typeof value === 'number' || typeof value === 'string') && String(value) === String(this.#index.idOf(this.#index.addressOf({ kind, name }))); }

  /** A value that is no list, packed or not. */
  value(node: Node, kinds: readonly string[], rule: Looking & Pick<ReferenceStep, 'loose'>, way: Way): Node {
    if (node instanceof Decoded) { node.body = this.value(node.body, kinds, rule, way); return node; }
    if (node instanceof Exact && /^[1-9]\d*n$/.test(node.text)) {
      const to = this.#index.byId(kinds, node.text.slice(0, -1));
      return to === undefined ? node : new Reference(to, 'number', node.text.slice(0, -1));
    }
    if ((typeof node !== 'string' && typeof node !== 'number') || node === '' || node === 0 || (rule.loose && !couldBeId(node))) return node;
    const sign = rule.alike === true && typeof node === 'string' ? LISTED.exec(node)?.[1] : undefined;
    if (sign !== undefined) return this.#list(String(node), sign, kinds, { rule, way });
    const found = this.#look(node, kinds, rule, way);
    return rule.loose && found instanceof Reference && found.to === undefined ? node : found;
  }

  /** Several ids in a text, where what it is called says it of all of them. */
  #list(text: string, sign: string, kinds: readonly string[], { rule, way }: { rule: Looking; way: Way }): Node {
    const found = text.split(sign).map((one) => this.#look(one, kinds, rule, { ...way, names: [...way.names, 0] }));
    return found.every((one) => one instanceof Reference && one.to !== undefined) ? new Decoded('list', found, sign) : text;
  }

  /** What a rule means in a list. Small numbers in it are ids as well, where all could be some and one is large enough: of a list either everything is meant or nothing. */
  inList(meaning: Meaning, list: readonly Node[]): Meaning {
    const { rule, kinds } = meaning;
    const least = rule.listed ?? rule.least ?? 1;
    if (least <= 1 || list.length < 2) return meaning;
    const isSmall = (entry: Node): boolean => Number(unwrap(entry)) < least;
    return list.some(isSmall) && !list.every(isSmall) && list.every((entry) => this.#isId(unwrap(entry), kinds, 1)) ? { ...meaning, rule: { ...rule, listed: 1 } } : meaning;
  }

  /** A map of nothing but ids, or of such maps too: of such kinds, and not smaller than the rule says. */
  isMapOfIds(node: Node, kinds: readonly string[], { least = 1 }: Pick<Looking, 'least'>): boolean {
    const pairs = membersOf(node) ?? [];
    const values = pairs.map(([, value]) => value).filter(holdsSome);
    return values.length > 0 && !isRange(pairs.map(([key]) => key)) && values.every((value) => this.#isId(value, kinds, least) || this.isMapOfIds(value, kinds, { least }));
  }

  /** Ids of the same thing in several languages, under a name that says no measure: all of one sort. */
  areTranslations(map: Node, kinds: readonly string[], { least = 1 }: Pick<Looking, 'least'>, called: string): boolean {
    const ids = (membersOf(map) ?? []).map(([, value]) => unwrap(value)).filter(holdsSome);
    const sorts = ids.map((value) => (typeof value === 'number' || typeof value === 'string') && Number(value) >= least ? this.#sortById(kinds, value) : undefined);
    return new Set(ids.map(String)).size > 1 && sorts[0] !== undefined && sorts.every((sort) => sort === sorts[0]) && !isMeasure(called);
  }

  /** Ids of nothing but the very things that the map is called after, several of them: each has a name that only tells it from the others. */
  isMapOfAlike(map: Node, { kinds, least = 1 }: Pick<ReferenceStep, 'kinds' | 'least'>, called: string): boolean {
    const pairs = (membersOf(map) ?? []).filter(([, value]) => holdsSome(value));
    return pairs.length > 1 && !isMeasure(called) && !isRange(pairs.map(([key]) => key)) && pairs.every(([key, value]) => typeof key === 'string' && !AN_ID.test(key) && !isMeasure(key) && this.#isId(value, kinds, least, (there) => isAlike(called, true, this.#index.sortOf(there))));
  }

  /** The sort of the item with an id, as a text. */
  #sortById(kinds: readonly string[], id: string | number): string | undefined {
    const address = this.#index.byId(kinds, localId(id));
    if (address === undefined) return undefined;
    const { own, called } = this.#index.sortOf(address);
    return called[0] ?? `${kindWord(address)}:${own ?? ''}`;
  }

  /** Several ids, in a list, as the names of members, or one for each of something that goes by ids, all of items of one family with what they stand in. `names`: what that is called. */
  areKin(node: Node, { in: where, kin, kinds, least = 1 }: Pick<ReferenceStep, 'in' | 'kin' | 'kinds' | 'least'>, names: Names): boolean {
    const last = String(names.at(-1));
    const ids = where === 'keys' ? namesLikeIds(node, AN_ID.test(last)) : Array.isArray(node) ? node : kin === 'one' ? [node] : idsInMaps(node, last);
    const families = new Set(ids.length === 0 ? [] : names.flatMap((name) => kinshipOf(String(name)) ?? []));
    const isKin = (value: Node): boolean => this.#isId(value, kinds, least, (there) => families.has(kinshipOf(nameIn(there)) ?? ''));
    if (families.size === 0 || !ids.every(isKin) || areSizes(last)) return false;
    // One alone may be so by chance, unless what it stands under is one too.
    return where === 'keys' || kin === 'one' || new Set(ids.map(String)).size > 1 || isKin(names.at(-1)) || ((Array.isArray(node) || oneForEachId(node, last).length > 0) && Number(ids[0]) >= NO_CHANCE && !isMeasure(last));
  }

  /**
   * Those kinds of which an item has this id and is the one that a text beside it says; of the names of members, that what stands under each says.
   * No number is too small that has nothing but that text beside it.
   */
  toldKinds(node: Node, { in: where, kinds, least = 1 }: Pick<ReferenceStep, 'in' | 'kinds' | 'least'>, siblings: Node): readonly string[] {
    if (where === 'keys') {
      const found = (membersOf(node) ?? []).map(([id, text]) => this.#kindsSaid(id, textsIn([text]), kinds, least));
      return found.every((one) => one.length > 0) ? [...new Set(found.flat())] : [];
    }
    if (!isNumber(node)) return [];
    const beside = childrenOf(siblings ?? null).map(([, value]) => value);
    return this.#kindsSaid(String(node), textsIn(beside), kinds, beside.length === 2 ? 1 : least);
  }

  /** Those kinds of which an item has this id and is said by one of these texts. */
  #kindsSaid(id: Key, texts: readonly (string | Text)[], kinds: readonly string[], least: number): readonly string[] {
    if (texts.length === 0 || typeof id !== 'string' || !AN_ID.test(id) || Number(id) < least) return [];
    return kinds.filter((kind) => this.#index.byId([kind], localId(id), (there) => texts.some((text) => this.#links.says(text, there))) !== undefined);
  }

  #isId(value: Node, kinds: readonly string[], least: number, fits?: (address: string) => boolean): boolean {
    return (typeof value === 'number' || typeof value === 'string') && Number(value) >= least && this.#index.byId(kinds, localId(value), fits) !== undefined;
  }

  /** The names of the members of a map. */
  keys(node: Node, kinds: readonly string[], { listed, ...rule }: Looking, way: Way): Node {
    const pairs = membersOf(node);
    if (!pairs) return node;
    // There are as many as the map has members: a plural may say what they are.
    const { names } = way;
    const inside = { ...way, names: rule.alike === true ? [...names.slice(0, -1), forWhat(names.at(-1)), 0] : [...names, 0] };
    const are = (smallest: number): boolean => pairs.every(([key]) => typeof key === 'string' && this.#isId(key, kinds, smallest));
    // As of a list: either all are meant or none.
    const { least: from = 1 } = rule;
    const isLarge = from > 1 && pairs.some(([key]) => Number(key) >= from);
    const least = listed !== undefined && are(listed) ? listed : isLarge && are(1) ? 1 : rule.least;
    const read = pairs.map(([key, value]): [Key, Node] => {
      const found = typeof key === 'string' ? this.#look(key, kinds, least === undefined ? rule : { ...rule, least }, inside) : key;
      return [found instanceof Reference && found.to !== undefined ? found : key, value];
    });
    return read.every(([key], i) => key === pairs[i]?.[0]) ? node : node instanceof Entries ? node.with(read) : new Entries(read, false);
  }

  #look(raw: string | number, kinds: readonly string[], { by, least = 0, listed = least, said, alike }: Looking, { names, family }: Way): Reference | string | number {
    if (Number(raw) < (typeof names.at(-1) === 'number' ? listed : least)) return raw;
    if (by === 'name') {
      if (typeof raw !== 'string') return raw;
      return new Reference(this.#index.byName(kinds, raw), 'name', raw);
    }
    const as = typeof raw === 'number' ? 'number' : 'text';
    const found = this.#index.byId(kinds, localId(raw), said === undefined && alike === false ? undefined : (there) => {
      const sort = this.#index.sortOf(there);
      return said?.(sort) !== false && (alike === false || (alike === 'name' ? isCalledSo(names.findLast((step) => typeof step === 'string') ?? '', nameIn(there)) : endsAlike(names, sort, as === 'text' && Number(raw) >= NO_CHANCE)));
    }, family);
    // A number that is no item's id points to nothing; any other text may mean something else.
    return found !== undefined || /^[1-9]\d*$/.test(String(raw)) ? new Reference(found, as, raw) : raw;
  }
}

/** What the names of members are of, where a map says that it has something for each: "per_page", "prices_per_page" and "page_settings" are by page. */
function forWhat(name: string | number | undefined): string | number { return typeof name === 'string' ? name.replace(PER, '').replace(OF_EACH, '') : name ?? ''; }
const PER = /^(?:.*[_-])?(?:by|for|per)[_-](?=.)|^(?:.*(?=[BFP]))?(?:[bB]y|[fF]or|[pP]er)(?=[A-Z])/;
const OF_EACH = /(?<=.)(?:[_-]|(?=[A-Z]))(?:settings?|options?|config(?:uration)?s?|data|args|params|meta|info|rules|styles?|designs?|overrides|labels?|titles|texts|colou?rs?|states|access|permissions|css|js|code|scripts?|html|classes|notes|icons?|prices|limits|rates|fees|visibility|roles|redirects|layouts?|templates?|headers?|footers?|sidebars?|pages|map)$/i;

/** Does the last name on a way that says something end like a word for a sort? Of two things of a sort each has a name that only tells it from the other. `one`: it may be one in a text that can hold several, so that the name may be a plural. */
function endsAlike(way: Names, sort: Sort, one: boolean): boolean {
  const at = way.findLastIndex((step) => typeof step === 'string' && !SAYS_NOTHING.has(step) && !/^\d+$/.test(step));
  const [said, above] = [String(way[at] ?? ''), String(way[at - 1] ?? '')];
  const own = typeof way.at(-1) === 'string' && at < way.length - 1 ? said.replace(FOR_EACH, '') : said;
  return isAlike(own, at < way.length - 1 || (one && !isMeasure(own)), sort) || ((SIDES.has(own) || FOR_EACH.test(above) || (typeof way.at(-1) === 'number' && OF_SEVERAL.test(own))) && isAlike(above.replace(FOR_EACH, ''), true, sort));
}
/** Names that leave it to the one above to say of what their ids are. */
export const SAYS_NOTHING: ReadonlySet<string> = new Set([...SAYS_WHICH, 'id', 'ids', 'ID', 'items']);
/** How the name of a map ends that has one for each of something: "tide_for", "tides_by_place". */
const FOR_EACH = /(?:^|[_-])(?:for|by|per)(?:[_-].*)?$/;
/** What a list or a map of several is called, below a name that says of what: "levels: { order, labels }". */
const OF_SEVERAL = /^(?:order|sequence|sort(?:ing|ed)?|settings|options|data|labels|titles|names|texts|colou?rs|icons|images|prices|limits|rates|fees|roles|visibility|rules|styles|access|enabled|disabled|active|hidden|visible|allowed|all)$/i;
/** Names that say which of several something is. */
export const SIDES: ReadonlySet<string> = new Set(['from', 'to', 'first', 'second', 'last', 'start', 'end', 'left', 'right', 'source', 'target', 'old', 'new', 'a', 'b', 'header', 'footer', 'archive', 'single', 'home', 'default', 'current', 'next', 'previous', 'parent', 'root', 'desktop', 'tablet', 'mobile', 'phone', 'dark', 'light', 'mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun', 'monday', 'tuesday', 'wednesday', 'thursday', 'friday', 'saturday', 'sunday', 'spring', 'summer', 'autumn', 'winter', 'morning', 'evening', 'night']);

/** The names of the members of a map, where all could be ids: of several, or of one that holds more than a value, or lies in such a map itself. */
function namesLikeIds(node: Node, isInSuch: boolean): string[] {
  const pairs = Array.isArray(node) ? [] : childrenOf(node);
  const one = pairs.length === 1 ? unwrap(pairs[0]?.[1]) : undefined;
  const names = pairs.map(([name]) => String(name));
  return (pairs.length > 1 || (typeof one === 'object' && one !== null) || (isInSuch && Number(names[0]) >= NO_CHANCE)) && names.every((name) => /^[1-9]\d*$/.test(name)) ? names : [];
}

/** The values of a map that has one for each of something that goes by ids; or of a map, with maps in it perhaps, however they go, where there are some. */
function idsInMaps(node: Node, called: string): Node[] {
  const each = oneForEachId(node, called);
  if (each.length > 0 || typeof node !== 'object' || node === null || isMeasure(called)) return each;
  const children = childrenOf(node).map(([name, child]) => [String(name), unwrap(child)] as const);
  // What one name calls a measure is none, and so is nothing beside it.
  if (children.some(([name, child]) => isMeasure(name) && !isMap(child))) return [];
  const values = children.flatMap(([name, child]) => idsAt(name, child));
  return values.length >= SOME ? values : [];
}

/** Could it be an id, as far as nothing stands for none? */
function holdsSome(value: Node): boolean { return value !== '' && value !== 0 && value !== '0'; }
/** The members of a map that is opened. */
function membersOf(node: Node): readonly (readonly [Key, Node])[] | undefined { return node instanceof Entries ? node.pairs : isPlainObject(node) ? Object.entries(node) : undefined; }
function isMap(node: Node): boolean { return typeof node === 'object' && node !== null && !Array.isArray(node); }

/** What stands in a map: one value, or those of a map in it. Nothing where its name is one for a measure, or where it holds nothing. */
function idsAt(name: string, child: Node): Node[] {
  return isMeasure(name) ? [] : (isMap(child) ? childrenOf(child).map(([, value]) => unwrap(value)) : [child]).filter(holdsSome);
}
/** Fewer could be ids by chance. */
const SOME = 3;
/** A smaller number alone in a list, or under a plural, may be how many there are of something. */
const NO_CHANCE = 25;

/** The values of a map that has one for each of something that goes by ids. */
function oneForEachId(node: Node, called: string): Node[] {
  // Asked for every map, and most have another name first.
  if (isPlainObject(node)) for (const name in node) { if (!AN_ID.test(name)) return []; break; }
  const pairs = typeof node === 'object' && node !== null ? childrenOf(node) : [];
  return pairs.length > 0 && pairs.every(([name]) => AN_ID.test(String(name))) && !isMeasure(called) ? pairs.map(([, value]) => unwrap(value)) : [];
}
const AN_ID = /^[1-9]\d*$/;

/** Do the names of members say where something begins and where it ends? */
function isRange(names: readonly Key[]): boolean { return RANGES.some((range) => range.every((name) => names.includes(name))); }
const RANGES = [['from', 'to'], ['min', 'max'], ['start', 'end'], ['low', 'high']] as const;

/** Is a rule only about maps? */
export function isOfMaps({ maps }: Pick<ReferenceStep, 'maps'>): boolean { return maps === 'only' || maps === 'languages'; }

/** Does a map count like a list for a rule: where the rule says so, and where it has one for each language (RFC 5646)? */
export function countsAsList({ maps }: Pick<ReferenceStep, 'maps'>, node: Node): boolean { return isMap(node) && ((maps !== false && maps !== 'languages') || isByLanguage(node)); }

function isByLanguage(node: Node): boolean {
  const names = (membersOf(node) ?? []).map(([key]) => key);
  return names.length > 0 && names.every((name) => typeof name === 'string' && LANGUAGE.test(name));
}
const LANGUAGE = /^(?!id$|to$|on$|by$|in$)[a-z]{2}(?:[_-][A-Z][a-z]{3})?(?:[_-](?:[A-Z]{2}|[a-z]{2}|\d{3}))?$/;

/** Is it a whole number, as such or as text? */
export function isNumber(node: Node): node is number | string { return typeof node === 'number' || (typeof node === 'string' && /^\d+$/.test(node)); }

/** Those of some values that are texts, and no numbers. */
function textsIn(values: readonly Node[]): (string | Text)[] { return values.filter((value): value is string | Text => value instanceof Text || (typeof value === 'string' && value !== '' && !isNumber(value))); }

/** Quickly: might this be an id? */
export function couldBeId(node: Node): boolean {
  const inner = unwrap(node);
  return typeof inner === 'number' ? inner > 0 : typeof inner === 'string' ? inner !== '' && (inner.length <= MAX_ID || LISTED.test(inner)) : Array.isArray(inner) || inner instanceof Exact;
}
/** Nothing but ids, with the same between them. */
const LISTED = /^[1-9]\d*(?:(\s?[,|;]\s?)[1-9]\d*)(?:\1[1-9]\d*)*$/;
/** No id is longer than this. */
const MAX_ID = 64;
