import { expect, test } from '@jest/globals';
import { addressed, inEverySort } from '../helpers/databasepair.ts';

// Random keys in the forms in which programs make them: each table has its own.
const MADE = {
  tags: (n: number) => `65f0c1d2e3a4b5c6d7e8f9${10 + n}`, pages: (n: number) => `clx7k2p0d0000ab12cd34ef${10 + n}`, menus: (n: number) => `01HV5Z7Q9X8W6T4R2P0M1K3J${10 + n}`,
  pictures: (n: number) => `2ZyXwVuTsRqPoNmLkJiHgFeDc${10 + n}`, notes: (n: number) => `V1StGXR8_Z5jdHi6B-m${10 + n}`, kits: (n: number) => `tz4a98xxat96iws9zmbrgj${10 + n}`,
} as const;
const PATTERNS: Readonly<Record<keyof typeof MADE, RegExp>> = { tags: /^[0-9a-f]{24}$/, pages: /^c[0-9a-z]{24}$/, menus: /^0[0-9A-HJKMNP-TV-Z]{25}$/, pictures: /^[0-9A-Za-z]{27}$/, notes: /^[\w-]{21}$/, kits: /^[a-z][0-9a-z]{23}$/ };

inEverySort('random keys', (_sort, site) => {
  const of = (table: keyof typeof MADE, n: number): string => MADE[table](site === 'dev' ? n : 50 + n);
  const both = `
create table tags (id char(24) not null primary key, name varchar(60) not null unique);
create table pictures (id char(27) not null primary key, file_name varchar(100) not null unique);
create table kits (id char(24) not null primary key, kit_name varchar(60) not null unique, picture_id char(27) not null references pictures (id));
create table pages (id char(25) not null primary key, slug varchar(60) not null unique, parent_id char(25), kit_id char(24), blocks text, body text);
create table page_tags (page_id char(25) not null references pages (id), tag_id char(24) not null references tags (id), primary key (page_id, tag_id));
create table notes (id varchar(21) not null primary key, code varchar(60) not null unique, page_id char(25));
create table menus (id char(26) not null primary key, name varchar(60) not null unique, entries text);
insert into tags values ('${of('tags', 1)}', 'boats');
insert into pictures values ('${of('pictures', 1)}', 'bow.png');
insert into pages values ('${of('pages', 1)}', 'home', null, null, '[]', 'Home');
`;
  return both + (site === 'dev' ? `
insert into tags values ('${of('tags', 2)}', 'islands');
insert into pictures values ('${of('pictures', 2)}', 'mast.png');
insert into kits values ('${of('kits', 1)}', 'plain', '${of('pictures', 2)}'), ('${of('kits', 2)}', 'bold', '${of('pictures', 1)}');
insert into pages values ('${of('pages', 2)}', 'fares', '${of('pages', 1)}', '${of('kits', 1)}', '[{"page":"${of('pages', 1)}","pictures":["${of('pictures', 1)}","${of('pictures', 2)}"],"code":"clx7k2p0d0000ab12cd34ef99"}]', '<a href="/p/${of('pages', 1)}">x</a> <i data-note="${of('notes', 1)}"></i>');
insert into page_tags values ('${of('pages', 2)}', '${of('tags', 1)}'), ('${of('pages', 2)}', '${of('tags', 2)}');
insert into notes values ('${of('notes', 1)}', 'late', '${of('pages', 2)}');
insert into menus values ('${of('menus', 1)}', 'top', '[{"page":"${of('pages', 2)}","menu":"${of('menus', 1)}"}]');
` : '');
}, (pair) => {
  const tables = { tags: 'name', pictures: 'file_name', kits: 'kit_name', pages: 'slug', notes: 'code', menus: 'name' } as const;
  /** All rows, with what an id is called in its place. */
  function seen(site: 'dev' | 'live'): string[] {
    const names = new Map(Object.entries(tables).flatMap(([table, name]) => pair.rows(`select id, ${name} from ${table}`, site).map(([id = '', called = '']) => [id, `<${called}>`] as const)));
    return [...Object.keys(tables), 'page_tags'].flatMap((table) => pair.lines(`select * from ${table}`, site).map((line) => [...names].reduce((text, [id, called]) => text.replaceAll(id, called), `${table}: ${line}`))).sort();
  }

  test('are made anew in the same form, and followed wherever they stand', async () => {
    await pair.drafted(addressed);
    await pair.carries(() => seen('live'), () => {
      expect(seen('live')).toEqual(seen('dev'));
      for (const table of Object.keys(MADE) as (keyof typeof MADE)[]) for (const id of pair.lines(`select id from ${table}`)) { expect(id).toMatch(PATTERNS[table]); expect(id).not.toBe(MADE[table](2)); }
    }, { created: 7 });
  });
});
