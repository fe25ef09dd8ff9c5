import { expect, test } from '@jest/globals';
import { addressed, inEverySort } from '../helpers/databasepair.ts';
import type { Sort } from '../helpers/quayside.ts';

/** Keys of sixteen bytes that a program makes up, which nothing but their names says where there is no foreign key. */
function statements(sort: Sort, site: 'dev' | 'live'): string {
  const dev = site === 'dev';
  const bytes = { sqlite: 'blob', mysql: 'binary(16)', postgres: 'bytea' }[sort];
  const json = { sqlite: 'text', mysql: 'json', postgres: 'jsonb' }[sort];
  const id = (one: string): string => `${one}${dev ? 'de' : '11'}${'0'.repeat(24)}${dev ? '0177' : '0277'}`;
  const key = (one: string): string => (sort === 'postgres' ? `'\\x${id(one)}'` : `x'${id(one)}'`);
  const to = (column: string, table: string): string => `, foreign key (${column}) references ${table} (id) on delete cascade`;
  return `
create table language (id ${bytes} not null primary key, name varchar(50) not null);
create table page (id ${bytes} not null primary key, parent_id ${bytes}, layout varchar(30));
create table channel (id ${bytes} not null primary key, technical_name varchar(60) not null unique, front_page_id ${bytes});
create table page_translation (page_id ${bytes} not null, language_id ${bytes} not null, name varchar(80), body text, primary key (page_id, language_id)${to('language_id', 'language')}${to('page_id', 'page')});
create table section (id ${bytes} not null primary key, page_id ${bytes} not null, position int not null default 0, type varchar(30)${to('page_id', 'page')});
create table block (id ${bytes} not null primary key, section_id ${bytes} not null, position int not null default 0, type varchar(30)${to('section_id', 'section')});
create table slot (id ${bytes} not null primary key, block_id ${bytes} not null, slot varchar(20), config ${json}${to('block_id', 'block')});
create table setting (id ${bytes} not null primary key, name varchar(120) not null, value ${json});
create table channel_setting (id ${bytes} not null primary key, channel_id ${bytes}, name varchar(120) not null, value ${json}${to('channel_id', 'channel')});
create table flow (id ${bytes} not null primary key, name varchar(80) not null);
create table flow_step (id ${bytes} not null primary key, flow_id ${bytes} not null, parent_id ${bytes}, action_name varchar(60), position int not null default 1${to('flow_id', 'flow')});
insert into language values (${key('a1')}, 'Deutsch'), (${key('a2')}, 'English');
insert into page values (${key('b1')}, null, 'wide')${dev ? `, (${key('b2')}, ${key('b1')}, 'wide'), (${key('b3')}, ${key('b2')}, 'slim')` : ''};
insert into page_translation values (${key('b1')}, ${key('a2')}, 'Home', '')${dev ? `, (${key('b2')}, ${key('a2')}, 'Haven', '<a href="/detail/${id('b3')}#">l</a>'), (${key('b2')}, ${key('a1')}, 'Hafen', ''), (${key('b3')}, ${key('a2')}, 'Lounge', '')` : ''};
insert into channel values (${key('c1')}, 'front', ${key('b1')});
${dev ? `insert into section values (${key('d1')}, ${key('b2')}, 1, 'plain'); insert into block values (${key('e1')}, ${key('d1')}, 1, 'image');
insert into slot values (${key('f1')}, ${key('e1')}, 'left', '{"page":{"value":"${id('b3')}"}}'), (${key('f2')}, ${key('e1')}, 'right', '{"page":{"value":"${id('b1')}"}}');
insert into setting values (${key('91')}, 'thanks', '{"page":"${id('b2')}"}'); insert into channel_setting values (${key('81')}, ${key('c1')}, 'home', '{"page":"${id('b2')}"}');
insert into flow values (${key('71')}, 'Mail'); insert into flow_step values (${key('61')}, ${key('71')}, null, 'send', 1), (${key('62')}, ${key('71')}, ${key('61')}, 'tag', 2);` : ''}`;
}

inEverySort('made keys of bytes', statements, (pair, sort) => {
  const hex = (column: string): string => (sort === 'postgres' ? `encode(${column}, 'hex')` : `lower(hex(${column}))`);
  const seen = (): Record<string, string[]> => ({
    pages: pair.lines('select t.name, l.name, q.name from page_translation t left join language l on l.id = t.language_id left join page p on p.id = t.page_id left join page_translation q on q.page_id = p.parent_id and q.language_id = (select id from language where name = \'English\') order by 1'),
    slots: pair.lines('select t.name, s.type, b.type, o.slot from slot o left join block b on b.id = o.block_id left join section s on s.id = b.section_id left join page_translation t on t.page_id = s.page_id order by 1, 4'),
    channel: pair.lines('select c.technical_name, t.name from channel c left join page_translation t on t.page_id = c.front_page_id'), flow: pair.lines('select f.name, s.action_name, q.action_name from flow_step s left join flow f on f.id = s.flow_id left join flow_step q on q.id = s.parent_id order by 2'),
  });
  test('are followed in columns without a foreign key and in JSON; what lies three deep is a part; new rows get keys', async () => {
    const draft = await pair.drafted(addressed);
    expect(draft).toContain("fields: { from: channel_setting, on: { channel_id: id }, key: name, value: value, create: { id: '{uuid}' } }");
    const before = seen();
    const ran = await pair.bench.run('import', 'dev', 'live', '--yes', '--decide', 'source');
    expect([ran.err, ran.out]).toEqual(['', expect.stringContaining('every item on live equals what was carried') as unknown]);
    expect(seen()).toEqual({
      pages: ['Hafen Deutsch Home', 'Haven English Home', 'Home English ', 'Lounge English Haven'], slots: ['Hafen', 'Haven'].flatMap((page) => ['left', 'right'].map((slot) => `${page} plain image ${slot}`)),
      channel: ['front Home'], flow: ['Mail send ', 'Mail tag send'],
    });
    const [lounge = '', haven = ''] = ['Lounge', 'Haven'].flatMap((name) => pair.lines(`select ${hex('page_id')} from page_translation where name = '${name}'`));
    expect(lounge).not.toContain('de00');
    expect(pair.lines("select body from page_translation where name = 'Haven'")).toEqual([`<a href="/detail/${lounge}#">l</a>`]);
    expect(pair.lines("select config from slot where slot = 'left'").map((text) => text.replaceAll(' ', ''))).toEqual([`{"page":{"value":"${lounge}"}}`]);
    expect(pair.lines('select value from setting').concat(pair.lines('select value from channel_setting')).map((text) => text.replaceAll(' ', ''))).toEqual([`{"page":"${haven}"}`, `{"page":"${haven}"}`]);
    expect((await pair.bench.run('import', 'dev', 'live', '--yes')).out).toContain('Nothing to do');
    expect((await pair.bench.run('undo', 'live', '--yes')).code).toBe(0);
    expect(seen()).toEqual(before);
  });
});
