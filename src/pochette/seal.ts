import { createCipheriv, createDecipheriv, randomBytes, type CipherGCM } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { gunzipSync, gzipSync } from 'node:zlib';
import { Problem } from '../core/problem.ts';
import { textLines } from './linesin.ts';

const MAGIC = Buffer.from('PCHSEAL1');
const IV_BYTES = 12;
const TAG_BYTES = 16;

/** So many characters are packed and encrypted together. */
const PIECE = 2 ** 20;

/** Encrypts lines with AES-256-GCM as they come: magic (8 bytes), iv (12), tag (16), then the gzipped text, as one or more members (RFC 1952). */
export class Sealer {
  readonly #iv = randomBytes(IV_BYTES);
  readonly #cipher: CipherGCM;
  readonly #pieces: Buffer[] = [];
  #waiting = '';

  constructor(key: Buffer) { this.#cipher = createCipheriv('aes-256-gcm', key, this.#iv); }

  add(line: string): void {
    this.#waiting += `${line}\n`;
    if (this.#waiting.length > PIECE) this.#flush();
  }

  #flush(): void {
    this.#pieces.push(this.#cipher.update(gzipSync(this.#waiting)));
    this.#waiting = '';
  }

  /** All of it. Nothing can be added after. */
  end(): Buffer {
    this.#flush();
    const last = this.#cipher.final();
    return Buffer.concat([MAGIC, this.#iv, this.#cipher.getAuthTag(), ...this.#pieces, last]);
  }
}

/** The lines. Throws an `unreadable` problem where the key is not the one that sealed them, or the bytes were altered. */
export function unsealed(sealed: Buffer, key: Buffer): Generator<string> { return textLines(unpacked(sealed, key)); }

function unpacked(sealed: Buffer, key: Buffer): Buffer {
  const at = MAGIC.length;
  try {
    const decipher = createDecipheriv('aes-256-gcm', key, sealed.subarray(at, at + IV_BYTES));
    decipher.setAuthTag(sealed.subarray(at + IV_BYTES, at + IV_BYTES + TAG_BYTES));
    return gunzipSync(Buffer.concat([decipher.update(sealed.subarray(at + IV_BYTES + TAG_BYTES)), decipher.final()]));
  } catch (error) {
    throw new Problem('unreadable', 'the sealed records do not open with this key', { remedy: 'use the .pochette folder in which the import was made', cause: error });
  }
}

/** The key file, made when it is first needed, readable by its owner only. */
export function sealKey(path: string): Buffer {
  if (!existsSync(path)) writeFileSync(path, randomBytes(32).toString('hex') + '\n', { mode: 0o600, flag: 'wx' });
  return Buffer.from(readFileSync(path, 'utf8').trim(), 'hex');
}
