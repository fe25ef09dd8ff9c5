import { expect, test } from '@jest/globals';
import { addressed, COUNTED, inEverySort } from '../helpers/databasepair.ts';
import type { Sort } from '../helpers/quayside.ts';

// Entries that have their titles once in each language elsewhere, fields that lead from one to others, and what a program works out of all of it.
function statements(sort: Sort, site: 'dev' | 'live'): string {
  const [id, dev] = [COUNTED[sort], site === 'dev'];
  const n = (x: number): number => x + (dev ? 0 : 300);
  const [json, time] = [sort === 'postgres' ? 'jsonb' : sort === 'mysql' ? 'json' : 'text', sort === 'postgres' ? 'timestamp' : sort === 'mysql' ? 'datetime' : 'text'];
  const to = (table: string, column: string, goes = ''): string => `foreign key (${column}) references ${table} (id)${goes}`;
  return `
create table tongues (id ${id}, handle varchar(40) not null unique, name varchar(20));
create table sections (id ${id}, handle varchar(40) not null unique, name varchar(60));
create table fields (id ${id}, handle varchar(60) not null unique, name varchar(60), settings ${json});
create table plans (id ${id}, section_id bigint not null, config ${json}, ${to('sections', 'section_id', ' on delete cascade')});
create table entries (id ${id}, section_id bigint not null, parent_id bigint, post_date ${time}, status varchar(20) not null default 'live', position int not null default 0, ${to('sections', 'section_id')}, ${to('entries', 'parent_id')});
create table entry_texts (id ${id}, entry_id bigint not null, tongue_id bigint not null, slug varchar(60), title varchar(100), body ${json}, unique (entry_id, tongue_id), ${to('entries', 'entry_id', ' on delete cascade')}, ${to('tongues', 'tongue_id', ' on delete cascade')});
create table relations (id ${id}, field_id bigint not null, source_id bigint not null, target_id bigint not null, sort_order int not null default 0, ${to('fields', 'field_id', ' on delete cascade')}, ${to('entries', 'source_id', ' on delete cascade')}, ${to('entries', 'target_id', ' on delete cascade')});
create table navs (id ${id}, handle varchar(60) not null unique, tree ${json});
create table drafts (id ${id}, entry_id bigint, data ${json}, created_at ${time});
create table search_index (entry_id bigint not null, attribute varchar(25) not null, tongue_id bigint not null, keywords text, primary key (entry_id, attribute, tongue_id));
insert into tongues values (${n(1)}, 'en', 'English')${dev ? `, (${n(2)}, 'nn', 'Nynorsk')` : ''};
insert into sections values (${n(11)}, 'news', 'News')${dev ? `, (${n(12)}, 'pages', 'Pages')` : ''};
insert into fields values (${n(21)}, 'lead', 'Lead', '{"max":60}')${dev ? `, (${n(22)}, 'near', 'Near', '{"sources":["section:${n(11)}","section:${n(12)}"],"limit":3}')` : ''};
insert into plans values (${n(31)}, ${n(11)}, '{"tabs":[{"fields":[{"fieldId":${n(21)},"width":60}]}]}')${dev ? `, (${n(32)}, ${n(12)}, '{"tabs":[{"fields":[{"fieldId":${n(22)},"width":60},{"fieldId":${n(21)}}]}]}')` : ''};
insert into entries (id, section_id, post_date, position) values (${n(61)}, ${n(11)}, '2026-01-05 10:00:00', 1)${dev ? `, (${n(62)}, ${n(12)}, '2026-01-06 10:00:00', 1), (${n(63)}, ${n(12)}, '2026-01-07 10:00:00', 2)` : ''};
${dev ? `update entries set parent_id = 62 where id = 63;` : ''}
insert into entry_texts values (${n(71)}, ${n(61)}, ${n(1)}, 'first', 'First', '{"lead":"Hi ${site}"}')${dev ? `, (72, 62, 1, 'islands', 'Islands', '{"blocks":[{"type":"quote","entry":61},{"type":"rule","width":61}]}'), (73, 62, 2, 'oyar', 'Øyar', '{}'), (74, 63, 1, 'north', 'North', '{}')` : ''};
${dev ? 'insert into relations values (81, 22, 62, 61, 1), (82, 22, 62, 63, 2), (83, 22, 63, 61, 1);' : ''}
insert into navs values (${n(95)}, 'main', '[{"entry":${n(61)},"children":[]}${dev ? ',{"entry":62,"children":[{"entry":63},{"url":"/contact","title":"61"}]}' : ''}]');
insert into drafts values (${n(1)}, ${n(61)}, '{}', '2026-01-05 10:00:00');
insert into search_index values (${n(61)}, 'title', ${n(1)}, 'first ${site}');
`;
}

inEverySort('entries in two languages', statements, (pair) => {
  const tight = (line: string): string => line.replaceAll(': ', ':').replaceAll(', ', ',');
  const seen = (): Record<string, string[]> => ({
    entries: pair.lines('select t.title, g.handle, s.handle, p.title from entry_texts t join entries e on e.id = t.entry_id join tongues g on g.id = t.tongue_id join sections s on s.id = e.section_id left join entry_texts p on p.entry_id = e.parent_id and p.tongue_id = t.tongue_id order by 1'),
    near: pair.lines("select f.handle, a.title, b.title, r.sort_order from relations r join fields f on f.id = r.field_id join entry_texts a on a.entry_id = r.source_id and a.slug <> 'oyar' join entry_texts b on b.entry_id = r.target_id order by a.title, r.sort_order"),
    left: [...pair.lines('select keywords from search_index'), ...pair.lines('select entry_id from drafts')],
  });

  test('are items with what they are called in each, and what leads to others; drafts and what is looked up stay', async () => {
    const draft = await pair.drafted(addressed);
    expect(draft).toContain("leaves: ['{prefix}drafts', '{prefix}search_index']");
    await pair.carries(seen, () => {
      expect(seen()).toEqual({
        entries: ['First en news ', 'Islands en pages ', 'North en pages Islands', 'Øyar nn pages '], near: ['near Islands First 1', 'near Islands North 2', 'near North First 1'], left: ['first live', '361'],
      });
      const id = (title: string): string => pair.lines(`select entry_id from entry_texts where title = '${title}'`)[0] ?? '';
      const field = (handle: string): string => pair.lines(`select id from fields where handle = '${handle}'`)[0] ?? '';
      const pages = pair.lines("select id from sections where handle = 'pages'")[0] ?? '';
      const held = tight([...pair.lines('select tree from navs'), ...pair.lines("select settings from fields where handle = 'near'"), ...pair.lines(`select config from plans where section_id = ${pages}`), ...pair.lines("select body from entry_texts where slug = 'islands'")].join('\n'));
      expect(held.match(/"entry":\d+/g)).toEqual(['First', 'Islands', 'North', 'First'].map((title) => `"entry":${id(title)}`));
      expect(held.match(/section:\d+/g)).toEqual(['section:311', `section:${pages}`]);
      expect(held.match(/"fieldId":\d+/g)).toEqual([`"fieldId":${field('near')}`, '"fieldId":321']);
      expect(held.match(/"(?:width|title)":"?6\d/g)).toEqual(['"title":"61', '"width":60', '"width":61']);
    });
  });
});
