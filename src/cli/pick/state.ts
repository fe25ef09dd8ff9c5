import type { Chosen, PickItem, PickKind, PickList } from '../../jobs/pull.ts';

/** A line of the list. */
export type Line =
  | { readonly line: 'kind'; readonly kind: PickKind; readonly open: boolean; readonly chosen: number }
  | { readonly line: 'item'; readonly item: PickItem; readonly open: boolean; readonly mark: Mark }
  | { readonly line: 'part'; readonly item: PickItem; readonly part: PickItem['parts'][number]; readonly mark: Mark };
/** Chosen whole, in parts, or not. */
export type Mark = 'whole' | 'parts' | 'none';
export type Key = 'up' | 'down' | 'page up' | 'page down' | 'open' | 'fold' | 'toggle' | 'erase';

export interface PickState {
  readonly list: PickList;
  readonly filter: string;
  readonly cursor: number;
  /** Titles of kinds and addresses of items that are unfolded. */
  readonly open: ReadonlySet<string>;
  readonly chosen: Chosen;
}

const PAGE = 10;

export function begin(list: PickList): PickState { return { list, filter: '', cursor: 0, open: new Set(), chosen: new Map() }; }

/** The lines to be seen: kinds folded, with a filter unfolded to what has its text in address, title or kind. */
export function lines({ list, filter, open, chosen }: PickState): Line[] {
  const wanted = filter.toLowerCase();
  return list.kinds.flatMap((kind): Line[] => {
    const items = wanted === '' ? kind.items : kind.items.filter((item) => `${item.address} ${item.title} ${kind.title}`.toLowerCase().includes(wanted));
    if (items.length === 0) return [];
    const unfolded = wanted !== '' || open.has(kind.title);
    const head: Line = { line: 'kind', kind: { ...kind, items }, open: unfolded, chosen: items.filter((item) => chosen.has(item.address)).length };
    return unfolded ? [head, ...items.flatMap((item) => itemLines(item, open, chosen))] : [head];
  });
}

function itemLines(item: PickItem, open: ReadonlySet<string>, chosen: Chosen): Line[] {
  const has = chosen.get(item.address);
  const unfolded = open.has(item.address);
  const head: Line = { line: 'item', item, open: unfolded, mark: has === undefined ? 'none' : has === 'whole' ? 'whole' : 'parts' };
  if (!unfolded) return [head];
  return [head, ...item.parts.map((part): Line => ({ line: 'part', item, part, mark: has === 'whole' ? (part.ask ? 'none' : 'whole') : has?.has(part.name) === true ? 'whole' : 'none' }))];
}

/** The state after a key. */
export function press(state: PickState, key: Key): PickState {
  const all = lines(state);
  const at = all[state.cursor];
  const move = (by: number): PickState => ({ ...state, cursor: Math.max(0, Math.min(all.length - 1, state.cursor + by)) });
  switch (key) {
    case 'up': return move(-1);
    case 'down': return move(1);
    case 'page up': return move(-PAGE);
    case 'page down': return move(PAGE);
    case 'open': return at && at.line !== 'part' ? { ...state, open: new Set([...state.open, nameOf(at)]) } : state;
    case 'fold': return at ? folded(state, at) : state;
    case 'toggle': return at ? { ...state, chosen: toggled(state.chosen, at) } : state;
    case 'erase': return typed(state, state.filter.slice(0, -1));
  }
}

/** The state with another filter. */
export function typed(state: PickState, filter: string): PickState { return { ...state, filter, cursor: 0 }; }

function nameOf(line: Line): string { return line.line === 'kind' ? line.kind.title : line.item.address; }

/** Folds what the line belongs to, and goes to its head. */
function folded(state: PickState, at: Line): PickState {
  const all = lines(state);
  const head = at.line === 'item' && !at.open ? all.slice(0, state.cursor).findLast((line) => line.line === 'kind') ?? at : at;
  const open = new Set(state.open);
  open.delete(nameOf(head));
  const after = { ...state, open };
  const cursor = lines(after).findIndex((line) => line.line !== 'part' && nameOf(line) === nameOf(head));
  return { ...after, cursor: Math.max(0, cursor) };
}

function toggled(chosen: Chosen, at: Line): Chosen {
  const next = new Map(chosen);
  if (at.line === 'kind') {
    const all = at.kind.items.every((item) => chosen.get(item.address) === 'whole');
    for (const { address } of at.kind.items) if (all) next.delete(address); else next.set(address, 'whole');
  } else if (at.line === 'item') {
    if (chosen.has(at.item.address)) next.delete(at.item.address); else next.set(at.item.address, 'whole');
  } else {
    const has = chosen.get(at.item.address);
    const parts = new Set(has === 'whole' ? at.item.parts.filter((part) => !part.ask).map((part) => part.name) : has);
    if (parts.has(at.part.name)) parts.delete(at.part.name); else parts.add(at.part.name);
    if (parts.size === 0) next.delete(at.item.address); else next.set(at.item.address, parts);
  }
  return next;
}

/** What was chosen, as selectors. */
export function selectors(chosen: Chosen): string[] {
  return [...chosen].flatMap(([address, parts]) => (parts === 'whole' ? [address] : [...parts].map((part) => `${address}#${part}`)));
}
