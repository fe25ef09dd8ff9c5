import { expect, test } from '@jest/globals';
import { addressed, COUNTED, inEverySort } from '../helpers/databasepair.ts';
import type { Sort } from '../helpers/quayside.ts';

/** Documents that point to one of their versions, which nothing names; labels of which one was thrown away; branches that say where their tree begins. */
function statements(sort: Sort, site: 'dev' | 'live'): string {
  const [id, dev] = [COUNTED[sort], site === 'dev'];
  const n = (own: number): number => own + (dev ? 0 : 300);
  const time = { sqlite: 'text', mysql: 'datetime', postgres: 'timestamp' }[sort];
  const AT = "'2026-01-05 10:00:00'";
  return `
create table docs (id ${id}, slug varchar(60) not null unique, live_version_id bigint);
create table doc_versions (id ${id}, doc_id bigint not null, number int not null, body text, foreign key (doc_id) references docs (id) on delete cascade);
create table branches (id ${id}, slug varchar(60) not null unique, root_id bigint);
create table labels (id ${id}, name varchar(60) not null, deleted_at ${time}, colour varchar(10));
create table label_ties (label_id bigint not null, labelled_type varchar(60) not null, labelled_id bigint not null, primary key (label_id, labelled_type, labelled_id));
create table prefs (id ${id}, name varchar(60) not null unique, payload text);
insert into docs values (${n(1)}, 'start', ${n(11)})${dev ? ", (2, 'fares', 13)" : ''};
insert into doc_versions values (${n(10)}, ${n(1)}, 1, 'x'), (${n(11)}, ${n(1)}, 2, 'x')${dev ? ", (13, 2, 1, 'x')" : ''};
insert into branches values (${n(21)}, 'fleet', ${n(21)})${dev ? ", (22, 'boats', 21), (23, 'ropes', 21)" : ''};
insert into labels values (${n(95)}, 'Blue', null, 'b')${dev ? `, (96, 'Gone', ${AT}, 'g'), (97, 'Red', null, 'r')` : ''};
${dev ? `insert into label_ties values (95, 'doc', 2), (96, 'doc', 2), (97, 'branch', 22), (96, 'branch', 23);
insert into prefs values (1, 'main', '[{"type":"doc","id":2,"label":"Fares","children":[{"type":"branch","id":23}]}]');` : ''}`;
}

inEverySort('ids of what nothing describes', statements, (pair) => {
  const seen = (): Record<string, string[]> => ({
    docs: pair.lines('select d.slug, v.number from docs d left join doc_versions v on v.id = d.live_version_id order by 1'), branches: pair.lines('select b.slug, r.slug from branches b left join branches r on r.id = b.root_id order by 1'),
    ties: pair.lines("select l.name, t.labelled_type, d.slug, b.slug from label_ties t left join labels l on l.id = t.label_id left join docs d on d.id = t.labelled_id and t.labelled_type = 'doc' left join branches b on b.id = t.labelled_id and t.labelled_type = 'branch' order by 1"),
  });
  test('stay as they are on each site, and are told; rows that lead to what was thrown away stay behind', async () => {
    expect(await pair.drafted(addressed)).toContain('    siteBound: [$.live_version_id]\n');
    const before = seen();
    expect(before['docs']).toEqual(['start 2']);
    const refused = await pair.bench.run('import', 'dev', 'live', '--yes');
    expect([refused.code, refused.out]).toEqual([3, expect.stringMatching(/docs:fares#\/label_ties\/\d\/label_id refers to nothing: the id 96/) as unknown]);
    const ran = await pair.bench.run('import', 'dev', 'live', '--leave-unmatched', '--yes');
    expect([ran.err, ran.out]).toEqual(['', expect.stringContaining('every item on live equals what was carried') as unknown]);
    expect(ran.out).toContain('set docs:fares#/live_version_id: it belongs to each site');
    expect(seen()).toEqual({ docs: ['fares ', 'start 2'], branches: ['boats fleet', 'fleet fleet', 'ropes fleet'], ties: ['Blue doc fares ', 'Red branch  boats'] });
    const [fares, ropes] = [...pair.lines("select id from docs where slug = 'fares'"), ...pair.lines("select id from branches where slug = 'ropes'")];
    expect(pair.lines('select payload from prefs')).toEqual([`[{"type":"doc","id":${fares ?? ''},"label":"Fares","children":[{"type":"branch","id":${ropes ?? ''}}]}]`]);
    expect((await pair.bench.run('import', 'dev', 'live', '--leave-unmatched', '--yes')).out).toContain('Nothing to do');
    expect((await pair.bench.run('undo', 'live', '--yes')).code).toBe(0);
    expect(seen()).toEqual(before);
  });
});
