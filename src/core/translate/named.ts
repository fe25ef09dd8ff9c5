import { pointer } from '../address.ts';
import { literal } from '../wildcard.ts';
import { keyName } from '../tokens.ts';
import { Entries, isPlainObject, Text, unwrap, type Key, type Node } from '../tree.ts';

/** The name of a site's host, with its port (RFC 3986, section 3.2); undefined where that names many a thing, as "localhost" does. */
export function hostOf(site: string): string | undefined {
  if (!URL.canParse(site)) return undefined;
  const { host, hostname, port } = new URL(site);
  return port !== '' || /\.[a-z][\w-]*$/i.test(hostname) ? host : undefined;
}

/** Places, as pointers, whose text or whose name speaks of a host: a mailbox, an address with another scheme, another site below it. */
export function placesNaming(root: Node, host: string): string[] {
  const speaks = new RegExp(`(?<![\\w-])${literal(host)}(?![\\w-]|[.:]\\w)`, 'i');
  const places: string[] = [];
  const walk = (node: Node, way: readonly (string | number)[]): void => {
    const inner = unwrap(node);
    if (typeof inner === 'string' || inner instanceof Text) { if (speaks.test(wordsOf(inner))) places.push(pointer(way)); return; }
    if (Array.isArray(inner)) { inner.forEach((entry, i) => { walk(entry, [...way, i]); }); return; }
    for (const [key, child] of inner instanceof Entries ? inner.pairs : isPlainObject(inner) ? Object.entries(inner) : []) {
      const below = [...way, keyName(key)];
      if (speaks.test(wordsOf(key))) places.push(pointer(below)); else walk(child, below);
    }
  };
  walk(root, []);
  return places;
}

/** What is written there as it stands: what tokens stand for is another on every site. */
function wordsOf(text: Key): string {
  if (typeof text === 'string') return text;
  return text instanceof Text ? text.pieces.filter((piece) => typeof piece === 'string').join(' ') : '';
}
