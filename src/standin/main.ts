import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { SITES, type SiteName } from './scenario/names.ts';
import { moveIn, seedSite } from './scenario/seed.ts';
import { startSite } from './server.ts';

/** `standin --folder F [--seed dev|live|old] [--port N] [--own-address]`: serves one simulated site; prints its address as JSON once it listens. */
async function main(): Promise<void> {
  const { values } = parseArgs({ options: { folder: { type: 'string' }, seed: { type: 'string' }, port: { type: 'string', default: '0' }, 'own-address': { type: 'boolean', default: false } } });
  const { folder, seed } = values;
  if (folder === undefined) throw new Error('--folder is needed');
  const fresh = !existsSync(join(folder, 'site.json'));
  if (fresh && !SITES.includes(seed as SiteName)) throw new Error(`the folder ${folder} holds no site: name one to begin with, --seed ${SITES.join('|')}`);
  if (fresh) seedSite(folder, seed as SiteName);
  const { site, app } = await startSite(folder, Number(values.port));
  if (fresh || values['own-address']) moveIn(site);
  process.stdout.write(JSON.stringify({ address: site.address, tokens: site.cms.state.config.tokens }) + '\n');
  const stop = (): void => { void app.close().then(() => process.exit(0)); };
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
  // The parent's end of the pipe closes when it dies: no site is left behind.
  process.stdin.on('end', stop).resume();
}

main().catch((error: unknown) => {
  process.stderr.write(`standin: ${error instanceof Error ? error.message : String(error)}\n`);
  process.exitCode = 2;
});
