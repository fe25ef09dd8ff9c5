import { expect, test } from '@jest/globals';
import { addressed, COUNTED, inEverySort } from '../helpers/databasepair.ts';
import type { Sort } from '../helpers/quayside.ts';

// A help desk: what leads from one state to another, settings by group and name, what a role may do, and tickets of people, which are nobody's configuration.
function statements(sort: Sort, site: 'dev' | 'live'): string {
  const [id, dev] = [COUNTED[sort], site === 'dev'];
  const n = (x: number): number => x + (dev ? 0 : 700);
  const group = sort === 'mysql' ? '`group`' : '"group"';
  const [json, time] = [sort === 'postgres' ? 'jsonb' : sort === 'mysql' ? 'json' : 'text', sort === 'postgres' ? 'timestamp' : sort === 'mysql' ? 'datetime' : 'text'];
  return `
create table abilities (id ${id}, name varchar(100) not null unique);
create table roles (id ${id}, name varchar(100) not null unique);
create table role_has_abilities (ability_id bigint not null, role_id bigint not null, primary key (ability_id, role_id), foreign key (ability_id) references abilities (id), foreign key (role_id) references roles (id));
create table states (id ${id}, key_name varchar(40) not null unique, label ${json});
create table transitions (id ${id}, from_state_id bigint not null, to_state_id bigint not null, label varchar(60), role_id bigint, unique (from_state_id, to_state_id), foreign key (from_state_id) references states (id), foreign key (to_state_id) references states (id));
create table departments (id ${id}, slug varchar(60) not null unique, name varchar(60));
create table tickets (id ${id}, department_id bigint not null, state_id bigint not null, requester_email varchar(100), subject varchar(200), created_at ${time} not null, foreign key (department_id) references departments (id));
create table remarks (id ${id}, department_id bigint not null, words text, made_at ${time} not null, foreign key (department_id) references departments (id));
create table callers (id ${id}, url varchar(200) not null, signing_secret varchar(80), failures int not null default 0);
create table options (${group} varchar(40) not null, name varchar(60) not null, payload ${json}, locked smallint not null default 0, primary key (${group}, name));
insert into abilities values (${n(1)}, 'view')${dev ? `, (${n(2)}, 'close')` : ''};
insert into roles values (${n(1)}, 'agent')${dev ? `, (${n(2)}, 'lead')` : ''};
insert into role_has_abilities values (${n(1)}, ${n(1)})${dev ? `, (${n(1)}, ${n(2)}), (${n(2)}, ${n(2)})` : ''};
insert into states values (${n(31)}, 'open', '{"en":"Open"}'), (${n(32)}, 'done', '{"en":"Done"}')${dev ? `, (${n(33)}, 'waiting', '{"en":"Waiting"}')` : ''};
insert into transitions values (${n(41)}, ${n(31)}, ${n(32)}, 'Close', null)${dev ? `, (${n(42)}, ${n(31)}, ${n(33)}, 'Wait', ${n(2)}), (${n(43)}, ${n(33)}, ${n(31)}, 'Wait', null)` : ''};
insert into departments values (${n(21)}, 'front', 'Front ${site}');
insert into tickets values (${n(1)}, ${n(21)}, ${n(31)}, '${site}@skerrin.example', 'Late', '2026-01-05 10:00:00');
insert into remarks values (${n(1)}, ${n(21)}, 'Kind', '2026-01-05 10:00:00');
insert into callers (id, url, signing_secret) values (${n(1)}, 'https://hooks.skerrin.example/${site}', '${site}-secret-1');
insert into options values ('general', 'default_department', '${n(21)}', 1)${dev ? `, ('general', 'states', '{"first":${n(31)},"last":[${n(32)}]}', 1), ('mail', 'reply_to', '"x@skerrin.example"', 1)` : ''};
`;
}

inEverySort('help desk', statements, (pair, sort) => {
  const seen = (): Record<string, string[]> => ({
    roles: pair.lines('select r.name, a.name from role_has_abilities x join roles r on r.id = x.role_id join abilities a on a.id = x.ability_id order by 1, 2'),
    transitions: pair.lines('select f.key_name, t.key_name, x.label, r.name from transitions x join states f on f.id = x.from_state_id join states t on t.id = x.to_state_id left join roles r on r.id = x.role_id order by 1, 2'),
    left: [...pair.lines('select requester_email from tickets'), ...pair.lines('select signing_secret from callers')], departments: pair.lines('select name from departments'),
    options: pair.lines(`select ${sort === 'mysql' ? '`group`' : '"group"'}, name, payload, locked from options order by 1, 2`).map((line) => line.replaceAll(': ', ':').replaceAll(', ', ',')),
  });

  test('arrives, with its settings by name, and without its tickets and what nobody may know', async () => {
    const draft = await pair.drafted(addressed);
    expect(draft).toContain("leaves: ['{prefix}tickets']");
    expect(draft).not.toMatch(/name: '[^']*signing_secret/);
    expect(draft).toContain('# Rows of remarks say when they were made: if people make them on each site');
    await pair.carries(seen, () => {
      expect(seen()).toEqual({
        roles: ['agent view', 'lead close', 'lead view'], transitions: ['open done Close ', 'open waiting Wait lead', 'waiting open Wait '], left: ['live@skerrin.example', 'live-secret-1'], departments: ['Front dev'],
        options: ['general default_department 721 1', `general states ${sort === 'postgres' ? '{"last":[732],"first":731}' : '{"first":731,"last":[732]}'} 1`, 'mail reply_to "x@skerrin.example" 1'],
      });
    });
  });
});
