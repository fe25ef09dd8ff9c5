import { crc32, deflateRawSync } from 'node:zlib';

/** Several members in one piece of memory, so that they can change threads without a copy for each. */
export interface Batch { readonly bytes: Uint8Array; readonly lengths: readonly number[]; readonly stored: readonly boolean[] }
export interface PackedMember { readonly method: number; readonly crc: number; readonly size: number; readonly bytes: Uint8Array }
/** The answer to a batch, in the same shape. */
export interface PackedBatch { readonly bytes: Uint8Array; readonly members: readonly { readonly method: number; readonly crc: number; readonly size: number; readonly length: number }[] }

const LEVEL = 6;
export const DEFLATED = 8;

/** Deflates a member, or leaves it as it is where that is not larger. */
function pack(bytes: Uint8Array, store: boolean): PackedMember {
  const deflated = store ? bytes : deflateRawSync(bytes, { level: LEVEL });
  const shorter = deflated.length < bytes.length;
  return { method: shorter ? DEFLATED : 0, crc: crc32(bytes), size: bytes.length, bytes: shorter ? deflated : bytes };
}

export function packBatch(batch: Batch): PackedBatch {
  let at = 0;
  const packed = batch.lengths.map((length, i) => {
    const member = pack(batch.bytes.subarray(at, at + length), batch.stored[i] === true);
    at += length;
    return member;
  });
  // Memory of its own: it is handed over to the other thread.
  const bytes = new Uint8Array(packed.reduce((sum, member) => sum + member.bytes.length, 0));
  let to = 0;
  for (const member of packed) { bytes.set(member.bytes, to); to += member.bytes.length; }
  return { bytes, members: packed.map(({ method, crc, size, bytes: { length } }) => ({ method, crc, size, length })) };
}
