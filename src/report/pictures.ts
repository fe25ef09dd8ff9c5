import type { ShownFile } from '../jobs/shown.ts';
import type { Picture } from './values.ts';

/** Types that a page may show; in an image no script runs. */
const SHOWN = new Set(['image/png', 'image/jpeg', 'image/gif', 'image/webp', 'image/svg+xml']);
const PNG = Buffer.from('89504e470d0a1a0a', 'hex');

/** Files as pictures of a page. */
export function picturesOf(files: ReadonlyMap<string, ShownFile>): Map<string, Picture> {
  return new Map([...files].map(([digest, { type, bytes, content }]) => [digest, {
    type, bytes, ...(content && SHOWN.has(type) ? { data: `data:${type};base64,${content.toString('base64')}` } : {}), ...(content ? sizeOf(content) : {}),
  }]));
}

/** Width and height of a PNG, from its header (ISO/IEC 15948, "IHDR"). */
function sizeOf(content: Buffer): { size?: { width: number; height: number } } {
  return content.length >= 24 && content.subarray(0, 8).equals(PNG) ? { size: { width: content.readUInt32BE(16), height: content.readUInt32BE(20) } } : {};
}
