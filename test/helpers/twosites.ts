import { compileKinds, Exporter, Importer, SiteIndex, type Kind } from '../../src/core/index.ts';
import { loadLayout } from '../../src/sites/database/layout/load.ts';

// Two sites with the kinds of the layout that ships with the program, without a database: what becomes of a value of one on the other.
const kinds = compileKinds(loadLayout('entries', '.').layout.kinds.map(({ rows: _rows, like: _like, ...kind }) => ({ namedMember: kind.id === 'entry-store/settings' ? 'option' : undefined, ...kind, version: 1, title: kind.title ?? kind.id })), 'entries');
const SETTINGS = kinds.get('entry-store/settings') as Kind;

/** Items by a word for them: kind, beginning of the names, first id on the first site. Terms and menus are numbered apart from records. */
export const THINGS = {
  page: ['page', '', 4100], image: ['media', '', 4200], vessel: ['entry', 'mx_vessel/', 4300], form: ['entry', 'mx_form/', 4400], template: ['entry', 'mx_template/', 4500], block: ['block', '', 4600],
  category: ['category', 'category/', 2100], harbour: ['term', 'mx_harbour/', 2200], menu: ['menu', '', 2300], person: ['person', '', 2700],
} as const;
export type Thing = keyof typeof THINGS;
/** So much higher are the ids of the second site. */
export const AWAY = 5000;

function site(address: string, shift: number): SiteIndex {
  const index = new SiteIndex(address, kinds);
  for (const [kind, begin, first] of Object.values(THINGS)) for (const i of [0, 1]) index.add({ kind: `entry-store/${kind}`, id: first + shift + i, name: `${begin}one-${first + i}`, title: 'One', etag: '"1"', status: 'published', size: 0 });
  return index;
}

/** What a setting of a site at the first address is on one at the second. `called`: its name. */
export function carrier(from: string, to: string, called = 'mx_conf'): (option: unknown) => unknown {
  const [dev, live] = [site(from, 0), site(to, AWAY)];
  return (option) => (new Importer(live, kinds).local(SETTINGS, { value: JSON.parse(new Exporter(dev).portable(SETTINGS, { option }, called).text) as never, covers: 'all' }).value as { option: unknown }).option;
}
