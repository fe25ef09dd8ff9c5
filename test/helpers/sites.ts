import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, request, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { fileURLToPath } from 'node:url';

export const DIST = fileURLToPath(new URL('../../dist/', import.meta.url));
export interface Ran { code: number | null; out: string; err: string }
export interface Record_ { id: number; kind: string; name: string; etag: string; status: string; created?: string; value: Record<string, unknown> }
export interface TestSite { name: string; address: string; token: string; readToken: string; folder: string; process: ChildProcess; items(): Promise<Record_[]>; call(method: string, path: string, body?: unknown, headers?: Record<string, string>): Promise<{ status: number; text: string; json: never; headers: Headers }>; page(path: string): Promise<{ status: number; text: string; cache: string | null }> }

/** A temporary folder with simulated sites and a configuration, and the built program to run in it. */
export class Bench {
  readonly folder = mkdtempSync(join(tmpdir(), 'pochette-test-'));
  readonly sites: Record<string, TestSite> = {};
  readonly #servers: Server[] = [];

  async start(...names: string[]): Promise<this> {
    for (const name of names) this.sites[name] = await startSite(name, join(this.folder, 'sites', name), name);
    this.configure();
    return this;
  }

  site(name: string): TestSite { return this.sites[name] as TestSite; }

  /** Writes pochette.yaml; `more` are lines below a site, `urls` other addresses than the sites' own. */
  configure(more: Record<string, string[]> = {}, urls: Record<string, string> = {}): void {
    const lines = ['you: Isbel Farrow', 'sites:'];
    for (const site of Object.values(this.sites)) {
      writeFileSync(join(this.folder, `${site.name}.token`), site.token);
      lines.push(`  ${site.name}:`, `    url: ${urls[site.name] ?? site.address}`, `    token: file:${site.name}.token`, ...(more[site.name] ?? []).map((line) => `    ${line}`));
    }
    writeFileSync(join(this.folder, 'pochette.yaml'), lines.join('\n') + '\n');
  }

  path(name: string): string { return join(this.folder, name); }

  run(...words: string[]): Promise<Ran> { return this.runIn(this.folder, ...words); }

  runIn(folder: string, ...words: string[]): Promise<Ran> {
    const child = spawn(process.execPath, [join(DIST, 'pochette.cjs'), ...words], { cwd: folder, env: { ...process.env, NO_COLOR: '1' }, stdio: ['ignore', 'pipe', 'pipe'] });
    return new Promise((settle) => {
      const ran = { out: '', err: '' };
      child.stdout.on('data', (chunk: Buffer) => { ran.out += chunk.toString(); });
      child.stderr.on('data', (chunk: Buffer) => { ran.err += chunk.toString(); });
      child.on('close', (code) => { settle({ code, ...ran }); });
    });
  }

  /** Something between the program and a site; `meddle` answers true when it has answered itself. */
  async between(site: string, meddle: (incoming: IncomingMessage, body: Buffer, outgoing: ServerResponse) => Promise<boolean> | boolean): Promise<string> {
    const { address } = this.site(site);
    // What is remembered of a site is not asked for again: the test wants it asked for.
    rmSync(join(this.folder, '.pochette', 'remembered'), { recursive: true, force: true });
    const server = createServer((incoming, outgoing) => {
      const chunks: Buffer[] = [];
      incoming.on('data', (chunk: Buffer) => chunks.push(chunk));
      incoming.on('end', () => { void (async () => { const body = Buffer.concat(chunks); if (!(await meddle(incoming, body, outgoing))) forward(address, incoming, body, outgoing); })(); });
    });
    await new Promise<void>((settle) => { server.listen(0, '127.0.0.1', settle); });
    this.#servers.push(server);
    return `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  }

  async stop(): Promise<void> {
    for (const server of this.#servers) { server.closeAllConnections(); server.close(); }
    await Promise.all(Object.values(this.sites).map((site) => new Promise<void>((settle) => { if (site.process.exitCode !== null) settle(); else { site.process.once('exit', () => { settle(); }); site.process.kill(); } })));
    rmSync(this.folder, { recursive: true, force: true });
  }
}

function forward(address: string, incoming: IncomingMessage, body: Buffer, outgoing: ServerResponse): void {
  const onward = request(address + (incoming.url ?? '/'), { method: incoming.method ?? 'GET', headers: { ...incoming.headers, host: new URL(address).host } }, (answer) => {
    outgoing.writeHead(answer.statusCode ?? 500, answer.headers);
    answer.pipe(outgoing);
  });
  onward.on('error', () => { outgoing.destroy(); });
  onward.end(body);
}

export function startSite(name: string, folder: string, seed: string, port = '0'): Promise<TestSite> {
  const child = spawn(process.execPath, [join(DIST, 'standin.cjs'), '--folder', folder, '--seed', seed, '--port', port], { stdio: ['pipe', 'pipe', 'inherit'] });
  return new Promise((settle, fail) => {
    child.once('exit', (code) => { fail(new Error(`site ${name} ended with ${code}`)); });
    createInterface({ input: child.stdout }).once('line', (line) => {
      const { address, tokens } = JSON.parse(line) as { address: string; tokens: { token: string }[] };
      settle(testSite(name, folder, address, tokens.map((one) => one.token), child));
    });
  });
}

function testSite(name: string, folder: string, address: string, [token = '', readToken = '']: string[], process: ChildProcess): TestSite {
  const call: TestSite['call'] = async (method, path, body, headers = {}) => {
    const response = await fetch(`${address}/pochette/v1${path}`, { method, headers: { authorization: `Bearer ${token}`, ...(body === undefined || Buffer.isBuffer(body) ? {} : { 'content-type': 'application/json' }), ...headers }, ...(body === undefined ? {} : { body: Buffer.isBuffer(body) ? new Uint8Array(body) : JSON.stringify(body) }) });
    const text = await response.text();
    return { status: response.status, text, headers: response.headers, json: (text.startsWith('{') && !text.includes('\n{') ? JSON.parse(text) : undefined) as never };
  };
  return {
    name, folder, address, token, readToken, process, call,
    async items() { return (await call('GET', '/items?bodies=1')).text.split('\n').filter((line) => line !== '').map((line) => JSON.parse(line) as Record_).filter((one) => !('end' in one)); },
    async page(path) { const response = await fetch(address + path); return { status: response.status, text: await response.text(), cache: response.headers.get('x-cache') }; },
  };
}

/** Without the moment of the last change: what was changed and changed back is as before. */
export function untimed(items: readonly Record_[]): unknown[] { return items.map((item) => ({ ...item, changed: '' })); }

type Change = { op: 'update'; change: (value: Record<string, unknown>) => Record<string, unknown> } | { op: 'create'; value: Record<string, unknown> } | { op: 'delete' };

/** A change made by someone else on the site itself. */
export async function changeOn(site: TestSite, kind: string, name: string, change: (value: Record<string, unknown>) => Record<string, unknown>, lock?: string): Promise<void> {
  await byOther(site, kind, name, { op: 'update', change }, lock);
}
export const createOn = (site: TestSite, kind: string, name: string, value: Record<string, unknown>): Promise<void> => byOther(site, kind, name, { op: 'create', value });
export const deleteOn = (site: TestSite, kind: string, name: string): Promise<void> => byOther(site, kind, name, { op: 'delete' });

async function byOther(site: TestSite, kind: string, name: string, change: Change, lock?: string): Promise<void> {
  const item = (await site.items()).find((one) => one.kind === kind && one.name === name);
  if (!item && change.op !== 'create') throw new Error(`${kind} ${name} is not on ${site.name}`);
  const token = lock ?? ((await site.call('POST', '/lock', { owner: 'someone', run: 'x', seconds: 5 })).json as { token: string }).token;
  const key = `someone-${Math.random()}`;
  const there = item && { key, kind, id: item.id, ifMatch: item.etag };
  const operation = change.op === 'create' ? { op: 'create', key, kind, name, status: 'published', value: change.value } : change.op === 'delete' ? { op: 'delete', ...there } : { op: 'update', ...there, value: item && change.change(item.value) };
  const answer = await site.call('POST', '/batch', { operations: [operation] }, { 'pochette-lock': token });
  if (answer.status !== 200 || answer.text.includes('"problem"')) throw new Error(answer.text);
  if (lock === undefined) await site.call('DELETE', '/lock', undefined, { 'pochette-lock': token });
}
