#!/usr/bin/env node
// npm test: sets everything up, then runs Jest with the same words.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { root, setUp } from './setup.mjs';

setUp();
const jest = spawnSync(process.execPath, ['--experimental-vm-modules', '--no-warnings', join(root, 'node_modules', 'jest', 'bin', 'jest.js'), ...process.argv.slice(2)], { cwd: root, stdio: 'inherit' });
process.exitCode = jest.status ?? 70;
