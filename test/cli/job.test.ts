import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { Bench, changeOn, untimed, type Record_ } from '../helpers/sites.ts';

const bench = new Bench();
beforeAll(async () => { await bench.start('dev', 'live'); });
afterAll(async () => { await bench.stop(); });

const byName = (items: readonly Record_[], name: string, kind = 'template'): Record_ => items.find((one) => one.name === name && one.kind.endsWith(`/${kind}`)) as Record_;
const option = (items: readonly Record_[], name: string): never => JSON.parse(byName(items, name, 'settings').value['option'] as string) as never;
const json = (text: string): never => JSON.parse(text) as never;

describe('the whole job, once', () => {
  let before: Record_[];
  let after: Record_[];
  let run: string;

  test('compare says what is new, differs and is only there; exit code 1', async () => {
    before = await bench.site('live').items();
    const ran = await bench.run('compare', 'dev', 'live', '--json');
    expect(ran.code).toBe(1);
    const { counts, items } = json(ran.out) as { counts: object; items: { address: string; status: string; changes: unknown[] }[] };
    expect(counts).toEqual({ new: 29, differs: 16, same: 8, 'target-only': 1 });
    expect(items.find((one) => one.address === 'field-set:crossing')?.changes).toContainEqual({ change: 'differs', at: '/fields/seats/max', source: 340, target: 210 });
    expect(items.find((one) => one.address === 'template:island-fair')?.status).toBe('target-only');
    expect(items.find((one) => one.address.startsWith('page:'))).toBeUndefined();
  });

  test('route writes the steps down', async () => {
    const ran = await bench.run('route', 'dev', 'live', '-o', 'route.yaml');
    expect(ran.code).toBe(0);
    expect(ran.out).toMatch(/complete\s+template:(summer|winter)-timetable\s+gets its references to template:(summer|winter)-timetable, now that it is there/);
    expect(ran.out).toMatch(/make page:winter on the target/);
    expect(readFileSync(bench.path('route.yaml'), 'utf8')).toMatch(/do: create\n\s+item: image-format:wide/);
  });

  test('import needs a yes without a terminal, and does the route', async () => {
    expect((await bench.run('import', '--route', 'route.yaml')).code).toBe(3);
    const ran = await bench.run('import', '--route', 'route.yaml', '--yes', '--json');
    expect(ran.err).toBe('');
    expect(ran.code).toBe(0);
    const result = json(ran.out) as { run: string; created: number; updated: number; files: number; unequal: unknown[]; followUps: unknown[] };
    expect(result).toMatchObject({ created: 29, updated: 16, files: 3, unequal: [] });
    expect(result.followUps).toContainEqual({ followUp: 'link-missing', item: 'template:front', at: '/markup', to: 'page:winter' });
    expect(result.followUps).toContainEqual({ followUp: 'enter-secret', item: 'form:group-booking', at: '/actions/hookKey' });
    run = result.run;
    after = await bench.site('live').items();
  });

  test('nothing of the source is left in what arrived: no id, no address', () => {
    const text = JSON.stringify(after);
    expect(text).not.toContain(bench.site('dev').address);
    expect(text).not.toContain(bench.site('dev').address.replaceAll('/', '\\\\/'));
    expect(text.match(/\b1000\d{3}\b/g)).toBeNull();
    expect(byName(after, 'front').value['markup']).toContain(`${bench.site('live').address}/timetable/`);
    expect(byName(after, 'front').value['layout']).toContain(`${bench.site('live').address.replaceAll('/', '\\/')}\\/`);
  });

  test('references point to the target\'s own items, circles included', () => {
    const [winter, summer] = [byName(after, 'winter-timetable'), byName(after, 'summer-timetable')];
    expect(winter.value['next']).toBe(summer.id);
    expect(summer.value['next']).toBe(winter.id);
    expect(summer.value['markup']).toContain(`data-template="${winter.id}"`);
    expect(byName(after, 'front').value['related']).toBe(`${winter.id},${byName(after, 'fleet-band').id}`);
    expect(byName(after, 'fleet-band').value['markup']).toContain(`/uploads/${byName(after, 'vessel-selkie', 'media').id}/vessel-selkie-small.png`);
  });

  test('what belongs to the site stays, secrets too', () => {
    const [was, is] = [option(before, 'tickets') as Tickets, option(after, 'tickets') as Tickets];
    expect(is.payment.secretKey).toBe(was.payment.secretKey);
    expect(is.mail.sender).toBe('tickets@live.skerrin.example');
    expect(is.lastTicket).toBe(48211);
    expect(is.mail.subject).toBe('Your winter ticket');
    expect((option(after, 'site') as { title: string }).title).toBe('Skerrin Ferries');
    const entryId = (items: Record_[], key: string): number => (byName(items, 'main', 'menu').value['entries'] as { key: string; id: number }[]).find((one) => one.key === key)?.id as number;
    expect(entryId(after, 'fares')).toBe(entryId(before, 'fares'));
    expect(byName(after, 'island-fair')).toEqual(byName(before, 'island-fair'));
  });

  test('visitors see it: caches were renewed', async () => {
    const { text } = await bench.site('live').page('/');
    expect(text).toContain('Winter crossings, warm saloons');
    expect(text).toContain('#b8442e');
    expect(text).toContain('href="/templates/winter-timetable/"');
    expect(text).toContain('Gale expected');
  });

  test('verify finds all equal and every page answering; compare finds nothing; a second import makes no run', async () => {
    const ran = await bench.run('verify', 'dev', 'live', '--json');
    expect(ran.code).toBe(0);
    const { same, pages } = json(ran.out) as { same: number; pages: { status: number }[] };
    expect(same).toBe(53);
    expect(pages.every((page) => page.status === 200)).toBe(true);
    expect((await bench.run('compare', 'dev', 'live')).code).toBe(0);
    expect((await bench.run('import', 'dev', 'live', '--yes')).out).toMatch(/Nothing to do/);
    const history = json((await bench.run('history', 'live', '--json')).out) as { history: { run: string; by: string; state: string }[] };
    expect(history.history).toHaveLength(1);
    expect(history.history[0]).toMatchObject({ run, by: 'Isbel Farrow', state: 'done', verb: 'import' });
  });

  test('the safety copy is a file of its own; its secrets are sealed; only the owner can read it', async () => {
    const folder = join(bench.folder, '.pochette', 'runs', run);
    expect(statSync(join(bench.folder, '.pochette')).mode & 0o077).toBe(0);
    const ran = await bench.run('inspect', join(folder, 'safety.pochette'));
    expect(ran.code).toBe(0);
    expect(ran.out).toMatch(/Did not exist when this safety copy was taken\n(.*\n)*\s+template:winter-timetable/);
    expect(readFileSync(join(folder, 'safety.pochette')).includes('sk_live')).toBe(false);
    expect(readdirSync(join(bench.folder, '.pochette', 'bases')).some((name) => name.includes('skerrin-dev--'))).toBe(true);
  });

  test('the target remembers who did it, and where each item came from', async () => {
    const { json: ledger } = await bench.site('live').call('GET', '/ledger') as { json: { runs: unknown[]; origins: { address: string; fromSite: string; fromId: number }[] } };
    expect(ledger.runs).toEqual([expect.objectContaining({ run, verb: 'import', by: 'Isbel Farrow', state: 'done' })]);
    expect(ledger.origins.find((one) => one.address === 'template:front')).toMatchObject({ fromSite: 'a7c0-skerrin-dev', fromId: byName(await bench.site('dev').items(), 'front').id });
  });

  test('undo refuses while someone\'s later change would be lost, and names it', async () => {
    await changeOn(bench.site('live'), 'tholepin/template', 'front', (value) => ({ ...value, title: 'By a colleague' }));
    const ran = await bench.run('undo', 'live', '--yes');
    expect(ran.code).toBe(4);
    expect(ran.err).toMatch(/template:front/);
    expect(ran.err).toMatch(/--even-if-changed/);
    expect(byName(await bench.site('live').items(), 'front').value['title']).toBe('By a colleague');
    await changeOn(bench.site('live'), 'tholepin/template', 'front', (value) => ({ ...value, title: 'Front page' }));
  });

  test('undo brings back exactly the state before; undoing the undo brings the import back', async () => {
    expect((await bench.run('export', 'live', '-o', 'imported.pochette')).code).toBe(0);
    const ran = await bench.run('undo', 'live', '--yes', '--json');
    expect(ran.code).toBe(0);
    const { run: undoRun, unequal } = json(ran.out) as { run: string; unequal: string[] };
    expect(unequal).toEqual([]);
    // Its safety copy has the items as the import had left them, though the site was not read for them.
    const { counts } = json((await bench.run('compare', undoRun, 'imported.pochette', '--json')).out) as { counts: Record<string, number> };
    expect(counts).toMatchObject({ new: 0, differs: 0 });
    expect(counts['same']).toBeGreaterThan(10);
    expect(await bench.site('live').items()).toEqual(before);
    expect((await bench.site('live').page('/')).text).toContain('By sea to the isles');
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(2);
    expect((await bench.run('undo', 'live', run, '--yes')).err).toMatch(/undone already/);
    expect((await bench.run('undo', 'live', undoRun, '--yes')).code).toBe(0);
    expect(untimed(await bench.site('live').items())).toEqual(untimed(after));
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
    expect(await bench.site('live').items()).toEqual(before);
  });
});
interface Tickets { payment: { secretKey: string }; mail: { sender: string; subject: string }; lastTicket: number }

describe('a file', () => {
  test('carries what was chosen and what that needs; the same state gives the same bytes', async () => {
    const ran = await bench.run('export', 'dev', 'template:front', 'settings:tickets#mail', '-o', 'a.pochette', '--title', 'Winter', '--json');
    expect(ran.code).toBe(0);
    const result = json(ran.out) as { items: number; files: number; broughtAlong: { address: string }[]; withheld: object[]; content: { address: string }[]; leftOut: unknown[] };
    expect(result).toMatchObject({ items: 18, files: 3, title: 'Winter', leftOut: [] });
    expect(result.broughtAlong.map((one) => one.address)).toContain('media:vessel-selkie');
    expect(result.content.map((one) => one.address)).toEqual(['page:fares', 'page:home', 'page:terms', 'page:timetable', 'page:winter']);
    expect(result.withheld).toContainEqual({ address: 'settings:tickets', at: '/option/payment/secretKey', why: 'secret' });
    await bench.run('export', 'dev', 'template:front', 'settings:tickets#mail', '-o', 'b.pochette', '--title', 'Winter');
    expect(readFileSync(bench.path('a.pochette')).equals(readFileSync(bench.path('b.pochette')))).toBe(true);
    expect(readFileSync(bench.path('a.pochette')).includes('sk_dev')).toBe(false);
  });

  test('is imported like a site; only the parts that it covers change', async () => {
    const before = await bench.site('live').items();
    const ran = await bench.run('import', 'a.pochette', 'live', '--yes', '--json');
    expect(ran.code).toBe(0);
    const after = await bench.site('live').items();
    expect((option(after, 'tickets') as Tickets).mail.subject).toBe('Your winter ticket');
    expect({ ...option(after, 'tickets') as object, mail: 0 }).toEqual({ ...option(before, 'tickets') as object, mail: 0 });
    expect(byName(after, 'main', 'menu')).toEqual(byName(before, 'main', 'menu'));
    expect((await bench.run('verify', 'a.pochette', 'live')).code).toBe(0);
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
    expect(await bench.site('live').items()).toEqual(before);
  });

  test('alone leaves the belongings of others behind, and says so', async () => {
    const ran = await bench.run('export', 'dev', 'template:fleet-band', '-o', 'c.pochette', '--alone');
    expect(ran.out).toMatch(/refers to listing:fleet, which is not in the file/);
    const blocked = await bench.run('import', 'c.pochette', 'live', '--yes');
    expect(blocked.code).toBe(3);
    expect(blocked.out).toMatch(/refers to listing:fleet, which the target does not have/);
    const left = await bench.run('import', 'c.pochette', 'live', '--yes', '--leave-unmatched');
    expect(left.code).toBe(0);
    expect(left.out).toMatch(/it was left empty/);
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
  });

  test('two files are compared without any site', async () => {
    await bench.run('export', 'dev', 'template:*', '-o', 'd.pochette', '--alone');
    await bench.run('export', 'live', 'template:*', '-o', 'e.pochette', '--alone');
    const ran = await bench.run('compare', 'd.pochette', 'e.pochette', '--json');
    expect(ran.code).toBe(1);
    expect(json(ran.out)).toMatchObject({ counts: { new: 6, differs: 1, same: 1, 'target-only': 1 } });
    expect((await bench.run('compare', 'd.pochette', 'd.pochette')).code).toBe(0);
  });

  test('a selection from a site brings along what the target lacks, and nothing else', async () => {
    const ran = await bench.run('route', 'dev', 'live', 'listing:fleet', '--json');
    const { broughtAlong, steps } = json(ran.out) as { broughtAlong: { address: string }[]; steps: { item: string; do: string }[] };
    expect(broughtAlong.map((one) => one.address)).toEqual(['content-type:vessel', 'image-format:wide', 'media:harbour-dusk', 'media:vessel-selkie', 'template:vessel-view']);
    expect(steps.filter((step) => step.do === 'update')).toEqual([]);
  });

  test('content can be matched by hand', async () => {
    bench.configure({ live: ['matches:', '  page:winter: page:timetable'] });
    expect((await bench.run('import', 'dev', 'live', 'template:front', '--yes')).code).toBe(0);
    const front = byName(await bench.site('live').items(), 'front').value['markup'] as string;
    expect(front).toContain(`<a href="${bench.site('live').address}/timetable/">winter offers</a>`);
    expect((await bench.run('verify', 'dev', 'live', 'template:front')).code).toBe(0);
    bench.configure();
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
  });
});

test('what did not change is not fetched again; what did is noticed; verify reads everything', async () => {
  const asked: string[] = [];
  const url = await bench.between('dev', (incoming, body) => { if (incoming.url?.includes('/items')) asked.push(incoming.url.endsWith('/read') ? `read ${(JSON.parse(body.toString()) as { items: unknown[] }).items.length}` : incoming.url.includes('bodies') ? 'all' : 'index'); return false; });
  bench.configure({}, { dev: url });
  const compare = async () => { asked.length = 0; const { items } = json((await bench.run('compare', 'dev', 'live', '--json')).out) as { items: { address: string; changes: unknown[] }[] }; return items; };
  const first = await compare();
  // Six new ones are looked at for renames.
  expect(asked).toEqual(['index', 'all', 'read 6']);
  expect(await compare()).toEqual(first);
  expect(asked).toEqual(['index', 'read 19', 'read 6']);
  await changeOn(bench.site('dev'), 'tholepin/template', 'crossing-view', (value) => ({ ...value, code: 'changed' }));
  expect((await compare()).find((one) => one.address === 'template:crossing-view')?.changes).toHaveLength(1);
  expect(asked).toEqual(['index', 'read 1', 'read 19', 'read 6']);
  bench.configure({}, { dev: bench.site('dev').address, live: await bench.between('live', (incoming) => { asked.push(incoming.url ?? ''); return false; }) });
  await bench.run('compare', 'dev', 'live');
  asked.length = 0;
  await bench.run('verify', 'dev', 'live');
  expect(asked.some((one) => one.includes('bodies=1'))).toBe(true);
  bench.configure();
});
