import { hash } from 'node:crypto';
import { bytesOfText, textOfBytes } from '../../core/bytes.ts';

/**
 * One value of a row, as text: numbers, decimals and dates exactly as the server writes them, bytes that are no UTF-8 as `textOfBytes` carries them.
 * `as`: a value that is stored otherwise than its column would have it, which one sort of server allows.
 */
export type Cell = string | null | { readonly as: 'integer' | 'real' | 'text' | 'blob'; readonly text: string };
/** What a row carries besides its cells: a digest of its content, and its size in bytes. Only rows that a database gave have them. */
export const DIGEST = Symbol('digest');
export const SIZE = Symbol('size');
export type Row = Readonly<Record<string, Cell>> & { readonly [DIGEST]?: string; readonly [SIZE]?: number };

export function cellText(cell: Cell | undefined): string {
  return cell === null || cell === undefined ? '' : typeof cell === 'string' ? cell : cell.text;
}

/** What a value of an item says of a cell: a number only where one is stored in a column without a type, in which a text that is written like it would be something else. */
export function valueOfCell(cell: Cell | undefined, { untyped = false }: { readonly untyped?: boolean } = {}): string | number | null {
  if (cell === null || cell === undefined || typeof cell === 'string') return cell ?? null;
  const number = untyped && (cell.as === 'integer' || cell.as === 'real') ? Number(cell.text) : NaN;
  return String(number) === cell.text ? number : cell.text;
}

/** The cell that a value says. */
export function cellOfValue(value: string | number | bigint | null): Cell {
  if (value === null || typeof value === 'string') return value;
  return { as: typeof value === 'bigint' || Number.isInteger(value) ? 'integer' : 'real', text: String(value) };
}

export function sameCell(a: Cell | undefined, b: Cell | undefined): boolean {
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return a === b;
  return a.as === b.as && a.text === b.text;
}

/** Bytes of a column as a cell has them. */
export function textOfCell(bytes: Uint8Array, { hex = false }: { readonly hex?: boolean }): string { return hex ? Buffer.from(bytes).toString('hex') : textOfBytes(bytes); }

/** The bytes that such a text means; hyphens between digits mean nothing. */
export function bytesOfCell(text: string, { hex = false }: { readonly hex?: boolean }): Buffer {
  const digits = text.replaceAll('-', '');
  return hex && /^(?:[0-9a-f]{2})*$/i.test(digits) ? Buffer.from(digits, 'hex') : bytesOfText(text);
}

/** Hexadecimal digits of a digest of rows: 96 bits. */
export const DIGITS = 24;

export function digestOf(text: string): string { return hash('sha256', text, 'hex').slice(0, DIGITS); }

/** A strong etag of whatever JSON can hold. */
export function etagOf(value: unknown): string { return `"${digestOf(JSON.stringify(value))}"`; }

/** What a driver gives for a value that is no bytes, as text. */
export function driverText(value: unknown): string {
  return typeof value === 'string' ? value : typeof value === 'number' || typeof value === 'bigint' || typeof value === 'boolean' ? String(value) : value instanceof Date ? value.toISOString() : JSON.stringify(value);
}
