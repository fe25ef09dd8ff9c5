import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { readJson, writeJson } from '../../src/core/translate/jsontext.ts';
import { trickyJson } from '../helpers/arbitrary.ts';

const ascii = (text: string, upper = false): string => text.replace(/[\u0080-\uffff]/g, (one) => { const hex = one.charCodeAt(0).toString(16).padStart(4, '0'); return `\\u${upper ? hex.toUpperCase() : hex}`; });
const spaced = (text: string): string => text.replace(/"(?:[^"\\]|\\.)*"|[,:]/g, (one) => (one === ',' ? ', ' : one === ':' ? ': ' : one));
/** As programs of several languages write JSON. */
const WRITERS: readonly [string, (value: unknown) => string][] = [
  ['without white space', (value) => JSON.stringify(value)], ['indented by two', (value) => JSON.stringify(value, null, 2)], ['indented by four, slashes escaped', (value) => JSON.stringify(value, null, 4).replaceAll('/', '\\/')],
  ['with tabs and an end of line', (value) => `${JSON.stringify(value, null, '\t')}\n`], ['with the line ends of another system', (value) => JSON.stringify(value, null, 2).replaceAll('\n', '\r\n')],
  ['in ASCII', (value) => ascii(JSON.stringify(value))], ['in ASCII with capitals', (value) => ascii(JSON.stringify(value), true)], ['in ASCII, slashes escaped', (value) => ascii(JSON.stringify(value)).replaceAll('/', '\\/')], ['with spaces', (value) => ascii(spaced(JSON.stringify(value)))],
];
/** Whole objects and lists: a single word is no packed JSON. */
const packed = trickyJson.filter((value) => typeof value === 'object' && value !== null);

describe('packed JSON', () => {
  test.each(WRITERS)('%s comes back byte for byte', (_what, write) => {
    fc.assert(fc.property(packed, fc.boolean(), (value, ordered) => {
      const text = write(value);
      const reading = readJson(text, ordered);
      if (reading) expect(writeJson(reading.node, reading.how)).toBe(text);
      // Half of a pair of code units is no text.
      else expect(text).toMatch(/\\u[dD]/);
    }), { numRuns: 300 });
  });

  test('texts that are escaped each in its own way come back byte for byte', () => {
    fc.assert(fc.property(packed, fc.array(fc.integer({ min: 0, max: 3 }), { minLength: 1, maxLength: 9 }), (value, ways) => {
      let number = 0;
      const text = JSON.stringify(value).replace(/"(?:[^"\\]|\\.)*"/g, (one) => { const way = ways[number++ % ways.length] ?? 0; const slashes = way & 1 ? one.replaceAll('/', '\\/') : one; return way & 2 ? ascii(slashes) : slashes; });
      const reading = readJson(text, true);
      if (reading) expect(writeJson(reading.node, reading.how)).toBe(text);
      else expect(text).toMatch(/\\u[dD]/);
    }), { numRuns: 300 });
  });

  test.each([
    ['{"b":1,"a":2}', true], ['{"10":1,"9":2}', true], ['{"10":1,"9":2}', false], ['[1.0,1e3,-0,0.10,12345678901234567890]', false], ['{"a": 1.0, "b": [true, null]}', true], ['[1, 2]', false], ['{\n    "a": {},\n    "b": [],\n    "c": [\n        "x"\n    ]\n}', true],
    ['{"url":"http:\\/\\/x\\/","note":"a/b","z":"\\u00e9"}', true], ['{"a":"\\u00e9","b":"é", "c":"<\\/b>"}', false], ['{\n  "a": "\\/",\n  "b": "/"\n}\n', false], ['{"a":"\\/ /"}', false],
    ['{"t":"\\u003Cb\\u003E \\u0026"}', false], ['{"t":"\\u003cb\\u003e"}', false], ['{"t":"it\\u0027s"}', false], ['{"t":"\\u2028"}', false], ['{"t":"<b \\\\u0022 \\/>","u":"\\\\u003c\\\\u00e9 \\\\\\/"}', false], ['{"t":"\\\\u0026","u":"\\u00E9 \\\\u00e9"}', false], ['{"a":1,"a":2}', false], ['{"a":1 ,"b":2}', false], [' {"a": 1,"b" :[1, 2,3],\n\t"c":"\\u00e9\\/" , "d":{} }\n', true], ['[1,2] \r\n', false], ['{"a":"\\/","b":"/"}', false], ['{"a":1', true], ['12', true],
  ])('%s is opened (ordered: %s) only where it can be written again', (text, ordered) => {
    const reading = readJson(text, ordered);
    const refused = ['{"a":1,"a":2}', '{"a":1', '12', '{"a":"\\/ /"}'].includes(text) || (!ordered && text.startsWith('{"10"'));
    expect(reading === undefined).toBe(refused);
    if (reading) expect(writeJson(reading.node, reading.how)).toBe(text);
  });

  test('with white space of its own, which another value cannot have', () => {
    const reading = readJson('{"a": 1,"b" :2}', false);
    expect(writeJson({ a: 5, b: 'x' }, reading?.how ?? '')).toBe('{"a": 5,"b" :"x"}');
    expect(writeJson({ a: 5 }, reading?.how ?? '')).toBe('{"a":5}');
  });
});
