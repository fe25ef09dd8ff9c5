import { expect, test } from '@jest/globals';
import { addressed, COUNTED, inEverySort } from '../helpers/databasepair.ts';
import type { Sort } from '../helpers/quayside.ts';

/** A program with pages in a tree, as they are written for one customer: what people work at, and what the program and its visitors leave. */
function tables(sort: Sort): string {
  const id = `id ${COUNTED[sort]}`;
  const json = { postgres: 'jsonb', mysql: 'json', sqlite: 'text' }[sort];
  const time = { postgres: 'timestamptz', mysql: 'datetime', sqlite: 'text' }[sort];
  const q = quote(sort);
  return `
create table schema_changes (version varchar(40) primary key, applied_at ${time});
create table sessions (id char(40) primary key, user_id bigint, payload text, last_activity int);
create table cache (${q('key')} varchar(100) primary key, value text, expiration int);
create table queued_jobs (${id}, queue varchar(50), payload text, attempts int, available_at int, created_at int);
create table users (${id}, name varchar(100) not null, email varchar(100) not null unique, password varchar(200), remember_token varchar(100), created_at ${time}, updated_at ${time});
create table roles (${id}, name varchar(50) not null unique, abilities ${json});
create table role_user (role_id bigint not null references roles(id), user_id bigint not null references users(id), primary key (role_id, user_id));
create table locales (${id}, code varchar(8) not null unique, name varchar(50));
create table media (${id}, uuid char(36) not null unique, folder varchar(100) not null default '', filename varchar(100) not null, mime varchar(60), size int, alt varchar(200), created_at ${time});
create table pages (${id}, parent_id bigint references pages(id), slug varchar(60) not null, layout varchar(40) not null default 'plain', status varchar(20) not null default 'draft', cover_id bigint references media(id), author_id bigint references users(id), published_at ${time}, created_at ${time}, updated_at ${time}, deleted_at ${time}, lock_version int not null default 0, unique (parent_id, slug));
create table page_texts (${id}, page_id bigint not null references pages(id) on delete cascade, locale_id bigint not null references locales(id), title varchar(200), body text, unique (page_id, locale_id));
create table page_closure (ancestor_id bigint not null references pages(id), descendant_id bigint not null references pages(id), depth int not null, primary key (ancestor_id, descendant_id));
create table page_revisions (${id}, page_id bigint not null references pages(id), snapshot ${json}, created_at ${time});
create table blocks (${id}, page_id bigint not null references pages(id), area varchar(30) not null, sort_order int not null default 0, type varchar(40) not null, data ${json});
create table tags (${id}, slug varchar(60) not null unique, title varchar(100));
create table taggables (tag_id bigint not null references tags(id), taggable_type varchar(60) not null, taggable_id bigint not null, primary key (tag_id, taggable_type, taggable_id));
create table menus (${id}, handle varchar(40) not null unique, title varchar(80));
create table menu_items (${id}, menu_id bigint not null references menus(id), parent_id bigint references menu_items(id), page_id bigint references pages(id), url varchar(200), label varchar(80), sort_order int not null default 0);
create table settings (${id}, ${q('group')} varchar(40) not null, name varchar(60) not null, value ${json}, unique (${q('group')}, name));
create table forms (${id}, handle varchar(40) not null unique, title varchar(80), notify_email varchar(100), settings ${json});
create table form_fields (${id}, form_id bigint not null references forms(id), name varchar(40) not null, type varchar(30) not null, options ${json}, sort_order int not null default 0);
create table form_submissions (${id}, form_id bigint not null references forms(id), data ${json}, ip varchar(45), created_at ${time});
create table audit_log (${id}, user_id bigint, action varchar(30), subject_type varchar(60), subject_id bigint, changes ${json}, created_at ${time});
create table redirects (${id}, from_path varchar(150) not null unique, to_path varchar(150), to_page_id bigint references pages(id), hits int not null default 0);
create table products (${id}, sku varchar(40) not null unique, title varchar(100), price decimal(10,2), is_active int not null default 1);
create table product_attributes (${id}, code varchar(40) not null unique, type varchar(20) not null);
create table product_attribute_values (product_id bigint not null references products(id), attribute_id bigint not null references product_attributes(id), value_text text, value_int bigint, primary key (product_id, attribute_id));
create table orders (${id}, number varchar(30) not null unique, user_id bigint, email varchar(100), total decimal(10,2), status varchar(20), created_at ${time});
create table order_lines (${id}, order_id bigint not null references orders(id), product_id bigint references products(id), quantity int, price decimal(10,2));`;
}

const quote = (sort: Sort) => (name: string): string => (sort === 'mysql' ? `\`${name}\`` : `"${name}"`);
const AT = "'2026-03-04 10:00:00'";

/** What both sites have, each with ids of its own: `n(1)` is the first. */
function both(sort: Sort, site: 'dev' | 'live', n: (id: number) => number): string {
  const q = quote(sort);
  return `
insert into schema_changes values ('20250101_begin', ${AT}), ('20260101_more', ${AT});
insert into sessions values ('${site.padEnd(40, '0')}', ${n(1)}, 'x', 1700000000);
insert into cache values ('page.${n(1)}', 'cached', 1700000000);
insert into queued_jobs (queue, payload, attempts, available_at, created_at) values ('default', '{"job":"mail"}', 0, 1700000000, 1700000000);
insert into users (id, name, email, password) values (${n(1)}, 'Isbel Farrow', 'isbel@skerrin.example', 'h${site}1'), (${n(2)}, 'Torvald Rae', 'torvald@skerrin.example', 'h${site}2');
insert into roles (id, name, abilities) values (${n(1)}, 'editor', '["pages.edit"]');
insert into role_user values (${n(1)}, ${n(2)});
insert into locales (id, code, name) values (${n(1)}, 'en', 'English'), (${n(2)}, 'nn', 'Norsk');
insert into media (id, uuid, folder, filename, mime, size, alt, created_at) values (${n(1)}, '0191f2aa-0000-7000-8000-0000000000${n(11)}', 'boats', 'selkie.jpg', 'image/jpeg', 4000, 'Selkie', ${AT});
insert into pages (id, parent_id, slug, layout, status, cover_id, author_id, published_at, created_at, updated_at, lock_version) values (${n(1)}, null, 'home', 'front', 'published', ${n(1)}, ${n(1)}, ${AT}, ${AT}, ${AT}, ${n(3)}), (${n(2)}, ${n(1)}, 'fares', 'plain', 'published', null, ${n(1)}, ${AT}, ${AT}, ${AT}, 1);
insert into page_texts (page_id, locale_id, title, body) values (${n(1)}, ${n(1)}, 'Home', '<p>Welcome to <a href="https://${site}.skerrin.example/fares">fares</a></p>'), (${n(2)}, ${n(1)}, 'Fares', '<p>${site}</p>');
insert into page_closure values (${n(1)}, ${n(1)}, 0), (${n(2)}, ${n(2)}, 0), (${n(1)}, ${n(2)}, 1);
insert into page_revisions (page_id, snapshot, created_at) values (${n(1)}, '{"title":"Old home"}', ${AT}), (${n(1)}, '{"title":"Older home"}', ${AT});
insert into blocks (page_id, area, sort_order, type, data) values (${n(1)}, 'main', 1, 'hero', '{"title":"Sail","media_id":${n(1)},"link":{"page_id":${n(2)}}}');
insert into tags (id, slug, title) values (${n(1)}, 'winter', 'Winter');
insert into taggables values (${n(1)}, '${sort === 'mysql' ? 'App\\\\Page' : 'App\\Page'}', ${n(1)});
insert into menus (id, handle, title) values (${n(1)}, 'main', 'Main');
insert into menu_items (id, menu_id, page_id, label, sort_order) values (${n(1)}, ${n(1)}, ${n(1)}, 'Home', 1);
insert into settings (${q('group')}, name, value) values ('site', 'title', '"Skerrin ${site}"'), ('site', 'home_page_id', '${n(1)}');
insert into forms (id, handle, title, notify_email, settings) values (${n(1)}, 'contact', 'Contact', '${site}@skerrin.example', '{"thank_you_page_id":${n(2)},"captcha_secret":"s${site}"}');
insert into form_fields (form_id, name, type, options, sort_order) values (${n(1)}, 'mail', 'email', '{}', 1);
insert into form_submissions (form_id, data, ip, created_at) values (${n(1)}, '{"mail":"v@x.example"}', '10.0.0.1', ${AT}), (${n(1)}, '{"mail":"w@x.example"}', '10.0.0.2', ${AT});
insert into audit_log (user_id, action, subject_type, subject_id, changes, created_at) values (${n(1)}, 'update', 'page', ${n(1)}, '{"a":1}', ${AT}), (${n(1)}, 'update', 'form', ${n(1)}, '{"a":1}', ${AT});
insert into redirects (from_path, to_page_id, hits) values ('/old', ${n(2)}, ${n(3)});
insert into products (id, sku, title, price) values (${n(1)}, 'T-1', 'Ticket', 10.50);
insert into product_attributes (id, code, type) values (${site === 'dev' ? 1 : 52}, 'colour', 'text'), (${site === 'dev' ? 2 : 51}, 'seats', 'int');
insert into product_attribute_values values (${n(1)}, ${site === 'dev' ? 1 : 52}, 'red', null);
insert into orders (id, number, user_id, email, total, status, created_at) values (${n(1)}, '${site}-100', ${n(2)}, 'x@x.example', 10.50, 'paid', ${AT});
insert into order_lines (order_id, product_id, quantity, price) values (${n(1)}, ${n(1)}, 1, 10.50);
`;
}

/** What people made on dev since. A page that was thrown away is still there, and what says where it was. */
const more = (sort: Sort): string => `
insert into schema_changes values ('20260601_newest', ${AT});
update roles set abilities = '["pages.edit","forms.edit"]';
insert into roles (id, name, abilities) values (2, 'harbour', '[]');
insert into media (id, uuid, folder, filename, mime, size, alt, created_at) values (2, '0191f2aa-0000-7000-8000-000000000002', 'boats', 'heron.jpg', 'image/jpeg', 4000, 'Heron', ${AT});
insert into pages (id, parent_id, slug, status, cover_id, author_id, published_at, created_at, updated_at, deleted_at) values (3, 1, 'islands', 'draft', 2, 2, null, ${AT}, ${AT}, null), (4, 1, 'gone', 'published', null, 1, ${AT}, ${AT}, ${AT}, ${AT}), (5, 3, 'north', 'published', 1, 2, ${AT}, ${AT}, ${AT}, null);
insert into page_texts (page_id, locale_id, title, body) values (3, 1, 'Islands', '<img src="https://dev.skerrin.example/media/boats/heron.jpg">'), (3, 2, 'Øyar', '<p>x</p>'), (5, 1, 'North', '<p>page 3</p>');
insert into page_closure values (3, 3, 0), (4, 4, 0), (5, 5, 0), (1, 3, 1), (1, 4, 1), (3, 5, 1), (1, 5, 2);
insert into blocks (page_id, area, sort_order, type, data) values (1, 'main', 2, 'form', '{"form_id":1,"width":2}'), (1, 'side', 1, 'teaser', '{"pages":[2,3],"tag":"winter"}'), (3, 'main', 1, 'gallery', '{"items":[{"media_id":2},{"media_id":1}]}');
insert into tags (id, slug, title) values (2, 'summer', 'Summer');
insert into menus (id, handle, title) values (2, 'foot', 'Foot');
insert into menu_items (id, menu_id, parent_id, page_id, url, label, sort_order) values (2, 1, 1, 2, null, 'Fares', 2), (3, 1, 1, 3, null, 'Islands', 1), (4, 2, null, null, 'https://dev.skerrin.example/about', 'About', 1);
insert into settings (${quote(sort)('group')}, name, value) values ('mail', 'templates', '{"welcome":{"page_id":3,"form":1},"api_key":"k-12345"}');
insert into forms (id, handle, title, notify_email, settings) values (2, 'claim', 'Claim', 'c@skerrin.example', '{}');
insert into form_fields (form_id, name, type, options, sort_order) values (1, 'topic', 'select', '{"choices":["a","b"]}', 2), (2, 'what', 'text', '{}', 1);
insert into redirects (from_path, to_path) values ('/older', '/fares');
insert into products (id, sku, title, price) values (2, 'T-2', 'Pass', 99);
insert into product_attribute_values values (1, 2, null, 40), (2, 1, 'blue', null);
`;

const statements = (sort: Sort, site: 'dev' | 'live'): string => tables(sort) + both(sort, site, (id) => (site === 'dev' ? id : id + 50)) + (site === 'dev' ? more(sort) : '');

inEverySort('an application', statements, (pair) => {
  const { bench } = pair;
  /** What is on live, by what things are called. */
  const seen = (): Record<string, string[]> => ({
    pages: pair.lines('select p.slug, a.slug from pages p left join pages a on a.id = p.parent_id order by p.slug'),
    closure: pair.lines('select a.slug, d.slug, c.depth from page_closure c join pages a on a.id = c.ancestor_id join pages d on d.id = c.descendant_id order by a.slug, d.slug'),
    texts: pair.lines('select p.slug, l.code, t.title from page_texts t join pages p on p.id = t.page_id join locales l on l.id = t.locale_id order by p.slug, l.code'),
    blocks: pair.lines('select p.slug, b.area, b.type from blocks b join pages p on p.id = b.page_id order by p.slug, b.area, b.sort_order'),
    tags: pair.lines('select g.slug, p.slug from taggables t join tags g on g.id = t.tag_id join pages p on p.id = t.taggable_id order by g.slug, p.slug'),
    menus: pair.lines('select m.handle, i.label, a.label, p.slug from menu_items i join menus m on m.id = i.menu_id left join menu_items a on a.id = i.parent_id left join pages p on p.id = i.page_id order by m.handle, i.sort_order'),
    values: pair.lines('select p.sku, a.code, v.value_text, v.value_int from product_attribute_values v join products p on p.id = v.product_id join product_attributes a on a.id = v.attribute_id order by p.sku, a.code'),
    fields: pair.lines('select f.handle, x.name from form_fields x join forms f on f.id = x.form_id order by f.handle, x.sort_order'),
  });
  const LEFT = ['audit_log', 'cache', 'form_submissions', 'order_lines', 'orders', 'page_revisions', 'queued_jobs', 'role_user', 'schema_changes', 'sessions'];
  const left = (): string[][][] => LEFT.map((table) => pair.rows(`select * from ${table} order by 1`));

  test('is drafted so that what its program and its visitors leave stays, and everything else is carried and undone', async () => {
    const draft = await pair.drafted(addressed);
    expect(/leaves: \[(.*)\]/.exec(draft)?.[1]?.split(', ').sort()).toEqual(LEFT.map((name) => `'{prefix}${name}'`));
    const [before, kept] = [seen(), left()];
    expect(JSON.parse((await bench.run('import', 'dev', 'live', '--yes', '--json')).out)).toMatchObject({ unequal: [] });
    expect(seen()).toEqual({
      pages: ['fares home', 'home ', 'islands home', 'north islands'],
      closure: ['fares fares 0', 'home fares 1', 'home home 0', 'home islands 1', 'home north 2', 'islands islands 0', 'islands north 1', 'north north 0'],
      texts: ['fares en Fares', 'home en Home', 'islands en Islands', 'islands nn Øyar', 'north en North'], blocks: ['home main hero', 'home main form', 'home side teaser', 'islands main gallery'], tags: ['winter home'],
      menus: ['foot About  ', 'main Home  home', 'main Islands Home islands', 'main Fares Home fares'], values: ['T-1 colour red ', 'T-1 seats  40', 'T-2 colour blue '], fields: ['claim what', 'contact mail', 'contact topic'],
    });
    const ids = new Map(pair.rows('select id, slug from pages').map(([id = '', slug = '']) => [slug, Number(id)]));
    const [[teaser = ''] = []] = pair.rows("select data from blocks where type = 'teaser'");
    expect(JSON.parse(teaser)).toEqual({ pages: [ids.get('fares'), ids.get('islands')], tag: 'winter' });
    expect(left()).toEqual(kept);
    expect((await bench.run('import', 'dev', 'live', '--yes')).out).toContain('Nothing to do');
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
    expect(seen()).toEqual(before);
  });

  test('what is only on live stays above and below what comes', async () => {
    const page = (id: number, slug: string): string => `insert into pages (id, parent_id, slug) values (${id}, 51, '${slug}'); insert into page_closure values (${id}, ${id}, 0), (51, ${id}, 1);`;
    pair.run(page(90, 'crew'));
    await bench.run('import', 'dev', 'live', '--yes');
    expect(seen()['closure']).toContain('home crew 1');
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
    expect(seen()['closure']).toContain('home crew 1');
  });
});
