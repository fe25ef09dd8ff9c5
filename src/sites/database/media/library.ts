import { typeOfPath } from '../../../core/filetypes.ts';
import { Refused } from '../store.ts';
import { isInside, type MediaStore } from './store.ts';

/** Files wait here until the record that describes them says where they belong. */
const WAITING = '.pochette-files';

interface Found { readonly path: string; readonly type: string; readonly bytes: number; readonly waiting: boolean }

/** The media files of a site: by path, and known by digest. Files come before the rows that name them, and go after those. */
export class Library {
  readonly #store: MediaStore;
  /** Path by digest, of what has been looked at. */
  readonly #paths = new Map<string, string>();
  readonly #known = new Map<string, { stamp: string; digest: string }>();
  #fault: Promise<string | undefined> | undefined;
  #undo: (() => Promise<void>)[] = [];
  #later: (() => Promise<void>)[] = [];

  constructor(store: MediaStore) { this.#store = store; }

  get name(): string { return this.#store.name; }
  /** Why it cannot be used, in words; asked once. */
  fault(): Promise<string | undefined> { return this.#fault ??= this.#store.fault(); }
  /** Of a store that cannot be used nothing is there. */
  async #look(path: string) { return await this.fault() === undefined ? this.#store.look(path) : undefined; }

  close(): void { this.#store.close(); }

  /** The SHA-256 of a file; undefined where it is not there. */
  async digest(path: string): Promise<string | undefined> {
    const there = isInside(path) ? await this.#look(path) : undefined;
    if (!there) return undefined;
    const known = this.#known.get(path);
    const digest = there.digest ?? (known !== undefined && there.stamp !== '' && known.stamp === there.stamp ? known.digest : await this.#store.digest(path));
    if (digest === undefined) return undefined;
    this.#known.set(path, { stamp: there.stamp, digest });
    this.#paths.set(digest, path);
    return digest;
  }

  async find(digest: string): Promise<Found | undefined> {
    const path = this.#paths.get(digest);
    const at = path ?? waiting(digest);
    const there = await this.#look(at);
    return there && { path: at, type: typeOfPath(path ?? ''), bytes: there.bytes, waiting: path === undefined };
  }

  async read(digest: string): Promise<{ type: string; bytes: Buffer } | undefined> {
    const found = await this.find(digest);
    const bytes = found && await this.#store.read(found.path);
    return found && bytes && { type: found.type, bytes };
  }

  keep(digest: string, type: string, bytes: Buffer): Promise<void> { return this.#store.write(waiting(digest), type, bytes); }

  /** Puts the files of an item where they belong: before its rows are written. `own`: paths of the files that it has now. Gives back the paths where no file was. */
  async place(value: Record<string, unknown>, own: readonly string[] = []): Promise<string[]> {
    const placed: string[] = [];
    const files = filesOf(value);
    for (const { path, file } of files) {
      if (!isInside(path)) throw new Refused(422, `the path ${path} leaves ${this.name}`, 'files');
      const there = await this.digest(path);
      if (there === file) continue;
      if (there !== undefined && !own.includes(path)) throw new Refused(409, `another file is at ${path} in ${this.name}`, 'files');
      if (there === undefined) placed.push(path); else await this.#replace(path, there);
      const source = await this.find(file);
      if (!source) throw new Refused(409, `the file for ${path} was not sent`, 'files');
      if (source.waiting) await this.#store.move(source.path, path);
      else await this.#store.write(path, source.type, await this.#store.read(source.path) ?? Buffer.alloc(0));
      this.#paths.set(file, path);
      this.#undo.push(() => this.#setAside(path, file));
    }
    return placed;
  }

  /** The file that an item had there makes room, and is kept for an undo. */
  async #replace(path: string, file: string): Promise<void> {
    await this.#setAside(path, file);
    this.#undo.push(async () => { await this.#store.move(waiting(file), path); this.#paths.set(file, path); });
  }

  /** Files of an item that goes: kept aside when its rows are gone, for an undo of that. */
  unplace(paths: readonly string[]): void {
    for (const path of paths) if (isInside(path)) this.#later.push(async () => { const file = await this.digest(path); if (file !== undefined) await this.#setAside(path, file); });
  }

  async #setAside(path: string, file: string): Promise<void> {
    if (!await this.#look(path)) return;
    await this.#store.move(path, waiting(file));
    this.#paths.delete(file);
    this.#known.delete(path);
  }

  /** The rows are written. */
  async settle(): Promise<void> {
    const work = this.#later;
    [this.#undo, this.#later] = [[], []];
    for (const one of work) await one();
  }

  /** The rows were not written. A file that cannot be set aside again stays where it is: no row names it, and the next import finds it there. */
  async rollBack(): Promise<void> {
    const work = this.#undo.reverse();
    [this.#undo, this.#later] = [[], []];
    for (const one of work) await one().catch(() => undefined);
  }
}

function waiting(digest: string): string { return `${WAITING}/${digest}`; }

function filesOf(value: Record<string, unknown>): { path: string; file: string }[] {
  const files = Object.values(value).find((one) => Array.isArray(one) && one.length > 0 && one.every((entry) => typeof entry === 'object' && entry !== null && 'path' in entry && 'file' in entry));
  return (files as { path: string; file: string }[] | undefined ?? []).filter((one) => typeof one.file === 'string');
}
