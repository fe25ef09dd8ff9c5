import { groupBy } from '../../../core/json.ts';
import { inEnglish } from './tongues.ts';
import type { Column } from '../engine.ts';
import { cellText } from '../cells.ts';
import { createOf } from './children.ts';
import { isTime } from './columns.ts';
import { flags, SECRETS } from './leaves.ts';
import { leavesIn, wordsAt } from './packings.ts';
import type { DraftPlan, Of } from './plan.ts';
import { ID_BEHIND, packingOf } from './samples.ts';
import { aliasOf, pairs, slug, word } from './words.ts';

/** A value by its name, and by the other half of its key, where there is one. */
interface Option { readonly name: string; readonly scope: string | undefined; readonly text: string }
const AT_LEAST_ALIKE = 3;

/** Options: those that begin alike are a group, packed ones and ids an item each, the rest one kind for all. */
export function optionLines(plan: DraftPlan, one: Of<'options'>): string[] {
  const { key, value, scope } = one.guess;
  const alias = plan.alias(one.table.name);
  const all = one.samples.map((row): Option => ({ name: cellText(row[key]), scope: scope === undefined ? undefined : cellText(row[scope]), text: cellText(row[value]) }));
  const isOwn = ({ name, text }: Option): boolean => !name.startsWith('_') && (isPacked(text) || plan.kindAt(['$', name, text]) !== undefined);
  const single = all.filter(isOwn);
  // Rows that two columns name are not told apart by how one of them begins.
  const groups = scope === undefined ? [...groupBy(all.filter((entry) => !isOwn(entry)), ({ name }) => /^[^_.:-]+[_.:-](?=.)/.exec(name)?.[0] ?? '')].filter(([beginning, list]) => beginning !== '' && list.length >= AT_LEAST_ALIKE) : [];
  return [
    ...(single.length === 0 ? [] : [`  # An item for each of these ${single.length} names, with a packed value or an id: what looks like an id of another table, a secret or a file is marked.`]),
    ...single.flatMap((entry) => singleLines(plan, one, entry)),
    ...groups.flatMap(([beginning, list]) => [
      `  # ${list.length} rows that begin with "${beginning}": ${list.slice(0, 4).map((entry) => entry.name).join(', ')}…`,
      `  - id: ${plan.site}/${plan.kindOfOption(one.table.name, beginning)}`, `    title: ${word(beginning.replace(/[_.:-]$/, ''))}`,
      `    rows: { from: ${alias}, group: { column: ${key}, text: '${beginning}{member}', value: ${value} }, ${without(key, single.filter(({ name }) => name.startsWith(beginning)))}name: ${slug(beginning)}${createOf(one)} }`,
      ...flags(list.map((entry) => ['$.members', entry.name.slice(beginning.length), entry.text])),
    ]),
    `  # Every other row of the table${scope === undefined ? '' : `: ${scope} and ${key} together name it`}.`,
    `  - id: ${plan.site}/${plan.kindOfOption(one.table.name, alias)}`, `    rows: { from: ${alias}, rest: true, ${nameOf(one)}title: '{${key}}', value: ${valueOf(one)}${createOf(one)} }`,
    ...plan.likeLine, `    secret: [{ path: $..*, named: [${SECRETS.map((word) => `'*${word}*'`).join(', ')}] }]`,
  ];
}

/** What leaves out rows that are items of their own. */
function without(key: string, single: readonly Option[]): string { return single.length === 0 ? '' : `where: { ${key}: { not: [${single.map(({ name }) => word(name)).join(', ')}] } }, `; }

function singleLines(plan: DraftPlan, one: Of<'options'>, { name, scope, text }: Option): string[] {
  const { key } = one.guess;
  const codec = packingOf([text]);
  const leaves = leavesIn(text, ['$', 'option']).filter(([path]) => path !== '$');
  const whole = plan.kindAt(['$', name, text]);
  const references = whole === undefined ? plan.referencesIn(leaves, { whole: name }) : [`{ path: $.option, to: ${whole} }`];
  const codecs = [...(isPacked(text) ? [`{ path: $.option, codec: ${codec ?? ''}${codec === 'json' ? ', ordered: true' : ''} }`] : []), ...wordsAt(leaves, plan.shown)];
  const where = { ...(one.guess.scope === undefined ? {} : { [one.guess.scope]: word(scope ?? '') }), [key]: word(name) };
  return [
    `  - id: ${plan.site}/${plan.kindOfOption(one.table.name, scope === undefined ? name : `${scope}-${name}`)}`, `    title: ${word(name)}`, ...plan.likeLine,
    `    rows: { from: ${plan.alias(one.table.name)}, where: ${pairs(where)}, ${nameOf(one)}value: ${valueOf(one)}${createOf(one)} }`,
    ...(codecs.length > 0 ? [`    codecs: [${codecs.join(', ')}]`] : []),
    ...(references.length > 0 ? [`    references: [${references.join(', ')}]`] : []), ...flags(leaves, name),
  ];
}

/** The value, and what else a row says of it, such as that it is locked; an id is another one elsewhere. */
function valueOf({ table, samples, points, guess: { key, value, scope } }: Of<'options'>): string {
  const isId = ({ name, storage }: Column): boolean => storage === 'integer' && (points.has(name) || name === table.counted || ID_BEHIND.test(inEnglish(name)));
  const more = [...table.columns.values()].filter((column) => ![key, value, scope, ...table.key].includes(column.name) && !isId(column) && !isTime(column, samples));
  return pairs({ option: word(value), ...Object.fromEntries(more.map(({ name }) => [aliasOf(name), word(name)])) });
}

/** Rows of a key of two columns are named by both without a line. */
function nameOf({ table, guess: { key, scope } }: Of<'options'>): string {
  if (scope !== undefined && table.key.includes(scope)) return '';
  return `name: '${scope === undefined ? '' : `{${scope}}/`}{${key}}', `;
}

function isPacked(text: string): boolean { const codec = packingOf([text]); return codec === 'php' || codec === 'json'; }
