const NEWLINE = 0x0a;

/** The lines of a text that is there as a whole, one by one: a text of a hundred thousand lines is never made. The last may lack its end. */
export function* textLines(bytes: Buffer): Generator<string> {
  for (let from = 0; from < bytes.length;) {
    const end = bytes.indexOf(NEWLINE, from);
    const to = end < 0 ? bytes.length : end;
    yield bytes.toString('utf8', from, to);
    from = to + 1;
  }
}

/** The lines that are complete with each piece of a text, without their ends. The last may lack its end. */
export async function* linesIn(pieces: AsyncIterable<Buffer>): AsyncGenerator<Buffer[]> {
  // What a line begins with, from the pieces before.
  let begun: Buffer[] = [];
  for await (const piece of pieces) {
    const lines: Buffer[] = [];
    let start = 0;
    for (let end = piece.indexOf(NEWLINE); end >= 0; end = piece.indexOf(NEWLINE, start)) {
      const rest = piece.subarray(start, end);
      lines.push(begun.length === 0 ? rest : Buffer.concat([...begun, rest]));
      begun = [];
      start = end + 1;
    }
    if (start < piece.length) begun.push(piece.subarray(start));
    yield lines;
  }
  if (begun.length > 0) yield [Buffer.concat(begun)];
}
