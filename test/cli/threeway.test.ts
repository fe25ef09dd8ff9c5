import { createHash } from 'node:crypto';
import { copyFileSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { json, named } from '../helpers/imports.ts';
import { Bench, changeOn, deleteOn } from '../helpers/sites.ts';

const bench = new Bench();
beforeAll(async () => { await bench.start('dev', 'live'); });
afterAll(async () => { await bench.stop(); });

const live = async (kind: string, name: string): Promise<Record<string, never>> => named(await bench.site('live').items(), kind, name).value as never;
interface Found { items: { address: string; status: string; by?: string; changes: { at: string }[]; placesBy?: string[]; clashes?: string[] }[] }

test('before anything was carried nobody knows who changed what, and that is said', async () => {
  expect((await bench.run('compare', 'dev', 'live')).out).toMatch(/Nothing was carried from dev to live from here yet/);
  expect((await bench.run('changes', 'live')).out).toMatch(/Nothing was imported to live/);
});

test('after an import: changed here, changed there, changed on both, removed; each place with its side', async () => {
  expect((await bench.run('import', 'dev', 'live', '--yes')).code).toBe(0);
  expect((await bench.run('changes', 'live')).out).toMatch(/Nothing changed on live/);
  await changeOn(bench.site('live'), 'tholepin/menu', 'main', (value) => ({ ...value, label: 'By a colleague' }));
  await changeOn(bench.site('dev'), 'tholepin/style', 'site-style', (value) => ({ ...value, css: '.new{}' }));
  await changeOn(bench.site('live'), 'tholepin/style', 'site-style', (value) => ({ ...value, label: 'Our style' }));
  await changeOn(bench.site('dev'), 'tholepin/template', 'fleet-band', (value) => ({ ...value, title: 'Fleet A' }));
  await changeOn(bench.site('live'), 'tholepin/template', 'fleet-band', (value) => ({ ...value, title: 'Fleet B' }));
  await changeOn(bench.site('dev'), 'quay-forms/form', 'group-booking', (value) => ({ ...value, title: 'Groups' }));
  await changeOn(bench.site('dev'), 'quay-forms/form', 'group-booking', (value) => ({ ...value, title: 'Groups | <b>`all`</b> *of* you' }));
  await deleteOn(bench.site('live'), 'tholepin/redirect', 'old-winter-page');

  const { items } = json((await bench.run('compare', 'dev', 'live', '--json')).out) as Found;
  const by = new Map(items.map((one) => [one.address, one]));
  expect([...by].filter(([, one]) => one.by !== undefined).map(([address, one]) => `${address} ${one.status} ${one.by ?? ''}`)).toEqual([
    'form:group-booking differs source', 'menu:main differs target', 'redirect:old-winter-page new target', 'style:site-style differs both', 'template:fleet-band differs both',
  ]);
  const style = by.get('style:site-style');
  expect(style?.changes.map((change, i) => `${change.at} ${style.placesBy?.[i] ?? ''}`)).toEqual(['/css source', '/label target']);
  expect(by.get('template:fleet-band')?.placesBy).toEqual(['both']);
  expect((await bench.run('compare', 'dev', 'live')).out).toMatch(/1 changed on dev, 2 on live, 2 on both/);
  const { out } = await bench.run('compare', 'dev', 'live', '--format', 'markdown');
  expect(out).toMatch(/^# dev compared with live\n\n1 new, 4 differ/);
  expect(out).toContain('- **differs** `template:fleet-band` Fleet A – changed on both\n\n  | place | dev | live |\n  | --- | --- | --- |\n  | `/title` | `"Fleet A"` | `"Fleet B"` |');
  expect(out).toContain('`form:group-booking` Groups \\| \\<b\\>\\`all\\`\\</b\\> \\*of\\* you – changed on dev');
  expect(out).toContain('| ``  "Groups \\| <b>`all`</b> *of* you"  `` |'.replaceAll('  ', ' '));
  expect((await bench.run('compare', 'dev', 'live', '--format', 'html')).err).toMatch(/no format "html"[^]*--format markdown/);
  await changeOn(bench.site('dev'), 'tholepin/template', 'winter-timetable', (value) => ({ ...value, title: '</script><script>alert(1)</script>', code: '"><img src=x onerror=alert(2)>\u202e' }));
  expect((await bench.run('compare', 'dev', 'live', '--report', 'report.html')).code).toBe(1);
  const page = readFileSync(bench.path('report.html'), 'utf8');
  expect(page.match(/<script id="end">/g)).toHaveLength(1);
  expect(page.match(/<script/g)).toHaveLength(2);
  expect(page).toContain('<script type="application/json" id="edges">');
  expect(page).not.toMatch(/<img|https?:\/\/|⟦|\u202e/);
  expect(page).toContain('&lt;script&gt;alert(1)');
  const [, own = ''] = /<script id="end">([^]*?)<\/script>/.exec(page) ?? [];
  expect(page).toContain(`script-src 'sha256-${createHash('sha256').update(own).digest('base64')}'`);
  expect(page).toMatch(/changed on both.*<th scope="row" title="\/title">Title <b class="clash">clash<\/b><\/th><td>Fleet <mark>A<\/mark><\/td><td>Fleet <mark>B<\/mark>/s);
  const lost = await bench.run('compare', 'dev', 'live', '--report', 'nowhere/report.html');
  expect([lost.code, lost.err]).toEqual([2, expect.stringMatching(/report cannot be written/)]);
  expect(lost.out).toMatch(/Since the last import/);
  await changeOn(bench.site('dev'), 'tholepin/template', 'winter-timetable', (value) => ({ ...value, title: 'Winter timetable', code: '' }));
  const changed = await bench.run('changes', 'live', '--json');
  expect([changed.code, (json(changed.out) as { changes: { address: string; change: string }[] }).changes.map((one) => `${one.address} ${one.change}`)]).toEqual([1, ['menu:main changed', 'redirect:old-winter-page removed', 'style:site-style changed', 'template:fleet-band changed']]);
});

test('a clash blocks; with an answer the rest merges by itself, and nothing that a colleague did is lost', async () => {
  const blocked = await bench.run('import', 'dev', 'live', '--yes');
  expect([blocked.code, blocked.out]).toEqual([3, expect.stringMatching(/template:fleet-band was changed on both sides since the last import, both at \/title[^]*--decide template:fleet-band#\/title=source/)]);
  const result = await bench.run('import', 'dev', 'live', '--decide', 'template:fleet-band=target', '--yes', '--json');
  expect([result.code, result.err]).toEqual([0, '']);
  expect((await live('tholepin/menu', 'main'))['label']).toBe('By a colleague');
  expect(await live('tholepin/style', 'site-style')).toMatchObject({ css: '.new{}', label: 'Our style' });
  expect((await live('tholepin/template', 'fleet-band'))['title']).toBe('Fleet B');
  expect((await live('quay-forms/form', 'group-booking'))['title']).toBe('Groups | <b>`all`</b> *of* you');
  expect((await bench.site('live').items()).some((one) => one.name === 'old-winter-page')).toBe(false);
});

test('what was put together or kept is no change afterwards; a later change of the source comes on top', async () => {
  const again = await bench.run('import', 'dev', 'live', '--decide', 'template:fleet-band=target', '--yes');
  expect(again.out).toMatch(/Nothing to do: what differs was changed on live since the last import, or left so by it, and is kept \(4\)/);
  await changeOn(bench.site('dev'), 'tholepin/style', 'site-style', (value) => ({ ...value, css: '.newer{}' }));
  const { items } = json((await bench.run('compare', 'dev', 'live', 'style:*', '--json')).out) as Found;
  expect(items[0]).toMatchObject({ address: 'style:site-style', by: 'source' });
  expect((await bench.run('import', 'dev', 'live', '--decide', 'source', '--yes')).code).toBe(0);
  expect((await live('tholepin/template', 'fleet-band'))['title']).toBe('Fleet A');
  expect((await bench.run('compare', 'dev', 'live')).code).toBe(0);
  expect((await bench.run('import', 'dev', 'live', '--decide', 'mine', '--yes')).err).toMatch(/"mine" is no decision[^]*--decide kind:name=source/);
});

test('a colleague on another machine knows what was carried from here: the ledger of the target has it, with its forms', async () => {
  const other = mkdtempSync(join(tmpdir(), 'pochette-colleague-'));
  for (const name of ['pochette.yaml', 'dev.token', 'live.token']) copyFileSync(bench.path(name), join(other, name));
  await changeOn(bench.site('dev'), 'tholepin/template', 'front', (value) => ({ ...value, title: 'From dev' }));
  await changeOn(bench.site('live'), 'tholepin/template', 'front', (value) => ({ ...value, code: '/* from live */' }));
  const { items } = json((await bench.runIn(other, 'compare', 'dev', 'live', 'template:front', '--json')).out) as Found;
  expect(items).toMatchObject([{ by: 'both', clashes: [] }]);
  expect((await bench.runIn(other, 'import', 'dev', 'live', 'template:front', '--alone', '--yes')).code).toBe(0);
  expect(await live('tholepin/template', 'front')).toMatchObject({ title: 'From dev', code: '/* from live */' });
  expect(json((await bench.runIn(other, 'changes', 'live', '--json')).out)).toMatchObject({ known: expect.any(Number) as unknown, changes: [] });
  // Here it is known too that it was the colleague who carried it.
  expect(json((await bench.run('compare', 'dev', 'live', 'template:front', '--json')).out)).toMatchObject({ items: [{ by: 'neither' }] });
  expect((await bench.runIn(other, 'undo', 'live', '--yes')).code).toBe(0);
  expect(json((await bench.run('compare', 'dev', 'live', 'template:front', '--json')).out)).toMatchObject({ items: [{ by: 'both' }] });
  rmSync(other, { recursive: true, force: true });
});

test('an undo puts back what was known, for everyone; an undo of the undo does so again', async () => {
  const asked = async (): Promise<Found['items'][number] | undefined> => {
    // Someone who has no records of his own: all that he knows is in the target's ledger.
    const third = mkdtempSync(join(tmpdir(), 'pochette-third-'));
    for (const name of ['pochette.yaml', 'dev.token', 'live.token']) copyFileSync(bench.path(name), join(third, name));
    const { items } = json((await bench.runIn(third, 'compare', 'dev', 'live', 'template:front', '--json')).out) as Found;
    rmSync(third, { recursive: true, force: true });
    return items[0];
  };
  await changeOn(bench.site('dev'), 'tholepin/template', 'front', (value) => ({ ...value, title: 'From dev again' }));
  const before = await asked();
  expect(before).toMatchObject({ by: 'both', placesBy: expect.arrayContaining(['source', 'target']) as unknown });
  expect((await bench.run('import', 'dev', 'live', 'template:front', '--alone', '--yes')).code).toBe(0);
  const after = await asked();
  expect(after).toMatchObject({ by: 'neither' });
  const { run } = json((await bench.run('undo', 'live', '--yes', '--json')).out) as { run: string };
  expect(await asked()).toEqual(before);
  expect((await bench.run('undo', 'live', run, '--yes')).code).toBe(0);
  expect(await asked()).toEqual(after);
  expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
  expect(await asked()).toEqual(before);
});

test('a memory that cannot be read is named with its line; moved away, what the site remembers is used; a damaged form is as if it were lost', async () => {
  const folder = bench.path('.pochette/bases');
  const name = readdirSync(folder).find((one) => one.includes('--')) as string;
  const [path, text] = [join(folder, name), readFileSync(join(folder, name), 'utf8')];
  writeFileSync(path, text.replace('\n', '\nnonsense\n'));
  const ran = await bench.run('compare', 'dev', 'live');
  expect([ran.code, ran.err]).toEqual([7, expect.stringMatching(/what was remembered of the last import cannot be read[^]*ndjson:2[^]*move this file away/)]);
  rmSync(path);
  expect((await bench.run('compare', 'dev', 'live')).out).toMatch(/Since the last import/);
  for (const forms of readdirSync(folder).filter((one) => one.startsWith('forms-'))) writeFileSync(join(folder, forms), readFileSync(join(folder, forms), 'utf8').replaceAll('"title"', '"tiitle"'));
  expect((await bench.run('compare', 'dev', 'live')).code).toBeLessThan(2);
  writeFileSync(path, text);
});
