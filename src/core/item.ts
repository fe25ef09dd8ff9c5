import { canonical, sha256 } from './canonical.ts';
import type { Address } from './address.ts';
import { isObject, type Json } from './json.ts';
import { Problem } from './problem.ts';

/** An item freed from its site. These four members, as canonical JSON, are the bytes of an item file. */
export interface PortableItem {
  readonly address: Address;
  /** 'all', or the names of the parts that it covers. */
  readonly covers: Coverage;
  /** `owner/kind`. */
  readonly kind: string;
  /** In portable notation. */
  readonly value: Json;
}
export type Coverage = 'all' | readonly string[];

/** The bytes of the item file, as text. */
export function itemBytes(item: PortableItem): string {
  return canonical({ address: item.address, covers: item.covers, kind: item.kind, value: item.value } as Json);
}

/** The same from a value that is canonical already, for an item that is covered whole. */
export function itemText(address: Address, kind: string, value: string): string {
  return `{"address":${JSON.stringify(address)},"covers":"all","kind":${JSON.stringify(kind)},"value":${value}}`;
}

export function fingerprint(item: PortableItem): string {
  return sha256(itemBytes(item));
}

/** Checks the outer form of an item that comes from a file or a text. */
export function readItem(json: unknown, from: string): PortableItem {
  const covers = isObject(json) ? json['covers'] : undefined;
  const ok = isObject(json) && typeof json['address'] === 'string' && typeof json['kind'] === 'string' && 'value' in json
    && (covers === 'all' || (Array.isArray(covers) && covers.every((part) => typeof part === 'string')));
  if (!ok) throw new Problem('unreadable', 'this is not an item: address, covers, kind and value are expected', { where: from });
  return json as unknown as PortableItem;
}
