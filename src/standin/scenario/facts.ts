import { makeAddress, type KindInput } from '../../protocol/index.ts';
import type { SiteConfig } from '../site/state.ts';
import { EXTENSION_KINDS } from './extensionkinds.ts';
import { CMS_KINDS } from './kinds.ts';
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
        { name: 'quay-forms', title: 'Quay Forms', version: old ? '1.8.0' : name === 'dev' ? '2.2.0' : '2.1.3', active: true, tiers: [], features: { uploads: !old } },
        { name: 'gangway', title: 'Gangway', version: old ? '1.0.2' : '1.3.0', active: true, tiers: [], features: {} },
        { name: 'step-paint', title: 'Step Paint', version: '0.9.4', active: !old, tiers: [], features: {} },
        ...(old ? [] : [{ name: 'lamp-room', title: 'Lamp Room', version: '2.5.1', active: true, tier: 'crew', tiers: ['deck', 'crew'], features: {} }]),
        { name: 'signal-lamp', title: 'Signal Lamp', version: '1.1.0', active: true, tiers: [], features: {} },
        { name: 'harbour-pages', title: 'Harbour Pages', version: old ? '2.9.0' : '3.4.0', active: true, tiers: [], features: {} },
        { name: 'souvenir-shop', title: 'Souvenir Shop', version: '1.0.2', active: false, tiers: [], features: {} },
      ],
      theme: old
        ? { name: 'saltmarsh', title: 'Saltmarsh', version: '1.1.0' }
        : { name: 'saltmarsh-isles', title: 'Saltmarsh Isles', version: '1.4.0', parent: { name: 'saltmarsh', title: 'Saltmarsh', version: '2.0.0' } },
      limits: { requestBytes: 8 * 1024 * 1024, batchOperations: 200, uploadBytes: old ? 4096 : 2 * 1024 * 1024, uploadTypes: ['image/png', 'image/jpeg', ...(old ? [] : ['image/svg+xml'])] },
      abilities: { drafts: true, lock: true, ledger: true, wantedIds: false, media: true, transaction: false },
    },
    kinds: kindsOf(name),
    tokens: [{ token: `${name}-write-5f1c2a`, rights: ['read', 'write'], user: makeAddress('person', 'office@skerrin.example') }, { token: `${name}-read-91be40`, rights: ['read'] }],
  };
}

/** The kinds of the CMS and of what is installed; an old version of an extension has another form of its data. */
function kindsOf(name: SiteName): SiteConfig['kinds'] {
  const all: SiteConfig['kinds'] = { tholepin: CMS_KINDS, ...EXTENSION_KINDS };
  if (name !== 'old') return all;
  const { 'field-locker': _fields, 'lamp-room': _lamps, ...rest } = all;
  return { ...rest, 'quay-forms': (all['quay-forms'] ?? []).map((kind) => (kind.id === 'quay-forms/form' ? earlierForm(kind) : { ...kind, requires: [{ version: '>=1.5.0 <3.0.0' }] })) };
}

/** Messages stood at the top, and a form had no style. */
function earlierForm({ converters: _converters, ...kind }: KindInput): KindInput {
  return {
    ...kind, version: 1, requires: [{ version: '>=1.5.0 <3.0.0', reads: '>=1.5.0 <2.0.0' }], parts: [{ name: 'fields', title: 'Fields', paths: ['$.fields'] }],
    codecs: [{ path: '$.thanks', codec: 'html' }, { path: '$.error', codec: 'html' }, { path: '$.actions.thanks', codec: 'url' }, { path: '$.actions.options', codec: 'php' }],
  };
}
