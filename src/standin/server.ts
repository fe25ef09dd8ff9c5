import Fastify, { type FastifyInstance } from 'fastify';
import { protocolRoutes, type Site } from './api/routes.ts';
import { pageRoutes } from './pages/routes.ts';
import { Cms } from './site/cms.ts';
import { Refusal } from './site/problems.ts';
import { State } from './site/state.ts';

/** Starts a simulated site on loopback from a folder that holds its state. The address is known once it listens. */
export async function startSite(folder: string, port: number): Promise<{ site: Site; app: FastifyInstance }> {
  const site: Site = { cms: new Cms(new State(folder)), cache: new Map(), address: '' };
  const { limits } = site.cms.state.config.facts;
  const app = Fastify({ bodyLimit: limits.requestBytes, exposeHeadRoutes: true, forceCloseConnections: true });
  app.addContentTypeParser('*', { parseAs: 'buffer', bodyLimit: Math.max(limits.requestBytes, limits.uploadBytes + 1) }, (_request, body, done) => { done(null, body); });
  app.setErrorHandler(async (error, _request, reply) => {
    const refusal = error instanceof Refusal ? error : asRefusal(error as { statusCode?: number; message: string });
    return reply.code(refusal.status).type('application/problem+json').send(JSON.stringify(refusal.document()));
  });
  protocolRoutes(app, site);
  pageRoutes(app, site);
  site.address = await app.listen({ host: '127.0.0.1', port });
  return { site, app };
}

function asRefusal(error: { statusCode?: number; message: string }): Refusal {
  const status = error.statusCode ?? 500;
  return new Refusal(status, status === 413 ? 'The request is too large' : status < 500 ? 'The request is not understood' : 'The site has failed', error.message);
}
