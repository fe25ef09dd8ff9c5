import { createWriteStream, existsSync, mkdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { lookup as resolveName, type LookupAddress } from 'node:dns';
import { request as plain, type IncomingMessage } from 'node:http';
import { request as secure } from 'node:https';
import { BlockList, isIP, isIPv6 } from 'node:net';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { Transform } from 'node:stream';
import { sha256 } from '../../core/canonical.ts';
import { Problem } from '../../core/problem.ts';
import type { OnProgress } from '../workspace.ts';

/** What a link may do. */
export interface LinkRules { readonly private: readonly string[]; readonly megabytes: number }

const MOST_REDIRECTS = 5;
const MOST_TRIES = 5;
const IDLE_MS = 20_000;
const MEGABYTE = 1_000_000;
/** Every ZIP archive with a member begins so. */
const ZIP = 'PK\u0003\u0004';

/** Addresses that are not of the public internet (RFC 6890, RFC 4193, RFC 6598). */
const PRIVATE = new BlockList();
for (const [net, bits] of [['0.0.0.0', 8], ['10.0.0.0', 8], ['100.64.0.0', 10], ['127.0.0.0', 8], ['169.254.0.0', 16], ['172.16.0.0', 12], ['192.0.0.0', 24], ['192.168.0.0', 16], ['198.18.0.0', 15], ['224.0.0.0', 3]] as const) PRIVATE.addSubnet(net, bits, 'ipv4');
for (const [net, bits] of [['::', 127], ['fc00::', 7], ['fe80::', 10], ['ff00::', 8]] as const) PRIVATE.addSubnet(net, bits, 'ipv6');

/**
 * Fetches a pochette from a link into a folder and returns where it lies. What was fetched before and has not changed is not fetched again;
 * a download that broke off is continued (RFC 9110, range requests). Private addresses are refused unless the configuration names the host.
 */
export async function fetchLink(link: string, folder: string, rules: LinkRules, onProgress: OnProgress): Promise<string> {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const download = new Download(link, join(folder, sha256(link).slice(0, 32)), rules, onProgress);
  for (let tries = 1; ; tries++) {
    try { return await download.go(); } catch (error) {
      if (error instanceof Problem || tries >= MOST_TRIES) throw error instanceof Problem ? error : new Problem('unreachable', `the download broke off: ${error instanceof Error ? error.message : String(error)}`, { where: link, remedy: 'try again: it goes on where it broke off', cause: error });
      await new Promise((settle) => { setTimeout(settle, 200 * 2 ** tries); });
    }
  }
}

class Download {
  readonly #link: string;
  readonly #whole: string;
  readonly #part: string;
  readonly #tag: string;
  readonly #rules: LinkRules;
  readonly #onProgress: OnProgress;

  constructor(link: string, path: string, rules: LinkRules, onProgress: OnProgress) {
    this.#link = link;
    this.#whole = `${path}.pochette`;
    this.#part = `${path}.part`;
    this.#tag = `${path}.etag`;
    this.#rules = rules;
    this.#onProgress = onProgress;
  }

  get #limit(): number { return this.#rules.megabytes * MEGABYTE; }

  async go(): Promise<string> {
    const tag = existsSync(this.#tag) ? readFileSync(this.#tag, 'utf8') : '';
    const had = tag !== '' && existsSync(this.#part) ? statSync(this.#part).size : 0;
    const kept = tag !== '' && existsSync(this.#whole);
    const answer = await this.#ask(new URL(this.#link), had > 0 ? { range: `bytes=${had}-`, 'if-range': tag } : kept ? { 'if-none-match': tag } : {}, 0);
    if (answer.statusCode === 304 && kept) { answer.resume(); return this.#whole; }
    await this.#take(answer, answer.statusCode === 206 ? had : 0);
    return this.#whole;
  }

  async #take(answer: IncomingMessage, had: number): Promise<void> {
    const length = Number(answer.headers['content-length'] ?? NaN);
    const total = Number.isNaN(length) ? undefined : had + length;
    if (total !== undefined && total > this.#limit) { answer.destroy(); throw this.#tooLarge(); }
    const etag = answer.headers.etag;
    // Without a strong validator a part cannot be continued.
    writeFileSync(this.#tag, etag?.startsWith('"') === true ? etag : '', { mode: 0o600 });
    let size = had;
    const limit = new Transform({ transform: (chunk: Buffer, _encoding, done) => {
      size += chunk.length;
      this.#onProgress({ phase: 'fetching', done: size, total: total ?? size });
      if (had === 0 && size === chunk.length && !chunk.toString('latin1', 0, ZIP.length).startsWith(ZIP.slice(0, chunk.length))) done(this.#noPochette(answer));
      else if (size > this.#limit) done(this.#tooLarge());
      else done(null, chunk);
    } });
    await pipeline(answer, limit, createWriteStream(this.#part, { flags: had > 0 ? 'a' : 'w', mode: 0o600 }));
    if (total !== undefined && size < total) throw new Error(`${size} of ${total} bytes came`);
    if (size === 0) throw this.#noPochette(answer);
    renameSync(this.#part, this.#whole);
  }

  #noPochette(answer: IncomingMessage): Problem {
    rmSync(this.#part, { force: true });
    return new Problem('unreadable', `what the link gives is no pochette but ${answer.headers['content-type'] ?? 'something else'}`, { where: this.#link, remedy: 'open it in a browser: it may want a login, or lead to a page about the file' });
  }

  #tooLarge(): Problem {
    return new Problem('unreadable', `the file is larger than ${this.#rules.megabytes} MB`, { where: this.#link, remedy: 'if it may be so large, raise links.megabytes in pochette.yaml' });
  }

  async #ask(url: URL, headers: Record<string, string>, redirects: number): Promise<IncomingMessage> {
    const answer = await this.#request(url, headers);
    const { statusCode = 0, headers: { location } } = answer;
    if (statusCode >= 300 && statusCode < 400 && statusCode !== 304 && location !== undefined) {
      answer.resume();
      const next = new URL(location, url);
      if (redirects >= MOST_REDIRECTS) throw new Problem('unreachable', `the link leads on more than ${MOST_REDIRECTS} times`, { where: this.#link, remedy: 'ask for the address of the file itself' });
      if (!/^https?:$/.test(next.protocol) || (url.protocol === 'https:' && next.protocol === 'http:')) throw new Problem('unreachable', `the link leads on to ${next.origin}, which is not encrypted`, { where: this.#link, remedy: 'ask for an address that stays encrypted' });
      return this.#ask(next, headers, redirects + 1);
    }
    if ([200, 206, 304].includes(statusCode)) return answer;
    answer.resume();
    if (statusCode === 416) { rmSync(this.#part, { force: true }); throw new Error('the file has changed since'); }
    if (statusCode >= 500) throw new Error(`the server answered ${statusCode}`);
    throw new Problem('unreachable', `the link answers with status ${statusCode}`, { where: url.href, remedy: statusCode === 404 ? 'the file is not there (any more): ask for a new link' : 'it may want a login: fetch the file with a browser, and name the file' });
  }

  #request(url: URL, headers: Record<string, string>): Promise<IncomingMessage> {
    const allowed = this.#rules.private.includes(url.hostname.replace(/^\[|\]$/g, ''));
    if (!allowed && isIP(url.hostname.replace(/^\[|\]$/g, '')) && isPrivate(url.hostname.replace(/^\[|\]$/g, ''))) return Promise.reject(this.#private(url));
    return new Promise((settle, fail) => {
      const asking = (url.protocol === 'https:' ? secure : plain)(url, {
        headers: { accept: '*/*', ...headers }, timeout: IDLE_MS,
        // Checked at the moment of connecting: a name that means another address a moment later is caught too.
        lookup: (name, options, done) => {
          resolveName(name, { ...options, all: true }, (error, found: LookupAddress[]) => {
            const bad = error === null && !allowed ? found.find((one) => isPrivate(one.address)) : undefined;
            if (error || bad) { done(error ?? this.#private(url), options.all ? [] : '', 4); return; }
            if (options.all) done(null, found); else done(null, found[0]?.address ?? '', found[0]?.family ?? 4);
          });
        },
      }, settle);
      asking.on('timeout', () => { asking.destroy(new Error('no answer')); });
      asking.on('error', fail);
      asking.end();
    });
  }

  #private(url: URL): Problem {
    return new Problem('unreachable', `${url.hostname} is an address in a private network`, { where: this.#link, remedy: `if that is meant, add ${url.hostname} to links.private in pochette.yaml` });
  }
}

function isPrivate(address: string): boolean {
  const mapped = /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(address)?.[1];
  return PRIVATE.check(mapped ?? address, isIPv6(mapped ?? address) ? 'ipv6' : 'ipv4');
}
