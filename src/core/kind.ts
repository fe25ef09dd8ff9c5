import * as z from 'zod';
import { shortKind } from './address.ts';
import { onceFor } from './json.ts';
import { isLike, namesLike } from './nameslike.ts';
import { parsePath, type Path } from './path.ts';
import { PathSet, type Named, type Place } from './pathset.ts';
import { Problem } from './problem.ts';

const path = z.string().regex(/^\$/, 'a path starts with $').describe('JSONPath limited to names, indices, wildcard and descendant');
const word = z.string().regex(/^[a-z0-9][a-z0-9-]*$/, 'lower-case letters, digits and hyphens');
const kindId = z.string().regex(/^[a-z0-9-]+\/[a-z0-9-]+$/, 'owner/kind');
const sibling = z.strictObject({ field: z.string(), is: z.union([z.string(), z.number(), z.boolean()]).optional().describe('without it: any value, as long as it is there') });

const named = z.array(z.string()).describe('only members with such names, with * for any text; "~word": names that have this word among their words; "~0": those with a word for a measure, such as count, width or delay; "above.name" also asks for the name above; "!name" leaves out');
const places = z.array(z.union([path, z.strictObject({ path, named })]));

export const ReferenceRule = z.strictObject({
  path,
  to: z.union([z.string(), z.array(z.string())]).optional().describe('kinds that it may point to, short or with owner; an empty list: it is no reference, whatever later rules say'),
  by: z.enum(['id', 'name']).default('id'),
  in: z.enum(['value', 'keys']).default('value').describe('keys: the names of the members at the path are the references'),
  when: sibling.optional().describe('only where the sibling is there, with this value'),
  without: z.array(z.string()).default([]).describe('only where none of these siblings is there'),
  named: named.optional(),
  loose: z.boolean().default(false).describe('a number that is no item\'s id may be something else: it stays as it is'),
  least: z.number().int().optional().describe('smaller numbers are something else: counts, positions'),
  listed: z.number().int().optional().describe('the same of the entries of a list, which are no counts, and of names of members that are all such ids'),
  alike: z.union([z.boolean(), z.literal('name')]).default(false).describe('only where the name of the member ends like the first word in the name of the item: "next_tide" for tide/high (of the member that an item is named after, the name of the item); name: it ends with the own name of the item, "our_office" for office'),
  kin: z.union([z.boolean(), z.literal('one')]).default(false).describe('only for several ids in a list (or one under a name that is one), or as the names of members, all of items that are called after what the item, or a member on the way, is called after: an order of "lx_leg/…" in lx_trip; one: also for a value that is such an id'),
  told: z.boolean().default(false).describe('only below the top, where a text beside it says which item that is, or with in: keys what stands under each name does: its own name as people write it, "Fares & tickets" for fares-tickets, or its address; no number is too small that has nothing but that text beside it'),
  beside: z.string().optional().describe('with kin: only where this sibling is such an id as well, or no number: where something comes from and where it goes, and no range'),
  maps: z.union([z.boolean(), z.enum(['only', 'languages'])]).default(false).describe('a map counts like a list, where every value in it is such an id or empty, or where it has one for each language; only: and nothing else does; languages: only a map that has for each language an id of items of one sort, two at least'),
  itself: z.boolean().default(false).describe('only the id of the item itself, which many things say once more'),
  naming: z.boolean().default(false).describe('the name of the item is made of it: where it means nothing, the item cannot be'),
  otherwise: z.literal('user').optional().describe('user: where the target has no such item, the user that the token belongs to'),
  kindFrom: z.strictObject({ field: z.union([z.string(), z.array(z.string()).min(1)]).describe('of several the first that says something; {name} is the name of the member itself; *: every other member; {sort}: the sort of the item itself; {member}: with defined, what objects of the site define that are called as the member is; [0]: the first entry of the list that it is in; ^field: beside the object that it is in, where that is called settings, options, data or the like'), map: z.record(z.string(), z.union([z.string(), z.array(z.string())])).describe('by the word that stands there; "~word": by one of its words, after those that are there as they are, in this order'), defined: z.boolean().default(false).describe('what stands there, or the name of the item where the field is {item}, is the name of a definition of the site, and the word is what that says'), else: z.array(z.string()).default([]).describe('kinds where the map has nothing'), named: z.array(z.string()).default([]).describe('the same, of items of the sort that the word of the sibling says') }).optional().describe('a sibling says which kind it points to'),
});

/** Of several kinds the first that has such an item. */
const kindNames = z.union([z.string(), z.array(z.string())]);

export const TextRule = z.strictObject({
  alike: kindNames.default([]).describe('kinds of whose items an id can stand in data under any name that ends like the first word in the name of the item'),
  attributes: z.record(z.string(), kindNames).default({}).describe('attribute of a tag → kinds whose id it holds; * in the name stands for any text'),
  comments: z.record(z.string(), kindNames).default({}).describe('key in the JSON data of a markup comment → kinds whose id (or list of ids) it holds; "word#key" only in comments that begin with the word; * in the key stands for any text; "above.key" only within that member, "key beside other" only where the same object has that member, "key beside other=word" only where that is this word'),
  patterns: z.record(z.string().regex(/\{ids?(>\d+)?\}/, 'a pattern has {id} or {ids}'), kindNames).default({}).describe('text with {id} or {ids} → kinds: ids in class names, in short codes and in names of members; " … " stands for other attributes, * for part of a word; behind = it may be quoted; {id>9}: only numbers above 9; {word}: only items whose name begins with this word and a slash; {family}: only items whose name begins with this and a low line; a space: any white space, or none beside a sign; -* behind {id}: the name may go on'),
});

export const CodecRule = z.discriminatedUnion('codec', [
  z.strictObject({ path, codec: z.literal('json'), ordered: z.boolean().default(false).describe('the order of members matters, as it does to PHP') }).describe('JSON in a text'),
  z.strictObject({ path, codec: z.literal('list'), separator: z.string().min(1).default(','), named: named.optional() }).describe('a list such as 4,5,6 in a text'),
  z.strictObject({ path, codec: z.literal('html'), ...TextRule.shape }).describe('HTML with ids in attributes and in markup comments with data'),
  z.strictObject({ path, codec: z.literal('url') }).describe('a text that is one link, perhaps without the address of the site'),
  z.strictObject({ path, codec: z.literal('css') }).describe('style rules, with url(…) perhaps without the address of the site'),
  z.strictObject({ path, codec: z.literal('php') }).describe('a value in the serialisation format of PHP'),
  z.strictObject({ path, codec: z.literal('base64'), packed: z.boolean().default(false).describe('only where a packed value, JSON or serialised, lies inside') }).describe('text in base64'),
  z.strictObject({ path, codec: z.literal('digits') }).describe('a number written as text'),
  z.strictObject({ path, codec: z.literal('boolean') }).describe('true or false in one of their spellings, such as yes and no'),
  z.strictObject({ path, codec: z.literal('ordered') }).describe('a map whose order matters'),
]);

const valueAt = z.strictObject({ path, is: z.union([z.string(), z.number(), z.boolean()]) });

export const RequirementRule = z.strictObject({
  extension: z.string().optional(),
  version: z.string().optional().describe('range of extension versions on the target that can take it'),
  reads: z.string().optional().describe('range of source extension versions that this site can take'),
  tier: z.string().optional(),
  feature: z.string().optional(),
  when: valueAt.optional(),
});

const jsonPointer = z.string().regex(/^(\/|$)/, 'a JSON pointer is empty or starts with /');
const operation = z.discriminatedUnion('op', [
  z.strictObject({ op: z.enum(['add', 'replace', 'test']), path: jsonPointer, value: z.unknown() }),
  z.strictObject({ op: z.literal('remove'), path: jsonPointer }),
  z.strictObject({ op: z.enum(['move', 'copy']), path: jsonPointer, from: jsonPointer }),
]);
export const Converter = z.strictObject({
  from: z.string().describe('range of the versions of the owner that made it'),
  to: z.string().describe('range of the versions of the owner that shall have it'),
  version: z.number().int().positive().describe('version of the kind that comes out'),
  patch: z.array(operation).describe('JSON Patch (RFC 6902) on the portable value'),
  loses: z.array(z.string()).default([]).describe('in plain words what the other version has no place for'),
});
export type Converter = z.output<typeof Converter>;

export const KindDescription = z.strictObject({
  id: kindId,
  version: z.number().int().positive(),
  title: z.string(),
  plural: z.string().optional(),
  description: z.string().optional(),
  called: z.array(z.string()).default([]).describe('words for its items, in the names of values that hold their ids and beside such ids, where the names of the items do not begin with one'),
  singleton: z.boolean().default(false),
  hidden: z.boolean().default(false).describe('no ordinary listing of the CMS shows it'),
  qualified: z.boolean().default(false).describe('its items are written with the owner, because another owner has a kind of this name'),
  portable: z.boolean().optional().describe('local values are portable forms already: nothing is translated'),
  carried: z.boolean().default(true).describe('false: content that is referred to and never carried'),
  reading: z.string().optional().describe('another one where the site makes its values in another way: what was remembered of them is then read again'),
  themeScoped: z.boolean().default(false).describe('its items are named after a theme'),
  draftable: z.boolean().default(false),
  rank: z.number().int().default(50).describe('lower ranks come first where nothing else decides'),
  titleFrom: path.optional(),
  among: kindId.optional().describe('another kind, of which these items are a sort: what refers to that one by id may mean one of these'),
  namedMember: z.string().optional().describe('the member that an item is named after, as the value of an option: rules that look at names see the name of the item there too'),
  labels: z.record(z.string(), z.string()).default({}).describe('what members are called for people, by their name'),
  where: z.string().optional().describe('path on the site where an item can be seen, with {name}'),
  addresses: z.array(z.string().regex(/^\/[^?#{}]*\?[\w-]+=\{id\}$/, 'an address is like /?page={id} or /edit?page={id}')).default([]).describe('addresses on the site with the local id of an item in their query; other parameters may stand beside it, and /? stands for any path'),
  parts: z.array(z.strictObject({ name: word, title: z.string(), paths: z.array(path).min(1), needs: z.array(word).default([]), ask: z.boolean().default(false).describe('it travels only where it is asked for by name') })).default([]),
  belongings: z.array(z.strictObject({
    path, id: z.string(),
    known: word.optional().describe('what others mean them as, by these ids: a word that references say like a kind'),
    by: z.array(path).default([]).describe('what tells those apart that are known: the first of these places in one that says something'),
  })).default([]).describe('records inside, with local ids of their own'),
  references: z.array(ReferenceRule).default([]),
  codecs: z.array(CodecRule).default([]).describe('applied in this order; later paths lead through what earlier ones decoded'),
  files: z.array(path).default([]).describe('places that hold the SHA-256 of a media file, in hexadecimal'),
  filePaths: z.array(path).default([]).describe('places that hold where the site keeps those files, as paths; the main one first. They stay as the target has them, and give way to another file'),
  keyed: z.array(z.strictObject({ path, key: z.string() })).default([]).describe('lists whose entries go by a key'),
  unordered: z.array(path).default([]).describe('lists whose order means nothing'),
  several: z.array(path).default([]).describe('places where a list of one entry is that entry, and an empty one is not there: rows under one name'),
  unique: z.array(path).default([]).describe('places of which no two items of the kind may have the same value'),
  firm: z.array(path).default([]).describe('references without which the site takes no item: what they mean is there before it'),
  siteBound: places.default([]),
  secret: places.default([]),
  guards: z.array(path).default([]).describe('secret values that keep visitors out: an item that arrives without one must not be seen'),
  volatile: z.array(z.union([path, valueAt])).default([]).describe('values that change by themselves; with is: where it is this value, which stands for none'),
  requires: z.array(RequirementRule).default([]),
  ownedByName: z.boolean().default(false).describe('an item belongs to the extension of the source whose name its own begins with, and needs it'),
  byHand: z.array(z.strictObject({ when: valueAt, says: z.string() })).default([]).describe('what is left for a person where an item arrives with such a value'),
  companions: z.array(z.string()).default([]).describe('short kinds whose items of the same name belong to it, though another extension may own them'),
  converters: z.array(Converter).default([]).describe('ways from one data version to another'),
});
export type KindDescription = z.output<typeof KindDescription>;
export type KindInput = z.input<typeof KindDescription>;
export type CodecRule = z.output<typeof CodecRule>;
export type ReferenceRule = z.output<typeof ReferenceRule>;

/** Why a value stays: it belongs to its site, must not leave, means nothing, is the local id of a belonging, or nobody asked for the part that it is in. */
export type Withholding = 'site-bound' | 'secret' | 'volatile' | 'own-id' | 'unasked';

/** Rules as they are used: with their paths read, and in the order in which they are applied. */
export type CodecStep = CodecRule & { at: Path; fits: Named | undefined; order: number; /** What is said of values, for data that stands in a text. */ inData?: () => Place<CodecStep | ReferenceStep, Opened> };
export type ReferenceStep = ReferenceRule & { at: Path; kinds: readonly string[]; fits: Named | undefined; order: number; sorts: Sorts | undefined; /** What it means is no reference. */ none: boolean };
/** Which siblings say what a value is, and the kinds that a word there means. */
export interface Sorts { readonly fields: readonly string[]; readonly defined: boolean; kinds(word: string): readonly string[] | undefined; readonly others: readonly string[]; readonly named: readonly string[] }
export type WithheldStep = { at: Path; why: Withholding; fits: Named | undefined; part?: string; is?: string | number | boolean; order: number };

interface PlaceOfPart { at: Path; fits: undefined; part: string }

/** What is done at one place when a value is opened. `asks`: some rule looks at what stands beside it. */
export interface Opened { readonly codecs: readonly CodecStep[]; readonly values: readonly ReferenceStep[]; readonly keys: readonly ReferenceStep[]; readonly asks: boolean }

/** A kind with its paths read, ready for use. `short` is what addresses are written with. */
export interface Kind {
  readonly description: KindDescription;
  readonly id: string;
  readonly short: string;
  readonly opening: PathSet<CodecStep | ReferenceStep, Opened>;
  readonly references: readonly ReferenceStep[];
  readonly files: readonly Path[];
  readonly filePaths: readonly Path[];
  readonly keyed: readonly { at: Path; key: string }[];
  readonly belongings: readonly { at: Path; id: string; known: string | undefined; by: readonly Path[] }[];
  /** `own`: the member of the entries that holds their local id, where they are belongings. */
  readonly unordered: readonly { at: Path; own: string | undefined }[];
  readonly several: readonly Path[];
  readonly unique: readonly Path[];
  readonly withheld: PathSet<WithheldStep, readonly WithheldStep[]>;
  readonly parts: ReadonlyMap<string, { title: string; paths: readonly Path[]; needs: readonly string[] }>;
  /** Names of parts by the places where they begin. */
  readonly partPlaces: PathSet<PlaceOfPart, readonly string[]>;
  readonly guards: PathSet<PlaceOfPart, readonly string[]>;
  readonly firm: PathSet<PlaceOfPart, readonly string[]>;
  readonly titleAt: Path | undefined;
}

/** What several of its items are called. */
export function pluralOf({ description: { title, plural } }: Kind): string { return plural ?? (/s$/i.test(title) ? title : /[^aeiou]y$/i.test(title) ? `${title.slice(0, -1)}ies` : `${title}s`); }

export function compileKind(description: KindDescription): Kind {
  const codecs = description.codecs.map((rule, order): CodecStep => ({ ...rule, order, at: parsePath(rule.path), fits: rule.codec === 'list' ? naming(rule.named) : undefined, ...(rule.codec === 'html' ? { inData: () => opening.top } : {}) }));
  const references = [...ownIdRules(description), ...description.references].map((rule, order): ReferenceStep => ({ ...rule, order, at: parsePath(rule.path), kinds: [rule.to ?? []].flat(), fits: naming(rule.named), sorts: rule.kindFrom && sortsOf(rule.kindFrom), none: Array.isArray(rule.to) && rule.to.length === 0 }));
  const opening = new PathSet<CodecStep | ReferenceStep, Opened>([...codecs, ...references], openedBy, description.namedMember, true);
  return {
    description, id: description.id,
    short: description.qualified ? description.id : shortKind(description.id),
    opening, references,
    files: description.files.map(parsePath),
    filePaths: description.filePaths.map(parsePath),
    keyed: description.keyed.map((rule) => ({ at: parsePath(rule.path), key: rule.key })),
    unordered: description.unordered.map((list) => ({ at: parsePath(list), own: description.belongings.find(({ path: entries }) => entries === `${list}[*]`)?.id })),
    several: description.several.map(parsePath),
    unique: description.unique.map(parsePath),
    belongings: description.belongings.map((rule) => ({ at: parsePath(rule.path), id: rule.id, known: rule.known, by: rule.by.map(parsePath) })),
    withheld: new PathSet(withheldBy(description), (rules) => rules, description.namedMember),
    parts: new Map(description.parts.map((part) => [part.name, { title: part.title, paths: part.paths.map(parsePath), needs: part.needs }])),
    partPlaces: placesOf(description.parts),
    guards: placesOf([{ name: 'guard', paths: description.guards }]),
    firm: placesOf([{ name: 'firm', paths: description.firm }]),
    titleAt: description.titleFrom === undefined ? undefined : parsePath(description.titleFrom),
  };
}

/** The id by which others mean a belonging is no reference to itself. */
function ownIdRules({ belongings }: KindDescription): ReferenceRule[] {
  return belongings.flatMap(({ path: entries, id, known }) => (known === undefined ? [] : [ReferenceRule.parse({ path: memberPath(entries, id), to: [] })]));
}

function placesOf(parts: readonly { name: string; paths: readonly string[] }[]): Kind['partPlaces'] {
  return new PathSet(parts.flatMap((part) => part.paths.map((path) => ({ at: parsePath(path), fits: undefined, part: part.name }))), (rules) => rules.map((rule) => rule.part));
}

function openedBy(rules: readonly (CodecStep | ReferenceStep)[]): Opened {
  const references = rules.filter((rule): rule is ReferenceStep => !('codec' in rule));
  return { codecs: rules.filter((rule): rule is CodecStep => 'codec' in rule), values: references.filter((rule) => rule.in === 'value'), keys: references.filter((rule) => rule.in === 'keys'), asks: references.some(asksBeside) };
}

/** As a field that says what a value is: the first entry of the list that it is in. */
export const FIRST = '[0]';

/** Does a rule look at what stands beside a value in an object? */
export function asksBeside({ when, kindFrom, without }: ReferenceRule): boolean { return when !== undefined || (kindFrom !== undefined && kindFrom.field !== FIRST) || without.length > 0; }

function withheldBy(description: KindDescription): WithheldStep[] {
  const withheld = (rules: readonly (string | { path: string; named?: string[]; is?: string | number | boolean })[], why: Withholding) => rules.map((rule) => (typeof rule === 'string' ? { at: parsePath(rule), why, fits: undefined } : { at: parsePath(rule.path), why, fits: naming(rule.named), ...(rule.is === undefined ? {} : { is: rule.is }) }));
  return [
    ...withheld(description.siteBound, 'site-bound'), ...withheld(description.secret, 'secret'), ...withheld(description.volatile, 'volatile'),
    ...withheld(description.belongings.map((rule) => memberPath(rule.path, rule.id)), 'own-id'),
    ...description.parts.filter((part) => part.ask).flatMap((part) => withheld(part.paths, 'unasked').map((rule) => ({ ...rule, part: part.name }))),
  ].map((rule, order) => ({ ...rule, order }));
}

const sortsOf = onceFor(({ field, map, defined, else: others, named }: NonNullable<ReferenceRule['kindFrom']>): Sorts => {
  const meant = Object.entries(map).map(([word, kinds]) => ({ word, fits: namesLike([word]), kinds: [kinds].flat() }));
  const exact = new Map(meant.map(({ word, kinds }) => [word, kinds]));
  const words = meant.filter(({ word }) => isLike(word));
  return { fields: [field].flat(), defined, kinds: (said) => exact.get(said) ?? words.find(({ fits }) => fits(said))?.kinds, others, named };
});

function naming(patterns: readonly string[] | undefined): Named | undefined { return patterns && namedLike(patterns); }

const namedLike = onceFor((patterns: readonly string[]): Named => {
  const wanted = patterns.filter((one) => !one.startsWith('!'));
  const refused = patterns.filter((one) => one.startsWith('!')).map((one) => one.slice(1));
  return { patterns: wanted, wants: namesLike(wanted, { caseless: true }), refuses: namesLike(refused, { caseless: true }) };
});

function memberPath(list: string, member: string): string {
  return `${list}['${member.replace(/[\\']/g, '\\$&')}']`;
}

/** Each bundle of the program has a copy of this module; the symbol is one for all of them. */
const CHECKED = Symbol.for('pochette/checked');

/** Marks a description that is made of what was checked: checking it again would take a good part of the time of a small command. */
export function asChecked(description: KindDescription): KindDescription { return Object.defineProperty(description, CHECKED, { value: true }); }

function isChecked(description: unknown): description is KindDescription { return typeof description === 'object' && description !== null && CHECKED in description; }

/** The kinds of one site or file, by id. */
export type Kinds = ReadonlyMap<string, Kind>;

/** Checks and compiles descriptions from outside. Throws an `unreadable` problem with the place in the description. */
export function compileKinds(descriptions: readonly unknown[], from: string): Kinds {
  const kinds = new Map<string, Kind>();
  descriptions.forEach((description, index) => {
    const parsed = isChecked(description) ? { success: true as const, data: description } : KindDescription.safeParse(description);
    if (!parsed.success) throw new Problem('unreadable', `kind ${index + 1} of ${from} is not a valid description: ${firstIssue(parsed.error)}`, { where: from, remedy: 'mend the description; where it was made by a newer version of Pochette, update this one' });
    kinds.set(parsed.data.id, compileKind(parsed.data));
  });
  return kinds;
}

export function firstIssue(error: z.ZodError): string {
  const issue = error.issues[0];
  return issue ? `${issue.message} at ${issue.path.length === 0 ? 'the top' : issue.path.join('.')}` : 'invalid';
}

/** The path on the site where an item of this kind can be seen, if the kind says so. */
export function whereOf(kind: Kind | undefined, name: string): string | undefined {
  return kind?.description.where?.replaceAll('{name}', name.split('/').map(encodeURIComponent).join('/'));
}
