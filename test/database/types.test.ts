import { expect, test } from '@jest/globals';
import { addressed, COUNTED, inEverySort } from '../helpers/databasepair.ts';
import type { Sort } from '../helpers/quayside.ts';

/** What the servers have beyond text and numbers: the type of a column, and what it holds on dev and, before, on live. */
const COLUMNS: Readonly<Record<Sort, Readonly<Record<string, readonly [string, string, string]>>>> = {
  mysql: {
    lot: ["enum('car','foot')", "'foot'", "'car'"], tags: ["set('early','late','ø')", "'early,ø'", "'late'"], flags: ['bit(10)', "b'1000000001'", "b'1'"], open: ['bit(1)', "b'1'", "b'0'"], spot: ['point', 'point(1.5, -60.25)', 'null'],
    shore: ['linestring', "st_linefromtext('linestring(0 0, 1.5 2, 3 4)')", "st_linefromtext('linestring(0 0, 1 1)')"], ring: ['geometry', "st_geomfromtext('polygon((0 0, 4 0, 4 4, 0 0))')", 'null'], marks: ['multipoint', "st_geomfromtext('multipoint(1 1, 2 2)')", 'null'],
    built: ['year', '1998', '2001'], slack: ['time(3)', "'-13:20:59.125'", "'00:00:01'"], at: ['datetime(6)', "'2026-01-02 03:04:05.000006'", "'2025-01-01 00:00:00'"], price: ['decimal(30,10)', "'12345678901234567890.0123456789'", '1'], ratio: ['double', '0.1 + 0.2', '1e-300'], small: ['float', '1.25', '3'],
    big: ['bigint unsigned', '18446744073709551615', '1'], padded: ['int(8) unsigned zerofill', '42', '7'], digest: ['binary(4)', "x'00ff00fe'", "x'01000000'"], raw: ['varbinary(20)', "x'c3280041'", "x''"], uid: ['uuid', "'0191f2aa-0000-7000-8000-00000000aaaa'", "'0191f2aa-0000-7000-8000-00000000bbbb'"],
    host: ['inet6', "'2001:db8::1'", "'::1'"], doc: ['json', `'{"a":1.0,"b":["x/y"]}'`, "'{}'"], title_again: ['varchar(60) generated always as (concat(title, "!")) stored', 'default', 'default'], twice: ['int generated always as (char_length(title) * 2) virtual', 'default', 'default'],
  },
  postgres: {
    lot: ['lot', "'foot'", "'car'"], code: ['code', "'ABC'", "'XYZ'"], tags: ['text[]', `array['early', 'a "b", c', null, '']`, "'{}'"], grid: ['int[][]', "'{{1,2},{3,4}}'", 'null'], flags: ['bit(10)', "b'1000000001'", "b'0000000001'"], more: ['bit varying(8)', "b'101'", "b''"], open: ['boolean', 'true', 'false'],
    spot: ['point', "'(1.5,-60.25)'", 'null'], span: ['int4range', "'[1,10)'", "'empty'"], days: ['daterange', "'[2026-01-01,2026-02-01)'", 'null'], slack: ['interval', "'1 mon -2 days 03:04:05.000006'", "'1 hour'"], at: ['timestamptz', "'2026-01-02 03:04:05.000006+02'", "'2025-01-01 00:00:00Z'"], hour: ['timetz', "'03:04:05+05:30'", "'00:00Z'"],
    price: ['numeric', "'12345678901234567890.01234567890'", '1.0'], ratio: ['double precision', '0.1::double precision + 0.2', "'NaN'"], small: ['real', '1.1', "'-Infinity'"], amount: ['money', "'12345.67'", '0'], uid: ['uuid', "'0191f2aa-0000-7000-8000-00000000aaaa'", "'0191f2aa-0000-7000-8000-00000000bbbb'"],
    host: ['inet', "'2001:db8::1/64'", "'10.0.0.1'"], mac: ['macaddr', "'08:00:2b:01:02:03'", 'null'], doc: ['jsonb', `'{"long": 1.0, "b": ["x/y", {"10": 1, "9": 2}]}'`, "'{}'"], kept: ['json', `'{"b" : 1.0,  "a":[ ]}'`, "'1'"], page: ['xml', "'<a b=\"1\">x</a>'", 'null'], digest: ['bytea', "'\\x00ff00fe'", "''"],
    fixed: ['char(5)', "'ab'", "'abcde'"], title_again: ["text generated always as (title || '!') stored", 'default', 'default'], found: ["tsvector generated always as (to_tsvector('simple', title)) stored", 'default', 'default'],
  },
  sqlite: {
    open: ['boolean', '1', '0'], price: ['decimal(10,2)', "'12.50'", '1'], at: ['datetime', "'2026-01-02 03:04:05'", '1700000000'], ratio: ['real', '0.1 + 0.2', '1e-300'], digest: ['blob', "x'00ff00fe'", "x''"], anything: ['', "'seven'", '7'], mixed: ['text', "x'c328'", "'x'"], number: ['integer', "'no number'", '9007199254740993'],
    title_again: ["text generated always as (title || '!') stored", '', ''], twice: ['integer generated always as (length(title) * 2) virtual', '', ''],
  },
};

/** What stands beside such columns: tables in parts, and what is no table of its own. */
const MORE: Readonly<Record<Sort, (dev: boolean) => string>> = {
  mysql: (dev) => `create view open_berths as select title from berths; create sequence counter;
create table versions (id ${COUNTED.mysql}, title varchar(60) not null unique, note text) with system versioning; insert into versions (title, note) values ('One', '${dev ? 'dev' : 'live'}');`,
  postgres: (dev) => `create view open_berths as select * from berths where open; create materialized view all_berths as select title from berths;
create table trips (id bigint generated always as identity, year int not null, title text not null, primary key (id, year), unique (title, year)) partition by range (year);
create table trips_old partition of trips for values from (0) to (2026); create table trips_new partition of trips default; insert into trips (year, title) values (2025, 'Old')${dev ? ", (2027, 'New')" : ''};`,
  sqlite: (dev) => `create virtual table found using fts5(title); insert into found select title from berths; create table plain (code text primary key, title text) without rowid; insert into plain values ('${dev ? 'a' : 'b'}', 'Plain');
create table exact (id integer primary key, title text not null unique, any_value any) strict; insert into exact values ${dev ? "(5, 'One', 2)" : "(9, 'One', x'00')"};`,
};
const LIST: Readonly<Record<Sort, string>> = { mysql: 'json', postgres: 'int[]', sqlite: 'text' };
const PACKED: Readonly<Record<Sort, string>> = { mysql: 'json', postgres: 'jsonb', sqlite: 'text' };

function statements(sort: Sort, site: 'dev' | 'live'): string {
  const dev = site === 'dev';
  const given = Object.entries(COLUMNS[sort]).filter(([, [type]]) => !type.includes('generated'));
  const row = (id: number, title: string, ours: boolean): string => `(${[String(id), `'${title}'`, ...given.map(([, [, here, there]]) => (ours ? here : there))].join(', ')})`;
  const list = (ids: string): string => (sort === 'postgres' ? `'{${ids}}'` : `'[${ids}]'`);
  return `${sort === 'postgres' ? "create type lot as enum ('car', 'foot'); create domain code as text check (value ~ '^[A-Z]{3}$');" : ''}
create table berths (id ${COUNTED[sort]}, title varchar(60) not null unique, ${Object.entries(COLUMNS[sort]).map(([name, [type]]) => `${name} ${type}`).join(', ')});
insert into berths (${['id', 'title', ...given.map(([name]) => name)].join(', ')}) values ${dev ? [row(11, 'North', true), row(12, 'South', true), row(13, 'Old', false)].join(', ') : row(44, 'North', false)};
create table routes (id ${COUNTED[sort]}, title varchar(60) not null unique, berth_ids ${LIST[sort]}, page ${PACKED[sort]});
insert into routes (title, berth_ids, page) values ${dev ? `('Long', ${list('11,12')}, '{"parts":[{"berth":12,"hue":"red"}],"berths":{"11":{"wide":true},"12":{}}}'), ('None', null, 'null')` : `('Long', ${list('44')}, '{}')`};
${MORE[sort](dev)}`;
}

inEverySort('columns of every type', statements, (pair, sort) => {
  const { bench } = pair;
  const shown = (site: 'dev' | 'live'): string[][] => pair.rows(`select title, ${Object.keys(COLUMNS[sort]).map((name) => (sort === 'mysql' ? `hex(${name})` : sort === 'sqlite' ? `quote(${name})` : `${name}::text`)).join(', ')} from berths order by title`, site);

  /** What routes say of berths, by what these are called. */
  function routes(site: 'dev' | 'live'): unknown[] {
    const titles = new Map(pair.rows('select id, title from berths', site).map(([id, title]) => [id, title]));
    const named = (text = ''): string => text.replace(/"?\b(\d+)\b"?/g, (said, id: string) => JSON.stringify(titles.get(id) ?? said));
    return pair.rows('select title, berth_ids, page from routes order by title', site).map(([title, berths, page]) => [title, named(berths), JSON.parse(named(page) || 'null') as unknown]);
  }

  test('are carried exactly, and undone', async () => {
    const draft = await pair.drafted(addressed);
    // A partition is no table of its own, nor is what an index of words keeps; an array is followed like any list.
    expect(draft).not.toMatch(/trips_new|found_|open_berths/);
    expect(draft).toContain('references: [{ path: "$.berth_ids[*]", to: berths }, { path: "$.page.parts[*].berth", to: berths }]');
    const before = [shown('live'), routes('live')];
    const ran = await bench.run('import', 'dev', 'live', '--yes', '--json');
    expect(JSON.parse(ran.out)).toMatchObject({ unequal: [] });
    expect(shown('live')).toEqual(shown('dev'));
    expect(routes('live')).toEqual(routes('dev'));
    expect((await bench.run('import', 'dev', 'live', '--yes')).out).toContain('Nothing to do');
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
    expect([shown('live'), routes('live')]).toEqual(before);
  });
});
