import { expect, test } from '@jest/globals';
import type { Address } from '../../src/core/index.ts';
import { likelyRenames } from '../../src/jobs/kinship.ts';
import type { Source } from '../../src/jobs/sources/source.ts';

/** A source of values by address. */
function sourceOf(values: Readonly<Record<Address, object>>): Source {
  const rows = async function* (only: ReadonlySet<Address>) { for (const address of only) yield await Promise.resolve({ address, load: () => Promise.resolve({ address, kind: 'x', covers: 'all', value: values[address] }) }); };
  return { rows } as unknown as Source;
}

const settings = (title: string) => ({ title, content: 'Ropes and knots for the deck', comments: 'open', order: 3, state: 'publish', fields: { course: 'deck', minutes: 20 } });
const renamesOf = async (own: readonly Address[], there: readonly Address[], title: string) => {
  const [source, target] = [sourceOf(Object.fromEntries(own.map((one) => [one, settings('Ropes and knots')]))), sourceOf(Object.fromEntries(there.map((one) => [one, settings(title)])))];
  return (await likelyRenames(source, target, own, there)).renames.map(({ address, to }) => [address, to]);
};

test('what is mostly alike may be renamed; what lies elsewhere, or is of another sort, only where nearly everything is', async () => {
  expect(await renamesOf(['entry:lesson/ropes'], ['entry:lesson/lines'], 'Other ends')).toEqual([['entry:lesson/ropes', 'entry:lesson/lines']]);
  expect(await renamesOf(['entry:lesson/ropes'], ['entry:quiz/ropes'], 'Other ends')).toEqual([]);
  expect(await renamesOf(['page:deck/ropes'], ['page:crew/ropes'], 'Ropes and knots')).toEqual([['page:deck/ropes', 'page:crew/ropes']]);
  expect(await renamesOf(['template:front'], ['template:first'], 'Other ends')).toEqual([['template:front', 'template:first']]);
});
