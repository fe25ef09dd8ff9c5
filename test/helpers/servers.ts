import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir, userInfo } from 'node:os';
import { join } from 'node:path';
import { call } from './calls.ts';

/** A private database server in a temporary folder, on loopback. */
export interface Server { readonly sort: 'mysql' | 'postgres'; readonly port: number; readonly socket: string; readonly folder: string; run(text: string, database?: string): string; kill(): Promise<void>; restart(): Promise<void>; stop(): Promise<void> }

const POSTGRES = ['/usr/lib/postgresql/15/bin', '/usr/lib/postgresql/16/bin', '/usr/lib/postgresql/17/bin', '/usr/bin'].find((folder) => existsSync(join(folder, 'initdb')));
export const hasMariaDb = required('MariaDB', existsSync('/usr/sbin/mariadbd') && existsSync('/usr/bin/mariadb-install-db'));
export const hasPostgres = required('PostgreSQL', POSTGRES !== undefined);

/** Where the checks of a change run, a server that is not there is a failure and no reason to pass tests over. */
export function required(what: string, there: boolean): boolean {
  if (!there && process.env['POCHETTE_SERVERS'] === 'required') throw new Error(`${what} is not installed`);
  return there;
}

export interface Certificate { readonly cert: string; readonly key: string }

/** A certificate of its own for this machine; the server that shall use it can read it. */
export function certificate(folder: string, name: string, owner?: string): Certificate {
  const [cert, key] = [join(folder, `${name}.pem`), join(folder, `${name}.key`)];
  call('openssl', ['req', '-x509', '-newkey', 'rsa:2048', '-nodes', '-keyout', key, '-out', cert, '-days', '2', '-subj', '/CN=localhost', '-addext', 'subjectAltName=IP:127.0.0.1,DNS:localhost'], { stdio: 'ignore' });
  if (owner !== undefined) { call('chmod', ['a+rx', folder]); call('chown', [owner, key]); call('chmod', ['600', key]); }
  return { cert, key };
}

export function freePort(): Promise<number> {
  return new Promise((settle) => { const server = createServer().listen(0, '127.0.0.1', () => { const { port } = server.address() as AddressInfo; server.close(() => { settle(port); }); }); });
}

const ended = (child: ChildProcess): Promise<void> => new Promise((settle) => { if (child.exitCode !== null || child.signalCode !== null) settle(); else child.once('exit', () => { settle(); }); });

async function until(answers: () => boolean): Promise<void> {
  for (let tries = 0; tries < 200; tries++) { if (answers()) return; await new Promise((settle) => { setTimeout(settle, 100); }); }
  throw new Error('the server does not answer');
}

/** `tls`: certificate and key of the server. */
export async function startMariaDb(tls?: Certificate): Promise<Server> {
  const folder = mkdtempSync(join(tmpdir(), 'pochette-mariadb-'));
  const [data, socket, port] = [join(folder, 'data'), join(folder, 'socket'), await freePort()];
  // A server that starts removes what lies in its folder for temporary tables: another one's too, where they share one.
  const temporary = join(folder, 'temporary');
  mkdirSync(temporary);
  const user = userInfo().username;
  call('mariadb-install-db', [`--datadir=${data}`, `--tmpdir=${temporary}`, '--auth-root-authentication-method=normal', '--skip-test-db', `--user=${user}`], { stdio: 'ignore' });
  // Nothing in it has to outlive the machine: what is killed is the server, and what it wrote stays.
  const start = (): ChildProcess => spawn('/usr/sbin/mariadbd', ['--no-defaults', `--datadir=${data}`, `--tmpdir=${temporary}`, `--socket=${socket}`, `--port=${port}`, '--bind-address=127.0.0.1', `--user=${user}`, '--innodb-flush-log-at-trx-commit=2', '--innodb-flush-method=nosync', '--debug-no-sync', '--max-allowed-packet=64M', '--lock-wait-timeout=60', `--pid-file=${join(folder, 'pid')}`, ...(tls ? [`--ssl-cert=${tls.cert}`, `--ssl-key=${tls.key}`] : [])], { stdio: 'ignore' });
  let child = start();
  const client = (text: string, database = ''): string => call('mariadb', ['--no-defaults', `--socket=${socket}`, '-uroot', '--default-character-set=utf8mb4', '-N', '-B', ...(database === '' ? [] : [database])], { input: text, stdio: ['pipe', 'pipe', 'pipe'] });
  const ready = (): Promise<void> => until(() => spawnSync('mariadb', ['--no-defaults', `--socket=${socket}`, '-uroot', '-e', 'select 1'], { timeout: 10_000 }).status === 0);
  await ready();
  client("create user pochette@'%' identified by 'ferry-7'; grant all on *.* to pochette@'%'; create user reader@'%' identified by 'ferry-8'; grant select on *.* to reader@'%';");
  return {
    sort: 'mysql', port, socket, folder, run: client,
    async kill() { child.kill('SIGKILL'); await ended(child); },
    async restart() { child = start(); await ready(); },
    async stop() { child.kill('SIGKILL'); await ended(child); rmSync(folder, { recursive: true, force: true }); },
  };
}

export async function startPostgres(tls?: Certificate): Promise<Server> {
  const folder = mkdtempSync(join(tmpdir(), 'pochette-postgres-'));
  const [data, port, bin] = [join(folder, 'data'), await freePort(), POSTGRES ?? ''];
  // The server refuses to run as root.
  const as = userInfo().uid === 0 ? ['setpriv', '--reuid=postgres', '--regid=postgres', '--clear-groups'] : [];
  if (as.length > 0) call('chown', ['postgres', folder]);
  const asServer = (...words: string[]): string => call([...as, ...words][0] as string, [...as, ...words].slice(1), { cwd: folder, stdio: ['ignore', 'pipe', 'pipe'] });
  writeFileSync(join(folder, 'password'), 'ferry-7');
  mkdirSync(join(folder, 'run'));
  if (as.length > 0) call('chown', ['-R', 'postgres', folder]);
  asServer(join(bin, 'initdb'), '-D', data, '-U', 'pochette', `--pwfile=${join(folder, 'password')}`, '--auth=scram-sha-256', '--encoding=UTF8', '--locale=C.UTF-8', '--no-sync');
  const start = (): ChildProcess => { const words = [...as, join(bin, 'postgres'), '-D', data, '-p', String(port), '-h', '127.0.0.1', '-k', join(folder, 'run'), '-F', ...(tls ? ['-c', 'ssl=on', '-c', `ssl_cert_file=${tls.cert}`, '-c', `ssl_key_file=${tls.key}`] : [])]; return spawn(words[0] as string, words.slice(1), { cwd: folder, stdio: 'ignore' }); };
  let child = start();
  const env = { ...process.env, PGPASSWORD: 'ferry-7' };
  const client = (text: string, database = 'postgres'): string => call('psql', ['-h', '127.0.0.1', '-p', String(port), '-U', 'pochette', '-d', database, '-q', '-A', '-t', '-v', 'ON_ERROR_STOP=1'], { input: text, env, stdio: ['pipe', 'pipe', 'pipe'] });
  const ready = (): Promise<void> => until(() => spawnSync('psql', ['-h', '127.0.0.1', '-p', String(port), '-U', 'pochette', '-d', 'postgres', '-c', 'select 1'], { env, timeout: 10_000 }).status === 0);
  await ready();
  client("create role reader login password 'ferry-8'; grant pg_read_all_data to reader;");
  return {
    sort: 'postgres', port, socket: join(folder, 'run'), folder, run: client,
    async kill() { child.kill('SIGKILL'); await ended(child); },
    async restart() { child = start(); await ready(); },
    async stop() { child.kill('SIGKILL'); await ended(child); rmSync(folder, { recursive: true, force: true }); },
  };
}
