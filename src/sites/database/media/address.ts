import { createHash } from 'node:crypto';
import { Problem } from '../../../core/problem.ts';
import { Client, type Request, type Response } from '../../http/client.ts';
import { typeOfPath } from '../../../core/filetypes.ts';
import type { MediaStore } from './store.ts';

/** Every answer that is no success is looked at here. */
const ANY_REFUSAL = Array.from({ length: 200 }, (_, i) => 400 + i);
/** The digest of a representation, as the header says it (RFC 9530). */
const SHA256_FIELD = /(?:^|,)\s*sha-256=:([A-Za-z0-9+/]{43}=):/;

/** An address that files are put to and fetched from: GET, HEAD, PUT and DELETE (RFC 9110), with a bearer token where one is configured. */
export class MediaAddress implements MediaStore {
  readonly name = 'the address for media';
  readonly #client: Client;
  readonly #url: string;

  constructor(url: string, { token = '', ca }: { token?: string | undefined; ca?: string | undefined } = {}) {
    this.#url = url.replace(/\/+$/, '');
    this.#client = new Client(this.name, this.#url, token, ca);
  }

  async fault(): Promise<string | undefined> {
    try {
      const { statusCode, body } = await this.#send({ method: 'HEAD', path: '/' });
      body.resume();
      return statusCode === 401 || statusCode === 403 ? `${this.name} refuses us (status ${statusCode})` : undefined;
    } catch (error) {
      if (error instanceof Problem) return error.message;
      throw error;
    }
  }

  async look(path: string) {
    const { statusCode, headers, body } = await this.#send({ method: 'HEAD', path: written(path), headers: { 'want-repr-digest': 'sha-256=10' } });
    body.resume();
    if (!this.#isThere(statusCode, path)) return undefined;
    const [, digest] = SHA256_FIELD.exec([headers['repr-digest'] ?? ''].flat().join()) ?? [];
    const stamp = headers.etag?.startsWith('W/') === false ? headers.etag : headers['last-modified'] === undefined ? '' : `${headers['content-length'] ?? ''} ${headers['last-modified']}`;
    return { bytes: Number(headers['content-length'] ?? 0), stamp, ...(digest === undefined ? {} : { digest: Buffer.from(digest, 'base64').toString('hex') }) };
  }

  async digest(path: string): Promise<string | undefined> {
    const response = await this.#send({ method: 'GET', path: written(path) });
    if (!this.#isThere(response.statusCode, path)) { response.body.resume(); return undefined; }
    const hash = createHash('sha256');
    try { for await (const chunk of response.body) hash.update(chunk as Buffer); } catch (error) { throw this.#client.cut(error); }
    return hash.digest('hex');
  }

  async read(path: string): Promise<Buffer | undefined> {
    const response = await this.#send({ method: 'GET', path: written(path) });
    const bytes = await this.#client.bytes(response);
    return this.#isThere(response.statusCode, path) ? bytes : undefined;
  }

  async write(path: string, type: string, bytes: Buffer): Promise<void> {
    const { statusCode, body } = await this.#send({ method: 'PUT', path: written(path), bytes, type });
    body.resume();
    if (statusCode >= 300) throw this.#refused('take', statusCode, path);
  }

  /** There is no way to move a file that every server knows. */
  async move(from: string, to: string): Promise<void> {
    const bytes = await this.read(from);
    if (!bytes) throw new Problem('moved', 'a file is no longer there', { where: `${this.#url}/${from}`, remedy: 'do it again' });
    await this.write(to, typeOfPath(to), bytes);
    const { statusCode, body } = await this.#send({ method: 'DELETE', path: written(from) });
    body.resume();
    if (statusCode >= 300 && statusCode !== 404 && statusCode !== 410) throw this.#refused('remove', statusCode, from);
  }

  close(): void { this.#client.close(); }

  /** All of these can be sent twice. */
  #send(request: Request): Promise<Response> { return this.#client.send({ ...request, repeatable: true }, ANY_REFUSAL); }

  #isThere(status: number, path: string): boolean {
    if (status === 404 || status === 410) return false;
    // A redirect leads to some page, and not to a file of ours.
    if (status >= 300) throw this.#refused('give', status, path);
    return true;
  }

  #refused(what: string, status: number, path: string): Problem {
    const remedy = status === 401 || status === 403 ? 'check mediaToken in pochette.yaml, and what it allows' : status === 405 ? 'it has to allow PUT and DELETE: see docs/configuration.md' : 'see what its log says';
    return new Problem('blocked', `${this.name} does not ${what} the file (status ${status})`, { where: `${this.#url}/${path}`, remedy });
  }
}

function written(path: string): string { return `/${path.split('/').map(encodeURIComponent).join('/')}`; }
