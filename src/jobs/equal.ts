import type { Address } from '../core/address.ts';
import { Texts } from '../core/columns.ts';

/** An item that is the same on both sides: the fingerprints there, and its form where that was at hand. */
export interface EqualItem { readonly address: Address; readonly source: string; readonly target: string; readonly text?: string }

/** So many characters of their forms are held. */
const MOST_KEPT = 8_000_000;
const TEXTS = 3;

/** Items that are the same on both sides. Every item of a site may be among them, so they are held in columns. */
export class EqualItems {
  /** Of each its address, and both fingerprints; the second is empty where it is the first. */
  readonly #texts = new Texts();
  readonly #forms = new Map<number, string>();
  #characters = 0;

  add({ address, source, target, text }: EqualItem): void {
    const at = this.#texts.push(address) / TEXTS;
    this.#texts.push(source);
    this.#texts.push(target === source ? '' : target);
    if (text === undefined || this.#characters + text.length > MOST_KEPT) return;
    this.#characters += text.length;
    this.#forms.set(at, text);
  }

  *[Symbol.iterator](): Generator<EqualItem> {
    for (let at = 0; at < this.#texts.length / TEXTS; at++) {
      const [address = '', source = '', target = ''] = [0, 1, 2].map((which) => this.#texts.at(at * TEXTS + which));
      const text = this.#forms.get(at);
      yield { address, source, target: target === '' ? source : target, ...(text === undefined ? {} : { text }) };
    }
  }
}
