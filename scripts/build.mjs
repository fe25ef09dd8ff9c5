#!/usr/bin/env node
// Bundles the program. `pochette.cjs` holds only the command line; the work is in `program.cjs`, loaded when a command runs.
import { build } from 'esbuild';
import { readFileSync, rmSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

process.chdir(fileURLToPath(new URL('..', import.meta.url)));
rmSync('dist', { recursive: true, force: true });
const { version } = JSON.parse(readFileSync('package.json', 'utf8'));
const common = { bundle: true, platform: 'node', target: 'node20', logLevel: 'warning', legalComments: 'none', minify: true, keepNames: true };
const apart = {
  name: 'program-apart',
  setup(setup) { setup.onResolve({ filter: /\/program\.ts$/ }, () => ({ path: './program.cjs', external: true })); },
};
await Promise.all([
  build({ ...common, entryPoints: ['src/cli/main.ts'], outfile: 'dist/pochette.cjs', format: 'cjs', banner: { js: '#!/usr/bin/env node' }, plugins: [apart], define: { VERSION: JSON.stringify(version) } }),
  build({ ...common, entryPoints: ['src/cli/program.ts'], outfile: 'dist/program.cjs', format: 'cjs' }),
  build({ ...common, entryPoints: ['src/standin/main.ts'], outfile: 'dist/standin.cjs', format: 'cjs' }),
  build({ ...common, minify: false, entryPoints: ['src/core/index.ts'], outfile: 'dist/core.js', format: 'esm', packages: 'external' }),
]);
