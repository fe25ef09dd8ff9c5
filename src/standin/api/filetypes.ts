const SIGNATURES: readonly [string, (bytes: Buffer) => boolean][] = [
  ['image/png', (bytes) => bytes.subarray(0, 8).equals(Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]))],
  ['image/jpeg', (bytes) => bytes[0] === 0xff && bytes[1] === 0xd8],
  ['image/webp', (bytes) => bytes.subarray(8, 12).toString('latin1') === 'WEBP'],
  ['image/svg+xml', (bytes) => /^\s*(<\?xml[^]*?\?>\s*)?(<!--[^]*?-->\s*|<!DOCTYPE[^>]*>\s*)*<svg[\s>]/.test(bytes.subarray(0, 2000).toString('utf8'))],
  ['application/pdf', (bytes) => bytes.subarray(0, 5).toString('latin1') === '%PDF-'],
];

/** The media type by the first bytes. */
export function typeOf(bytes: Buffer): string {
  return SIGNATURES.find(([, fits]) => fits(bytes))?.[0] ?? 'application/octet-stream';
}
