import { inEnglish } from './tongues.ts';
import type { Row } from '../cells.ts';
import type { Table } from '../engine.ts';
import { isText, TITLE } from './columns.ts';
import type { TableGuess } from './guess.ts';
import { holdsTime, isFilled } from './samples.ts';

const TRACES = /(^|_)(logs?|entry|entries|submissions?|orders?|bookings|sessions?|queue|stats?|history|events|visits|hits|revisions?|autosaves?|drafts?|audits?|cache|jobs|actions|messages|mails?|notifications|subscribers|customers|votes|ratings|transactions|payments|carts?)$|(^|_)(?:caches?|sessions?|watch(?:dog)?|logs?)(_|$)/i;
/** What people ordered, asked or said, whatever number each of these has. */
const DEALINGS = /(^|_)(?:orders?|bookings?|reservations?|registrations?|invoices?|payments?|refunds?|transactions?|donations?|shipments?|carts?|submissions?|tickets_sold|(?:support_?)?tickets|inquir(?:y|ies)|enquir(?:y|ies)|complaints?|leads?|appointments?|comments?|reviews?|feedbacks?|responses?)$/i;
/** Which changes of its tables a CMS has made: marks of the program that runs there. */
const OF_PROGRAM = /(^|_)(?:migrations?|(?:schema|db|database)_?(?:migrations?|versions?|changes|change_?log(?:_?lock)?|history|updates)|applied_?(?:migrations|changes|updates))$/i;
/** What lets somebody in, who was given it by one site. */
const LETS_IN = /(^|_)(?:(?:api|access|auth|personal|refresh|reset|remember|login|transfer)_?)+(?:keys?|tokens?)$|(^|_)passw(?:or)?d_?resets?(?:_?tokens?)?$/i;
/** How far a program has brought its tables, in columns of their own. */
const [STEP, BESIDE_STEP] = [/^(?:migration(?:_?(?:time|name|id))?|batch|migrated_?at)$/i, /^(?:id|name|version|migration\w*|batch|migrated_?at|description|script|check_?sum|hash|success|executed_?\w*|applied_?\w*|created_?at)$/i];
/** In what words can be looked up, which a program works out from the rest. */
const WORKED_OUT = /(^|_)(?:search|full_?text)_?(?:index(?:es)?|indices|words|terms|data|documents)$/i;
const KEPT_FOR_A_WHILE = /(^|_)(?:caches?|sessions?|transients?|locks?)$/i;

const MEMBER = /^(?:user|member|customer|student|learner|subscriber|visitor|buyer|attendee)_?id$/i;
const CALLER = /(^|_)(?:ip|ip_?addr(?:ess)?|user_?agent|remote_?addr(?:ess)?)$/i;
const VISITOR = '^(?:customer|requester|reporter|submitter|visitor|guest|buyer|donor|subscriber|applicant|attendee|participant|patient)_?';
const [REACHED, CALLED] = [new RegExp(`${VISITOR}(?:e_?mail|mail|phone)(?:_?(?:address|number))?$`, 'i'), new RegExp(`${VISITOR}(?:first|last|full)?_?name$`, 'i')];

/** Rows without a name that are of one user; rows with a time that say from where somebody came or how to reach them, whatever else names them; or that are in a table called like one for what happened, and have no name but that of somebody, or the number of what somebody ordered. `name`: the column that names them. */
export function areTraces(table: Table, rows: readonly Row[], name: string | undefined): boolean {
  const columns = [...table.columns.values()];
  const called = inEnglish(table.name);
  const has = (what: RegExp): boolean => columns.some((column) => isText(column) && what.test(inEnglish(column.name)));
  const members = columns.filter((column) => MEMBER.test(inEnglish(column.name)));
  // What people of a site have, without a name of its own, is theirs.
  if (name === undefined && members.some((column) => rows.length === 0 || rows.some((row) => isFilled([row], column.name))) && !has(TITLE)) return true;
  const isDealing = DEALINGS.test(called) && (members.length > 0 || has(/mail/));
  return (columns.some((column) => CALLER.test(inEnglish(column.name))) || has(REACHED) || isDealing || (TRACES.test(called) && (name === undefined || has(CALLED)))) && holdsMoments(table, rows);
}

/** Rows by which the program of a site remembers what it has done, or has at hand until it ends. */
export function areMarks(table: Table, rows: readonly Row[]): boolean {
  const called = inEnglish(table.name);
  const columns = [...table.columns.keys()].map(inEnglish);
  const isSteps = columns.some((name) => STEP.test(name)) && columns.every((name) => BESIDE_STEP.test(name));
  return OF_PROGRAM.test(called) || WORKED_OUT.test(called) || LETS_IN.test(called) || isSteps || (KEPT_FOR_A_WHILE.test(called) && holdsMoments(table, rows));
}

/** Do rows say when something was? */
export function holdsMoments({ columns }: Table, rows: readonly Row[]): boolean { return [...columns.values()].some((column) => /date|time|created|expir|(^|_)(?:at|on|day)$/.test(inEnglish(column.name)) && holdsTime(column, rows)); }

/** Do rows that look like traces by what their table is called have a title or a slug elsewhere, each of them, once in each language perhaps? Then they are what a site shows: the entries of a CMS, and not those of a form. */
export function areNamedElsewhere({ table, guess }: TableGuess, all: readonly TableGuess[]): boolean {
  const isOfSomebody = [...table.columns.keys()].map(inEnglish).some((name) => CALLER.test(name) || REACHED.test(name) || MEMBER.test(name));
  return guess.is === 'traces' && !isOfSomebody && all.some((other) => other.table !== table && other.guess.is === 'records' && [...other.table.columns.keys()].some((name) => CALLED_SO.test(inEnglish(name))) && [...other.points].some(([column, to]) => to === table.name && isFilled(other.samples, column) && other.unique.some((columns) => columns.includes(column))));
}
const CALLED_SO = /^(?:title|headline|heading|name|slug)$/i;

/** What belongs to what visitors and machines left, such as the lines of an order, is no more than that; so is whatever its database lets be only beside that. */
export function withWhatBelongsToTraces(guesses: readonly TableGuess[]): TableGuess[] {
  const traces = new Set(guesses.filter(({ guess }) => guess.is === 'traces').map(({ table }) => table.name));
  const needs = ({ columns, foreign }: Table): boolean => foreign.some((key) => traces.has(key.to) && key.columns.every(({ from }) => columns.get(from)?.nullable === false));
  const belongs = ({ table, guess, points, samples }: TableGuess): boolean => !traces.has(table.name) && (needs(table) || (!(guess.is === 'records' && guess.name !== undefined) && [...points].some(([column, to]) => traces.has(to) && samples.length > 0 && isFilled(samples, column))));
  for (let found = guesses.filter(belongs); found.length > 0; found = guesses.filter(belongs)) for (const { table } of found) traces.add(table.name);
  return guesses.map((one) => (traces.has(one.table.name) ? { ...one, guess: { is: 'traces' } } : one));
}
