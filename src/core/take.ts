import type { Address } from './address.ts';

/** What of an item is taken although it usually stays: parts that travel only when asked for, and site-bound places by pointer. */
export interface Take { readonly parts: ReadonlySet<string>; readonly places: ReadonlySet<string> }
export type Takes = ReadonlyMap<Address, Take>;
export const NOTHING_TAKEN: Takes = new Map();

/** True for a place that is named, or lies below one that is. */
export function takesPlace(take: Take | undefined, at: string): boolean {
  return take !== undefined && [...take.places].some((place) => at === place || at.startsWith(`${place}/`));
}

/** Adds parts and places to what is taken of an item. */
export function taking(takes: Map<Address, Take>, address: Address, more: { part?: string; place?: string }): void {
  const before = takes.get(address);
  takes.set(address, { parts: new Set([...(before?.parts ?? []), ...(more.part === undefined ? [] : [more.part])]), places: new Set([...(before?.places ?? []), ...(more.place === undefined ? [] : [more.place])]) });
}
