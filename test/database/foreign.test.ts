import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Row } from '../../src/sites/database/cells.ts';
import type { Table } from '../../src/sites/database/engine.ts';
import { portions } from '../../src/sites/database/foreign.ts';
import { addressed, COUNTED, inEverySort } from '../helpers/databasepair.ts';
import type { Sort } from '../helpers/quayside.ts';

describe('rows that foreign keys hold', () => {
  const table = (name: string, ...foreign: Table['foreign']): Table => ({ name, columns: new Map(), key: ['id'], counted: 'id', transactional: true, foreign });
  const own = { to: 'zones', columns: [{ from: 'above', to: 'id' }], goes: false };

  test('come after those that they point to, whatever the order in which they are given', () => {
    const [zones, cards, texts] = [table('zones', own), table('cards', { to: 'zones', columns: [{ from: 'zone', to: 'id' }], goes: false }), table('texts', { to: 'cards', columns: [{ from: 'card', to: 'id' }], goes: true })];
    const tree = fc.integer({ min: 1, max: 20 }).chain((size) => fc.tuple(...Array.from({ length: size }, (_, i) => fc.option(fc.integer({ min: 0, max: Math.max(0, i - 1) }), { nil: undefined }))));
    fc.assert(fc.property(tree.chain((above) => fc.shuffledSubarray<{ table: Table; row: Row }>([
      ...above.map((one, i) => ({ table: zones, row: { id: String(i), above: one === undefined || i === 0 ? null : String(one) } })), { table: cards, row: { id: '1', zone: '0' } }, { table: texts, row: { id: '1', card: '1' } },
    ], { minLength: above.length + 2 })), (rows) => {
      const order: Record<string, unknown>[] = portions(rows).flatMap((one) => one.rows.map((row) => ({ ...row, table: one.table.name })));
      expect(order).toHaveLength(rows.length);
      const place = (name: string, id: string): number => order.findIndex((one) => one['table'] === name && one['id'] === id);
      order.forEach((one, i) => { if (typeof one['above'] === 'string') expect(place('zones', one['above'])).toBeLessThan(i); });
      expect(place('cards', '1')).toBeGreaterThan(order.findLastIndex((one) => one['table'] === 'zones'));
      expect(place('texts', '1')).toBeGreaterThan(place('cards', '1'));
    }));
  });

  test('in a circle are given as they are: the server says what it thinks of them', () => {
    const zones = table('zones', own);
    expect(portions([{ table: zones, row: { id: '1', above: '2' } }, { table: zones, row: { id: '2', above: '1' } }, { table: zones, row: { id: '3', above: '3' } }]).map((one) => one.rows.map((row) => row['id']))).toEqual([['3'], ['1', '2']]);
  });
});

/** Zones in a tree, cards with a key that a machine made, their texts by language, their zones, and settings that two columns name. No foreign key lets go. */
function statements(sort: Sort, site: 'dev' | 'live'): string {
  const dev = site === 'dev';
  const [zone, uuid] = [(n: number): number => (dev ? 20 : 300) + n, (n: number): string => `${dev ? 'a' : 'b'}000000${n}-0000-4000-8000-00000000000${n}`];
  return `
create table zones (id ${COUNTED[sort]}, name varchar(50) not null, above bigint, best_card char(36), foreign key (above) references zones (id));
create table cards (uuid char(36) not null primary key, slug varchar(50) not null unique, zone_id bigint not null, foreign key (zone_id) references zones (id));
create table card_texts (card_uuid char(36) not null, lang varchar(5) not null, title varchar(100) not null, primary key (card_uuid, lang), foreign key (card_uuid) references cards (uuid));
create table card_zones (card_uuid char(36) not null, zone_id bigint not null, foreign key (card_uuid) references cards (uuid), foreign key (zone_id) references zones (id));
create table config (scope varchar(20) not null, name varchar(50) not null, value varchar(100), primary key (scope, name));
insert into zones (id, name, above) values (${zone(1)}, 'North isles', null)${dev ? `, (${zone(2)}, 'Oxna', ${zone(1)}), (${zone(3)}, 'Far Oxna', ${zone(2)})` : ''};
insert into cards values ('${uuid(1)}', 'summer', ${dev ? zone(3) : zone(1)})${dev ? `, ('${uuid(2)}', 'winter', ${zone(2)})` : ''};
update zones set best_card = '${uuid(1)}';
insert into card_texts values ('${uuid(1)}', 'en', 'Summer'), ('${uuid(1)}', 'de', '${dev ? 'Sommer' : '?'}')${dev ? `, ('${uuid(2)}', 'en', 'Winter'), ('${uuid(1)}', 'nn', 'Sumar')` : ''};
insert into card_zones values ('${uuid(1)}', ${zone(1)})${dev ? `, ('${uuid(1)}', ${zone(3)}), ('${uuid(2)}', ${zone(3)})` : ''};
insert into config values ('default', 'currency', '${dev ? 'EUR' : 'GBP'}'), ('north', 'currency', 'GBP')${dev ? ", ('north', 'a/b', 'x~1')" : ''};
`;
}

inEverySort('foreign keys, made keys and keys of several columns', statements, (pair) => {
  const { bench } = pair;
  const rows = (query: string): string[][] => pair.rows(query);
  const everything = (): string[][][] => ['zones order by id', 'cards order by slug', 'card_texts order by card_uuid, lang', 'card_zones order by card_uuid, zone_id', 'config order by scope, name'].map((one) => rows(`select * from ${one}`));

  test('a draft describes them; everything is carried, read back and undone', async () => {
    const draft = await pair.drafted(addressed);
    expect(draft).toContain('card_texts: { list: { from: card_texts, on: { card_uuid: uuid }, order: [lang], id: lang, value: { lang: lang, title: title } } }');
    expect(draft).toContain("create: { uuid: '{uuid}' }");
    expect(draft).toContain('key: [card_uuid, zone_id]');
    expect(draft).toContain('scope and name together name it');
    // Rows of a link belong to one item only.
    expect(draft.match(/from: card_zones/g)).toHaveLength(1);
    const before = everything();
    const ran = await bench.run('import', 'dev', 'live', '--yes', '--json');
    expect(ran.err).toBe('');
    expect(JSON.parse(ran.out)).toMatchObject({ created: 4, updated: 2, unequal: [] });
    expect((JSON.parse((await bench.run('list', 'live', '--json')).out) as { items: { address: string }[] }).items.map((one) => one.address).filter((one) => one.startsWith('config:'))).toEqual(['config:default/currency', 'config:north/a~1b', 'config:north/currency']);
    const names = 'select c.slug, z.name, u.name from cards c join zones z on z.id = c.zone_id left join zones u on u.id = z.above order by c.slug';
    expect(rows(names)).toEqual([['summer', 'Far Oxna', 'Oxna'], ['winter', 'Oxna', 'North isles']]);
    expect(rows('select c.slug, t.lang, t.title from card_texts t join cards c on c.uuid = t.card_uuid order by c.slug, t.lang')).toEqual([['summer', 'de', 'Sommer'], ['summer', 'en', 'Summer'], ['summer', 'nn', 'Sumar'], ['winter', 'en', 'Winter']]);
    expect(rows('select c.slug, z.name from card_zones l join cards c on c.uuid = l.card_uuid join zones z on z.id = l.zone_id order by c.slug, z.name')).toEqual([['summer', 'Far Oxna'], ['summer', 'North isles'], ['winter', 'Far Oxna']]);
    expect(rows('select scope, name, value from config order by scope, name')).toEqual([['default', 'currency', 'EUR'], ['north', 'a/b', 'x~1'], ['north', 'currency', 'GBP']]);
    expect(rows("select count(*) from cards where length(uuid) = 36 and uuid not like 'a000000%'")).toEqual([['2']]);
    expect((await bench.run('import', 'dev', 'live', '--yes')).out).toContain('Nothing to do');
    const undone = await bench.run('undo', 'live', '--yes');
    expect([undone.err, undone.code]).toEqual(['', 0]);
    expect(everything()).toEqual(before);
    // What is brought back has to be in the other order.
    const again = await bench.run('undo', 'live', /undo live ([\w-]+)"/.exec(undone.out)?.[1] ?? '', '--yes');
    expect([again.err, again.code]).toEqual(['', 0]);
    expect(rows(names)).toEqual([['summer', 'Far Oxna', 'Oxna'], ['winter', 'Oxna', 'North isles']]);
  });
});

/** Rules and offers that mean one another, where the key of the rows that belong to a rule has an offer in it. */
function inCircle(sort: Sort, site: 'dev' | 'live'): string {
  const offer = (n: number): number => (site === 'dev' ? 3 : 30) + n;
  return `
create table rules (id ${COUNTED[sort]}, name varchar(50) not null unique);
create table offers (id ${COUNTED[sort]}, slug varchar(50) not null unique, rule_id bigint not null default 0);
create table rule_offers (rule_id bigint not null, offer_id bigint not null, weight integer not null default 0, primary key (rule_id, offer_id));
insert into offers (id, slug) values (${offer(0)}, 'winter');
${site === 'dev' ? `insert into offers (id, slug, rule_id) values (${offer(1)}, 'spring', 7); insert into rules (id, name) values (7, 'early'); insert into rule_offers values (7, ${offer(0)}, 60), (7, ${offer(1)}, 5);` : ''}`;
}

inEverySort('rows whose key holds a reference in a circle', inCircle, (pair) => {
  test('are made when what they mean is there, with what they say of it; an undo takes all away', async () => {
    await pair.drafted();
    const all = (): string[][] => pair.rows('select r.name, o.slug, i.weight from rule_offers i join rules r on r.id = i.rule_id left join offers o on o.id = i.offer_id order by i.weight');
    expect(JSON.parse((await pair.bench.run('import', 'dev', 'live', '--yes', '--json')).out)).toMatchObject({ created: 2, unequal: [] });
    expect(all()).toEqual([['early', 'spring', '5'], ['early', 'winter', '60']]);
    expect(pair.rows("select count(*) from offers o join rules r on r.id = o.rule_id where o.slug = 'spring'")).toEqual([['1']]);
    expect((await pair.bench.run('undo', 'live', '--yes')).code).toBe(0);
    expect(pair.rows('select count(*) from rule_offers')).toEqual([['0']]);
  });
});
