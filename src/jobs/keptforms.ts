import { itemBytes, type PortableItem } from '../core/item.ts';
import { sha256 } from '../core/canonical.ts';
import type { SourceRow } from '../core/source.ts';
import type { Connector } from '../sites/connector.ts';
import type { RecordsFolder } from './records/folder.ts';

/** So many characters of forms wait at most before they are written away. */
const MOST_WAITING = 1_000_000;

/** Forms that the bases of a run name: written away as they come, here and to the target's ledger, so that a large import does not gather them. */
export class KeptForms {
  readonly #records: RecordsFolder;
  readonly #connector: Pick<Connector, 'changeLedger'>;
  readonly #run: string;
  readonly #known = new Set<string>();
  readonly #waiting = new Map<string, string>();
  #characters = 0;

  constructor(records: RecordsFolder, connector: Pick<Connector, 'changeLedger'>, run: string) {
    this.#records = records;
    this.#connector = connector;
    this.#run = run;
  }

  /** Returns the digest. */
  async row(row: SourceRow): Promise<string> { return this.keep(row.fingerprint, row.text ?? itemBytes(await row.load())); }

  async item(item: PortableItem): Promise<string> {
    const text = itemBytes(item);
    return await this.keep(sha256(text), text);
  }

  async keep(digest: string, text: string): Promise<string> {
    if (this.#known.has(digest)) return digest;
    this.#known.add(digest);
    this.#waiting.set(digest, text);
    this.#characters += text.length;
    if (this.#characters > MOST_WAITING) await this.flush();
    return digest;
  }

  async flush(): Promise<void> {
    if (this.#waiting.size === 0) return;
    this.#records.addForms(this.#run, this.#waiting);
    await this.#connector.changeLedger({ forms: [...this.#waiting].map(([digest, text]) => ({ digest, text })) });
    this.#waiting.clear();
    this.#characters = 0;
  }
}
