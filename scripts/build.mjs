#!/usr/bin/env node
// Bundles the program. `pochette.cjs` holds only the command line; the work is in `program.cjs`, loaded when a command runs;
// large packages that only some commands need are files of their own, loaded when they are used.
import { build } from 'esbuild';
import { readFileSync, rmSync } from 'node:fs';
import layouts from './compiledlayout.cjs';
import { fileURLToPath } from 'node:url';

process.chdir(fileURLToPath(new URL('..', import.meta.url)));
rmSync('dist', { recursive: true, force: true });
const { version } = JSON.parse(readFileSync('package.json', 'utf8'));
const APART = ['prompts', 'cli-progress', 'sanitize-html'];
/** Drivers of database servers stay packages: one is made of native code, and each is loaded only for its own server. */
const DRIVERS = ['libsql', 'mysql2', 'pg'];
// esbuild's own process stays in the folder that the build was called from.
const common = { absWorkingDir: process.cwd(), bundle: true, platform: 'node', target: 'node20', logLevel: 'warning', legalComments: 'none', minify: !process.env.POCHETTE_READABLE };
// `require` loads a CommonJS file faster than `import` does, which scans it for exports first.
const program = { ...common, format: 'cjs', supported: { 'dynamic-import': false } };
const apart = {
  name: 'apart',
  setup(setup) {
    setup.onResolve({ filter: /\/database\/open\.ts$/ }, ({ kind }) => (kind === 'entry-point' ? undefined : { path: './database.cjs', external: true }));
    setup.onResolve({ filter: /\/serve\/server\.ts$/ }, ({ kind }) => (kind === 'entry-point' ? undefined : { path: './serve.cjs', external: true }));
    setup.onResolve({ filter: /\/report\/index\.ts$/ }, ({ kind }) => (kind === 'entry-point' ? undefined : { path: './report.cjs', external: true }));
    setup.onResolve({ filter: /\/pick\/prompt\.ts$/ }, ({ kind }) => (kind === 'entry-point' ? undefined : { path: './pick.cjs', external: true }));
    setup.onResolve({ filter: /\/program\.ts$/ }, ({ kind }) => (kind === 'entry-point' ? undefined : { path: './program.cjs', external: true }));
    setup.onResolve({ filter: new RegExp(`^(${APART.join('|')})$`) }, ({ kind, path }) => (kind === 'entry-point' ? undefined : { path: `./${path}.cjs`, external: true }));
  },
};
const layout = {
  name: 'layout',
  setup(setup) { setup.onLoad({ filter: /\.yaml$/ }, ({ path }) => ({ contents: layouts.compiledLayout(readFileSync(path, 'utf8')), loader: 'js' })); },
};
await Promise.all([
  build({ ...program, entryPoints: ['src/cli/main.ts'], outfile: 'dist/pochette.cjs', banner: { js: '#!/usr/bin/env node' }, plugins: [apart], define: { VERSION: JSON.stringify(version) } }),
  build({ ...program, entryPoints: ['src/cli/program.ts'], outfile: 'dist/program.cjs', plugins: [apart] }),
  build({ ...program, entryPoints: ['src/sites/database/open.ts'], outfile: 'dist/database.cjs', external: DRIVERS, plugins: [layout] }),
  build({ ...program, entryPoints: ['src/sites/serve/server.ts'], outfile: 'dist/serve.cjs' }),
  build({ ...program, entryPoints: ['src/report/index.ts'], outfile: 'dist/report.cjs' }),
  build({ ...program, entryPoints: ['src/cli/pick/prompt.ts'], outfile: 'dist/pick.cjs' }),
  ...APART.map((name) => build({ ...program, entryPoints: [name], outfile: `dist/${name}.cjs` })),
  ...['packworker', 'checkworker'].map((name) => build({ ...program, entryPoints: [`src/pochette/${name}.ts`], outfile: `dist/${name}.cjs` })),
  build({ ...program, entryPoints: ['src/standin/main.ts'], outfile: 'dist/standin.cjs' }),
  build({ ...common, minify: false, entryPoints: ['src/core/index.ts'], outfile: 'dist/core.js', format: 'esm', packages: 'external' }),
]);
