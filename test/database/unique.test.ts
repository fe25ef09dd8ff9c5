import { expect, test } from '@jest/globals';
import { addressed, COUNTED, inEverySort } from '../helpers/databasepair.ts';
import type { Sort } from '../helpers/quayside.ts';

/** Few rows, in which every word is there once: what names them only the unique indexes say. */
function statements(sort: Sort, site: 'dev' | 'live'): string {
  const at = (n: number): number => (site === 'dev' ? 10 : 500) + n;
  const list = (values: readonly string[]): string => values.map((one) => `(${one})`).join(', ');
  return `
create table menus (id ${COUNTED[sort]}, code varchar(40) not null unique, label varchar(80) not null);
create table links (id ${COUNTED[sort]}, menu_id bigint not null, slug varchar(40) not null, label varchar(80) not null, unique (menu_id, slug));
create table texts (id ${COUNTED[sort]}, lang varchar(5) not null, word varchar(40) not null, says varchar(200) not null, unique (lang, word));
create table notes (id ${COUNTED[sort]}, kind varchar(20) not null, title varchar(80) not null, tag varchar(40) not null, unique (kind, tag));
insert into menus (id, code, label) values ${list([`${at(1)}, 'main', 'Main'`, `${at(2)}, 'foot', 'Foot'`])};
insert into links (id, menu_id, slug, label) values ${list(site === 'dev' ? [`${at(1)}, ${at(1)}, 'fares', 'Fares'`, `${at(2)}, ${at(2)}, 'contact', 'Contact us'`] : [`${at(1)}, ${at(1)}, 'contact', 'Ask'`, `${at(2)}, ${at(2)}, 'contact', 'Contact'`])};
insert into texts (id, lang, word, says) values ${list([`${at(1)}, 'en', 'hello', 'Hello'`, ...(site === 'dev' ? [`${at(2)}, 'nn', 'bye', 'Ha det'`] : [])])};
insert into notes (id, kind, title, tag) values ${list([`${at(1)}, 'storm', 'Gale ${site}', 'gale'`, `${at(2)}, 'calm', 'Calm', 'calm'`])};
`;
}

inEverySort('unique indexes', statements, (pair) => {
  const { bench } = pair;

  test('a draft names rows by them, so that the same row is meant on both sites', async () => {
    const draft = await pair.drafted(addressed);
    for (const line of ["name: '{code|id}'", "name: '{menu.code}/{slug}'  # slug alone says too little", "name: '{lang}/{word}'  # lang and word together are there once", "name: '{kind}/{tag}'  # kind and tag together are there once"]) expect(draft).toContain(line);
    const before = pair.rows('select * from links order by id');
    expect(JSON.parse((await bench.run('import', 'dev', 'live', '--yes', '--json')).out)).toMatchObject({ created: 2, updated: 2, unequal: [] });
    expect(pair.rows('select m.code, l.slug, l.label from links l join menus m on m.id = l.menu_id order by m.code, l.slug')).toEqual([['foot', 'contact', 'Contact us'], ['main', 'contact', 'Ask'], ['main', 'fares', 'Fares']]);
    expect(pair.rows("select count(*) from notes where title = 'Gale dev'")).toEqual([['1']]);
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
    expect(pair.rows('select * from links order by id')).toEqual(before);
  });
});
