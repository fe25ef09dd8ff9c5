import { spawn, type ChildProcess } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { call } from './calls.ts';
import { freePort, required, startMariaDb, type Server } from './servers.ts';
import { Bench } from './sites.ts';

const PACKAGE = '/usr/share/wordpress';
const PARTS = fileURLToPath(new URL('../servers/cms/', import.meta.url));
export const hasCms = required('the CMS', existsSync(join(PACKAGE, 'wp-load.php')) && existsSync('/usr/bin/php'));

/** A site of the real CMS: its folder, its database, and PHP's built-in server before it. */
export interface CmsSite {
  readonly name: string; readonly folder: string; readonly address: string; readonly database: string; readonly uploads: string;
  /** Runs PHP within the CMS; gives back what it prints. */
  php(code: string): string;
  /** The same of a script of test/servers/cms. */
  show(script: string): string;
  /** Fills it with more: a script of the same folder, which can be told the address of the other site. */
  fill(script: string, other?: string): void;
  /** The same of a script that says something: what it prints. */
  told(script: string, ...words: string[]): string;
  page(path: string): Promise<{ status: number; text: string }>;
  stop(): void;
}

/** `bare`: as it is when it has just been installed, so that the first ids are free. */
export async function startCms(server: Server, folder: string, seed: 'dev' | 'live', { prefix, bare }: { prefix: string; bare: boolean }): Promise<CmsSite> {
  const port = await freePort();
  const [address, database] = [`http://127.0.0.1:${port}`, `cms_${seed}`];
  mkdirSync(folder, { recursive: true });
  call('cp', ['-rL', `${PACKAGE}/.`, folder]);
  for (const part of ['wp-config.php', 'wp-content']) rmSync(join(folder, part), { recursive: true, force: true });
  for (const part of ['plugins', 'themes']) cpSync(join(PARTS, part), join(folder, 'wp-content', part), { recursive: true });
  const uploads = join(folder, 'wp-content', 'uploads');
  mkdirSync(uploads, { recursive: true });
  writeFileSync(join(folder, 'wp-config.php'), `<?php
define('DB_NAME', '${database}'); define('DB_USER', 'pochette'); define('DB_PASSWORD', 'ferry-7'); define('DB_HOST', '127.0.0.1:${server.port}');
define('DB_CHARSET', 'utf8mb4'); define('DB_COLLATE', ''); define('DISABLE_WP_CRON', true); define('AUTOMATIC_UPDATER_DISABLED', true); define('WP_HTTP_BLOCK_EXTERNAL', true);
$table_prefix = '${prefix}';
if (!defined('ABSPATH')) define('ABSPATH', __DIR__ . '/');
require_once ABSPATH . 'wp-settings.php';
`);
  server.run(`create database ${database} character set utf8mb4`);
  for (const script of ['install.php', ...(bare ? [] : ['fill.php'])]) call('php', [join(PARTS, script), folder, seed, address], { stdio: ['ignore', 'ignore', 'inherit'] });
  const child: ChildProcess = spawn('php', ['-S', `127.0.0.1:${port}`, '-t', folder, join(PARTS, 'router.php')], { stdio: 'ignore', detached: true, env: { ...process.env, PHP_CLI_SERVER_WORKERS: '2' } });
  const site: CmsSite = {
    name: seed, folder, address, database, uploads,
    php: (code) => call('php', ['-r', `$_SERVER['HTTP_HOST']='127.0.0.1:${port}';$_SERVER['REQUEST_URI']='/';require '${folder}/wp-load.php';${code}`]),
    show: (script) => site.php(readFileSync(join(PARTS, script), 'utf8').replace('<?php', '')),
    fill: (script, other = '') => { call('php', [join(PARTS, script), folder, seed, address, other], { stdio: ['ignore', 'ignore', 'inherit'] }); },
    told: (script, ...words) => call('php', ['-d', 'display_errors=0', join(PARTS, script), folder, seed, address, ...words]),
    async page(path) { const answer = await fetch(address + path, { redirect: 'follow' }); return { status: answer.status, text: await answer.text() }; },
    // With its workers, which would go on without it.
    stop() { if (child.pid !== undefined) process.kill(-child.pid, 'SIGKILL'); },
  };
  for (let tries = 0; tries < 100; tries++) { try { await site.page('/'); break; } catch { await new Promise((settle) => { setTimeout(settle, 100); }); } }
  return site;
}

/** Two sites of the CMS in one server, dev and live, with a folder to work in. */
export class CmsPair {
  readonly bench = new Bench();
  server!: Server;
  dev!: CmsSite;
  live!: CmsSite;

  async start(bare = false): Promise<void> {
    this.server = await startMariaDb();
    this.dev = await startCms(this.server, this.bench.path('sites/dev'), 'dev', { prefix: 'wp_', bare });
    this.live = await startCms(this.server, this.bench.path('sites/live'), 'live', { prefix: 'skf7_', bare });
    this.configure();
  }

  async stop(): Promise<void> { this.dev.stop(); this.live.stop(); await this.server.stop(); await this.bench.stop(); }

  configure(layout?: string): void {
    writeFileSync(this.bench.path('password'), 'ferry-7');
    writeFileSync(this.bench.path('pochette.yaml'), ['you: Isbel Farrow', 'sites:', ...[this.dev, this.live].flatMap((site) => [
      `  ${site.name}:`, `    url: mysql://pochette@127.0.0.1:${this.server.port}/${site.database}`, '    password: file:password', `    media: ${site.uploads}`, ...(layout === undefined ? [] : [`    layout: ${layout}`]),
    ])].join('\n') + '\n');
  }

  /** All rows of the live site but our own, and those that the CMS makes anew by itself. */
  dump(): string {
    return call('mysqldump', ['--no-defaults', `--socket=${this.server.socket}`, '-uroot', '--skip-extended-insert', '--order-by-primary', '--skip-dump-date', '--skip-comments', `--ignore-table=${this.live.database}.skf7_pochette_ledger`, this.live.database])
    .replace(/ AUTO_INCREMENT=\d+/g, '').split('\n').filter((line) => !/'(_transient|_site_transient|rewrite_rules|cron'|[\w-]+_children')/.test(line)).join('\n');
  }
}
