import { Texts } from '../../core/columns.ts';
import { byCodeUnit } from '../../core/json.ts';
import type { IndexRow, LocalId } from '../../core/siteindex.ts';

/** Lines of an index as they are found, kind by kind, until all are there and can be put in order. They are held packed: as objects they would take more room than the index that is made of them. */
export class FoundRows {
  readonly #addresses: string[] = [];
  readonly #rows = new Texts();

  add(address: string, row: IndexRow): void {
    this.#addresses.push(address);
    this.#rows.push(JSON.stringify(row));
  }

  /** By their addresses; of several with one name all but the first get a name of their own, and cannot travel. */
  *inOrder(): Generator<IndexRow> {
    let last: string | undefined;
    for (const at of this.#order()) {
      const [address, row] = [this.#addresses[at], this.#row(at)];
      yield address === last ? { ...row, name: `${row.name}~${row.id}`, unavailable: { why: 'same-name', extension: '', detail: `id ${row.id}` } } : row;
      last = address;
    }
  }

  #order(): Uint32Array {
    const order = Uint32Array.from(this.#addresses.keys());
    return order.sort((a, b) => byCodeUnit(this.#addresses[a] ?? '', this.#addresses[b] ?? '') || byCodeUnit(idText(this.#row(a).id), idText(this.#row(b).id)));
  }

  #row(at: number): IndexRow { return JSON.parse(this.#rows.at(at)) as IndexRow; }
}

function idText(id: LocalId): string { return String(id).padStart(20, '0'); }
