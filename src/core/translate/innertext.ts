/** A text that is written inside another one with signs escaped, and where each of its signs begins there. */
export class InnerText {
  /** What it says. */
  readonly text: string;
  readonly written: string;
  /** Behind which signs of it places move, and by how much from there on. */
  readonly #behind: number[] = [0];
  readonly #by: number[] = [0];

  /** `escape`: whatever stands for a sign, without groups. */
  private constructor(written: string, escape: RegExp, signOf: (escaped: string) => string) {
    this.written = written;
    let shorter = 0;
    this.text = written.replace(escape, (escaped: string, at: number) => {
      const sign = signOf(escaped);
      this.#behind.push(at - shorter + sign.length);
      this.#by.push(shorter += escaped.length - sign.length);
      return sign;
    });
  }

  /** A string of JSON (RFC 8259, section 7) or of code, without its quotation marks. */
  static ofString(written: string): InnerText { return new InnerText(written, /\\(?:u[0-9A-Fa-f]{4}|[^])/g, signOfString); }

  /** The value of an attribute, or a text in markup: those entities that escape it. */
  static ofMarkup(written: string): InnerText { return new InnerText(written, /&(?:lt|gt|quot|apos|amp|#\d{1,7}|#[xX][0-9A-Fa-f]{1,6});/g, signOfEntity); }

  /** What is percent-encoded (RFC 3986, section 2.1). Only signs of ASCII count in it, and others stand for as many as they have bytes. */
  static ofEncoded(written: string): InnerText { return new InnerText(written, /%[0-9A-Fa-f]{2}/g, (escaped) => signOfCode(escaped.slice(1), 16)); }

  /** Where a sign begins in what is written; for the end of the text, its end. */
  placeOf(index: number): number {
    let [low, high] = [0, this.#behind.length - 1];
    while (low < high) { const middle = (low + high + 1) >> 1; if ((this.#behind[middle] as number) <= index) low = middle; else high = middle - 1; }
    return index + (this.#by[low] as number);
  }
}

const SIGNS: Readonly<Record<string, string>> = { n: '\n', t: '\t', r: '\r', b: '\b', f: '\f' };
const ENTITIES: Readonly<Record<string, string>> = { '&lt;': '<', '&gt;': '>', '&quot;': '"', '&apos;': '\'', '&amp;': '&', '&#34;': '"', '&#39;': '\'', '&#039;': '\'' };

function signOfString(escaped: string): string {
  const sign = escaped.charAt(1);
  return escaped.length > 2 ? signOfCode(escaped.slice(2), 16) : SIGNS[sign] ?? sign;
}

function signOfEntity(escaped: string): string {
  const known = ENTITIES[escaped];
  if (known !== undefined) return known;
  const isHex = /^&#x/i.test(escaped);
  const code = parseInt(escaped.slice(isHex ? 3 : 2), isHex ? 16 : 10);
  return code > 0 && code <= 0x10FFFF ? String.fromCodePoint(code) : escaped;
}

function signOfCode(digits: string, base: number): string { return String.fromCharCode(parseInt(digits, base)); }
