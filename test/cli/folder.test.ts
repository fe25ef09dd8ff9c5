import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { Bench, createOn } from '../helpers/sites.ts';

const bench = new Bench();
beforeAll(async () => {
  await bench.start('dev', 'live');
  writeFileSync(bench.path('pochette.yaml'), readFileSync(bench.path('pochette.yaml'), 'utf8') + '  repo:\n    url: folder:configuration\n');
});
afterAll(async () => { await bench.stop(); });
const file = (name: string): string => bench.path(`configuration/items/${name}.yaml`);
const read = (name: string): string => readFileSync(file(name), 'utf8');

describe('a folder under version control', () => {
  test('takes a whole site, whatever its kinds, pictures included', async () => {
    const ran = await bench.run('import', 'dev', 'repo', '--yes', '--json');
    expect(ran.err).toBe('');
    expect(JSON.parse(ran.out)).toMatchObject({ unequal: [], updated: 0 });
    expect(read('field-set/crossing')).toMatch(/^address: field-set:crossing\nkind: field-locker\/field-set\n/);
    expect(read('template/front')).toContain('⟦path page:winter⟧');
    expect(readdirSync(bench.path('configuration/media')).length).toBeGreaterThan(2);
    expect((await bench.run('import', 'dev', 'repo', '--yes')).out).toContain('Nothing to do');
    expect((await bench.run('compare', 'dev', 'repo')).code).toBe(0);
    expect((await bench.run('list', 'repo')).out).toContain('template:front');
  });

  test('what is changed by hand is carried on to a site', async () => {
    writeFileSync(file('field-set/crossing'), read('field-set/crossing').replace('kind: field', '# agreed with the harbour master\nkind: field').replace(/max: 340/, 'max: 345 # new vessel'));
    const ran = await bench.run('compare', 'repo', 'live', 'field-set:crossing');
    expect(ran.out).toMatch(/seats\/max {2}repo: 345 {2}live: 210/);
    expect((await bench.run('import', 'repo', 'live', '--yes')).err).toBe('');
    expect(JSON.stringify((await bench.site('live').items()).find((one) => one.name === 'crossing' && one.kind.endsWith('field-set'))?.value)).toContain('345');
    expect((await bench.run('verify', 'repo', 'live')).code).toBe(0);
  });

  test('the day on which something was made goes along, through files of both sorts, and does not count in a comparison', async () => {
    const made = async (site: 'dev' | 'live', name: string): Promise<string | undefined> => (await bench.site(site).items()).find((one) => one.name === name && one.kind === 'tholepin/template')?.created;
    for (const name of ['tides', 'moorings']) await createOn(bench.site('dev'), 'tholepin/template', name, { title: name, markup: '', layout: '{}', hero: 0, related: '' });
    const [tides, moorings] = [await made('dev', 'tides'), await made('dev', 'moorings')];
    expect((await bench.run('import', 'dev', 'repo', 'template:tides', '--yes')).err).toBe('');
    expect(read('template/tides')).toContain(`created: ${tides ?? ''}\n`);
    expect((await bench.run('export', 'dev', 'template:moorings', '-o', 'moorings.pochette')).code).toBe(0);
    for (const from of ['repo', 'moorings.pochette']) expect((await bench.run('import', from, 'live', from === 'repo' ? 'template:tides' : 'template:moorings', '--yes')).err).toBe('');
    expect([await made('live', 'tides'), await made('live', 'moorings')]).toEqual([tides, moorings]);
    expect((await bench.run('import', 'moorings.pochette', 'live', 'template:moorings', '--as', 'template:moorings=template:berths', '--yes')).err).toBe('');
    expect(await made('live', 'berths')).toBe(moorings);
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
    writeFileSync(file('template/tides'), read('template/tides').replace(/created: .*/, 'created: long ago'));
    expect((await bench.run('compare', 'repo', 'live', 'template:tides')).code).toBe(0);
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
    expect((await bench.run('import', 'repo', 'live', 'template:tides', '--yes')).code).toBe(0);
  });

  test('an update keeps comments and the order of keys; undo gives the files back byte for byte', async () => {
    const before = read('field-set/crossing');
    expect((await bench.run('import', 'dev', 'repo', 'field-set:crossing', '--decide', 'source', '--yes')).err).toBe('');
    expect(read('field-set/crossing')).toBe(before.replace('max: 345', 'max: 340'));
    expect((await bench.run('undo', 'repo', '--yes')).code).toBe(0);
    expect(read('field-set/crossing')).toBe(before);
  });

  test('a file with marks of an unsettled merge is named with its line', async () => {
    const before = read('template/front');
    writeFileSync(file('template/front'), before.replace('value:', '<<<<<<< ours\nvalue:'));
    const ran = await bench.run('list', 'repo');
    expect(ran.code).toBe(7);
    expect(ran.err).toMatch(/template\/front\.yaml:\d/);
    expect(ran.err).toMatch(/two people changed it/);
    writeFileSync(file('template/front'), before);
  });

  test('a file that leads out of the folder, or is no item, is refused', async () => {
    writeFileSync(file('template/odd'), 'address: nothing\nkind: x\nvalue: 1\n');
    expect((await bench.run('list', 'repo')).code).not.toBe(0);
    writeFileSync(file('template/odd'), 'address: template:..%2F..%2Fescape\nkind: tholepin/template\nvalue: {}\n');
    expect((await bench.run('import', 'repo', 'repo', '--yes')).code).toBe(0);
    expect(existsSync(bench.path('escape.yaml'))).toBe(false);
  });

  test('a folder that is not there is said to be so', async () => {
    writeFileSync(bench.path('pochette.yaml'), readFileSync(bench.path('pochette.yaml'), 'utf8').replace('folder:configuration', 'folder:elsewhere'));
    const ran = await bench.run('list', 'repo');
    expect(ran.code).toBe(7);
    expect(ran.err).toMatch(/there is no folder .*elsewhere/);
  });
});
