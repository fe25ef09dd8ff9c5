import { readFileSync, writeFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import { COUNTED, inEverySort } from '../helpers/databasepair.ts';
import type { Sort } from '../helpers/quayside.ts';

/** Tables that say little: links without keys, words for tables, times as text, fields with a place in their key, and rows that nothing but their ids tells apart. */
function statements(sort: Sort, site: 'dev' | 'live'): string {
  const dev = site === 'dev';
  // Ids are others on each site.
  const skip = (table: string, columns: string, row: string): string => (dev ? '' : `insert into ${table} (${columns}) values ${Array.from({ length: 12 }, (_, i) => `(${row.replaceAll('#', String(i))})`).join(', ')}; delete from ${table};`);
  const page = (slug: string): string => `(select id from page where slug = '${slug}')`;
  return `
create table page (id ${COUNTED[sort]}, slug varchar(40) not null unique, title varchar(60) not null);
create table tag (id ${COUNTED[sort]}, name varchar(40) not null unique);
create table page_tag (page_id bigint not null, tag_id bigint not null, primary key (page_id, tag_id));
create table translation (id ${COUNTED[sort]}, object_type varchar(20) not null, object_id bigint not null, lang char(2) not null, field varchar(20) not null, text varchar(60) not null, unique (object_type, object_id, lang, field));
create table form (id ${COUNTED[sort]}, name varchar(40) not null unique, definition text);
create table form_field (form_id bigint not null, position int not null, kind varchar(20) not null, options text, primary key (form_id, position), foreign key (form_id) references form (id) on delete cascade);
create table form_entry (id ${COUNTED[sort]}, form_id bigint not null, ip varchar(40), created_at varchar(20) not null, data text);
create table revision (id ${COUNTED[sort]}, page_id bigint not null, body text, created_at varchar(20) not null);
create table stop (id ${COUNTED[sort]}, form_id bigint not null, name varchar(40) not null, tag int not null);
create table palette (id ${COUNTED[sort]}, colour varchar(9) not null, weight int not null);
create table setting (id ${COUNTED[sort]}, name varchar(40) not null unique, value text);
${skip('page', 'slug, title', "'x#', 'x'")} ${skip('form', 'name', "'x#'")} ${skip('tag', 'name', "'x#'")}
insert into page (slug, title) values ('home', 'Home'), ('fares', 'Fares');
insert into setting (name, value) values ('site_title', 'Skerrin ${site}'), ('site_address', 'https://${site}.skerrin.example');
insert into palette (colour, weight) values ${dev ? "('#111', 3), ('#111', 4)" : "('#999', 9)"};
${dev ? `insert into setting (name, value) select 'theme', concat_texts from (select '{"accent":"#123","pages":[' || id || ']}' as concat_texts from page where slug = 'fares') t;
insert into setting (name, value) select 'mail', replace('{"landing_page":#,"hide":{"pages":[#],"max_pages":#},"rules":[{"on":"page","value":#},{"on":"width","value":#}],"by_page":{"#":"x"},"say":"<p data-page=''#''>[page #] #</p>"}', '#', ${sort === 'mysql' ? 'cast(id as char)' : 'cast(id as varchar(9))'}) from page where slug = 'fares';
insert into tag (name) values ('news'); insert into page_tag select ${page('home')}, id from tag; insert into tag (name) values ('late');
insert into translation (object_type, object_id, lang, field, text) values ('page', ${page('home')}, 'fo', 'title', 'Heim'), ('page', ${page('fares')}, 'fo', 'title', 'Prísir'), ('form', 1, 'fo', 'name', 'Bið');
insert into form (name, definition) select 'ask', '{"fields":[{"type":"page","page_id":' || id || '}]}' from page where slug = 'fares';
insert into form_field select id, 1, 'text', '{}' from form; insert into form_field select id, 4, 'page', '{}' from form;
insert into stop (form_id, name, tag) select id, 'quay', 1 from form; insert into stop (form_id, name, tag) select id, 'pier', 2 from form;
insert into form_entry (form_id, ip, created_at, data) select id, '10.0.0.1', '2026-11-01', '{}' from form;
insert into revision (page_id, body, created_at) select id, 'old', '2026-11-01 08:00' from page;` : ''}
`.replace(/'(\{[^']*)' \|\| id \|\| '([^']*)'/g, sort === 'mysql' ? "concat('$1', id, '$2')" : "'$1' || id || '$2'");
}

inEverySort('a draft of a schema that says little,', statements, (pair) => {
  const rows = (query: string): string[][] => pair.rows(query);

  test('takes words for what they mean, leaves what happened, and rows that only ids tell apart', async () => {
    const draft = await pair.drafted();
    expect(draft).toMatch(/^leaves: \['\{prefix\}form_entry', '\{prefix\}revision'\]$/m);
    expect(draft).toContain('page_tag: { ids: { from: page_tag, on: { page_id: id }, value: tag_id } }');
    expect(draft).toContain('translation: { list: { from: translation, where: { object_type: page }, on: { object_id: id }, order: [id], id: id, value: { lang: lang, field: field, text: text } } }');
    expect(draft).toContain('form_field: { list: { from: form_field, on: { form_id: id }, order: [position], id: position, value: { position: position, kind: kind, options: options } } }');
    expect(draft).toMatch(/^ {2}# - id: site\/palette$/m);
    expect(draft).toContain('references: [{ path: "$.option.pages[*]", to: page }]');
    expect(draft).not.toMatch(/^ {2}theme: /m);
    // What counts up below each form is a place in a row of them, whatever it is called after.
    expect(draft).not.toContain("{ path: $.tag, to: tag }");
  });

  test('and is carried as drafted, and undone', async () => {
    const tables = ['page', 'tag', 'page_tag', 'translation', 'form', 'form_field', 'stop', 'form_entry', 'revision', 'palette', 'setting'];
    const everything = (): string[][][] => tables.map((one) => rows(`select * from ${one} order by 1, 2`));
    const before = everything();
    const ran = await pair.bench.run('import', 'dev', 'live', '--yes', '--json');
    expect([ran.err, (JSON.parse(ran.out) as { unequal: object[] }).unequal]).toEqual(['', []]);
    const [fares] = rows("select id from page where slug = 'fares'")[0] ?? [];
    expect(rows("select value from setting where name = 'theme'")).toEqual([[`{"accent":"#123","pages":[${fares}]}`]]);
    const mail = rows("select value from setting where name = 'mail'")[0]?.[0] ?? '';
    expect(mail).toBe(`{"landing_page":${fares},"hide":{"pages":[${fares}],"max_pages":2},"rules":[{"on":"page","value":${fares}},{"on":"width","value":2}],"by_page":{"${fares}":"x"},"say":"<p data-page='${fares}'>[page ${fares}] 2</p>"}`);
    expect(rows('select definition from form')).toEqual([[`{"fields":[{"type":"page","page_id":${fares}}]}`]]);
    expect(rows('select position, kind from form_field order by 1')).toEqual([['1', 'text'], ['4', 'page']]);
    expect(rows("select p.slug, t.text from translation t join page p on p.id = t.object_id where t.object_type = 'page' order by 1")).toEqual([['fares', 'Prísir'], ['home', 'Heim']]);
    expect(rows('select p.slug, t.name from page_tag x join page p on p.id = x.page_id join tag t on t.id = x.tag_id')).toEqual([['home', 'news']]);
    expect(rows('select name, tag from stop order by 1')).toEqual([['pier', '2'], ['quay', '1']]);
    expect(rows('select colour from palette')).toEqual([['#999']]);
    expect(rows('select count(*) from form_entry')).toEqual([['0']]);
    expect((await pair.bench.run('import', 'dev', 'live', '--yes')).out).toContain('Nothing to do');
    expect((await pair.bench.run('undo', 'live', '--yes')).err).toBe('');
    expect(everything()).toEqual(before);
  });

  test('a layout that leaves out a part of the key is refused before anything is kept', async () => {
    const drafted = pair.bench.path('drafted.yaml');
    writeFileSync(drafted, readFileSync(drafted, 'utf8').replace('value: { position: position, kind:', 'value: { kind:'));
    const { code, err } = await pair.bench.run('import', 'dev', 'live', 'form:ask', '--yes');
    expect([code, err]).toEqual([5, expect.stringMatching(/nothing says what a new row of form_field has in its key position: a line "create:" in the layout does/) as unknown]);
    expect(rows('select count(*) from form')).toEqual([['0']]);
  });
});
