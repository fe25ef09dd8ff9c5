/** Media types with the endings of their files; the first ending is the one that is written. */
const TYPES: readonly (readonly [type: string, endings: readonly string[]])[] = [
  ['image/png', ['png']], ['image/jpeg', ['jpg', 'jpeg']], ['image/gif', ['gif']], ['image/webp', ['webp']], ['image/svg+xml', ['svg']], ['application/pdf', ['pdf']], ['text/plain', ['txt']],
  ['image/avif', ['avif']], ['image/x-icon', ['ico']], ['audio/mpeg', ['mp3']], ['audio/ogg', ['ogg', 'oga']], ['audio/wav', ['wav']], ['audio/mp4', ['m4a']], ['video/mp4', ['mp4', 'm4v']], ['video/webm', ['webm']], ['video/ogg', ['ogv']],
  ['font/woff2', ['woff2']], ['font/woff', ['woff']], ['font/ttf', ['ttf']], ['font/otf', ['otf']], ['text/css', ['css']], ['text/csv', ['csv']], ['text/vtt', ['vtt']], ['text/calendar', ['ics']], ['application/json', ['json']], ['application/zip', ['zip']],
  ['application/vnd.openxmlformats-officedocument.wordprocessingml.document', ['docx']], ['application/vnd.openxmlformats-officedocument.spreadsheetml.sheet', ['xlsx']], ['application/vnd.openxmlformats-officedocument.presentationml.presentation', ['pptx']], ['application/vnd.oasis.opendocument.text', ['odt']], ['application/vnd.oasis.opendocument.spreadsheet', ['ods']],
];

export const KNOWN_TYPES: readonly string[] = TYPES.map(([type]) => type);
export const ENDINGS: readonly string[] = TYPES.flatMap(([, endings]) => endings);

export function typeOfPath(path: string): string {
  const ending = path.slice(path.lastIndexOf('.') + 1).toLowerCase();
  return TYPES.find(([, endings]) => endings.includes(ending))?.[0] ?? 'application/octet-stream';
}

export function endingOf(type: string): string { return TYPES.find(([one]) => one === type)?.[1][0] ?? 'bin'; }
