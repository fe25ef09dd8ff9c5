import { appendFileSync, writeFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { call } from '../helpers/calls.ts';
import { CmsPair, hasCms, type CmsSite } from '../helpers/cms.ts';
import { madeBy, madeUpExtension, together, type Extension } from '../helpers/extension.ts';
import { hasMariaDb } from '../helpers/servers.ts';
import { SHAPES } from '../helpers/shapes.ts';

/** Extensions in shapes that nobody has thought of, without and with tables of their own. */
const [PLAIN, WITH_TABLES] = [[1, 20], [50, 56]];
/** So many of the shapes that are written by hand are on one site, as sites have several. */
const TOGETHER = 6;
const shapes = Object.values(SHAPES);

(hasMariaDb && hasCms ? describe : describe.skip)('a real CMS with extensions that were made up', () => {
  const pair = new CmsPair();
  const start: Partial<Record<'cms_dev' | 'cms_live', string>> = {};
  const run = (...words: string[]) => pair.bench.run(...words);
  const database = (name: string): string[] => ['--no-defaults', `--socket=${pair.server.socket}`, '-uroot', name];
  const NAMES = ['cms_dev', 'cms_live'] as const;

  beforeAll(async () => {
    await pair.start();
    for (const name of NAMES) start[name] = call('mysqldump', [...database(name), '--hex-blob']);
  });
  afterAll(() => pair.stop());

  /** As if nobody had ever been there. */
  function begin(extension: Extension): void {
    for (const name of NAMES) {
      pair.server.run(`drop database ${name}; create database ${name} character set utf8mb4`);
      call('mariadb', database(name), { input: start[name] ?? '' });
    }
    writeFileSync(pair.bench.path('extension.json'), JSON.stringify(extension));
    for (const site of [pair.dev, pair.live]) site.fill('extension.php', pair.bench.path('extension.json'));
  }

  /** What places do not hold what they should. */
  function wrong(site: CmsSite): unknown[] { return (JSON.parse(site.told('extension.php', pair.bench.path('extension.json'), 'look')) as [string, unknown, unknown][]).filter(([, wanted, is]) => JSON.stringify(wanted) !== JSON.stringify(is)); }

  async function drafted(layout: string): Promise<string> {
    pair.configure();
    expect((await run('layout', 'draft', 'dev', '-o', layout)).err).toBe('');
    pair.configure(layout);
    return 'dev';
  }

  async function carried(extension: Extension, prepare: () => Promise<string>): Promise<void> {
    begin(extension);
    const from = await prepare();
    expect(wrong(pair.dev)).toEqual([]);
    const before = pair.dump();
    const ran = await run('import', from, 'live', '--yes', '--decide', 'source', '--json');
    expect([ran.err, ran.code]).toEqual(['', 0]);
    expect(wrong(pair.live)).toEqual([]);
    expect((await run('import', from, 'live', '--yes', '--decide', 'source')).out).toContain('Nothing to do');
    expect((await run('undo', 'live', '--yes')).code).toBe(0);
    expect(pair.dump()).toBe(before);
  }

  test.each(Array.from({ length: Math.ceil(shapes.length / TOGETHER) }, (_, i) => [i, shapes.slice(i * TOGETHER, (i + 1) * TOGETHER)] as const))('shapes %i: what each means arrives by way of a draft, and its own numbers stay', async (i, group) => {
    await carried(together(group), () => drafted(`shapes-${i}.yaml`));
  });

  test('all of them on one site, each by another maker: what two have a word for is that of the one in which it is said', async () => {
    // The only group of detours has the place 2, which is an id of the only other thing that is called so.
    const apart = Object.entries(SHAPES).filter(([name]) => !name.startsWith('detours')).map(([, shape], i) => madeBy(`${String.fromCharCode(97 + (i % 26))}${i < 26 ? 'q' : 'z'}`, shape));
    await carried(together(apart), () => drafted('all.yaml'));
  });

  test.each(PLAIN)('%i: everything that it means by an id or an address is meant on the other site, and every number stays what it is', async (seed) => {
    await carried(madeUpExtension(seed, false), () => { pair.configure(); return Promise.resolve('dev'); });
  });

  test.each(WITH_TABLES)('%i: the same with a table of its own, of which a draft makes out what it is, by way of a folder', async (seed) => {
    pair.configure();
    await carried(madeUpExtension(seed, true), async () => {
      expect((await run('layout', 'draft', 'dev', '-o', `draft-${seed}.yaml`)).code).toBe(0);
      pair.configure(`draft-${seed}.yaml`);
      appendFileSync(pair.bench.path('pochette.yaml'), `  repo:\n    url: folder:configuration-${seed}\n`);
      expect((await run('import', 'dev', 'repo', '--yes', '--quiet')).err).toBe('');
      return 'repo';
    });
  });
});
