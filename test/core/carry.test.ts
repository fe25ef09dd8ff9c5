import { describe, expect, test } from '@jest/globals';
import { checkRequirements, compileKinds, Importer, makeAddress, nearest, parseAddress, parseSelector, partsWithNeeds, project, RequirementList, requirementsOf, selection, settle, type Facts, type Json } from '../../src/core/index.ts';
import { pairedTest } from '../helpers/streams.ts';
import { kindOf, portableOf, twoSites } from '../helpers/arbitrary.ts';
import fc from 'fast-check';

const KIND = kindOf({
  id: 'tholepin/template', codecs: [{ path: '$.option', codec: 'json' }, { path: '$.html', codec: 'html' }],
  keyed: [{ path: '$..rows', key: 'key' }], belongings: [{ path: '$..rows[*]', id: 'id' }],
  references: [{ path: '$..to', to: 'template' }],
  siteBound: ['$.option.mail.sender'], secret: ['$.option.pay.key', '$.rows[*].secret'], volatile: ['$.views'],
  parts: [{ name: 'mail', title: 'Mail', paths: ['$.option.mail'] }, { name: 'rows', title: 'Rows', paths: ['$.rows'], needs: ['mail'] }],
});
const { dev, live, kinds } = twoSites(KIND, ['a', 'b']);
const carry = (source: unknown, target: unknown, covers: 'all' | string[] = 'all'): unknown => {
  const { value } = portableOf(dev, KIND, source);
  const item = project(KIND, { address: 'template:a', kind: KIND.id, covers: 'all', value }, covers);
  return new Importer(live, kinds).local(KIND, item, target).value;
};

describe('what comes to a target that has the item', () => {
  const source = { title: 'New', views: 1, option: JSON.stringify({ pay: { key: 'dev-key', on: true }, mail: { sender: 'dev@x', text: 'hello' } }), rows: [{ id: 5, key: 'n', to: 1_000_001 }, { id: 6, key: 'o', to: 0, secret: 's-dev' }] };
  const target = { views: 900, old: true, option: '{"mail":{"text":"bye","sender":"live@x"},"pay":{"key":"live-key","on":false},"extra":1}', rows: [{ id: 70, key: 'o', to: 2_000_000, secret: 's-live' }, { id: 71, key: 'gone', to: 0 }], title: 'Old' };

  test('inside the coverage it becomes equal; secrets, site-bound, volatile values and ids of belongings stay', () => {
    expect(carry(source, target)).toEqual({
      title: 'New', views: 900, option: '{"mail":{"text":"hello","sender":"live@x"},"pay":{"key":"live-key","on":true}}',
      rows: [{ key: 'n', to: 2_000_001 }, { id: 70, key: 'o', to: 0, secret: 's-live' }],
    });
  });

  test('outside the coverage nothing changes', () => {
    expect(carry(source, target, ['mail'])).toEqual({ ...target, option: '{"mail":{"text":"hello","sender":"live@x"},"pay":{"key":"live-key","on":false},"extra":1}' });
  });

  test('a secret stays also where the source lacks everything around it, and nothing leaves the source', () => {
    expect(carry({ title: 'x', option: '{}', rows: [] }, target)).toMatchObject({ option: '{"mail":{"sender":"live@x"},"pay":{"key":"live-key"}}', rows: [] });
    const { value, withheld } = portableOf(dev, KIND, source);
    expect(JSON.stringify(value)).not.toMatch(/dev-key|s-dev|dev@x/);
    expect(withheld).toEqual([{ at: '/option/mail/sender', why: 'site-bound' }, { at: '/option/pay/key', why: 'secret' }, { at: '/rows/o/secret', why: 'secret' }, { at: '/views', why: 'volatile' }]);
  });

  test('a serialised map of which only secrets are left out arrives as the empty one that it reads like, and takes up the secrets of the target', () => {
    const kind = kindOf({ id: 'tholepin/template', codecs: [{ path: '$.option', codec: 'php' }], secret: [{ path: '$..*', named: ['*secret*'] }] });
    const php = (members: string): string => `a:2:{s:6:"colour";s:3:"red";s:6:"social";a:${members === '' ? 0 : 1}:{${members}}}`;
    const [own, theirs] = [php('s:10:"app_secret";s:3:"dev";'), php('s:10:"app_secret";s:4:"live";')];
    const item = { value: portableOf(dev, kind, { option: own }).value, covers: 'all' as const };
    const carried = (existing?: unknown): unknown => new Importer(live, kinds).local(kind, item, existing).value;
    expect([carried(), carried({ option: theirs }), carried({ option: php('') })]).toEqual([{ option: php('') }, { option: theirs }, { option: php('') }]);
    for (const there of [theirs, php('')]) expect(portableOf(live, kind, { option: there }).value).toEqual(item.value);
    const [all, none] = ['a:1:{s:10:"app_secret";s:4:"live";}', 'a:0:{}'].map((option) => portableOf(live, kind, { option }).value);
    expect(all).toEqual(none);
    expect(new Importer(live, kinds).local(kind, { value: none as Json, covers: 'all' }, { option: 'a:1:{s:10:"app_secret";s:4:"live";}' }).value).toEqual({ option: 'a:1:{s:10:"app_secret";s:4:"live";}' });
  });

  test('a target in another spelling keeps its own order of members', () => {
    expect(carry({ option: '{"b":1,"a":2}' }, { option: '{"a":2,"b":9}' })).toEqual({ option: '{"a":2,"b":1}' });
  });
});

describe('references to nothing', () => {
  test('keep their raw id and are named', () => {
    const { value, lost } = portableOf(dev, KIND, { to: 1_777_777 });
    expect(lost).toEqual([{ at: '/to', raw: 1_777_777 }]);
    expect(new Importer(dev, kinds).local(KIND, { value, covers: 'all' }).value).toEqual({ to: 1_777_777 });
  });
  test('are emptied where that was decided', () => {
    const value: Json = { a: { '@lost': 7 }, b: { '@ref': 'template:x' }, list: [{ '@ref': 'template:x' }, { '@ref': 'template:a' }], text: 'see ⟦site⟧⟦path page:winter⟧', '⟦id template:x⟧': 1 };
    const settled = settle({ kind: KIND, value }, (address) => (address === 'template:a' ? undefined : address === 'page:winter' ? { to: 'page:snow' } : { leave: true }), () => '/p/', true);
    expect(settled).toEqual({ a: 0, b: 0, list: [{ '@ref': 'template:a' }], text: 'see ⟦site⟧⟦path page:snow⟧' });
  });
});

describe('addresses and selectors', () => {
  test('any name can be quoted and read back', () => {
    fc.assert(fc.property(fc.string({ unit: 'grapheme', minLength: 1 }), (name) => { expect(parseAddress(makeAddress('kind', name))).toEqual({ kind: 'kind', name }); }));
    expect(makeAddress('page', 'fares/night boat#1')).toBe('page:fares/night%20boat%231');
  });
  test('select by kind, owner, wildcard and part', () => {
    const chosen = (...texts: string[]) => selection(texts.map(parseSelector), 'settings:tickets', 'ticket-desk/settings');
    expect(chosen('settings:*')).toBe('all');
    expect(chosen('ticket-desk/settings:t?ckets')).toBe('all');
    expect(chosen('settings:tickets#mail', 'settings:tickets#fares')).toEqual(['fares', 'mail']);
    expect(chosen('weather/settings:*', 'settings:tick')).toBeUndefined();
    expect(() => parseSelector('dev')).toThrow(/not a selector/);
    expect(nearest('template:frnt', ['template:front', 'menu:main'])[0]).toBe('template:front');
  });
  test('a part brings the parts that it needs; an unknown one is refused with the known', () => {
    expect(partsWithNeeds(KIND, ['rows'])).toEqual(['mail', 'rows']);
    expect(() => partsWithNeeds(KIND, ['mial'])).toThrow(/no part "mial"/);
  });
});

describe('requirements', () => {
  const facts = (version: string, more: object = {}): Facts => ({
    cms: { name: 'tholepin', title: 'T', version: '1.0.0' }, site: { id: 'x', title: 'x', address: 'http://x.example' }, theme: { name: 'isles', title: 'I', version: '1.0.0', parent: { name: 'marsh', title: 'M', version: '1.0.0' } },
    extensions: [{ name: 'board', title: 'Board', version, active: true, tier: 'low', tiers: ['low', 'high'], features: { live: false }, ...more }],
    limits: { requestBytes: 1000, batchOperations: 10, uploadBytes: 100, uploadTypes: ['image/png'] }, abilities: { drafts: true, lock: true, ledger: true, wantedIds: false, media: true, transaction: false }, rights: ['read', 'write'],
  });
  const described = compileKinds([{ id: 'board/listing', version: 1, title: 'L', requires: [{ version: '>=2.0.0 <3.0.0', reads: '>=1.0.0 <2.5.0' }, { feature: 'live', when: { path: '$.live', is: true } }, { tier: 'high', when: { path: '$.look', is: 'cards' } }] }], 'test');
  const kind = described.get('board/listing') as never;
  const findings = (value: Json, source: string, target: Facts, there = described): string[] => {
    const list = new RequirementList();
    for (const one of requirementsOf(kind, 'listing:x', value, facts(source))) list.add(one, 'listing:x');
    return checkRequirements(list.list(), target, there).map((one) => `${one.requirement.need} ${one.finding}`);
  };

  test('are met where everything is there', () => { expect(findings({}, '2.1.0', facts('2.2.0'))).toEqual([]); });
  test('look in both directions', () => {
    expect(findings({}, '2.1.0', facts('1.9.0'))).toEqual(['extension too old']);
    expect(findings({}, '2.1.0', facts('3.1.0'))).toEqual(['extension too new']);
    expect(findings({}, '2.6.0', facts('2.2.0'))).toEqual(['kind source too new']);
  });
  test('a theme has to be active only for options of one that is active where they come from', () => {
    const options = compileKinds([{ id: 'tholepin/theme-options', version: 1, title: 'O', themeScoped: true }], 'test').get('tholepin/theme-options') as never;
    const themes = (name: string, source: Facts): string[] => requirementsOf(options, `theme-options:${name}`, {}, source).flatMap((one) => (one.need === 'theme' ? [one.theme] : []));
    expect(['isles', 'marsh', 'dunes'].map((name) => themes(name, facts('2.0.0')))).toEqual([['isles'], ['marsh'], []]);
    expect(themes('dunes', { ...facts('2.0.0'), theme: { name: '', title: '', version: '' } })).toEqual(['dunes']);
  });
  test('name the cause and not its consequences', () => {
    expect(findings({ live: true }, '2.1.0', facts('2.2.0', { active: false }), new Map())).toEqual(['extension inactive']);
    expect(findings({ live: true, look: 'cards' }, '2.1.0', facts('2.2.0'))).toEqual(['feature switched off', 'tier lower tier']);
    expect(findings({ live: false }, '2.1.0', facts('2.2.0'), new Map())).toEqual(['kind missing']);
  });
});

test('two sorted streams are walked as one', async () => {
  await fc.assert(fc.asyncProperty(fc.uniqueArray(fc.string({ maxLength: 3 })), fc.uniqueArray(fc.string({ maxLength: 3 })), pairedTest));
});

test.each([
  [{ parts: [{ name: 'p', title: 'P', paths: ['x'] }] }, /kind 1 of dev is not a valid description: a path starts with \$ at parts\.0\.paths\.0/],
  [{ references: [{ path: '$.a', otherwise: 'nobody' }] }, /at references\.0\.otherwise/],
  [{ converters: [{ from: '*', to: '*', version: 2, patch: [{ op: 'remove', path: 'a' }] }] }, /a JSON pointer is empty or starts with \/ at converters\.0\.patch\.0\.path/],
  [{ colour: 'red' }, /colour/],
])('a description of a kind with %j is refused with the place', (wrong, message) => {
  expect(() => compileKinds([{ id: 'a/b', version: 1, title: 'B', ...wrong }], 'dev')).toThrow(message);
});

describe('rules that hold at every depth', () => {
  const deep = kindOf({
    id: 'tholepin/template', codecs: [{ path: '$..*', codec: 'json' }, { path: '$.kept..*', codec: 'ordered' }],
    references: [{ path: '$..*', in: 'keys', to: 'template', loose: true }, { path: '$..*', to: 'template', loose: true, named: ['*_ids'] }],
  });
  const sites = twoSites(deep, ['a', 'b']);

  test('maps in maps keep their order, ids as keys are followed below one another, and a rule goes on inside what it opened', () => {
    const { value } = portableOf(sites.dev, deep, { kept: { outer: { z: { y: 1, x: 2 }, a: 3 } }, widths: { 1_000_000: { 1_000_001: 6 } }, packed: JSON.stringify({ inner: '{"b":1}', page_ids: [1_000_000, 7] }) });
    expect(value).toEqual({
      kept: { outer: { '@ordered': [['z', { '@ordered': [['y', 1], ['x', 2]] }], ['a', 3]] } },
      widths: { '⟦id template:a⟧': { '⟦id template:b⟧': 6 } },
      packed: { '@json': { inner: { '@json': { b: 1 } }, page_ids: [{ '@ref': 'template:a' }, 7] } },
    });
  });

  test('ids that are the names of all that was packed count as references', () => {
    const { references } = portableOf(sites.dev, deep, { packed: '{"1000000":1,"1000001":{"1000000":2}}' });
    expect(references.map(({ at, to }) => `${at} ${to}`)).toEqual(['/packed template:a', '/packed template:b', '/packed/⟦id template:b⟧ template:a']);
  });
});

describe('a value that means nothing where it is a certain one', () => {
  const kind = kindOf({ id: 'tholepin/template', volatile: ['$.seen', { path: '$.style', is: -1 }] });
  const sites = twoSites(kind, ['a']);
  const arrived = (source: object, target: object): unknown => new Importer(sites.live, sites.kinds).local(kind, { value: portableOf(sites.dev, kind, source).value, covers: 'all' }, target).value;

  test('is not part of the item, and stays on a target until another one arrives', () => {
    expect([{ style: -1, seen: 4 }, { style: 5 }, { style: '-1' }].map((one) => portableOf(sites.dev, kind, one).value)).toEqual([{}, { style: 5 }, { style: '-1' }]);
    expect([arrived({ a: 1, style: -1 }, { style: 7 }), arrived({ a: 1 }, { style: -1 }), arrived({ a: 1, style: 5 }, { style: -1 }), arrived({ style: -1 }, {})]).toEqual([{ a: 1 }, { a: 1, style: -1 }, { a: 1, style: 5 }, {}]);
  });
});
