import { execFileSync, type ExecFileSyncOptions } from 'node:child_process';

/** Milliseconds after which a program that a test calls is taken to hang: while it is waited for, no time limit of a test counts. */
const LONGEST = 120_000;

/** Runs a program to its end and gives back what it printed; throws where it fails, and where it does not end. */
export function call(program: string, words: readonly string[], options: ExecFileSyncOptions = {}): string {
  return execFileSync(program, words, { maxBuffer: 1e9, ...options, encoding: 'utf8', timeout: LONGEST, killSignal: 'SIGKILL' });
}
