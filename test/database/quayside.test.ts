import { writeFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { call } from '../helpers/calls.ts';
import { QUAYSIDE_LAYOUT, quayside, serverSite, sqliteSite, type QuaysideSite, type Sort } from '../helpers/quayside.ts';
import { hasMariaDb, hasPostgres, startMariaDb, startPostgres, type Server } from '../helpers/servers.ts';
import { Bench } from '../helpers/sites.ts';

const DEV = 'https://dev.skerrin.example';
const LIVE = 'https://skerrin-ferries.example';

function dumpOf(server: Server, database: string): () => string {
  if (server.sort === 'mysql') return () => call('mysqldump', ['--no-defaults', `--socket=${server.socket}`, '-uroot', '--skip-extended-insert', '--order-by-primary', '--skip-dump-date', '--skip-comments', '--hex-blob', `--ignore-table=${database}.qs_pochette_ledger`, database]).replace(/ AUTO_INCREMENT=\d+/g, '').replace(/.*cache\.front.*\n/, '');
  return () => server.run("select tablename from pg_tables where schemaname = 'public' and tablename not like '%pochette%' order by 1", database).trim().split('\n').map((table) => `${table}\n${server.run(`copy (select * from ${table} order by 1, 2) to stdout`, database)}`).join('\n').replace(/.*cache\.front.*\n/, '');
}

async function start(sort: Sort, bench: Bench): Promise<{ dev: QuaysideSite; live: QuaysideSite; server: Server | undefined }> {
  if (sort === 'sqlite') return { dev: sqliteSite(bench.path('dev.db'), quayside(sort, 'dev', DEV, 'qs_')), live: sqliteSite(bench.path('live.db'), quayside(sort, 'live', LIVE, '')), server: undefined };
  const server = sort === 'mysql' ? await startMariaDb() : await startPostgres();
  return { server, dev: serverSite(server, 'dev', quayside(sort, 'dev', DEV, ''), dumpOf(server, 'dev')), live: serverSite(server, 'live', quayside(sort, 'live', LIVE, 'qs_'), dumpOf(server, 'live')) };
}

const there: Record<Sort, boolean> = { sqlite: true, mysql: hasMariaDb, postgres: hasPostgres };

describe.each(['sqlite', 'mysql', 'postgres'] as const)('a site in %s', (sort) => {
  if (!there[sort]) { test.skip('its server is not installed', () => undefined); return; }
  const bench = new Bench();
  let dev: QuaysideSite;
  let live: QuaysideSite;
  let server: Server | undefined;
  let before: string;
  const cached = (text: string): string => text.split('\n').filter((line) => !line.includes(Buffer.from('cache.front').toString('hex').toUpperCase())).join('\n');
  const configure = (more: Record<string, string[]> = {}): void => {
    writeFileSync(bench.path('quayside.yaml'), QUAYSIDE_LAYOUT);
    writeFileSync(bench.path('password'), 'ferry-7');
    writeFileSync(bench.path('pochette.yaml'), ['you: Isbel Farrow', 'sites:', ...Object.entries({ dev, live }).flatMap(([name, site]) => [`  ${name}:`, `    url: ${site.url}`, '    layout: quayside.yaml', ...(site.password === undefined ? [] : ['    password: file:password']), ...(more[name] ?? [])])].join('\n') + '\n');
  };
  beforeAll(async () => { ({ dev, live, server } = await start(sort, bench)); configure(); before = cached(live.dump()); });
  afterAll(async () => { await server?.stop(); await bench.stop(); });

  test('is listed with its facts', async () => {
    const ran = await bench.run('list', 'live', '--json');
    expect(ran.err).toBe('');
    const { items } = JSON.parse(ran.out) as { items: { address: string }[] };
    expect(items.map((item) => item.address)).toEqual(['board:front', 'board:own', 'board:winter', 'options:tide', 'pin:at-front', 'settings:front', 'skin:front', 'tag:weather', 'vessel:aend', 'vessel:skua']);
    const shown = JSON.parse((await bench.run('show', 'live', 'board:front', '--json')).out) as { item: { value: object } };
    expect(shown.item.value).toEqual({
      title: 'Front', above: null, body: '<p><a href="⟦site⟧⟦path board:winter⟧">Winter</a> <i data-vessel="⟦id vessel:aend⟧">x</i></p>', style: { '@json': { colour: '#222', image: '⟦site⟧/a.png' }, how: 'slashes' },
      rows: [{ label: 'Morning', vessel: { '@ref': 'vessel:aend', as: 'text' } }, { label: 'Evening', vessel: { '@ref': 'vessel:skua', as: 'text' } }], tags: [{ '@ref': 'tag:weather', as: 'text' }],
    });
  });

  test('import, circles included; ids of 64 bits, decimals and bytes are exact', async () => {
    const ran = await bench.run('import', 'dev', 'live', '--yes', '--json');
    expect(ran.err).toBe('');
    expect(JSON.parse(ran.out)).toMatchObject({ created: 6, unequal: [] });
    const p = sort === 'sqlite' ? '' : 'qs_';
    const one = (text: string): string => live.run(text).trim();
    expect(one(`select value from ${p}site_options where name = 'front'`)).toMatch(/"vessels":\[9007199254740993,9007199254740994\],"api_key":"secret-live","seats":12/);
    expect(one(`select r.label from ${p}board_rows r join ${p}vessels v on v.id = r.vessel_id join ${p}boards b on b.id = r.board_id where b.slug = 'front' and v.code = 'tern'`)).toBe('Night');
    expect(one(`select a.slug from ${p}boards a join ${p}boards b on b.parent_id = a.id where b.slug = 'pier'`)).toBe('quay');
    expect(one(`select state from ${p}boards where slug = 'pier'`)).toBe('draft');
    expect(one(`select body from ${p}boards where slug = 'quay'`)).toBe(`<p data-board="${one(`select id from ${p}boards where slug = 'winter'`)}"></p>`);
    expect(one(`select body from ${p}boards where slug = 'pier'`)).toContain(one(`select id from ${p}boards where slug = 'quay'`));
    expect(one(`select uses from ${p}tags where name = 'weather'`)).toBe('2');
    expect(one(`select value from ${p}site_options where name = 'tide.shown'`)).toBe('yes');
    expect(one(`select value from ${p}site_options where name = 'tide.unit'`)).toBe('metre');
    expect(one(`select count(*) from ${p}site_options where name = 'cache.front'`)).toBe('0');
    expect(one(sort === 'postgres' ? `select encode(badge, 'hex') from ${p}vessels where code = 'tern'` : `select lower(hex(badge)) from ${p}vessels where code = 'tern'`)).toBe('c3a4e4');
    // Names that hold an id hold the live site's own: of what was there, and of what was made a moment before.
    const [front, quay] = ['front', 'quay'].map((slug) => one(`select id from ${p}boards where slug = '${slug}'`));
    expect(one(`select name, value from ${p}site_options where name like 'skin.%' or name like 'pin.%' order by name`).split('\n').map((line) => line.replace(/[\t|]/, '='))).toEqual([[`pin.${front}.x`, '3'], [`pin.${quay}.x`, '7'], [`pin.${quay}.y`, '8'], [`skin.${front}.look`, '{"colour":"navy"}'], [`skin.${quay}.look`, '{"colour":"teal"}']].map((pair) => pair.join('=')).sort());
    expect(one(`select made from ${p}boards where slug = 'quay'`)).toBe('2026-03-01 06:30:00');
    expect(live.dump()).not.toContain('dev.skerrin');
    expect((await bench.run('import', 'dev', 'live', '--yes')).out).toContain('Nothing to do');
  });

  test('undo gives every row back, and can be undone', async () => {
    const after = cached(live.dump());
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
    expect(cached(live.dump())).toBe(before);
    const runs = (JSON.parse((await bench.run('history', 'live', '--json')).out) as { history: { run: string; verb: string }[] }).history;
    expect((await bench.run('undo', 'live', runs[0]?.run ?? '', '--yes')).code).toBe(0);
    expect(cached(live.dump())).toBe(after);
    const undone = await bench.run('undo', 'live', '--yes');
    expect(undone.code).toBe(0);
    expect(cached(live.dump())).toBe(before);
  });

  test('its ledger knows the last import of an item, however many came before', async () => {
    for (let times = 0; times < 3; times++) {
      const { run } = JSON.parse((await bench.run('import', 'dev', 'live', 'board:winter', '--yes', '--json')).out) as { run: string };
      expect(JSON.parse((await bench.run('show', 'live', 'board:winter', '--json')).out)).toMatchObject({ origin: { run } });
      expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
      expect(JSON.parse((await bench.run('show', 'live', 'board:winter', '--json')).out)).not.toHaveProperty('origin');
    }
  });

  test('what it keeps is no difference, and an import leaves it', async () => {
    configure({ live: ['    keep: ["board:front#style", "settings:front#/option/seats"]'] });
    const p = sort === 'sqlite' ? '' : 'qs_';
    const kept = (): string => live.run(`select style from ${p}boards where slug = 'front'`);
    const style = kept();
    expect((await bench.run('import', 'dev', 'live', '--yes')).code).toBe(0);
    expect(kept()).toBe(style);
    expect(live.run(`select value from ${p}site_options where name = 'front'`)).toContain('"seats":9');
    expect((await bench.run('compare', 'dev', 'live', 'board:*', 'settings:*', '--json')).out).not.toMatch(/"status": "(differs|new)"/);
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
    expect(cached(live.dump())).toBe(before);
    configure();
  });

  test('a change by someone else between reading and writing stops the import', async () => {
    const p = sort === 'sqlite' ? '' : 'qs_';
    expect(await bench.run('route', 'dev', 'live', '-o', 'route.yaml')).toMatchObject({ code: 0, err: '' });
    live.run(`update ${p}boards set title = 'Changed' where slug = 'winter'`);
    const ran = await bench.run('import', '--route', 'route.yaml', '--yes');
    expect(ran.code).toBe(4);
    expect(ran.err).toContain('board:winter');
    live.run(`update ${p}boards set title = 'Winter' where slug = 'winter'`);
    expect(cached(live.dump())).toBe(before);
  });

  test('a counter that visitors change is nobody\'s business', async () => {
    const p = sort === 'sqlite' ? '' : 'qs_';
    expect(await bench.run('route', 'dev', 'live', 'board:*', '-o', 'route2.yaml')).toMatchObject({ code: 0, err: '' });
    live.run(`update ${p}boards set seen = seen + 1 where slug = 'front'`);
    expect((await bench.run('import', '--route', 'route2.yaml', '--yes')).code).toBe(0);
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
  });
});
