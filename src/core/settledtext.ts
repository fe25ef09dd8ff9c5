import { Text, type TextPiece } from './tree.ts';

/** A text in which ids are left out: of a list of ids with what parts them, and of data so that it stays data. */
export class SettledText {
  readonly #pieces: TextPiece[] = [];
  #leftOut = false;

  add(piece: TextPiece): void {
    if (!this.#leftOut) { this.#pieces.push(piece); return; }
    this.#leftOut = false;
    const [before, after] = [this.#end(), typeof piece === 'string' ? piece : ''];
    const parted = this.#pieces.length === 0 || LIST_BEGINS.test(before) ? PARTS.exec(after)?.[0] : undefined;
    if (parted !== undefined) this.#pieces.push(after.slice(parted.length));
    else {
      if (LIST_ENDS.test(after)) this.#cut(PARTED.exec(before)?.[0].length ?? 0);
      if (NO_VALUE.test(before) && VALUE_ENDS.test(after)) this.#pieces.push('0');
      this.#pieces.push(piece);
    }
  }

  leaveOut(): void {
    if (this.#leftOut) this.add('');
    this.#leftOut = true;
  }

  text(): Text {
    if (this.#leftOut) this.#cut(PARTED.exec(this.#end())?.[0].length ?? 0);
    return new Text(this.#pieces);
  }

  /** What stands behind the last token. */
  #end(): string { return this.#pieces.slice(this.#pieces.findLastIndex((piece) => typeof piece !== 'string') + 1).map(String).join(''); }

  #cut(length: number): void {
    if (length === 0) return;
    const end = this.#end();
    while (typeof this.#pieces.at(-1) === 'string') this.#pieces.pop();
    this.#pieces.push(end.slice(0, end.length - length));
  }
}

/** Before the first id of a list, or between two; what parts it from the next one; the same before the last one, and where the list ends. */
const [LIST_BEGINS, PARTS, PARTED, LIST_ENDS] = [/[[("'=,|;]\s*$/, /^\s?[,|;]\s?(?=\d|$)/, /\s?[,|;]\s?$/, /^\s*[\])"'&,|;<]/];
/** In data a name without a value, and what stands behind a value. */
const [NO_VALUE, VALUE_ENDS] = [/:\s*$/, /^\s*[,}]/];
