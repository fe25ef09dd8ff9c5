import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, afterEach, beforeAll, describe, expect, test } from '@jest/globals';
import { Bench, changeOn, untimed, type Ran, type Record_ } from '../helpers/sites.ts';

const bench = new Bench();
let before: Record_[];
beforeAll(async () => { await bench.start('dev', 'live', 'old'); before = await bench.site('live').items(); });
afterAll(async () => { await bench.stop(); });
afterEach(() => { bench.configure(); });

/** The problem in words, its exit code, what to do next, and an untouched target. */
async function expectProblem(ran: Ran, code: number, message: RegExp): Promise<void> {
  expect(ran.err + ran.out).toMatch(message);
  expect(ran.code).toBe(code);
  expect(ran.err + ran.out).toMatch(/what to do/);
  expect(ran.err).not.toMatch(/\n\s+at /);
  expect(untimed(await bench.site('live').items())).toEqual(untimed(before));
}

describe('words and configuration', () => {
  test('an unknown site, with the nearest', async () => { await expectProblem(await bench.run('list', 'liev'), 2, /no site "liev"[^]*did you mean live/); });
  test('a selector that matches nothing, with the nearest', async () => { await expectProblem(await bench.run('import', 'dev', 'live', 'template:frnt', '--yes'), 2, /"template:frnt" matches nothing in dev[^]*template:front/); });
  test('an unknown part', async () => { await expectProblem(await bench.run('compare', 'dev', 'live', 'settings:tickets#mial'), 2, /no part "mial"[^]*mail, fares/); });
  test('a part that needs another part brings it', async () => {
    const ran = await bench.run('route', 'dev', 'live', 'settings:tickets#pages', '--json');
    expect(ran.out).toMatch(/"covers": \[\s+"mail",\s+"pages"/);
  });
  test('an unknown command or option', async () => {
    expect((await bench.run('improt', 'dev', 'live')).code).toBe(2);
    expect((await bench.run('list', 'dev', '--nonsense')).code).toBe(2);
    expect((await bench.run('compare', 'dev')).code).toBe(2);
  });
  test('a wrong key in the configuration, with its line', async () => {
    bench.configure({ live: ['colour: blue'] });
    await expectProblem(await bench.run('sites'), 2, /"sites\.live\.colour" is not known[^]*pochette\.yaml:9/);
    bench.configure({ live: ['role: alive'] });
    await expectProblem(await bench.run('sites'), 2, /sites\.live\.role[^]*pochette\.yaml:9/);
    writeFileSync(bench.path('pochette.yaml'), 'you: [x\nsites: {}');
    await expectProblem(await bench.run('sites'), 2, /not YAML[^]*pochette\.yaml:\d/);
  });
  test('no configuration at all; init writes one and never over another', async () => {
    mkdirSync(bench.path('empty'));
    expect((await bench.run('sites', '--config', 'empty/none.yaml')).code).toBe(2);
    expect((await bench.run('init')).code).toBe(2);
    const fresh = mkdtempSync(join(tmpdir(), 'pochette-init-'));
    expect((await bench.runIn(fresh, 'sites')).err).toMatch(/no pochette\.yaml here[^]*pochette init/);
    expect((await bench.runIn(fresh, 'init')).code).toBe(0);
    const written = await bench.runIn(fresh, 'sites');
    expect(written.code).toBe(0);
    expect(written.out).toMatch(/live {2}live, guarded {2}cannot be read[^]*LIVE_TOKEN[^]*what to do/);
    rmSync(fresh, { recursive: true });
  });
  test('a missing token, a wrong one, one that may only read', async () => {
    const config = readFileSync(bench.path('pochette.yaml'), 'utf8');
    writeFileSync(bench.path('pochette.yaml'), config.replace('file:live.token', 'env:NO_SUCH_TOKEN'));
    await expectProblem(await bench.run('import', 'dev', 'live', '--yes'), 2, /token of live is missing: the environment has no NO_SUCH_TOKEN/);
    writeFileSync(bench.path('pochette.yaml'), config.replace('file:live.token', 'file:nowhere'));
    await expectProblem(await bench.run('import', 'dev', 'live', '--yes'), 2, /token of live is missing/);
    writeFileSync(bench.path('wrong'), 'not-a-token');
    writeFileSync(bench.path('pochette.yaml'), config.replace('file:live.token', 'file:wrong'));
    await expectProblem(await bench.run('import', 'dev', 'live', '--yes'), 7, /This token is not known here/);
    writeFileSync(bench.path('readonly'), bench.site('live').readToken);
    writeFileSync(bench.path('pochette.yaml'), config.replace('file:live.token', 'file:readonly'));
    await expectProblem(await bench.run('import', 'dev', 'live', '--yes'), 3, /may only be read/);
    expect((await bench.run('compare', 'dev', 'live')).code).toBe(1);
  });
  test('a guarded site without its name', async () => {
    bench.configure({ live: ['guarded: true'] });
    await expectProblem(await bench.run('import', 'dev', 'live', '--yes'), 3, /live is guarded[^]*--confirm live/);
    await expectProblem(await bench.run('import', 'dev', 'live', '--yes', '--confirm', 'dev'), 2, /--confirm says "dev"/);
  });
  test('problems as JSON', async () => {
    const ran = await bench.run('list', 'liev', '--json');
    expect(JSON.parse(ran.err)).toMatchObject({ problem: { code: 'usage', message: 'there is no site "liev" in the configuration' } });
  });
});

describe('sites that do not behave', () => {
  test('a site that is down', async () => {
    bench.configure({}, { dev: 'http://127.0.0.1:9' });
    await expectProblem(await bench.run('import', 'dev', 'live', '--yes'), 7, /dev does not answer: the connection was refused/);
    const ran = await bench.run('sites');
    expect(ran.code).toBe(0);
    expect(ran.out).toMatch(/dev.*does not answer/);
  });
  test('a site that answers with a web page', async () => {
    const url = await bench.between('dev', (incoming, _body, outgoing) => { if (!incoming.url?.includes('items')) return false; outgoing.setHeader('content-type', 'text/html'); outgoing.end('<html>login</html>'); return true; });
    bench.configure({}, { dev: url });
    await expectProblem(await bench.run('import', 'dev', 'live', '--yes'), 7, /answers with a web page/);
    bench.configure({}, { dev: `${bench.site('dev').address}/fares` });
    await expectProblem(await bench.run('list', 'dev'), 7, /answers with a web page/);
  });
  test.each([['between lines', 0], ['within a line', 40]])('a site that sends half a response, cut %s', async (_where, more) => {
    const url = await bench.between('dev', async (incoming, _body, outgoing) => {
      if (!incoming.url?.includes('bodies')) return false;
      const { text } = await bench.site('dev').call('GET', '/items?bodies=1');
      outgoing.setHeader('content-type', 'application/x-ndjson');
      outgoing.end(text.slice(0, text.indexOf('\n', text.length / 2) + 1 + more));
      return true;
    });
    bench.configure({}, { dev: url });
    await expectProblem(await bench.run('import', 'dev', 'live', '--yes'), 7, /sent only part of an answer/);
    await expectProblem(await bench.run('export', 'dev', '-o', 'half.pochette'), 7, /sent only part/);
    expect(() => readFileSync(bench.path('half.pochette'))).toThrow(/ENOENT/);
  });
  test('a connection that breaks in the middle', async () => {
    const url = await bench.between('dev', (incoming, _body, outgoing) => { if (!incoming.url?.includes('bodies')) return false; outgoing.setHeader('content-type', 'application/x-ndjson'); outgoing.write('{"kind":"x'); setTimeout(() => { outgoing.destroy(); }, 20); return true; });
    bench.configure({}, { dev: url });
    await expectProblem(await bench.run('compare', 'dev', 'live'), 7, /sent only part of an answer/);
  });
  test('a site with a busy lock', async () => {
    const { json } = await bench.site('live').call('POST', '/lock', { owner: 'Tove Hollow', run: 'r7', seconds: 30 });
    await expectProblem(await bench.run('import', 'dev', 'live', '--yes'), 3, /Someone else is writing[^]*Tove Hollow, run r7/);
    await bench.site('live').call('DELETE', '/lock', undefined, { 'pochette-lock': (json as { token: string }).token });
  });
  test('an item with a key that could reach a prototype is left out and named', async () => {
    const url = await bench.between('dev', async (incoming, _body, outgoing) => {
      if (!incoming.url?.includes('bodies')) return false;
      const { text } = await bench.site('dev').call('GET', '/items?bodies=1');
      outgoing.setHeader('content-type', 'application/x-ndjson');
      outgoing.end(text.replace('"title":"Notice strip","markup"', '"__proto__":{"x":1},"title":"Notice strip","markup"'));
      return true;
    });
    bench.configure({}, { dev: url });
    const ran = await bench.run('export', 'dev', '-o', 'proto.pochette');
    expect(ran.code).toBe(0);
    expect(ran.out).toMatch(/template:notice-strip\s+the key "__proto__" is not accepted/);
  });
  test('control characters of a site do not reach the terminal', async () => {
    const url = await bench.between('dev', async (incoming, _body, outgoing) => {
      if (!incoming.url?.endsWith('/facts')) return false;
      const { text } = await bench.site('dev').call('GET', '/facts');
      outgoing.setHeader('content-type', 'application/json');
      outgoing.end(text.replace('"title":"Tholepin"', '"title":"\\u001b[2JTholepin\\u202e"'));
      return true;
    });
    bench.configure({}, { dev: url });
    const ran = await bench.run('sites');
    expect(ran.out).not.toContain('\u001b');
    expect(ran.out).toContain('\\u001b[2JTholepin\\u202e');
  });
});

describe('targets that cannot take it', () => {
  test('everything that lacks is said at once, with what to do', async () => {
    await bench.run('export', 'dev', '-o', 'all.pochette');
    const ran = await bench.run('import', 'all.pochette', 'old', '--yes');
    await expectProblem(ran, 3, /Blocked on old/);
    for (const said of [/Ticket Desk .*there is 2\.4\.0/, /Weather Flag .*inactive/, /Field Locker .*missing/, /live-departures switched on/, /tier fleet: it is on harbour/, /theme saltmarsh-isles: active is saltmarsh/, /uploads of image\/png up to .*: the limit is 4\.1 KB/]) expect(ran.out).toMatch(said);
  });
  test('a reference to nothing', async () => {
    await changeOn(bench.site('dev'), 'tholepin/template', 'crossing-card', (value) => ({ ...value, next: 1_999_999 }));
    await expectProblem(await bench.run('import', 'dev', 'live', 'template:crossing-card', '--yes'), 3, /template:crossing-card#\/next refers to nothing: the id 1999999/);
    expect((await bench.run('export', 'dev', 'template:crossing-card', '-o', 'lost.pochette')).out).toMatch(/template:crossing-card#\/next\s+refers to nothing/);
    const ran = await bench.run('import', 'dev', 'live', 'template:crossing-card', '--yes', '--leave-unmatched');
    expect(ran.code).toBe(0);
    expect((await bench.site('live').items()).find((one) => one.name === 'crossing-card')?.value['next']).toBe(0);
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
    await changeOn(bench.site('dev'), 'tholepin/template', 'crossing-card', (value) => ({ ...value, next: 0 }));
  });
  test('a part of something that the target does not have', async () => {
    await expectProblem(await bench.run('import', 'dev', 'live', 'template:crossing-card#layout', '--yes'), 3, /only a part travels/);
  });
  test('a target that moved between route and import', async () => {
    await bench.run('route', 'dev', 'live', '-o', 'r.yaml');
    await changeOn(bench.site('live'), 'tholepin/menu', 'main', (value) => ({ ...value, label: 'Meddled' }));
    const ran = await bench.run('import', '--route', 'r.yaml', '--yes');
    expect(ran.code).toBe(4);
    expect(ran.err).toMatch(/menu:main/);
    await changeOn(bench.site('live'), 'tholepin/menu', 'main', (value) => ({ ...value, label: 'Main menu' }));
    await expectProblem({ code: 4, out: '', err: ran.err }, 4, /was changed since the route was made on [^]*--replan keeps the answers/);
  });
  test('steps can be taken out of a route; what the rest needs is missed', async () => {
    const text = readFileSync(bench.path('r.yaml'), 'utf8');
    const without = (item: string): string => { const steps = text.split(/(?=^ {2}- step:)/m); return steps.filter((step) => !step.includes(`item: ${item}\n    title`) || step.includes('do: complete')).join(''); };
    writeFileSync(bench.path('less.yaml'), without('menu:main'));
    const less = await bench.run('import', '--route', 'less.yaml', '--json');
    expect(less.err).toMatch(/nothing is written to live without a yes/);
    writeFileSync(bench.path('broken.yaml'), without('listing:fleet'));
    await expectProblem(await bench.run('import', '--route', 'broken.yaml', '--yes'), 3, /needs listing:fleet, whose step was taken out of the route/);
    writeFileSync(bench.path('broken.yaml'), text.replace(/ {2}- step: 1\n(?: {4}.*\n)*/, ''));
    await expectProblem(await bench.run('import', '--route', 'broken.yaml', '--yes'), 3, /media:\S+ needs the file \S+…, whose step was taken out/);
    writeFileSync(bench.path('junk.yaml'), 'hello: 1\n');
    await expectProblem(await bench.run('import', '--route', 'junk.yaml', '--yes'), 7, /hello|route: [^]*junk\.yaml:1:1/);
  });
});

describe('failures on the way', () => {
  test('a target that changes between reading and writing: nothing is lost, everything is brought back', async () => {
    let meddled = false;
    const url = await bench.between('live', async (incoming) => {
      if (!meddled && incoming.url?.endsWith('/batch')) {
        meddled = true;
        await changeOn(bench.site('live'), 'tholepin/template', 'front', (value) => ({ ...value, title: 'Meanwhile' }), incoming.headers['pochette-lock'] as string);
      }
      return false;
    });
    bench.configure({}, { live: url });
    const ran = await bench.run('import', 'dev', 'live', '--yes');
    expect(ran.code).toBe(4);
    expect(ran.err).toMatch(/changed meanwhile[^]*brought back/);
    await changeOn(bench.site('live'), 'tholepin/template', 'front', (value) => ({ ...value, title: 'Front page' }));
    expect(untimed(await bench.site('live').items())).toEqual(untimed(before));
  });

  test('a site that fails in the middle: restored, exit code 5', async () => {
    let batches = 0;
    const url = await bench.between('live', (incoming, _body, outgoing) => {
      if (!incoming.url?.endsWith('/batch') || ++batches !== 2) return false;
      outgoing.statusCode = 500;
      outgoing.setHeader('content-type', 'application/problem+json');
      outgoing.end(JSON.stringify({ title: 'The disk is full', status: 500 }));
      return true;
    });
    bench.configure({}, { live: url });
    const ran = await bench.run('import', 'dev', 'live', '--yes');
    expect(ran.code).toBe(5);
    expect(ran.err).toMatch(/disk is full[^]*brought back/);
    expect(untimed(await bench.site('live').items())).toEqual(untimed(before));
    expect((await bench.run('history', 'live')).out).toMatch(/restored/);
  });

  test('an answer that never came is asked for again, and nothing is done twice', async () => {
    const cut = new Set<number>([1, 3]);
    let batches = 0;
    const url = await bench.between('live', async (incoming, body, outgoing) => {
      if (!incoming.url?.endsWith('/batch') || !cut.has(++batches)) return false;
      await bench.site('live').call('POST', '/batch', JSON.parse(body.toString()), { 'pochette-lock': incoming.headers['pochette-lock'] as string });
      outgoing.destroy();
      return true;
    });
    bench.configure({}, { live: url });
    const ran = await bench.run('import', 'dev', 'live', '--yes');
    expect(ran.code).toBe(0);
    const names = (await bench.site('live').items()).map((one) => `${one.kind}:${one.name}`);
    expect(new Set(names).size).toBe(names.length);
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
    expect(untimed(await bench.site('live').items())).toEqual(untimed(before));
  });

  test('a site that goes away in the middle: exit code 6, and undo brings it back when it answers again', async () => {
    let batches = 0;
    const url = await bench.between('live', (incoming, _body, outgoing) => { if (incoming.url?.endsWith('/batch')) batches++; if (batches < 2) return false; outgoing.destroy(); return true; });
    bench.configure({}, { live: url });
    const ran = await bench.run('import', 'dev', 'live', '--yes');
    expect(ran.code).toBe(6);
    const [, run] = /pochette undo live (\S+)/.exec(ran.err) as RegExpExecArray;
    expect(await bench.site('live').items()).not.toEqual(before);
    bench.configure();
    // The lock of the run that went away is still held for its time; its owner may take it over only by waiting. The site is told that it is over.
    await releaseLock();
    expect((await bench.run('undo', 'live', run as string, '--yes')).code).toBe(0);
    expect(untimed(await bench.site('live').items())).toEqual(untimed(before));
  });
});

/** Starts the site's process anew: locks do not survive it. */
async function releaseLock(): Promise<void> {
  const site = bench.site('live');
  const { startSite } = await import('../helpers/sites.ts');
  const port = new URL(site.address).port;
  await new Promise<void>((settle) => { site.process.once('exit', () => { settle(); }); site.process.kill(); });
  bench.sites['live'] = await startSite('live', site.folder, 'live', port);
}
