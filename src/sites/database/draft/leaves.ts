import { isPlainName } from '../../../core/path.ts';
import { childrenOf, unwrap, type Node } from '../../../core/tree.ts';
import { inEnglish } from './tongues.ts';

/** What is in the names of what nobody else may know; names of what is the site's own; texts that name a file. */
export const SECRETS: readonly string[] = ['secret', 'passw', 'token', 'api_key', 'apikey', 'private_key', 'access_key', 'auth_key', 'signing_key', 'encryption_key', 'consumer_key', 'merchant_key', 'activation_key', 'activation_code', 'purchase_code', 'connection_string', 'webhook_url', 'service_account', 'passphrase', 'passkey', 'credential', 'hmac', 'bearer', 'license', 'licence', 'salt'];
const SECRET = new RegExp(SECRETS.join('|').replaceAll('_', '_?'), 'i');
export function isSecret(name: string): boolean { return SECRET.test(name) || SECRET.test(inEnglish(name)); }
const OWN = /sender|from_?email|admin_?e?mail|site_?title|blogname/i;
const MEDIA = /\.(png|jpe?g|gif|webp|svg|pdf)$/i;

/** What is said of the site itself, and how. */
const [ABOUT_SITE, ABOUT] = [/(?:^|[._/-])site(?:[._-]?(?:info(?:rmation)?|settings|details|identity))?$/i, /^(?:name|title|e?-?mail|address|url|slogan|uuid)$/i];

/** The path above, the last name, and the text there. */
export type Leaf = [path: string, last: string, text: string];

export function leavesOf(node: Node, way: string[]): Leaf[] {
  const inner = unwrap(node);
  const children = childrenOf(inner);
  if (children.length === 0) return typeof inner === 'object' && inner !== null ? [] : [[way.slice(0, -1).join('.').replaceAll('.[', '['), way.at(-1) ?? '', String(inner)]];
  return children.flatMap(([name, child]) => leavesOf(child, [...way, typeof name === 'number' ? '[*]' : MADE_UP.test(name) ? '*' : name]));
}

/** Lines for places that look like secrets, values of the site's own, and files. `whole`: what the value as a whole is called. */
export function flags(leaves: readonly Leaf[], whole = '', bound: readonly string[] = []): string[] {
  const named = (test: (last: string, text: string) => boolean): string[] => [...new Set(leaves.filter(([, last, text]) => test(last, text)).map(([path, last]) => `"${path}${step(last)}"`))].slice(0, 12);
  const [secrets, own, files] = [named(isSecret), [...bound, ...named((last) => OWN.test(last) || (ABOUT_SITE.test(whole) && ABOUT.test(last)))], named((_last, text) => MEDIA.test(text))];
  return [
    ...(secrets.length > 0 ? [`    secret: [${secrets.join(', ')}]`] : []), ...(own.length > 0 ? [`    siteBound: [${own.join(', ')}]`] : []),
    ...(files.length > 0 ? [`    # Pictures or files seem to be named at ${files.join(', ')}: do they travel?`] : []),
  ];
}

/** A name that a machine gave: another member has another one. */
const MADE_UP = /^\d|^(?=.*\d)(?=.*[a-f])[\da-f-]{5,}$/i;

export function step(name: string): string { return name.startsWith('[') ? name : name === '*' ? '.*' : isPlainName(name) ? `.${name}` : `['${name.replace(/[\\']/g, '\\$&').replace(/\p{Cc}/gu, (sign) => `\\u${sign.charCodeAt(0).toString(16).padStart(4, '0')}`)}']`; }
