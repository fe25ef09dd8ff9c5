import { expect, test } from '@jest/globals';
import { addressed, COUNTED, inEverySort } from '../helpers/databasepair.ts';
import type { Sort } from '../helpers/quayside.ts';

/** Forms of which the rest lies in a second table under the same key, what visitors wrote in them, and settings that name a form. */
function statements(sort: Sort, site: 'dev' | 'live'): string {
  const dev = site === 'dev';
  const [one, other] = dev ? [21, 22] : [301, 302];
  const time = { sqlite: 'datetime', mysql: 'datetime', postgres: 'timestamp' }[sort];
  const body = (own: number, next: number): string => JSON.stringify({ form_id: own, blocks: { '7f3a9c': { label: 'Ask', next_form: next }, '12': { label: 'Send', next_form: own } } });
  return `
create table forms (id ${COUNTED[sort]}, title varchar(80) not null, active smallint not null);
create table form_parts (form_id bigint not null primary key, body text not null, notes text);
create table answers (id ${COUNTED[sort]}, form_id bigint not null, ip varchar(40) not null, sent_at ${time} not null, words text not null);
create table settings (name varchar(60) not null primary key, value text not null);
insert into forms (id, title, active) values (${one}, 'Ask the crew', 1)${dev ? `, (${other}, 'Lost property', 1)` : ''};
insert into form_parts values (${one}, '${body(one, one)}', '${dev ? 'new' : 'old'}')${dev ? `, (${other}, '${body(other, one)}', '')` : ''};
insert into answers (form_id, ip, sent_at, words) values (${one}, '192.0.2.${dev ? 7 : 9}', '2026-03-01 10:00:00', 'Hello'), (${one}, '192.0.2.8', '2026-03-02 10:00:00', 'Hello again');
insert into settings values ('start', '{"form_id":${dev ? other : one}}'), ('colour', '{"text":"red"}'), ('size', '{"text":"large"}');
`;
}

inEverySort('rows that are the rest of another row,', statements, (pair) => {
  const { bench } = pair;

  test('a draft makes them a part of it; what visitors left stays out; everything is carried and undone', async () => {
    const draft = await pair.drafted(addressed);
    expect(draft).toContain('form_parts: { list: { from: form_parts, on: { form_id: id }, order: [form_id], id: form_id, value: { body: body, notes: notes } } }');
    expect(draft).toMatch(/leaves: \[[^\]]*answers/);
    // Names that a machine gave are no steps of a path.
    expect(draft).toContain('{ path: "$.form_parts[*].body.blocks.*.next_form", to: forms }');
    const everything = (): string[][][] => ['forms order by id', 'form_parts order by form_id', 'answers order by id', 'settings order by name'].map((one) => pair.rows(`select * from ${one}`));
    const before = everything();
    const ran = await bench.run('import', 'dev', 'live', '--yes', '--json');
    expect(ran.err).toBe('');
    expect(JSON.parse(ran.out)).toMatchObject({ created: 1, updated: 2, unequal: [] });
    const [[id = '']] = pair.rows("select id from forms where title = 'Lost property'") as [string[]];
    expect(pair.rows(`select body from form_parts where form_id = ${id}`)).toEqual([[JSON.stringify({ form_id: Number(id), blocks: { '12': { label: 'Send', next_form: Number(id) }, '7f3a9c': { label: 'Ask', next_form: 301 } } })]]);
    expect(pair.rows("select value from settings where name = 'start'")).toEqual([[`{"form_id":${id}}`]]);
    expect((await bench.run('import', 'dev', 'live', '--yes')).out).toContain('Nothing to do');
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
    expect(everything()).toEqual(before);
  });
});
