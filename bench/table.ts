import { join, resolve } from 'node:path';
import Table from 'cli-table3';
import type { Pair } from './measure.ts';

export const DIST = resolve('dist');
export const POCHETTE = [process.execPath, join(DIST, 'pochette.cjs')];
export const ROUNDS = 5;
/** Notes the peak memory of something at a size, in MB. */
export type Peaks = (what: string, size: number, megabytes: number) => void;

interface Line { what: string; ours: string; beside: string; theirs: string; ratio: string; target: string }
const lines: Line[] = [];
const found = new Map<string, Map<number, number>>();

function time(s: number): string { return s < 1 ? `${(s * 1000).toFixed(0)} ms` : `${s.toFixed(2)} s`; }

export function addLine(what: string, beside: string, pair: Pair, target: string, shown: (value: number) => string = time): void {
  lines.push({ what, ours: shown(pair.ours), beside, theirs: shown(pair.theirs), ratio: `${pair.ratio.toFixed(2)}x`, target });
}

export const notePeak: Peaks = (what, size, megabytes) => { const bySize = found.get(what) ?? new Map<number, number>(); found.set(what, bySize.set(size, megabytes)); };

/** Peak memory at the largest size beside that at the smallest. */
export function addPeaks(targetOf: (what: string) => string): void {
  for (const [what, bySize] of found) {
    const [small, large] = [Math.min(...bySize.keys()), Math.max(...bySize.keys())];
    if (small === large) continue;
    const [a, b] = [bySize.get(small) ?? NaN, bySize.get(large) ?? NaN];
    lines.push({ what: `peak memory, ${what}, ${large} items`, ours: `${b.toFixed(0)} MB`, beside: `ourselves, ${small} items`, theirs: `${a.toFixed(0)} MB`, ratio: `${(b / a).toFixed(2)}x`, target: targetOf(what) });
  }
}

export function printed(): string {
  const table = new Table({ head: ['what', 'ours', 'beside, in the same run', 'its figure', 'ratio', 'first target'], style: { head: [], border: [] } });
  table.push(...lines.map((line) => [line.what, line.ours, line.beside, line.theirs, line.ratio, line.target]));
  return table.toString();
}
