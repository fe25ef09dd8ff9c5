import { expect, test } from '@jest/globals';
import { addressed, COUNTED, inEverySort } from '../helpers/databasepair.ts';
import type { Sort } from '../helpers/quayside.ts';

// Several shops in one database, with attributes whose choices have a text for each shop, and settings for all shops and for one.
function statements(sort: Sort, site: 'dev' | 'live'): string {
  const [id, dev] = [COUNTED[sort], site === 'dev'];
  const n = (x: number): number => x + (dev ? 0 : 300);
  const to = (column: string, table: string): string => `, foreign key (${column}) references ${table} (id) on delete cascade`;
  const more = (rows: string): string => (dev ? `, ${rows}` : '');
  return `
create table shops (id ${id}, code varchar(40) not null unique, name varchar(60));
create table shop_settings (id ${id}, scope varchar(12) not null default 'all', scope_id bigint not null default 0, path varchar(120) not null, value text, unique (scope, scope_id, path));
create table pages (id ${id}, identifier varchar(100) not null, title varchar(100), content text);
create table page_shops (page_id bigint not null, shop_id bigint not null, primary key (page_id, shop_id)${to('page_id', 'pages')}${to('shop_id', 'shops')});
create table attributes (id ${id}, code varchar(60) not null unique, input varchar(20));
create table attribute_options (id ${id}, attribute_id bigint not null, sort_order int not null default 0${to('attribute_id', 'attributes')});
create table attribute_option_labels (id ${id}, option_id bigint not null, shop_id bigint not null default 0, label varchar(60)${to('option_id', 'attribute_options')});
create table attribute_option_prices (id ${id}, option_id bigint not null, season varchar(20) not null, price int not null default 0, unique (option_id, season)${to('option_id', 'attribute_options')});
create table redirects (id ${id}, request_path varchar(100) not null, target_path varchar(100), entity_type varchar(20), entity_id bigint, shop_id bigint not null);
insert into shops values (${n(1)}, 'main', 'Main')${more("(2, 'isles', 'Isles')")};
insert into shop_settings values (${n(1)}, 'all', 0, 'web/home', 'start')${more("(3, 'shops', 2, 'web/home', 'isles'), (4, 'shops', 1, 'web/colour', 'blue'), (6, 'all', 0, 'list/per_page', '12')")};
insert into pages values (${n(31)}, 'start', 'Start', '<p>Hi</p>')${more(`(32, 'isles', 'Isles', '<p>{{widget type="links" page_id="31" rows="31"}}</p>')`)};
insert into page_shops values (${n(31)}, ${n(1)})${more('(32, 2)')};
insert into attributes values (${n(41)}, 'colour', 'select')${more("(42, 'length', 'text'), (43, 'berth', 'select')")};
insert into attribute_options values (${n(61)}, ${n(41)}, 1), (${n(62)}, ${n(41)}, 2)${more('(63, 43, 1), (64, 43, 2), (65, 41, 3)')};
insert into attribute_option_labels values (${n(71)}, ${n(61)}, 0, 'Red'), (${n(72)}, ${n(62)}, 0, '${dev ? 'Navy' : 'Blue'}')${more("(73, 63, 0, 'Inner'), (74, 64, 0, 'Outer'), (75, 64, 2, 'Ytre'), (76, 65, 0, 'Grey')")};
insert into attribute_option_prices values (${n(81)}, ${n(61)}, 'summer', ${dev ? 61 : 5})${more("(82, 61, 'winter', 4), (83, 64, 'summer', 7)")};
${dev ? "insert into redirects values (1, 'old', 'isles', 'page', 32, 2);" : ''}
`;
}

inEverySort('several shops', statements, (pair) => {
  const seen = (): Record<string, string[]> => ({
    settings: pair.lines("select x.scope, s.code, x.path, x.value from shop_settings x left join shops s on s.id = x.scope_id and x.scope = 'shops' order by 1, 2, 3"),
    pages: pair.lines('select p.identifier, s.code, p.content from pages p left join page_shops x on x.page_id = p.id left join shops s on s.id = x.shop_id order by 1'),
    options: pair.lines('select a.code, l.label, s.code, o.sort_order from attribute_options o left join attributes a on a.id = o.attribute_id left join attribute_option_labels l on l.option_id = o.id left join shops s on s.id = l.shop_id order by 1, 4, 2'),
    prices: pair.lines("select l.label, p.season, p.price from attribute_option_prices p left join attribute_option_labels l on l.option_id = p.option_id and l.label <> 'Ytre' order by 1, 2"),
    redirects: pair.lines('select r.request_path, p.identifier, s.code from redirects r left join pages p on p.id = r.entity_id left join shops s on s.id = r.shop_id order by 1'),
  });

  test('have what lies in rows that belong to others themselves, and settings for each', async () => {
    expect(await pair.drafted(addressed)).toContain('attribute_options: { list: { from: attribute_options, on: { attribute_id: id }, order: [sort_order, id], id: id, value: { attribute_option_labels: { list:');
    await pair.carries(seen, () => {
      const page = pair.lines("select id from pages where identifier = 'start'")[0] ?? '';
      expect(seen()).toEqual({
        settings: ['all  list/per_page 12', 'all  web/home start', 'shops isles web/home isles', 'shops main web/colour blue'], redirects: ['old isles isles'], prices: ['Outer summer 7', 'Red summer 61', 'Red winter 4'],
        pages: [`isles isles <p>{{widget type="links" page_id="${page}" rows="31"}}</p>`, 'start main <p>Hi</p>'], options: ['berth Inner  1', 'berth Outer  2', 'berth Ytre isles 2', 'colour Red  1', 'colour Navy  2', 'colour Grey  3'],
      });
    });
  });
});
