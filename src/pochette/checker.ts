import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { Problem, type ProblemCode } from '../core/problem.ts';
import type { Pochette } from './read.ts';

/** What the other thread answers. */
export type Checked = { readonly members: number } | { readonly problem: { readonly code: ProblemCode; readonly message: string; readonly where: string | undefined; readonly remedy: string | undefined; readonly details: readonly string[] } };

/** Beside the bundled program; when run from sources there is none, and the file is checked at once. */
const WORKER = typeof __dirname === 'string' ? join(__dirname, 'checkworker.cjs') : '';
/** What it reads is soon done with: a small heap is enough, and a larger one would only be memory. */
const YOUNG_MEGABYTES = 4;
/** Smaller files are checked sooner than a thread starts. */
const LARGE = 1000;

/** Reads and checks everything of a file while other work goes on: a large one in a second thread, which `stop` ends. Throws what the check found. */
export async function checkBeside(pochette: Pochette, stop: AbortSignal): Promise<void> {
  if (pochette.size < LARGE || WORKER === '' || !existsSync(WORKER)) { await pochette.check(); return; }
  const worker = new Worker(WORKER, { workerData: pochette.path, resourceLimits: { maxYoungGenerationSizeMb: YOUNG_MEGABYTES } });
  const end = (): void => { void worker.terminate(); };
  stop.addEventListener('abort', end, { once: true });
  const checked = await new Promise<Checked>((settle, fail) => {
    worker.once('message', settle);
    worker.once('error', fail);
    worker.once('exit', () => { fail(new Error('the thread that checks the file ended')); });
  }).finally(() => worker.terminate());
  if ('members' in checked) return;
  const { code, message, where, remedy, details } = checked.problem;
  throw new Problem(code, message, { ...(where === undefined ? {} : { where }), ...(remedy === undefined ? {} : { remedy }), details });
}
