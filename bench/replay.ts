import { spawn } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { createServer, request } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { ENVIRONMENT } from './measure.ts';

export interface Recorded { readonly method: string; readonly path: string; readonly headers: Readonly<Record<string, string>>; readonly body: Buffer }

/** Makes one import through a recorder; returns the requests from taking the lock on. */
export async function recordImport(work: string, pochette: (...words: string[]) => string[], address: string): Promise<Recorded[]> {
  const recorded: Recorded[] = [];
  const server = createServer((incoming, outgoing) => {
    const chunks: Buffer[] = [];
    incoming.on('data', (chunk: Buffer) => chunks.push(chunk));
    incoming.on('end', () => {
      const [method, path, body] = [incoming.method ?? 'GET', incoming.url ?? '/', Buffer.concat(chunks)];
      recorded.push({ method, path, headers: Object.fromEntries(['authorization', 'content-type', 'pochette-lock'].flatMap((name) => { const value = incoming.headers[name]; return typeof value === 'string' ? [[name, value]] : []; })), body });
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
  // Without taking and giving back the lock: sent again they would leave it taken, and the next run would have to wait.
  return recorded.slice(recorded.findIndex((one) => one.path.endsWith('/lock'))).filter((one) => !one.path.endsWith('/lock'));
}

/** One request as a part of curl's configuration. */
export function curlLines(one: Recorded, number: number, address: string, work: string): string {
  const file = join(work, `request-${number}`);
  writeFileSync(file, one.body);
  return [
    `url = "${address}${one.path}"`, `request = ${one.method}`, 'silent', 'output = /dev/null',
    ...Object.entries(one.headers).map(([name, value]) => `header = "${name}: ${value}"`), ...(one.body.length > 0 ? [`data-binary = "@${file}"`, 'header = "expect:"'] : []),
  ].join('\n');
}
