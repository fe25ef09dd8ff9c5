import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { expect } from '@jest/globals';
import { DIST, type Bench } from './sites.ts';

export const KEYS = { enter: '\r', up: '\u001b[A', down: '\u001b[B', right: '\u001b[C' } as const;

/** The built program on a pseudo-terminal. */
export interface OnTerminal {
  /** Waits until something new was printed that fits. */
  until(text: RegExp): Promise<void>;
  press(...keys: string[]): Promise<void>;
  ended(): Promise<string>;
}

export function onTerminal(bench: Bench, ...words: string[]): OnTerminal {
  const quoted = [process.execPath, join(DIST, 'pochette.cjs'), ...words].map((word) => `'${word}'`).join(' ');
  const child = spawn('script', ['-qfec', quoted, '/dev/null'], { cwd: bench.folder, env: { ...process.env, TERM: 'xterm', NO_COLOR: '1' }, stdio: 'pipe' });
  let [seen, from] = ['', 0];
  const end = new Promise<void>((settle) => { child.once('close', () => { settle(); }); });
  child.stdout.on('data', (chunk: Buffer) => { seen += chunk.toString(); });
  const pause = (ms: number): Promise<void> => new Promise((settle) => { setTimeout(settle, ms); });
  return {
    async until(text) {
      for (let tries = 0; !text.test(seen.slice(from)) && tries < 100; tries++) await pause(50);
      expect(seen.slice(from)).toMatch(text);
      from = seen.length;
    },
    async press(...keys) { for (const key of keys) { child.stdin.write(key); await pause(100); } },
    async ended() { child.stdin.end(); await end; return seen; },
  };
}
