import { hash } from 'node:crypto';

/**
 * One value of a row, as text: numbers, decimals and dates exactly as the server writes them, bytes that are no UTF-8 as `textOfBytes` carries them.
 * `as`: a value that is stored otherwise than its column would have it, which one sort of server allows.
 */
export type Cell = string | null | { readonly as: 'integer' | 'real' | 'text' | 'blob'; readonly text: string };
export type Row = Readonly<Record<string, Cell>>;

export function cellText(cell: Cell | undefined): string {
  return cell === null || cell === undefined ? '' : typeof cell === 'string' ? cell : cell.text;
}

export function sameCell(a: Cell | undefined, b: Cell | undefined): boolean {
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return a === b;
  return a.as === b.as && a.text === b.text;
}

/** A strong etag of whatever JSON can hold. */
export function etagOf(value: unknown): string {
  return `"${hash('sha256', JSON.stringify(value), 'hex').slice(0, 20)}"`;
}

/** What a driver gives for a value that is no bytes, as text. */
export function driverText(value: unknown): string {
  return typeof value === 'string' ? value : typeof value === 'number' || typeof value === 'bigint' || typeof value === 'boolean' ? String(value) : value instanceof Date ? value.toISOString() : JSON.stringify(value);
}
