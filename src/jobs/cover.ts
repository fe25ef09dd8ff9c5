import { isPlace, project } from '../core/coverage.ts';
import { sha256 } from '../core/canonical.ts';
import { itemBytes, type Coverage, type PortableItem } from '../core/item.ts';
import type { Kind } from '../core/kind.ts';
import { dependsOnValue, requirementsOf, type Requirement } from '../core/requirements.ts';
import { Problem } from '../core/problem.ts';
import { besides, type SourceRow } from '../core/source.ts';
import type { Source } from './sources/source.ts';
import { readNotation } from '../core/translate/notation.ts';
import { looseFiles } from '../core/translate/loosefiles.ts';
import { findings } from '../core/translate/portable.ts';

/** The same row with another value: fingerprint, references and files follow from it. */
export function withItem(row: SourceRow, kind: Kind, item: PortableItem): SourceRow {
  const text = itemBytes(item);
  // Rows of a file answer when they are asked: a copy of one would have none of this.
  const { kind: kindId, title, withheld, leftOut, taken, named, loose, draft, created } = row;
  const tree = readNotation(item.value);
  return { address: item.address, kind: kindId, title, withheld, leftOut, ...besides({ taken, named, loose: loose && looseFiles(tree), draft, created }), covers: item.covers, fingerprint: sha256(text), size: Buffer.byteLength(text), text, ...findings(kind, tree), load: () => Promise.resolve(item) };
}

/** Narrows a row to parts. What it covers already is not widened. */
export async function narrowed(row: SourceRow, kind: Kind, covers: Coverage): Promise<SourceRow> {
  if (covers === 'all') return row;
  const within = row.covers === 'all' ? covers : covers.filter((part) => isPlace(part) || row.covers.includes(part));
  if (within.length === 0) throw new Problem('usage', `only ${[row.covers].flat().join(', ')} of it ${[row.covers].flat().length === 1 ? 'is' : 'are'} there`, { where: `${row.address}#${covers.join(',')}`, remedy: 'choose one of these parts, or export the item again' });
  return withItem(row, kind, project(kind, await row.load(), within));
}

/** The same for a row of a source, whatever its kind. */
export async function coveredRow(source: Pick<Source, 'kinds'>, row: SourceRow, covers: Coverage): Promise<SourceRow> {
  const kind = source.kinds.get(row.kind);
  return kind ? narrowed(row, kind, covers) : row;
}

/** What one row needs on a target; its value is read only where that depends on it. */
export async function rowRequirements(row: SourceRow, kind: Kind, facts: Parameters<typeof requirementsOf>[3]): Promise<Requirement[]> {
  return requirementsOf(kind, row.address, dependsOnValue(kind) ? (await row.load()).value : undefined, facts);
}
