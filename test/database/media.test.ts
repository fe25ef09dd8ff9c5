import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { MediaServer } from '../helpers/mediaserver.ts';
import { sqliteSite, type QuaysideSite } from '../helpers/quayside.ts';
import { Bench } from '../helpers/sites.ts';

const LAYOUT = `
format: 1
name: gallery
title: Gallery
recognise: [{ table: pictures, columns: [slug, file] }]
tables: { pictures: { name: pictures }, about: { name: about } }
facts:
  cms: { name: gallery, title: Gallery }
  title: { from: about, where: { name: title }, value: value }
  address: { from: about, where: { name: address }, value: value }
media: { url: /uploads, types: [text/plain] }
kinds:
  - id: gallery/picture
    plural: Pictures
    rows: { from: pictures, name: '{slug}', title: '{title}', value: { title: title, path: file, files: { files: { main: file } } } }
    files: ['$.files[*].file']
`;
const TOKEN = 'harbour-light';
const tables = (address: string, rows: string): string => `create table pictures (id integer primary key, slug text not null unique, title text not null, file text not null); create table about (name text primary key, value text);
insert into about values ('title', 'Skerrin'), ('address', '${address}');${rows}`;

describe.each(['folder', 'address', 'address that tells digests'])('files of a site in a database, by %s', (way) => {
  const bench = new Bench();
  const uploads = bench.path('live-uploads');
  const server = new MediaServer(uploads, TOKEN);
  let live: QuaysideSite;
  let address = '';
  const files = (): string[] => (existsSync(uploads) ? readdirSync(uploads, { recursive: true, withFileTypes: true }).filter((one) => one.isFile() && !one.parentPath.includes('.pochette-files')).map((one) => join(one.parentPath, one.name).slice(uploads.length + 1)).sort() : []);
  const configure = (media: string): void => { writeFileSync(bench.path('pochette.yaml'), `you: Isbel Farrow\nsites:\n  dev: { url: 'sqlite:dev.db', layout: gallery.yaml, media: dev-uploads }\n  live: { url: 'sqlite:live.db', layout: gallery.yaml, ${media} }\n`); };
  beforeAll(async () => { address = await server.start(); });
  beforeEach(() => {
    for (const name of ['dev.db', 'live.db', 'dev-uploads', 'live-uploads', '.pochette']) rmSync(bench.path(name), { recursive: true, force: true });
    writeFileSync(bench.path('gallery.yaml'), LAYOUT);
    writeFileSync(bench.path('media.token'), TOKEN);
    for (const path of ['dev-uploads/2026/pier light.txt', 'dev-uploads/quay.txt', 'live-uploads/quay.txt']) { mkdirSync(join(bench.path(path), '..'), { recursive: true }); writeFileSync(bench.path(path), `a picture of ${path.split('/').at(-1) ?? ''}`); }
    sqliteSite(bench.path('dev.db'), tables('https://dev.skerrin.example', "insert into pictures values (1, 'pier', 'Pier', '2026/pier light.txt'), (2, 'quay', 'Quay', 'quay.txt');"));
    live = sqliteSite(bench.path('live.db'), tables('https://skerrin-ferries.example', "insert into pictures values (12, 'quay', 'Quay', 'quay.txt');"));
    Object.assign(server, { refuse: {}, digests: way.endsWith('digests') });
    server.requests.length = 0;
    configure(way === 'folder' ? 'media: live-uploads' : `media: '${address}', mediaToken: 'file:media.token'`);
  });
  afterAll(async () => { server.stop(); await bench.stop(); });

  test('are carried with their records, found to be the same, and taken back', async () => {
    const before = live.dump();
    const run = await bench.run('import', 'dev', 'live', '--yes');
    expect([run.code, run.err]).toEqual([0, '']);
    expect(files()).toEqual(['2026/pier light.txt', 'quay.txt']);
    expect(readFileSync(join(uploads, '2026/pier light.txt'), 'utf8')).toBe('a picture of pier light.txt');
    expect(live.run('select slug, file from pictures order by slug')).toBe('pier\t2026/pier light.txt\nquay\tquay.txt');
    expect((await bench.run('compare', 'dev', 'live')).code).toBe(0);
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
    expect([files(), live.dump()]).toEqual([['quay.txt'], before]);
    const undo = (JSON.parse((await bench.run('history', 'live', '--json')).out) as { history: { run: string }[] }).history[0]?.run ?? '';
    expect((await bench.run('undo', 'live', undo, '--yes')).code).toBe(0);
    expect(files()).toEqual(['2026/pier light.txt', 'quay.txt']);
    if (way.startsWith('address')) expect(server.requests.some((one) => one === 'GET /uploads/quay.txt')).toBe(!way.endsWith('digests'));
  });

  test('that lie where another file is are refused, and nothing is changed', async () => {
    mkdirSync(join(uploads, '2026'));
    writeFileSync(join(uploads, '2026/pier light.txt'), 'something else');
    const before = live.dump();
    const ran = await bench.run('import', 'dev', 'live', '--yes');
    expect([ran.code, ran.err]).toEqual([5, expect.stringContaining('another file is at 2026/pier light.txt')]);
    expect([live.dump(), readFileSync(join(uploads, '2026/pier light.txt'), 'utf8')]).toEqual([before, 'something else']);
  });

  test('get another name where another file is, if the kind says where they lie; and are replaced where it is the record\'s own', async () => {
    writeFileSync(bench.path('gallery.yaml'), `${LAYOUT}    filePaths: ['$.files[*].path']\n`);
    mkdirSync(join(uploads, '2026'));
    writeFileSync(join(uploads, '2026/pier light.txt'), 'something else');
    writeFileSync(bench.path('dev-uploads/quay.txt'), 'the quay in winter');
    const [before, contents] = [live.dump(), () => files().map((path) => readFileSync(join(uploads, path), 'utf8'))];
    const ran = await bench.run('import', 'dev', 'live', '--yes');
    expect([ran.code, ran.err]).toEqual([0, '']);
    expect(ran.out).toContain('is kept as 2026/pier light-2.txt: another file has its name');
    expect([files(), contents()]).toEqual([['2026/pier light-2.txt', '2026/pier light.txt', 'quay.txt'], ['a picture of pier light.txt', 'something else', 'the quay in winter']]);
    expect(live.run('select slug, file from pictures order by slug')).toBe('pier\t2026/pier light-2.txt\nquay\tquay.txt');
    expect((await bench.run('import', 'dev', 'live', '--yes')).out).toContain('Nothing to do');
    expect((await bench.run('undo', 'live', '--yes')).code).toBe(0);
    expect([files(), contents(), live.dump()]).toEqual([['2026/pier light.txt', 'quay.txt'], ['something else', 'a picture of quay.txt'], before]);
  });

  test('that a record got in place of others go with the undo; those that it had are there all the time', async () => {
    sqliteSite(bench.path('dev.db'), "update pictures set file = '2026/pier light.txt' where slug = 'quay'; delete from pictures where slug = 'pier'");
    const before = live.dump();
    expect((await bench.run('import', 'dev', 'live', '--yes')).code).toBe(0);
    expect(files()).toEqual(['2026/pier light.txt', 'quay.txt']);
    const undone = await bench.run('undo', 'live', '--yes');
    expect([undone.code, files(), live.dump()]).toEqual([0, ['quay.txt'], before]);
    expect((await bench.run('undo', 'live', /undo live ([\w-]+)"/.exec(undone.out)?.[1] ?? '', '--yes')).code).toBe(0);
    expect([files(), live.run('select file from pictures')]).toEqual([['2026/pier light.txt', 'quay.txt'], '2026/pier light.txt']);
  });

  test('whose path leaves the place are never written', async () => {
    sqliteSite(bench.path('dev.db'), "update pictures set file = '../outside.txt' where id = 1");
    writeFileSync(bench.path('outside.txt'), 'not a picture');
    expect((await bench.run('list', 'dev')).out).toMatch(/picture:pier {2}.*its file \.\.\/outside\.txt is not in the media folder/);
    const { out } = await bench.run('export', 'dev', '-o', 'out.pochette', '--json');
    expect(JSON.parse(out)).toMatchObject({ items: 1, leftOut: [expect.objectContaining({ address: 'picture:pier' })] });
    rmSync(bench.path('outside.txt'));
  });
});

describe('an address for media', () => {
  const bench = new Bench();
  const server = new MediaServer(bench.path('live-uploads'), TOKEN);
  let url = '';
  const configure = (media: string): void => { writeFileSync(bench.path('pochette.yaml'), `you: Isbel Farrow\nsites:\n  dev: { url: 'sqlite:dev.db', layout: gallery.yaml, media: dev-uploads }\n  live: { url: 'sqlite:live.db', layout: gallery.yaml, ${media} }\n`); };
  let live: QuaysideSite;
  beforeEach(async () => {
    if (url !== '') { server.refuse = {}; return; }
    url = await server.start();
    writeFileSync(bench.path('gallery.yaml'), LAYOUT);
    writeFileSync(bench.path('media.token'), TOKEN);
    mkdirSync(bench.path('dev-uploads'));
    writeFileSync(bench.path('dev-uploads/pier.txt'), 'a picture of a pier');
    sqliteSite(bench.path('dev.db'), tables('https://dev.skerrin.example', "insert into pictures values (1, 'pier', 'Pier', 'pier.txt');"));
    live = sqliteSite(bench.path('live.db'), tables('https://skerrin-ferries.example', ''));
  });
  afterAll(async () => { server.stop(); await bench.stop(); });

  test('that takes no files stops an import before a row is written', async () => {
    configure(`media: '${url}', mediaToken: 'file:media.token'`);
    for (const [status, remedy] of [[403, /check mediaToken/], [405, /allow PUT and DELETE/], [507, /see what its log says/], [302, /see what its log says/]] as const) {
      server.refuse = { PUT: status };
      const before = live.dump();
      const ran = await bench.run('import', 'dev', 'live', '--yes');
      expect([ran.code, ran.err]).toEqual([5, expect.stringContaining(`does not take the file (status ${status})`)]);
      expect(ran.err).toMatch(remedy);
      expect(live.dump()).toBe(before);
    }
  });

  test('that does not answer, or refuses the token, is a missing ability that is said before', async () => {
    for (const [media, told] of [["media: 'http://127.0.0.1:9/uploads'", /the address for media does not answer.*pictures can neither be read nor written/], [`media: '${url}'`, /the address for media refuses us \(status 401\)/]] as const) {
      configure(media);
      const ran = await bench.run('import', 'dev', 'live', '--yes');
      expect([ran.code, ran.err]).toEqual([3, expect.stringMatching(told)]);
      expect(ran.out + ran.err).toMatch(/needs uploads of text\/plain.*no place for files.*--no-media/s);
    }
  });
});

describe.each([['a folder of the site', 'https://skerrin-ferries.example/core', '/core'], ['another address', 'https://office.skerrin.example', '']])('a CMS that lies in %s', (_where, seat, folder) => {
  const bench = new Bench();
  afterAll(() => bench.stop());

  test('keeps its own paths there, and its pictures, both ways', async () => {
    writeFileSync(bench.path('gallery.yaml'), `${LAYOUT.replace('title: Gallery }\n  title', "title: Gallery, address: { from: about, where: { name: seat }, value: value }, paths: [/uploads, /desk] }\n  title")}  - id: gallery/text
    rows: { from: about, where: { name: [notice, footer] }, name: '{name}', title: '{name}', value: { text: value } }
    codecs: [{ path: $.text, codec: html }]
`);
    const notice = (address: string): string => `<a href="${address}/desk/sign-in">In</a><img src="${address}/uploads/quay.txt"><img src="${address}/uploads/none.png">`;
    const footer = (site: string, below: string): string => `<a href="${below}/desk/">Desk</a><a href="${site}/fares/">Fares</a>`;
    const rows = (name: string, text: string): string => `insert into about values ('${name}', '${text}');`;
    const picture = "insert into pictures values (1, 'quay', 'Quay', 'quay.txt');";
    const dev = sqliteSite(bench.path('dev.db'), tables('https://dev.skerrin.example', `${rows('seat', 'https://dev.skerrin.example')}${rows('notice', notice('https://dev.skerrin.example'))}${picture}`));
    const live = sqliteSite(bench.path('live.db'), tables('https://skerrin-ferries.example', `${rows('seat', seat)}${rows('footer', footer('https://skerrin-ferries.example', folder))}${picture.replace('(1', '(7')}`));
    for (const site of ['dev', 'live']) { mkdirSync(bench.path(`${site}-uploads`)); writeFileSync(bench.path(`${site}-uploads/quay.txt`), 'a picture of quay.txt'); }
    writeFileSync(bench.path('pochette.yaml'), `you: Isbel Farrow\nsites:\n  dev: { url: 'sqlite:dev.db', layout: gallery.yaml, media: dev-uploads }\n  live: { url: 'sqlite:live.db', layout: gallery.yaml, media: live-uploads }\n`);
    expect((await bench.run('import', 'dev', 'live', '--yes')).code).toBe(0);
    expect(live.run("select value from about where name = 'notice'")).toBe(notice(seat));
    expect((await bench.run('import', 'live', 'dev', '--yes')).code).toBe(0);
    expect(dev.run("select value from about where name = 'footer'")).toBe(footer('https://dev.skerrin.example', ''));
    expect((await bench.run('compare', 'dev', 'live')).code).toBe(0);
    const { item } = JSON.parse((await bench.run('show', 'live', 'text:notice', '--json')).out) as { item: { value: { text: string } } };
    expect(item.value.text).toBe('<a href="⟦seat⟧/desk/sign-in">In</a><img src="⟦seat⟧⟦path picture:quay⟧"><img src="⟦seat⟧/uploads/none.png">');
  });
});
