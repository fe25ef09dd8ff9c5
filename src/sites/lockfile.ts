import { readFileSync, rmSync, writeFileSync } from 'node:fs';

/** Lock files that this program holds. */
const HELD = new Set<string>();

/**
 * A lock as a file with the number of the process that holds it; one whose process has ended is taken over.
 * Gives back what removes it, or undefined where another holds it.
 */
export function lockFile(path: string): (() => Promise<void>) | undefined {
  const take = (): boolean => { try { writeFileSync(path, String(process.pid), { flag: 'wx' }); return true; } catch { return false; } };
  if (!take()) {
    const holder = Number(readFileSync(path, 'utf8'));
    // Our own number without a lock of ours is the number of a program that has ended.
    if (holder === process.pid ? HELD.has(path) : isRunning(holder)) return undefined;
    rmSync(path, { force: true });
    if (!take()) return undefined;
  }
  HELD.add(path);
  return () => { HELD.delete(path); rmSync(path, { force: true }); return Promise.resolve(); };
}

function isRunning(pid: number): boolean {
  try { process.kill(pid, 0); return true; } catch (error) { return (error as { code?: string }).code === 'EPERM'; }
}
