/** A text that is written inside another one with signs escaped, and where each of its signs begins there. */
export class InnerText {
  /** What it says. */
  readonly text: string;
  /** Behind which signs of it places move, and by how much from there on. */
  readonly #behind: number[] = [0];
  readonly #by: number[] = [0];

  private constructor(readonly written: string, escape: RegExp, signOf: (found: RegExpExecArray) => string) {
    let [text, at] = ['', 0];
    for (const found of written.matchAll(escape)) {
      text += written.slice(at, found.index) + signOf(found);
      at = found.index + found[0].length;
      this.#behind.push(text.length);
      this.#by.push(at - text.length);
    }
    this.text = text + written.slice(at);
  }

  /** A string of JSON (RFC 8259, section 7) or of code, without its quotation marks. */
  static ofString(written: string): InnerText {
    return new InnerText(written, /\\(?:u([0-9A-Fa-f]{4})|([^]))/g, ([, code, sign = '']) => (code === undefined ? SIGNS[sign] ?? sign : String.fromCharCode(parseInt(code, 16))));
  }

  /** The value of an attribute, or a text in markup: those entities that escape it. */
  static ofMarkup(written: string): InnerText {
    return new InnerText(written, /&(?:(lt|gt|quot|apos|amp)|#(?:0*(\d{1,6})|[xX]0*([0-9A-Fa-f]{1,5})));/g, ([whole, name, decimal, hex]) => {
      const code = name !== undefined ? 0 : parseInt(decimal ?? hex ?? '', decimal !== undefined ? 10 : 16);
      return name !== undefined ? ENTITIES[name] ?? whole : code > 0 && code <= 0x10FFFF ? String.fromCodePoint(code) : whole;
    });
  }

  /** What is percent-encoded (RFC 3986, section 2.1). Only signs of ASCII count in it, and others stand for as many as they have bytes. */
  static ofEncoded(written: string): InnerText {
    return new InnerText(written, /%([0-9A-Fa-f]{2})/g, ([, hex = '']) => String.fromCharCode(parseInt(hex, 16)));
  }

  /** Where a sign begins in what is written; for the end of the text, its end. */
  placeOf(index: number): number {
    let [low, high] = [0, this.#behind.length - 1];
    while (low < high) { const middle = (low + high + 1) >> 1; if ((this.#behind[middle] as number) <= index) low = middle; else high = middle - 1; }
    return index + (this.#by[low] as number);
  }
}

const SIGNS: Readonly<Record<string, string>> = { n: '\n', t: '\t', r: '\r', b: '\b', f: '\f' };
const ENTITIES: Readonly<Record<string, string>> = { lt: '<', gt: '>', quot: '"', apos: '\'', amp: '&' };
