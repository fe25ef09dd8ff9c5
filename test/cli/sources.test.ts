import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { afterAll, afterEach, beforeAll, describe, expect, test } from '@jest/globals';
import { Bench, DIST, type Record_ } from '../helpers/sites.ts';
import { KEYS, onTerminal } from '../helpers/terminal.ts';

const bench = new Bench();
let file: Buffer;
beforeAll(async () => {
  await bench.start('dev', 'live');
  await bench.run('export', 'dev', 'template:front', 'landing:*', '-o', 'winter.pochette');
  file = readFileSync(bench.path('winter.pochette'));
});
afterAll(async () => { await bench.stop(); });

const allowed = (): void => { bench.configure(); const path = bench.path('pochette.yaml'); writeFileSync(path, `${readFileSync(path, 'utf8')}links:\n  private: ['127.0.0.1']\n  megabytes: 1\n`); };

describe('a link', () => {
  let server: Server | undefined;
  afterEach(() => { server?.closeAllConnections(); server?.close(); });
  const serve = async (answer: (incoming: IncomingMessage, outgoing: ServerResponse) => void): Promise<string> => {
    const made = createServer(answer);
    server = made;
    await new Promise<void>((settle) => { made.listen(0, '127.0.0.1', settle); });
    return `http://127.0.0.1:${(made.address() as AddressInfo).port}`;
  };

  test('is inspected, compared and imported like a file; what has not changed is not fetched again', async () => {
    allowed();
    let whole = 0;
    const url = await serve((incoming, outgoing) => {
      if (incoming.url === '/moved') { outgoing.writeHead(302, { location: '/winter.pochette' }).end(); return; }
      if (incoming.headers['if-none-match'] === '"w1"') { outgoing.writeHead(304).end(); return; }
      whole++;
      outgoing.writeHead(200, { etag: '"w1"', 'content-length': file.length }).end(file);
    });
    expect((await bench.run('inspect', `${url}/moved`)).out).toMatch(/every SHA-256 is right/);
    const byLink = await bench.run('compare', `${url}/moved`, 'live', '--json');
    const byFile = await bench.run('compare', 'winter.pochette', 'live', '--json');
    expect((JSON.parse(byLink.out) as { items: unknown }).items).toEqual((JSON.parse(byFile.out) as { items: unknown }).items);
    expect(whole).toBe(1);
    expect((await bench.run('import', `${url}/moved`, 'live', '--yes')).code).toBe(0);
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
  });

  test('a download that breaks off is continued where it was', async () => {
    allowed();
    const asked: (string | undefined)[] = [];
    const url = await serve((incoming, outgoing) => {
      const { range } = incoming.headers;
      asked.push(range);
      const from = Number(/bytes=(\d+)-/.exec(range ?? '')?.[1] ?? 0);
      outgoing.writeHead(range === undefined ? 200 : 206, { etag: '"b1"', 'content-length': file.length - from });
      if (asked.length < 3) { outgoing.write(file.subarray(from, from + 4000)); setTimeout(() => { outgoing.destroy(); }, 50); } else outgoing.end(file.subarray(from));
    });
    expect((await bench.run('inspect', `${url}/broken.pochette`)).code).toBe(0);
    expect(asked).toEqual([undefined, 'bytes=4000-', 'bytes=8000-']);
  });

  test.each<[string, (incoming: IncomingMessage, outgoing: ServerResponse) => void, RegExp]>([
    ['a page instead of a file', (_i, o) => { o.writeHead(200, { 'content-type': 'text/html' }).end('<html>log in</html>'); }, /no pochette but text\/html[^]*browser/],
    ['something that is not there', (_i, o) => { o.writeHead(404).end(); }, /status 404[^]*new link/],
    ['a file that says that it is too large', (_i, o) => { o.writeHead(200, { 'content-length': 5_000_000 }); o.flushHeaders(); }, /larger than 1 MB[^]*links\.megabytes/],
    ['a file that is too large and does not say so', (_i, o) => { o.writeHead(200); const more = (): void => { while (o.write(Buffer.concat([Buffer.from('PK\u0003\u0004'), Buffer.alloc(64_000)]))); o.once('drain', more); }; more(); }, /larger than 1 MB/],
    ['a circle', (_i, o) => { o.writeHead(302, { location: '/again' }).end(); }, /leads on more than 5 times/],
    ['a way to a private address', (_i, o) => { o.writeHead(302, { location: 'http://10.1.2.3/x' }).end(); }, /10\.1\.2\.3 is an address in a private network[^]*links\.private/],
    ['a way to another protocol', (_i, o) => { o.writeHead(302, { location: 'file:///etc/passwd' }).end(); }, /not encrypted/],
    ['a damaged file', (_i, o) => { o.end(Buffer.concat([file.subarray(0, 900), Buffer.from('XX'), file.subarray(902)])); }, /what to do|where/],
  ])('%s', async (_what, answer, message) => {
    allowed();
    const ran = await bench.run('import', `${await serve(answer)}/x.pochette`, 'live', '--yes');
    expect(ran.code).toBe(7);
    expect(ran.err).toMatch(message);
  });

  test('an address of this machine is refused where nobody allowed it, by number and by name', async () => {
    bench.configure();
    const url = await serve((_i, o) => { o.end(file); });
    for (const one of [url, url.replace('127.0.0.1', 'localhost'), url.replace('127.0.0.1', '[::ffff:127.0.0.1]')]) expect((await bench.run('inspect', `${one}/x.pochette`)).err).toMatch(/private network/);
  });
});

describe('text', () => {
  const piped = (input: string | Buffer, ...words: string[]): Promise<{ code: number | null; out: string; err: string }> => new Promise((settle) => {
    const child = spawn(process.execPath, [join(DIST, 'pochette.cjs'), ...words], { cwd: bench.folder, env: { ...process.env, NO_COLOR: '1' } });
    const ran = { out: '', err: '' };
    child.stdout.on('data', (chunk: Buffer) => { ran.out += chunk.toString(); });
    child.stderr.on('data', (chunk: Buffer) => { ran.err += chunk.toString(); });
    child.on('close', (code) => { settle({ code, ...ran }); });
    child.stdin.end(input);
  });
  test('what "show" prints goes through a pipe to another site, as YAML and as JSON; a pochette does too', async () => {
    bench.configure();
    for (const more of [[], ['--json']]) {
      const shown = await bench.run('show', 'dev', 'template:notice-strip', ...more);
      expect((await piped(shown.out, 'import', '-', 'live', '--yes')).code).toBe(0);
      expect((await bench.run('verify', 'dev', 'live', 'template:notice-strip')).code).toBe(0);
      expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
    }
    expect((await piped(file, 'compare', '-', 'live', '--json')).code).toBe(1);
    writeFileSync(bench.path('two.yaml'), `${(await bench.run('show', 'dev', 'role:crew')).out}---\n${(await bench.run('show', 'dev', 'redirect:old-winter-page')).out}`);
    expect(JSON.parse((await bench.run('compare', 'two.yaml', 'live', '--json')).out)).toMatchObject({ counts: { new: 2 } });
  });
  test.each([
    ['hello', /not an item: address, covers, kind and value/], ['a: [', /neither a pochette nor an item as text/], ['', /no item in it/],
    ['{"address":"tide:x","covers":"all","kind":"nobody/tide","value":{}}', /no kind nobody\/tide/], ['{"address":"role:a","covers":"all","kind":"tholepin/role","value":{"@new":1}}', /not known to this version/],
  ])('%j is refused', async (input, message) => {
    const ran = await piped(input, 'import', '-', 'live', '--yes');
    expect([ran.code === 0, ran.out]).toEqual([false, '']);
    expect(ran.err).toMatch(message);
  });
});

test('a picture that could run something loses that on the way, and this is said; a second import has nothing to do', async () => {
  bench.configure();
  const site = bench.site('dev');
  const svg = Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9" onload="alert(1)"><script>alert(2)</script><a href="javascript:alert(3)"><path d="M0 0h9v9z" fill="#b8442e"/></a><use href="https://elsewhere.example/x.svg#a"/><linearGradient id="g"><stop offset="0"/></linearGradient><style>@import "https://elsewhere.example/a.css";</style></svg>');
  const digest = createHash('sha256').update(svg).digest('hex');
  const { token } = (await site.call('POST', '/lock', { owner: 'x', run: 'x', seconds: 5 })).json as { token: string };
  const lock = { 'pochette-lock': token };
  await site.call('PUT', `/media/${digest}`, svg, { ...lock, 'content-type': 'image/svg+xml' });
  await site.call('POST', '/batch', { operations: [{ op: 'create', key: 'svg', kind: 'tholepin/media', name: 'badge', status: 'published', value: { title: 'Badge', alt: '', fileName: 'badge.svg', file: digest } }] }, lock);
  await site.call('DELETE', '/lock', undefined, lock);
  const ran = await bench.run('import', 'dev', 'live', 'media:badge', '--yes', '--json');
  expect([ran.code, ran.err]).toEqual([0, '']);
  const { adjusted } = JSON.parse(ran.out) as { adjusted: { removed: string[] }[] };
  expect(adjusted[0]?.removed).toEqual(['<a>', '<script>', 'href of <a>', 'href of <use>', 'links in <style>', 'onload of <svg>']);
  const { file: other } = (await bench.site('live').items()).find((one: Record_) => one.name === 'badge')?.value as { file: string };
  expect(other).not.toBe(digest);
  const clean = readFileSync(join(bench.site('live').folder, 'media', other), 'utf8');
  expect(clean).toMatch(/viewBox="0 0 9 9".*<path d="M0 0h9v9z" fill="#b8442e".*<linearGradient id="g">/);
  expect(clean).not.toMatch(/script|alert|elsewhere|onload/);
  expect(existsSync(join(bench.site('live').folder, 'media', digest))).toBe(false);
  expect((await bench.run('import', 'dev', 'live', 'media:badge', '--yes')).out).toMatch(/Nothing to do/);
  expect((await bench.run('export', 'dev', 'media:badge', '-o', 'badge.pochette')).code).toBe(0);
  expect((await bench.run('compare', 'badge.pochette', 'live')).code).toBe(0);
});

test('after an import of everything no address and no id of the source is left in the target\'s whole state, its ledger apart', async () => {
  bench.configure();
  expect((await bench.run('import', 'dev', 'live', '--yes')).code).toBe(0);
  const { folder } = bench.site('live');
  const ids = (await bench.site('dev').items()).flatMap((item) => [String(item.id), ...(JSON.stringify(item.value).match(/"id":(\d{7})/g) ?? []).map((text) => text.slice(5))]);
  const state = ['site.json', ...readdirSync(join(folder, 'records')).map((name) => join('records', name))].map((name) => readFileSync(join(folder, name), 'utf8')).join('\n');
  const unpacked = state + (state.match(/[A-Za-z0-9+/]{40,}={0,2}/g) ?? []).map((text) => Buffer.from(text, 'base64').toString()).join('\n');
  const found = new Set(unpacked.match(/(?<!\d)\d{7}(?!\d)/g));
  expect(ids.filter((id) => found.has(id))).toEqual([]);
  expect(unpacked).not.toContain(new URL(bench.site('dev').address).host);
  expect(unpacked.replaceAll('%3A', ':')).not.toContain(new URL(bench.site('dev').address).host);
});

test('choosing on a terminal: search, unfold, choose a part, and it is exported', async () => {
  bench.configure();
  const terminal = onTerminal(bench, 'export', 'dev', '--pick', '--no-media', '-o', 'picked.pochette');
  await terminal.until(/type to search/);
  await terminal.press('l', 'o', 's', 't');
  await terminal.until(/search: .*lost/);
  await terminal.press(KEYS.down, KEYS.right, KEYS.down, KEYS.down, ' ');
  await terminal.until(/partly/);
  await terminal.press(KEYS.enter);
  await terminal.until(/Written/);
  await terminal.ended();
  expect((await bench.run('inspect', 'picked.pochette')).out).toMatch(/form:lost-property.*only: messages/);
  expect((await bench.run('export', 'dev', '--pick', '-o', 'x.pochette')).code).toBe(3);
}, 30_000);
