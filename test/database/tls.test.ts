import { writeFileSync } from 'node:fs';
import { userInfo } from 'node:os';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { QUAYSIDE_LAYOUT, quayside, serverSite } from '../helpers/quayside.ts';
import { certificate, hasMariaDb, hasPostgres, startMariaDb, startPostgres, type Server } from '../helpers/servers.ts';
import { Bench } from '../helpers/sites.ts';

describe.each(['mysql', 'postgres'] as const)('an encrypted connection to a %s server', (sort) => {
  if (!(sort === 'mysql' ? hasMariaDb : hasPostgres)) { test.skip('is not installed', () => undefined); return; }
  const bench = new Bench();
  let server: Server;
  const configure = (tls: string): void => {
    writeFileSync(bench.path('pochette.yaml'), `you: Isbel Farrow\nsites:\n  live: { url: '${sort}://guest@127.0.0.1:${server.port}/live', password: 'file:password', layout: quayside.yaml${tls} }\n`);
  };
  beforeAll(async () => {
    const own = certificate(bench.folder, 'server', sort === 'postgres' && userInfo().uid === 0 ? 'postgres' : undefined);
    certificate(bench.folder, 'other');
    server = sort === 'mysql' ? await startMariaDb(own) : await startPostgres(own);
    writeFileSync(bench.path('quayside.yaml'), QUAYSIDE_LAYOUT);
    writeFileSync(bench.path('password'), 'ferry-7');
    serverSite(server, 'live', quayside(sort, 'live', 'https://skerrin-ferries.example', 'qs_'), () => '');
    // This user is let in on encrypted connections only.
    if (sort === 'mysql') server.run("create user guest@'%' identified by 'ferry-7' require ssl; grant all on *.* to guest@'%'");
    else server.run("create role guest login superuser password 'ferry-7'");
  });
  afterAll(async () => { await server.stop(); await bench.stop(); });

  test('is made with a certificate that is trusted', async () => {
    configure(', tls: { ca: server.pem }');
    const ran = await bench.run('list', 'live');
    expect([ran.code, ran.err]).toEqual([0, '']);
    expect(ran.out).toContain('board:front');
    configure(', tls: { verify: false }');
    expect((await bench.run('list', 'live')).code).toBe(0);
  });

  test('is refused with a certificate of somebody else', async () => {
    configure(', tls: { ca: other.pem }');
    const ran = await bench.run('list', 'live');
    expect([ran.code, ran.err]).toEqual([7, expect.stringMatching(/certificate of the database server[^]*what to do/)]);
  });

  test('is what the server may insist on', async () => {
    configure('');
    const ran = await bench.run('list', 'live');
    if (sort === 'mysql') expect([ran.code, ran.err]).toEqual([7, expect.stringMatching(/refuses the user or the password/)]);
    else expect(ran.code).toBe(0);
  });
});
