import type { SiteConfig } from '../site/state.ts';
import type { SiteName } from './names.ts';

const TIERS = ['harbour', 'fleet'];

/** The three sites differ in what is installed: `old` is behind in versions, switches and tiers. */
export function siteConfig(name: SiteName): Omit<SiteConfig, 'content' | 'nextId'> {
  const old = name === 'old';
  return {
    facts: {
      cms: { name: 'tholepin', title: 'Tholepin', version: old ? '4.0.3' : '4.2.1' },
      site: { id: { dev: 'a7c0-skerrin-dev', live: 'b19e-skerrin-live', old: 'c552-skerrin-old' }[name], title: { dev: 'Skerrin Ferries (development)', live: 'Skerrin Ferries', old: 'Skerrin Ferries (old host)' }[name] },
      extensions: [
        { name: 'ticket-desk', title: 'Ticket Desk', version: old ? '2.4.0' : name === 'dev' ? '3.2.1' : '3.1.4', active: true, tiers: [], features: {} },
        { name: 'weather-flag', title: 'Weather Flag', version: '1.6.0', active: !old, tiers: [], features: {} },
        { name: 'crossing-board', title: 'Crossing Board', version: '2.3.0', active: true, tier: old ? 'harbour' : 'fleet', tiers: TIERS, features: { 'live-departures': !old } },
        ...(old ? [] : [{ name: 'field-locker', title: 'Field Locker', version: '1.2.0', active: true, tiers: [], features: {} }]),
        { name: 'souvenir-shop', title: 'Souvenir Shop', version: '1.0.2', active: false, tiers: [], features: {} },
      ],
      theme: old
        ? { name: 'saltmarsh', title: 'Saltmarsh', version: '1.1.0' }
        : { name: 'saltmarsh-isles', title: 'Saltmarsh Isles', version: '1.4.0', parent: { name: 'saltmarsh', title: 'Saltmarsh', version: '2.0.0' } },
      limits: { requestBytes: 8 * 1024 * 1024, batchOperations: 200, uploadBytes: old ? 4096 : 2 * 1024 * 1024, uploadTypes: ['image/png', 'image/jpeg'] },
      abilities: { drafts: true, lock: true, ledger: true, wantedIds: false, media: true, transaction: false },
    },
    tokens: [{ token: `${name}-write-5f1c2a`, rights: ['read', 'write'] }, { token: `${name}-read-91be40`, rights: ['read'] }],
  };
}
