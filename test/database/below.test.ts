import { writeFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import { addressed, COUNTED, inEverySort } from '../helpers/databasepair.ts';

// Flows of two sorts, and steps that lie below these and are called after them; a flow does not say which they are.
const LAYOUT = `
format: 1
name: flows
title: Flows
tables: { entries: { name: entries }, settings: { name: settings } }
facts: { cms: { name: quayflows, title: Flows }, address: { from: settings, where: { name: address }, value: value } }
kinds:
  - id: quayflows/entry
    firm: [$.parent]
    rows:
      from: entries
      name: '{sort}/{path}'
      title: '{title}'
      parent: parent
      segment: '{slug}'
      within: { column: sort, except: [page] }
      value: { title: title, parent: parent, place: place, next: next }
    references: [{ path: $.parent, to: entry }, { path: $.next, to: entry }]
`;
type Row = [id: number, sort: string, slug: string, title: string, parent?: number, next?: number];
const start = (counted: string, site: string, rows: readonly Row[]): string => `
create table settings (name varchar(100) not null primary key, value text not null);
insert into settings values ('address', 'https://${site}.skerrin.example');
create table entries (id ${counted}, sort varchar(20) not null, slug varchar(50) not null, title varchar(100) not null, parent bigint not null default 0, place integer not null default 0, next bigint not null default 0);
${rows.map(([id, sort, slug, title, parent = 0, next = 0], place) => `insert into entries values (${id}, '${sort}', '${slug}', '${title}', ${parent}, ${place}, ${next});`).join('\n')}`;

inEverySort('what lies below something of another sort', (sort, site) => start(COUNTED[sort], site, site === 'dev'
  ? [[3, 'flow', 'book', 'Book'], [4, 'step', 'start', 'Book: start', 3, 5], [5, 'step', 'pay', 'Book: pay', 3], [6, 'flow', 'ask', 'Ask'], [7, 'step', 'start', 'Ask: start', 6], [8, 'hint', 'wait', 'Wait a moment', 7], [9, 'page', 'home', 'Home'], [10, 'step', 'lone', 'Lone', 9], [11, 'trip', 'book', 'Book a trip']]
  : [[71, 'flow', 'ask', 'Ask'], [72, 'step', 'start', 'Ask: start', 71]]), (pair) => {
  const run = (...words: string[]) => pair.bench.run(...words);
  const there = (): string[] => pair.rows('select e.title, p.title, n.title from entries e left join entries p on p.id = e.parent left join entries n on n.id = e.next order by e.title, p.title').map((row) => row.join('<'));

  test('is called after it, so that two of one name are two, and comes along with it', async () => {
    pair.configure((name) => [...addressed(name), 'layout: flows.yaml']);
    writeFileSync(pair.bench.path('flows.yaml'), LAYOUT);
    const listed = JSON.parse((await run('list', 'dev', '--json')).out) as { items: { address: string }[] };
    expect(listed.items.map((one) => one.address)).toEqual(['flow/ask', 'flow/book', 'hint/ask/start/wait', 'page/home', 'step/ask/start', 'step/book/pay', 'step/book/start', 'step/lone', 'trip/book'].map((name) => `entry:${name}`));
    const exported = JSON.parse((await run('export', 'dev', 'entry:flow/book', '-o', 'book.pochette', '--json')).out) as { broughtAlong: object[] };
    expect(exported.broughtAlong).toEqual(['pay', 'start'].map((step) => ({ address: `entry:step/book/${step}`, for: 'entry:flow/book' })));
    const ran = await run('import', 'dev', 'live', 'entry:flow/book', 'entry:flow/ask', '--yes');
    expect([ran.code, there()]).toEqual([0, ['Ask<<', 'Ask: start<Ask<', 'Book<<', 'Book: pay<Book<', 'Book: start<Book<Book: pay', 'Wait a moment<Ask: start<']]);
    expect((await run('import', 'dev', 'live', 'entry:flow/*', '--yes')).out).toContain('Nothing to do');
    expect((await run('undo', 'live', '--yes')).code).toBe(0);
    expect(there()).toEqual(['Ask<<', 'Ask: start<Ask<']);
  });

  test('follows it to another name, at every depth', async () => {
    const ran = await run('import', 'dev', 'live', 'entry:flow/ask', '--yes', '--as', 'entry:flow/ask=entry:flow/pier');
    expect([ran.code, there()]).toEqual([0, ['Ask<<', 'Ask<<', 'Ask: start<Ask<', 'Ask: start<Ask<', 'Wait a moment<Ask: start<']]);
    const names = (JSON.parse((await run('list', 'live', '--json')).out) as { items: { address: string }[] }).items.map((one) => one.address);
    expect(names).toEqual(['flow/ask', 'flow/pier', 'hint/pier/start/wait', 'step/ask/start', 'step/pier/start'].map((name) => `entry:${name}`));
    expect((await run('undo', 'live', '--yes')).code).toBe(0);
  });

  test('stays behind with it', async () => {
    const alone = await run('import', 'dev', 'live', 'entry:step/book/start', '--alone', '--yes');
    expect([alone.code, alone.out]).toEqual([3, expect.stringMatching(/step\/book\/start[^]*is called after entry:flow\/book/)]);
    const left = await run('import', 'dev', 'live', 'entry:step/book/start', 'entry:trip/book', '--alone', '--yes', '--leave-unmatched');
    expect([left.code, there()]).toEqual([0, ['Ask<<', 'Ask: start<Ask<', 'Book a trip<<']]);
    expect((await run('undo', 'live', '--yes')).code).toBe(0);
  });
});
