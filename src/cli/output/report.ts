import { writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { Problem } from '../../core/problem.ts';
import type { Call } from '../context.ts';
import { textOption } from '../words.ts';

/** Writes the page that `--report` asks for. It is written last: where it cannot be, nothing else is lost. */
export async function writeReport(call: Call, options: Readonly<Record<string, unknown>>, make: () => Promise<string>): Promise<void> {
  const file = textOption(options, 'report');
  if (file === undefined) return;
  const path = resolve(call.folder, file);
  const text = await make();
  try { writeFileSync(path, text); } catch (error) {
    if (!(error instanceof Error && 'code' in error)) throw error;
    throw new Problem('usage', `the report cannot be written: ${error.message}`, { where: path, remedy: 'name another file with --report; everything else was done' });
  }
}
