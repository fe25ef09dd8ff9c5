import type { Path } from './path.ts';
import { anyOf } from './wildcard.ts';

/** The names that a rule means, as patterns; some are taken out again. */
export interface Named { readonly patterns: readonly string[]; wants(name: string): boolean; refuses(name: string): boolean }
/** `fits`: only where the last name of the way is meant, or what else is said of it: directly below the top the name of the item, deeper down "above.name". */
export interface Ruled { readonly at: Path; readonly fits: Named | undefined }

/** So many places are kept; data with ever new names makes ever new ones. */
const MOST_PLACES = 20_000;

/**
 * Many paths followed at once: a walk over a tree takes a `Place` along, instead of walking anew for every path. It is the automaton of all
 * the paths, with a state for each set of positions in them, made as far as trees ask for it. `sum` makes what is wanted of the rules whose paths end at one place.
 */
export class PathSet<R extends Ruled, S> {
  readonly rules: readonly R[];
  readonly sum: (rules: readonly R[]) => S;
  /** The longest path has fewer steps: a position is one number. */
  readonly stride: number;
  readonly #places = new Map<string, Place<R, S>>();
  #top: Place<R, S> | undefined;
  readonly #names: ReadonlySet<string>;
  readonly #notable: (name: string) => boolean;
  /** The last answer: it is asked for every member of an item. */
  #asked: { readonly item: string; readonly notable: boolean } | undefined;

  constructor(rules: readonly R[], sum: (rules: readonly R[]) => S) {
    this.rules = rules;
    this.sum = sum;
    this.stride = Math.max(0, ...rules.map((rule) => rule.at.steps.length)) + 1;
    this.#names = new Set(rules.flatMap((rule) => rule.at.steps.flatMap(({ at }) => (at !== 'any' && 'name' in at ? [at.name] : []))));
    this.#notable = anyOf([...new Set(rules.flatMap((rule) => rule.fits?.patterns ?? []))], { caseless: true });
  }

  /** False: no rule has anything to say to this name of an item. */
  notable(item: string): boolean {
    if (this.#asked?.item !== item) this.#asked = { item, notable: this.#notable(item) };
    return this.#asked.notable;
  }

  /** The place of the top of a tree. */
  get top(): Place<R, S> { return this.#top ??= this.place(this.rules.map((_, i) => i * this.stride), { depth: 0, last: '', above: '' }); }

  /** One place for all ways that leave the paths at the same positions, and the rules the same names to look at. */
  place(positions: readonly number[], names: Names): Place<R, S> {
    const key = `${positions.join()} ${positions.some((at) => this.rules[Math.floor(at / this.stride)]?.fits) ? `${names.depth} ${names.last} ${names.above}` : ''}`;
    const known = this.#places.get(key);
    if (known) return known;
    // All places hang together: they are forgotten together.
    if (this.#places.size >= MOST_PLACES) { this.#places.clear(); this.#top = undefined; }
    const place = new Place(this, positions, names);
    this.#places.set(key, place);
    return place;
  }

  mentions(name: string): boolean { return this.#names.has(name); }
}

/** How deep a place is, up to 2, and the last two names on the way to it. */
interface Names { readonly depth: number; readonly last: string; readonly above: string }

export class Place<R extends Ruled, S> {
  readonly #set: PathSet<R, S>;
  readonly #positions: readonly number[];
  readonly #names: Names;
  readonly #ending: readonly R[];
  #children: Map<string, Place<R, S>> | undefined;
  #entry: Place<R, S> | undefined;
  #unnamed: Place<R, S> | undefined;
  /** Every entry of a list is alike. */
  readonly #even: boolean;
  /** Names that no path mentions are alike. */
  readonly #nameless: boolean;
  readonly #asks: boolean;
  readonly #sum: S;
  /** No path goes on from here. */
  readonly idle: boolean;

  constructor(set: PathSet<R, S>, positions: readonly number[], names: Names) {
    this.#set = set;
    this.#positions = positions;
    this.#names = names;
    const rules = positions.flatMap((at) => { const rule = set.rules[Math.floor(at / set.stride)]; return rule ? [{ rule, step: rule.at.steps[at % set.stride] }] : []; });
    this.#ending = rules.filter(({ step }) => !step).map(({ rule }) => rule);
    this.#even = !rules.some(({ step }) => step && step.at !== 'any' && 'index' in step.at);
    this.#nameless = !rules.some(({ rule, step }) => step && rule.fits);
    this.idle = !rules.some(({ step }) => step);
    this.#asks = names.depth === 1 && this.#ending.some((rule) => rule.fits);
    this.#sum = this.#summed(names.depth === 1 ? '' : `${names.above}.${names.last}`);
  }

  /** The rules whose paths end here, summed up. Directly below the top they may ask for the name of the item. */
  rules(item: string): S {
    return this.#asks && this.#set.notable(item) ? this.#summed(item) : this.#sum;
  }

  #summed(other: string): S {
    const { last } = this.#names;
    return this.#set.sum(this.#ending.filter(({ fits }) => !fits || ((fits.wants(last) || fits.wants(other)) && !fits.refuses(last) && !fits.refuses(other))));
  }

  /** The place of a member. `name` is written as in places. */
  child(name: string): Place<R, S> {
    const alike = this.#nameless && !this.#set.mentions(name);
    const known = alike ? this.#unnamed : this.#children?.get(name);
    if (known) return known;
    const { depth, last, above } = this.#names;
    const made = this.#next((at) => at === 'any' || ('name' in at && at.name === name), name === '' ? { depth: depth + 1, last, above } : { depth: depth + 1, last: name, above: last });
    if (alike) this.#unnamed = made;
    else this.#keep(name, made);
    return made;
  }

  /** The place of an entry of a list of so many. */
  entry(index: number, length: number): Place<R, S> {
    if (this.#entry) return this.#entry;
    const made = this.#next((at) => at === 'any' || ('index' in at && (at.index === index || at.index + length === index)), { ...this.#names, depth: this.#names.depth + 1 });
    // Else an index from the end leads elsewhere in every list.
    if (this.#even) this.#entry = made;
    return made;
  }

  #keep(name: string, place: Place<R, S>): void {
    const children = this.#children ??= new Map<string, Place<R, S>>();
    if (children.size >= MOST_PLACES) children.clear();
    children.set(name, place);
  }

  #next(leads: (at: Path['steps'][number]['at']) => boolean, names: Names): Place<R, S> {
    const next = new Set<number>();
    for (const position of this.#positions) {
      const step = this.#set.rules[Math.floor(position / this.#set.stride)]?.at.steps[position % this.#set.stride];
      if (!step) continue;
      if (step.down) next.add(position);
      if (leads(step.at)) next.add(position + 1);
    }
    return this.#set.place([...next].sort((a, b) => a - b), { ...names, depth: Math.min(names.depth, 2) });
  }
}
