/** Works on a list, several entries at a time; the results are in the order of the list. After a failure no further entry is begun. */
export async function inParallel<T, R>(list: readonly T[], atOnce: number, work: (one: T) => Promise<R>): Promise<R[]> {
  const results = new Array<R>(list.length);
  let next = 0;
  const worker = async (): Promise<void> => {
    for (let i = next++; i < list.length; i = next++) results[i] = await work(list[i] as T);
  };
  const ended = await Promise.allSettled(Array.from({ length: Math.min(atOnce, list.length) }, () => worker().catch((error: unknown) => { next = list.length; throw error; })));
  const failed = ended.find((one) => one.status === 'rejected');
  if (failed) throw failed.reason;
  return results;
}

/** Requests to one site at a time. */
export const AT_ONCE = 4;

/** What comes one by one, in groups of a size; the last one can be smaller. */
export async function* groups<T>(list: AsyncIterable<T>, size: number): AsyncGenerator<T[]> {
  let some: T[] = [];
  for await (const one of list) {
    some.push(one);
    if (some.length < size) continue;
    yield some;
    some = [];
  }
  if (some.length > 0) yield some;
}
