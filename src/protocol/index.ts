import * as z from 'zod';
import { Extension, Facts, Theme } from '../core/facts.ts';
import { byCodeUnit } from '../core/json.ts';
import { UTC_TIME } from '../core/time.ts';

export { KindDescription, type KindInput } from '../core/kind.ts';
export { makeAddress, shortKind } from '../core/address.ts';
export { Extension, Facts, Theme };
export { byCodeUnit } from '../core/json.ts';
export { matches, parsePath } from '../core/path.ts';
export { Html, html } from '../core/html.ts';

/** The version of the site protocol. A site with another major version is refused with what to do. */
export const PROTOCOL = 1;
/** Where a site tells that it speaks the protocol (RFC 8615). */
export const DISCOVERY = '/.well-known/pochette';
/** Name of the header that carries the token of the writer's lock. */
export const LOCK_HEADER = 'pochette-lock';

export const Discovery = z.object({ protocol: z.number().int(), base: z.string().regex(/^\//) });

/** Why an item that is there cannot travel. */
export const Unavailable = z.object({ why: z.enum(['inactive', 'tier', 'feature', 'own-format', 'same-name', 'damaged']), extension: z.string(), detail: z.string().default('') });

const time = z.string().regex(UTC_TIME, 'ISO 8601, in UTC');
/** A whole number, or a text where it is none or is too large for one. */
const id = z.union([z.number().int(), z.string().min(1)]);

export const IndexRow = z.object({
  kind: z.string(), id, name: z.string().min(1), title: z.string(), etag: z.string(),
  status: z.enum(['published', 'draft']), size: z.number().int(),
  urls: z.record(z.string(), z.string()).optional(),
  changed: z.string().optional().describe('when it was changed last, ISO 8601'),
  alias: z.string().optional().describe('digest of what it is known by besides its name, as a person is by a mail address'),
  created: time.optional().describe('when it was made, for a site that makes it anew; comes with the value'),
  unavailable: Unavailable.optional(),
});
export type IndexRow = z.output<typeof IndexRow>;
export const LocalItem = IndexRow.extend({ value: z.unknown() });
export type LocalItem = z.output<typeof LocalItem>;
/** Last line of a stream: without it the stream was cut. */
export const StreamEnd = z.object({ end: z.literal(true), count: z.number().int() });

export const ItemKey = z.object({ kind: z.string(), id });
export type ItemKey = z.output<typeof ItemKey>;
export const ReadRequest = z.object({ items: z.array(ItemKey) });
/** An exact record, opaque to everyone but its site. */
export const ExactRecord = ItemKey.extend({ etag: z.string(), record: z.unknown() });
export type ExactRecord = z.output<typeof ExactRecord>;

const key = z.string().min(1).max(200).describe('Idempotency-Key of this operation');
export const Operation = z.discriminatedUnion('op', [
  z.object({ op: z.literal('create'), key, kind: z.string(), name: z.string(), status: z.enum(['published', 'draft']), value: z.unknown(), created: time.optional().describe('when it was made where it comes from; without it, now') }),
  z.object({ op: z.literal('update'), key, kind: z.string(), id, ifMatch: z.string(), value: z.unknown(), status: z.enum(['published', 'draft']).optional().describe('without it the status stays') }),
  z.object({ op: z.literal('delete'), key, kind: z.string(), id, ifMatch: z.string() }),
  z.object({ op: z.literal('restore'), key, kind: z.string(), id, ifMatch: z.string().describe('etag, or * for an item that is not there'), record: z.unknown() }),
]);
export type Operation = z.output<typeof Operation>;
export const BatchRequest = z.object({ operations: z.array(Operation) });

/** Problem details (RFC 9457); `where` names the item and the place. */
export const ProblemDocument = z.object({
  type: z.string().default('about:blank'), title: z.string(), status: z.number().int(),
  detail: z.string().optional(), where: z.string().optional(), remedy: z.string().optional(),
});
export type ProblemDocument = z.output<typeof ProblemDocument>;
export const Answer = z.object({ key: z.string(), status: z.number().int(), id: id.optional(), name: z.string().optional(), etag: z.string().optional(),
  /** Of what was created, where it is not as it was asked for: some things have a state of their own. */
  itemStatus: z.enum(['published', 'draft']).optional(),
  /** Where the site serves it, so that links to what was just made can be written. */
  urls: z.record(z.string(), z.string()).optional(), problem: ProblemDocument.optional() });
export type Answer = z.output<typeof Answer>;
export const BatchAnswers = z.object({ answers: z.array(Answer) });

export const LockRequest = z.object({ owner: z.string(), run: z.string(), seconds: z.number().int().min(1).max(3600) });
export type LockRequest = z.output<typeof LockRequest>;
export const Lock = z.object({ token: z.string(), expires: z.string() });

/** The target's memory of who did what to it. */
export const LedgerRun = z.object({ run: z.string(), verb: z.enum(['import', 'publish', 'undo']), by: z.string(), from: z.string(), state: z.enum(['running', 'done', 'restored', 'failed', 'undone']), started: z.string(), items: z.number().int() });
export type LedgerRun = z.output<typeof LedgerRun>;
export const Origin = z.object({ address: z.string(), id, fromSite: z.string(), fromId: id.optional(), run: z.string(), fingerprint: z.string(), from: z.string().optional().describe('file or site that it came from'), at: z.string().optional().describe('when, ISO 8601') });
export type Origin = z.output<typeof Origin>;
/** What was last carried from a site, of one item or of parts of it: digests of the source's form as carried and of the target's as read back. */
export const BaseEntry = z.object({ address: z.string(), fromSite: z.string(), source: z.string(), target: z.string(), run: z.string(), covers: z.array(z.string()).optional().describe('parts and places that were carried; without it all') });
export type BaseEntry = z.output<typeof BaseEntry>;
export const Ledger = z.object({ runs: z.array(LedgerRun), origins: z.array(Origin), bases: z.array(BaseEntry).default([]) });
export type Ledger = z.output<typeof Ledger>;
const baseKey = z.object({ address: z.string(), fromSite: z.string() });
/** Forms that bases name, by digest. */
export const Forms = z.object({ forms: z.array(z.object({ digest: z.string(), text: z.string() })) });
export const FormsRequest = z.object({ digests: z.array(z.string()) });
export const LedgerChange = z.object({
  run: LedgerRun.optional(), origins: z.array(Origin).default([]), forget: z.array(z.string()).default([]).describe('addresses whose origins are forgotten'),
  bases: z.array(BaseEntry).default([]), forgetBases: z.array(baseKey).default([]), forms: Forms.shape.forms.default([]), dropForms: z.array(z.string()).default([]),
});
export type LedgerChange = z.input<typeof LedgerChange>;

/** The ledger after a change; forms are kept apart. */
export function changedLedger(ledger: Ledger, { run, origins, forget, bases, forgetBases }: z.output<typeof LedgerChange>): Ledger {
  const forgotten = new Set([...origins.map((one) => one.address), ...forget]);
  const keyOf = ({ address, fromSite }: { address: string; fromSite: string }): string => `${fromSite} ${address}`;
  const replaced = new Set([...bases, ...forgetBases].map(keyOf));
  const sorted = <T extends { address: string }>(list: T[]): T[] => list.sort((a, b) => byCodeUnit(a.address, b.address));
  return {
    runs: run ? [...ledger.runs.filter((one) => one.run !== run.run), run] : ledger.runs,
    origins: sorted([...ledger.origins.filter((one) => !forgotten.has(one.address)), ...origins]),
    bases: sorted([...ledger.bases.filter((one) => !replaced.has(keyOf(one))), ...bases]),
  };
}

/** Where things are, below the base that discovery tells. */
export const PATHS = {
  facts: '/facts', kinds: '/kinds', items: '/items', read: '/items/read', records: '/items/records', batch: '/batch',
  media: '/media', lock: '/lock', caches: '/caches/renew', ledger: '/ledger', forms: '/ledger/forms',
} as const;
