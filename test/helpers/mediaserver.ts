import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { dirname, join } from 'node:path';

/** A plain server of files, as an administrator would put in front of a folder: GET, HEAD, PUT and DELETE with a bearer token. */
export class MediaServer {
  readonly #server: Server;
  readonly requests: string[] = [];
  /** Methods that it refuses, with the status. */
  refuse: Record<string, number> = {};
  /** Does it tell the digest of a file, where it is asked? */
  digests = false;

  constructor(folder: string, token: string) {
    this.#server = createServer((incoming, outgoing) => {
      const { method = '', url = '', headers } = incoming;
      this.requests.push(`${method} ${url}`);
      const chunks: Buffer[] = [];
      incoming.on('data', (chunk: Buffer) => chunks.push(chunk));
      incoming.on('end', () => {
        const answer = (status: number, more: Record<string, string> = {}, body?: Buffer): void => { outgoing.writeHead(status, more).end(method === 'HEAD' ? undefined : body); };
        const path = join(folder, decodeURIComponent(url.slice('/uploads'.length)));
        if (headers.authorization !== `Bearer ${token}`) { answer(401); return; }
        const refused = this.refuse[method];
        if (refused !== undefined) { answer(refused); return; }
        if (method === 'PUT') { mkdirSync(dirname(path), { recursive: true }); writeFileSync(path, Buffer.concat(chunks)); answer(201); return; }
        if (url === '/uploads/' || !existsSync(path)) { answer(404, { 'content-type': 'text/html' }); return; }
        if (method === 'DELETE') { rmSync(path); answer(204); return; }
        const bytes = readFileSync(path);
        answer(200, { 'content-length': String(bytes.length), ...(this.digests && headers['want-repr-digest'] ? { 'repr-digest': `sha-256=:${createHash('sha256').update(bytes).digest('base64')}:` } : {}) }, bytes);
      });
    });
  }

  async start(): Promise<string> {
    await new Promise<void>((settle) => { this.#server.listen(0, '127.0.0.1', settle); });
    return `http://127.0.0.1:${(this.#server.address() as AddressInfo).port}/uploads/`;
  }

  stop(): void { this.#server.closeAllConnections(); this.#server.close(); }
}
