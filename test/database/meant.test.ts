import { appendFileSync, writeFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import { addressed, COUNTED, inEverySort } from '../helpers/databasepair.ts';

// Boards with buttons, which have ids of their own; settings and boards mean single buttons by these.
const LAYOUT = `
format: 1
name: boards
title: Boards
tables: { boards: { name: boards }, buttons: { name: buttons }, settings: { name: settings } }
facts: { cms: { name: quayboards, title: Boards }, address: { from: settings, where: { name: address }, value: value } }
kinds:
  - id: quayboards/board
    rows:
      from: boards
      name: '{slug}'
      title: '{slug}'
      value: { first: first_button, note: note, buttons: { list: { from: buttons, on: { board_id: id }, order: [place, id], id: id, value: { label: label, page: page } } } }
    belongings: [{ path: '$.buttons[*]', id: id, known: button, by: [$.label, $.page] }]
    references: [{ path: $.first, to: button }]
  - id: quayboards/setting
    rows: { from: settings, where: { name: { not: [address] } }, name: '{name}', title: '{name}', value: { value: value } }
    codecs: [{ path: $.value, codec: json }]
    references: [{ path: $.value.main, to: button, loose: true }, { path: '$.value.order[*]', to: button }, { path: $.value.colours, to: button, in: keys }]
`;
const tables = (counted: string): string => `
create table boards (id ${counted}, slug varchar(50) not null unique, first_button bigint not null default 0, note varchar(100) not null default '');
create table buttons (id ${counted}, board_id bigint not null, label varchar(50) not null default '', page varchar(50) not null default '', place integer not null default 0);
create table settings (name varchar(100) not null primary key, value text not null);`;

type Button = [label: string, page?: string];
/** A board with buttons from an id on; its first button is the last of them. */
const board = (id: number, slug: string, from: number, buttons: readonly Button[]): string => `
insert into boards (id, slug, first_button) values (${id}, '${slug}', ${from + buttons.length - 1});
${buttons.map(([label, page = ''], i) => `insert into buttons (id, board_id, label, page, place) values (${from + i}, ${id}, '${label}', '${page}', ${i});`).join('\n')}`;
const setting = (name: string, value: unknown): string => `insert into settings values ('${name}', '${JSON.stringify(value)}');`;

const QUAY: readonly Button[] = [['Go Aboard'], ['Go Aboard'], ['', 'fares'], ['Ask']];

inEverySort('what lies in items and is meant by its own id', (sort, site) => tables(COUNTED[sort]) + (site === 'dev'
  ? `insert into settings values ('address', 'https://dev.skerrin.example');${board(3, 'quay', 11, QUAY)}${board(4, 'deck', 31, [['Night']])}${setting('buttons', { main: 12, order: [14, 13, 12], colours: { 11: 'red', 31: 'blue' }, width: 12 })}`
  : `insert into settings values ('address', 'https://live.skerrin.example');${board(70, 'deck', 71, [['Late'], ['Night']])}insert into buttons (id, board_id, label) values (90, 99, 'of nobody');`), (pair) => {
  const run = (...words: string[]) => pair.bench.run(...words);
  const configure = (keep?: string): void => { pair.configure((name) => [...addressed(name), 'layout: boards.yaml', ...(keep !== undefined && name === 'live' ? [`keep: ['${keep}']`] : [])]); writeFileSync(pair.bench.path('boards.yaml'), LAYOUT); };
  const button = (slug: string, label: string, nth = 0): number => Number(pair.rows(`select u.id from buttons u join boards b on b.id = u.board_id where b.slug = '${slug}' and u.label = '${label}' order by u.place`)[nth]?.[0]);
  const first = (slug: string): string | undefined => pair.rows(`select first_button from boards where slug = '${slug}'`)[0]?.[0];
  const buttons = (): unknown => { const text = pair.rows("select value from settings where name = 'buttons'")[0]?.[0]; return text === '' ? undefined : JSON.parse(text ?? ''); };

  test('travels by what it is called, in its own item and in others; after what it lies in was written', async () => {
    configure();
    const route = await run('route', 'dev', 'live', 'setting:buttons');
    expect([route.err, route.out]).toEqual(['', expect.stringMatching(/create +board:quay[^]*create +setting:buttons[^]*complete +board:quay +gets its references to button:quay\/ask[^]*complete +setting:buttons +gets its references to button:quay\/go-aboard/)]);
    const ran = await run('import', 'dev', 'live', 'setting:buttons', '--yes', '--json');
    expect([ran.code, (JSON.parse(ran.out) as { unequal: unknown }).unequal]).toEqual([0, []]);
    const night = button('deck', 'Night');
    expect(night).toBe(72);
    expect(buttons()).toEqual({ main: button('quay', 'Go Aboard', 1), order: [button('quay', 'Ask'), button('quay', ''), button('quay', 'Go Aboard', 1)], colours: { [button('quay', 'Go Aboard')]: 'red', [night]: 'blue' }, width: 12 });
    expect(first('quay')).toBe(String(button('quay', 'Ask')));
    expect((await run('import', 'dev', 'live', 'setting:buttons', '--yes')).out).toContain('Nothing to do');
    expect((await run('show', 'dev', 'board:quay', '--json')).out).toContain('"address": "setting:buttons"');
    expect((await run('undo', 'live', '--yes')).code).toBe(0);
    expect([first('quay'), buttons()]).toEqual(['', undefined]);
  });

  test('comes along in a file, or has to be there', async () => {
    expect((await run('export', 'dev', 'setting:buttons', '-o', 'whole.pochette')).code).toBe(0);
    const alone = await run('export', 'dev', 'setting:buttons', '--alone', '-o', 'alone.pochette');
    expect(alone.out).toContain('refers to board:quay, which is not in the file');
    const refused = await run('import', 'alone.pochette', 'live', '--yes');
    expect([refused.code, refused.out]).toEqual([3, expect.stringMatching(/button:quay\/go-aboard-2/)]);
    const left = await run('import', 'alone.pochette', 'live', '--yes', '--leave-unmatched');
    expect([left.code, buttons()]).toEqual([0, { main: 0, order: [], colours: { [button('deck', 'Night')]: 'blue' }, width: 12 }]);
    expect((await run('import', 'whole.pochette', 'live', '--yes', '--decide', 'source')).code).toBe(0);
    expect(buttons()).toMatchObject({ main: button('quay', 'Go Aboard', 1) });
    for (let runs = 0; runs < 2; runs++) expect((await run('undo', 'live', '--yes')).code).toBe(0);
  });

  test('goes through a folder, where it has no id', async () => {
    appendFileSync(pair.bench.path('pochette.yaml'), '  repo: { url: folder:configuration }\n');
    expect((await run('import', 'dev', 'repo', '--yes')).code).toBe(0);
    expect((await run('show', 'repo', 'setting:buttons')).out).toContain('button:quay/go-aboard-2');
    expect((await run('compare', 'dev', 'repo')).out).toMatch(/0 new, 0 differ, 3 same/);
    expect((await run('import', 'repo', 'live', '--yes', '--decide', 'source')).code).toBe(0);
    expect(buttons()).toMatchObject({ main: button('quay', 'Go Aboard', 1), width: 12 });
    expect((await run('undo', 'live', '--yes')).code).toBe(0);
  });

  test('lies in an item that gets another name, or in one that the target keeps', async () => {
    expect((await run('import', 'dev', 'live', 'setting:buttons', '--yes', '--as', 'board:quay=board:pier')).code).toBe(0);
    expect([buttons(), first('pier')]).toEqual([expect.objectContaining({ main: button('pier', 'Go Aboard', 1) }), String(button('pier', 'Ask'))]);
    expect((await run('undo', 'live', '--yes')).code).toBe(0);
    configure('board:deck');
    const kept = await run('import', 'dev', 'live', '--yes');
    expect([kept.code, button('deck', 'Late') > 0, buttons()]).toEqual([0, true, expect.objectContaining({ colours: { [button('quay', 'Go Aboard')]: 'red', [button('deck', 'Night')]: 'blue' } })]);
    expect((await run('undo', 'live', '--yes')).code).toBe(0);
    pair.rows("update buttons set label = 'Dawn' where label = 'Night'");
    const lacking = await run('import', 'dev', 'live', '--yes');
    expect([lacking.code, lacking.out, buttons()]).toEqual([3, expect.stringMatching(/setting:buttons[^]*button:deck\/night/), undefined]);
  });
});
