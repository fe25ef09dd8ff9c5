import { expect, test } from '@jest/globals';
import { COUNTED, inEverySort } from '../helpers/databasepair.ts';
import type { Sort } from '../helpers/quayside.ts';

/** Pages of several types and languages with keys that a machine made, links with a role, a menu in a tree, ranks with a key that nobody counts, people, and options in JSON. */
function statements(sort: Sort, site: 'dev' | 'live'): string {
  const dev = site === 'dev';
  const uuid = (n: number): string => `${dev ? 'd' : '1'}0000000-0000-4000-8000-00000000000${n}`;
  const json = { sqlite: 'text', mysql: 'json', postgres: 'jsonb' }[sort];
  // Ids that a site counts are others on each.
  const skip = (table: string, columns: string, row: string): string => (dev ? '' : `insert into ${table} (${columns}) values ${Array.from({ length: 5 }, (_, i) => `(${row.replaceAll('#', String(i))})`).join(', ')}; delete from ${table};`);
  const page = (n: number, type: number, [lang, state]: readonly [string, string], data: object, body = ''): string => `('${uuid(n)}', '${uuid(type)}', 'home', '${lang}', '${state}', 'Home (${lang})', '${body}', '${JSON.stringify(data)}', (select min(id) from people where email like 'dag@%'))`;
  return `
create table languages (code char(2) not null primary key, name varchar(30) not null);
create table people (id ${COUNTED[sort]}, email varchar(80) not null unique, name varchar(50) not null, password_hash varchar(80) not null);
create table ranks (id smallint not null primary key, name varchar(30) not null unique);
create table rank_people (rank_id smallint not null, person_id bigint not null, primary key (rank_id, person_id), foreign key (rank_id) references ranks (id), foreign key (person_id) references people (id));
create table types (id char(36) not null primary key, handle varchar(30) not null unique);
create table pages (id char(36) not null primary key, type_id char(36) not null, slug varchar(40) not null, lang char(2) not null, state varchar(10) not null, title varchar(50) not null, body text, data ${json}, author_id bigint null,
  unique (type_id, slug, lang), foreign key (type_id) references types (id), foreign key (lang) references languages (code), foreign key (author_id) references people (id));
create table page_links (page_id char(36) not null, to_id char(36) not null, role varchar(20) not null, pos int not null, primary key (page_id, to_id, role), foreign key (page_id) references pages (id) on delete cascade, foreign key (to_id) references pages (id));
create table menus (id ${COUNTED[sort]}, handle varchar(30) not null unique);
create table menu_rows (id ${COUNTED[sort]}, menu_id bigint not null, above_id bigint null, label varchar(30) not null, page_id char(36) null, pos int not null, foreign key (menu_id) references menus (id) on delete cascade, foreign key (above_id) references menu_rows (id), foreign key (page_id) references pages (id));
create table config (name varchar(40) not null primary key, value ${json});
insert into languages values ('en', 'English'), ('fo', 'Føroyskt');
${skip('people', 'email, name, password_hash', "'x#@skerrin.example', 'x', 'x'")}
insert into people (email, name, password_hash) values ('dag@skerrin.example', 'Dag', '${dev ? 'a' : 'b'}');
insert into ranks values (1, 'mate')${dev ? ", (4, 'purser'), (9, 'cook')" : ", (7, 'guest')"};
insert into rank_people select 1, id from people;
insert into types values ('${uuid(8)}', 'page')${dev ? `, ('${uuid(9)}', 'boat')` : ''};
insert into pages values ${dev ? [page(1, 8, ['en', 'live'], { next: uuid(3), [uuid(2)]: 'key', menu: 1, token: 'hush', strange: uuid(7) }, `<p>[[page:${uuid(3)}]] <page-card id="${uuid(2)}"></page-card> ${uuid(7)}</p>`), page(2, 8, ['fo', 'draft'], {}), page(3, 9, ['en', 'live'], { self: uuid(3) })].join(', ') : page(1, 8, ['en', 'live'], {})};
${dev ? `insert into page_links values ('${uuid(1)}', '${uuid(2)}', 'translation', 1), ('${uuid(1)}', '${uuid(3)}', 'related', 1), ('${uuid(1)}', '${uuid(2)}', 'related', 2);` : ''}
${skip('menus', 'handle', "'x#'")}
insert into menus (handle) values ('main');
insert into menu_rows (menu_id, above_id, label, page_id, pos) select id, null, 'Home', '${uuid(1)}', 1 from menus;
${dev ? `insert into menu_rows (menu_id, above_id, label, page_id, pos) select menu_id, id, 'Boat', '${uuid(3)}', 2 from menu_rows; insert into menu_rows (menu_id, above_id, label, page_id, pos) select id, null, 'Home again', '${uuid(2)}', 3 from menus;` : ''}
insert into config values ('site_url', '"https://${site}.skerrin.example"'), ('site_name', '"Skerrin ${site}"')${dev ? `, ('home_page', '"${uuid(1)}"'), ('default_menu', '1')` : ''};
`;
}

inEverySort('a draft of a schema that says much,', statements, (pair) => {
  const { bench } = pair;
  const rows = (query: string): string[][] => pair.rows(query);
  const everything = (): string[][][] => ['languages', 'people', 'ranks', 'rank_people', 'types', 'pages', 'page_links', 'menus', 'menu_rows', 'config'].map((one) => rows(`select * from ${one} order by 1, 2`));

  test('a site that no layout fits is told what to do', async () => {
    pair.configure(() => []);
    const ran = await bench.run('sites');
    expect(ran.out).toMatch(/dev {2}development {2}cannot be read[^]*no layout that comes with Pochette fits[^]*what to do: .*pochette layout draft dev/);
    expect(ran.out).not.toContain('Next:');
  });

  test('follows foreign keys and made-up ids; what belongs to a row is in it; people stay', async () => {
    const draft = await pair.drafted();
    expect(draft).toContain("leaves: ['{prefix}rank_people']");
    expect(draft).toMatch(/config: \{ .*ignore: \[\{ name: site_name \}, \{ name: site_url \}\]/);
    expect(draft).toContain("name: '{type.handle}/{lang}/{slug}'  # slug alone says too little");
    expect(draft).toContain('joins: { type: { from: types, on: { id: type_id }, shared: true } }');
    expect(draft).toContain('status: { column: state, published: [live], draft: [draft], kept: state }');
    expect(draft).toContain('page_links_related: { ids: { from: page_links, where: { role: related }, on: { page_id: id }, value: to_id, order: [pos] } }');
    expect(draft).toContain('menu_rows: { list: { from: menu_rows, on: { menu_id: id }, order: [pos, id], id: id, value: { label: label, page_id: page_id }, tree: { parent: above_id, member: menu_rows } } }');
    expect(draft).toContain('{ path: $.author_id, to: people, otherwise: user }');
    expect(draft).toContain('secret: ["$.data.token"]');
    expect(draft).not.toContain('password_hash: password_hash');
    expect((await bench.run('sites')).out).not.toContain('may only read');
  });

  test('everything is carried as drafted, and undone', async () => {
    const before = everything();
    const ran = await bench.run('import', 'dev', 'live', '--yes', '--json');
    expect(ran.err).toBe('');
    expect(JSON.parse(ran.out)).toMatchObject({ created: 7, updated: 2, unequal: [] });
    const id = (type: string, lang: string): string => rows(`select p.id from pages p join types t on t.id = p.type_id where t.handle = '${type}' and p.lang = '${lang}'`)[0]?.[0] ?? '';
    const [home, heim, boat] = [id('page', 'en'), id('page', 'fo'), id('boat', 'en')];
    expect([home, heim, boat].every((one) => one !== '' && !one.startsWith('d0000000'))).toBe(true);
    const strange = 'd0000000-0000-4000-8000-000000000007';
    const [menu] = rows('select id from menus')[0] ?? [];
    expect(rows(`select body from pages where id = '${home}'`)).toEqual([[`<p>[[page:${boat}]] <page-card id="${heim}"></page-card> ${strange}</p>`]]);
    expect(JSON.parse(rows(`select data from pages where id = '${home}'`)[0]?.[0] ?? '')).toEqual({ next: boat, [heim]: 'key', menu: Number(menu), strange });
    expect(JSON.parse(rows(`select data from pages where id = '${boat}'`)[0]?.[0] ?? '')).toEqual({ self: boat });
    expect(rows('select role, to_id from page_links order by role, pos')).toEqual([['related', boat], ['related', heim], ['translation', heim]]);
    expect(rows('select r.label, a.label, r.page_id from menu_rows r left join menu_rows a on a.id = r.above_id order by r.pos')).toEqual([['Home', '', home], ['Boat', 'Home', boat], ['Home again', '', heim]]);
    // A key that nobody counts goes on from the largest one.
    expect(rows('select id, name from ranks order by id')).toEqual([['1', 'mate'], ['7', 'guest'], ['8', 'cook'], ['9', 'purser']]);
    expect(rows("select value from config where name in ('home_page', 'default_menu', 'site_url') order by name")).toEqual([[menu], [`"${home}"`], ['"https://live.skerrin.example"']]);
    expect((await bench.run('import', 'dev', 'live', '--yes')).out).toContain('Nothing to do');
    const undone = await bench.run('undo', 'live', '--yes');
    expect([undone.err, undone.code]).toEqual(['', 0]);
    expect(everything()).toEqual(before);
  });
});
