import http, { type IncomingMessage } from 'node:http';
import https from 'node:https';
import { Problem } from '../../core/problem.ts';
import { LOCK_HEADER, ProblemDocument } from '../../protocol/index.ts';

export interface Request { method: 'GET' | 'HEAD' | 'POST' | 'PUT' | 'DELETE'; path: string; json?: unknown; bytes?: Buffer; type?: string; headers?: Record<string, string>; /** Safe to send again after a broken connection. */ repeatable?: boolean; }
export interface Response { readonly statusCode: number; readonly headers: IncomingMessage['headers']; readonly body: IncomingMessage }

const TRIES = 3;
const PAUSE_MS = 200;
const TIMEOUT_MS = 60_000;

/**
 * Requests to one site: bearer token, lock header, repetition, and problems in words. On Node's own HTTP: the usual client library
 * takes longer to load than most commands take to run.
 */
export class Client {
  readonly #agent: http.Agent;
  readonly #request: typeof http.request;
  readonly #origin: string;
  readonly #base: string;
  readonly #token: string;
  readonly #site: string;
  lockToken: string | undefined;
  /** Requests made and bytes sent, for the records and for measuring. */
  readonly traffic = { requests: 0, bytes: 0 };

  constructor(site: string, url: string, token: string, ca?: string) {
    const parsed = new URL(url);
    this.#site = site;
    this.#origin = parsed.origin;
    this.#base = parsed.pathname.replace(/\/$/, '');
    this.#token = token;
    const { Agent, request } = parsed.protocol === 'https:' ? https : http;
    this.#agent = new Agent({ keepAlive: true, maxSockets: 4, timeout: TIMEOUT_MS, ...(ca === undefined ? {} : { ca }) });
    this.#request = request;
  }

  close(): void { this.#agent.destroy(); }

  /** Sends; answers of 400 and above become problems, other than those named in `allowed`. */
  async send(request: Request, allowed: readonly number[] = []): Promise<Response> {
    const response = await this.#try(request);
    if (response.statusCode < 400 || allowed.includes(response.statusCode)) return response;
    throw this.#refused(response, await this.text(response));
  }

  async json(request: Request): Promise<unknown> {
    const response = await this.send({ repeatable: request.method === 'GET', ...request });
    const type = (response.headers['content-type'] ?? '');
    const text = await this.text(response);
    if (!type.includes('json')) throw this.#foreign(type, request.path);
    try { return JSON.parse(text) as unknown; } catch (error) { throw this.cut(error); }
  }

  async text(response: Response): Promise<string> {
    return (await this.bytes(response)).toString();
  }

  async bytes(response: Response): Promise<Buffer> {
    const chunks: Buffer[] = [];
    try { for await (const chunk of response.body) chunks.push(chunk as Buffer); } catch (error) { throw this.cut(error); }
    return Buffer.concat(chunks);
  }

  /** The site sent less than it began. */
  cut(cause?: unknown): Problem {
    return new Problem('unreachable', `${this.#site} sent only part of an answer`, { where: this.#origin, remedy: 'try again; if it stays so, look at the site\'s own log', cause });
  }

  foreign(response: Response, path: string): Problem {
    return this.#foreign((response.headers['content-type'] ?? 'nothing'), path);
  }

  #foreign(type: string, path: string): Problem {
    return new Problem('unreachable', `${this.#site} answers with ${type.split(';')[0] === 'text/html' ? 'a web page (text/html)' : type || 'nothing'} and not with the site protocol`, {
      where: this.#origin + path, remedy: 'check the url in pochette.yaml, and that the site\'s counterpart of Pochette is switched on',
    });
  }

  async #try(request: Request): Promise<Response> {
    for (let attempt = 1; ; attempt++) {
      try {
        const response = await this.#once(request);
        if (response.statusCode !== 503 || attempt >= TRIES) return response;
        response.body.resume();
        await pause(Number(response.headers['retry-after'] ?? 0) * 1000 || PAUSE_MS * attempt);
      } catch (error) {
        if (!request.repeatable || attempt >= TRIES) throw this.#unreachable(error);
        await pause(PAUSE_MS * attempt);
      }
    }
  }

  #once(request: Request): Promise<Response> {
    const headers: Record<string, string> = { ...request.headers, ...(this.#token === '' ? {} : { authorization: `Bearer ${this.#token}` }) };
    if (this.lockToken !== undefined) headers[LOCK_HEADER] = this.lockToken;
    if (request.json !== undefined) headers['content-type'] = 'application/json';
    if (request.bytes !== undefined) headers['content-type'] = request.type ?? 'application/octet-stream';
    const body = request.json === undefined ? request.bytes ?? null : JSON.stringify(request.json);
    this.traffic.requests++;
    this.traffic.bytes += body === null ? 0 : Buffer.byteLength(body);
    if (body !== null) headers['content-length'] = String(Buffer.byteLength(body));
    return new Promise((settle, fail) => {
      const sent = this.#request(this.#origin + this.#base + request.path, { method: request.method, headers, agent: this.#agent });
      sent.on('response', (answer) => { settle({ statusCode: answer.statusCode ?? 0, headers: answer.headers, body: answer }); });
      sent.on('timeout', () => { sent.destroy(Object.assign(new Error('it took too long'), { code: 'ETIMEDOUT' })); });
      sent.on('error', fail);
      sent.end(body ?? undefined);
    });
  }

  #unreachable(error: unknown): Problem {
    const { code, message } = error as { code?: string; message?: string };
    const why = { ECONNREFUSED: 'the connection was refused', ENOTFOUND: 'the host name is not known', ETIMEDOUT: 'it took too long', ECONNRESET: 'the connection broke' }[code ?? ''] ?? message ?? 'no reason was given';
    return new Problem('unreachable', `${this.#site} does not answer: ${why}`, { where: this.#origin, remedy: 'check that the site runs, and its url in pochette.yaml', cause: error });
  }

  #refused(response: Response, text: string): Problem {
    const type = (response.headers['content-type'] ?? '');
    const document = type.includes('problem+json') ? ProblemDocument.safeParse(tryJson(text)).data : undefined;
    const status = response.statusCode;
    if (!document) return status === 404 || type.includes('html') ? this.#foreign(type, '') : new Problem('unreachable', `${this.#site} answered with status ${status}`, { where: this.#origin });
    const said = document.detail === undefined ? document.title : `${document.title} (${document.detail})`;
    return new Problem(REFUSALS[status] ?? 'unreachable', `${this.#site}: ${said}`, {
      where: document.where ?? this.#origin, remedy: document.remedy ?? (status === 401 ? `check the token of ${this.#site} in pochette.yaml` : status === 423 ? 'wait until the other run has ended' : 'see what the site says'),
    });
  }
}

const REFUSALS: Readonly<Record<number, Problem['code']>> = { 403: 'blocked', 412: 'moved', 423: 'blocked', 428: 'blocked' };

function tryJson(text: string): unknown {
  try { return JSON.parse(text); } catch { return undefined; }
}

function pause(ms: number): Promise<void> {
  return new Promise((resolve) => { setTimeout(resolve, ms); });
}
