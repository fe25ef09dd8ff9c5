import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { appendFileSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { afterAll, afterEach, beforeAll, describe, expect, test } from '@jest/globals';
import { QUAYSIDE_LAYOUT, quayside, sqliteSite, type QuaysideSite } from '../helpers/quayside.ts';
import { Bench, DIST } from '../helpers/sites.ts';

const bench = new Bench();
const running: ChildProcess[] = [];
let live: QuaysideSite;
let before: string;
const plain = (text: string): string => text.split('\n').filter((line) => !line.includes(Buffer.from('cache.front').toString('hex').toUpperCase())).join('\n');
const CONFIG = `you: Isbel Farrow\nsites:\n  dev: { url: 'sqlite:dev.db', layout: quayside.yaml }\n  live: { url: 'sqlite:live.db', layout: quayside.yaml }\n`;

beforeAll(() => {
  writeFileSync(bench.path('quayside.yaml'), QUAYSIDE_LAYOUT);
  writeFileSync(bench.path('serve.token'), 'rope-and-tar\n');
  sqliteSite(bench.path('dev.db'), quayside('sqlite', 'dev', 'https://dev.skerrin.example', ''));
  live = sqliteSite(bench.path('live.db'), quayside('sqlite', 'live', 'https://skerrin-ferries.example', ''));
  before = plain(live.dump());
});
afterEach(() => { for (const child of running.splice(0)) child.kill('SIGTERM'); });
afterAll(async () => { await bench.stop(); });

/** Serves the live site; what comes back is its address, which is also the site "far" of the configuration. */
function serving(...words: string[]): Promise<string> {
  writeFileSync(bench.path('pochette.yaml'), CONFIG);
  const child = spawn(process.execPath, [join(DIST, 'pochette.cjs'), 'serve', 'live', '--token', 'file:serve.token', '--port', '0', '--json', ...words], { cwd: bench.folder, stdio: ['ignore', 'pipe', 'inherit'] });
  running.push(child);
  return new Promise((settle) => {
    let text = '';
    createInterface({ input: child.stdout }).on('line', (line) => {
      text += line;
      if (line !== '}') return;
      const { address } = JSON.parse(text) as { address: string };
      appendFileSync(bench.path('pochette.yaml'), `  far: { url: '${address}', token: 'file:serve.token'${address.startsWith('https') ? ", tls: { ca: 'cert.pem' }" : ''} }\n`);
      settle(address);
    });
  });
}

describe('serve', () => {
  test('the whole job on a database at the other end of the protocol', async () => {
    await serving('--writable');
    expect((await bench.run('compare', 'live', 'far')).code).toBe(0);
    const ran = await bench.run('import', 'dev', 'far', '--yes', '--json');
    expect(ran.err).toBe('');
    expect(JSON.parse(ran.out)).toMatchObject({ created: 6, unequal: [] });
    expect(live.run("select value from site_options where name = 'front'")).toContain('9007199254740993');
    expect((await bench.run('import', 'dev', 'live', '--yes')).out).toContain('Nothing to do');
    expect((await bench.run('undo', 'far', '--yes')).code).toBe(0);
    expect(plain(live.dump())).toBe(before);
  });

  test('is for reading only, unless writing is allowed', async () => {
    await serving();
    const ran = await bench.run('import', 'dev', 'far', '--yes');
    expect([ran.code, ran.out]).toEqual([3, expect.stringContaining('may only be read')]);
    expect(plain(live.dump())).toBe(before);
  });

  test('wants its token, in words and over the protocol', async () => {
    const address = await serving('--writable');
    expect((await fetch(`${address}/pochette/v1/items`)).status).toBe(401);
    expect((await fetch(`${address}/pochette/v1/items`, { headers: { authorization: 'Bearer rope' } })).status).toBe(401);
    writeFileSync(bench.path('wrong.token'), 'hemp');
    writeFileSync(bench.path('pochette.yaml'), readFileSync(bench.path('pochette.yaml'), 'utf8').replace(/(far: .*)file:serve.token/, '$1file:wrong.token'));
    const ran = await bench.run('list', 'far');
    expect([ran.code, ran.err]).toEqual([7, expect.stringContaining('token')]);
  });

  test('with TLS; and without it not beyond this machine', async () => {
    execFileSync('openssl', ['req', '-x509', '-newkey', 'rsa:2048', '-nodes', '-keyout', bench.path('key.pem'), '-out', bench.path('cert.pem'), '-days', '2', '-subj', '/CN=localhost', '-addext', 'subjectAltName=IP:127.0.0.1,DNS:localhost'], { stdio: 'ignore' });
    expect(await serving('--cert', 'cert.pem', '--key', 'key.pem')).toMatch(/^https:/);
    expect((await bench.run('compare', 'live', 'far')).code).toBe(0);
    const open = await bench.run('serve', 'live', '--token', 'file:serve.token', '--host', '0.0.0.0');
    expect([open.code, open.err]).toEqual([2, expect.stringMatching(/the token could be read on the way[^]*tunnel/)]);
    expect((await bench.run('serve', 'live', '--token', 'rope-and-tar')).err).toMatch(/must be written env:NAME or file:PATH/);
    expect((await bench.run('serve', 'live', '--token', 'file:serve.token', '--cert', 'absent.pem', '--key', 'key.pem')).code).toBe(2);
  });

  test('a request that is none is refused in words', async () => {
    const address = await serving('--writable');
    const send = async (path: string, body: string): Promise<{ status: number; title: string }> => { const answer = await fetch(`${address}/pochette/v1${path}`, { method: 'POST', headers: { authorization: 'Bearer rope-and-tar', 'content-type': 'application/json' }, body }); return { status: answer.status, title: ((await answer.json()) as { title: string }).title }; };
    expect(await send('/batch', '{"operations":[]}')).toEqual({ status: 428, title: 'Take the writer\'s lock first' });
    expect(await send('/items/read', '{"items":7}')).toEqual({ status: 400, title: 'The request is not understood' });
    expect((await send('/items/read', '{')).status).toBe(400);
    expect((await fetch(`${address}/pochette/v1/media/..%2F..%2Fetc%2Fpasswd`, { headers: { authorization: 'Bearer rope-and-tar' } })).status).toBe(404);
  });
});
