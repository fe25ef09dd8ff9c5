const NEWLINE = 0x0a;

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
