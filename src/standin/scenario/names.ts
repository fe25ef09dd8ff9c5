export const SITES = ['dev', 'live', 'old'] as const;
export type SiteName = (typeof SITES)[number];
/** Stands in texts for the address, which is known only once the site listens. */
export const OWN_ADDRESS = 'http://own-address.invalid';
