import { createHash } from 'node:crypto';
import { createReadStream, existsSync, mkdirSync, readFileSync, renameSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { pipeline } from 'node:stream/promises';
import type { MediaStore } from './store.ts';

/** A folder on this machine. */
export class MediaFolder implements MediaStore {
  readonly name = 'the media folder';
  readonly #folder: string;

  constructor(folder: string) { this.#folder = resolve(folder); }

  fault(): Promise<string | undefined> { return Promise.resolve(existsSync(this.#folder) ? undefined : 'the media folder is not there'); }

  look(path: string) {
    const stat = statSync(this.#full(path), { throwIfNoEntry: false });
    return Promise.resolve(stat?.isFile() === true ? { bytes: stat.size, stamp: `${stat.size} ${stat.mtimeMs}` } : undefined);
  }

  async digest(path: string): Promise<string | undefined> {
    if (!existsSync(this.#full(path))) return undefined;
    const hash = createHash('sha256');
    await pipeline(createReadStream(this.#full(path)), hash);
    return hash.digest('hex');
  }

  read(path: string): Promise<Buffer | undefined> { return Promise.resolve(existsSync(this.#full(path)) ? readFileSync(this.#full(path)) : undefined); }

  write(path: string, _type: string, bytes: Buffer): Promise<void> {
    const full = this.#full(path);
    mkdirSync(dirname(full), { recursive: true });
    writeFileSync(`${full}.part`, bytes);
    renameSync(`${full}.part`, full);
    return Promise.resolve();
  }

  move(from: string, to: string): Promise<void> {
    mkdirSync(dirname(this.#full(to)), { recursive: true });
    renameSync(this.#full(from), this.#full(to));
    return Promise.resolve();
  }

  close(): void { /* nothing is held open */ }

  #full(path: string): string { return join(this.#folder, path); }
}
