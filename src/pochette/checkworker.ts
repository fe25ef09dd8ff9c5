import { parentPort, workerData } from 'node:worker_threads';
import { isProblem } from '../core/problem.ts';
import { Pochette } from './read.ts';
import type { Checked } from './checker.ts';

/** The other thread that checks a file: opens it for itself, and tells what it found. */
async function check(path: string): Promise<Checked> {
  try {
    const pochette = await Pochette.open(path);
    try { return { members: await pochette.check() }; } finally { pochette.close(); }
  } catch (error) {
    if (!isProblem(error)) throw error;
    const { code, message, where, remedy, details } = error;
    return { problem: { code, message, where, remedy, details } };
  }
}

void check(workerData as string).then((checked) => { parentPort?.postMessage(checked); });
