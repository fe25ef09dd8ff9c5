import type { Address } from '../core/address.ts';
import { TextSet } from '../core/columns.ts';
import { inChunks } from '../core/json.ts';
import type { Connector, LedgerChange, Origin } from '../sites/connector.ts';
import type { Bases } from './base.ts';
import type { KeptForms } from './keptforms.ts';
import type { Plan } from './plan.ts';
import type { BaseEntry, RecordsFolder, RunRecord } from './records/folder.ts';
import type { SiteSource } from './sources/site.ts';
import type { Workspace } from './workspace.ts';

/** So many entries of a kind are told to a ledger at a time: a site takes no request of any size. */
const AT_A_TIME = 5000;

/** What an import leaves to be remembered: what it carried, and where that came from. */
export interface Carried { readonly run: string; readonly bases: Bases | undefined; readonly base: readonly BaseEntry[]; readonly origins: readonly Origin[]; readonly forms: KeptForms }

/**
 * Remembers what was carried, here and in the target's ledger; what both held of it before is kept for an undo. What was the same already counts as
 * carried: who changes it later is then known. That is so whatever becomes of the run, also if it is taken back, and told first, in pieces.
 */
export async function remember({ records }: Workspace, plan: Plan, { run, bases, base, origins, forms }: Carried): Promise<void> {
  const { source, target } = plan;
  const [fromSite, toSite] = [source.origin.site.id, target.facts.site.id];
  for (const { source: digest, text } of plan.same) if (text !== undefined) await forms.keep(digest, text);
  await forms.flush();
  const equal = function* (): Generator<Omit<BaseEntry, 'covers'>> { for (const one of plan.same) yield { address: one.address, source: one.source, target: one.target, run }; };
  const written = new Set([...origins, ...base].map((one) => one.address));
  keepBefore(records, run, { target, fromSite }, written);
  // There can be as many as the site has items.
  const same = new TextSet();
  for (const { address } of equal()) same.add(address);
  const remembered = (address: Address): boolean => written.has(address) || same.find(address) !== undefined;
  records.changeBase(fromSite, toSite, remembered, (function* () { yield* base; yield* equal(); })());
  const idle = idleForms(bases, [base, equal()], function* () {
    for (const one of target.bases) if (one.fromSite !== fromSite || !remembered(one.address)) yield one;
    yield* records.base(fromSite, toSite);
  });
  // An undo puts them back: those that someone else had carried are only in the ledger.
  const elsewhere = [...idle].flatMap(([digest, from]) => (records.formText(from, digest) === undefined ? [digest] : []));
  if (elsewhere.length > 0) records.addForms(run, await target.connector.forms(elsewhere));
  for (const some of inChunks(equal(), AT_A_TIME)) await target.connector.changeLedger({ bases: some.map((one) => ({ ...one, fromSite })) });
  await tellLedger(target.connector, { origins: [...origins], bases: base.map((one) => ({ ...one, fromSite })), dropForms: [...idle.keys()] });
}

/** Tells a ledger what may be much, in pieces; what takes from it first. */
export async function tellLedger(connector: Pick<Connector, 'changeLedger'>, { forms = [], forget = [], forgetBases = [], origins = [], bases = [], dropForms = [] }: Omit<LedgerChange, 'run'>): Promise<void> {
  const lists = { forms, forget, forgetBases, origins, bases, dropForms };
  for (const [name, list] of Object.entries(lists)) for (const some of inChunks<unknown>(list, AT_A_TIME)) await connector.changeLedger({ [name]: some });
}

/** Keeps what is remembered now of the items of a run, for an undo of the undo that follows. */
export function keepMemory(records: RecordsFolder, target: SiteSource, undo: string, { of, removed }: { of: RunRecord; removed: readonly Address[] }): void {
  keepBefore(records, undo, { target, fromSite: of.fromSite }, writtenBy(records, of, removed));
}

/** Keeps what is remembered of some items, here and in the target's ledger, before a run changes it. */
function keepBefore(records: RecordsFolder, run: string, { target, fromSite }: { target: SiteSource; fromSite: string }, written: ReadonlySet<Address>): void {
  records.keepBase(run, fromSite, target.facts.site.id, (address) => written.has(address));
  const known = target.bases.from(fromSite);
  const [origins, bases] = [[...target.origins.values()].filter((one) => written.has(one.address)), [...written].flatMap((address) => known.get(address) ?? [])];
  records.keepLedger(run, { origins, bases, written: [...written] });
}

/** Puts back here what was remembered before a run, and says what puts it back in the ledger. */
export function restoreMemory(records: RecordsFolder, run: RunRecord, removed: readonly Address[]): Omit<LedgerChange, 'run'> {
  const { fromSite, toSite } = run;
  const { origins, bases } = records.ledgerBefore(run.run) ?? { origins: [], bases: [] };
  const written = writtenBy(records, run, removed);
  records.restoreBase(run.run, fromSite, toSite, (address) => written.has(address));
  // The run had dropped the forms that nothing named any longer.
  const forms = new Map(bases.flatMap((base) => [base.source, base.target].flatMap((digest) => { const text = records.formText(base.run, digest) ?? records.formText(run.run, digest); return text === undefined ? [] : [[digest, text] as const]; })));
  return {
    forms: [...forms].map(([digest, text]) => ({ digest, text })),
    origins: [...origins], forget: notOf(origins, written),
    bases: [...bases], forgetBases: notOf(bases, written).map((address) => ({ address, fromSite })),
  };
}

function writtenBy(records: RecordsFolder, run: RunRecord, removed: readonly Address[]): Set<Address> { return new Set([...removed, ...(records.ledgerBefore(run.run)?.written ?? [])]); }

function notOf(known: readonly { address: Address }[], written: ReadonlySet<Address>): Address[] {
  const addresses = new Set(known.map((one) => one.address));
  return [...written].filter((address) => !addresses.has(address));
}

/** Forms that what was known before names, and what is known now does not; with the run that had kept them. */
function idleForms(before: Bases | undefined, fresh: readonly Iterable<BaseEntry>[], now: () => Iterable<Pick<BaseEntry, 'source' | 'target'>>): Map<string, string> {
  const idle = new Map<string, string>();
  for (const list of fresh) {
    for (const { address } of list) {
      const entry = before?.entry(address);
      if (entry) idle.set(entry.source, entry.run).set(entry.target, entry.run);
    }
  }
  if (idle.size > 0) for (const { source, target } of now()) { idle.delete(source); idle.delete(target); }
  return idle;
}
