import { expect, test } from '@jest/globals';
import { compileKinds, partsAt, type Kind } from '../../src/core/index.ts';
import { begin, lines, press, selectors, typed, type Key, type Line, type PickState } from '../../src/cli/pick/state.ts';
import { pulledIn, type PickList } from '../../src/jobs/pull.ts';

const part = (name: string, ask = false, together = [name]) => ({ name, title: name, ask, together });
const LIST: PickList = {
  kinds: [{ title: 'Forms', items: [{ address: 'form:a', title: 'Lost', parts: [part('fields'), part('style'), part('code', true, ['fields', 'code'])] }, { address: 'form:b', title: 'Group', parts: [] }] }, { title: 'Menus', items: [{ address: 'menu:main', title: 'Main', parts: [] }] }],
  pulls: new Map([['form:a', [{ to: 'menu:main', parts: ['style'] }, { to: 'page:x', parts: ['fields'] }, { to: 'style:a', parts: [] }]], ['menu:main', [{ to: 'form:b', parts: [] }, { to: 'form:a', parts: [] }]]]),
};
const keys = (state: PickState, ...list: Key[]): PickState => list.reduce(press, state);
const shape = (list: readonly Line[]): string[] => list.map((one) => (one.line === 'kind' ? one.kind.title : one.line === 'item' ? ` ${one.item.address} ${one.mark}` : `  ${one.part.name} ${one.mark}`));

test('kinds are folded; unfolded they show items, and these their parts', () => {
  const state = begin(LIST);
  expect(shape(lines(state))).toEqual(['Forms', 'Menus']);
  const open = keys(state, 'open', 'down', 'open');
  expect(shape(lines(open))).toEqual(['Forms', ' form:a none', '  fields none', '  style none', '  code none', ' form:b none', 'Menus']);
  expect(shape(lines(keys(open, 'down', 'fold')))).toEqual(['Forms', ' form:a none', ' form:b none', 'Menus']);
  expect(keys(open, 'fold', 'fold').cursor).toBe(0);
});

test('a kind, an item and parts are chosen; of an item chosen whole, what must be asked for stays out', () => {
  const open = keys(begin(LIST), 'open', 'down', 'open');
  expect(selectors(keys(begin(LIST), 'toggle').chosen)).toEqual(['form:a', 'form:b']);
  expect(selectors(keys(begin(LIST), 'toggle', 'toggle').chosen)).toEqual([]);
  const whole = keys(open, 'toggle');
  expect(shape(lines(whole)).slice(1, 5)).toEqual([' form:a whole', '  fields whole', '  style whole', '  code none']);
  expect(selectors(keys(whole, 'down', 'toggle').chosen)).toEqual(['form:a#style']);
  expect(selectors(keys(whole, 'down', 'down', 'down', 'toggle').chosen)).toEqual(['form:a#fields', 'form:a#style', 'form:a#code']);
  expect(selectors(keys(open, 'down', 'toggle', 'toggle').chosen)).toEqual([]);
});

test('typing searches in addresses, titles and kinds; the cursor stays inside', () => {
  const found = typed(begin(LIST), 'GROUP');
  expect(shape(lines(found))).toEqual(['Forms', ' form:b none']);
  expect(keys(found, 'page down').cursor).toBe(1);
  expect(keys(found, 'up', 'page up').cursor).toBe(0);
  expect(keys(typed(begin(LIST), 'x'), 'erase').filter).toBe('');
  expect(lines(typed(begin(LIST), 'nothing'))).toEqual([]);
  expect(keys(typed(begin(LIST), 'nothing'), 'toggle', 'open', 'fold').chosen.size).toBe(0);
});

test('a place lies in the parts whose paths lead to it, or to what is around it', () => {
  const [kind] = compileKinds([{ id: 'a/form', version: 1, title: 'Form', parts: [{ name: 'fields', title: 'Fields', paths: ['$.fields[*].label', '$.order[0]'] }, { name: 'style', title: 'Style', paths: ['$.style', '$..colour'] }] }], 'test').values();
  const of = (at: string): string[] => partsAt(kind as Kind, at);
  expect(['/fields/seats/label', '/fields/3/label/text', '/order/0/x', '/order/1', '/style/font', '/fields/seats/colour', '/title', ''].map(of)).toEqual([['fields'], ['fields'], ['fields'], [], ['style'], ['style'], [], []]);
});

test('what comes along, and for which item', () => {
  const along = (chosen: 'whole' | Set<string>) => [...pulledIn(LIST, new Map([['form:a', chosen]]))];
  expect(along('whole')).toEqual([['form:b', 'menu:main'], ['menu:main', 'form:a'], ['page:x', 'form:a'], ['style:a', 'form:a']]);
  expect(along(new Set(['style']))).toEqual([['form:b', 'menu:main'], ['menu:main', 'form:a']]);
  expect(along(new Set(['fields']))).toEqual([['page:x', 'form:a']]);
  expect(along(new Set(['code']))).toEqual([['page:x', 'form:a']]);
});
