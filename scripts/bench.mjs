#!/usr/bin/env node
// npm run bench: sets everything up, bundles the benchmarks, runs them.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { root, setUp } from './setup.mjs';

setUp();
process.chdir(root);
// On a fresh clone it is there only now.
const { build } = await import('esbuild');
await build({ entryPoints: ['bench/main.ts'], bundle: true, platform: 'node', target: 'node20', format: 'esm', packages: 'external', outfile: 'bench/work/bench.mjs', logLevel: 'warning' });
const environment = Object.fromEntries(Object.entries(process.env).filter(([name]) => name !== 'NODE_EXTRA_CA_CERTS'));
process.exitCode = spawnSync(process.execPath, [join('bench', 'work', 'bench.mjs'), ...process.argv.slice(2)], { stdio: 'inherit', env: environment }).status ?? 70;
