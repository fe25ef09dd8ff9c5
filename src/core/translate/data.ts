import { asksBeside, type CodecStep, type ReferenceStep } from '../kind.ts';
import { isLike, MEASURE, namesLike } from '../nameslike.ts';
import { foundInData, foundInPairs, type Content, type Found, type Pair, type Quoted } from './datareader.ts';
import type { Meant } from './patterns.ts';
import { CHOSEN, isOfMaps, meaningHere, SAYS_NOTHING, SEEN_AS } from './refer.ts';

/** A whole number, or a text that is one, in JSON data that stands in markup. Offsets are those of its digits. The first meaning counts that there is an item for. */
export interface DataNumber { readonly start: number; readonly end: number; readonly meant: readonly Meant[]; /** The list that it stands in. */ readonly list: unknown }
/** Those that could be ids, and texts that could hold some. */
export interface DataRead { readonly numbers: readonly DataNumber[]; readonly texts: readonly Quoted[] }
export interface NamedKinds { readonly name: string; readonly kinds: readonly string[] }

interface Beside { readonly name: string; readonly other: string; readonly isWord: string | undefined; readonly meant: Meant }

/** A name that no rule knows. */
const OUTSIDE = '<!--';
const NOTHING_DEFINED: ReadonlyMap<string, string> = new Map();
/** Smaller numbers are counts and positions. */
const SMALLEST_GUESS = 9;
/** Said of every name with a word for a measure. */
const A_MEASURE: Meant = { kinds: [], above: SMALLEST_GUESS };

/**
 * What names in data mean: `name`; `above.name`, only within `above`; `name beside other`, only where the
 * same object has a member `other`, or `other=word` where that is the word. These go first where they ask for a word. A star stands for part of a word. The first of these that fits decides, names as they stand before those with a star.
 */
export class NamesInData {
  readonly #exact: ReadonlyMap<string, Meant>;
  readonly #starred: readonly { within: boolean; fits: (text: string) => boolean; meant: Meant }[];
  readonly #beside: readonly Beside[];

  constructor(named: readonly NamedKinds[]) {
    const plain = named.filter(({ name }) => !name.includes(' beside '));
    this.#exact = new Map(plain.filter(({ name }) => !isLike(name)).map(({ name, kinds }) => [name, { kinds }]));
    this.#starred = plain.filter(({ name }) => isLike(name)).map(({ name, kinds }) => ({ within: name.includes('.'), fits: namesLike([name]), meant: name === MEASURE && kinds.length === 0 ? A_MEASURE : name.startsWith('~') ? { kinds, above: SMALLEST_GUESS } : kinds.length > 0 ? { kinds, loose: true } : { kinds } }));
    this.#beside = named.flatMap(({ name, kinds }): Beside[] => { const [own = '', condition] = name.split(' beside '); const [other = '', word] = condition?.split('=') ?? []; return condition === undefined ? [] : [{ name: own, other, isWord: word, meant: { kinds } }]; });
  }

  get looksBeside(): boolean { return this.#beside.length > 0; }

  /** Nothing where no name says it. */
  of({ name, above, beside }: Found): Meant | undefined {
    const within = `${above}.${name}`;
    const besides = this.#beside.length === 0 ? [] : this.#beside.filter((one) => one.name === name && (one.isWord === undefined ? beside.has(one.other) : beside.get(one.other) === one.isWord));
    return besides.find((one) => one.isWord !== undefined)?.meant ?? this.#exact.get(within) ?? this.#exact.get(name) ?? this.#starred.find((one) => one.fits(one.within ? within : name))?.meant ?? besides[0]?.meant;
  }
}

/** Which numbers in JSON data are ids, by the names that they stand under. */
export class DataKinds {
  readonly #names: NamesInData;
  readonly #alike: readonly string[];
  readonly #rules: CodecStep['inData'];

  /** `alike`: kinds of which an id can stand under any name that says what the item is; `rules`: what is said of values of the same kind holds for data too. */
  constructor(names: NamesInData, alike: readonly string[] = [], rules?: CodecStep['inData']) {
    this.#names = names;
    this.#alike = alike;
    this.#rules = rules;
  }

  /** What stands behind the first bracket of a text, up to where its data ends. `definitions`: what the site says of values, by the name of what defines them; `called`: the name of it all. */
  read(text: string, definitions = NOTHING_DEFINED, called = ''): DataRead {
    return this.#read(foundInData(text, { besides: this.#names.looksBeside || this.#rules !== undefined, called }), definitions);
  }

  /** The same of names with a value each, such as the attributes of a short code. */
  ofPairs(pairs: readonly Pair[], definitions: ReadonlyMap<string, string>, called: string): DataRead { return this.#read(foundInPairs(pairs, called), definitions); }

  #read(content: Content, definitions: ReadonlyMap<string, string>): DataRead {
    const numbers: DataNumber[] = [];
    for (const found of content.numbers) {
      const one = ofChoice(found);
      const said = this.#defined(found, definitions) ?? this.#names.of(one);
      // A guess that is none for a small number leaves it to the others.
      const isOpen = !said || (said.above !== undefined && Number(one.digits) <= said.above);
      const meant = isOpen || said.kinds.length === 0 ? this.#guesses(one, isOpen) : said.loose ? [...this.#alikeTo(one), said, ...this.#asValue(one)] : [said.kinds.length === 1 ? said : { ...said, within: one.above }];
      if (meant.some(({ kinds }) => kinds.length > 0)) numbers.push({ start: one.start, end: one.start + one.digits.length, meant, list: one.list });
    }
    return { numbers, texts: content.texts };
  }

  /** What defines a value says more than its name. */
  #defined({ name, above, beside }: Found, definitions: ReadonlyMap<string, string>): Meant | undefined {
    if (definitions.size === 0) return undefined;
    const rules = this.#placeOf(above, name)?.rules('').values.filter((rule) => rule.sorts?.defined) ?? [];
    return rules.map((rule): Meant => meaningHere(rule, Object.fromEntries(beside), { name, item: '', definitions, around: undefined })).find(({ kinds }) => kinds.length > 0);
  }

  /** What is called as the very thing is none of the measures, nor of the ids of others, that go by that word: if it is `open` what the name means, anything is guessed. */
  #guesses(one: Found, open: boolean): Meant[] {
    const all = [...this.#alikeTo(one), ...this.#asValue(one)];
    return open ? all : all.filter((guess) => guess.alike);
  }

  #alikeTo(found: Found): Meant[] {
    return this.#alike.length === 0 ? [] : [{ kinds: this.#alike, above: SMALLEST_GUESS, alike: saying(found), within: found.above }];
  }

  /** Where a value of these names would stand, for what is said of values. */
  #placeOf(above: string, name: string) {
    const outside = this.#rules?.().child(OUTSIDE);
    return (above === '' ? outside : outside?.child(above))?.child(name);
  }

  /** What a value with such names would mean, as far as it goes by the names and by what stands beside it. */
  #asValue(one: Found): Meant[] {
    const { name, above, many, beside } = one;
    const place = this.#placeOf(above, name);
    if (!place) return [];
    const found: Meant[] = [];
    const texts = [...beside.values()].filter((text) => /[^\d]/.test(text)).map((text) => text.replaceAll('\\/', '/'));
    for (const rule of (many ? place.entry(0, 1) : place).rules('').values) {
      if (rule.none) break;
      if (!goesByNames(rule)) continue;
      const { rule: { said }, kinds } = meaningHere(rule, asksBeside(rule) ? Object.fromEntries(beside) : undefined, { name, item: '', definitions: NOTHING_DEFINED, around: undefined });
      const least = (many ? rule.listed : undefined) ?? rule.least ?? 1;
      if (kinds.length > 0 && (!rule.told || texts.length > 0)) found.push({ kinds, above: least - 1, said, within: above, ...(rule.told ? { told: texts } : {}), ...(rule.alike === true ? { alike: saying(one) } : {}) });
    }
    return found;
  }
}

/** The value of a choice, as people saw it when they chose, is what the choice is called. */
function ofChoice(one: Found): Found {
  return one.name === CHOSEN && SEEN_AS.some((name) => one.beside.has(name)) ? { ...one, name: one.above, above: '', many: true } : one;
}

/** The name that says what a number is: "id" leaves it to what it stands in, and so does "in", which holds several. */
function saying({ name, above, many }: Found): NonNullable<Meant['alike']> { const said = !SAYS_NOTHING.has(name) || above === ''; return { name: said ? name : above, many: many || (!said && name !== 'id') }; }

/** Can a rule for values be followed where only names are known, and what stands beside? */
function goesByNames({ loose, by, kin, maps, alike, sorts }: ReferenceStep): boolean {
  return loose && by === 'id' && !kin && !isOfMaps({ maps }) && typeof alike !== 'string' && !sorts?.defined;
}
