import { expect, test } from '@jest/globals';
import { begin, lines, press, selectors, typed, type Key, type Line, type PickState } from '../../src/cli/pick/state.ts';
import { pulledIn, type PickList } from '../../src/jobs/pull.ts';

const part = (name: string, ask = false) => ({ name, title: name, ask });
const LIST: PickList = {
  kinds: [{ title: 'Forms', items: [{ address: 'form:a', title: 'Lost', parts: [part('fields'), part('style'), part('code', true)] }, { address: 'form:b', title: 'Group', parts: [] }] }, { title: 'Menus', items: [{ address: 'menu:main', title: 'Main', parts: [] }] }],
  pulls: new Map([['form:a', ['menu:main']], ['menu:main', ['form:b', 'form:a']]]),
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

test('what comes along, and for which item', () => {
  expect([...pulledIn(LIST.pulls, ['form:a'])]).toEqual([['form:b', 'menu:main'], ['menu:main', 'form:a']]);
});
