import { pointer } from '../../core/address.ts';
import type { Json } from '../../core/json.ts';

/** Where servers keep sites, below which every path is one on a disk; paths of pages begin otherwise. */
const ROOTS = String.raw`/(?:var|srv|opt|usr|mnt|tmp|Users|Volumes)/|/home/[\w.-]+/(?:www|web|public_html|htdocs|sites|domains)/|[A-Za-z]:\\{1,2}(?=\w)`;
const ON_DISK = new RegExp(String.raw`(?<=^|[\s"'=(,;])(?:${ROOTS})[\w.@\\/-]*`, 'g');
/** Longer texts are not searched. */
const LONGEST = 100_000;

/** The paths on a disk that the texts of a value name, with their places: what is carried means a folder of the other server. */
export function* pathsOnDisk(value: Json, way: readonly string[] = []): Generator<{ readonly at: string; readonly path: string }> {
  if (typeof value === 'string') {
    if (value.length <= LONGEST) for (const [path] of value.matchAll(ON_DISK)) yield { at: pointer(way), path };
    return;
  }
  if (typeof value !== 'object' || value === null) return;
  const pairs = !Array.isArray(value) && Array.isArray(value['@ordered']) ? value['@ordered'] as [string, Json][] : Object.entries(value);
  for (const [name, child] of pairs) yield* pathsOnDisk(child, name.startsWith('@') ? way : [...way, name]);
}
