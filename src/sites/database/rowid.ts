import { localId, type LocalId } from '../../core/siteindex.ts';
import { cellText, type Row } from './cells.ts';

/** The local id that a row has in some columns; of several columns their texts in one, with a slash between, escaped as in JSON pointers (RFC 6901, section 3). */
export function idOf(columns: readonly string[], row: Row): LocalId {
  const [only = '', ...more] = columns;
  return localId(more.length === 0 ? cellText(row[only]) : columns.map((column) => cellText(row[column]).replaceAll('~', '~0').replaceAll('/', '~1')).join('/'));
}

/** What the columns of such an id hold. */
export function partsOf(columns: readonly string[], id: string): Readonly<Record<string, string>> {
  const texts = id.split('/');
  return Object.fromEntries(columns.map((column, i) => [column, (texts[i] ?? '').replaceAll('~1', '/').replaceAll('~0', '~')]));
}
