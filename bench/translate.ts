import render from 'dom-serializer';
import { parseDocument } from 'htmlparser2';
import { compileKinds, Exporter, Importer, SiteIndex, type Json, type Kind } from '../src/core/index.ts';
import { CMS_KINDS } from '../src/standin/scenario/kinds.ts';
import { paired } from './measure.ts';
import { addLine, ROUNDS } from './table.ts';

const TEMPLATE = 'tholepin/template';
const MEGABYTE = 1e6;

function index(site: string, base: number, count: number): SiteIndex {
  const kinds = compileKinds(CMS_KINDS, 'bench');
  const made = new SiteIndex(site, kinds);
  for (let i = 0; i < count; i++) made.add({ kind: TEMPLATE, id: base + i, name: `sheet-${i}`, title: `Sheet ${i}`, etag: '""', status: 'published', size: 0 });
  for (let i = 0; i < 100; i++) made.add({ kind: 'tholepin/media', id: base + count + i, name: `picture-${i}`, title: `Picture ${i}`, etag: '""', status: 'published', size: 0, urls: { '': `/uploads/${base + count + i}/picture.png`, small: `/uploads/${base + count + i}/picture-small.png` } });
  return made;
}

/** A paragraph with what markup of sites is full of: a link, a picture with its sizes, an id in an attribute and one in a comment. */
function paragraph(i: number, site: string, base: number, count: number): string {
  const media = base + count + (i % 100);
  return `<p class="band">Boats leave by the clock of Skerrin Pier, in all weathers but the worst. <a href="${site}/fares/" data-template="${base + (i % count)}">Fares</a></p>\n`
    + `<figure style="background:url(/uploads/${media}/picture-small.png)"><img src="${site}/uploads/${media}/picture.png" srcset="${site}/uploads/${media}/picture-small.png 1x, /uploads/${media}/picture.png 2x" data-media="${media}" alt="A ferry"></figure>\n`
    + `<!-- block {"template":${base + ((i * 7) % count)},"heading":"Next boats"} -->\n<div data-setup="{&quot;media&quot;:${media}}">${'Hot soup is served on every crossing, and the saloon is warm. '.repeat(3)}</div>\n`;
}

/** Written text: a link in about a kilobyte, and one picture in a page. */
function prose(i: number, site: string, base: number, count: number): string {
  const media = base + count + (i % 100);
  const sentence = 'Boats leave by the clock of Skerrin Pier, in all weathers but the worst, and the saloon is warm on every crossing. ';
  return `<h2>Sheet ${i}</h2>\n<figure><img src="${site}/uploads/${media}/picture.png" data-media="${media}" alt="A ferry"></figure>\n`
    + Array.from({ length: 6 }, (_, n) => `<p>${sentence.repeat(8)}<a href="${site}/fares/" data-template="${base + ((i + n) % count)}">Fares</a></p>\n`).join('');
}

/** Portable and back, in this process; the values are of a site with many items, and go to another one. */
export function translating(): void {
  const count = 20_000;
  const [dev, live] = [index('https://dev.skerrin.example', 1_000_000, count), index('https://skerrin-ferries.example', 5_000_000, count)];
  const kinds = compileKinds(CMS_KINDS, 'bench');
  const kind = kinds.get(TEMPLATE) as Kind;
  const there = (values: readonly unknown[]): void => {
    const [exporter, importer] = [new Exporter(dev), new Importer(live, kinds)];
    for (const value of values) { const portable = exporter.portable(kind, value); importer.local(kind, { value: JSON.parse(portable.text) as Json, covers: 'all' }); }
  };
  const item = (i: number, bands: number, markup: string) => ({
    title: `Sheet ${i}`, hero: 1_000_000 + count + (i % 100), next: 1_000_000 + ((i * 3) % count), related: `${1_000_000 + (i % count)},${1_000_000 + ((i * 5) % count)}`, link: '/fares/', code: '', views: i, edited: i, markup,
    layout: JSON.stringify({ bands: Array.from({ length: bands }, (_, n) => ({ key: `band-${n}`, shows: 'template', target: 1_000_000 + ((i + n) % count), note: `Note ${n} at https://dev.skerrin.example/timetable/` })), widths: { [1_000_000 + (i % count)]: 6 } }),
  });
  const carried = (what: string, items: readonly unknown[]): void => {
    const texts = items.map((one) => JSON.stringify(one));
    addLine(`50 MB of items ${what} to portable form and back, in this process`, 'JSON.parse and JSON.stringify of the same bytes', paired(ROUNDS, () => timed(() => { there(items); }), () => timed(() => { for (const text of texts) JSON.stringify(JSON.parse(text)); })), '6x');
  };
  carried('full of references, one in 70 bytes,', sized(50 * MEGABYTE, (i) => item(i, 12, Array.from({ length: 6 }, (_, n) => paragraph(i + n, 'https://dev.skerrin.example', 1_000_000, count)).join(''))));
  carried('of written text, a reference in 300 bytes,', sized(50 * MEGABYTE, (i) => item(i, 2, prose(i, 'https://dev.skerrin.example', 1_000_000, count))));
  const pages = sized(20 * MEGABYTE, (i) => ({ title: '', markup: Array.from({ length: 20 }, (_, n) => paragraph(i + n, 'https://dev.skerrin.example', 1_000_000, count)).join('') }));
  addLine('addresses and ids in 20 MB of HTML rewritten, in this process', 'plain parse and print of the same with an HTML library', paired(ROUNDS, () => timed(() => { there(pages); }), () => timed(() => { for (const { markup } of pages) render(parseDocument(markup)); })), '2x');
}

/** As many values as it takes for so many bytes of JSON. */
function sized<T>(bytes: number, make: (i: number) => T): T[] {
  const list: T[] = [];
  for (let total = 0; total < bytes;) { const one = make(list.length); list.push(one); total += JSON.stringify(one).length; }
  return list;
}

function timed(work: () => void): number {
  const begun = performance.now();
  work();
  return (performance.now() - begun) / 1000;
}
