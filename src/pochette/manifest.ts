import { unreadable, type Archive } from './archive.ts';
import { linesIn } from './linesin.ts';

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

  private constructor(archive: Archive, digests: Buffer, listed: Uint8Array, absent: readonly string[]) {
    this.#archive = archive;
    this.#digests = digests;
    this.#listed = listed;
    this.absent = absent;
    this.size = absent.length + listed.reduce((sum, one) => sum + one, 0);
  }

  /** Goes through the member `name`, which has this digest. Throws an `unreadable` problem for a line that is not understood. */
  static async read(archive: Archive, name: string, digest: string): Promise<Manifest> {
    const [digests, listed] = [Buffer.alloc(archive.count * BYTES), new Uint8Array(archive.count)];
    const absent = new Set<string>();
    for await (const lines of linesIn(archive.pieces(name, digest))) {
      for (const line of lines) {
        if (line.length === 0) continue;
        const [member, said] = manifestLine(line.toString(), archive.path);
        const at = archive.position(member);
        if (at === undefined) { absent.add(member); continue; }
        digests.write(said, at * BYTES, BYTES, 'hex');
        listed[at] = 1;
      }
    }
    return new Manifest(archive, digests, listed, [...absent]);
  }

  digest(name: string): string | undefined {
    const at = this.#archive.position(name);
    return at === undefined || this.#listed[at] === 0 ? undefined : this.#digests.toString('hex', at * BYTES, (at + 1) * BYTES);
  }

  /** Members of the archive that it lists, and whether it is one of them. */
  *names(): Generator<string> { for (const name of this.#archive.names()) if (this.has(name)) yield name; }
  has(name: string): boolean { return this.#listed[this.#archive.position(name) ?? -1] === 1; }
}

/** `digest  name`. */
export function manifestLine(line: string, path: string): [name: string, digest: string] {
  if (!LINE.test(line)) throw unreadable(path, `a line of a manifest is not understood: ${line.slice(0, 80)}`);
  return [line.slice(DIGITS + 2), line.slice(0, DIGITS)];
}
const LINE = /^[0-9a-f]{64} {2}./;
