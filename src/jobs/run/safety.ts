import { join } from 'node:path';
import type { Address } from '../../core/address.ts';
import { byCodeUnit, inChunks } from '../../core/json.ts';
import { itemKey } from '../../core/siteindex.ts';
import type { SourceRow } from '../../core/source.ts';
import { FORMAT } from '../../pochette/format.ts';
import { Pochette } from '../../pochette/read.ts';
import { Sealer, sealKey, unsealed } from '../../pochette/seal.ts';
import { PochetteWriter } from '../../pochette/write.ts';
import type { ExactRecord } from '../../sites/connector.ts';
import { SAFETY_FILE, type RecordsFolder } from '../records/folder.ts';
import type { SiteSource } from '../sources/site.ts';

const CHUNK = 500;

/** Gives the rows of items as they are now. */
export type RowsOf = (addresses: readonly Address[]) => AsyncIterable<SourceRow> | Iterable<SourceRow>;

/**
 * Saves what a run is about to change: a pochette of the items as they are, the list of what does not exist yet, and the site's exact records,
 * sealed because secrets are in them: they are nowhere else, and read back where they are needed.
 */
export async function takeSafetyCopy(records: RecordsFolder, run: string, target: SiteSource, { changing, absent, rows }: { changing: readonly Address[]; absent: readonly Address[]; rows?: RowsOf }): Promise<void> {
  const writer = new PochetteWriter(join(records.runFolder(run), SAFETY_FILE));
  const exact = new Sealer(sealKey(records.keyFile));
  try {
    const [files, kinds] = [new Set<string>(), new Set<string>()];
    const order = [...changing].sort(byCodeUnit);
    // Some at a time, so that what was read for the items serves for their records too.
    for (const some of inChunks(order, CHUNK)) {
      for await (const row of rows?.(some) ?? target.rows(new Set(some), { fresh: true })) {
        await writer.item(row);
        kinds.add(row.kind);
        for (const digest of row.files) files.add(digest);
      }
      const keys = some.flatMap((address) => target.index.row(address) ?? []).map(({ kind, id }) => ({ kind, id }));
      for await (const record of target.connector.records(keys)) exact.add(JSON.stringify(record));
    }
    for (const digest of [...files].sort(byCodeUnit)) if (await target.mediaSize(digest)) await writer.media({ digest, ...(await target.media(digest)) });
    writer.sealed(exact.end());
    const { cms, site, extensions, theme } = target.facts;
    await writer.finish({
      format: FORMAT, title: `Safety copy of ${target.label} before run ${run}`, description: '', version: '', author: '', origin: { cms, site, extensions, theme },
      kinds: [...kinds].sort(byCodeUnit).flatMap((id) => target.kinds.get(id)?.description ?? []),
      requirements: [], leftOut: [], choices: { selectors: [], alone: true }, counts: writer.counts, absent: [...absent],
    });
  } catch (error) {
    await writer.abandon();
    throw error;
  }
}

/** The exact records of a run, by `itemKey`. */
export async function readSafetyCopy(records: RecordsFolder, run: string): Promise<Map<string, ExactRecord>> {
  const pochette = await Pochette.open(join(records.runFolder(run), SAFETY_FILE));
  try {
    const found = new Map<string, ExactRecord>();
    for (const line of unsealed(pochette.sealed(), sealKey(records.keyFile))) { const record = JSON.parse(line) as ExactRecord; found.set(itemKey(record), record); }
    return found;
  } finally {
    pochette.close();
  }
}
