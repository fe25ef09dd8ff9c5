/** A value as JSON has it. Portable forms are made of nothing else. */
export type Json = null | boolean | number | string | Json[] | JsonObject;
export interface JsonObject { [key: string]: Json }

/** How deep a value may be nested, tags included. Deeper ones are refused with the place named. */
export const MAX_DEPTH = 64;

export function isObject(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** Sets an own property, also for the key `__proto__`, which plain assignment would swallow. */
export function setOwn<T>(object: Record<string, T>, key: string, value: T): void {
  if (key === '__proto__') Object.defineProperty(object, key, { value, writable: true, enumerable: true, configurable: true });
  else object[key] = value;
}

/** What an object has under a name that may come from outside: nothing of what every object has. */
export function getOwn<T>(object: Readonly<Record<string, T>> | undefined, key: string): T | undefined {
  return object && Object.hasOwn(object, key) ? object[key] : undefined;
}

export function cloneJson<T extends Json>(value: T): T {
  if (Array.isArray(value)) return value.map((entry) => cloneJson(entry)) as T;
  if (!isObject(value)) return value;
  const copy: JsonObject = {};
  for (const [key, entry] of Object.entries(value)) setOwn(copy, key, cloneJson(entry as Json));
  return copy as T;
}

/** The one order used wherever a list is sorted: UTF-16 code units, no locale. */
export function byCodeUnit(a: string, b: string): number {
  return a < b ? -1 : a > b ? 1 : 0;
}

/** So many at a time. */
export function* inChunks<T>(list: Iterable<T>, size: number): Generator<T[]> {
  let chunk: T[] = [];
  for (const one of list) {
    chunk.push(one);
    if (chunk.length < size) continue;
    yield chunk;
    chunk = [];
  }
  if (chunk.length > 0) yield chunk;
}

/** The same texts in the same order. */
export function sameList(a: readonly string[], b: readonly string[]): boolean {
  return a.length === b.length && a.every((one, i) => one === b[i]);
}

/** Makes something of data, and of equal data only once: most kinds of a site say the same of many things. */
export function onceFor<From, Made>(make: (from: From) => Made): (from: From) => Made {
  const made = new Map<string, Made>();
  return (from) => {
    const key = JSON.stringify(from);
    const there = made.get(key);
    if (there !== undefined) return there;
    const fresh = make(from);
    made.set(key, fresh);
    return fresh;
  };
}

/** Groups in the order in which keys are first met. (`Map.groupBy` is not in Node 20.) */
export function groupBy<T, K>(list: Iterable<T>, keyOf: (entry: T) => K): Map<K, T[]> {
  const groups = new Map<K, T[]>();
  for (const entry of list) {
    const key = keyOf(entry);
    const group = groups.get(key);
    if (group) group.push(entry); else groups.set(key, [entry]);
  }
  return groups;
}
