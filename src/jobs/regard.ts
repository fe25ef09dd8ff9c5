import { parsePlace, type Address } from '../core/address.ts';
import { compareValues, type Change } from '../core/compare.ts';
import { project } from '../core/coverage.ts';
import type { SourceRow } from '../core/source.ts';
import type { Decision } from './decisions.ts';
import type { Plan } from './plan.ts';
import type { Source } from './sources/source.ts';

/** What a decision is about, with both values: the changed places, as they would arrive and as the target has them. */
export async function regard({ source, target, passage, rows }: Plan, { id, question, other }: Decision): Promise<Change[]> {
  if (question === 'missing' || question === 'requirement') return [];
  const { address, at } = parsePlace(id);
  const arrives = passage.addressOf(address);
  const left = rows.get(arrives) ?? await rowOf(source, address);
  const right = await rowOf(target, other ?? arrives);
  const kind = left && passage.kindOf(left);
  if (!left || !right || !kind) return [];
  const changes = compareValues(kind, (await left.load()).value, project(kind, await right.load(), left.covers).value);
  return at === '' ? changes : changes.filter((change) => change.at === at || change.at.startsWith(`${at}/`) || at.startsWith(`${change.at}/`));
}

async function rowOf(source: Source, address: Address): Promise<SourceRow | undefined> {
  await source.preload([address]);
  for await (const row of source.rows(new Set([address]))) return row;
  return undefined;
}
