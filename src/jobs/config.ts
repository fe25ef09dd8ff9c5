import { existsSync, readFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { LineCounter, parseDocument } from 'yaml';
import * as z from 'zod';
import { Problem } from '../core/problem.ts';

export const CONFIG_FILE = 'pochette.yaml';

const SiteConfig = z.strictObject({
  url: z.url({ protocol: /^https?$/, error: 'url must start with http:// or https://' }),
  token: z.string().regex(/^(env|file):.+$/, 'token must be written env:NAME or file:PATH'),
  role: z.enum(['development', 'staging', 'live']).default('development'),
  guarded: z.boolean().default(false),
  matches: z.record(z.string(), z.string()).default({}).describe('content of other sites → content here, by address'),
});
export const Config = z.strictObject({
  you: z.string().min(1),
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

/** The token itself, from the environment or a file beside the configuration. */
export function readToken(name: string, site: SiteConfig, configPath: string): string {
  const [way, ...rest] = site.token.split(':');
  const from = rest.join(':');
  if (way === 'env') {
    const token = process.env[from];
    if (token === undefined || token === '') throw new Problem('usage', `the token of ${name} is missing: the environment has no ${from}`, { where: `${configPath}, sites.${name}.token`, remedy: `set ${from}, or use file:PATH` });
    return token;
  }
  const path = resolve(dirname(configPath), from);
  try { return readFileSync(path, 'utf8').trim(); } catch (error) {
    throw new Problem('usage', `the token of ${name} is missing: ${path} cannot be read`, { where: `${configPath}, sites.${name}.token`, remedy: 'write the token into that file, or use env:NAME', cause: error });
  }
}
