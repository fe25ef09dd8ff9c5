import { createHash } from 'node:crypto';
import { Readable } from 'node:stream';
import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify';
import { changedLedger, BatchRequest, DISCOVERY, FormsRequest, LedgerChange, LOCK_HEADER, LockRequest, PATHS, PROTOCOL, ReadRequest, type Answer, type Operation } from '../../protocol/index.ts';
import type { Cms } from '../site/cms.ts';
import { Refusal } from '../site/problems.ts';
import type { SiteRecord } from '../site/state.ts';
import { typeOf } from './filetypes.ts';
import { Guard } from './guard.ts';

const BASE = '/pochette/v1';
/** A simulated site, with the pages it caches. */
export interface Site { readonly cms: Cms; readonly cache: Map<string, string>; address: string }

/** Speaks the site protocol, as docs/protocol/openapi.yaml describes it. */
export function protocolRoutes(app: FastifyInstance, site: Site): void {
  const guard = new Guard(site.cms);
  aboutRoutes(app, site, guard);
  readRoutes(app, site.cms, guard);
  writeRoutes(app, site.cms, guard);
  mediaRoutes(app, site.cms, guard);
  lockRoutes(app, guard);
  memoryRoutes(app, site, guard);
}

function aboutRoutes(app: FastifyInstance, site: Site, guard: Guard): void {
  app.get(DISCOVERY, () => ({ protocol: PROTOCOL, base: BASE }));
  app.get(`${BASE}${PATHS.facts}`, (request) => {
    const { rights, user } = guard.allow(request, 'read');
    const { facts } = site.cms.state.config;
    return { ...facts, site: { ...facts.site, address: site.address }, rights, ...(user === undefined ? {} : { user }) };
  });
  app.get(`${BASE}${PATHS.kinds}`, (request) => { guard.allow(request, 'read'); return { kinds: site.cms.kinds }; });
}

function readRoutes(app: FastifyInstance, cms: Cms, guard: Guard): void {
  app.get<{ Querystring: { bodies?: string } }>(`${BASE}${PATHS.items}`, (request, reply) => {
    guard.allow(request, 'read');
    return stream(reply, cms.rows(), request.query.bodies === '1' ? (record) => cms.item(record) : (record) => cms.indexRow(record));
  });
  app.post(`${BASE}${PATHS.read}`, (request, reply) => {
    guard.allow(request, 'read');
    return stream(reply, wanted(cms, request), (record) => cms.item(record));
  });
  app.post(`${BASE}${PATHS.records}`, (request, reply) => {
    guard.allow(request, 'read');
    return stream(reply, wanted(cms, request), (record) => ({ kind: record.kind, id: record.id, etag: cms.state.etag(record), record }));
  });
  app.get<{ Params: { owner: string; kind: string; id: string } }>(`${BASE}${PATHS.items}/:owner/:kind/:id`, (request, reply) => {
    guard.allow(request, 'read');
    const record = cms.state.records.get(Number(request.params.id));
    if (!record || record.kind !== `${request.params.owner}/${request.params.kind}`) throw new Refusal(404, 'No such item', request.url);
    const etag = cms.state.etag(record);
    reply.header('etag', etag);
    return request.headers['if-none-match'] === etag ? reply.code(304).send() : cms.item(record);
  });
}

function writeRoutes(app: FastifyInstance, cms: Cms, guard: Guard): void {
  app.post(`${BASE}${PATHS.batch}`, (request) => {
    guard.allowWriting(request);
    return { answers: batch(cms, parse(BatchRequest, request.body).operations) };
  });
}

function mediaRoutes(app: FastifyInstance, cms: Cms, guard: Guard): void {
  const DIGEST = /^[0-9a-f]{64}$/;
  app.get<{ Params: { digest: string } }>(`${BASE}${PATHS.media}/:digest`, (request, reply) => {
    guard.allow(request, 'read');
    const { digest } = request.params;
    if (!DIGEST.test(digest) || !cms.state.hasMedia(digest)) throw new Refusal(404, 'No such file', digest);
    const bytes = cms.state.readMedia(digest);
    return reply.header('content-digest', contentDigest(bytes)).header('content-length', bytes.length).type(typeOf(bytes)).send(bytes);
  });
  app.put<{ Params: { digest: string }; Body: Buffer }>(`${BASE}${PATHS.media}/:digest`, (request, reply) => {
    guard.allowWriting(request);
    const { digest } = request.params;
    if (!DIGEST.test(digest)) throw new Refusal(400, 'Not a digest', digest);
    const existed = cms.state.hasMedia(digest);
    cms.upload(digest, request.headers['content-type'] ?? '', request.body);
    return reply.code(existed ? 204 : 201).send();
  });
}

function lockRoutes(app: FastifyInstance, guard: Guard): void {
  app.post(`${BASE}${PATHS.lock}`, (request, reply) => {
    guard.allow(request, 'write');
    return reply.code(201).send(guard.take(parse(LockRequest, request.body), request.headers[LOCK_HEADER]));
  });
  app.delete(`${BASE}${PATHS.lock}`, (request, reply) => {
    guard.allowWriting(request);
    guard.release();
    return reply.code(204).send();
  });
}

function memoryRoutes(app: FastifyInstance, site: Site, guard: Guard): void {
  const { state } = site.cms;
  app.post(`${BASE}${PATHS.caches}`, (request, reply) => {
    guard.allow(request, 'write');
    site.cache.clear();
    return reply.code(204).send();
  });
  app.get(`${BASE}${PATHS.ledger}`, (request) => { guard.allow(request, 'read'); return state.ledger; });
  app.post(`${BASE}${PATHS.ledger}`, (request, reply) => {
    guard.allow(request, 'write');
    const change = parse(LedgerChange, request.body);
    state.ledger = changedLedger(state.ledger, change);
    state.saveLedger();
    state.changeForms(change.forms, change.dropForms);
    return reply.code(204).send();
  });
  app.post(`${BASE}${PATHS.forms}`, (request) => {
    guard.allow(request, 'read');
    return { forms: parse(FormsRequest, request.body).digests.flatMap((digest) => { const text = state.forms.get(digest); return text === undefined ? [] : [{ digest, text }]; }) };
  });
}

function wanted(cms: Cms, request: FastifyRequest): SiteRecord[] {
  return parse(ReadRequest, request.body).items.flatMap((key) => {
    const record = cms.state.records.get(Number(key.id));
    return record?.kind === key.kind ? [record] : [];
  });
}

/** In the order given; after the first refusal nothing more is done, and the rest is answered with 424. */
function batch(cms: Cms, operations: readonly Operation[]): Answer[] {
  let refused = false;
  const touched = new Set<number>();
  const fresh: [string, unknown][] = [];
  const answers = operations.map((operation): Answer => {
    const known = cms.state.answers.get(operation.key) as Answer | undefined;
    if (known) return known;
    if (refused) return { key: operation.key, status: 424 };
    try {
      const answer = cms.apply(operation);
      if (answer.id !== undefined) touched.add(Number(answer.id));
      fresh.push([operation.key, answer]);
      return answer;
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      refused = true;
      return { key: operation.key, status: error.status, problem: error.document() };
    }
  });
  cms.state.save(touched);
  cms.state.remember(fresh);
  return answers;
}

/** NDJSON; the last line says how many there were, so that a cut stream is noticed. */
function stream(reply: FastifyReply, records: readonly SiteRecord[], line: (record: SiteRecord) => unknown): FastifyReply {
  const BLOCK = 200;
  function* blocks(): Generator<string> {
    for (let i = 0; i < records.length; i += BLOCK) yield records.slice(i, i + BLOCK).map((record) => JSON.stringify(line(record)) + '\n').join('');
    yield JSON.stringify({ end: true, count: records.length }) + '\n';
  }
  return reply.type('application/x-ndjson').send(Readable.from(blocks()));
}

function parse<T>(schema: { safeParse(value: unknown): { success: true; data: T } | { success: false; error: { issues: { path: PropertyKey[]; message: string }[] } } }, value: unknown): T {
  const parsed = schema.safeParse(value);
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0];
  throw new Refusal(400, 'The request is not understood', `${issue?.path.join('.') ?? ''}: ${issue?.message ?? ''}`);
}

/** RFC 9530. */
export function contentDigest(bytes: Uint8Array): string {
  return `sha-256=:${createHash('sha256').update(bytes).digest('base64')}:`;
}
