import { expect, test } from '@jest/globals';
import { addressed, COUNTED, inEverySort } from '../helpers/databasepair.ts';
import type { Sort } from '../helpers/quayside.ts';

// Boards of which groups may do this and that, tasks known by a command, rows that only their words tell apart, and folders that have the ids of those above them.
function statements(sort: Sort, site: 'dev' | 'live'): string {
  const [id, flag] = [COUNTED[sort], sort === 'postgres' ? 'boolean' : 'smallint'];
  const [yes, no] = sort === 'postgres' ? ['true', 'false'] : ['1', '0'];
  const [json, time] = [sort === 'postgres' ? 'jsonb' : sort === 'mysql' ? 'json' : 'text', sort === 'postgres' ? 'timestamp' : sort === 'mysql' ? 'datetime' : 'text'];
  const area = sort === 'postgres' ? 'area' : sort === 'mysql' ? "enum('side','foot')" : 'varchar(20)';
  const tables = `${sort === 'postgres' ? "\ncreate type area as enum ('side', 'foot');" : ''}
create table boards (id ${id}, slug varchar(60) not null unique, name varchar(100) not null, told text);
create table groups_of_people (id ${id}, name varchar(60) not null unique);
create table board_rights (board_id bigint not null, group_id bigint not null, can_read ${flag} not null, can_write ${flag} not null, primary key (board_id, group_id), foreign key (board_id) references boards (id), foreign key (group_id) references groups_of_people (id));
create table tasks (id ${id}, command varchar(100) not null unique, plan varchar(40) not null, next_run_at ${time});
create table panels (id ${id}, area ${area} not null, place_no int not null default 0, panel_class varchar(100) not null, params ${json}, is_on ${flag} not null default ${yes});
create table folders (id ${id}, name varchar(60) not null, parent int not null default 0, path varchar(100) not null default '');
`;
  return tables + (site === 'dev' ? `
insert into boards values (1, 'harbour', 'Harbour', 'Old'), (2, 'boats', 'Boats', 'See [board=1]'), (3, 'ropes', 'Ropes', 'See [board=2] and [columns=3]');
insert into groups_of_people values (1, 'guests'), (2, 'crew');
insert into board_rights values (1, 2, ${yes}, ${yes}), (1, 1, ${yes}, ${no}), (2, 2, ${yes}, ${no}), (3, 1, ${no}, ${no});
insert into tasks values (1, 'mail:send', '*/5 * * * *', '2026-11-01 10:00:00'), (2, 'boards:count', '0 4 * * *', null);
insert into panels (id, area, place_no, panel_class, params) values (1, 'side', 1, 'App.BoardList', '{"board_id":3,"limit":2}'), (2, 'side', 2, 'App.Html', '{"html":"<b>dev</b>"}'), (3, 'foot', 1, 'App.BoardList', '{"board_id":1,"limit":3}');
insert into folders values (1, 'Boats', 0, '/1/'), (2, 'Crew', 1, '/1/2/'), (3, 'Old', 2, '/1/2/3/');
` : `
insert into boards values (31, 'harbour', 'Harbour', 'Old');
insert into groups_of_people values (41, 'crew'), (42, 'guests');
insert into board_rights values (31, 41, ${no}, ${yes});
insert into tasks values (51, 'mail:send', '0 * * * *', '2026-11-02 10:00:00');
insert into panels (id, area, place_no, panel_class, params) values (61, 'side', 1, 'App.BoardList', '{"board_id":31,"limit":9}');
insert into folders values (71, 'Boats', 0, '/71/');
`);
}

inEverySort('boards', statements, (pair, sort) => {
  const inWords = (line: string): string => line.replace(/\btrue\b|\bt\b/g, '1').replace(/\bfalse\b|\bf\b/g, '0').replace(/\s*([:,])\s*/g, '$1');
  const seen = (): Record<string, string[]> => ({
    rights: pair.lines('select b.slug, g.name, r.can_read, r.can_write from board_rights r join boards b on b.id = r.board_id join groups_of_people g on g.id = r.group_id order by 1, 2').map(inWords),
    told: pair.lines('select slug, told, id from boards order by 1'), tasks: pair.lines('select id, command, plan from tasks order by 2'), panels: pair.lines('select area, panel_class, params from panels').map(inWords).sort(), folders: pair.lines('select name, parent, path, id from folders order by 1'),
  });

  test('arrive with what each group may do, whatever the server calls a yes', async () => {
    const draft = await pair.drafted(addressed);
    expect(draft).toContain("name: '{command|id}'");
    expect(draft).toContain("name: '{area}/{panel_class}'  # no column looks like a name: these words tell the rows apart");
    await pair.carries(seen, () => {
      const [boats, ropes] = ['boats', 'ropes'].map((slug) => Number(pair.lines(`select id from boards where slug = '${slug}'`)[0]));
      const [crew, old] = ['Crew', 'Old'].map((name) => Number(pair.lines(`select id from folders where name = '${name}'`)[0]));
      const limit = (board: unknown, count: number): string => (sort === 'postgres' ? `{"limit":${count},"board_id":${String(board)}}` : `{"board_id":${String(board)},"limit":${count}}`);
      expect(seen()).toEqual({
        rights: ['boats crew 1 0', 'harbour crew 1 1', 'harbour guests 1 0', 'ropes guests 0 0'],
        told: [`boats See [board=31] ${String(boats)}`, 'harbour Old 31', `ropes See [board=${String(boats)}] and [columns=3] ${String(ropes)}`],
        tasks: [expect.stringMatching(/^\d+ boards:count 0 4/), '51 mail:send */5 * * * *'],
        panels: [`foot App.BoardList ${limit(31, 3)}`, `side App.BoardList ${limit(ropes, 2)}`, 'side App.Html {"html":"<b>dev</b>"}'],
        folders: ['Boats 0 /71/ 71', `Crew 71 /71/${String(crew)}/ ${String(crew)}`, `Old ${String(crew)} /71/${String(crew)}/${String(old)}/ ${String(old)}`],
      });
    });
  });
});
