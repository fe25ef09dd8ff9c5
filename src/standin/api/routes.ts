import { createHash, randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify';
import { BatchRequest, DISCOVERY, LedgerChange, LOCK_HEADER, LockRequest, PATHS, PROTOCOL, ReadRequest, type Answer, type Ledger, type Operation } from '../../protocol/index.ts';
import type { Cms } from '../site/cms.ts';
import { Refusal } from '../site/problems.ts';
import type { SiteRecord } from '../site/state.ts';
import { typeOf } from './filetypes.ts';

const BASE = '/pochette/v1';
/** A simulated site, with the pages it caches. */
export interface Site { readonly cms: Cms; readonly cache: Map<string, string>; address: string }
interface HeldLock { token: string; owner: string; run: string; until: number }

/** Speaks the site protocol, as docs/protocol/openapi.yaml describes it. */
export function protocolRoutes(app: FastifyInstance, site: Site): void {
  const { cms } = site;
  let held: HeldLock | undefined;
  const holder = (): HeldLock | undefined => (held && held.until > Date.now() ? held : undefined);

  app.get(DISCOVERY, () => ({ protocol: PROTOCOL, base: BASE }));
  app.get(`${BASE}${PATHS.facts}`, (request) => {
    const rights = allow(request, 'read');
    const { facts } = cms.state.config;
    return { ...facts, site: { ...facts.site, address: site.address }, rights };
  });
  app.get(`${BASE}${PATHS.kinds}`, (request) => { allow(request, 'read'); return { kinds: cms.kinds }; });

  app.get<{ Querystring: { bodies?: string } }>(`${BASE}${PATHS.items}`, (request, reply) => {
    allow(request, 'read');
    return stream(reply, cms.rows(), request.query.bodies === '1' ? (record) => cms.item(record) : (record) => cms.indexRow(record));
  });
  app.post(`${BASE}${PATHS.read}`, (request, reply) => {
    allow(request, 'read');
    return stream(reply, wanted(request), (record) => cms.item(record));
  });
  app.post(`${BASE}${PATHS.records}`, (request, reply) => {
    allow(request, 'read');
    return stream(reply, wanted(request), (record) => ({ kind: record.kind, id: record.id, etag: cms.state.etag(record), record }));
  });
  app.get<{ Params: { owner: string; kind: string; id: string } }>(`${BASE}${PATHS.items}/:owner/:kind/:id`, (request, reply) => {
    allow(request, 'read');
    const record = cms.state.records.get(Number(request.params.id));
    if (!record || record.kind !== `${request.params.owner}/${request.params.kind}`) throw new Refusal(404, 'No such item', request.url);
    const etag = cms.state.etag(record);
    reply.header('etag', etag);
    return request.headers['if-none-match'] === etag ? reply.code(304).send() : cms.item(record);
  });

  app.post(`${BASE}${PATHS.batch}`, (request) => {
    allow(request, 'write');
    mustHoldLock(request);
    return { answers: batch(cms, parse(BatchRequest, request.body).operations) };
  });

  app.get<{ Params: { digest: string } }>(`${BASE}${PATHS.media}/:digest`, (request, reply) => {
    allow(request, 'read');
    const { digest } = request.params;
    if (!/^[0-9a-f]{64}$/.test(digest) || !cms.state.hasMedia(digest)) throw new Refusal(404, 'No such file', digest);
    const bytes = cms.state.readMedia(digest);
    return reply.header('content-digest', contentDigest(bytes)).header('content-length', bytes.length).type(typeOf(bytes)).send(request.method === 'HEAD' ? undefined : bytes);
  });
  app.put<{ Params: { digest: string }; Body: Buffer }>(`${BASE}${PATHS.media}/:digest`, (request, reply) => {
    allow(request, 'write');
    mustHoldLock(request);
    const { digest } = request.params;
    if (!/^[0-9a-f]{64}$/.test(digest)) throw new Refusal(400, 'Not a digest', digest);
    const existed = cms.state.hasMedia(digest);
    cms.upload(digest, request.headers['content-type'] ?? '', request.body);
    return reply.code(existed ? 204 : 201).send();
  });

  app.post(`${BASE}${PATHS.lock}`, (request, reply) => {
    allow(request, 'write');
    const wish = parse(LockRequest, request.body);
    const other = holder();
    if (other && other.token !== request.headers[LOCK_HEADER]) {
      throw new Refusal(423, 'Someone else is writing to this site', `${other.owner}, run ${other.run}, until ${new Date(other.until).toISOString()}`);
    }
    held = { token: other?.token ?? randomUUID(), owner: wish.owner, run: wish.run, until: Date.now() + wish.seconds * 1000 };
    return reply.code(201).send({ token: held.token, expires: new Date(held.until).toISOString() });
  });
  app.delete(`${BASE}${PATHS.lock}`, (request, reply) => {
    allow(request, 'write');
    mustHoldLock(request);
    held = undefined;
    return reply.code(204).send();
  });
  app.post(`${BASE}${PATHS.caches}`, (request, reply) => {
    allow(request, 'write');
    site.cache.clear();
    return reply.code(204).send();
  });
  app.get(`${BASE}${PATHS.ledger}`, (request) => { allow(request, 'read'); return cms.state.ledger; });
  app.post(`${BASE}${PATHS.ledger}`, (request, reply) => {
    allow(request, 'write');
    cms.state.ledger = changedLedger(cms.state.ledger, parse(LedgerChange, request.body));
    cms.state.saveLedger();
    return reply.code(204).send();
  });

  function allow(request: FastifyRequest, right: 'read' | 'write'): string[] {
    const given = /^Bearer (.+)$/.exec(request.headers.authorization ?? '')?.[1];
    const token = cms.state.config.tokens.find((one) => one.token === given);
    if (!token) throw new Refusal(401, given === undefined ? 'A token is needed' : 'This token is not known here', undefined, { remedy: 'ask the administrator of the site for a token' });
    if (!token.rights.includes(right)) throw new Refusal(403, 'This token may only read', undefined, { remedy: 'use a token with the right to write' });
    return token.rights;
  }

  function mustHoldLock(request: FastifyRequest): void {
    const lock = holder();
    if (lock === undefined) throw new Refusal(428, 'Take the writer\'s lock first', PATHS.lock);
    if (lock.token !== request.headers[LOCK_HEADER]) throw new Refusal(423, 'Someone else is writing to this site', `${lock.owner}, run ${lock.run}`);
  }

  function wanted(request: FastifyRequest): SiteRecord[] {
    return parse(ReadRequest, request.body).items.flatMap((key) => {
      const record = cms.state.records.get(key.id);
      return record?.kind === key.kind ? [record] : [];
    });
  }
}

/** In the order given; after the first refusal nothing more is done, and the rest is answered with 424. */
function batch(cms: Cms, operations: readonly Operation[]): Answer[] {
  let refused = false;
  const touched = new Set<string>();
  const fresh: [string, unknown][] = [];
  const answers = operations.map((operation): Answer => {
    const known = cms.state.answers.get(operation.key) as Answer | undefined;
    if (known) return known;
    if (refused) return { key: operation.key, status: 424 };
    try {
      const answer = cms.apply(operation);
      touched.add(operation.kind);
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

function changedLedger(ledger: Ledger, change: { run?: Ledger['runs'][number] | undefined; origins: Ledger['origins']; forget: string[] }): Ledger {
  const { run } = change;
  const runs = run ? [...ledger.runs.filter((one) => one.run !== run.run), run] : ledger.runs;
  const replaced = new Set([...change.origins.map((one) => one.address), ...change.forget]);
  return { runs, origins: [...ledger.origins.filter((one) => !replaced.has(one.address)), ...change.origins] };
}

/** RFC 9530. */
export function contentDigest(bytes: Uint8Array): string {
  return `sha-256=:${createHash('sha256').update(bytes).digest('base64')}:`;
}
