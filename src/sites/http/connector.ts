import type { ZodType } from 'zod';
import { sha256 } from '../../core/canonical.ts';
import { inChunks } from '../../core/json.ts';
import { firstIssue } from '../../core/kind.ts';
import { Problem } from '../../core/problem.ts';
import { BatchAnswers, DISCOVERY, Discovery, ExactRecord, Facts, Forms, IndexRow, Ledger, LocalItem, Lock, PATHS, PROTOCOL, type Answer, type ItemKey, type LedgerChange, type LedgerRun, type LockRequest, type Operation } from '../../protocol/index.ts';
import { knownLedger, type Connector, type KnownLedger } from '../connector.ts';
import { fileStatus, pageStatus } from '../page.ts';
import { Client, type Request } from './client.ts';

/** How many items one read request asks for. */
const READ_CHUNK = 500;

/** A site that speaks the site protocol over HTTP. */
export class HttpConnector implements Connector {
  readonly name: string;
  readonly url: string;
  readonly #client: Client;
  #base: string | undefined;
  /** The facts as they were told last. */
  #told: Facts | undefined;

  constructor(name: string, url: string, token: string, ca?: string) {
    this.name = name;
    this.url = url.replace(/\/+$/, '');
    this.#client = new Client(name, this.url, token, ca);
  }

  get traffic() { return this.#client.traffic; }

  async facts(): Promise<Facts> { return this.#told = this.#checked(Facts, await this.#get(PATHS.facts), 'facts'); }
  /** They come with the facts. */
  async definitions({ fresh = false } = {}): Promise<ReadonlyMap<string, string>> {
    const facts = fresh ? await this.facts() : this.#told ?? await this.facts();
    return new Map(Object.entries(facts.definitions ?? {}));
  }

  async kinds(): Promise<unknown[]> { return ((await this.#get(PATHS.kinds)) as { kinds: unknown[] }).kinds; }

  /** The values come too: to leave them out would take a request of its own sort. */
  rows(keys: readonly ItemKey[]): AsyncIterable<IndexRow> { return this.read(keys); }

  index(): AsyncIterable<IndexRow> { return this.#stream(IndexRow, { method: 'GET', path: PATHS.items }); }
  items(): AsyncIterable<LocalItem> { return this.#stream(LocalItem, { method: 'GET', path: `${PATHS.items}?bodies=1` }); }
  read(keys: readonly ItemKey[]): AsyncIterable<LocalItem> { return this.#chunks(LocalItem, PATHS.read, keys); }
  records(keys: readonly ItemKey[]): AsyncIterable<ExactRecord> { return this.#chunks(ExactRecord, PATHS.records, keys); }

  async batch(operations: readonly Operation[]): Promise<Answer[]> {
    const json = await this.#client.json({ method: 'POST', path: await this.#path(PATHS.batch), json: { operations }, repeatable: true });
    return this.#checked(BatchAnswers, json, 'batch').answers;
  }

  async mediaSize(digest: string): Promise<{ type: string; bytes: number } | undefined> {
    const response = await this.#client.send({ method: 'HEAD', path: await this.#path(`${PATHS.media}/${digest}`), repeatable: true }, [404]);
    response.body.resume();
    if (response.statusCode === 404) return undefined;
    return { type: (response.headers['content-type'] ?? ''), bytes: Number(response.headers['content-length'] ?? 0) };
  }

  async media(digest: string): Promise<{ type: string; bytes: Buffer }> {
    const response = await this.#client.send({ method: 'GET', path: await this.#path(`${PATHS.media}/${digest}`), repeatable: true });
    const bytes = await this.#client.bytes(response);
    if (sha256(bytes) !== digest) throw this.#client.cut();
    return { type: (response.headers['content-type'] ?? ''), bytes };
  }

  async putMedia(digest: string, type: string, bytes: Buffer): Promise<void> {
    const contentDigest = `sha-256=:${Buffer.from(digest, 'hex').toString('base64')}:`;
    await this.#done({ method: 'PUT', path: `${PATHS.media}/${digest}`, bytes, type, headers: { 'content-digest': contentDigest }, repeatable: true });
  }

  async lock(request: LockRequest): Promise<void> {
    const json = await this.#client.json({ method: 'POST', path: await this.#path(PATHS.lock), json: request });
    this.#client.lockToken = this.#checked(Lock, json, 'lock').token;
  }

  async unlock(): Promise<void> {
    await this.#done({ method: 'DELETE', path: PATHS.lock });
    this.#client.lockToken = undefined;
  }

  async renewCaches(): Promise<void> { await this.#done({ method: 'POST', path: PATHS.caches, json: {} }); }
  async runs(): Promise<LedgerRun[]> { return (await this.ledger()).runs; }
  async ledger(): Promise<KnownLedger> { return knownLedger(this.#checked(Ledger, await this.#get(PATHS.ledger), 'ledger')); }
  /** Forms go in pieces that the site takes; what names them goes last. */
  async changeLedger({ forms = [], ...change }: LedgerChange): Promise<void> {
    const room = forms.length > 0 ? (await this.facts()).limits.requestBytes / 2 : 0;
    for (const some of pieces(forms, room)) await this.#done({ method: 'POST', path: PATHS.ledger, json: { forms: some } });
    if (Object.keys(change).length > 0) await this.#done({ method: 'POST', path: PATHS.ledger, json: change });
  }

  async forms(digests: readonly string[]): Promise<Map<string, string>> {
    if (digests.length === 0) return new Map();
    const json = await this.#client.json({ method: 'POST', path: await this.#path(PATHS.forms), json: { digests }, repeatable: true });
    return new Map(this.#checked(Forms, json, 'forms').forms.map((one) => [one.digest, one.text]));
  }

  pageStatus(url: string): Promise<number> { return pageStatus(url); }

  fileStatus(url: string): Promise<number> { return fileStatus(url); }

  close(): Promise<void> { this.#client.close(); return Promise.resolve(); }

  async #get(path: string): Promise<unknown> { return this.#client.json({ method: 'GET', path: await this.#path(path) }); }

  async #done(request: Request): Promise<void> {
    const response = await this.#client.send({ ...request, path: await this.#path(request.path) });
    response.body.resume();
  }

  /** Asks the site once where its protocol is, and in which version. */
  async #path(path: string): Promise<string> {
    if (this.#base === undefined) {
      const found = this.#checked(Discovery, await this.#client.json({ method: 'GET', path: DISCOVERY }), 'discovery');
      if (found.protocol !== PROTOCOL) {
        throw new Problem('unreachable', `${this.name} speaks version ${found.protocol} of the site protocol; this Pochette speaks version ${PROTOCOL}`, { where: this.url, remedy: found.protocol > PROTOCOL ? 'update Pochette' : 'update the counterpart on the site' });
      }
      this.#base = found.base;
    }
    return this.#base + path;
  }

  #checked<T>(schema: ZodType<T>, json: unknown, what: string): T {
    const parsed = schema.safeParse(json);
    if (parsed.success) return parsed.data;
    throw new Problem('unreachable', `${this.name} does not keep to the site protocol in its ${what}: ${firstIssue(parsed.error)}`, { where: this.url });
  }

  async *#chunks<T>(schema: ZodType<T>, path: string, keys: readonly ItemKey[]): AsyncGenerator<T> {
    for (const items of inChunks(keys, READ_CHUNK)) {
      yield* this.#stream(schema, { method: 'POST', path, json: { items }, repeatable: true });
    }
  }

  /** NDJSON, line by line; the last line says how many there were. */
  async *#stream<T>(schema: ZodType<T>, request: Request): AsyncGenerator<T> {
    const response = await this.#client.send({ repeatable: true, ...request, path: await this.#path(request.path) });
    if (!(response.headers['content-type'] ?? '').includes('ndjson')) {
      response.body.resume();
      throw this.#client.foreign(response, request.path);
    }
    let count = 0;
    let ended = false;
    // Read to the very end: only then can the connection be used again.
    for await (const line of linesOf(response.body, (error) => this.#client.cut(error))) {
      const json = this.#parse(line);
      if (isEnd(json)) {
        if (json.count !== count) throw this.#client.cut();
        ended = true;
        continue;
      }
      count++;
      yield this.#checked(schema, json, request.path);
    }
    if (!ended) throw this.#client.cut();
  }

  #parse(line: string): unknown {
    try { return JSON.parse(line); } catch (error) { throw this.#client.cut(error); }
  }
}

function isEnd(json: unknown): json is { count: number } {
  return typeof json === 'object' && json !== null && 'end' in json;
}

async function* linesOf(body: AsyncIterable<unknown>, broken: (error: unknown) => Problem): AsyncGenerator<string> {
  const decoder = new TextDecoder();
  let rest = '';
  const chunks = body[Symbol.asyncIterator]();
  try {
    for (;;) {
      const next = await chunks.next().catch((error: unknown) => { throw broken(error); });
      if (next.done) break;
      const lines = (rest + decoder.decode(next.value as Buffer, { stream: true })).split('\n');
      rest = lines.pop() ?? '';
      yield* lines;
    }
  } finally {
    await chunks.return?.();
  }
  if (rest !== '') throw broken(new Error('the last line has no end'));
}

/** Lists of forms, each with at most so many bytes, or with one form. */
function pieces<T extends { text: string }>(forms: readonly T[], bytes: number): T[][] {
  const found: T[][] = [];
  let left = 0;
  for (const form of forms) {
    const size = Buffer.byteLength(form.text);
    if (size > left || found.length === 0) { found.push([]); left = bytes; }
    found.at(-1)?.push(form);
    left -= size;
  }
  return found;
}
