import { literal } from './wildcard.ts';

/** What a site says of where its CMS lies: often at the address of the site itself, else in a folder below it, or at another address. `paths`: what it has there of its own. */
export interface SeatFacts { readonly address: string; readonly paths: readonly string[] }

/** A slash as it may be written in a text, or in a text inside a text. */
export const SLASH = '(?:\\\\*/|\\\\u00(?:2[fF]|5[cC]/)|%(?:25)?(?:5[cC]%(?:25)?)?2[fF]|&#(?:0*47|[xX]0*2[fF]);)';

/** Where the CMS of a site lies: what texts say of its own paths has another address on another site. */
export class Seat {
  readonly address: string;
  /** The folder below the site's address that it lies in; empty where it is at that address. Nothing: it is at another address. */
  readonly below: string | undefined;
  readonly #own: RegExp;

  constructor(site: string, { address, paths }: SeatFacts) {
    const [at, of] = [new URL(address), new URL(site)];
    // With and without encryption it is the same place.
    this.address = (at.host === of.host ? site.replace(/^(\w+:\/\/[^/]*).*/, '$1') + at.pathname : address).replace(/\/+$/, '');
    this.below = this.address === site ? '' : this.address.startsWith(`${site}/`) ? this.address.slice(site.length) : undefined;
    this.#own = paths.length === 0 ? /(?!)/y : new RegExp(`(?:${paths.map((path) => path.split('/').filter((part) => part !== '').map((part) => SLASH + literal(part)).join('')).join('|')})(?![\\w.-])`, 'y');
  }

  /** Is what stands here, however it is written, one of its own paths, or below one? */
  isOwn(text: string, at = 0): boolean {
    this.#own.lastIndex = at;
    return this.#own.test(text);
  }
}

/** The whole address of a path of a site, which has no slash at its end. */
export function urlAt(site: string, seat: Seat | undefined, path: string): string { return (seat?.isOwn(path) === true ? seat.address : site) + path; }
