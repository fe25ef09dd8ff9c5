import { expect, test } from '@jest/globals';
import { addressed, COUNTED, inEverySort } from '../helpers/databasepair.ts';
import type { Sort } from '../helpers/quayside.ts';

/** As the database quotes names, which JSON in texts does otherwise. */
const as = (sort: Sort, query: string): string => (sort === 'mysql' ? query.replace(/(?<=[\s(.])"([^"]+)"/g, '`$1`') : query);

// Names of tables and columns with umlauts, in other letters than Latin ones, with a space or a dash.
function statements(sort: Sort, site: 'dev' | 'live'): string {
  const [id, dev] = [COUNTED[sort], site === 'dev'];
  const n = (x: number): number => x + (dev ? 0 : 300);
  return as(sort, `
create table "fähren" (id ${id}, kennung varchar(20), titel varchar(20));
create table "überfahrten" (id ${id}, titel varchar(30), "fähre_id" bigint);
create table "пароми" (id ${id}, "назва" varchar(20) not null unique, "колір" varchar(20));
create table "причали" (id ${id}, "назва" varchar(20) not null unique, "паром_id" bigint, foreign key ("паром_id") references "пароми" (id));
create table "small parts" (id ${id}, "part name" varchar(30) not null unique, "fähre_id" bigint, "art-no" varchar(20), "the text" text);
insert into "fähren" values (${n(11)}, 'a', 'Anna')${dev ? ", (12, 'b', 'Berta')" : ''};
${dev ? `insert into "überfahrten" values (1, 'Nord', 12), (2, 'Süd', 11);` : ''}
insert into "пароми" values (${n(21)}, 'Один', 'red')${dev ? ", (22, 'Два', 'blue')" : ''};
${dev ? `insert into "причали" values (1, 'Північ', 22), (2, 'Південь', 21);` : ''}
insert into "small parts" values (${n(31)}, 'bolt', ${n(11)}, 'x-1', '{"fähre":${n(11)}}')${dev ? `, (32, 'wide nut', 12, 'x-2', '{"fähre":12,"kg":12}')` : ''};
`);
}

inEverySort('names with other letters and signs', statements, (pair, sort) => {
  const lines = (query: string): string[] => pair.lines(as(sort, query));
  const seen = (): string[] => [
    ...lines('select u.titel, f.kennung from "überfahrten" u left join "fähren" f on f.id = u."fähre_id" order by 1'), ...lines('select p."назва", f."назва", f."колір" from "причали" p left join "пароми" f on f.id = p."паром_id" order by 1'),
    ...lines('select p."part name", f.kennung, p."art-no", p."the text" from "small parts" p left join "fähren" f on f.id = p."fähre_id" order by 1'),
  ];

  test('are drafted so that a layout can have them, and what they name is carried and undone', async () => {
    await pair.drafted(addressed);
    await pair.carries(seen, () => {
      const [id = ''] = lines(`select id from "fähren" where kennung = 'b'`);
      expect(seen()).toEqual(['Nord b', 'Süd a', 'Південь Один red', 'Північ Два blue', 'bolt a x-1 {"fähre":311}', `wide nut b x-2 {"fähre":${id},"kg":12}`]);
    });
    expect((await pair.bench.run('layout', 'check', 'dev')).code).toBe(0);
  });
});
