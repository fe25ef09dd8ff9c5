import { cellText, type Row } from '../cells.ts';
import { likeName, packingOf, type TableGuess } from './guess.ts';
import { leavesOf } from './leaves.ts';
import type { Table } from '../engine.ts';
import { unpacked } from '../packed.ts';

/** A table whose rows are items, with the word for their kind. */
export interface Target { readonly table: Table; readonly kind: string; readonly samples: readonly Row[] }
interface Seen { readonly called: string; readonly id: string; readonly form: 'name' | 'code' | 'data' }

/** Short codes with an id: the word, the attribute, the id. Members of JSON data with a number. */
const [CODE, DATA] = [/\[([a-z][\w-]*)\s(?:[^\]]*\s)?([\w-]*id)=["']?([1-9]\d*)/g, /"(\w+)":\s*"?([1-9]\d*)"?\s*[,}]/g];

/** Where rows of any table seem to hold ids of these tables, in words of a layout. */
export function everywhereText(targets: readonly Target[], guesses: readonly TableGuess[]): string[] {
  const lines = { references: [] as string[], comments: [] as string[], patterns: [] as string[] };
  const seen = guesses.filter((one) => !targets.some(({ table }) => table === one.table)).flatMap((one) => one.samples.flatMap((row) => mentions(one, row)));
  for (const target of targets) {
    const ids = new Set(target.samples.map((row) => cellText(row[target.table.key[0] ?? ''])));
    const mine = seen.filter(({ called, id }) => ids.has(id) && likeName(called, target.table));
    const of = (form: Seen['form']): string[] => [...new Set(mine.filter((one) => one.form === form).map((one) => one.called))];
    const names = of('name');
    if (names.length > 0) lines.references.push(`    - { path: $..*, loose: true, named: [${names.map(quoted).join(', ')}], to: ${target.kind} }`);
    lines.comments.push(...of('data').map((name) => `${quoted(name)}: ${target.kind}`));
    // A short code is named as the thing that it shows.
    lines.patterns.push(...of('code').flatMap((word) => [`'[${word} … id="{id}"': ${target.kind}`, `'[${word} … id={id}': ${target.kind}`]));
  }
  if (Object.values(lines).every((list) => list.length === 0)) return [];
  return [
    '# Where ids of these tables stand in what the layout describes already: look whether any of these names means something else somewhere.', 'everywhere:',
    ...(lines.references.length > 0 ? ['  references:', ...lines.references] : []),
    ...(lines.comments.length > 0 ? [`  comments: { ${lines.comments.join(', ')} }`] : []),
    ...(lines.patterns.length > 0 ? [`  patterns: { ${lines.patterns.join(', ')} }`] : []),
  ];
}

/** Numbers in a row, with what they are called. */
function mentions({ guess }: TableGuess, row: Row): Seen[] {
  const key = guess.is === 'options' || guess.is === 'fields' ? cellText(row[guess.key]) : undefined;
  return Object.entries(row).flatMap(([column, cell]): Seen[] => {
    const text = cellText(cell);
    const packing = packingOf([text]);
    if (packing === 'php' || packing === 'json') return leavesOf(unpacked(text, packing), ['$', key ?? column]).map(([path, last, id]): Seen => ({ called: /^\[|^\d/.test(last) ? /[\w-]+$/.exec(path)?.[0] ?? last : last, id, form: 'name' }));
    const codes = [...text.matchAll(CODE)].map(([, word = '', , id = '']): Seen => ({ called: word, id, form: 'code' }));
    const data = text.includes('<!--') ? [...text.matchAll(DATA)].map(([, name = '', id = '']): Seen => ({ called: name, id, form: 'data' })) : [];
    return [...codes, ...data, ...(key !== undefined && /^[1-9]\d*$/.test(text) ? [{ called: key, id: text, form: 'name' as const }] : [])];
  });
}

function quoted(name: string): string { return /^[A-Za-z_]\w*$/.test(name) ? name : JSON.stringify(name); }
