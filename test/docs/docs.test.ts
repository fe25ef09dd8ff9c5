import { execFileSync } from 'node:child_process';
import { appendFileSync, chmodSync, copyFileSync, existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { loadLayout } from '../../src/sites/database/layout/load.ts';
import { compileKinds } from '../../src/core/index.ts';
import { parse } from 'yaml';
import { QUAYSIDE_LAYOUT, quayside, sqliteSite } from '../helpers/quayside.ts';
import { Bench, DIST } from '../helpers/sites.ts';

const pages = ['README.md', ...['docs', 'docs/howto', 'docs/protocol'].flatMap((folder) => readdirSync(folder).filter((name) => name.endsWith('.md')).map((name) => join(folder, name)))];
const commands = readFileSync('docs/commands.md', 'utf8');
const help = (...words: string[]): string => execFileSync(process.execPath, [join(DIST, 'pochette.cjs'), ...words, '--help'], { encoding: 'utf8' });

test.each(pages)('every link and picture of %s is there', (page) => {
  const text = readFileSync(page, 'utf8');
  for (const [, to = ''] of text.matchAll(/\]\(([^)#]+)(?:#[^)]*)?\)/g)) if (!to.startsWith('http')) expect([to, existsSync(join(dirname(page), to))]).toEqual([to, true]);
});

test('the reference of commands has every verb and every option of the program', () => {
  const verbs = [...help().matchAll(/^ {2}(\w+) \[options\]/gm)].map(([, verb]) => verb as string);
  expect(verbs).toHaveLength(18);
  for (const verb of verbs) {
    expect(commands).toMatch(new RegExp(`^### \`${verb}\\b`, 'm'));
    for (const [, option] of help(verb).matchAll(/^ {2}(?:-\w, )?(--[a-z-]+)/gm)) if (option !== '--help') expect([verb, option, commands.includes(option as string)]).toEqual([verb, option, true]);
  }
});

test('the example of a layout is one', async () => {
  const bench = new Bench();
  const [, example = ''] = /```yaml\n([^]*?)```/.exec(readFileSync('docs/layouts.md', 'utf8')) ?? [];
  writeFileSync(bench.path('layout.yaml'), example);
  expect(loadLayout('layout.yaml', bench.folder).layout.kinds.map((kind) => kind.id)).toContain('harbour-desk/settings');
  await bench.stop();
});

test('the example of a kind is one', () => {
  const [, example = ''] = /```yaml\n([^]*?)```/.exec(readFileSync('docs/kinds.md', 'utf8')) ?? [];
  expect(compileKinds([parse(example)], 'docs').size).toBe(1);
});

describe('how-tos, run as they stand', () => {
  let bench: Bench;
  beforeEach(async () => { bench = await new Bench().start('dev', 'live'); });
  afterEach(async () => { await bench.stop(); });

  // That one is run on the real CMS.
  test.each(readdirSync('docs/howto').filter((name) => name !== 'carry-between-databases.md'))('%s', async (name) => {
    sqliteSite(bench.path('harbour.db'), quayside('sqlite', 'dev', 'https://dev.skerrin.example', ''));
    appendFileSync(bench.path('pochette.yaml'), '  harbour:\n    url: sqlite:harbour.db\n    layout: quayside.yaml\n'.replace(name === 'write-a-layout.md' ? '    layout: quayside.yaml\n' : '', ''));
    writeFileSync(bench.path('quayside.yaml'), QUAYSIDE_LAYOUT);
    await bench.run('import', 'dev', 'live', 'image-format:*', '--yes');
    copyFileSync('docs/screenshots/live-before.png', bench.path('cover.png'));
    // There is no one to ask here; and a comparison that finds differences is no failure.
    mkdirSync(bench.path('bin'));
    writeFileSync(bench.path('bin/pochette'), `#!/bin/sh\nrun() { "${process.execPath}" "${join(DIST, 'pochette.cjs')}" "$@"; }\ncase "$1" in serve) exec "${process.execPath}" "${join(DIST, 'pochette.cjs')}" "$@" ;; import|undo|publish) run "$@" --yes ;; compare) run "$@"; [ $? -le 1 ] ;; *) run "$@" ;; esac\n`);
    chmodSync(bench.path('bin/pochette'), 0o755);
    const blocks = [...readFileSync(join('docs/howto', name), 'utf8').matchAll(/```sh\n([^]*?)```/g)].map(([, block]) => block);
    expect(blocks.length).toBeGreaterThan(0);
    execFileSync('bash', ['-e', '-c', ["trap 'kill $(jobs -p) 2> /dev/null || true' EXIT", ...blocks].join('\n')], { cwd: bench.folder, env: { ...process.env, PATH: `${bench.path('bin')}:${process.env['PATH']}` }, stdio: 'pipe', timeout: 50_000 });
  });
});
