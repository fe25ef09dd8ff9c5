import { describe, expect, test } from '@jest/globals';
import { compileKind, KindDescription } from '../../src/core/kind.ts';
import { SiteIndex } from '../../src/core/siteindex.ts';
import { Importer } from '../../src/core/translate/local.ts';
import { Exporter } from '../../src/core/translate/portable.ts';

// A CMS at the address of its site, in a folder of it, and elsewhere; its own paths are below /desk and /files there.
const PATHS = ['/desk', '/files', '/enter.php'];
const SITES = {
  dev: ['https://dev.skerrin.example', 'https://dev.skerrin.example', '/files/quay.png'],
  old: ['http://127.0.0.1:8400', 'http://127.0.0.1:8400', '/files/quay.png'],
  folder: ['https://skerrin-ferries.example', 'https://skerrin-ferries.example/core', '/core/files/quay.png'],
  deeper: ['https://boats.example/ferries', 'http://boats.example/ferries/core', '/core/files/quay.png'],
  apart: ['https://www.skerrin.example', 'https://office.skerrin.example', '/files/quay.png'],
} as const;
type Name = keyof typeof SITES;
const kind = compileKind(KindDescription.parse({ id: 'quay/settings', version: 1, title: 'Settings', codecs: [{ path: '$.html', codec: 'html' }, { path: '$.css', codec: 'css' }, { path: '$.url', codec: 'url' }, { path: '$.json', codec: 'json' }] }));

function index(name: Name): SiteIndex {
  const [site, seat, picture] = SITES[name];
  const made = new SiteIndex(site, new Map([[kind.id, kind]]), { address: seat, paths: PATHS });
  made.add({ kind: 'quay/media', id: 12, name: 'quay', title: 'Quay', etag: 'x', status: 'published', size: 1, urls: { '': picture } });
  made.add({ kind: 'quay/page', id: 13, name: 'fares', title: 'Fares', etag: 'x', status: 'published', size: 1, urls: { '': '/fares/' } });
  return made;
}
const carried = (value: unknown, from: Name, to: Name): unknown => new Importer(index(to), new Map([[kind.id, kind]])).local(kind, { value: JSON.parse(new Exporter(index(from)).portable(kind, value).text) as never, covers: 'all' }).value;
/** What a site has: `seat` is the address of its CMS, `folder` the folder of that. */
const values = (name: Name): Record<string, unknown> => {
  const [site, , picture] = SITES[name];
  const seat = index(name).urlOf('/desk').slice(0, -'/desk'.length);
  const escaped = (text: string): string => text.replaceAll('/', '\\/');
  return {
    plain: `Sign in at ${seat}/enter.php?to=${encodeURIComponent(`${seat}/desk/`)}, or see ${site}/fares/ and ${site}/deskchairs/.`,
    image: `${seat}/files/quay.png`, theme: `${seat}/files/themes/quay/logo.svg`, relative: `${seat.replace(/^https?:/, '')}/desk/admin.php?page=quay`,
    html: `<a href="${seat}/desk/">Desk</a><img src="${seat}/files/quay.png"><img srcset="${seat}/files/quay.png 2x"><p>${site}</p>`,
    css: `a { background: url(${seat}/files/quay.png) } b { background: url("${seat}/files/x.png") }`,
    json: `{"a":"${escaped(`${seat}/desk/x`)}","b":"${escaped(`${seat}/files/quay.png`)}"}`, picture: picture === '/files/quay.png' ? 'at the top' : 'in a folder',
  };
};
const common = ({ picture: _own, ...rest }: Record<string, unknown>): Record<string, unknown> => rest;

describe('where a CMS lies', () => {
  const names = Object.keys(SITES) as Name[];
  test.each(names.flatMap((from) => names.map((to): [Name, Name] => [from, to])))('what texts say of its own paths is right on the way from %s to %s', (from, to) => {
    expect(carried(common(values(from)), from, to)).toEqual(common(values(to)));
  });

  test.each(names)('whatever is said of %s comes back as it was', (name) => {
    const [site, seat] = SITES[name];
    const said = Object.fromEntries([site, seat].flatMap((address) => ['', '/', '/desk', '/desk/x', '/core', '/core/', '/core/fares/', '/files/quay.png', '/core/files/quay.png', '/fares/', '/?p=12', '/enter.php'].flatMap((path, i) => [[`${address}${path}`, `${address}${path}`], [`${i}`, `x ${address}${path} x`]])));
    expect(carried({ said, url: `${new URL(seat).pathname.replace(/\/$/, '')}/desk/x` }, name, name)).toEqual({ said, url: `${new URL(seat).pathname.replace(/\/$/, '')}/desk/x` });
  });

  test('links without an address get the folder that it lies in', () => {
    expect(carried({ url: '/desk/x?page=quay', html: '<a href="/enter.php">In</a><a href="/deskchairs/">Chairs</a>' }, 'dev', 'folder')).toEqual({ url: '/core/desk/x?page=quay', html: '<a href="/core/enter.php">In</a><a href="/deskchairs/">Chairs</a>' });
    expect(carried({ url: '/core/desk/x', html: '<a href="/core/enter.php">In</a><a href="/core/">Core</a>' }, 'folder', 'deeper')).toEqual({ url: '/ferries/core/desk/x', html: '<a href="/ferries/core/enter.php">In</a><a href="/core/">Core</a>' });
    expect(carried({ url: '/core/files/quay.png' }, 'folder', 'old')).toEqual({ url: '/files/quay.png' });
  });

  test('where files lie that no item has', () => {
    const at = (seat?: string): SiteIndex => new SiteIndex('https://skerrin-ferries.example/', new Map([[kind.id, kind]]), seat === undefined ? undefined : { address: seat, paths: PATHS });
    expect(at('https://skerrin-ferries.example/core/').urlOf('/files/x.css')).toBe('https://skerrin-ferries.example/core/files/x.css');
    expect(at().urlOf('/files/x.css')).toBe('https://skerrin-ferries.example/files/x.css');
    expect([index('apart').urlOf('/files/quay.png'), index('apart').urlOf('/fares/'), index('folder').urlOf('/core/files/quay.png')]).toEqual(['https://office.skerrin.example/files/quay.png', 'https://www.skerrin.example/fares/', 'https://skerrin-ferries.example/core/files/quay.png']);
  });
});
