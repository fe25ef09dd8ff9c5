import { createPrompt, isBackspaceKey, isDownKey, isEnterKey, isSpaceKey, isUpKey, useKeypress, useState, type KeypressEvent } from '@inquirer/core';
import chalk from 'chalk';
import { pulledIn, type PickList } from '../../jobs/pull.ts';
import { clean } from '../../core/clean.ts';
import { begin, lines, press, selectors, typed, type Key, type Line, type PickState } from './state.ts';

const HEIGHT = 16;
const NAMED = 6;

const list = createPrompt<string[] | undefined, { list: PickList; from: string }>((config, done) => {
  const [state, setState] = useState(begin(config.list));
  const [ended, setEnded] = useState(false);
  useKeypress((key, line) => {
    // The line that the library collects is not used: every key means something here.
    line.clearLine(0);
    if (isEnterKey(key)) { setEnded(true); done(selectors(state.chosen)); return; }
    if (key.name === 'escape') { setEnded(true); done(undefined); return; }
    setState(after(state, key));
  });
  if (ended) return `Chosen from ${clean(config.from)}: ${state.chosen.size}`;
  const all = lines(state);
  const first = Math.max(0, Math.min(state.cursor - Math.floor(HEIGHT / 2), all.length - HEIGHT));
  const shown = all.slice(first, first + HEIGHT).map((one, i) => lineText(one, first + i === state.cursor));
  return [`${chalk.bold(`Choose from ${clean(config.from)}`)}  ${state.filter === '' ? chalk.dim('type to search') : `search: ${clean(state.filter)}`}`, ...(all.length === 0 ? [chalk.dim('  nothing has this in it')] : shown), ...foot(state, config.list, all.length)].join('\n');
});

/** Lets a person choose; gives selectors, or undefined where they gave up. */
export function pick(from: string, items: PickList, io: { input: NodeJS.ReadStream; output: NodeJS.WriteStream }): Promise<string[] | undefined> {
  return list({ list: items, from }, io);
}

function after(state: PickState, key: KeypressEvent & { sequence?: string }): PickState {
  const known = keyOf(key);
  if (known !== undefined) return press(state, known);
  const text = key.sequence ?? key.name;
  return text.length === 1 && text >= ' ' && !key.ctrl ? typed(state, state.filter + text) : state;
}

function keyOf(key: KeypressEvent): Key | undefined {
  if (isUpKey(key) && key.name === 'up') return 'up';
  if (isDownKey(key) && key.name === 'down') return 'down';
  if (isSpaceKey(key)) return 'toggle';
  if (isBackspaceKey(key)) return 'erase';
  return ({ right: 'open', left: 'fold', pageup: 'page up', pagedown: 'page down' } as Readonly<Record<string, Key>>)[key.name];
}

function lineText(one: Line, here: boolean): string {
  const text = plainText(one);
  return here ? chalk.inverse(text) : one.line === 'kind' ? chalk.bold(text) : text;
}

function plainText(one: Line): string {
  if (one.line === 'kind') return `${one.open ? 'open  ' : 'folded'}  ${clean(one.kind.title)}  ${one.chosen > 0 ? `${one.chosen} of ${one.kind.items.length} chosen` : one.kind.items.length}`;
  const word = { whole: 'chosen', parts: 'partly', none: '      ' }[one.mark];
  if (one.line === 'part') return `${word}        part ${one.part.name}: ${clean(one.part.title)}${one.part.ask ? ' (only when asked for)' : ''}`;
  return `${word}    ${clean(one.item.address)}  ${clean(one.item.title)}${one.item.parts.length > 0 && !one.open ? `  ${one.item.parts.length} parts` : ''}`;
}

/** What is chosen so far, and what comes along with it. */
function foot({ chosen }: PickState, list: PickList, total: number): string[] {
  const along = [...pulledIn(list, chosen)];
  // What is in a part that travels only when it is asked for was not looked at.
  const more = list.kinds.some((kind) => kind.items.some((item) => { const parts = chosen.get(item.address); return parts !== undefined && parts !== 'whole' && item.parts.some((part) => part.ask && parts.has(part.name)); }));
  const names = along.slice(0, NAMED).map(([address, by]) => `${clean(address)} (for ${clean(by)})`);
  return [
    chalk.dim(`${total} lines; arrows move and unfold, space chooses, enter is done, escape gives up`),
    `${chosen.size} chosen${along.length > 0 ? `; ${more ? 'at least ' : ''}${along.length} ${along.length === 1 ? 'comes' : 'come'} along: ${names.join(', ')}${along.length > NAMED ? ` and ${along.length - NAMED} more` : ''}` : ''}`,
  ];
}
