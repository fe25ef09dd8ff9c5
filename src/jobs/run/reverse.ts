import { itemKey, type IndexRow, type SiteIndex } from '../../core/siteindex.ts';
import type { ExactRecord, Operation } from '../../sites/connector.ts';
import type { Journalled } from './journal.ts';

/**
 * The operations that bring a site back to its safety copy, worked out from what it has now and not from what a run believes to have done:
 * so it is right also where an answer never came. Last things first. `records` go by `itemKey`.
 */
export function reverseOperations({ intents, answers }: Journalled, records: ReadonlyMap<string, ExactRecord>, now: SiteIndex, newKey: () => string): Operation[] {
  const named = (kind: string, name: string): IndexRow | undefined => { const row = now.row(now.addressOf({ kind, name })); return row?.kind === kind ? row : undefined; };
  const done = new Set<string>();
  const created = new Set(intents.flatMap((intent) => { const id = intent.op === 'create' ? answers.get(intent.key)?.id : undefined; return id === undefined ? [] : [itemKey({ kind: intent.kind, id })]; }));
  return [...intents].reverse().flatMap((intent): Operation[] => {
    const { kind } = intent;
    if (intent.op === 'create') {
      // The site may have given another name than it was asked for; without an answer the name is all there is.
      const { id, etag } = answers.get(intent.key) ?? {};
      const row = (id === undefined ? undefined : now.rowOf({ kind, id })) ?? (id === undefined || etag === undefined ? named(kind, intent.name ?? '') : undefined);
      if (!row || records.has(itemKey(row)) || done.has(itemKey(row))) return [];
      done.add(itemKey(row));
      return [{ op: 'delete', key: newKey(), kind, id: row.id, ifMatch: row.etag }];
    }
    if (intent.id === undefined) return [];
    const { id } = intent;
    const key = itemKey({ kind, id });
    const record = records.get(key);
    const row = now.rowOf({ kind, id });
    // What was completed after it had been made goes when it is its turn among what was made.
    if (done.has(key) || created.has(key)) return [];
    done.add(key);
    // What a run restored had not been there before: it goes again.
    if (!record) return row ? [{ op: 'delete', key: newKey(), kind, id, ifMatch: row.etag }] : [];
    return row?.etag === record.etag ? [] : [{ op: 'restore', key: newKey(), kind, id, ifMatch: row?.etag ?? '*', record: record.record }];
  });
}
