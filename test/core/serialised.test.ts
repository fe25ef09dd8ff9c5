import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { bytesOfText, textOfBytes } from '../../src/core/bytes.ts';
import { compileKind, KindDescription } from '../../src/core/kind.ts';
import { SiteIndex } from '../../src/core/siteindex.ts';
import { Importer } from '../../src/core/translate/local.ts';
import { Exporter } from '../../src/core/translate/portable.ts';
import { readSerialised, writeSerialised } from '../../src/core/translate/serialised.ts';
import { Entries, Exact, type Node } from '../../src/core/tree.ts';

const value = fc.letrec<{ node: Node }>((tie) => ({
  node: fc.oneof(
    { maxDepth: 4 }, fc.string({ unit: 'binary' }), fc.integer(), fc.bigInt({ min: -(2n ** 63n), max: 2n ** 63n - 1n }).map((n) => (Number.isSafeInteger(Number(n)) ? Number(n) : new Exact('number', `${n}n`))),
    fc.boolean(), fc.constant(null), fc.constantFrom('0.1', '1.0E+25', 'INF', '-INF', 'NAN', '-0', '5', '1.5').map((text) => (text === '0.1' || text === '1.5' ? Number(text) : new Exact('float', text))),
    fc.array(tie('node'), { maxLength: 4 }),
    fc.tuple(fc.uniqueArray(fc.oneof(fc.string(), fc.integer().map(String)), { minLength: 1, maxLength: 4 }), tie('node'), fc.option(fc.constantFrom('Skerrin\\Quay', 'Harbour'), { nil: undefined }))
      .map(([keys, node, name]): Node => (name === undefined && keys.every((key, i) => key === String(i)) ? keys.map(() => node) : new Entries(keys.map((key) => [key, node]), true, name))),
  ),
})).node;

const kind = compileKind(KindDescription.parse({
  id: 'quay/settings', version: 1, title: 'Settings', codecs: [{ path: '$.option', codec: 'php' }, { path: '$.option.packed', codec: 'php' }, { path: '$.option.packed.page', codec: 'digits' }],
  references: [{ path: '$.option.pages.*', to: 'page' }], siteBound: ['$.option.mail'],
}));
const site = (address: string, id: number): SiteIndex => {
  const index = new SiteIndex(address, new Map([[kind.id, kind]]));
  index.add({ kind: 'quay/page', id, name: 'fares', title: 'Fares', etag: 'x', status: 'published', size: 1, urls: { '': '/fares/' } });
  return index;
};
const there = (option: string): { option: string } => {
  const portable = new Exporter(site('https://dev.skerrin.example', 12)).portable(kind, { option });
  return new Importer(site('https://skerrin-ferries.example', 3045), new Map([[kind.id, kind]])).local(kind, { value: JSON.parse(portable.text) as never, covers: 'all' }).value as { option: string };
};

const s = (text: string): string => `s:${Buffer.byteLength(text)}:"${text}";`;

describe('serialised values', () => {
  test('what is written is read back, and written again the same', () => {
    fc.assert(fc.property(value, (node) => {
      const text = writeSerialised(node);
      const reading = readSerialised(text);
      expect(reading.is).toBe('value');
      expect(writeSerialised((reading as { node: Node }).node)).toBe(text);
    }), { numRuns: 500 });
  });

  test('bytes and text: every sequence of bytes has one text', () => {
    fc.assert(fc.property(fc.uint8Array(), (bytes) => { expect(bytesOfText(textOfBytes(bytes)).equals(Buffer.from(bytes))).toBe(true); }));
    expect(textOfBytes(Buffer.from([0x46, 0xe4, 0x68, 0x72, 0x65]))).toBe('F\udce4hre');
  });

  test('to portable form and back is the identity on the same site', () => {
    fc.assert(fc.property(value, (node) => {
      const option = writeSerialised(node);
      const home = site('https://dev.skerrin.example', 12);
      const portable = new Exporter(home).portable(kind, { option });
      if (portable.leftOut.length > 0) return;
      const back = new Importer(home, new Map([[kind.id, kind]])).local(kind, { value: JSON.parse(portable.text) as never, covers: 'all' }, { option });
      expect((back.value as { option: string }).option).toBe(option);
    }), { numRuns: 300 });
  });

  test.each([
    ['the address, with its new length', 's:41:"https://dev.skerrin.example/fares/?a=ä";', 's:46:"https://skerrin-ferries.example/fares/?a=ä";'],
    ['an id in an array', 'a:1:{s:5:"pages";a:2:{s:3:"buy";i:12;s:4:"read";s:2:"12";}}', 'a:1:{s:5:"pages";a:2:{s:3:"buy";i:3045;s:4:"read";s:4:"3045";}}'],
    ['a value in a text in a value', `a:1:{s:6:"packed";${s(`a:1:{s:4:"home";${s('https://dev.skerrin.example/home')}}`)}}`, `a:1:{s:6:"packed";${s(`a:1:{s:4:"home";${s('https://skerrin-ferries.example/home')}}`)}}`],
    ['a value that nobody declared', 'a:1:{s:5:"other";s:53:"a:1:{s:1:"x";s:31:"https://dev.skerrin.example/abc";}";}', 'a:1:{s:5:"other";s:57:"a:1:{s:1:"x";s:35:"https://skerrin-ferries.example/abc";}";}'],
    ['an object and what is the same as an earlier value', 'O:4:"Quay":3:{s:7:"\0*\0name";s:1:"a";s:1:"b";a:1:{i:0;d:5;}s:1:"c";R:3;}', 'O:4:"Quay":3:{s:7:"\0*\0name";s:1:"a";s:1:"b";a:1:{i:0;d:5;}s:1:"c";R:3;}'],
    ['an object that packs itself', 'O:5:"Tides":3:{i:0;i:0;i:1;a:1:{s:4:"home";s:27:"https://dev.skerrin.example";}i:-2;N;}', 'O:5:"Tides":3:{i:0;i:0;i:1;a:1:{s:4:"home";s:31:"https://skerrin-ferries.example";}i:-2;N;}'],
  ])('carries %s', (_what, here, away) => { expect(there(fixed(here)).option).toBe(fixed(away)); });

  test('an address inside base64, and inside JSON as PHP indents it', () => {
    const packed = (address: string): string => Buffer.from(`a:1:{s:4:"home";${s(address)}}`).toString('base64');
    expect(there(packed('https://dev.skerrin.example/x')).option).toBe(packed('https://skerrin-ferries.example/x'));
    expect(there('c2hvcnQgYW5kIGhhcm1sZXNz').option).toBe('c2hvcnQgYW5kIGhhcm1sZXNz');
  });

  test.each(['a:1:{this is a note}', 'a:99999999:{}', 's:10:"short";', 'i:twelve;', 's:see the notice', 'N;o', 'b:2;'])('text that looks serialised and is not stays text: %s', (text) => {
    expect(there(text)).toEqual({ option: text });
  });

  test.each(['a:2:{s:1:"a";i:1;s:3:"fa', 'a:1:{s:1:"a";s:99:"https://dev.skerrin.example";}', 'a:1:{s:1:"5";i:1;}'])('a value that was cut or altered is named: %s', (option) => {
    expect(new Exporter(site('https://dev.skerrin.example', 12)).portable(kind, { option }).leftOut).toMatchObject([{ why: 'damaged' }]);
  });
});

/** Lengths are counted here, so that the cases above can be read. */
function fixed(text: string): string {
  return text.replace(/s:\d+:"([^"{}]*)";/g, (_all, inner: string) => `s:${Buffer.byteLength(inner)}:"${inner}";`);
}
