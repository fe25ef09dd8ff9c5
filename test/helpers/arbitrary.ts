import fc from 'fast-check';
import { compileKind, Exporter, KindDescription, SiteIndex, type Json, type Kind, type Portable, type KindInput, type Kinds } from '../../src/core/index.ts';

/** Values as I-JSON has them, with texts and keys that look like our own notation. */
export const trickyText = fc.oneof(
  fc.string({ unit: 'grapheme' }), fc.string({ unit: 'binary' }),
  fc.constantFrom('⟦site⟧', '⟦⟦', '⟦', '⟧', '@ref', '@@ref', '@json', 'how', '⟦id template:a⟧', '⟦path page:fares⟧', '__proto__', 'constructor', 'http://dev.example/fares/', 'dev.example', '{"@ref":"template:a"}', '[1,2]', '"x"', '4,5,6', '1000001'),
);
export const trickyJson = fc.letrec((tie) => ({
  value: fc.oneof({ maxDepth: 4, depthSize: 'small' }, fc.constant(null), fc.boolean(), fc.double({ noNaN: true, noDefaultInfinity: true }), fc.integer(), trickyText, fc.array(tie('value'), { maxLength: 4 }), fc.dictionary(trickyText, tie('value'), { maxKeys: 4, noNullPrototype: true })),
})).value as fc.Arbitrary<unknown>;

export function kindOf(input: Partial<KindInput> = {}): Kind {
  return compileKind(KindDescription.parse({ id: 'tholepin/template', version: 1, title: 'Template', ...input }));
}

/** Two sites with the same items under other ids, addresses and paths. */
export function twoSites(kind: Kind, names: readonly string[]): { dev: SiteIndex; live: SiteIndex; kinds: Kinds } {
  const media = kindOf({ id: 'tholepin/media', title: 'Picture' });
  const page = kindOf({ id: 'tholepin/page', title: 'Page', where: '/{name}/', carried: false, addresses: ['/?p={id}', '/office/edit?page={id}'] });
  const kinds: Kinds = new Map([kind, media, page].map((one) => [one.id, one]));
  const build = (site: string, base: number): SiteIndex => {
    const index = new SiteIndex(site, kinds);
    names.forEach((name, i) => index.add({ kind: kind.id, id: base + i, name, title: name, etag: `"${i}"`, status: 'published', size: 0 }));
    index.add({ kind: media.id, id: base + 900, name: 'pier', title: 'Pier', etag: '"m"', status: 'published', size: 0, urls: { '': `/uploads/${base}/pier.png`, small: `/uploads/${base}/pier-small.png` } });
    index.add({ kind: page.id, id: base + 901, name: 'fares', title: 'Fares', etag: '"p"', status: 'published', size: 0, urls: { '': base === 1_000_000 ? '/fares/' : '/prices/' } });
    return index;
  };
  return { dev: build('http://dev.example', 1_000_000), live: build('https://live.example:8443/shop', 2_000_000), kinds };
}

/** The portable form, with its value read. */
export function portableOf(index: SiteIndex, kind: Kind, local: unknown): Portable & { value: Json } {
  const portable = new Exporter(index).portable(kind, local);
  return { ...portable, value: JSON.parse(portable.text) as Json };
}
