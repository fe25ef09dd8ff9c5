import { existsSync, readFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import * as z from 'zod';
import { Problem } from '../core/problem.ts';
import { readYaml } from './yamlfile.ts';

export const CONFIG_FILE = 'pochette.yaml';
export const DEFAULT_MEGABYTES = 500;

function hidden(what: string) { return z.string().regex(/^(env|file):.+$/, `${what} must be written env:NAME or file:PATH`); }

const SiteConfig = z.strictObject({
  url: z.string().regex(/^(https?:\/\/|mysql:\/\/|postgres(ql)?:\/\/|sqlite:|folder:)\S+$/, 'url must start with http://, https://, mysql://, postgres://, sqlite: or folder:'),
  token: hidden('token').optional().describe('of a site that speaks the site protocol'),
  password: hidden('password').optional().describe('of the database user'),
  layout: z.string().optional().describe('where a database keeps things: a file, or a layout that comes with Pochette; else it is recognised'),
  prefix: z.string().optional().describe('how the names of the tables begin; else it is found out'),
  media: z.string().optional().describe('folder with the media files of a site in a database, or an address that they are put to and fetched from'),
  mediaToken: hidden('mediaToken').optional().describe('of that address'),
  address: z.url({ protocol: /^https?$/ }).optional().describe('address at which visitors reach a site in a database, where the database says another'),
  tls: z.strictObject({ ca: z.string().optional(), verify: z.boolean().default(true) }).optional().describe('encrypted connection to a database server'),
  role: z.enum(['development', 'staging', 'live']).default('development'),
  guarded: z.boolean().default(false),
  adjustments: z.record(z.string(), z.json()).default({}).describe('values that are other on this site: kind:name#/place → value'),
  keep: z.array(z.string()).default([]).describe('what this site keeps as it is, where it has it: kind:name#/place, kind:name#part or kind:name; * stands for any text in the name'),
  matches: z.record(z.string(), z.string()).default({}).describe('content of other sites → content here, by address'),
});
export const Config = z.strictObject({
  you: z.string().min(1),
  selections: z.record(z.string(), z.strictObject({
    choose: z.array(z.string()).default([]).describe('selectors'), except: z.array(z.string()).default([]).describe('selectors of what is left out again'),
    owners: z.array(z.string()).default([]), titles: z.array(z.string()).default([]), since: z.string().optional(), take: z.array(z.string()).default([]).describe('what is taken although it usually stays'),
  })).default({}).describe('choices with a name, for --selection'),
  links: z.strictObject({
    private: z.array(z.string()).default([]).describe('hosts in private networks, or on this machine, that files may be fetched from'),
    megabytes: z.number().positive().default(DEFAULT_MEGABYTES).describe('no larger file is fetched'),
  }).default({ private: [], megabytes: DEFAULT_MEGABYTES }),
  sites: z.record(z.string().regex(/^[a-z0-9][a-z0-9-]*$/i, 'a site name has letters, digits and hyphens'), SiteConfig),
});
export type Config = z.output<typeof Config>;
export type SiteConfig = z.output<typeof SiteConfig>;

export interface LoadedConfig { readonly config: Config; readonly path: string }

/** Finds `pochette.yaml` upwards from a folder. */
export function findConfig(from: string): string | undefined {
  for (let folder = resolve(from); ; folder = dirname(folder)) {
    const path = join(folder, CONFIG_FILE);
    if (existsSync(path)) return path;
    if (folder === dirname(folder)) return undefined;
  }
}

/** Reads and checks the configuration. Throws a usage problem that names the line. */
export function loadConfig(path: string): LoadedConfig {
  let text: string;
  try { text = readFileSync(path, 'utf8'); } catch (error) {
    throw new Problem('usage', 'the configuration cannot be read', { where: path, remedy: 'run "pochette init" to write one', cause: error });
  }
  const { value } = readYaml(text, { schema: Config, path, code: 'usage', remedy: 'docs/configuration.md lists every key', mend: 'mend this line, or begin anew with "pochette init" in another folder' });
  return { config: value, path };
}

/** The token or password of a site; undefined where none is configured. */
export function siteSecret(what: 'token' | 'password' | 'mediaToken', name: string, site: SiteConfig, configPath: string): string | undefined {
  const written = site[what];
  return written === undefined ? undefined : readSecret(`the ${what} of ${name}`, written, dirname(configPath), `${configPath}, sites.${name}.${what}`);
}

/** What `env:NAME` or `file:PATH` stands for; paths count from `folder`. */
export function readSecret(what: string, written: string, folder: string, where: string): string {
  const [way, ...rest] = written.split(':');
  const from = rest.join(':');
  if (way === 'env') {
    const secret = process.env[from];
    if (secret === undefined || secret === '') throw new Problem('usage', `${what} is missing: the environment has no ${from}`, { where, remedy: `set ${from}, or use file:PATH` });
    return secret;
  }
  if (way !== 'file' || from === '') throw new Problem('usage', `${what} must be written env:NAME or file:PATH`, { where, remedy: 'so that it stands in no command and no configuration' });
  const path = resolve(folder, from);
  try { return readFileSync(path, 'utf8').trim(); } catch (error) {
    throw new Problem('usage', `${what} is missing: ${path} cannot be read`, { where, remedy: `write it into that file, or use env:NAME`, cause: error });
  }
}
