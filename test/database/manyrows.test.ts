import { writeFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import { addressed, COUNTED, inEverySort } from '../helpers/databasepair.ts';

// Two links to a word each for every record: more ids at a time than servers take for few.
const RECORDS = 9000;
const LAYOUT = `
format: 1
name: many
title: Many
tables: { records: { name: records }, links: { name: links }, words: { name: words }, pairs: { name: pairs } }
facts: { cms: { name: many, title: Many } }
kinds:
  - id: many/record
    rows:
      from: records
      name: '{name}'
      title: '{name}'
      value: { links: { list: { from: links, on: { record_id: id }, joins: { word: { from: words, on: { id: word_id }, shared: true } }, order: [id], id: id, value: { word: word.word } } } }
    belongings: [{ path: '$.links[*]', id: id }]
`;
const lines = (count: number, line: (i: number) => string): string => Array.from({ length: count }, (_none, i) => line(i + 1)).join(',');

inEverySort('many rows', (sort) => `
create table records (id ${COUNTED[sort]}, name varchar(60) not null unique);
create table links (id ${COUNTED[sort]}, record_id bigint not null, word_id bigint not null);
create table words (id ${COUNTED[sort]}, word varchar(60) not null);
create table pairs (a bigint not null, b varchar(20) not null, note varchar(20), primary key (a, b));
create index links_record on links (record_id);
insert into records values ${lines(RECORDS, (i) => `(${i}, 'record ${i}')`)};
insert into words values ${lines(2 * RECORDS, (i) => `(${i}, 'word ${i}')`)};
insert into links values ${lines(2 * RECORDS, (i) => `(${i}, ${Math.ceil(i / 2)}, ${i})`)};
insert into pairs values ${lines(2 * RECORDS, (i) => `(${i % 7}, 'pair ${i}', '${i}')`)};
${sort === 'mysql' ? 'analyze table records, links, words, pairs;' : ''}`, (pair, sort) => {
  const run = (...words: string[]) => pair.bench.run(...words);
  const readBefore = (): number => (sort === 'mysql' ? pair.rows("show global status where variable_name in ('Handler_read_next', 'Handler_read_rnd_next')").reduce((sum, [, count]) => sum + Number(count), 0) : 0);

  test('are each read some few times, and no whole table for each page of them', async () => {
    pair.configure((name) => [...addressed(name), 'layout: many.yaml']);
    writeFileSync(pair.bench.path('many.yaml'), LAYOUT);
    const before = readBefore();
    const listed = JSON.parse((await run('list', 'dev', '--json')).out) as { items: object[] };
    expect(listed.items).toHaveLength(RECORDS);
    expect(readBefore() - before).toBeLessThan(7 * RECORDS);
  });

  test('are counted by their keys, also where these have several columns', async () => {
    const { out } = await run('layout', 'check', 'dev');
    expect(out).toMatch(new RegExp(`records +${RECORDS} of ${RECORDS} described`));
    expect(out).toMatch(new RegExp(`pairs +0 of ${2 * RECORDS} described`));
  });
});
