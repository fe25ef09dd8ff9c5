import { writeFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { sqliteSite, type QuaysideSite } from '../helpers/quayside.ts';
import { Bench } from '../helpers/sites.ts';

/** Notes can be drafts, and memos cannot; both can be kept behind a password. */
const kind = (name: string, more: string): string => `
  - id: berthing/${name}
    ${more}
    rows: { from: ${name}s, name: '{slug}', title: '{title}', status: { column: state, published: [open], draft: [draft] }, value: { title: title, pass: { column: pass, usual: '' } } }
    secret: [$.pass]
    guards: [$.pass]`;
const LAYOUT = `
format: 1
name: berths
title: Berths
tables: { notes: { name: notes }, memos: { name: memos }, settings: { name: settings } }
facts: { cms: { name: berthing, title: Berthing }, address: { from: settings, where: { name: address }, value: value } }
kinds:${kind('note', 'draftable: true')}${kind('memo', 'rank: 60')}
`;
const rows = (title: string, pass: string, state = 'open'): string => `(slug, title, pass, state) values ('crew', '${title}', '${pass}', '${state}')`;
const start = (site: string): string => `create table settings (name varchar(100) not null primary key, value text); insert into settings values ('address', 'https://${site}.skerrin.example');
${['notes', 'memos'].map((table) => `create table ${table} (id integer primary key, slug varchar(50) not null unique, title varchar(100) not null, pass varchar(50) not null default '', state varchar(10) not null default 'open');`).join('\n')}`;

describe('what a password keeps visitors out of', () => {
  const bench = new Bench();
  let dev: QuaysideSite;
  let live: QuaysideSite;
  const there = (): string => live.run('select title, pass, state from notes').trim().replaceAll('\t', '|');
  beforeAll(() => {
    writeFileSync(bench.path('berths.yaml'), LAYOUT);
    writeFileSync(bench.path('pochette.yaml'), "you: Isbel Farrow\nsites:\n  dev: { url: 'sqlite:dev.db', layout: berths.yaml }\n  live: { url: 'sqlite:live.db', layout: berths.yaml }\n");
    dev = sqliteSite(bench.path('dev.db'), start('dev'));
    live = sqliteSite(bench.path('live.db'), start('live'));
    dev.run(`insert into notes ${rows('For the crew', 'ferry-7')}`);
  });
  afterAll(async () => { await bench.stop(); });

  test('arrives as a draft, as the password does not travel', async () => {
    const ran = await bench.run('import', 'dev', 'live', 'note:crew', '--yes');
    expect([ran.code, ran.out]).toEqual([0, expect.stringMatching(/enter note:crew#\/pass: secrets do not travel[^]*publish note:crew: it is a draft/)]);
    expect(there()).toBe('For the crew||draft');
  });

  test('goes on to a draft; and to what has a password of its own, which stays', async () => {
    dev.run("update notes set title = 'For all of the crew'");
    expect((await bench.run('import', 'dev', 'live', 'note:crew', '--yes')).code).toBe(0);
    expect(there()).toBe('For all of the crew||draft');
    live.run("update notes set pass = 'ferry-8', state = 'open'");
    dev.run("update notes set title = 'For the night crew'");
    expect((await bench.run('import', 'dev', 'live', 'note:crew', '--yes', '--decide', 'source')).code).toBe(0);
    expect(there()).toBe('For the night crew|ferry-8|open');
  });

  test('does not replace what is open to everyone', async () => {
    live.run("update notes set pass = ''");
    dev.run("update notes set title = 'Not for passengers'");
    const ran = await bench.run('import', 'dev', 'live', 'note:crew', '--yes', '--decide', 'source');
    expect([ran.code, ran.out]).toEqual([3, expect.stringMatching(/note:crew[^]*would be open to every visitor: its pass does not travel[^]*enter one there first/)]);
    expect(there()).toBe('For the night crew||open');
  });

  test('is not created where it cannot be a draft', async () => {
    dev.run(`insert into memos ${rows('Memo', 'ferry-9')}`);
    const ran = await bench.run('import', 'dev', 'live', 'memo:crew', '--yes');
    expect([ran.code, ran.out]).toEqual([3, expect.stringMatching(/would be open to every visitor/)]);
    expect(live.run('select count(*) from memos').trim()).toBe('0');
    dev.run("update memos set pass = ''");
    expect((await bench.run('import', 'dev', 'live', 'memo:crew', '--yes')).code).toBe(0);
  });
});
