/** Media types with the endings of their files; the first ending is the one that is written. */
const TYPES: readonly (readonly [type: string, endings: readonly string[]])[] = [
  ['image/png', ['png']], ['image/jpeg', ['jpg', 'jpeg']], ['image/gif', ['gif']], ['image/webp', ['webp']], ['image/svg+xml', ['svg']], ['application/pdf', ['pdf']], ['text/plain', ['txt']],
];

export const KNOWN_TYPES: readonly string[] = TYPES.map(([type]) => type);

export function typeOfPath(path: string): string {
  const ending = path.slice(path.lastIndexOf('.') + 1).toLowerCase();
  return TYPES.find(([, endings]) => endings.includes(ending))?.[0] ?? 'application/octet-stream';
}

export function endingOf(type: string): string { return TYPES.find(([one]) => one === type)?.[1][0] ?? 'bin'; }
