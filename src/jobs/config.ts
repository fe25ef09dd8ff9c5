import { existsSync, readFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { LineCounter, parseDocument } from 'yaml';
import * as z from 'zod';
import { Problem } from '../core/problem.ts';

export const CONFIG_FILE = 'pochette.yaml';
export const DEFAULT_MEGABYTES = 500;

function hidden(what: string) { return z.string().regex(/^(env|file):.+$/, `${what} must be written env:NAME or file:PATH`); }

const SiteConfig = z.strictObject({
  url: z.string().regex(/^(https?:\/\/|mysql:\/\/|postgres(ql)?:\/\/|sqlite:|folder:)\S+$/, 'url must start with http://, https://, mysql://, postgres://, sqlite: or folder:'),
  token: hidden('token').optional().describe('of a site that speaks the site protocol'),
  password: hidden('password').optional().describe('of the database user'),
  layout: z.string().optional().describe('where a database keeps things: a file, or a layout that comes with Pochette; else it is recognised'),
  prefix: z.string().optional().describe('how the names of the tables begin; else it is found out'),
  media: z.string().optional().describe('folder with the media files of a site in a database'),
  address: z.url({ protocol: /^https?$/ }).optional().describe('address at which visitors reach a site in a database, where the database says another'),
  tls: z.strictObject({ ca: z.string().optional(), verify: z.boolean().default(true) }).optional().describe('encrypted connection to a database server'),
  role: z.enum(['development', 'staging', 'live']).default('development'),
  guarded: z.boolean().default(false),
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
  const lines = new LineCounter();
  let text: string;
  try { text = readFileSync(path, 'utf8'); } catch (error) {
    throw new Problem('usage', 'the configuration cannot be read', { where: path, remedy: 'run "pochette init" to write one', cause: error });
  }
  const document = parseDocument(text, { lineCounter: lines });
  const fault = document.errors[0];
  if (fault) throw new Problem('usage', `this is not YAML: ${fault.message.split('\n')[0] ?? ''}`, { where: `${path}:${lines.linePos(fault.pos[0]).line}`, remedy: 'mend this line, or begin anew with "pochette init" in another folder' });
  const parsed = Config.safeParse(document.toJS({ maxAliasCount: 0 }));
  if (parsed.success) return { config: parsed.data, path };
  const [issue] = parsed.error.issues as [z.core.$ZodIssue];
  const keys = issue.path.map(String);
  const wrong = issue.code === 'unrecognized_keys' ? [...keys, issue.keys[0] ?? ''] : keys;
  throw new Problem('usage', issue.code === 'unrecognized_keys' ? `the key "${wrong.join('.')}" is not known` : `${wrong.join('.') || 'the file'}: ${issue.message}`, {
    where: `${path}:${lineOf(document, wrong, lines)}`, remedy: 'docs/configuration.md lists every key',
  });
}

function lineOf(document: ReturnType<typeof parseDocument>, path: readonly string[], lines: LineCounter): number {
  for (let depth = path.length; depth > 0; depth--) {
    const parent: unknown = depth === 1 ? document.contents : document.getIn(path.slice(0, depth - 1), true);
    const pair = (parent as { items?: { key?: { value?: unknown; range?: [number, number, number] } }[] } | undefined)?.items?.find((one) => one.key?.value === path[depth - 1]);
    if (pair?.key?.range) return lines.linePos(pair.key.range[0]).line;
  }
  return 1;
}

/** The token or password of a site; undefined where none is configured. */
export function siteSecret(what: 'token' | 'password', name: string, site: SiteConfig, configPath: string): string | undefined {
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
