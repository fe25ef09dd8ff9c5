import { writeFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import { DatabasePair } from '../helpers/databasepair.ts';

// Records that lie in a packed value which is an object of a class, and settings that are one.
const LAYOUT = `format: 1
name: tides
title: Tides
tables: { settings: { name: settings } }
facts: { cms: { name: tides, title: Tides }, address: { from: settings, where: { name: address }, value: value } }
kinds:
  - id: tides/settings
    rows: { from: settings, where: { name: { not: [address, types] } }, name: '{name}', value: { option: value } }
    codecs: [{ path: $.option, codec: php }]
    references: [{ path: $.option.type, by: name, to: type }]
  - id: tides/type
    rows: { from: settings, where: { name: types }, inside: { column: value, codec: php }, title: '{label}', value: {} }
    codecs: [{ path: $.record, codec: php }]
`;
const type = (name: string): string => `s:${name.length}:"${name}";a:1:{s:5:"label";s:${name.length}:"${name}";}`;

const pair = new DatabasePair('sqlite', (site) => `
create table settings (name varchar(60) not null primary key, value text);
insert into settings values ('address', 'https://${site}.skerrin.example'), ('types', 'O:5:"Tides":${site === 'dev' ? 2 : 1}:{${site === 'dev' ? type('neap') : ''}${type('spring')}}');
${site === 'dev' ? 'insert into settings values (\'next\', \'O:4:"Tide":2:{s:4:"type";s:4:"gone";s:2:"on";b:1;}\'), (\'last\', \'O:4:"Tide":1:{s:4:"type";s:4:"neap";}\');' : ''}
`);

test('stay objects of their class, as what lies in them comes and goes', async () => {
  writeFileSync(pair.bench.path('tides.yaml'), LAYOUT);
  pair.configure(() => ['layout: tides.yaml']);
  const all = (): string[][] => pair.rows('select name, value from settings order by name');
  const before = all();
  const ran = await pair.bench.run('import', 'dev', 'live', '--leave-unmatched', '--yes', '--json');
  expect([ran.err, ran.code]).toEqual(['', 0]);
  expect(all()).toEqual([
    ['address', 'https://live.skerrin.example'], ['last', 'O:4:"Tide":1:{s:4:"type";s:4:"neap";}'], ['next', 'O:4:"Tide":2:{s:4:"type";s:0:"";s:2:"on";b:1;}'],
    ['types', `O:5:"Tides":2:{${type('spring')}${type('neap')}}`],
  ]);
  expect((await pair.bench.run('import', 'dev', 'live', '--leave-unmatched', '--yes')).out).toContain('Nothing to do');
  expect((await pair.bench.run('undo', 'live', '--yes')).code).toBe(0);
  expect(all()).toEqual(before);
});
