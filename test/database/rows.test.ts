import { describe, expect, test } from '@jest/globals';
import { writeFileSync } from 'node:fs';
import { COUNTED, DatabasePair, inEverySort } from '../helpers/databasepair.ts';
import type { Sort } from '../helpers/quayside.ts';

/** Boats and ports with rows that belong to either, rows that were taken away without being removed, options that two columns name, and documents whose keys are bytes. */
function statements(sort: Sort, site: 'dev' | 'live'): string {
  const dev = site === 'dev';
  const bytes = { sqlite: 'blob', mysql: 'binary(16)', postgres: 'bytea' }[sort];
  const id = (n: number): string => `${dev ? 'd' : '1'}b54fe579d354d0f8f0e5c8a3c1c9d0${n}`;
  const key = (n: number): string => (sort === 'postgres' ? `'\\x${id(n)}'` : `x'${id(n)}'`);
  const [boat, port] = [dev ? 20 : 300, dev ? 10 : 110];
  return `
create table ports (id ${COUNTED[sort]}, code varchar(20) not null unique, name varchar(60) not null, deleted_at timestamp null);
create table boats (id ${COUNTED[sort]}, code varchar(20) not null unique, name varchar(60) not null, home_port_id bigint null, deleted_at timestamp null, foreign key (home_port_id) references ports (id));
create table notes (id ${COUNTED[sort]}, owner_type varchar(10) not null, owner_id bigint not null, body varchar(200) not null, pos int not null default 0);
create table props (owner_type varchar(10) not null, owner_id bigint not null, name varchar(40) not null, value text, primary key (owner_type, owner_id, name));
create table translations (model varchar(20) not null, row_id bigint not null, locale varchar(5) not null, field varchar(20) not null, content varchar(100) not null, primary key (model, row_id, locale, field));
create table docs (id ${bytes} not null primary key, code varchar(30) not null unique, meta text, parent_id ${bytes} null, foreign key (parent_id) references docs (id));
create table doc_boats (doc_id ${bytes} not null, boat_id bigint not null, primary key (doc_id, boat_id), foreign key (doc_id) references docs (id) on delete cascade, foreign key (boat_id) references boats (id));
create table settings (grp varchar(30) not null, name varchar(60) not null, value text, type char(1) not null default 's', primary key (grp, name));
insert into ports (id, code, name) values (${port + 1}, 'SKR', 'Skerrin Quay')${dev ? `, (${port + 2}, 'ISL', 'Quay Isle')` : ''};
insert into ports (id, code, name, deleted_at) values (${port + 3}, 'OLD', 'Old pier', '2026-01-01 00:00:00');
insert into boats (id, code, name, home_port_id) values (${boat + 1}, 'SEL', 'Selkie', ${port + 1});
insert into notes (id, owner_type, owner_id, body, pos) values (${boat + 1}, 'port', ${port + 1}, 'Mind the gap', 1)${dev ? `, (${boat + 2}, 'boat', ${boat + 1}, 'First', 1), (${boat + 3}, 'boat', ${boat + 1}, 'Second', 2)` : ''};
insert into props values ('boat', ${boat + 1}, 'colour', '${dev ? 'red' : 'blue'}'), ('port', ${port + 1}, 'lamp', 'yes')${dev ? `, ('boat', ${boat + 1}, 'next_port', '${port + 2}')` : ''};
insert into translations values ('boat', ${boat + 1}, 'fo', 'name', 'Kópakonan'), ('port', ${port + 1}, 'fo', 'name', 'Bryggja')${dev ? `, ('boat', ${boat + 1}, 'de', 'name', 'Robbe'), ('boat', ${boat + 1}, 'de', 'line', 'Nord')` : ''};
insert into docs values (${key(1)}, 'rules', ${dev ? `'{"follows":"${id(2)}","boats":[${boat + 1}]}'` : "'{}'"}, null)${dev ? `, (${key(2)}, 'safety', null, ${key(1)})` : ''};
${dev ? `insert into doc_boats values (${key(2)}, ${boat + 1});` : ''}
insert into settings values ('general', 'url', 'https://${site}.skerrin.example', 's'), ('booking', 'open', '${dev ? 1 : 0}', 'b')${dev ? `, ('booking', 'default_boat', '${boat + 1}', 'i'), ('booking', 'ports', '[${port + 1},${port + 2}]', 'j'), ('mail', 'smtp_password', 'hush', 's')` : ''};
`;
}

inEverySort('rows that say whose they are,', statements, (pair, sort) => {
  const { bench } = pair;
  const rows = (query: string): string[][] => pair.rows(query);
  const hex = { sqlite: (of: string) => `lower(hex(${of}))`, mysql: (of: string) => `lower(hex(${of}))`, postgres: (of: string) => `encode(${of}, 'hex')` }[sort];
  const everything = (): string[][][] => [...['ports', 'boats', 'notes', 'props', 'translations', 'settings'].map((one) => `select * from ${one} order by 1, 2, 3, 4`), `select ${hex('id')}, code, meta, ${hex('parent_id')} from docs order by 1`, `select ${hex('doc_id')}, boat_id from doc_boats order by 1`].map(rows);

  test('are drafted where they belong', async () => {
    const draft = await pair.drafted();
    expect(draft).toContain('props: { fields: { from: props, where: { owner_type: boat }, on: { owner_id: id }, key: name, value: value } }');
    expect(draft).toContain('notes: { list: { from: notes, where: { owner_type: port }, on: { owner_id: id }, order: [pos, id], id: id, value: { body: body } } }');
    expect(draft).toContain('translations: { list: { from: translations, where: { model: boat }, on: { row_id: id }, order: [locale, field], id: [locale, field], value: { locale: locale, field: field, content: content } } }');
    expect(draft).toContain('where: { deleted_at: null }');
    expect(draft).toContain('rows: { from: settings, where: { grp: booking, name: ports }, value: { option: value, type: type } }');
    expect(draft).toContain('{ path: "$.option[*]", to: ports }');
  });

  test('are carried with what they belong to, and undone; a secret among the options stays', async () => {
    const before = everything();
    const ran = await bench.run('import', 'dev', 'live', '--yes', '--json');
    expect(ran.err).toBe('');
    expect(JSON.parse(ran.out)).toMatchObject({ created: 5, updated: 3, unequal: [] });
    const [[boat = '']] = rows("select id from boats where code = 'SEL'") as [string[]];
    const [[isle = '']] = rows("select id from ports where code = 'ISL'") as [string[]];
    const [[safety = '']] = rows(`select ${hex('id')} from docs where code = 'safety'`) as [string[]];
    expect(safety).toMatch(/^(?!db54)[0-9a-f]{32}$/);
    expect(rows("select body from notes where owner_type = 'boat' order by pos")).toEqual([['First'], ['Second']]);
    expect(rows("select name, value from props where owner_type = 'boat' order by name")).toEqual([['colour', 'red'], ['next_port', isle]]);
    expect(rows("select locale, field, content from translations where model = 'boat' order by locale, field")).toEqual([['de', 'line', 'Nord'], ['de', 'name', 'Robbe'], ['fo', 'name', 'Kópakonan']]);
    expect(rows(`select ${hex('parent_id')}, (select count(*) from doc_boats where doc_id = docs.id) from docs where code = 'safety'`)).toEqual([['1b54fe579d354d0f8f0e5c8a3c1c9d01', '1']]);
    expect(JSON.parse(rows("select meta from docs where code = 'rules'")[0]?.[0] ?? '')).toEqual({ follows: safety, boats: [Number(boat)] });
    expect(rows("select name, type, value from settings where grp = 'booking' order by name")).toEqual([['default_boat', 'i', boat], ['open', 'b', '1'], ['ports', 'j', `[${rows("select id from ports where code = 'SKR'")[0]?.[0] ?? ''},${isle}]`]]);
    expect(rows("select count(*) from settings where value = 'hush'")).toEqual([['0']]);
    expect(rows('select count(*) from ports')).toEqual([['3']]);
    expect((await bench.run('import', 'dev', 'live', '--yes')).out).toContain('Nothing to do');
    const undone = await bench.run('undo', 'live', '--yes');
    expect([undone.err, undone.code]).toEqual(['', 0]);
    expect(everything()).toEqual(before);
  });
});

describe('a key that nothing makes', () => {
  const pair = new DatabasePair('sqlite', (site) => `create table docs (id varchar(20) not null primary key, code varchar(30) not null); ${site === 'dev' ? "insert into docs values ('x-1', 'rules');" : ''}`);

  test('is refused with the line that is missing, and nothing is written', async () => {
    const { bench } = pair;
    const layout = 'format: 1\nname: docs\ntitle: Docs\nrecognise: [{ table: docs, columns: [code] }]\ntables: { docs: { name: docs } }\nfacts: { cms: { name: site, title: Docs } }\nkinds: [{ id: site/doc, rows: { from: docs, name: "{code}", value: {} } }]\n';
    writeFileSync(bench.path('docs.yaml'), layout);
    pair.configure((name) => ['layout: docs.yaml', `address: https://${name}.skerrin.example`]);
    const ran = await bench.run('import', 'dev', 'live', '--yes');
    expect(ran.code).not.toBe(0);
    expect(ran.err).toMatch(/nothing says what a new row of docs has in its key id: a line "create:" in the layout does/);
    expect(pair.rows('select count(*) from docs')).toEqual([['0']]);
  });
});
