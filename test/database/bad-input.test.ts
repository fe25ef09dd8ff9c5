import { execFile } from 'node:child_process';
import { chmodSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { userInfo } from 'node:os';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { QUAYSIDE_LAYOUT, quayside, serverSite, sqliteSite, type QuaysideSite } from '../helpers/quayside.ts';
import { hasMariaDb, hasPostgres, startMariaDb, startPostgres, type Server } from '../helpers/servers.ts';
import { Bench, type Ran } from '../helpers/sites.ts';

const DEV = 'https://dev.skerrin.example';
const LIVE = 'https://skerrin-ferries.example';

function expectProblem(ran: Ran, code: number, message: RegExp): void {
  expect([ran.code, ran.err]).toEqual([code, expect.stringMatching(message)]);
  expect(ran.err).toMatch(/what to do/);
}

describe('a database in a file', () => {
  const bench = new Bench();
  let site: QuaysideSite;
  const configure = (url: string, more = ''): void => { writeFileSync(bench.path('pochette.yaml'), `you: Isbel Farrow\nsites:\n  dev: { url: 'sqlite:dev.db', layout: quayside.yaml }\n  live: { url: '${url}', layout: quayside.yaml${more} }\n`); };
  beforeAll(() => {
    writeFileSync(bench.path('quayside.yaml'), QUAYSIDE_LAYOUT);
    sqliteSite(bench.path('dev.db'), quayside('sqlite', 'dev', DEV, ''));
    site = sqliteSite(bench.path('live.db'), quayside('sqlite', 'live', LIVE, ''));
  });
  afterAll(async () => { await bench.stop(); });

  test('that is not there, is none, or has no layout', async () => {
    configure('sqlite:absent.db');
    expectProblem(await bench.run('list', 'live'), 7, /there is no database at .*absent\.db/);
    writeFileSync(bench.path('text.db'), 'only text, and enough of it to be taken for a page of a database');
    configure('sqlite:text.db');
    expectProblem(await bench.run('list', 'live'), 7, /cannot be read|cannot be opened/);
    writeFileSync(bench.path('pochette.yaml'), 'you: x\nsites:\n  live: { url: "sqlite:live.db" }\n');
    expectProblem(await bench.run('list', 'live'), 2, /no layout that comes with Pochette fits[^]*layout draft live/);
    writeFileSync(bench.path('pochette.yaml'), 'you: x\nsites:\n  live: { url: "oracle://x" }\n');
    expectProblem(await bench.run('list', 'live'), 2, /url must start with/);
  });

  test('an id that refers to nothing blocks, and is named with its place', async () => {
    configure('sqlite:live.db');
    sqliteSite(bench.path('dev.db'), 'update boards set parent_id = 777 where slug = \'winter\'');
    const ran = await bench.run('import', 'dev', 'live', 'board:winter', '--yes');
    expect([ran.code, ran.out]).toEqual([3, expect.stringMatching(/nothing was written[^]*board:winter[^]*777/)]);
    sqliteSite(bench.path('dev.db'), 'update boards set parent_id = 1 where slug = \'winter\'');
  });

  test('a second import at the same time waits for nobody: it is refused', async () => {
    configure('sqlite:live.db');
    writeFileSync(bench.path('live.db-pochette-lock'), String(process.ppid));
    const refused = await bench.run('import', 'dev', 'live', '--yes');
    expectProblem(refused, 3, /someone else is writing to live/);
    // The lock of a program that has ended is taken over.
    writeFileSync(bench.path('live.db-pochette-lock'), '999999');
    expect((await bench.run('import', 'dev', 'live', 'tag:*', '--yes')).code).toBe(0);
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
  });

  test('a run that fails while it is remembered leaves no memory of itself', async () => {
    configure('sqlite:live.db');
    const { run } = JSON.parse((await bench.run('import', 'dev', 'live', 'board:front', '--yes', '--json')).out) as { run: string };
    const local = (): string[] => readdirSync(bench.path('.pochette/bases')).filter((file) => !file.startsWith('forms-')).flatMap((file) => readFileSync(bench.path(`.pochette/bases/${file}`), 'utf8').split('\n').map((line) => `${file} ${line}`)).sort();
    const before = local();
    sqliteSite(bench.path('dev.db'), "update boards set title = 'Front, anew' where slug = 'front'");
    site.run("create trigger full before insert on pochette_ledger when new.content like '%\"bases\"%' and exists (select 1 from boards where title = 'Front, anew') begin select raise(abort, 'no room'); end");
    expectProblem(await bench.run('import', 'dev', 'live', 'board:front', '--yes'), 5, /no room[^]*brought back/);
    site.run('drop trigger full');
    expect((JSON.parse((await bench.run('compare', 'dev', 'live', 'board:front', '--json')).out) as { items: unknown[] }).items[0]).toMatchObject({ address: 'board:front', status: 'differs', by: 'source' });
    expect(local()).toEqual(before);
    expect(JSON.parse((await bench.run('show', 'live', 'board:front', '--json')).out)).toMatchObject({ origin: { run } });
    sqliteSite(bench.path('dev.db'), "update boards set title = 'Front' where slug = 'front'");
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
  });

  test('a table that can only be read is found before anything is written', async () => {
    if (userInfo().uid === 0) { site.run('create trigger no_more before update on boards begin select raise(abort, \'closed\'); end'); } else chmodSync(bench.path('live.db'), 0o444);
    configure('sqlite:live.db');
    const before = site.dump();
    const ran = await bench.run('import', 'dev', 'live', 'board:front', '--yes');
    expect([3, 5]).toContain(ran.code);
    expect(site.dump()).toBe(before);
  });
});

describe.each(['mysql', 'postgres'] as const)('a %s server', (sort) => {
  if (!(sort === 'mysql' ? hasMariaDb : hasPostgres)) { test.skip('is not installed', () => undefined); return; }
  const bench = new Bench();
  let server: Server;
  let live: QuaysideSite;
  const configure = (url: string, password = 'ferry-7'): void => {
    writeFileSync(bench.path('password'), password);
    writeFileSync(bench.path('good'), 'ferry-7');
    writeFileSync(bench.path('pochette.yaml'), `you: Isbel Farrow\nsites:\n  dev: { url: '${sort}://pochette@127.0.0.1:${server.port}/dev', password: 'file:good', layout: quayside.yaml }\n  live: { url: '${url}', password: 'file:password', layout: quayside.yaml }\n`);
  };
  const url = (user = 'pochette', port = server.port, database = 'live'): string => `${sort}://${user}@127.0.0.1:${port}/${database}`;
  const count = (): string => server.run('select count(*) from qs_boards', 'live').trim();
  beforeAll(async () => {
    server = sort === 'mysql' ? await startMariaDb() : await startPostgres();
    writeFileSync(bench.path('quayside.yaml'), QUAYSIDE_LAYOUT);
    serverSite(server, 'dev', quayside(sort, 'dev', DEV, ''), () => '');
    live = serverSite(server, 'live', quayside(sort, 'live', LIVE, 'qs_'), () => '');
  });
  afterAll(async () => { await server.stop(); await bench.stop(); });

  test('with a wrong password, down, or without that database', async () => {
    configure(url(), 'wrong');
    expectProblem(await bench.run('list', 'live'), 7, /refuses the user or the password/);
    configure(url('pochette', 1));
    expectProblem(await bench.run('list', 'live'), 7, /no database server answers/);
    configure(url('pochette', server.port, 'nowhere'));
    expectProblem(await bench.run('list', 'live'), 7, /database is not there/);
    configure(url().replace('pochette@', 'pochette:ferry-9@'));
    const ran = await bench.run('list', 'live', '--verbose');
    expect(ran.out + ran.err).not.toContain('ferry-9');
  });

  test('is reached through its socket, too', async () => {
    configure(`${sort}://pochette@localhost:${server.port}/live?socket=${encodeURIComponent(server.socket)}`);
    expect((await bench.run('list', 'live')).out).toContain('board:front');
  });

  test('a user who may only read is found by trying, before anything is written', async () => {
    configure(url('reader'), 'ferry-8');
    const ran = await bench.run('import', 'dev', 'live', '--yes');
    expect([ran.code, ran.out]).toEqual([3, expect.stringMatching(/nothing was written[^]*may only be read/)]);
    expect(ran.err).toMatch(/may not write to qs_/);
    expect(count()).toBe('3');
  });

  /** Another client, which goes on by itself. */
  const beside = (statements: string): Promise<void> => new Promise((settle) => {
    const [program, words] = sort === 'mysql' ? ['mariadb', ['--no-defaults', `--socket=${server.socket}`, '-uroot', 'live', '-e', statements]] : ['psql', ['-h', '127.0.0.1', '-p', String(server.port), '-U', 'pochette', '-d', 'live', '-c', statements]];
    execFile(program, words, { env: { ...process.env, PGPASSWORD: 'ferry-7' } }, () => { settle(); });
  });

  test('a deadlock with someone else is tried again', async () => {
    configure(url());
    if (sort === 'mysql') server.run('set global innodb_lock_wait_timeout = 50');
    const deadlocks = (): number => Number(sort === 'mysql' ? server.run("show global status like 'Innodb_deadlocks'").split('\t')[1] : server.run("select deadlocks from pg_stat_database where datname = 'live'"));
    const before = deadlocks();
    // Holds a board and waits until we wait for it, with a vessel in our hands; then it wants that vessel. It has written more than we have, so that we have to give way.
    const wait = sort === 'mysql' ? "begin not atomic while (select count(*) from information_schema.innodb_lock_waits) = 0 do do sleep(0.2); end while; end" : "do $$ begin while not exists (select 1 from pg_locks where not granted) loop perform pg_sleep(0.02); end loop; end $$";
    const separator = sort === 'mysql' ? ['delimiter //\n', '//\n'] as const : ['', ';\n'] as const;
    const held = beside(separator[0] + ['begin', "insert into qs_visitors (name, spent) select v.name, 1 from qs_visitors v, qs_visitors w, qs_visitors x, qs_visitors y", "update qs_boards set seen = seen + 1 where slug = 'front'", wait, "update qs_vessels set code = code where code = 'aend'", 'commit', 'delete from qs_visitors where spent = 1'].join(separator[1]) + separator[1]);
    await new Promise((settle) => { setTimeout(settle, 400); });
    const ran = await bench.run('import', 'dev', 'live', 'vessel:aend', 'board:front#style', '--yes');
    expect([ran.code, ran.err]).toEqual([0, '']);
    await held;
    for (let tries = 0; tries < 100 && deadlocks() === before; tries++) await new Promise((settle) => { setTimeout(settle, 50); });
    expect(deadlocks()).toBe(before + 1);
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
  });

  test('a row that someone else holds is waited for, and what was in the way is tried again', async () => {
    configure(url());
    if (sort === 'mysql') server.run('set global innodb_lock_wait_timeout = 1');
    const hold = sort === 'mysql' ? "begin; select * from qs_boards where slug = 'front' for update; do sleep(3); commit" : "begin; select * from qs_boards where slug = 'front' for update; select pg_sleep(2); commit";
    const held = beside(hold);
    await new Promise((settle) => { setTimeout(settle, 400); });
    const ran = await bench.run('import', 'dev', 'live', 'board:front#style', '--yes');
    expect([ran.code, ran.err]).toEqual([0, '']);
    await held;
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
  });

  test('a value that the database does not take is refused, and nothing of the batch is left', async () => {
    configure(url());
    server.run(sort === 'mysql' ? 'alter table qs_vessels modify code varchar(20) not null, add constraint c check (built < 2000)' : 'alter table qs_vessels add constraint c check (built < 2000)', 'live');
    const ran = await bench.run('import', 'dev', 'live', '--yes');
    // Of all that went together, the one is named.
    expectProblem(ran, 5, /does not take a value[^]*brought back[^]*where: +vessel:tern\n/);
    expect(count()).toBe('3');
    expect(server.run("select count(*) from qs_tags where name = 'winter'", 'live').trim()).toBe('0');
    server.run('alter table qs_vessels drop constraint c', 'live');
  });

  test('without the right to make tables the local records are all there is, which is said', async () => {
    if (sort === 'mysql') server.run("create user plain@'%' identified by 'ferry-7'; grant select, insert, update, delete on live.* to plain@'%';");
    else { server.run("create role plain login password 'ferry-7'"); server.run('revoke create on schema public from public; grant usage on schema public to plain; grant select, insert, update, delete on all tables in schema public to plain; grant usage on all sequences in schema public to plain; drop table if exists qs_pochette_ledger;', 'live'); }
    if (sort === 'mysql') server.run('drop table if exists qs_pochette_ledger', 'live');
    configure(url('plain'));
    const ran = await bench.run('import', 'dev', 'live', '--yes');
    expect(ran.err).toMatch(/Note: live: the database user may not make a table/);
    expect(ran.code).toBe(0);
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
    expect(count()).toBe('3');
  });

  if (sort === 'mysql') {
    test('text in the wrong character set keeps its bytes; tables without transactions are named', async () => {
      configure(url());
      server.run('alter table qs_vessels modify name varbinary(100) not null; alter table qs_vessels modify name varchar(100) character set latin1 not null; alter table qs_tags engine = MyISAM', 'live');
      server.run("update qs_vessels set note = 'kept' where code = 'skua'", 'live');
      const bytes = server.run("select hex(name) from qs_vessels where code = 'aend'", 'live');
      const ran = await bench.run('import', 'dev', 'live', '--yes');
      expect(ran.err).toMatch(/Note: live: qs_tags: kept without transactions/);
      expect(ran.code).toBe(0);
      expect(server.run("select hex(name) from qs_vessels where code = 'aend'", 'live')).toBe(bytes);
      expect(Buffer.from(bytes.trim(), 'hex').toString()).toBe('Ænd — the first');
      expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
      expect(live.run("select note from qs_vessels where code = 'skua'").trim()).toBe('kept');
    });

    test('what was written without a transaction when a run fails on the way is taken back row by row', async () => {
      configure(url());
      server.run('alter table qs_tags engine = MyISAM; alter table qs_vessels add constraint c check (built < 2000)', 'live');
      const before = server.run('select * from qs_tags order by id', 'live');
      server.run('create table qs_seen (name varchar(40)) engine = MyISAM; create trigger seen after insert on qs_tags for each row insert into qs_seen values (new.name)', 'live');
      const ran = await bench.run('import', 'dev', 'live', '--yes');
      expectProblem(ran, 5, /does not take a value[^]*brought back/);
      expect(server.run('select * from qs_tags order by id', 'live')).toBe(before);
      expect([server.run('select name from qs_seen', 'live').trim(), count()]).toEqual(['winter', '3']);
      server.run('drop trigger seen; drop table qs_seen; alter table qs_vessels drop constraint c', 'live');
    });
  }
});
