import * as z from 'zod';

/** What a site says of itself. The schema is the protocol's; types travel inward from here. */
export const Extension = z.object({
  name: z.string(), title: z.string(), version: z.string(), active: z.boolean(),
  tier: z.string().optional(),
  /** All tiers, lowest first. */
  tiers: z.array(z.string()).default([]),
  features: z.record(z.string(), z.boolean()).default({}),
});
export const Theme = z.object({ name: z.string(), title: z.string(), version: z.string() });
export const Facts = z.object({
  cms: z.object({ name: z.string(), title: z.string(), version: z.string() }),
  site: z.object({ id: z.string(), title: z.string(), address: z.url(),
    seat: z.object({ address: z.url(), paths: z.array(z.string().regex(/^\//)) }).optional().describe('where the CMS itself lies, which can be in a folder below the site or at another address, and the paths that it has there of its own') }),
  extensions: z.array(Extension),
  theme: Theme.extend({ parent: Theme.optional() }),
  limits: z.object({
    requestBytes: z.number().int().positive(), batchOperations: z.number().int().positive(),
    uploadBytes: z.number().int().positive(), uploadTypes: z.array(z.string()),
  }),
  abilities: z.object({ drafts: z.boolean(), lock: z.boolean(), ledger: z.boolean(), wantedIds: z.boolean(), media: z.boolean(), transaction: z.boolean(),
    portable: z.boolean().optional().describe('values are kept in portable form: any reference can stand in them') }),
  rights: z.array(z.enum(['read', 'write'])),
  user: z.string().optional().describe('address of the user that the token belongs to'),
  /** What a person should know of this site before trusting it with an import. */
  notes: z.array(z.string()).optional(),
  definitions: z.record(z.string(), z.string()).optional().describe('what values are, by the name of what defines them on this site'),
  /** What has to be done by hand after every import, because the site cannot be told. */
  byHand: z.array(z.string()).optional(),
});
export type Facts = z.output<typeof Facts>;
export type Extension = z.output<typeof Extension>;
