import { createHash } from 'node:crypto';
import { Readable } from 'node:stream';
import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify';
import type { ZodType } from 'zod';
import { firstIssue } from '../../core/kind.ts';
import { localId } from '../../core/siteindex.ts';
import { BatchRequest, DISCOVERY, FormsRequest, LedgerChange, LOCK_HEADER, LockRequest, PATHS, PROTOCOL, ReadRequest } from '../../protocol/index.ts';
import type { Connector } from '../connector.ts';
import { Refusal, type Gate } from './gate.ts';

const BASE = '/pochette/v1';
const DIGEST = /^[0-9a-f]{64}$/;

/** The site protocol of docs/protocol/openapi.yaml, carried out by a connector. */
export function protocolRoutes(app: FastifyInstance, connector: Connector, gate: Gate): void {
  readRoutes(app, connector, gate);
  mediaRoutes(app, connector, gate);
  writeRoutes(app, connector, gate);
}

function readRoutes(app: FastifyInstance, connector: Connector, gate: Gate): void {
  app.get(DISCOVERY, () => ({ protocol: PROTOCOL, base: BASE }));
  app.get(BASE + PATHS.facts, async (request) => {
    gate.allow(request, 'read');
    const [facts, definitions] = await Promise.all([connector.facts(), connector.definitions?.()]);
    return { ...facts, ...(definitions && definitions.size > 0 ? { definitions: Object.fromEntries(definitions) } : {}), rights: facts.rights.filter((right) => gate.rights.includes(right)) };
  });
  app.get(BASE + PATHS.kinds, async (request) => { gate.allow(request, 'read'); return { kinds: await connector.kinds() }; });
  app.get<{ Querystring: { bodies?: string } }>(BASE + PATHS.items, (request, reply) => {
    gate.allow(request, 'read');
    return stream(reply, request.query.bodies === '1' ? connector.items() : connector.index({ sorted: true }));
  });
  app.post(BASE + PATHS.read, (request, reply) => { gate.allow(request, 'read'); return stream(reply, connector.read(parse(ReadRequest, request).items)); });
  app.post(BASE + PATHS.records, (request, reply) => { gate.allow(request, 'read'); return stream(reply, connector.records(parse(ReadRequest, request).items)); });
  app.get<{ Params: { owner: string; kind: string; id: string } }>(`${BASE}${PATHS.items}/:owner/:kind/:id`, async (request, reply) => {
    gate.allow(request, 'read');
    const { owner, kind, id } = request.params;
    for await (const item of connector.read([{ kind: `${owner}/${kind}`, id: localId(id) }])) {
      void reply.header('etag', item.etag);
      return request.headers['if-none-match'] === item.etag ? reply.code(304).send() : item;
    }
    throw new Refusal(404, 'No such item', request.url);
  });
  app.get(BASE + PATHS.ledger, async (request) => { gate.allow(request, 'read'); const ledger = await connector.ledger(); return { ...ledger, bases: [...ledger.bases] }; });
  app.post(BASE + PATHS.forms, async (request) => { gate.allow(request, 'read'); return { forms: [...await connector.forms(parse(FormsRequest, request).digests)].map(([digest, text]) => ({ digest, text })) }; });
}

function mediaRoutes(app: FastifyInstance, connector: Connector, gate: Gate): void {
  const path = `${BASE}${PATHS.media}/:digest`;
  app.head<{ Params: { digest: string } }>(path, async (request, reply) => {
    gate.allow(request, 'read');
    const found = DIGEST.test(request.params.digest) ? await connector.mediaSize(request.params.digest) : undefined;
    if (!found) throw new Refusal(404, 'No such file', request.params.digest);
    return reply.header('content-length', found.bytes).type(found.type).send();
  });
  app.get<{ Params: { digest: string } }>(path, async (request, reply) => {
    gate.allow(request, 'read');
    const { digest } = request.params;
    if (!DIGEST.test(digest) || !await connector.mediaSize(digest)) throw new Refusal(404, 'No such file', digest);
    const { type, bytes } = await connector.media(digest);
    return reply.header('content-digest', `sha-256=:${Buffer.from(digest, 'hex').toString('base64')}:`).type(type).send(bytes);
  });
  app.put<{ Params: { digest: string }; Body: Buffer }>(path, async (request, reply) => {
    gate.allowWriting(request);
    const { digest } = request.params;
    if (!DIGEST.test(digest) || createHash('sha256').update(request.body).digest('hex') !== digest) throw new Refusal(400, 'The file is not what its digest says', digest);
    const existed = await connector.mediaSize(digest) !== undefined;
    if (!existed) await connector.putMedia(digest, request.headers['content-type'] ?? '', request.body);
    return reply.code(existed ? 204 : 201).send();
  });
}

function writeRoutes(app: FastifyInstance, connector: Connector, gate: Gate): void {
  app.post(BASE + PATHS.batch, async (request) => { gate.allowWriting(request); return { answers: await connector.batch(parse(BatchRequest, request).operations) }; });
  app.post(BASE + PATHS.lock, async (request, reply) => {
    gate.allow(request, 'write');
    return reply.code(201).send(await gate.take(parse(LockRequest, request), request.headers[LOCK_HEADER]));
  });
  app.delete(BASE + PATHS.lock, async (request, reply) => { gate.allowWriting(request); await gate.release(); return reply.code(204).send(); });
  app.post(BASE + PATHS.caches, async (request, reply) => { gate.allow(request, 'write'); await connector.renewCaches(); return reply.code(204).send(); });
  app.post(BASE + PATHS.ledger, async (request, reply) => { gate.allow(request, 'write'); await connector.changeLedger(parse(LedgerChange, request)); return reply.code(204).send(); });
}

/** NDJSON; the last line says how many there were, so that a stream that was cut is noticed. */
function stream(reply: FastifyReply, lines: AsyncIterable<unknown>): FastifyReply {
  async function* text(): AsyncGenerator<string> {
    let count = 0;
    let block = '';
    for await (const line of lines) {
      count++;
      block += JSON.stringify(line) + '\n';
      if (block.length > 65_536) { yield block; block = ''; }
    }
    yield `${block}${JSON.stringify({ end: true, count })}\n`;
  }
  return reply.type('application/x-ndjson').send(Readable.from(text()));
}

function parse<T>(schema: ZodType<T>, request: FastifyRequest): T {
  const parsed = schema.safeParse(request.body);
  if (parsed.success) return parsed.data;
  throw new Refusal(400, 'The request is not understood', firstIssue(parsed.error));
}
