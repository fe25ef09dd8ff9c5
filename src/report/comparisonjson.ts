import * as z from 'zod';

const status = z.enum(['new', 'differs', 'same', 'target-only']);
const by = z.enum(['source', 'target', 'both', 'neither']);
const at = z.string().describe('JSON pointer (RFC 6901) over the keyed view; empty for the whole item');
const change = z.discriminatedUnion('change', [
  z.object({ change: z.literal('new'), at, source: z.json() }).describe('only the source has this place'),
  z.object({ change: z.literal('target-only'), at, target: z.json() }).describe('only the target has this place'),
  z.object({ change: z.literal('differs'), at, source: z.json(), target: z.json() }),
  z.object({ change: z.literal('order'), at, source: z.array(z.string()), target: z.array(z.string()) }).describe('the same entries in another order, by their keys'),
]);

/** What `compare --json` prints. */
export const ComparisonJson = z.object({
  from: z.string(), to: z.string(),
  counts: z.object({ new: z.number().int(), differs: z.number().int(), same: z.number().int(), 'target-only': z.number().int() }),
  items: z.array(z.object({
    address: z.string().describe('as it is, or would be, on the target'), kind: z.string(), title: z.string(), status, covers: z.union([z.literal('all'), z.array(z.string())]),
    changes: z.array(change), refersTo: z.array(z.string()),
    own: z.object({ address: z.string(), fingerprint: z.string() }).optional().describe('address and fingerprint on the source'),
    by: by.optional().describe('who changed it since it was last carried between the two; absent where that is not known'),
    placesBy: z.array(by.nullable()).optional().describe('the same for each of the changes, in their order'),
    clashes: z.array(at).optional().describe('places that both sides changed and that cannot be put together'),
    collision: z.object({ likeness: z.number().min(0).max(1), origin: z.string().optional(), sourceTitle: z.string(), targetTitle: z.string() }).optional().describe('the target has something else under this address'),
    unmatched: z.array(z.object({ at: z.string(), to: z.string(), strong: z.boolean(), near: z.array(z.string()), picture: z.boolean() })).describe('references that the target cannot follow'),
    adjusted: z.array(z.looseObject({ adjusted: z.string(), item: z.string() })).describe('what becomes other on the way, besides ids and addresses'),
  })).describe('all but what is the same'),
  renames: z.array(z.object({ address: z.string(), to: z.string(), likeness: z.number().min(0).max(1) })).describe('items that are new, and may be ones that only the target has'),
  reused: z.record(z.string(), z.string()).describe('media that the target has under another name: source address → target address'),
  cannot: z.array(z.looseObject({ address: z.string(), why: z.string(), remedy: z.string().optional() })).describe('chosen, and cannot travel'),
});
