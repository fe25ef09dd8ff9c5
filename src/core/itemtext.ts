import { stringify } from 'yaml';
import { byCodeUnit, isObject, setOwn, type Json, type JsonObject } from './json.ts';
import type { PortableItem } from './item.ts';

/** An item as YAML text, members in code-unit order, long texts as blocks: the form for reading and for pipes. */
export function itemYaml(item: PortableItem): string {
  return stringify({ address: item.address, kind: item.kind, covers: item.covers, value: sorted(item.value) }, { lineWidth: 0, aliasDuplicateObjects: false });
}

function sorted(value: Json): Json {
  if (Array.isArray(value)) return value.map(sorted);
  if (!isObject(value)) return value;
  const copy: JsonObject = {};
  for (const key of Object.keys(value).sort(byCodeUnit)) setOwn(copy, key, sorted(value[key] as Json));
  return copy;
}
