import { createHash } from 'node:crypto';
import { copyFileSync, createReadStream, existsSync, mkdirSync, readFileSync, renameSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join, resolve, sep } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { typeOfPath } from '../filetypes.ts';
import { Refused } from './store.ts';

/** Files wait here until the record that describes them says where they belong. */
const WAITING = '.pochette-files';

/** The media folder of a site: files by path, known by digest. */
export class Library {
  readonly #folder: string;
  /** Path by digest, of what has been looked at. */
  readonly #paths = new Map<string, string>();
  readonly #known = new Map<string, { stamp: string; digest: string }>();
  #undo: (() => void)[] = [];
  #later: (() => void)[] = [];

  constructor(folder: string) { this.#folder = resolve(folder); }

  get missing(): boolean { return !existsSync(this.#folder); }

  /** The SHA-256 of a file; undefined where it is not there. */
  async digest(path: string): Promise<string | undefined> {
    const full = this.#inside(path);
    if (full === undefined || !existsSync(full)) return undefined;
    const { size, mtimeMs, isFile } = withStamp(full);
    if (!isFile) return undefined;
    const stamp = `${size} ${mtimeMs}`;
    const known = this.#known.get(path);
    if (known?.stamp === stamp) return known.digest;
    const hash = createHash('sha256');
    await pipeline(createReadStream(full), hash);
    const digest = hash.digest('hex');
    this.#known.set(path, { stamp, digest });
    this.#paths.set(digest, path);
    return digest;
  }

  find(digest: string): { path: string; type: string; bytes: number; waiting: boolean } | undefined {
    const path = this.#paths.get(digest);
    const full = path === undefined ? join(this.#folder, WAITING, digest) : this.#inside(path);
    return full !== undefined && existsSync(full) ? { path: full, type: typeOfPath(path ?? ''), bytes: statSync(full).size, waiting: path === undefined } : undefined;
  }

  read(digest: string): { type: string; bytes: Buffer } | undefined {
    const found = this.find(digest);
    return found && { type: found.type, bytes: readFileSync(found.path) };
  }

  keep(digest: string, bytes: Buffer): void {
    mkdirSync(join(this.#folder, WAITING), { recursive: true });
    const path = join(this.#folder, WAITING, digest);
    writeFileSync(`${path}.part`, bytes);
    renameSync(`${path}.part`, path);
  }

  /** Puts the files of an item where they belong: before its rows are written. */
  async place(value: Record<string, unknown>): Promise<void> {
    for (const { path, file } of filesOf(value)) {
      const full = this.#inside(path);
      if (full === undefined) throw new Refused(422, `the path ${path} leaves the media folder`, 'files');
      const there = await this.digest(path);
      if (there === file) continue;
      if (there !== undefined) throw new Refused(409, `another file is at ${path} in the media folder`, 'files');
      const source = this.find(file);
      if (!source) throw new Refused(409, `the file for ${path} was not sent`, 'files');
      mkdirSync(dirname(full), { recursive: true });
      if (source.waiting) renameSync(source.path, full);
      else copyFileSync(source.path, full);
      this.#paths.set(file, path);
      this.#undo.push(() => { mkdirSync(join(this.#folder, WAITING), { recursive: true }); renameSync(full, join(this.#folder, WAITING, file)); this.#paths.delete(file); });
    }
  }

  /** Files of an item that goes: kept aside until its rows are gone, and for an undo of that. */
  unplace(value: Record<string, unknown>): void {
    for (const { path, file } of filesOf(value)) {
      const full = this.#inside(path);
      if (full === undefined) continue;
      this.#later.push(() => {
        if (!existsSync(full)) return;
        mkdirSync(join(this.#folder, WAITING), { recursive: true });
        renameSync(full, join(this.#folder, WAITING, file));
        this.#paths.delete(file);
        this.#known.delete(path);
      });
    }
  }

  /** The rows are written. */
  settle(): void { for (const work of this.#later) work(); this.#undo = []; this.#later = []; }
  /** The rows were not written. */
  rollBack(): void { for (const work of this.#undo) work(); this.#undo = []; this.#later = []; }

  #inside(path: string): string | undefined {
    const full = resolve(this.#folder, path);
    return full.startsWith(this.#folder + sep) && !path.includes('\0') ? full : undefined;
  }
}

function withStamp(path: string): { size: number; mtimeMs: number; isFile: boolean } {
  const stat = statSync(path);
  return { size: stat.size, mtimeMs: stat.mtimeMs, isFile: stat.isFile() };
}

function filesOf(value: Record<string, unknown>): { path: string; file: string }[] {
  const files = Object.values(value).find((one) => Array.isArray(one) && one.length > 0 && one.every((entry) => typeof entry === 'object' && entry !== null && 'path' in entry && 'file' in entry));
  return (files as { path: string; file: string }[] | undefined ?? []).filter((one) => typeof one.file === 'string');
}
