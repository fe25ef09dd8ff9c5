import { parseAddress, pointer } from '../../core/address.ts';
import type { Json } from '../../core/json.ts';
import { readText } from '../../core/tokens.ts';
import { membersIn } from '../../core/translate/notation.ts';
import { localId, type SiteIndex } from '../../core/siteindex.ts';

export interface Place { readonly address: string; readonly at: string; readonly what: string }
/** Where a number stands: a value under a name, an attribute of a tag, an attribute of a short code, behind a word in a text, in the name of a member, as the names of all members, in the name of an item. Where it is in a name, that has {id} for it. */
export type Form = 'value' | 'attribute' | 'code' | 'word' | 'key' | 'keys' | 'name';
/** One name under which most numbers are ids of items. */
export interface Suspect { readonly kind: string; readonly name: string; readonly form: Form; readonly places: number; /** Kinds of these items. */ readonly to: readonly string[]; readonly example: Place }

/** Names that hold something else than ids, however often their numbers are ids by chance. */
const NO_ID = /order|size|width|height|count|seats|rows|cols|columns|span|max|min|rank|priority|version|length|limit|number|position|quality|opacity|percent|weight|ratio|day|hour|minute|year|month|time|date|level|user|author|(?<![a-z])per[_-]/i;
/** Smaller numbers are too often something else. */
export const SMALLEST = 10;
const MOSTLY = 0.8;
/** Longer texts are not searched. */
export const LONGEST = 100_000;
/** Attributes of tags and of short codes with a number, and a number behind a word. */
const [MARKUP, ATTRIBUTES, WORDS] = [/[<[][a-z][^<>[\]]*/gi, /\s([a-z][\w-]*)=(["']?)(\d{2,})\2(?=[\s/>\]]|$)/gi, /([a-z][a-z_]{2,})([/:#=|_-])(\d{2,})(?![\w.-])/gi];
/** The member that is all of an item, where it holds one value only. */
const WHOLE = 'option';
/** Members that say where a value comes from, and not what it is. */
const HOLDERS = new Set([WHOLE, 'fields', 'content', 'record', 'members']);

interface Seen { readonly kind: string; readonly name: string; readonly form: Form; all: number; ids: number; readonly to: Set<string>; example: Place | undefined }
interface Here { readonly kind: string; readonly address: string }

/** Collects numbers by kind and name, and how many of them are ids. */
export class Suspicion {
  readonly #index: SiteIndex;
  readonly #kinds: readonly string[];
  readonly #seen = new Map<string, Seen>();

  /** `kinds`: those whose items others refer to by id. */
  constructor(index: SiteIndex, kinds: readonly string[]) {
    this.#index = index;
    this.#kinds = kinds;
  }

  /** Every number in a value in portable form. */
  look(here: Here, value: Json, way: readonly string[] = []): void {
    if (typeof value === 'object' && value !== null) {
      if (!Array.isArray(value) && ('@ref' in value || '@lost' in value)) return;
      const pairs = membersIn(value);
      this.#lookAtKeys(here, pairs, way);
      for (const [name, child] of pairs) {
        this.#lookAt(here, 'key', name, pointer([...way, name]));
        this.look(here, child, name.startsWith('@') ? way : [...way, name]);
      }
      return;
    }
    const at = pointer(way);
    if (typeof value === 'string' && value.length <= LONGEST) this.#lookInside(here, at, nameOf(way, here), value);
    if ((typeof value === 'number' || typeof value === 'string') && /^[1-9]\d*$/.test(String(value))) this.#count(here, 'value', nameOf(way, here), { digits: String(value), at, what: (to) => `${value} is the id of ${to}` });
  }

  /** A number in a name that is the id of an item: the name would mean another one elsewhere. */
  lookAtName(here: Here, name: string): void { this.#lookAt(here, 'name', name, ''); }

  #lookAt(here: Here, form: 'key' | 'name', name: string, at: string): void {
    for (const { 0: digits, index } of name.matchAll(/(?<![\w-]|\d)\d{2,}(?![\d.])|(?<=[_-])\d{2,}(?=[_-]|$)/g)) {
      const [before = ''] = /[a-z]+[^a-z]*$/i.exec(name.slice(0, index)) ?? [];
      const to = digits === name || NO_ID.test(before) ? undefined : this.#idOf(digits);
      if (to !== undefined && to !== here.address) this.#note(here, form, `${name.slice(0, index)}{id}${name.slice(index + digits.length)}`, { address: here.address, at, what: `${form === 'key' ? 'this' : 'its'} name holds ${digits}, the id of ${to}`, to });
    }
  }

  /** Several members that are all named by ids, or one that holds more than a value. */
  #lookAtKeys(here: Here, members: readonly (readonly [string, Json])[], way: readonly string[]): void {
    const [[first, value] = ['', null]] = members;
    const found = members.map(([name]) => (/^[1-9]\d+$/.test(name) ? this.#idOf(name) : undefined));
    const [to] = found;
    const many = found.length > 1 || (typeof value === 'object' && value !== null);
    if (many && to !== undefined && !found.includes(undefined)) this.#note(here, 'keys', nameOf(way, here), { address: here.address, at: pointer(way), what: `its members are named by ids: ${first} is ${to}`, to });
  }

  #lookInside(here: Here, at: string, name: string, text: string): void {
    if (!/\d\d/.test(text)) return;
    for (const [tag] of text.matchAll(MARKUP)) {
      const form = tag.startsWith('<') ? 'attribute' : 'code';
      for (const [written, attribute = '', , digits = ''] of tag.matchAll(ATTRIBUTES)) this.#count(here, form, attribute, { digits, at, what: (to) => `${written.trim()} holds the id of ${to}` });
    }
    // Behind a word that the address of the item with this id has too: "page/45". What stands in a tag or a short code was looked at.
    for (const [found, word = '', sign = '', digits = ''] of text.replace(ATTRIBUTES, ' ').matchAll(WORDS)) {
      const to = this.#idOf(digits);
      if (to?.toLowerCase().includes(word.toLowerCase().replace(/_ids?$|s$/, '')) === true) this.#note(here, 'word', name, { address: here.address, at, what: `"${found}" holds ${digits}, the id of ${to}`, to, apart: word + sign });
    }
  }

  /** Counts a number under a name, whether or not it is an id. */
  #count(here: Here, form: Form, name: string, { digits, at, what }: { digits: string; at: string; what: (to: string) => string }): void {
    if (Number(digits) < SMALLEST || NO_ID.test(name.slice(name.lastIndexOf('.') + 1))) return;
    const to = this.#idOf(digits);
    if (to !== undefined) this.#note(here, form, name, { address: here.address, at, what: what(to), to });
    else this.#entry(here, form, name).all++;
  }

  #idOf(digits: string): string | undefined { return Number(digits) < SMALLEST ? undefined : this.#index.byId(this.#kinds, localId(digits)); }

  #note(here: Here, form: Form, name: string, { to, apart = '', ...example }: Place & { to: string; apart?: string }): void {
    const entry = this.#entry(here, form, name, apart);
    entry.all++;
    entry.ids++;
    entry.to.add(parseAddress(to).kind);
    entry.example ??= example;
  }

  #entry({ kind }: Here, form: Form, name: string, apart = ''): Seen {
    const key = [kind, form, name, apart].join('\n');
    const entry = this.#seen.get(key) ?? { kind, name, form, all: 0, ids: 0, to: new Set<string>(), example: undefined };
    this.#seen.set(key, entry);
    return entry;
  }

  suspects(): Suspect[] {
    return [...this.#seen.values()].flatMap(({ kind, name, form, all, ids, to, example }): Suspect[] => (example && ids >= all * MOSTLY ? [{ kind, name, form, places: ids, to: [...to], example }] : []))
      .sort((a, b) => b.places - a.places);
  }
}

/** A name as a rule has it: an id in it is another one elsewhere. */
function withoutIds(name: string): string {
  const text = readText(name);
  return typeof text === 'string' ? text : text.pieces.map((piece) => (typeof piece === 'string' ? piece : '*')).join('');
}

/** The last name on a way, with the one above it where there is one that says something. */
function nameOf(way: readonly string[], { address }: Here): string {
  const [name = '', above] = way.filter((step) => !/^\d+$/.test(step)).reverse();
  // What is all that an item holds has no name but that of the item.
  if (above === undefined && name === WHOLE) return parseAddress(address).name;
  const called = withoutIds(name);
  return above === undefined || HOLDERS.has(above) ? called : `${above}.${called}`;
}
