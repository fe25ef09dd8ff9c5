#!/usr/bin/env node
// npm run demo: sets everything up, then runs "pochette demo" with the same words.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { root, setUp } from './setup.mjs';

setUp();
const child = spawn(process.execPath, [join(root, 'dist', 'pochette.cjs'), 'demo', ...process.argv.slice(2)], { stdio: 'inherit' });
// Ctrl-C reaches the child by itself; this one only waits for it.
process.on('SIGINT', () => undefined);
process.on('SIGTERM', () => child.kill('SIGTERM'));
child.on('exit', (code) => { process.exitCode = code ?? 70; });
