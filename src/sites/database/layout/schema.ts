import * as z from 'zod';
import { KindDescription, ReferenceRule, TextRule } from '../../../core/kind.ts';

/** What tables, joins and members are called in a layout: in any letters. */
export const NAME = /^[\p{L}_][\p{L}\p{M}\p{N}_-]*$/u;
const word = z.string().regex(NAME, 'a name has letters, digits, _ and -');
/** Columns of a database can be called in any way that leaves a layout readable. */
const column = z.string().regex(/^[^\s.{}|~][^.{}|~]*(\.[^.{}|~]+)?$/, 'a column, or a join and its column as join.column');
const template = z.string().describe('text with {column}, {join.column} or {capture}; {a|b}: the first that is not empty; {a|~b}: where a is empty, a word made of b; {a:year}, and month, day, hour, minute and second: of a time');
const scalar = z.union([z.string(), z.number(), z.null()]);
const list = z.union([scalar, z.array(scalar)]);

export const Condition = z.union([list, z.strictObject({
  like: z.union([z.string(), z.array(z.string())]).optional().describe('* stands for any text; one of several'),
  not: list.optional(), notLike: z.union([z.string(), z.array(z.string())]).optional(),
})]);
export type Condition = z.output<typeof Condition>;
const where = z.record(z.string(), Condition).describe('column → value, list of values (null too), or like/not/notLike');
const on = z.record(z.string(), column).describe('column here → column of the row above');
const join = z.strictObject({ from: word, on, where: where.default({}), shared: z.boolean().default(false).describe('the row belongs to others too: it is not made or removed with this one') });
const related = { from: word, on, where: where.default({}), joins: z.record(word, join).default({}) };
interface Related { from: string; on: Record<string, string>; where: Record<string, Condition>; joins: Record<string, z.output<typeof join>> }
const unpack = z.enum(['php', 'json']);

const create = z.record(z.string(), template).describe('column → what a new row has there; {now}, {now utc}, {now seconds} since 1970, {created}, {created utc} and {created seconds} for when it was made where it comes from, else now, {uuid}, {ulid}, {random hex 24} (or letter, lower, mixed, url, and how many), {author}, {site} and the columns of the row');

export const Fields = z.strictObject({
  ...related, key: column, value: column,
  only: z.array(z.string()).optional().describe('keys, with * for any text'), except: z.array(z.string()).default([]),
  optional: z.boolean().default(false).describe('an older database may not have this table'),
  own: z.array(z.string()).default([]).describe('keys that hold the id of their own row where they do: left out, and set again'),
  create: create.default({}),
});
export type Fields = z.output<typeof Fields>;
export const Ids = z.strictObject({ ...related, value: column, order: z.array(column).default([]), create: create.default({}) });
export type Ids = z.output<typeof Ids>;
const Files = z.strictObject({
  main: z.string().describe('column, or fields.KEY, with the path of the file in the media folder'),
  more: z.strictObject({ of: z.string(), codec: unpack, path: z.union([z.string(), z.array(z.string())]) }).optional().describe('names of further files, such as other sizes, in the folder of the main file'),
});
const Pointers = z.strictObject({
  pattern: z.string().describe('how an entry names a record, such as {type}-{number}'), from: word, where: z.record(z.string(), z.string()), column, codec: unpack, number: word, first: z.string().optional().describe('the packed value of a row that is made for the first record of its sort'),
});

export interface ListRule extends Related { id: string | string[]; order: string[]; value: Record<string, Spec>; tree?: Tree | undefined; create: Record<string, string> }
export interface Tree { parent: string; member: string; root?: string | undefined }
/** A column that a value has only where it holds something else than usual. */
export interface Unusual { column: string; usual: string | string[] }
/** A column that a value has only while another column holds one of some words. */
export interface Passing { column: string; while: Record<string, string | string[]> }
/** The column with the id of whom a row belongs to. */
export interface Owner { owner: string; of: string }
export type Spec = string | Unusual | Passing | Owner | { fields: Fields } | { list: ListRule } | { ids: Ids } | { files: z.output<typeof Files> } | { pointers: z.output<typeof Pointers> };

const Lookup = z.strictObject({ from: word, where, value: column, codec: unpack.optional(), path: z.string().optional() });
export type Lookup = z.output<typeof Lookup>;

const Definition = Lookup.extend({
  name: column.optional().describe('the column with its name'), pattern: z.string().regex(/\{name\}/, 'a pattern has {name}').default('{name}').describe('which part of that is meant'),
  defined: z.boolean().default(false).describe('what it finds is the name of a definition before it'),
  members: z.strictObject({ name: z.array(z.string()).min(1).describe('members that can say it; of several the first that does'), says: z.string().describe('the member that says what it is') }).optional().describe('not the row defines something, but every object in its packed value that says what it is called and what it is; kindFrom finds it by {member}'),
});
export type Definition = z.output<typeof Definition>;

export const Spec: z.ZodType<Spec> = z.lazy(() => z.union([
  column, z.strictObject({ column, usual: z.union([z.string(), z.array(z.string()).min(1)]).describe('the value has the member only where the column holds something else than this; of several the first is what a new row gets') }), z.strictObject({ column, while: z.record(column, z.union([z.string(), z.array(z.string())])).describe('the value has the member only while these columns hold one of these words') }), z.strictObject({ owner: column, of: z.string().describe('the kind of people') }).describe('whom the row belongs to; somebody who is no item of the kind counts as the user that new rows belong to'), z.strictObject({ fields: Fields }), z.strictObject({ ids: Ids }), z.strictObject({ files: Files }), z.strictObject({ pointers: Pointers }),
  z.strictObject({
    list: z.strictObject({
      ...related, id: z.union([column, z.array(column).min(1)]).describe('the column that tells rows of one item apart, or several'), order: z.array(column).default([]), value: z.record(word, Spec), create: create.default({}),
      tree: z.strictObject({ parent: z.string().describe('column, or fields.KEY, with the id of the entry above'), member: word, root: z.string().optional().describe('what stands there at the top; else null, or 0 where the column cannot hold that') }).optional(),
    }),
  }),
]));

/** The members of a value that are columns. */
export function columnsOf(value: Readonly<Record<string, Spec>>): { member: string; column: string; usual: string[]; owner?: string }[] {
  return Object.entries(value).flatMap(([member, spec]) => {
    if (typeof spec === 'string') return [{ member, column: spec, usual: [] }];
    if ('owner' in spec) return [{ member, column: spec.owner, usual: [], owner: spec.of }];
    return 'column' in spec ? [{ member, column: spec.column, usual: 'usual' in spec ? [spec.usual].flat() : [] }] : [];
  });
}

/** The kinds of people that rows of this value belong to. */
export function ownersOf(value: Readonly<Record<string, Spec>>): string[] { return columnsOf(value).flatMap(({ owner }) => owner ?? []); }

const Holding = z.strictObject({
  column,
  ids: z.record(word, z.strictObject({
    to: z.union([z.string(), z.array(z.string())]), least: z.number().int().default(1).describe('smaller numbers are taken for something else'),
    words: z.array(z.string()).default([]).describe('words that say such an id, beside those that the sort of the item and its extension are called by'),
  })).describe('member of the value → kinds'),
}).describe('the column, of which the name is made, may hold the id of an item that the word before it says: names say the name of that item instead, and the value refers to it');
export type Holding = z.output<typeof Holding>;

export const Rows = z.strictObject({
  shape: word.optional().describe('takes over what this shape of the layout says'),
  from: word.optional(),
  where: where.default({}),
  rest: z.boolean().default(false).describe('only rows that no other kind describes'),
  optional: z.boolean().default(false).describe('without its tables the kind is left out'),
  pattern: z.strictObject({ column, text: z.string() }).optional().describe('only rows whose column is like this; parts in braces are captured'),
  ids: z.record(word, z.union([z.string(), z.array(z.string())])).default({}).describe('parts of a pattern or group that are the id of an item of these kinds: names say the name of that item instead, and the value refers to it under the name of the part'),
  known: z.strictObject({ least: z.number().int().default(1).describe('smaller numbers are taken for something else') }).optional().describe('only rows in which the parts named in ids are the ids of items; the others are left to other kinds'),
  holding: Holding.optional(),
  joins: z.record(word, join).default({}),
  id: column.optional().describe('the column that holds the local id, where it is not the key'),
  name: template.optional(),
  title: template.optional(),
  alias: template.optional().describe('what it is known by besides, such as a mail address: it finds the same one under another name on another site. Only a digest of it leaves the site'),
  status: z.strictObject({
    column, published: z.array(z.string()).min(1).describe('the first is the ordinary one'), draft: z.array(z.string()).default([]),
    kept: word.optional().describe('the member of the value that holds any other word: one that is neither ordinary nor a draft'),
  }).optional(),
  changed: column.optional().describe('the column with the time of the last change, in UTC'),
  created: column.optional().describe('the column with the time when it was made, in UTC or in seconds since 1970; for {created} on a site where it is made anew'),
  url: z.union([template, Lookup.omit({ codec: true, path: true }).extend({
    words: z.record(z.string(), template).default({}).describe('words in that text → what they stand for'),
    made: template.optional().describe('the path, whatever that text is, where it is any'),
    else: template.optional().describe('the path where there is no such text, or one with words that are not known'),
  })]).optional().describe('path on the site where it can be seen; or where the site itself keeps how these paths are made'),
  parent: column.optional().describe('the column with the id of the row above it in a tree; {path} in name and url is the path through the rows above'),
  segment: template.optional().describe('what a row adds to a {path}'),
  within: z.union([column, z.strictObject({ column, except: z.array(z.string()) })]).optional().describe('only rows above that have the same in this column belong to a {path}; or all but those with certain words in it'),
  labels: z.record(word, Ids).default({}).describe('words from rows that are tied to it, for name and title'),
  value: z.record(word, Spec).default({}),
  create: create.default({}),
  group: z.strictObject({ column, text: z.string(), value: column, members: z.array(z.string()).min(1).optional() }).optional().describe('all rows with a common beginning are one item: {member} is the rest of the name, or one of `members`'),
  inside: z.strictObject({ column, codec: unpack, path: z.string().default('$'), name: word.optional().describe('the member that names a record; else its key does'), except: z.array(z.string()).default([]).describe('keys of records that are none') }).optional().describe('each record inside the packed value of a row is an item'),
});
export type Rows = Omit<z.output<typeof Rows>, 'url'> & { /** As a template: a shape has looked it up. */ url?: string | undefined };
export type RowsAsWritten = z.output<typeof Rows>;

export const Fact = z.union([z.string(), Lookup, z.array(Lookup)]).describe('a text, or where it lies: in a row, perhaps inside its packed value; of several the first that is there');
export type Fact = z.output<typeof Fact>;

const After = z.union([
  z.strictObject({ drop: z.strictObject({
    from: word, where: where.default({}),
    each: z.strictObject({ from: word, column: z.string(), as: z.string(), text: z.string().regex(/\{value\}/, 'text has {value}') }).optional().describe('only rows whose column `as` is the text, filled with a value of the column of another table'),
  }) }).describe('rows of a cache'),
  z.strictObject({ call: z.string() }).describe('path on the site to ask for'),
  z.strictObject({ byHand: z.string() }).describe('what a person has to do'),
]);

export type Drop = Extract<z.output<typeof After>, { drop: unknown }>['drop'];

export const LayoutKind = z.strictObject({ ...KindDescription.partial({ version: true, title: true }).shape, rows: Rows.optional(), like: z.string().optional().describe('another kind of the layout: what it says of values holds here too, and of its rows where they lie and what they hold, unless rows of another table are meant') });

export const Layout = z.strictObject({
  format: z.literal(1),
  name: z.string().regex(/^[a-z0-9][a-z0-9-]*$/),
  title: z.string(),
  extends: z.union([z.string(), z.array(z.string())]).default([]),
  recognise: z.array(z.strictObject({ table: z.string(), columns: z.array(z.string()).default([]) })).default([]).describe('tables that a database of this shape has; {prefix} is found out'),
  tables: z.record(word, z.strictObject({
    name: z.string(), key: z.array(z.string()).optional(), volatile: z.array(z.string()).default([]).describe('columns that mean nothing: counters, dates of change'),
    counts: z.array(z.strictObject({ column: z.string(), of: word, by: z.string(), equals: z.string() })).default([]).describe('columns that hold how many rows of another table point here'),
    ignore: z.array(where).default([]).describe('rows that are nobody\'s configuration'),
  })).default({}),
  leaves: z.array(z.string()).default([]).describe('tables of the CMS that are nobody\'s configuration: a draft says nothing of them'),
  facts: z.strictObject({
    cms: z.strictObject({ name: z.string(), title: z.string(), version: Fact.default(''),
      address: Fact.optional().describe('where the CMS itself lies: often the address of the site, else a folder below it or another address'), paths: z.array(z.string().regex(/^\//)).default([]).describe('what it has there of its own, such as its pages for administrators') }).optional(),
    title: Fact.optional(), address: Fact.optional(),
    theme: z.strictObject({ name: Fact, title: Fact.optional(), version: Fact.optional(), parent: Fact.optional() }).optional(),
    extensions: z.array(z.strictObject({
      each: Lookup.optional().describe('a list of all'), pattern: z.array(z.string()).default(['{name}']), name: z.string().optional(), title: Fact.optional(),
      version: Fact.optional().describe('{name} and the other parts of the pattern may stand in it'), active: Fact.optional(),
    })).default([]),
    timezone: Fact.optional().describe('of times that are not in UTC: a name such as Europe/Oslo, or hours before UTC; without it, this machine\'s'),
    author: Fact.optional().describe('the id of the user that new rows belong to'),
  }).default({ extensions: [] }),
  media: z.strictObject({ url: z.string().describe('path on the site below which the media folder is served'), types: z.array(z.string()).default([]), bytes: z.number().int().default(64_000_000) }).optional(),
  definitions: z.array(Definition.refine(({ name, members }) => (name === undefined) !== (members === undefined), 'a definition has either name or members')).default([]).describe('rows that say what values are: of the members, or the items, that go by their names; for kindFrom with defined'),
  everywhere: z.strictObject({ references: z.array(ReferenceRule).default([]), ...TextRule.shape }).default({ references: [], alike: [], attributes: {}, comments: {}, patterns: {} }).describe('holds in every kind, and goes before what the kind says: what an extension calls its ids, wherever they stand'),
  shapes: z.record(word, Rows).default({}),
  kinds: z.array(LayoutKind).default([]),
  after: z.array(After).default([]).describe('what the site has to be told after an import'),
});
export type Layout = z.output<typeof Layout>;
export type LayoutInput = z.input<typeof Layout>;
