import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { gunzipSync, gzipSync } from 'node:zlib';
import { Problem } from '../core/problem.ts';

const MAGIC = Buffer.from('PCHSEAL1');
const IV_BYTES = 12;
const TAG_BYTES = 16;

/** Encrypts with AES-256-GCM: magic (8 bytes), iv (12), tag (16), then the gzipped text. */
export function seal(text: string, key: Buffer): Buffer {
  const iv = randomBytes(IV_BYTES);
  const cipher = createCipheriv('aes-256-gcm', key, iv);
  const body = Buffer.concat([cipher.update(gzipSync(text)), cipher.final()]);
  return Buffer.concat([MAGIC, iv, cipher.getAuthTag(), body]);
}

/** Throws an `unreadable` problem where the key is not the one that sealed it, or the bytes were altered. */
export function unseal(sealed: Buffer, key: Buffer): string {
  const at = MAGIC.length;
  try {
    const decipher = createDecipheriv('aes-256-gcm', key, sealed.subarray(at, at + IV_BYTES));
    decipher.setAuthTag(sealed.subarray(at + IV_BYTES, at + IV_BYTES + TAG_BYTES));
    return gunzipSync(Buffer.concat([decipher.update(sealed.subarray(at + IV_BYTES + TAG_BYTES)), decipher.final()])).toString();
  } catch (error) {
    throw new Problem('unreadable', 'the sealed records do not open with this key', { remedy: 'use the .pochette folder in which the import was made', cause: error });
  }
}

/** The key file, made when it is first needed, readable by its owner only. */
export function sealKey(path: string): Buffer {
  if (!existsSync(path)) writeFileSync(path, randomBytes(32).toString('hex') + '\n', { mode: 0o600, flag: 'wx' });
  return Buffer.from(readFileSync(path, 'utf8').trim(), 'hex');
}
