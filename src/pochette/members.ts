import { HashTable, hashOf, Numbers, Texts, TextSet } from '../core/columns.ts';

/** What has to be kept of an entry of the central directory. */
export interface Member { readonly offset: number; readonly packed: number; readonly size: number; readonly crc: number; readonly method: number }

/** In what stands around the names of many members: where their own parts are. No name has it. */
const OWN = '*';

/** The members of an archive by name, in columns: there are as many as items, and an object for each would take several times the room. */
export class Members {
  /** Folders and endings, as "data/items/entry/*.json": few. */
  readonly #frames = new TextSet();
  readonly #frame = new Numbers({ whole: true });
  readonly #names = new Texts();
  readonly #table = new HashTable();
  readonly #offsets = new Numbers();
  readonly #packed = new Numbers({ whole: true });
  readonly #sizes = new Numbers({ whole: true });
  readonly #crcs = new Numbers({ whole: true });
  readonly #methods = new Numbers({ whole: true });

  get size(): number { return this.#names.length; }
  *names(): Generator<string> { for (let at = 0; at < this.size; at++) yield this.name(at); }
  name(at: number): string { return this.#frames.at(this.#frame.at(at)).replace(OWN, () => this.#names.at(at)); }

  position(name: string): number | undefined {
    const [around, own] = parted(name);
    const frame = this.#frames.find(around);
    return frame === undefined ? undefined : this.#table.find(hashOf(name), (at) => this.#frame.at(at) === frame && this.#names.at(at) === own);
  }

  /** Behind the last; the name is a new one. */
  add(name: string, { offset, packed, size, crc, method }: Member): void {
    const [around, own] = parted(name);
    this.#table.set(hashOf(name), this.size, () => false);
    this.#frame.push(this.#frames.add(around));
    this.#names.push(own);
    this.#offsets.push(offset);
    this.#packed.push(packed);
    this.#sizes.push(size);
    this.#crcs.push(crc);
    this.#methods.push(method);
  }

  at(at: number): Member { return { offset: this.#offsets.at(at), packed: this.#packed.at(at), size: this.#sizes.at(at), crc: this.#crcs.at(at), method: this.#methods.at(at) }; }

  get(name: string): Member | undefined {
    const at = this.position(name);
    return at === undefined ? undefined : this.at(at);
  }
}

/** What a name shares with others, and what is its own. */
function parted(name: string): [around: string, own: string] {
  const begin = name.lastIndexOf('/') + 1;
  const dot = name.lastIndexOf('.');
  const end = dot > begin ? dot : name.length;
  return [`${name.slice(0, begin)}${OWN}${name.slice(end)}`, name.slice(begin, end)];
}
