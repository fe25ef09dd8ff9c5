import { pointerNames } from '../core/address.ts';
import type { Kinds } from '../core/kind.ts';
import { readable } from './readable.ts';

/** What a member is called for people, by kind and name. */
export type Labels = ReadonlyMap<string, Readonly<Record<string, string>>>;

export function labelsOf(...sides: readonly Kinds[]): Labels {
  return new Map(sides.flatMap((kinds) => [...kinds].map(([id, kind]) => [id, kind.description.labels] as const)));
}

/** The label that the kind gives, else the name in words: `mailTo` → `Mail to`. */
export function labelOf(labels: Labels, kind: string, name: string): string {
  const own = labels.get(kind);
  if (own && Object.hasOwn(own, name)) return own[name] as string;
  if (/^\d+$/.test(name)) return `no. ${Number(name) + 1}`;
  const shown = readable(name);
  if (/[[\].:/]/.test(shown)) return shown;
  const words = shown.replace(/([a-z\d])([A-Z])/g, '$1 $2').replace(/[_-]+/g, ' ').trim();
  return /^[a-z]/.test(words) ? words.charAt(0).toUpperCase() + words.slice(1).toLowerCase() : words;
}

/** A place as words: `/style/button` → `Style › Button`. */
export function placeLabel(labels: Labels, kind: string, at: string): string {
  return pointerNames(at).map((name) => labelOf(labels, kind, name)).join(' › ') || '(whole)';
}
