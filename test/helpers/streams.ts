import { expect } from '@jest/globals';
import { paired } from '../../src/core/index.ts';

async function* stream(addresses: readonly string[]): AsyncGenerator<{ address: string }> {
  for (const address of [...addresses].sort()) yield await Promise.resolve({ address });
}

/** Every address of either side once, in order, with the sides that have it. */
export async function pairedTest(left: readonly string[], right: readonly string[]): Promise<void> {
  const found: string[] = [];
  for await (const pair of paired(stream(left), stream(right))) {
    expect(pair.left !== undefined).toBe(left.includes(pair.address));
    expect(pair.right !== undefined).toBe(right.includes(pair.address));
    found.push(pair.address);
  }
  expect(found).toEqual([...new Set([...left, ...right])].sort());
}
