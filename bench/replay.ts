import { spawn } from 'node:child_process';
import { cpSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, request } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { LOCK_HEADER, PATHS } from '../src/protocol/index.ts';
import { ENVIRONMENT, run, startSite } from './measure.ts';
import { DIST } from './table.ts';

export interface Recorded { readonly method: string; readonly path: string; readonly headers: Readonly<Record<string, string>>; readonly body: Buffer }

/** Makes one import through a recorder; returns the requests from taking the lock on. */
export async function recordImport(work: string, pochette: (...words: string[]) => string[], address: string): Promise<Recorded[]> {
  const recorded: Recorded[] = [];
  const server = createServer((incoming, outgoing) => {
    const chunks: Buffer[] = [];
    incoming.on('data', (chunk: Buffer) => chunks.push(chunk));
    incoming.on('end', () => {
      const [method, path, body] = [incoming.method ?? 'GET', incoming.url ?? '/', Buffer.concat(chunks)];
      recorded.push({ method, path, headers: Object.fromEntries(['authorization', 'content-type', LOCK_HEADER].flatMap((name) => { const value = incoming.headers[name]; return typeof value === 'string' ? [[name, value]] : []; })), body });
      const onward = request(address + path, { method, headers: { ...incoming.headers, host: new URL(address).host } }, (answer) => { outgoing.writeHead(answer.statusCode ?? 500, answer.headers); answer.pipe(outgoing); });
      onward.end(body);
    });
  });
  await new Promise<void>((settle) => { server.listen(0, '127.0.0.1', settle); });
  const through = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  writeFileSync(join(work, 'recorder.yaml'), readFileSync(join(work, 'pochette.yaml'), 'utf8').replace(address, through));
  const [program = '', ...words] = pochette('import', 'dev', 'live', '--yes', '--json', '--config', 'recorder.yaml');
  const child = spawn(program, words, { cwd: work, env: ENVIRONMENT, stdio: 'ignore' });
  const code = await new Promise((settle) => { child.on('exit', settle); });
  server.closeAllConnections();
  server.close();
  if (code !== 0) throw new Error(`the recorded import ended with ${String(code)}`);
  // Without taking and giving back the lock: whoever sends them again takes a lock of his own.
  return recorded.slice(recorded.findIndex((one) => one.path.endsWith('/lock'))).filter((one) => !one.path.endsWith('/lock'));
}

/** One request as a part of curl's configuration. */
function curlLines(one: Recorded, number: number, { address, lock }: { address: string; lock: string }, work: string): string {
  const file = join(work, `request-${number}`);
  writeFileSync(file, one.body);
  const headers = Object.entries(one.headers).map(([name, value]) => `header = "${name}: ${name === LOCK_HEADER ? lock : value}"`);
  return [`url = "${address}${one.path}"`, `request = ${one.method}`, 'silent', 'output = /dev/null', 'write-out = "%{http_code} "', ...headers, ...(one.body.length > 0 ? [`data-binary = "@${file}"`, 'header = "expect:"'] : [])].join('\n');
}

/**
 * Wall seconds of curl sending recorded requests to a site that is as the recorded one was before, so that all that they write is carried out.
 * `before`: a copy of that site's folder, which stays as it is.
 */
export async function replay(recorded: readonly Recorded[], before: string, work: string): Promise<number> {
  const folder = join(work, 'twin');
  rmSync(folder, { recursive: true, force: true });
  cpSync(before, folder, { recursive: true });
  const site = await startSite(join(DIST, 'standin.cjs'), folder);
  try {
    const answer = await fetch(`${site.address}/pochette/v1${PATHS.lock}`, { method: 'POST', headers: { authorization: `Bearer ${site.token}`, 'content-type': 'application/json' }, body: JSON.stringify({ owner: 'bench', run: 'replay', seconds: 600 }) });
    const { token: lock } = await answer.json() as { token: string };
    writeFileSync(join(work, 'curl.conf'), recorded.map((request, i) => curlLines(request, i, { address: site.address, lock }, work)).join('\nnext\n'));
    const begun = process.hrtime.bigint();
    const { stdout } = run(['curl', '--config', 'curl.conf'], work);
    const took = Number(process.hrtime.bigint() - begun) / 1e9;
    const refused = stdout.trim().split(' ').filter((code) => !code.startsWith('2'));
    if (refused.length > 0) throw new Error(`curl was refused: ${refused.join(' ')}`);
    return took;
  } finally {
    site.process.kill();
  }
}
