import { groupBy } from '../json.ts';
import { localId, type SiteIndex } from '../siteindex.ts';
import { Text, type Spelling } from '../tree.ts';
import { isTitleOf } from './likename.ts';
import { replaced, withoutOverlap, type Span } from './spans.ts';
import { folderOf, PATHS, spell, spelledOf, stands, unspell, type Spelled } from './spelling.ts';

/** The rest of an address from its path on, where it has a query, and the parameters of that, also where markup writes them; the same percent-encoded. */
const QUERIES = {
  plain: { rest: /((?:\\+\/|[^\s"'<>?#\\(),⟦⟧])*)(\?(?:&#0*38;|[^\s"'<>#\\(),⟦⟧])*)/y, parameters: /(?<=[?&;])([\w-]+)=([1-9]\d*)(?=[.,:;!]?$|[&;#])/g },
  encoded: { rest: /((?:%2[Ff]|[\w.~-])*)(%3[Ff](?:%[0-9A-Fa-f]{2}|[\w.~-])*)/y, parameters: /(?<=%3[Ff]|%26)([\w-]+)%3[Dd]([1-9]\d*)(?=$|%26|%23)/g },
} as const;
/** Paths in `url(…)`, which may be quoted, also by entities. */
const CSS_URLS = /(\burl\(\s*(?:"|'|&quot;|&#34;|&#39;)?)(\/[^\s"'()&]*)/gi;
/** A text that is nothing but the path of a file: where a site has such a file, it means that. */
export function isFilePath(text: string): boolean { return FILE_PATH.test(text); }
const FILE_PATH = /^\/(?:[^\s"'<>?#\\/]+\/)+[^\s"'<>?#\\/]+\.[A-Za-z0-9]{2,5}$/;
/** A link to where the site begins. */
const HOME = /^\/(?:#|$)/;

/** Names of parameters of addresses that hold ids, with the path before them. */
type Parameters = ReadonlyMap<string, readonly { readonly path: string; readonly kind: string }[]>;

/** Finds a site's own address in texts, in all its spellings, and links of its own without it; and the paths and ids in these. */
export class LinkReader {
  readonly #index: SiteIndex;
  /** Where the CMS lies before where the site lies: it may be in a folder of that. */
  readonly #places: readonly Place[];
  readonly #hosts: readonly string[];
  readonly #folder: string;
  readonly #parameters: Parameters;

  constructor(index: SiteIndex) {
    this.#index = index;
    this.#folder = folderOf(index.site);
    this.#parameters = parametersOf(index);
    this.#places = placesOf(index);
    this.#hosts = [...new Set(this.#places.map((place) => place.host))];
  }

  /** False: the site is not named in this text. Quick, because it is asked for every text. */
  concerns(text: string): boolean { return this.#hosts.some((host) => text.includes(host)); }

  /** Does a text, which may have been read already, say this item: by its name as people write it, or as a link to it? */
  says(text: string | Text, address: string): boolean {
    const read = text instanceof Text ? text : this.#link(text);
    if (typeof read === 'string') return isTitleOf(read, address);
    const at = read.pieces.findIndex((piece) => typeof piece === 'string' || piece.token === 'path');
    const [path, behind = ''] = read.pieces.slice(at);
    return typeof path === 'object' && path.token === 'path' && path.address === address && typeof behind === 'string' && /^(?:[?#]|$)/.test(behind);
  }

  #link(text: string): string | Text {
    const spans = this.concerns(text) ? this.spans(text) : [];
    // Any other path means something only where a rule says that it is a link, and is read by then.
    if (isFilePath(text)) this.bare(text, 0, spans);
    return replaced(text, spans);
  }

  /** Where the site is named, with the path behind it, and ids in queries. */
  spans(text: string): Span[] {
    const [host = '', ...more] = this.#hosts;
    const spans = this.#spansAt(text, host);
    // The name of one host can be the end of another's.
    return more.length === 0 ? spans : withoutOverlap([...spans, ...more.flatMap((one) => this.#spansAt(text, one))]);
  }

  #spansAt(text: string, host: string): Span[] {
    const spans: Span[] = [];
    const queries: Span[] = [];
    let mark = text.indexOf('?');
    const lengths = text.includes('s:') ? saidLengths(text) : [];
    for (let at = text.indexOf(host); at >= 0; at = text.indexOf(host, at + host.length)) {
      const found = this.#spelledAt(text, at, host);
      if (!found) continue;
      const start = at - found.before;
      // A serialised text says how many bytes it has: where nothing opens it, it stays.
      if (lengths.some((one) => one.start <= start && start < one.end)) continue;
      const end = start + found.text.length;
      const path = this.#path(text, end, found.spelling, found.below);
      const last = path?.end ?? end;
      spans.push({ start, end: last, pieces: path ? [found.token, ...path.pieces] : [found.token] });
      if (mark >= 0 && mark < last) mark = text.indexOf('?', last);
      const encoded = found.spelling.startsWith('encoded');
      if (mark >= 0 || encoded) this.#query(text, end, queries, { encoded, of: addressOf(path) });
    }
    // A query can hold another address.
    return queries.length === 0 ? spans : withoutOverlap([...spans, ...queries]);
  }

  /** A value that begins with a path or a query, without the address of the site. */
  bare(value: string, start: number, into: Span[]): void {
    if (!/^(?:\/(?!\/)|\?)/.test(value)) return;
    const isQuery = value.startsWith('?');
    const begin = isQuery ? 0 : this.#folder.length;
    // What lies beside the folder of the site is none of it.
    if (begin > 0 && !(value.startsWith(this.#folder) && /^(?:[/?#]|$)/.test(value.slice(begin)))) return;
    const span = isQuery ? undefined : this.#path(value, begin, 'plain');
    const query: Span[] = [];
    if (value.includes('?')) this.#query(value, begin, query, { of: addressOf(span) });
    const seat = this.#folder + (this.#index.seat?.below ?? '');
    if (span) into.push({ start, end: start + span.end, pieces: span.pieces });
    else if (this.#index.seat?.below !== undefined && value.startsWith(seat) && this.#index.seat.isOwn(value, seat.length)) into.push({ start, end: start + seat.length, pieces: [{ token: 'site', seat: true, spelling: 'folder' }] });
    else if (begin > 0 || HOME.test(value) || (query.length > 0 && !isQuery)) into.push({ start, end: start + begin, pieces: [{ token: 'site', spelling: 'folder' }] });
    for (const one of query) into.push({ ...one, start: start + one.start, end: start + one.end });
  }

  /** The same in the `url(…)` of style rules. */
  css(text: string, start: number, into: Span[]): void {
    for (const found of text.matchAll(CSS_URLS)) this.bare(found[2] ?? '', start + found.index + (found[1] ?? '').length, into);
  }

  #spelledAt(text: string, at: number, host: string): Found | undefined {
    const { seat } = this.#index;
    for (const place of this.#places) {
      if (place.host !== host) continue;
      const found = place.spelled.get(text.charAt(at - 1))?.find((one) => isAt(one, text, at)) ?? place.spelled.get('')?.find((one) => isAt(one, text, at));
      if (!found) continue;
      const behind = at - found.before + found.text.length;
      if (place.below !== '' && !this.#isSeat(text, behind, found.spelling)) continue;
      return seat?.below === '' && seat.isOwn(text, behind) ? found.own : found;
    }
    return undefined;
  }

  /** Does the address of the CMS, which is one of a folder of the site, end here, or go on with a path of its own? */
  #isSeat(text: string, at: number, spelling: Spelling): boolean {
    const { end, as } = PATHS[spelling];
    end.lastIndex = at;
    end.test(text);
    return ['', '/'].includes(unspell(text.slice(at, end.lastIndex), as)) || this.#index.seat?.isOwn(text, at) === true;
  }

  /** A path that the site knows; only where writing it again would give the same text. `below`: the folder that was read already. `stop`: no sign behind it belongs to the path. */
  #path(text: string, start: number, spelling: Spelling, below = '', stop = text.length): Span | undefined {
    const { end, as } = PATHS[spelling];
    end.lastIndex = start;
    end.test(text);
    const written = text.slice(start, Math.min(end.lastIndex, stop));
    const found = this.#index.byPath(below + unspell(written, as));
    // The end of a sentence is no part of a path.
    if (!found && /[.;:!]$/.test(written)) return this.#path(text, start, spelling, below, start + written.length - 1);
    // Nor is a quotation mark that is written as an entity.
    const entity = found ? -1 : written.search(/&(?:quot|apos|#0*3[49]);?/);
    if (entity >= 0) return this.#path(text, start, spelling, below, start + entity);
    if (!found || spell((this.#index.pathOf(found.address, found.variant) ?? '').slice(below.length), as) !== written) return undefined;
    return { start, end: start + written.length, pieces: [{ token: 'path', address: found.address, variant: found.variant, spelling: as }] };
  }

  /** Ids in the query of an address (RFC 3986, section 3.4) of the site, where a kind says which parameters hold ids; and the id of the very item that the path is `of`. */
  #query(text: string, start: number, into: Span[], { encoded = false, of }: { encoded?: boolean; of?: string | undefined }): void {
    const { rest, parameters } = QUERIES[encoded ? 'encoded' : 'plain'];
    rest.lastIndex = start;
    const [all = '', path = '', query = ''] = rest.exec(text) ?? [];
    for (const found of query.matchAll(parameters)) {
      const [, name = '', id = ''] = found;
      const kinds = this.#parameters.get(name)?.flatMap((one) => (one.path === '/' || unspell(path, encoded ? 'encoded' : 'escaped').endsWith(one.path) ? one.kind : []));
      const address = kinds ? this.#index.byId(kinds, localId(id)) : of !== undefined && String(this.#index.idOf(of)) === id ? of : undefined;
      const end = start + all.length - query.length + found.index + found[0].length;
      if (address !== undefined) into.push({ start: end - id.length, end, pieces: [{ token: 'id', address }] });
    }
  }
}

/** A text that is serialised says its length before it; here in a text, where its quotation marks may be escaped. */
const SAYS_LENGTH = /\bs:\d+:(?:\\*"|\\*u0022|&quot;|%22)/g;
/** Where such texts are, at least as far as they are long. */
function saidLengths(text: string): { start: number; end: number }[] {
  return [...text.matchAll(SAYS_LENGTH)].map(({ 0: said, index }) => { const start = index + said.length; return { start, end: start + Number(/\d+/.exec(said)?.[0]) }; });
}

/** An address that texts have, with the folder of the site that it is in. */
interface Place { readonly host: string; readonly spelled: ReadonlyMap<string, readonly Found[]>; readonly below: string }
/** An address in one of its spellings. `below`: the folder of the site that is read with it; `own`: the same before one of the CMS's own paths. */
interface Found extends Spelled { readonly below: string; readonly own: Found }

function placesOf({ site, seat }: SiteIndex): Place[] {
  const place = (address: string, isSeat: boolean, below = ''): Place => ({ host: new URL(address).hostname, spelled: new Map([...spelledOf(address)].map(([sign, all]) => [sign, all.map((one) => foundAs(one, isSeat, below))])), below });
  return [...(seat && seat.address !== site ? [place(seat.address, true, seat.below)] : []), place(site, false)];
}

function foundAs(one: Spelled, isSeat: boolean, below: string): Found {
  const token = { ...one.token, seat: true } as const;
  const own: Found = { ...one, token, below, get own() { return own; } };
  return isSeat ? own : { ...one, below, own };
}

function isAt(one: Spelled, text: string, host: number): boolean { return text.startsWith(one.text, host - one.before) && stands(text, host - one.before, one); }

function parametersOf({ kinds }: SiteIndex): Parameters {
  const all = [...kinds.values()].flatMap(({ id, description }) => description.addresses.map((address) => { const [path = '', query = ''] = address.split('?'); return { name: query.slice(0, query.indexOf('=')), path, kind: id }; }));
  return groupBy(all, ({ name }) => name);
}

/** The item whose path a span is. */
function addressOf(span: Span | undefined): string | undefined {
  const [piece] = span?.pieces ?? [];
  return typeof piece === 'object' && piece.token === 'path' ? piece.address : undefined;
}
