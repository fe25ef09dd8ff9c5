import { spawn, spawnSync, type ChildProcess, type SpawnSyncReturns } from 'node:child_process';
import { createInterface } from 'node:readline';
import { existsSync } from 'node:fs';

const TIME = '/usr/bin/time';

/** Benchmarks run without the extra certificates of the machine: reading them costs every start of Node 20 over 100 ms. */
export const ENVIRONMENT: NodeJS.ProcessEnv = Object.fromEntries(Object.entries(process.env).filter(([name]) => name !== 'NODE_EXTRA_CA_CERTS'));

export function run(words: readonly string[], folder: string, codes: readonly number[] = [0]): SpawnSyncReturns<string> {
  const [program = '', ...args] = words;
  const ran = spawnSync(program, args, { cwd: folder, encoding: 'utf8', env: ENVIRONMENT, maxBuffer: 2 ** 30 });
  if (ran.error) throw ran.error;
  if (!codes.includes(ran.status ?? -1)) throw new Error(`${words.join(' ')} ended with ${ran.status}: ${ran.stderr.slice(-500)}`);
  return ran;
}

/** Wall seconds of a whole process. */
export function seconds(words: readonly string[], folder: string, codes?: readonly number[]): number {
  const begun = process.hrtime.bigint();
  run(words, folder, codes);
  return Number(process.hrtime.bigint() - begun) / 1e9;
}

/** Peak memory of a whole process in MB, as the operating system counts it. */
export function peakMegabytes(words: readonly string[], folder: string, codes: readonly number[] = [0]): number {
  if (!existsSync(TIME)) return NaN;
  const ran = run([TIME, '-f', 'peak %M', ...words], folder, codes);
  return Number(/peak (\d+)/.exec(ran.stderr)?.[1]) / 1024;
}

export function median(list: readonly number[]): number {
  const sorted = [...list].sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)] ?? NaN;
}

export interface Pair { readonly ours: number; readonly theirs: number; readonly ratio: number }

/** Both in turn, so that a machine whose speed drifts treats them alike; the ratio is the median of the pairs' ratios. */
export function paired(rounds: number, ours: () => number, theirs: () => number): Pair {
  const pairs = Array.from({ length: rounds }, () => [ours(), theirs()] as const);
  return { ours: median(pairs.map(([a]) => a)), theirs: median(pairs.map(([, b]) => b)), ratio: median(pairs.map(([a, b]) => a / b)) };
}

/** `port`: where it was before, so that its own address in its texts stays the same. */
export function startSite(program: string, folder: string, port = 0): Promise<{ address: string; token: string; process: ChildProcess }> {
  const child = spawn(process.execPath, [program, '--folder', folder, '--own-address', '--port', String(port)], { stdio: ['pipe', 'pipe', 'inherit'], env: ENVIRONMENT });
  return new Promise((settle) => {
    createInterface({ input: child.stdout }).once('line', (line) => {
      const { address, tokens } = JSON.parse(line) as { address: string; tokens: { token: string }[] };
      settle({ address, token: tokens[0]?.token ?? '', process: child });
    });
  });
}
