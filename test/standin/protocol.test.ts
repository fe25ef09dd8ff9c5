import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { Ajv2020 } from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import { parse } from 'yaml';
import { Bench, type Record_ } from '../helpers/sites.ts';

interface Described { paths: Record<string, Record<string, { responses: Record<string, { content?: Record<string, { schema?: object }> }> }>>; components: object }
const document = parse(readFileSync('docs/protocol/openapi.yaml', 'utf8')) as Described;
const ajv = new Ajv2020({ strict: false, allErrors: true });
(addFormats as unknown as (one: Ajv2020) => void)(ajv);
ajv.addSchema({ $id: 'api', components: document.components });

const bench = new Bench();
beforeAll(async () => { await bench.start('dev'); });
afterAll(async () => { await bench.stop(); });
const used = new Set<string>();

/** Calls the site and holds the answer against the document: status, type and schema. */
async function call(method: string, path: string, described: string, body?: unknown, headers?: Record<string, string>) {
  const answer = await bench.site('dev').call(method, path, body, headers);
  const operation = document.paths[`/pochette/v1${described}`]?.[method.toLowerCase()];
  const response = operation?.responses[String(answer.status)];
  if (!response) throw new Error(`${method} ${described} answers ${answer.status}, which is not described: ${answer.text.slice(0, 200)}`);
  used.add(`${method.toLowerCase()} ${described}`);
  const type = (answer.headers.get('content-type') ?? '').split(';')[0] ?? '';
  const content = response.content?.[type] ?? response.content?.['*/*'];
  if (answer.text !== '' && !content) throw new Error(`${method} ${described} answers with ${type}, which is not described`);
  if (content?.schema) {
    const validate = ajv.compile(JSON.parse(JSON.stringify(content.schema).replaceAll('#/components', 'api#/components')) as object);
    for (const line of type === 'application/x-ndjson' ? answer.text.trim().split('\n') : [answer.text]) {
      if (!validate(JSON.parse(line))) throw new Error(`${method} ${described}: ${ajv.errorsText(validate.errors)} in ${line.slice(0, 300)}`);
    }
  }
  return answer;
}
const operate = (operations: object[], lock: string) => call('POST', '/batch', '/batch', { operations }, { 'pochette-lock': lock });
const takeLock = async (owner = 'me', seconds = 30, headers = {}) => call('POST', '/lock', '/lock', { owner, run: 'r1', seconds }, headers);
const answersOf = (answer: { json: never }): { status: number; id: number; etag: string; name: string; problem?: { title: string } }[] => (answer.json as { answers: never }).answers;

test('the schemas and the description of the protocol are up to date', () => {
  execFileSync(process.execPath, ['scripts/schemas.mjs', '--check']);
});

describe('the simulated site answers as the description says', () => {
  let front: Record_;
  test('facts, kinds, index, bodies, one item, etags', async () => {
    expect((await call('GET', '/facts', '/facts')).json).toMatchObject({ rights: ['read', 'write'] });
    await call('GET', '/kinds', '/kinds');
    await call('GET', '/items', '/items');
    front = (await bench.site('dev').items()).find((one) => one.name === 'front') as Record_;
    const addresses = (await call('GET', '/items?bodies=1', '/items')).text.trim().split('\n').slice(0, -1).map((line) => { const { kind, name } = JSON.parse(line) as Record_; return `${kind.split('/')[1] as string}:${name}`; });
    expect(addresses).toEqual([...addresses].sort());
    const one = await call('GET', `/items/tholepin/template/${front.id}`, '/items/{owner}/{kind}/{id}');
    expect(one.headers.get('etag')).toBe(front.etag);
    expect((await call('GET', `/items/tholepin/template/${front.id}`, '/items/{owner}/{kind}/{id}', undefined, { 'if-none-match': front.etag })).status).toBe(304);
    expect((await call('GET', '/items/tholepin/template/1', '/items/{owner}/{kind}/{id}')).status).toBe(404);
    await call('POST', '/items/read', '/items/read', { items: [{ kind: front.kind, id: front.id }] });
    await call('POST', '/items/records', '/items/records', { items: [{ kind: front.kind, id: front.id }] });
    expect((await call('POST', '/items/read', '/items/read', { items: 5 })).status).toBe(400);
  });

  test('tokens: none, unknown, read only', async () => {
    for (const headers of [{ authorization: '' }, { authorization: 'Bearer nobody' }]) expect((await call('GET', '/facts', '/facts', undefined, headers)).status).toBe(401);
    expect((await call('POST', '/caches/renew', '/caches/renew', {}, { authorization: `Bearer ${bench.site('dev').readToken}` })).status).toBe(403);
  });

  test('a lock keeps others out, is renewed by its holder, and expires', async () => {
    expect((await call('POST', '/batch', '/batch', { operations: [] })).status).toBe(428);
    const { token } = (await takeLock('me', 1)).json as { token: string };
    expect((await takeLock('other')).status).toBe(423);
    expect((await operate([], 'wrong')).status).toBe(423);
    expect(((await takeLock('me', 1, { 'pochette-lock': token })).json as { token: string }).token).toBe(token);
    await new Promise((settle) => { setTimeout(settle, 1100); });
    const second = (await takeLock('other')).json as { token: string };
    expect(second.token).not.toBe(token);
    expect((await call('DELETE', '/lock', '/lock', undefined, { 'pochette-lock': second.token })).status).toBe(204);
  });

  test('operations have their own preconditions; after a refusal nothing more is done; a known key is not done twice', async () => {
    const { token } = (await takeLock()).json as { token: string };
    const draft = { op: 'create', key: 'k1', kind: 'tholepin/template', name: 'Sketch', status: 'draft', value: { title: 'Sketch', markup: '<p>x</p>', hero: 0 } };
    const [made, stale, rest] = answersOf(await operate([draft, { op: 'update', key: 'k2', kind: front.kind, id: front.id, ifMatch: '"old"', value: {} }, { ...draft, key: 'k3', name: 'never' }], token));
    expect([made?.status, stale?.status, rest?.status]).toEqual([201, 412, 424]);
    expect(answersOf(await operate([draft], token))[0]).toEqual(made);
    const again = answersOf(await operate([{ ...draft, key: 'k4' }], token))[0];
    expect(again?.name).toBe('Sketch-2');
    expect((await bench.site('dev').page('/templates/Sketch/')).status).toBe(404);
    const refused = answersOf(await operate([{ ...draft, key: 'k5', kind: 'souvenir-shop/settings' }], token))[0];
    expect(refused).toMatchObject({ status: 422, problem: { title: 'Souvenir Shop is inactive' } });
    expect(answersOf(await operate([{ ...draft, key: 'k6', kind: 'nobody/thing' }], token))[0]?.status).toBe(422);
    const removed = answersOf(await operate([{ op: 'delete', key: 'k7', kind: draft.kind, id: made?.id, ifMatch: made?.etag }], token))[0];
    expect(removed?.status).toBe(204);
    const record = { id: made?.id, kind: draft.kind, name: 'Sketch', status: 'published', value: draft.value, revision: 1 };
    expect(answersOf(await operate([{ op: 'restore', key: 'k8', kind: draft.kind, id: made?.id, ifMatch: '*', record }], token))[0]).toMatchObject({ status: 201, id: made?.id });
    expect((await bench.site('dev').page('/templates/Sketch/')).status).toBe(200);
    await call('DELETE', '/lock', '/lock', undefined, { 'pochette-lock': token });
  });

  test('the single style record is made anew when it is missing, with another id', async () => {
    const { token } = (await takeLock()).json as { token: string };
    const style = (await bench.site('dev').items()).find((one) => one.kind === 'tholepin/style') as Record_;
    await operate([{ op: 'delete', key: 's1', kind: style.kind, id: style.id, ifMatch: style.etag }], token);
    const fresh = (await bench.site('dev').items()).find((one) => one.kind === 'tholepin/style') as Record_;
    expect(fresh.id).not.toBe(style.id);
    await call('DELETE', '/lock', '/lock', undefined, { 'pochette-lock': token });
  });

  test('pages come from the cache until it is renewed', async () => {
    const { token } = (await takeLock()).json as { token: string };
    expect((await bench.site('dev').page('/')).text).toContain('Winter crossings');
    await operate([{ op: 'update', key: 'c1', kind: front.kind, id: front.id, ifMatch: front.etag, value: { ...front.value, markup: '<h1>Fresh paint</h1>' } }], token);
    const kept = await bench.site('dev').page('/');
    expect([kept.cache, kept.text.includes('Winter crossings')]).toEqual(['kept', true]);
    expect((await call('POST', '/caches/renew', '/caches/renew', {})).status).toBe(204);
    expect((await bench.site('dev').page('/')).text).toContain('Fresh paint');
    await call('DELETE', '/lock', '/lock', undefined, { 'pochette-lock': token });
  });

  test('uploads have a size limit, allowed types and a digest', async () => {
    const { token } = (await takeLock()).json as { token: string };
    const put = (bytes: Buffer, type: string, digest = createHash('sha256').update(bytes).digest('hex')) => call('PUT', `/media/${digest}`, '/media/{digest}', bytes, { 'content-type': type, 'pochette-lock': token });
    const picture = Buffer.from('89504e470d0a1a0a00', 'hex');
    expect((await put(picture, 'image/png')).status).toBe(201);
    expect((await put(picture, 'image/png')).status).toBe(204);
    expect((await put(Buffer.from('GIF89a'), 'image/gif')).status).toBe(415);
    expect((await put(Buffer.alloc(3 * 2 ** 20), 'image/png')).status).toBe(413);
    expect((await put(picture, 'image/png', 'a'.repeat(64))).status).toBe(422);
    expect((await put(picture, 'image/png', 'not-a-digest')).status).toBe(400);
    const got = await call('GET', `/media/${createHash('sha256').update(picture).digest('hex')}`, '/media/{digest}');
    expect(got.headers.get('content-digest')).toBe(`sha-256=:${createHash('sha256').update(picture).digest('base64')}:`);
    expect((await call('GET', `/media/${'0'.repeat(64)}`, '/media/{digest}')).status).toBe(404);
    await call('DELETE', '/lock', '/lock', undefined, { 'pochette-lock': token });
  });

  test('the ledger remembers and forgets', async () => {
    const origin = { address: 'template:x', id: 5, fromSite: 's', run: 'r', fingerprint: 'f' };
    expect((await call('POST', '/ledger', '/ledger', { origins: [origin] })).status).toBe(204);
    expect((await call('GET', '/ledger', '/ledger')).json).toMatchObject({ origins: [origin] });
    await call('POST', '/ledger', '/ledger', { forget: ['template:x'] });
    expect((await call('GET', '/ledger', '/ledger')).json).toMatchObject({ origins: [] });
    expect((await call('POST', '/ledger', '/ledger', { origins: 1 })).status).toBe(400);
    await call('POST', '/ledger', '/ledger', { forms: [{ digest: 'd', text: '{}' }] });
    expect((await call('POST', '/ledger/forms', '/ledger/forms', { digests: ['d', 'e'] })).json).toEqual({ forms: [{ digest: 'd', text: '{}' }] });
    await call('POST', '/ledger', '/ledger', { dropForms: ['d'] });
    expect((await call('POST', '/ledger/forms', '/ledger/forms', { digests: ['d'] })).json).toEqual({ forms: [] });
  });

  test('every described operation was called', () => {
    const described = Object.entries(document.paths).filter(([path]) => path.startsWith('/pochette')).flatMap(([path, operations]) => Object.keys(operations).map((method) => `${method} ${path.replace('/pochette/v1', '')}`));
    expect([...used].sort()).toEqual(described.sort());
  });
});
