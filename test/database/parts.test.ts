import { expect, test } from '@jest/globals';
import { singularOf } from '../../src/core/words.ts';
import { isOrder, isTime } from '../../src/sites/database/draft/columns.ts';
import { addressed, COUNTED, inEverySort } from '../helpers/databasepair.ts';
import type { Sort } from '../helpers/quayside.ts';

test.each([['courses', 'course'], ['releases', 'release'], ['sizes', 'size'], ['caches', 'cache'], ['movies', 'movie'], ['entries', 'entry'], ['quizzes', 'quiz'], ['boxes', 'box'], ['classes', 'class'], ['statuses', 'status'], ['branches', 'branch'], ['menus', 'menu'], ['news', 'news'], ['tides', 'tide'], ['glass', 'glass']])('one of %s is a %s', (many, one) => {
  expect(singularOf(many)).toBe(one);
  expect(singularOf(one)).toBe(one);
});

test('what a site counts is told from what somebody set', () => {
  const counted = (...names: string[]): string[] => names.filter((name) => isTime({ name, storage: 'integer', nullable: true, filled: false, utf8: true }, []));
  expect(counted('view_count', 'hits', 'comment_count', 'lock_version', 'last_seen', 'updated_at', 'columns_count', 'colCount', 'seat_count', 'max_count', 'discount', 'account', 'version')).toEqual(['view_count', 'hits', 'comment_count', 'lock_version', 'last_seen', 'updated_at']);
});

test('a place among others is told from what only sounds like one', () => {
  const orders = (...names: string[]): string[] => names.filter((name) => isOrder({ name, storage: 'integer', nullable: true, filled: false, utf8: true }));
  const PLACES = ['position', 'pos', 'sort', 'order', 'sort_order', 'sortOrder', 'menuorder', 'feed_order', 'display_order', 'orderNo', 'sort_key', 'rank', 'sequence', 'seq', 'step_order'];
  expect(orders(...PLACES)).toEqual(PLACES);
  expect(orders('deposit', 'border', 'border_width', 'position_x', 'min_order', 'order_total', 'order_id', 'purpose', 'preorder', 'reorder', 'frank', 'post', 'sorted_by', 'orders', 'consequence')).toEqual([]);
});

/** Logs whose parts lie in a table for each sort of part, a menu that means things of several sorts, and settings that are one row. */
function statements(sort: Sort, site: 'dev' | 'live'): string {
  const id = `id ${COUNTED[sort]}`;
  const tables = `
create table sailings (${id}, slug varchar(60) not null unique, title varchar(100));
create table harbours (${id}, slug varchar(60) not null unique, title varchar(100));
create table lead_texts (${id}, title varchar(100) not null, words text);
create table picture_rows (${id}, title varchar(100) not null);
create table sailing_pieces (${id}, entity_id bigint references sailings (id) on delete cascade, piece_id bigint, model_type varchar(60), rank double precision);
create table guides (${id}, handle varchar(40) not null unique);
create table guide_entries (${id}, guide_id bigint references guides (id), above_id bigint references guide_entries (id), title varchar(60), sort_order int not null default 0, means_id bigint, means_type varchar(60));
create table site_settings (${id}, motto varchar(100), front_sailing_id bigint references sailings (id));
create table program_steps (${id}, name varchar(60), batch int, applied_at varchar(30));
create table access_tokens (${id}, name varchar(60), token varchar(60));
`;
  return tables + (site === 'dev' ? `
insert into sailings values (1, 'noon', 'Noon'), (2, 'dusk', 'Dusk');
insert into harbours values (1, 'pier', 'Pier'), (2, 'quay', 'Quay');
insert into lead_texts values (1, 'Fair winds', 'x'), (2, 'Soup', 'y');
insert into picture_rows values (1, 'Bow'), (2, 'Deck');
insert into sailing_pieces values (1, 2, 2, 'parts.LeadText', 1), (2, 2, 2, 'parts.PictureRow', 2), (3, 1, 1, 'parts.PictureRow', 1);
insert into guides values (1, 'main');
insert into guide_entries (id, guide_id, above_id, title, sort_order, means_id, means_type) values (1, 1, null, 'Sail', 1, 2, 'site.Sailing'), (2, 1, 1, 'To the pier', 2, 1, 'site.Harbour'), (3, 1, 1, 'At dusk', 1, 2, 'site.Sailing');
insert into site_settings values (1, 'By sea', 2);
insert into program_steps values (1, '0001', 1, '2026-01-01 00:00:00'), (2, '0002', 2, '2026-02-01 00:00:00');
insert into access_tokens values (1, 'front', 'dev-token');
` : `
insert into sailings values (31, 'noon', 'Noon');
insert into harbours values (41, 'quay', 'Quay');
insert into lead_texts values (51, 'Fair winds', 'x');
insert into picture_rows values (61, 'Bow');
insert into sailing_pieces values (71, 31, 51, 'parts.LeadText', 1);
insert into guides values (81, 'main');
insert into guide_entries (id, guide_id, title, sort_order, means_id, means_type) values (91, 81, 'Sail', 1, 31, 'site.Sailing');
insert into site_settings values (7, 'By road', 31);
insert into program_steps values (1, '0001', 1, '2026-01-01 00:00:00');
insert into access_tokens values (1, 'front', 'live-token');
`);
}

inEverySort('parts in tables of their own', statements, (pair) => {
  const seen = (): Record<string, string[]> => ({
    pieces: pair.lines("select s.slug, coalesce(l.title, p.title) from sailing_pieces x join sailings s on s.id = x.entity_id left join lead_texts l on l.id = x.piece_id and x.model_type = 'parts.LeadText' left join picture_rows p on p.id = x.piece_id and x.model_type = 'parts.PictureRow' order by s.slug, x.rank"),
    guide: pair.lines("select e.title, a.title, coalesce(s.slug, h.slug) from guide_entries e left join guide_entries a on a.id = e.above_id left join sailings s on s.id = e.means_id and e.means_type = 'site.Sailing' left join harbours h on h.id = e.means_id and e.means_type = 'site.Harbour' order by e.above_id is not null, e.sort_order"),
    settings: pair.lines('select x.id, x.motto, s.slug from site_settings x join sailings s on s.id = x.front_sailing_id'), steps: pair.lines('select name from program_steps order by 1'), tokens: pair.lines('select token from access_tokens'),
  });

  test('are found by the word beside their ids; a row that is alone stays one; what lets somebody in stays', async () => {
    const draft = await pair.drafted(addressed);
    expect(draft).toContain("leaves: ['{prefix}access_tokens', '{prefix}program_steps']");
    expect(draft).toContain('name: \'site-settings\'  # the only row of its table');
    await pair.carries(seen, () => {
      expect(seen()).toEqual({
        pieces: ['dusk Soup', 'dusk Deck', 'noon Bow'], guide: ['Sail  dusk', 'At dusk Sail dusk', 'To the pier Sail pier'], settings: ['7 By sea dusk'], steps: ['0001'], tokens: ['live-token'],
      });
    });
  });
});
