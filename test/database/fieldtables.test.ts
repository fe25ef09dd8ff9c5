import { expect, test } from '@jest/globals';
import { addressed, COUNTED, inEverySort } from '../helpers/databasepair.ts';
import type { Sort } from '../helpers/quayside.ts';

/** Things of two sorts whose titles and fields lie in tables of their own, addresses that hold their ids, people, and what the CMS notes for itself. */
function statements(sort: Sort, site: 'dev' | 'live'): string {
  const dev = site === 'dev';
  const [thing, file] = [(n: number): number => (dev ? 20 : 700) + n, (n: number): number => (dev ? 55 : 940) + n];
  const list = (values: readonly string[]): string => values.map((one) => `(${one})`).join(', ');
  const fares = '/thing/%'.replace('%', String(thing(1)));
  const board = dev ? [`${thing(3)}, 'board'`, `${thing(4)}, 'board'`] : [];
  return `
create table things (id ${COUNTED[sort]}, bundle varchar(32) not null);
create table thing_data (id bigint not null, lang varchar(12) not null, title varchar(200) not null, owner bigint not null, changed bigint not null, primary key (id, lang));
create table thing__body (entity_id bigint not null, delta bigint not null, body_value text not null, primary key (entity_id, delta));
create table thing__picture (entity_id bigint not null, delta bigint not null, picture_target_id bigint not null, primary key (entity_id, delta));
create table files (fid ${COUNTED[sort]}, uri varchar(200) not null, mime varchar(60) not null);
create table aliases (id ${COUNTED[sort]}, path varchar(200) not null, alias varchar(200) not null);
create table config (collection varchar(60) not null, name varchar(60) not null, data text not null, primary key (collection, name));
create table users (uid ${COUNTED[sort]}, mail varchar(100) not null, pass varchar(100) not null);
create table user_roles (uid bigint not null, role varchar(60) not null, primary key (uid, role));
create table cache_page (cid varchar(100) not null primary key, data text not null, expire bigint not null, created bigint not null);
insert into users (mail, pass) values ('keeper@skerrin.example', 'x${site}');
insert into user_roles values (1, 'keeper');
insert into cache_page values ('front', '${site}', 1790000000, 1790000000);
insert into files (fid, uri, mime) values ${list([`${file(1)}, 'public://2026/pier.png', 'image/png'`, ...(dev ? [`${file(2)}, 'public://2026/vessel.png', 'image/png'`] : [])])};
insert into things (id, bundle) values ${list([`${thing(1)}, 'page'`, `${thing(2)}, 'page'`, ...board])};
insert into thing_data values ${list([`${thing(1)}, 'en', 'Fares', 1, 1790000000`, `${thing(2)}, 'en', 'Contact', 1, 1790000000`, ...(dev ? [`${thing(3)}, 'en', 'Summer board', 1, 1790000000`, `${thing(3)}, 'nn', 'Sumarbord', 1, 1790000000`, `${thing(4)}, 'en', 'Winter board', 1, 1790000000`] : [])])};
insert into thing__body values ${list([`${thing(2)}, 0, '<p>Us</p>'`, ...(dev ? [`${thing(3)}, 0, '<a href="${fares}">fares</a>'`] : [])])};
insert into thing__picture values ${list([`${thing(1)}, 0, ${file(1)}`, ...(dev ? [`${thing(3)}, 0, ${file(2)}`] : [])])};
insert into aliases (path, alias) values ${list([`'${fares}', '/fares'`, ...(dev ? [`'/thing/${thing(3)}', '/boards/summer'`] : [])])};
insert into config values ('', 'system.site', '{"name":"Skerrin ${site}","page":{"front":"${fares}"}}'), ('', 'board.settings', '{"columns":${dev ? 3 : 2},"default_board":${dev ? thing(3) : 0},"rows":{"a1b2c3":{"list":"${fares}"}}}'), ('de', 'board.settings', '{"label":"Tafel"}');
`;
}

inEverySort('a table for every field,', statements, (pair) => {
  const { bench } = pair;
  const all = (): string[][][] => ['things order by id', 'thing_data order by id, lang', 'thing__body order by entity_id', 'thing__picture order by entity_id', 'files order by fid', 'aliases order by id', 'config order by collection, name', 'users', 'user_roles', 'cache_page'].map((one) => pair.rows(`select * from ${one}`));

  test('a draft puts the rows of a thing together and names it by its title; everything is carried and undone', async () => {
    const draft = await pair.drafted(addressed);
    expect(draft).toContain("labels: { label: { from: thing_data, on: { id: id }, value: title } }");
    expect(draft).toContain('thing__picture: { list: { from: thing__picture, on: { entity_id: id }, order: [delta], id: delta, value: { delta: delta, picture_target_id: picture_target_id } } }');
    expect(draft).toContain("create: { changed: '{now seconds}' }");
    expect(draft).toContain("name: '{alias|id}'");
    expect(draft).toMatch(/leaves: \[[^\]]*cache_page[^\]]*user_roles/);
    expect(draft).toMatch(/id: site\/users\n(?:.*\n)*? {4}carried: false/);
    expect(draft).not.toContain('pass: pass');
    expect(draft).toContain('siteBound: ["$.option.name"]');
    const before = all();
    const ran = await bench.run('import', 'dev', 'live', '--yes', '--json');
    expect([ran.err, JSON.parse(ran.out)]).toEqual(['', expect.objectContaining({ unequal: [] })]);
    const [[summer = '']] = pair.rows("select id from thing_data where title = 'Summer board' and lang = 'en'") as [string[]];
    expect(pair.rows(`select bundle from things where id = ${summer}`)).toEqual([['board']]);
    expect(pair.rows(`select title, owner from thing_data where id = ${summer} and changed > 1790000000 order by lang`)).toEqual([['Summer board', '1'], ['Sumarbord', '1']]);
    expect(pair.rows(`select body_value from thing__body where entity_id = ${summer}`)).toEqual([['<a href="/thing/701">fares</a>']]);
    expect(pair.rows(`select uri from files join thing__picture on picture_target_id = fid where entity_id = ${summer}`)).toEqual([['public://2026/vessel.png']]);
    expect(pair.rows("select path from aliases where alias = '/boards/summer'")).toEqual([[`/thing/${summer}`]]);
    expect(pair.rows("select data from config where collection = '' order by name")).toEqual([[`{"columns":3,"default_board":${summer},"rows":{"a1b2c3":{"list":"/thing/701"}}}`], ['{"name":"Skerrin live","page":{"front":"/thing/701"}}']]);
    expect((await bench.run('import', 'dev', 'live', '--yes')).out).toContain('Nothing to do');
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
    expect(all()).toEqual(before);
  });
});
