import * as z from 'zod';
import { parseAddress, type Address } from '../core/address.ts';
import { sha256 } from '../core/canonical.ts';
import { Facts } from '../core/facts.ts';
import { endingOf } from '../core/filetypes.ts';
import { isObject } from '../core/json.ts';
import { isUtcTime } from '../core/time.ts';
import type { SourceRow } from '../core/source.ts';

/** The version of the file format. Newer ones are refused with what to do. */
export const FORMAT = 1;
export const MEMBERS = { bagit: 'bagit.txt', info: 'bag-info.txt', manifest: 'manifest-sha256.txt', tags: 'tagmanifest-sha256.txt', about: 'data/pochette.json', index: 'data/index.ndjson', cover: 'data/cover.png', sealed: 'data/extra/records.sealed' } as const;
/** RFC 8493. */
export const BAGIT = 'BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n';

const LeftOut = z.object({ address: z.string(), at: z.string().default(''), why: z.string(), remedy: z.string().optional() });
export type LeftOut = z.output<typeof LeftOut>;

/** `data/pochette.json`: what the file says of itself. */
export const About = z.object({
  format: z.literal(FORMAT),
  title: z.string(), description: z.string().default(''), version: z.string().default(''), author: z.string().default(''),
  origin: Facts.omit({ rights: true, limits: true, abilities: true, user: true, definitions: true }),
  kinds: z.array(z.unknown()),
  requirements: z.array(z.looseObject({ need: z.string(), neededBy: z.array(z.string()) })),
  leftOut: z.array(LeftOut),
  choices: z.object({ selectors: z.array(z.string()), alone: z.boolean(), except: z.array(z.string()).optional(), owners: z.array(z.string()).optional(), titles: z.array(z.string()).optional(), since: z.string().optional(), take: z.array(z.string()).optional(), noMedia: z.boolean().optional() }),
  counts: z.object({ items: z.number().int(), files: z.number().int() }),
  aliases: z.record(z.string(), z.string()).optional().describe('digests of what those whom items refer to are known by besides their names, as people are by mail addresses'),
  /** In a safety copy: what did not exist when it was taken. */
  absent: z.array(z.string()).optional(),
});
export type About = z.output<typeof About>;

/** A line of `data/index.ndjson`. */
export type IndexLine = Omit<SourceRow, 'leftOut' | 'text' | 'load'>;

const DIGEST = /^[0-9a-f]{64}$/;
const every = (list: unknown, fits: (one: Record<string, unknown>) => boolean): boolean => Array.isArray(list) && list.every((one) => isObject(one) && fits(one));
const texts = (list: unknown): boolean => Array.isArray(list) && list.every((one) => typeof one === 'string');

/** Checks a line by hand: there is one for every item, and a schema would take longer than all the rest of a comparison. */
export function isIndexLine(line: unknown): line is IndexLine {
  if (!isObject(line)) return false;
  const { address, kind, title, covers, fingerprint, size, references, files, withheld, lost } = line;
  return typeof address === 'string' && /^[^:]+:./.test(address) && typeof kind === 'string' && typeof title === 'string' && typeof size === 'number'
    && (covers === 'all' || texts(covers)) && typeof fingerprint === 'string' && DIGEST.test(fingerprint)
    && every(references, (one) => typeof one['at'] === 'string' && typeof one['to'] === 'string' && typeof one['strong'] === 'boolean')
    && texts(files) && (files as string[]).every((one) => DIGEST.test(one))
    && every(withheld, (one) => typeof one['at'] === 'string' && typeof one['why'] === 'string')
    && every(lost, (one) => typeof one['at'] === 'string' && (typeof one['raw'] === 'string' || typeof one['raw'] === 'number')) && areBesides(line);
}

/** The same for what only some lines have. */
function areBesides({ taken, named, loose, draft, created }: Record<string, unknown>): boolean {
  return (taken === undefined || every(taken, (one) => typeof one['at'] === 'string')) && [named, loose].every((one) => one === undefined || texts(one))
    && (draft === undefined || typeof draft === 'boolean') && (created === undefined || isUtcTime(created));
}

/** `items/<kind>/<name>.json`; names are in `[a-z0-9-]`, with a hash suffix where something had to be replaced. */
export function itemMember(address: Address): string {
  const { kind, name } = parseAddress(address);
  return `data/items/${memberName(kind, address)}/${memberName(name, address)}.json`;
}

function memberName(name: string, address: Address): string {
  const LONGEST = 80;
  if (/^[a-z0-9][a-z0-9-]*$/.test(name) && name.length <= LONGEST) return name;
  const plain = name.toLowerCase().replace(/[^a-z0-9]+/g, '-').slice(0, LONGEST).replace(/^-|-$/g, '');
  return `${plain === '' ? '' : `${plain}-`}${sha256(address).slice(0, 10)}`;
}

export function mediaMember(file: string, type: string): string {
  return `data/media/${file}.${endingOf(type)}`;
}

/** Every name that may stand in the archive. */
export const MEMBER_NAME = /^(?:bagit\.txt|bag-info\.txt|manifest-sha256\.txt|tagmanifest-sha256\.txt|data\/(?:pochette\.json|index\.ndjson|cover\.png|items\/[a-z0-9-]+\/[a-z0-9-]+\.json|media\/[0-9a-f]{64}\.[a-z0-9]+|extra\/[a-z0-9-]+\.[a-z]+))$/;
