import { isMap, isScalar, isSeq, parseDocument, type Document, type Node as YamlNode } from 'yaml';
import { isObject, type Json, type JsonObject } from '../../core/json.ts';

/** Writes values into a YAML document so that its comments, its order and everything that stays the same stay as they are. */
export function updated(text: string, content: JsonObject): string {
  const document = parseDocument(text);
  if (document.errors.length > 0 || !isMap(document.contents)) return fresh(content);
  update(document, document.contents, content);
  return document.toString({ lineWidth: 0 });
}

export function fresh(content: JsonObject): string {
  const document = parseDocument('');
  document.contents = nodeOf(document, content) as never;
  return document.toString({ lineWidth: 0 });
}

/** What two places share in memory is written at both: files are read without aliases. */
function nodeOf(document: Document, value: Json): YamlNode { return document.createNode(value, { aliasDuplicateObjects: false }); }

function update(document: Document, node: YamlNode, value: Json): void {
  if (isMap(node) && isObject(value)) updateMap(document, node, value);
  else if (isSeq(node) && Array.isArray(value)) {
    value.forEach((entry, i) => {
      const child = node.items[i];
      if (child !== undefined && fits(child as YamlNode, entry)) update(document, child as YamlNode, entry);
      else node.items[i] = nodeOf(document, entry);
    });
    node.items.length = value.length;
  } else if (isScalar(node) && node.value !== value) node.value = value;
}

function updateMap(document: Document, node: Extract<YamlNode, { items: unknown }> & { items: { key: unknown; value: unknown }[]; get(key: string, keep: true): unknown; set(key: string, value: unknown): void; delete(key: unknown): boolean }, value: JsonObject): void {
  for (const [key, entry] of Object.entries(value)) {
    const child = node.get(key, true);
    if (child !== undefined && fits(child as YamlNode, entry)) update(document, child as YamlNode, entry);
    else node.set(key, nodeOf(document, entry));
  }
  const gone = node.items.map((pair) => (isScalar(pair.key) ? pair.key.value : pair.key)).filter((key) => typeof key !== 'string' || !Object.hasOwn(value, key));
  for (const key of gone) node.delete(key);
}

/** Can the node take the value without being replaced, and its comments with it? */
function fits(node: YamlNode, value: Json): boolean {
  return isMap(node) ? isObject(value) : isSeq(node) ? Array.isArray(value) : isScalar(node) && (typeof value !== 'object' || value === null);
}
