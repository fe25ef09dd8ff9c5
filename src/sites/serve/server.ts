import { readFileSync } from 'node:fs';
import Fastify, { type FastifyInstance } from 'fastify';
import { isProblem, Problem } from '../../core/problem.ts';
import type { Connector } from '../connector.ts';
import { Gate, Refusal } from './gate.ts';
import { protocolRoutes } from './routes.ts';

export interface ServeOptions {
  readonly host: string;
  readonly port: number;
  readonly token: string;
  readonly writable: boolean;
  readonly tls?: { readonly cert: string; readonly key: string } | undefined;
  readonly onRequest?: (line: string) => void;
}
export interface Served { readonly address: string; close(): Promise<void> }

const LOOPBACK = new Set(['127.0.0.1', '::1', 'localhost']);
const UPLOAD_BYTES = 64_000_000;
const STATUS_OF: Readonly<Partial<Record<Problem['code'], number>>> = { blocked: 409, moved: 412, unreachable: 502 };

/** Offers the site protocol over a connector. Beyond this machine only with TLS: the token would be read on the way. */
export async function serve(connector: Connector, options: ServeOptions): Promise<Served> {
  if (!LOOPBACK.has(options.host) && !options.tls) {
    throw new Problem('usage', `${options.host} can be reached from other machines, and without TLS the token could be read on the way`, { where: `--host ${options.host}`, remedy: 'give --cert and --key, or stay on 127.0.0.1 and come through an ssh tunnel (docs/howto/serve.md)' });
  }
  const common = { bodyLimit: UPLOAD_BYTES, exposeHeadRoutes: false, forceCloseConnections: true as const };
  const app = (options.tls ? Fastify({ ...common, https: { cert: read(options.tls.cert), key: read(options.tls.key) } }) : Fastify(common)) as unknown as FastifyInstance;
  app.addContentTypeParser('*', { parseAs: 'buffer', bodyLimit: UPLOAD_BYTES }, (_request, body, done) => { done(null, body); });
  app.setErrorHandler(async (error, _request, reply) => {
    const refusal = asRefusal(error);
    return reply.code(refusal.status).type('application/problem+json').send(JSON.stringify(refusal.document()));
  });
  app.addHook('onResponse', async (request, reply) => { options.onRequest?.(`${request.method} ${request.url.split('?')[0] ?? ''} ${reply.statusCode}`); return Promise.resolve(); });
  const gate = new Gate(connector, options.token, options.writable);
  protocolRoutes(app, connector, gate);
  const address = await app.listen({ host: options.host, port: options.port }).catch((error: unknown) => {
    throw new Problem('usage', `port ${options.port} on ${options.host} cannot be used: ${error instanceof Error ? error.message : ''}`, { remedy: 'give another --port', cause: error });
  });
  return { address, async close() { await gate.release(); await app.close(); } };
}

function read(path: string): Buffer {
  try { return readFileSync(path); } catch (error) { throw new Problem('usage', `${path} cannot be read`, { where: path, remedy: 'check --cert and --key', cause: error }); }
}

function asRefusal(error: unknown): Refusal {
  if (error instanceof Refusal) return error;
  if (isProblem(error)) return new Refusal(STATUS_OF[error.code] ?? 500, error.message, error.where, error.remedy);
  const { statusCode = 500, message = '' } = error as { statusCode?: number; message?: string };
  return new Refusal(statusCode, statusCode === 413 ? 'The request is too large' : statusCode < 500 ? 'The request is not understood' : 'The site has failed', message);
}
