import { expect } from '@jest/globals';
import type { Bench, Record_ } from './sites.ts';

export const json = (text: string): never => JSON.parse(text) as never;
export const named = (items: readonly Record_[], kind: string, name: string): Record_ => items.find((one) => one.kind === kind && one.name === name) as Record_;

export interface Left { address: string; at: string; why: string; remedy: string }
export interface Result { run: string; created: number; updated: number; leftOut: Left[]; adjusted: { adjusted: string; item: string; from?: string; to?: string; removed?: string[] }[]; followUps: { followUp: string; item: string; at: string; to: string }[]; seenAtOnce: string[]; unequal: unknown[]; silent: unknown[] }

/** An import that has to work, with what it says of itself; and the way back. */
export function imports(bench: Bench): { imported: (...words: string[]) => Promise<Result>; undone: (site?: string) => Promise<void> } {
  return {
    imported: async (...words) => {
      const ran = await bench.run('import', ...words, '--yes', '--json');
      expect([ran.code, ran.err]).toEqual([0, '']);
      return json(ran.out);
    },
    undone: async (site = 'live') => { expect((await bench.run('undo', site, '--yes')).code).toBe(0); },
  };
}
