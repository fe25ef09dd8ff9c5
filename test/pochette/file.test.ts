import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, statSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { fingerprint, itemBytes, sha256, type PortableItem, type SourceRow } from '../../src/core/index.ts';
import { byCodeUnit } from '../../src/core/json.ts';
import { Archive } from '../../src/pochette/archive.ts';
import { About, BAGIT, itemMember, MEMBERS } from '../../src/pochette/format.ts';
import { Pochette } from '../../src/pochette/read.ts';
import { Sealer, sealKey, unsealed } from '../../src/pochette/seal.ts';
import { PochetteWriter } from '../../src/pochette/write.ts';
import { ZipWriter } from '../../src/pochette/zipwriter.ts';
import { kindOf, portableOf, trickyJson, twoSites } from '../helpers/arbitrary.ts';

const KIND = kindOf();
const { dev } = twoSites(KIND, ['a']);
const ABOUT: About = {
  format: 1, title: 'T', description: '', version: '', author: 'A', requirements: [], leftOut: [], choices: { selectors: [], alone: false }, counts: { items: 0, files: 0 }, kinds: [KIND.description],
  origin: { cms: { name: 'c', title: 'C', version: '1.0.0' }, site: { id: 's', title: 'S', address: 'http://dev.example' }, extensions: [], theme: { name: 't', title: 'T', version: '1.0.0' } },
};
let folder: string;
beforeAll(() => { folder = mkdtempSync(join(tmpdir(), 'pochette-file-')); });
afterAll(() => { rmSync(folder, { recursive: true, force: true }); });

function rowOf(name: string, value: unknown): { row: SourceRow; item: PortableItem } {
  const portable = portableOf(dev, KIND, value);
  const item: PortableItem = { address: `template:${name}`, covers: 'all', kind: KIND.id, value: portable.value };
  return { item, row: { ...portable, text: itemBytes(item), address: item.address, kind: KIND.id, title: name, covers: 'all', fingerprint: fingerprint(item), size: itemBytes(item).length, load: () => Promise.resolve(item) } };
}

async function write(name: string, values: Readonly<Record<string, unknown>>, files: readonly Buffer[] = []): Promise<{ path: string; digest: string }> {
  const path = join(folder, name);
  const writer = new PochetteWriter(path);
  for (const [key, value] of Object.entries(values).sort(([a], [b]) => byCodeUnit(a, b))) await writer.item(rowOf(key, value).row);
  for (const bytes of files) await writer.media({ digest: sha256(bytes), type: 'image/png', bytes });
  const { digest } = await writer.finish({ ...ABOUT, counts: writer.counts });
  return { path, digest };
}

/** A pochette made member by member, with true manifests unless told otherwise. */
async function forge(name: string, members: Readonly<Record<string, Buffer | string>>, change: (manifest: string) => string = (one) => one): Promise<string> {
  const path = join(folder, name);
  const zip = new ZipWriter(path);
  const all = { ...members, [MEMBERS.bagit]: BAGIT };
  const manifest = change(Object.entries(members).map(([member, bytes]) => `${sha256(bytes)}  ${member}\n`).join(''));
  for (const [member, bytes] of Object.entries(all)) zip.add(member, Buffer.from(bytes));
  zip.add(MEMBERS.manifest, Buffer.from(manifest));
  zip.add(MEMBERS.tags, Buffer.from(`${sha256(manifest)}  ${MEMBERS.manifest}\n`));
  await zip.finish();
  return path;
}
const about = JSON.stringify(ABOUT);
const line = (name: string, value: unknown, changes: object = {}): string => { const { row } = rowOf(name, value); return JSON.stringify({ ...row, ...changes, load: undefined, leftOut: undefined, text: undefined }) + '\n'; };

describe('a pochette read back', () => {
  test('equals what was written, and writing it twice gives the same bytes', async () => {
    let n = 0;
    await fc.assert(fc.asyncProperty(fc.dictionary(fc.stringMatching(/^[A-Za-z0-9._~/-]{1,12}$/), trickyJson.filter((value) => !JSON.stringify(value).includes('__proto__')), { maxKeys: 6, noNullPrototype: true }), async (values) => {
      const [one, two] = [await write(`p${++n}`, values), await write(`q${n}`, values)];
      expect(readFileSync(one.path).equals(readFileSync(two.path))).toBe(true);
      const pochette = await (await Pochette.open(one.path)).openIndex();
      expect(pochette.digest).toBe(one.digest);
      const rows = [...pochette.rows()];
      expect(rows.map((row) => row.address)).toEqual(Object.keys(values).map((key) => `template:${key}`).sort());
      for (const row of rows) expect(itemBytes(await row.load())).toBe(itemBytes(rowOf(row.address.slice('template:'.length), values[row.address.slice('template:'.length)]).item));
      await pochette.check();
      pochette.close();
    }), { numRuns: 40 });
  });

  test('of more items than are held as rows gives the same, in any order', async () => {
    const names = Array.from({ length: 20_050 }, (_, i) => `item-${String(i).padStart(5, '0')}`);
    const { path } = await write('many', Object.fromEntries(names.map((name, i) => [name, { i, note: 'é' }])));
    const pochette = await (await Pochette.open(path)).openIndex();
    expect([pochette.size, pochette.has('template:item-20049'), pochette.has('template:item-20050')]).toEqual([20_050, true, false]);
    expect([...pochette.addresses()]).toEqual(names.map((name) => `template:${name}`));
    expect(pochette.entry('template:item-00007')).toMatchObject({ kind: KIND.id, title: 'item-00007' });
    const some = [...pochette.rows(new Set(['template:item-20000', 'template:nothing', 'template:item-00003']))];
    expect(some.map((row) => [row.address, row.title])).toEqual([['template:item-00003', 'item-00003'], ['template:item-20000', 'item-20000']]);
    expect((await some[1]?.load())?.value).toEqual({ i: 20_000, note: 'é' });
    expect([...pochette.rows()].map((row) => row.fingerprint)).toHaveLength(20_050);
    pochette.close();
  });

  test('can be checked by unzip and sha256sum alone', async () => {
    const { path } = await write('public.pochette', { 'a/b C': { x: 1 }, plain: 'é' }, [Buffer.from('picture')]);
    const out = join(folder, 'unpacked');
    execFileSync('python3', ['-c', 'import sys,zipfile; z=zipfile.ZipFile(sys.argv[1]); assert z.testzip() is None; z.extractall(sys.argv[2])', path, out]);
    expect(execFileSync('sha256sum', ['-c', '--quiet', MEMBERS.manifest], { cwd: out }).toString()).toBe('');
    expect(execFileSync('sha256sum', ['-c', '--quiet', MEMBERS.tags], { cwd: out }).toString()).toBe('');
  });

  test('more than 65,535 members are readable', async () => {
    const zip = new ZipWriter(join(folder, 'many.zip'));
    for (let i = 0; i < 66_000; i++) zip.add(`data/items/x/n${i}.json`, Buffer.from(String(i)));
    await zip.finish();
    const archive = await Archive.open(join(folder, 'many.zip'));
    expect(archive.count).toBe(66_000);
    expect(archive.read('data/items/x/n65999.json').toString()).toBe('65999');
    archive.close();
  });
});

describe('a file from a stranger', () => {
  const refused = async (path: string, message: RegExp): Promise<void> => {
    await expect((async () => { const pochette = await Pochette.open(path); try { await pochette.check(); } finally { pochette.close(); } })()).rejects.toThrow(message);
  };

  test('that is no ZIP, or was cut short', async () => {
    writeFileSync(join(folder, 'text'), 'hello, this is text and no archive at all');
    await refused(join(folder, 'text'), /no ZIP archive, or it was cut short/);
    const { path } = await write('cut.pochette', { a: 1, b: { long: 'x'.repeat(5000) } });
    truncateSync(path, statSync(path).size - 30);
    await refused(path, /cut short|damaged/);
  });

  test('in which one byte was altered, wherever it is', async () => {
    const { path } = await write('byte.pochette', { a: { text: 'hello' }, b: 2 }, [Buffer.from('picture bytes')]);
    const whole = readFileSync(path);
    const original = sha256(tagManifest(whole));
    const directory = whole.lastIndexOf(Buffer.from('PK\x05\x06', 'latin1'));
    for (let at = 0; at < directory; at += 7) {
      const bytes = Buffer.from(whole);
      bytes[at] = (bytes[at] as number) ^ 0x41;
      const changed = join(folder, 'changed');
      writeFileSync(changed, bytes);
      // Only what no reader looks at (times, versions, attributes) may differ: then everything read is what was written.
      const digest = await (async () => { const pochette = await Pochette.open(changed); try { await pochette.check(); return pochette.digest; } finally { pochette.close(); } })().catch((error: unknown) => (error as Error).name);
      expect(['Problem', original]).toContain(digest);
    }
  });

  test('whose index is damaged: no line of it is to blame', async () => {
    const { path } = await write('index.pochette', Object.fromEntries(Array.from({ length: 60 }, (_, i) => [`n${String(i).padStart(2, '0')}`, i])));
    const bytes = readFileSync(path);
    const begin = bytes.indexOf(MEMBERS.index) + MEMBERS.index.length;
    for (let at = begin + 40; at < begin + 400; at += 40) {
      const changed = Buffer.from(bytes);
      changed[at] = (changed[at] as number) ^ 0x41;
      writeFileSync(join(folder, 'changed'), changed);
      await refused(join(folder, 'changed'), /index\.ndjson is damaged/);
    }
  });

  test('of a newer format, or with a tag of a newer one', async () => {
    await refused(await forge('newer', { [MEMBERS.about]: JSON.stringify({ format: 2 }), [MEMBERS.index]: '' }), /format 2; this Pochette reads up to format 1/);
    const item = { address: 'template:a', covers: 'all', kind: KIND.id, value: { '@future': 1 } };
    const bytes = itemBytes(item as PortableItem);
    await refused(await forge('tag', { [MEMBERS.about]: about, [MEMBERS.index]: line('a', 0, { fingerprint: sha256(bytes) }), [itemMember('template:a')]: bytes }), /"@future" is not known/);
  });

  test.each(['../evil', 'data/../../evil', '/etc/evil', 'data/items/x/../../../evil.json', 'data/script.sh', 'C:\\evil'])('with the member %s', async (name) => {
    await refused(await forge('path', { [MEMBERS.about]: about, [MEMBERS.index]: '', [name]: 'x' }), /leaves its folder|has no place in a pochette/);
  });

  test('that unpacks to far more than it is', async () => {
    const huge = join(folder, 'bomb');
    const zip = new ZipWriter(huge);
    zip.add(MEMBERS.index, Buffer.alloc(64 * 2 ** 20));
    await zip.finish();
    expect(statSync(huge).size).toBeLessThan(100_000);
    await refused(huge, /times its size/);
  });

  test('with the key __proto__', async () => {
    const bytes = '{"address":"template:a","covers":"all","kind":"tholepin/template","value":{"__proto__":{"admin":true}}}';
    await refused(await forge('proto', { [MEMBERS.about]: about, [MEMBERS.index]: line('a', 0, { fingerprint: sha256(bytes) }), [itemMember('template:a')]: bytes }), /"__proto__" is not accepted/);
  });

  test('whose manifest does not name a member, or names another digest', async () => {
    await refused(await forge('unlisted', { [MEMBERS.about]: about, [MEMBERS.index]: '' }, (manifest) => `${manifest.split('\n')[0]}\n`), /not in the manifest/);
    await refused(await forge('wrong', { [MEMBERS.about]: about, [MEMBERS.index]: '' }, (manifest) => manifest.replace(/^./gm, 'a')), /altered/);
  });

  test('that names an item twice', async () => {
    const { item } = rowOf('a', 1);
    await refused(await forge('twice', { [MEMBERS.about]: about, [MEMBERS.index]: line('a', 1) + line('a', 1), [itemMember('template:a')]: itemBytes(item) }), /names an item twice/);
  });
});

/** The tag manifest's bytes, found in the archive by the public reader. */
function tagManifest(archive: Buffer): Buffer {
  const path = join(folder, 'whole');
  writeFileSync(path, archive);
  return execFileSync('python3', ['-c', 'import sys,zipfile; sys.stdout.buffer.write(zipfile.ZipFile(sys.argv[1]).read(sys.argv[2]))', path, MEMBERS.tags]);
}

test('sealed records open with their key only', () => {
  const key = sealKey(join(folder, 'key'));
  expect(statSync(join(folder, 'key')).mode & 0o077).toBe(0);
  const sealer = new Sealer(key);
  // More than is packed together.
  const lines = Array.from({ length: 3000 }, (_, i) => `secret record ${i} ${'é'.repeat(700)}`);
  for (const line of lines) sealer.add(line);
  const sealed = sealer.end();
  expect(sealed.includes('secret')).toBe(false);
  expect([...unsealed(sealed, sealKey(join(folder, 'key')))]).toEqual(lines);
  expect(() => [...unsealed(sealed, sealKey(join(folder, 'other')))]).toThrow(/do not open with this key/);
});
