import { parsePlace, type Address } from '../core/address.ts';
import { anyOf } from '../core/wildcard.ts';
import { Problem } from '../core/problem.ts';
import { parseSelector, selection, type Selector } from '../core/selector.ts';
import type { Listed } from './sources/source.ts';

/** What someone chose. Selectors add up; the other filters narrow what they select. No selector selects everything. */
export interface Choice {
  readonly selectors: readonly string[];
  /** Selectors of what is left out again. */
  readonly except?: readonly string[];
  /** Owners of kinds: extensions, or the CMS. */
  readonly owners?: readonly string[];
  /** Texts with * that a title must contain, whatever the case. */
  readonly titles?: readonly string[];
  /** Only what was changed at or after this time, ISO 8601. */
  readonly since?: string;
  /** What is taken although it usually stays: `address#/place`, or `address#part`. */
  readonly take?: readonly string[];
  /** Pictures and files are left out. */
  readonly noMedia?: boolean;
}
export const EVERYTHING: Choice = { selectors: [] };

/** A choice made ready for asking. */
export interface Chooser {
  readonly selectors: readonly Selector[];
  readonly everything: boolean;
  /** 'all', names of parts and places, or nothing. */
  of(address: Address, one: Listed): 'all' | string[] | undefined;
}

export function chooser(choice: Choice): Chooser {
  const selectors = choice.selectors.map(parseSelector);
  const except = (choice.except ?? []).map(parseSelector);
  const whole = except.find((one) => one.part !== undefined);
  if (whole) throw new Problem('usage', `"${whole.text}" leaves out a part`, { remedy: 'name the parts that you want instead: kind:name#part' });
  const titled = (choice.titles ?? []).map((text) => anyOf([`*${text}*`], { caseless: true }));
  const owners = new Set(choice.owners ?? []);
  const filtered = owners.size + titled.length > 0 || choice.since !== undefined;
  const fits = (one: Listed): boolean => (owners.size === 0 || owners.has(one.kind.slice(0, one.kind.indexOf('/'))))
    && titled.every((fit) => fit(one.title)) && (choice.since === undefined || (one.changed !== undefined && one.changed >= choice.since));
  return {
    selectors, everything: selectors.length + except.length === 0 && !filtered,
    of: (address, one) => (fits(one) && !except.some((other) => other.matches(address, one.kind)) ? selection(selectors, address, one.kind) : undefined),
  };
}

/** A time as people write it: a date, a date with time, or so many days or hours ago ("3d", "12h"). Local times count as UTC. */
export function readSince(text: string, now: Date): string {
  const ago = /^(\d+)\s*([dh])$/.exec(text);
  const hours = ago ? Number(ago[1]) * (ago[2] === 'd' ? 24 : 1) : undefined;
  const time = hours === undefined ? new Date(/^\d{4}-\d{2}-\d{2}([T ]\d{2}:\d{2}(:\d{2})?)?$/.test(text) ? `${text.replace(' ', 'T')}${text.length > 10 ? 'Z' : ''}` : text) : new Date(now.getTime() - hours * 3_600_000);
  if (Number.isNaN(time.getTime())) throw new Problem('usage', `"${text}" is no time`, { remedy: 'write a date such as 2026-11-01, or 3d or 12h for so long ago' });
  return time.toISOString();
}

/** `old=new` pairs of an option. */
export function readPairs(texts: readonly string[], option: string): Record<Address, Address> {
  return Object.fromEntries(texts.map((text) => {
    const found = /^([^=]+:[^=]+)=([^=]+:[^=]+)$/.exec(text);
    if (!found?.[1] || !found[2]) throw new Problem('usage', `"${text}" is not understood`, { where: option, remedy: `write ${option} kind:name=kind:other` });
    return [parsePlace(found[1]).address, parsePlace(found[2]).address];
  }));
}
