import { unreadable, type Archive } from './archive.ts';
import { textLines } from './linesin.ts';

/** SHA-256 in hexadecimal, and in bytes. */
const DIGITS = 64;
const BYTES = DIGITS / 2;

/** The digests that a manifest of a bag (RFC 8493) gives for the members of an archive: as bytes, by the position of the member. */
export class Manifest {
  readonly #archive: Archive;
  readonly #digests: Buffer;
  readonly #listed: Uint8Array;
  /** Members that the manifest names and the archive has not. */
  readonly absent: readonly string[];
  readonly size: number;

  /** Throws an `unreadable` problem for a line that is not understood. */
  constructor(bytes: Buffer, archive: Archive) {
    this.#archive = archive;
    this.#digests = Buffer.alloc(archive.count * BYTES);
    this.#listed = new Uint8Array(archive.count);
    const absent = new Set<string>();
    for (const [name, digest] of manifestLines(bytes, archive.path)) {
      const at = archive.position(name);
      if (at === undefined) { absent.add(name); continue; }
      this.#digests.write(digest, at * BYTES, BYTES, 'hex');
      this.#listed[at] = 1;
    }
    this.absent = [...absent];
    this.size = absent.size + this.#listed.reduce((sum, one) => sum + one, 0);
  }

  digest(name: string): string | undefined {
    const at = this.#archive.position(name);
    return at === undefined || this.#listed[at] === 0 ? undefined : this.#digests.toString('hex', at * BYTES, (at + 1) * BYTES);
  }

  /** Members of the archive that it lists, and whether it is one of them. */
  *names(): Generator<string> { for (const name of this.#archive.names()) if (this.has(name)) yield name; }
  has(name: string): boolean { return this.#listed[this.#archive.position(name) ?? -1] === 1; }
}

/** `digest  name`, a line each. */
export function* manifestLines(bytes: Buffer, path: string): Generator<[name: string, digest: string]> {
  for (const line of textLines(bytes)) {
    if (line === '') continue;
    if (!LINE.test(line)) throw unreadable(path, `a line of a manifest is not understood: ${line.slice(0, 80)}`);
    yield [line.slice(DIGITS + 2), line.slice(0, DIGITS)];
  }
}
const LINE = /^[0-9a-f]{64} {2}./;
