import { pointer } from '../../core/address.ts';
import type { Json } from '../../core/json.ts';
import { membersIn } from '../../core/translate/notation.ts';
import { LONGEST } from './suspicion.ts';

/** Where servers keep sites, below which every path is one on a disk; paths of pages begin otherwise. */
const ROOTS = String.raw`/(?:var|srv|opt|usr|mnt|tmp|Users|Volumes)/|/home/[\w.-]+/(?:www|web|public_html|htdocs|sites|domains)/|[A-Za-z]:\\{1,2}(?=\w)`;
const ON_DISK = new RegExp(String.raw`(?<=^|[\s"'=(,;])(?:${ROOTS})[\w.@\\/-]*`, 'g');

/** The paths on a disk that the texts of a value name, with their places: what is carried means a folder of the other server. */
export function* pathsOnDisk(value: Json, way: readonly string[] = []): Generator<{ readonly at: string; readonly path: string }> {
  if (typeof value === 'string') {
    if (value.length <= LONGEST) for (const [path] of value.matchAll(ON_DISK)) yield { at: pointer(way), path };
    return;
  }
  if (typeof value !== 'object' || value === null) return;
  for (const [name, child] of membersIn(value)) yield* pathsOnDisk(child, name.startsWith('@') ? way : [...way, name]);
}
