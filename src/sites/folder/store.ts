import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { parseDocument, LineCounter } from 'yaml';
import { makeAddress, parseAddress, quoteName } from '../../core/address.ts';
import { canonical, sha256 } from '../../core/canonical.ts';
import { isObject, type Json, type JsonObject } from '../../core/json.ts';
import { isUtcTime } from '../../core/time.ts';
import { Problem } from '../../core/problem.ts';
import { fresh, updated } from './document.ts';

/** An item as its file has it. */
export interface Filed { readonly address: string; readonly kind: string; readonly title: string; readonly status: 'published' | 'draft'; readonly created?: string | undefined; readonly value: Json; readonly etag: string; readonly path: string; readonly text: string }

const LONGEST_NAME = 120;

/** The files of a folder: one YAML file for each item, in a folder for each kind. */
export class FileStore {
  readonly #folder: string;

  constructor(folder: string) { this.#folder = folder; }

  get folder(): string { return this.#folder; }

  /** Every item file. Throws an `unreadable` problem with file and line. */
  all(): Filed[] {
    const root = join(this.#folder, 'items');
    if (!existsSync(root)) return [];
    return readdirSync(root, { withFileTypes: true }).filter((entry) => entry.isDirectory())
      .flatMap((entry) => readdirSync(join(root, entry.name)).filter((name) => name.endsWith('.yaml')).map((name) => this.read(join(root, entry.name, name))));
  }

  read(path: string): Filed {
    const text = readFileSync(path, 'utf8');
    const { json, where } = parsed(text, path);
    const { address, kind, title, status = 'published', created, value } = json as Record<string, Json>;
    if (typeof address !== 'string' || typeof kind !== 'string' || value === undefined || (status !== 'published' && status !== 'draft')) throw new Problem('unreadable', 'this is not an item: address, kind and value are expected', { where, remedy: 'mend the file, or take it out of the folder' });
    parseAddress(address);
    return { address, kind, title: typeof title === 'string' ? title : address, status, created: isUtcTime(created) ? created : undefined, value, etag: etagOf(status, value), path, text };
  }

  /** Where the file of an item is: its name in letters that every file system keeps apart. */
  pathOf(address: string): string {
    const { kind, name } = parseAddress(address);
    const quoted = quoteName(name).replaceAll('/', '%2F');
    // Names that differ in capitals only are one name for some file systems; very long ones are none.
    const plain = quoted === quoted.toLowerCase() && quoted.length <= LONGEST_NAME && !quoted.startsWith('.');
    return join(this.#folder, 'items', kind.replaceAll('/', '.'), `${plain ? quoted : `${quoted.slice(0, LONGEST_NAME).replace(/^\.+/, '')}-${sha256(address).slice(0, 8)}`}.yaml`);
  }

  write(address: string, content: { kind: string; title: string; status: 'published' | 'draft'; created?: string | undefined; value: Json }): Filed {
    const path = this.pathOf(address);
    const json: JsonObject = { address, kind: content.kind, title: content.title, ...(content.status === 'draft' ? { status: 'draft' } : {}), ...(content.created === undefined ? {} : { created: content.created }), value: content.value };
    this.put(path, existsSync(path) ? updated(readFileSync(path, 'utf8'), json) : fresh(json));
    return this.read(path);
  }

  put(path: string, text: string | Uint8Array): void {
    mkdirSync(dirname(path), { recursive: true });
    writeFileSync(`${path}.tmp`, text);
    renameSync(`${path}.tmp`, path);
  }

  remove(path: string): void { rmSync(path, { force: true }); }

  /** A file beside the items, such as the kinds; undefined where it is not there. */
  yaml(name: string): unknown {
    const path = join(this.#folder, name);
    return existsSync(path) ? parsed(readFileSync(path, 'utf8'), path).json : undefined;
  }

  putYaml(name: string, content: JsonObject): void {
    const path = join(this.#folder, name);
    this.put(path, existsSync(path) ? updated(readFileSync(path, 'utf8'), content) : fresh(content));
  }

  relative(path: string): string { return relative(this.#folder, path); }
  make(kind: string, name: string): string { return makeAddress(kind, name); }
}

function parsed(text: string, path: string): { json: unknown; where: string } {
  const lines = new LineCounter();
  const document = parseDocument(text, { lineCounter: lines });
  const [fault] = document.errors;
  if (fault) throw new Problem('unreadable', `this is not YAML: ${fault.message.split('\n')[0] ?? ''}`, { where: `${path}:${lines.linePos(fault.pos[0]).line}`, remedy: /^[<>=]{7}/m.test(text) ? 'two people changed it: settle the marks that the version control left in it' : 'mend this line' });
  const json: unknown = document.toJS({ maxAliasCount: 0 });
  if (!isObject(json)) throw new Problem('unreadable', 'a map is expected', { where: path, remedy: 'mend the file, or take it out of the folder' });
  return { json, where: path };
}

/** Changes with what the file says, and not with its comments or the order of its keys. */
function etagOf(status: string, value: Json): string { return `"${sha256(status + canonical(value)).slice(0, 20)}"`; }
