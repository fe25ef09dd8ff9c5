import type { Path } from './path.ts';
import { areSizes } from './measures.ts';
import { namesLike } from './nameslike.ts';
import { SAYS_WHICH } from './words.ts';

/** The names that a rule means, as patterns; some are taken out again. */
export interface Named { readonly patterns: readonly string[]; wants(name: string): boolean; refuses(name: string): boolean }
/** `fits`: only where the last name of the way is meant, or what else is said of it: of the member that the item is named after the name of the item, deeper down "above.name". */
export interface Ruled { readonly at: Path; readonly fits: Named | undefined }

type Selector = Path['steps'][number]['at'];

/** So many places are kept; data with ever new names makes ever new ones. */
const MOST_PLACES = 20_000;

/**
 * Many paths followed at once: a walk over a tree takes a `Place` along, instead of walking anew for every path. It is the automaton of all
 * the paths, with a state for each set of positions in them, made as far as trees ask for it. `sum` makes what is wanted of the rules whose paths end at one place.
 */
export class PathSet<R extends Ruled, S> {
  readonly rules: readonly R[];
  readonly sum: (rules: readonly R[]) => S;
  /** The member directly below the top that goes by the name of the item too. */
  readonly namedMember: string | undefined;
  /** What a rule refuses of a measure, it refuses of members of one too: "limit: { page }". */
  readonly measured: boolean;
  /** The longest path has fewer steps: a position is one number. */
  readonly #stride: number;
  readonly #states = new Map<string, State<R, S>>();
  readonly #places = new Map<string, Place<R, S>>();
  #top: Place<R, S> | undefined;
  readonly #names: ReadonlySet<string>;
  readonly #notable: (name: string) => boolean;
  readonly #notableAbove: (name: string) => boolean;
  /** The last answer: it is asked for every member of an item. */
  #asked: { readonly item: string; readonly notable: boolean; readonly above: boolean } | undefined;

  constructor(rules: readonly R[], sum: (rules: readonly R[]) => S, namedMember?: string, measured = false) {
    this.rules = rules;
    this.measured = measured;
    this.sum = sum;
    this.namedMember = namedMember;
    this.#stride = Math.max(0, ...rules.map((rule) => rule.at.steps.length)) + 1;
    this.#names = new Set(rules.flatMap((rule) => rule.at.steps.flatMap(({ at }) => (at !== 'any' && 'name' in at ? [at.name] : []))));
    const patterns = [...new Set(rules.flatMap((rule) => rule.fits?.patterns ?? []))];
    this.#notable = namesLike(patterns, { caseless: true });
    this.#notableAbove = namesLike([...new Set(patterns.flatMap((one) => { const end = one.lastIndexOf('.'); return end > 0 ? [one.slice(0, end)] : []; }))], { caseless: true });
  }

  /** The place of the top of a tree. */
  get top(): Place<R, S> { return this.#top ??= this.place(this.state(this.rules.map((_, i) => i * this.#stride)), { depth: 0, last: '', above: '' }); }

  /** Does a path have this name as a step? The others are alike. */
  mentions(name: string): boolean { return this.#names.has(name); }

  /** False: no rule has anything to say to this name. */
  notable(name: string): boolean { return this.#notable(name); }

  /** The same of the name of an item. */
  notableItem(item: string): boolean { return this.#ask(item).notable; }

  /** The same of the name of an item, for what is in it. */
  notableAround(item: string): boolean { return this.#ask(item).above; }

  #ask(item: string): { readonly notable: boolean; readonly above: boolean } {
    if (this.#asked?.item !== item) this.#asked = { item, notable: this.#notable(item), above: this.#notableAbove(item) || (this.measured && areSizes(item)) };
    return this.#asked;
  }

  /** A rule with the step that comes next; none where its path has ended. */
  at(position: number): { rule: R | undefined; step: Path['steps'][number] | undefined } {
    const rule = this.rules[Math.floor(position / this.#stride)];
    return { rule, step: rule?.at.steps[position % this.#stride] };
  }

  /** As many as there are sets of positions that a way can lead to: few, whatever the data. */
  state(positions: readonly number[]): State<R, S> {
    const key = positions.join();
    const known = this.#states.get(key);
    if (known) return known;
    const state = new State(this, positions, this.#states.size);
    this.#states.set(key, state);
    return state;
  }

  /** One place for all ways to a state, and to the same names where rules look at them. */
  place(state: State<R, S>, names: Names): Place<R, S> {
    const key = `${state.number} ${state.named ? `${names.depth} ${names.last} ${names.above}` : ''}`;
    const known = this.#places.get(key);
    if (known) return known;
    // All places hang together: they are forgotten together.
    if (this.#places.size >= MOST_PLACES) { this.#places.clear(); this.#top = undefined; }
    const place = new Place(this, state, names);
    this.#places.set(key, place);
    return place;
  }
}

/** A set of positions in the paths: which of them end here, and where steps lead. */
class State<R extends Ruled, S> {
  readonly number: number;
  readonly #set: PathSet<R, S>;
  readonly #positions: readonly number[];
  readonly #next = new Map<string, State<R, S>>();
  #others: State<R, S> | undefined;
  #entries: State<R, S> | undefined;
  readonly ending: readonly R[];
  /** Some rule here looks at names: of its own way, or farther down. */
  readonly named: boolean;
  /** Rules below look at names. */
  readonly namedBelow: boolean;
  /** Every entry of a list is alike. */
  readonly even: boolean;
  /** No path goes on from here. */
  readonly idle: boolean;
  /** Of the rules that look at no names. */
  readonly plain: S;

  constructor(set: PathSet<R, S>, positions: readonly number[], number: number) {
    this.#set = set;
    this.#positions = positions;
    this.number = number;
    const rules = positions.map((position) => set.at(position));
    this.ending = rules.flatMap(({ rule, step }) => (rule && !step ? [rule] : []));
    this.named = rules.some(({ rule }) => rule?.fits);
    this.namedBelow = rules.some(({ rule, step }) => step && rule?.fits);
    this.even = !rules.some(({ step }) => step && step.at !== 'any' && 'index' in step.at);
    this.idle = !rules.some(({ step }) => step);
    this.plain = set.sum(this.ending.filter((rule) => !rule.fits));
  }

  /** Names that no path mentions lead to the same state. */
  child(name: string): State<R, S> {
    if (!this.#set.mentions(name)) return this.#others ??= this.#after((at) => at === 'any');
    const known = this.#next.get(name);
    if (known) return known;
    const next = this.#after((at) => at === 'any' || ('name' in at && at.name === name));
    this.#next.set(name, next);
    return next;
  }

  entry(index: number, length: number): State<R, S> {
    // Else an index from the end leads elsewhere in every list.
    if (this.even) return this.#entries ??= this.#after((at) => at === 'any');
    return this.#after((at) => at === 'any' || ('index' in at && (at.index === index || at.index + length === index)));
  }

  #after(leads: (at: Selector) => boolean): State<R, S> {
    const next = new Set<number>();
    for (const position of this.#positions) {
      const { step } = this.#set.at(position);
      if (step?.down) next.add(position);
      if (step && leads(step.at)) next.add(position + 1);
    }
    return this.#set.state([...next].sort((a, b) => a - b));
  }
}

/** How deep a place is, up to 2, and the last two names on the way to it. */
interface Names { readonly depth: number; readonly last: string; readonly above: string }

/** Where a walk is, as far as paths are concerned. */
export class Place<R extends Ruled, S> {
  readonly #set: PathSet<R, S>;
  readonly #state: State<R, S>;
  readonly #names: Names;
  readonly #sum: S;
  #children: Map<string, Place<R, S>> | undefined;
  #entry: Place<R, S> | undefined;
  #unnamed: Place<R, S> | undefined;

  constructor(set: PathSet<R, S>, state: State<R, S>, names: Names) {
    this.#set = set;
    this.#state = state;
    this.#names = names;
    this.#sum = state.named ? this.#summed(names.depth === 1 ? '' : `${names.above}.${names.last}`) : state.plain;
  }

  /** No path goes on from here. */
  get idle(): boolean { return this.#state.idle; }

  /** The rules whose paths end here, summed up. They may ask for the name of the item. */
  rules(item: string): S {
    if (!this.#state.named || this.#set.namedMember === undefined) return this.#sum;
    const { depth, last, above } = this.#names;
    if (depth === 1 && last === this.#set.namedMember) return this.#set.notableItem(item) ? this.#summed(item) : this.#sum;
    // What is in the value of an option stands below the name of that.
    return depth === 2 && above === this.#set.namedMember && this.#set.notableAround(item) ? this.#summed(`${item}.${last}`, item) : this.#sum;
  }

  #summed(other: string, above = this.#names.above): S {
    const { last } = this.#names;
    // Most names mean nothing to any rule: asking each rule takes much longer than asking once.
    if (!this.#set.notable(last) && !this.#set.notable(other) && !SAYS_WHICH.has(last)) return this.#state.plain;
    // "posts: { selected }" is called as the posts are, and as what is selected.
    const called = SAYS_WHICH.has(last) ? [last, other, above] : [last, other];
    const told = this.#set.measured && areSizes(above) ? [last, other, above] : called;
    return this.#set.sum(this.#state.ending.filter(({ fits }) => !fits || (called.some((name) => fits.wants(name)) && !told.some((name) => fits.refuses(name)))));
  }

  /** The place of a member. `name` is written as in places. */
  child(name: string): Place<R, S> {
    const alike = !this.#state.namedBelow && !this.#set.mentions(name);
    const known = alike ? this.#unnamed : this.#children?.get(name);
    if (known) return known;
    const { depth, last, above } = this.#names;
    const made = this.#set.place(this.#state.child(name), { depth: Math.min(depth + 1, 2), ...(name === '' ? { last, above } : { last: name, above: last }) });
    if (alike) this.#unnamed = made; else this.#keep(name, made);
    return made;
  }

  /** The place of an entry of a list of so many. */
  entry(index: number, length: number): Place<R, S> {
    if (this.#entry) return this.#entry;
    const made = this.#set.place(this.#state.entry(index, length), { ...this.#names, depth: Math.min(this.#names.depth + 1, 2) });
    if (this.#state.even) this.#entry = made;
    return made;
  }

  /** The place of a member of a map that is a list with gaps: that of an entry, unless a path means the number itself. */
  numbered(name: string, index: number, length: number): Place<R, S> { return this.#set.mentions(name) ? this.child(name) : this.entry(index, length); }

  #keep(name: string, place: Place<R, S>): void {
    const children = this.#children ??= new Map<string, Place<R, S>>();
    if (children.size >= MOST_PLACES) children.clear();
    children.set(name, place);
  }
}
