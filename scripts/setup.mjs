// Installs what is missing and builds, so that every command of package.json works on a fresh clone. Needs Node and npm only.
import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('..', import.meta.url));

function newest(folder) {
  return readdirSync(folder, { recursive: true, withFileTypes: true }).filter((entry) => entry.isFile())
    .reduce((latest, entry) => Math.max(latest, statSync(join(entry.parentPath ?? entry.path, entry.name)).mtimeMs), 0);
}

export function setUp() {
  const installed = join(root, 'node_modules', '.package-lock.json');
  const lock = statSync(join(root, 'package-lock.json')).mtimeMs;
  if (!existsSync(installed) || statSync(installed).mtimeMs < lock) {
    process.stderr.write('Installing packages (once)…\n');
    // Not "npm ci": it wants the packages of every other platform in the lock file, which not every registry offers. The locked versions are kept.
    execFileSync('npm', ['install', '--no-save', '--no-audit', '--no-fund', '--loglevel=error'], { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] });
  }
  const built = join(root, 'dist', 'program.cjs');
  if (!existsSync(built) || statSync(built).mtimeMs < Math.max(newest(join(root, 'src')), statSync(join(root, 'scripts', 'build.mjs')).mtimeMs)) {
    process.stderr.write('Building…\n');
    execFileSync(process.execPath, [join(root, 'scripts', 'build.mjs')], { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] });
  }
}
