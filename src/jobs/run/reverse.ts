import type { ExactRecord, Operation } from '../../sites/connector.ts';
import type { SiteIndex } from '../../core/siteindex.ts';
import type { Intent } from './journal.ts';

/**
 * The operations that bring a site back to its safety copy, worked out from what it has now and not from what a run believes to have done:
 * so it is right also where an answer never came. Last things first.
 */
export function reverseOperations(intents: readonly Intent[], records: ReadonlyMap<number, ExactRecord>, now: SiteIndex, newKey: () => string): Operation[] {
  const rows = new Map([...now.rows()].map(([, row]) => [row.id, row]));
  const byName = new Map([...now.rows()].map(([, row]) => [`${row.kind}\n${row.name}`, row]));
  const done = new Set<number>();
  return [...intents].reverse().flatMap((intent): Operation[] => {
    const { kind } = intent;
    if (intent.op === 'create') {
      const row = byName.get(`${kind}\n${intent.name ?? ''}`);
      if (!row || records.has(row.id) || done.has(row.id)) return [];
      done.add(row.id);
      return [{ op: 'delete', key: newKey(), kind, id: row.id, ifMatch: row.etag }];
    }
    const id = intent.id as number;
    const record = records.get(id);
    const row = rows.get(id);
    if (done.has(id)) return [];
    done.add(id);
    // What a run restored had not been there before: it goes again.
    if (!record) return row ? [{ op: 'delete', key: newKey(), kind, id, ifMatch: row.etag }] : [];
    return row?.etag === record.etag ? [] : [{ op: 'restore', key: newKey(), kind, id, ifMatch: row?.etag ?? '*', record: record.record }];
  });
}
