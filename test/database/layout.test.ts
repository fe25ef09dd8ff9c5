import { readFileSync, writeFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { QUAYSIDE_LAYOUT, quayside, sqliteSite, type QuaysideSite } from '../helpers/quayside.ts';
import { Bench } from '../helpers/sites.ts';

const bench = new Bench();
let site: QuaysideSite;
const configure = (layout: string, more = ''): void => {
  writeFileSync(bench.path('layout.yaml'), layout);
  writeFileSync(bench.path('pochette.yaml'), `you: Isbel Farrow\nsites:\n  harbour:\n    url: sqlite:harbour.db\n    layout: layout.yaml\n${more}`);
};
beforeAll(() => { site = sqliteSite(bench.path('harbour.db'), quayside('sqlite', 'dev', 'https://dev.skerrin.example', 'qs_')); });
afterAll(async () => { await bench.stop(); });

describe('layout check', () => {
  test('counts what is described, and shows what is not', async () => {
    configure(QUAYSIDE_LAYOUT);
    const ran = await bench.run('layout', 'check', 'harbour', '--json');
    expect(ran.code).toBe(0);
    const check = JSON.parse(ran.out) as { prefix: string; kinds: { kind: string; items: number }[]; tables: { table: string; rows: number; described: number; others: string[] }[] };
    expect(check.prefix).toBe('qs_');
    expect(check.kinds).toContainEqual(expect.objectContaining({ kind: 'quayside/board', items: 4, examples: ['front', 'pier', 'quay', 'winter'] }));
    expect(check.tables).toContainEqual({ table: 'qs_site_options', alias: 'options', rows: 15, described: 10, others: expect.arrayContaining(['name=cache.front value=old', 'name=tide.version value=2.0.0']) as unknown as string[] });
    expect(check.tables).toContainEqual({ table: 'qs_board_rows', alias: 'rows', rows: 4, described: 4, others: [] });
    expect(check.tables).toContainEqual(expect.objectContaining({ table: 'qs_visitors', rows: 2, described: 0 }));
    expect((await bench.run('layout', 'check', 'harbour')).out).toMatch(/qs_visitors\s+not in the layout/);
  });

  test('names numbers that look like references which nobody described', async () => {
    configure(QUAYSIDE_LAYOUT);
    site.run(`insert into qs_vessels (id,code,name) values (4711,'gull','Gull'), (4712,'dunlin','Dunlin'); insert into qs_site_options values ('home','{"flagship":4711,"seats":4711,"vessels":[4711],"shown":"vessel/4711","made":"steel-4711","note":"<a data-vessel=4711 data-size=\\"4711\\">, [show vessel=4711]","held":{"4711":1,"4712":0},"shows":{"4711":["all"]},"counts":{"4711":1},"none":{"99":1,"4711":1},"note_4711":1}')`);
    const { suspects } = JSON.parse((await bench.run('layout', 'check', 'harbour', '--json')).out) as { suspects: object[] };
    expect(suspects).toHaveLength(7);
    expect(suspects).toEqual(expect.arrayContaining([
      { kind: 'quayside/settings', name: 'flagship', form: 'value', places: 1, to: ['vessel'], example: { address: 'settings:home', at: '/option/flagship', what: '4711 is the id of vessel:gull' } },
      { kind: 'quayside/settings', name: 'data-vessel', form: 'attribute', places: 1, to: ['vessel'], example: { address: 'settings:home', at: '/option/note', what: 'data-vessel=4711 holds the id of vessel:gull' } },
      { kind: 'quayside/settings', name: 'vessel', form: 'code', places: 1, to: ['vessel'], example: { address: 'settings:home', at: '/option/note', what: 'vessel=4711 holds the id of vessel:gull' } },
      { kind: 'quayside/settings', name: 'shown', form: 'word', places: 1, to: ['vessel'], example: { address: 'settings:home', at: '/option/shown', what: '"vessel/4711" holds 4711, the id of vessel:gull' } },
      { kind: 'quayside/settings', name: 'held', form: 'keys', places: 1, to: ['vessel'], example: { address: 'settings:home', at: '/option/held', what: 'its members are named by ids: 4711 is vessel:gull' } },
      { kind: 'quayside/settings', name: 'shows', form: 'keys', places: 1, to: ['vessel'], example: { address: 'settings:home', at: '/option/shows', what: 'its members are named by ids: 4711 is vessel:gull' } },
      { kind: 'quayside/settings', name: 'note_{id}', form: 'key', places: 1, to: ['vessel'], example: { address: 'settings:home', at: '/option/note_4711', what: 'this name holds 4711, the id of vessel:gull' } },
    ]));
    expect((await bench.run('layout', 'check', 'harbour')).out).toMatch(/flagship\s+1 place\s+settings:home#\/option\/flagship/);
    site.run("delete from qs_vessels where id in (4711, 4712); delete from qs_site_options where name = 'home'");
  });

  test('names a number in a name that is the id of an item, unless it is counted or part of a word', async () => {
    configure(QUAYSIDE_LAYOUT);
    site.run("insert into qs_vessels (id,code,name) values (4711,'gull','Gull'); insert into qs_site_options values ('berth_4711','1'), ('berth_12','1'), ('tide4711x','1'), ('berth_4712','1')");
    const { suspects } = JSON.parse((await bench.run('layout', 'check', 'harbour', '--json')).out) as { suspects: object[] };
    expect(suspects).toEqual([{ kind: 'quayside/settings', name: 'berth_{id}', form: 'name', places: 1, to: ['vessel'], example: { address: 'settings:berth_4711', at: '', what: 'its name holds 4711, the id of vessel:gull' } }]);
    site.run("delete from qs_vessels where id = 4711; delete from qs_site_options where name like 'berth%' or name = 'tide4711x'");
  });

  test('names paths on the disk of the server, and none of pages', async () => {
    configure(QUAYSIDE_LAYOUT);
    site.run(`insert into qs_site_options values ('home','{"dir":"/srv/dev/cache","note":"kept in /var/www/dev/a.css, see /home/about and /home/isbel/public_html/x","page":"/users/isbel","drive":"C:\\\\sites\\\\dev"}')`);
    const { onDisk } = JSON.parse((await bench.run('layout', 'check', 'harbour', '--json')).out) as { onDisk: object[] };
    expect(onDisk).toEqual([['dir', '/srv/dev/cache'], ['drive', 'C:\\sites\\dev'], ['note', '/var/www/dev/a.css'], ['note', '/home/isbel/public_html/x']].map(([name, what]) => ({ address: 'settings:home', at: `/option/${String(name)}`, what })));
    expect((await bench.run('layout', 'check', 'harbour')).out).toMatch(/disk of the server[^]*settings:home#\/option\/dir +\/srv\/dev\/cache/);
    site.run("delete from qs_site_options where name = 'home'");
  });

  test('names ids that refer to nothing and values that were cut', async () => {
    configure(QUAYSIDE_LAYOUT);
    site.run("insert into qs_boards values (70,'lost','Lost','',777,null,'open',0,'x','x'); insert into qs_site_options values ('worn','a:2:{s:1:')");
    writeFileSync(bench.path('layout.yaml'), QUAYSIDE_LAYOUT.replace('codecs: [{ path: $.option, codec: json }]', 'codecs: [{ path: $.option, codec: php }]'));
    const ran = await bench.run('layout', 'check', 'harbour', '--json');
    expect(ran.code).toBe(1);
    const { faults } = JSON.parse(ran.out) as { faults: { address: string; at: string; what: string }[] };
    expect(faults).toEqual([{ address: 'board:lost', at: '/above', what: 'the id 777 refers to nothing' }, { address: 'settings:worn', at: '/option', what: 'a packed value was cut or altered' }]);
    site.run("delete from qs_boards where id = 70; delete from qs_site_options where name = 'worn'");
  });

  test.each([
    ['a key that is not known', (text: string) => text.replace('titleFrom: $.title', 'titelFrom: $.title'), /titelFrom: this key is not known/, /layout\.yaml:40/],
    ['a table that is not there', (text: string) => text.replace("name: '{prefix}vessels'", "name: '{prefix}ships'"), /the table qs_ships is not in the database/, /layout\.yaml:34/],
    ['a column that is not there', (text: string) => text.replace('body: body', 'body: bodies'), /no column bodies/, /layout\.yaml:37/],
    ['two kinds that describe one row', (text: string) => `${text}  - id: quayside/front\n    rows: { from: boards, where: { slug: front }, name: '{slug}' }\n`, /describe the same row/, /layout\.yaml:37 and .*layout\.yaml:65/],
    ['a shape that is not there', (text: string) => text.replace('rows: { from: tags', 'rows: { shape: tag, from: tags'), /no shape "tag"/, /layout\.yaml:31/],
    ['what is no YAML', (text: string) => `${text}\n  - [`, /not YAML/, /layout\.yaml:\d+/],
    ['a database of another shape', (text: string) => text.replace('columns: [slug, body]', 'columns: [berth]'), /does not fit this database/, /harbour\.db/],
  ])('a layout with %s is refused with its line', async (_what, change, message, where) => {
    configure(change(QUAYSIDE_LAYOUT));
    const ran = await bench.run('layout', 'check', 'harbour');
    expect(ran.code).toBe(2);
    expect(ran.err).toMatch(message);
    expect(ran.err).toMatch(where);
  });

  test('two rows with one name: the first travels, the other is named', async () => {
    configure(QUAYSIDE_LAYOUT.replace("name: '{code}'", "name: '{name}'"));
    site.run("insert into qs_vessels (id,code,name) values (90,'skua2','Skua')");
    const ran = await bench.run('list', 'harbour', 'vessel:*', '--json');
    const { items, cannot } = JSON.parse(ran.out) as { items: { address: string }[]; cannot: { address: string; why: string }[] };
    expect(items.map((item) => item.address)).toContain('vessel:Skua');
    expect(cannot).toEqual([expect.objectContaining({ address: 'vessel:Skua~90', why: 'another one has the same name (id 90)' })]);
    site.run('delete from qs_vessels where id = 90');
  });
});

describe('layout draft', () => {
  test('names, trees, fields, links, times, traces, and what holds everywhere', async () => {
    const own = sqliteSite(bench.path('booking.db'), `
create table settings (name varchar(50) primary key, value text);
insert into settings values ('home', 'https://dev.skerrin.example'), ('main_form', '12'), ('notes', '[bk_form wide id="12"] <!-- x {"formId":13} -->'), ('theme', 'isles'), ('size', '3');
create table bk_forms (id integer primary key, title varchar(100) not null, form_key varchar(40) not null, settings text, created_at datetime not null, next_form_id bigint);
create table bk_fields (id integer primary key, form_id bigint not null, parent_id bigint not null default 0, sort int not null default 0, type varchar(10) not null, label varchar(50) not null, config text);
create table bk_formmeta (meta_id integer primary key, form_id bigint not null, meta_key varchar(50) not null, meta_value text);
create table bk_notices (id integer primary key, title varchar(100) not null, form_id bigint not null default 0);
create table bk_redirects (id integer primary key, source_url varchar(200) not null, target text not null, hits bigint not null default 0);
create table bk_boats (boat_id integer primary key, label varchar(50) not null);
insert into bk_redirects values (1, '/old/', 'https://dev.skerrin.example/fares/', 4), (2, '/older', '/fares/', 0);
insert into bk_boats values (31, 'Selkie'), (32, 'Skua');
create table bk_log (id integer primary key, created_at datetime not null, message varchar(100));
insert into bk_forms values (12, 'Booking', 'booking', '{"z":1,"form_id":13}', '2026-01-01 00:00:00', 13), (13, 'Lost property', 'lost', '{}', '2026-01-01 00:00:00', null);
insert into bk_fields values (1, 12, 0, 10, 'group', 'Group', null), (2, 12, 1, 20, 'text', 'Seats', 'a:1:{s:7:"form_id";i:13;}'), (3, 13, 0, 10, 'text', 'What', null);
insert into bk_formmeta values (1, 12, 'style', 'a:1:{s:1:"c";i:1;}'), (2, 13, 'style', 'a:0:{}'), (3, 13, 'after', 'x'), (4, 12, 'crew', '{"boat":31,"seats":32}');
insert into bk_notices values (1, 'Storm warning', 12), (2, 'Winter timetable', 0);
insert into bk_log values (1, '2026-01-01 00:00:00', 'saved'), (2, '2026-01-01 00:00:00', 'saved'), (3, '2026-01-02 00:00:00', 'saved');`);
    writeFileSync(bench.path('pochette.yaml'), `you: Isbel Farrow\nsites:\n  booking: { url: 'sqlite:booking.db' }\n`);
    expect((await bench.run('layout', 'draft', 'booking', '-o', 'booking.yaml')).code).toBe(0);
    const text = readFileSync(bench.path('booking.yaml'), 'utf8');
    expect(text).toContain("leaves: ['{prefix}bk_log']");
    expect(text).toContain('bk_fields: { list: { from: bk_fields, on: { form_id: id }, order: [sort, id], id: id, value: { type: type, label: label, config: config }, tree: { parent: parent_id, member: bk_fields } } }');
    expect(text).toContain("name: '{form_key|id}'");
    expect(text).toContain("name: '{~title|id}'");
    expect(text).toContain("name: '{source_url|id}'");
    // A word that is called like a table, with the id of one of its rows.
    expect(text).toContain('{ path: "$.bk_formmeta.crew.boat", to: bk-boats }');
    expect(text).not.toContain('crew.seats');
    expect(text).toContain("create: { created_at: '{created utc}' }");
    expect(text).toContain('{ path: $.settings, codec: json, ordered: true }');
    expect(text).toContain('{ path: $.bk_formmeta.*, codec: php }');
    expect(text).toContain(`{ path: "$..bk_fields[*].config.form_id", to: bk-forms }`);
    writeFileSync(bench.path('pochette.yaml'), `you: Isbel Farrow\nsites:\n  booking: { url: 'sqlite:booking.db', layout: booking.yaml }\n`);
    const { item } = JSON.parse((await bench.run('show', 'booking', 'bk-forms:booking', '--json')).out) as { item: { value: object } };
    expect(item.value).toMatchObject({ next_form_id: { '@ref': 'bk-forms:lost' }, bk_fields: [{ label: 'Group', bk_fields: [{ label: 'Seats', config: { '@php': { '@ordered': [['form_id', { '@ref': 'bk-forms:lost' }]] } } }] }] });
    expect((JSON.parse((await bench.run('list', 'booking', '--json')).out) as { items: { address: string }[] }).items.map((one) => one.address)).toEqual(expect.arrayContaining(['bk-notices:~storm-warning', 'bk-forms:lost']));
    expect(own.run('select count(*) from bk_log')).toBe('3');
  });

  test('recognises options, records, child rows, links and references, and can be used as it is', async () => {
    configure(QUAYSIDE_LAYOUT);
    const ran = await bench.run('layout', 'draft', 'harbour', '-o', 'draft.yaml');
    expect(ran.out).toMatch(/Written: draft\.yaml, \d+ kinds, all of it guessed/);
    const text = readFileSync(bench.path('draft.yaml'), 'utf8');
    expect(text).toMatch(/site_options: .*values by name \(name → value\)/);
    expect(text).toMatch(/board_tags: .*links between qs_boards and qs_tags/);
    expect(text).toContain('secret: ["$.option.api_key"]');
    expect(text).toMatch(/address: \{ from: site_options, where: \{ name: address \}, value: value \}/);
    expect(text).toContain('board_rows: { list: { from: board_rows, on: { board_id: id }, order: [pos, id], id: id, value: { label: label, vessel_id: vessel_id } } }');
    expect(text).toContain('{ path: $.body, codec: html }');
    expect(text).toContain('{ path: $.parent_id, to: boards }');
    expect((await bench.run('layout', 'draft', 'harbour', '-o', 'draft.yaml')).code).toBe(2);
    configure(text);
    const listed = await bench.run('list', 'harbour', '--json');
    expect(listed.err).toBe('');
    expect((JSON.parse(listed.out) as { items: { address: string }[] }).items.map((item) => item.address)).toEqual(expect.arrayContaining(['boards:front', 'vessels:aend', 'tags:weather']));
  });
});
