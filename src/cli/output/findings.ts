import type { Change } from '../../core/compare.ts';
import { compareLines } from '../../core/lines.ts';
import type { Json } from '../../core/json.ts';
import { opened, readable } from '../../report/readable.ts';
import type { Block, FollowUp } from '../../core/route.ts';
import type { NeededBy, Requirement, Unmet } from '../../core/requirements.ts';
import { placeOf } from '../../core/address.ts';
import type { PageAnswer } from '../../jobs/pages.ts';
import type { Adjusted } from '../../jobs/passage.ts';
import type { LeftOut } from '../../jobs/sources/source.ts';
import { brief, bytes, some, type Part, type Printer } from './printer.ts';

/** Findings are data; here they get their words. */
export function requirementText(one: Requirement): string {
  switch (one.need) {
    case 'kind': return `the kind ${one.kind} in version ${one.version}`;
    case 'extension': return `${one.title}${one.version === '*' ? '' : ` ${one.version}`}${one.madeWith === '' ? '' : ` (made with ${one.madeWith})`}`;
    case 'tier': return `${one.extension} on tier ${one.tier}`;
    case 'feature': return `${one.feature} switched on in ${one.extension}`;
    case 'theme': return `the theme ${one.theme}`;
    case 'upload': return `uploads of ${one.type} up to ${bytes(one.bytes)}`;
  }
}

export function unmetText({ requirement, finding, has }: Unmet): { what: string; remedy: string } {
  const need = requirementText(requirement);
  const extension = requirement.need === 'extension' ? requirement.title : 'extension' in requirement ? requirement.extension : '';
  switch (finding) {
    case 'missing': return { what: `needs ${need}: it is missing`, remedy: requirement.need === 'extension' ? `install and activate ${extension}` : 'update the extension or the CMS that owns it' };
    case 'inactive': return { what: `needs ${need}: it is installed and inactive`, remedy: `activate ${extension}` };
    case 'too old': return { what: `needs ${need}: there is ${has}`, remedy: requirement.need === 'extension' ? `update ${extension}` : 'update the extension that owns it' };
    case 'too new': return { what: `needs ${need}: there is ${has}, which is too new`, remedy: 'update the source site, then export again' };
    case 'source too new': return { what: `needs ${need}: the target reads what versions ${has} made, and it was made with a newer one`, remedy: 'update the extension on the target' };
    case 'source too old': return { what: `needs ${need}: the target reads what versions ${has} made, and it was made with an older one`, remedy: 'update the extension on the source, then export again' };
    case 'lower tier': return { what: `needs ${need}: it is on ${has || 'none'}`, remedy: `raise the tier of ${extension}` };
    case 'switched off': return { what: `needs ${need}`, remedy: `switch the feature on in the settings of ${extension}` };
    case 'not active': return { what: `needs ${need}: active is ${has}`, remedy: 'activate the theme, or leave these items out' };
    case 'not accepted': return { what: `needs ${need}: accepted are ${has}`, remedy: 'allow the type on the target, or leave these pictures out' };
    case 'too large': return { what: `needs ${need}: the limit is ${bytes(Number(has))}`, remedy: 'raise the upload limit of the target' };
  }
}

export function blockText(block: Block): { what: string; remedy: string; items: readonly string[] } {
  switch (block.block) {
    case 'requirement': return { ...unmetText(block.unmet), items: block.unmet.requirement.neededBy };
    case 'missing': return { what: `refers to ${block.to}, which the target does not have`, remedy: missingRemedy(block), items: [placeOf(block.item, block.at)] };
    case 'lost': return { what: `refers to nothing: the id ${block.raw} is not on the source`, remedy: 'mend it on the source, or use --leave-unmatched', items: [placeOf(block.item, block.at)] };
    case 'part-of-nothing': return { what: 'only a part travels, and the target does not have the item', remedy: 'choose the whole item', items: [block.item] };
    case 'file-missing': return { what: `its file ${block.file.slice(0, 12)}… is not in the source`, remedy: 'export again with the file, or leave the item out', items: [block.item] };
    case 'clash': return { what: `was changed on both sides since the last import${block.at.length > 0 ? `, both at ${some(block.at, 3)}` : ''}`, remedy: `look with "pochette compare", then --decide ${block.item}=source or --decide ${block.item}=target (or --decide source for all)`, items: [block.item] };
    case 'too-large': return { what: `has ${bytes(block.bytes)}, and the target takes ${bytes(block.limit)} in one request`, remedy: 'raise the limit of the target, or leave the item out', items: [block.item] };
    case 'read-only': return { what: 'the target may only be read with this token or user', remedy: 'use one with the right to write', items: [] };
  }
}

function missingRemedy({ to, near }: Extract<Block, { block: 'missing' }>): string {
  const [nearest] = near;
  return nearest === undefined ? `make it there, choose ${to} too if it can travel, or use --leave-unmatched` : `--match ${to}=${nearest}${near.length > 1 ? ` (or ${near.slice(1).join(', ')})` : ''}, choose it too, or use --leave-unmatched`;
}

export function printAdjusted(out: Printer, adjusted: readonly Adjusted[]): void {
  for (const one of adjusted) out.line('  ', out.name(one.item), ' ', adjustedText(one));
}

export function adjustedText(one: Adjusted): string {
  switch (one.adjusted) {
    case 'name': return `comes from ${one.from}`;
    case 'user': return `belongs to ${one.to} there: ${one.from} has no account`;
    case 'version': return `is carried over from version ${one.from} of its data to version ${one.to}${one.loses.length > 0 ? `, which has no place for ${one.loses.join(', ')}` : ''}`;
    case 'reused': return `is used for ${one.from}: it is the same picture`;
    case 'cleaned': return `loses what could run in its picture: ${one.removed.join(', ')}`;
  }
}

/** What was chosen and does not travel: always with the reason, and with what to do. */
export function printLeftOut(out: Printer, leftOut: readonly LeftOut[], heading = 'Left out'): void {
  if (leftOut.length === 0) return;
  out.heading(`${heading} (${leftOut.length})`);
  for (const one of leftOut) {
    const { why, remedy } = one.block ? words(one.block) : one;
    out.line('  ', out.note(placeOf(one.address, one.at)), '  ', why, ...(remedy === '' ? [] : ['  ', out.faint(`what to do: ${remedy}`)]));
  }
}

function words(block: Block): { why: string; remedy: string } {
  const { what, remedy } = blockText(block);
  return { why: what, remedy };
}

export function followUpText(one: FollowUp): string {
  switch (one.followUp) {
    case 'by-hand': return one.what;
    case 'link-missing': return `make ${one.to} on the target: ${placeOf(one.item, one.at)} links to it`;
    case 'left-empty': return `fill ${placeOf(one.item, one.at)}: ${one.to} was missing and it was left empty`;
    case 'picture-missing': return `put a picture at ${placeOf(one.item, one.at)}: ${one.to} was left out by choice`;
    case 'publish': return `publish ${one.item}: it is a draft`;
    case 'enter-secret': return `enter ${placeOf(one.item, one.at)}: secrets do not travel`;
    case 'set-own': return `set ${placeOf(one.item, one.at)}: it belongs to each site`;
  }
}

export function printBlocks(out: Printer, blocks: readonly Block[], target: string): void {
  out.heading(out.bad(`Blocked on ${target} in ${blocks.length} ${blocks.length === 1 ? 'place' : 'places'}; nothing was written`));
  for (const block of blocks) {
    const { what, remedy, items } = blockText(block);
    out.line('  ', some(items, 2) || target, ' ', what);
    out.line('      ', out.faint('what to do: '), remedy);
  }
}

export function printRequirements(out: Printer, requirements: readonly NeededBy[]): void {
  const shown = requirements.filter((one) => one.need !== 'kind');
  if (shown.length === 0) return;
  out.heading('Needs on the target');
  out.table(shown.map((one) => [requirementText(one), out.faint(`for ${some(one.neededBy, 2)}`)]));
}

export function printSilent(out: Printer, silent: readonly PageAnswer[]): void {
  for (const page of silent) out.line('  ', out.bad(`status ${page.status}`), '  ', page.url, out.faint(`  ${some(page.items, 3)}`));
}

export function printFollowUps(out: Printer, followUps: readonly FollowUp[]): void {
  if (followUps.length === 0) return;
  out.heading('Left for you to do');
  followUps.forEach((one, i) => { out.line('  ', out.name(`${i + 1}.`), ' ', followUpText(one)); });
}

const VALUE_WIDTH = 72;

/** One changed place with both values; texts line by line. */
export function printChange(out: Printer, change: Change, from: string, to: string, more = ''): void {
  const indent = '      ';
  const at = (change.at === '' ? '(whole)' : readable(change.at)) + more;
  if (change.change === 'differs' && typeof change.source === 'string' && typeof change.target === 'string' && [change.source, change.target].some(isLong)) {
    out.line(indent, out.name(at));
    const width = Math.max(from.length, to.length, 4) + 5;
    for (const { line, side } of compareLines(readable(change.source), readable(change.target))) {
      const label = side === 'both' ? 'both' : `only ${side === 'source' ? from : to}`;
      const row = out.join(label.padEnd(width), '  ', brief(line, VALUE_WIDTH));
      out.line(indent, '  ', side === 'both' ? out.faint(row) : side === 'source' ? out.good(row) : out.note(row));
    }
    return;
  }
  out.line(indent, out.name(at), '  ', ...sides(out, change, from, to));
}

function sides(out: Printer, change: Change, from: string, to: string): Part[] {
  switch (change.change) {
    case 'new': return [`only ${from}: `, out.good(brief(plainValue(change.source), VALUE_WIDTH))];
    case 'target-only': return [`only ${to}: `, out.note(brief(plainValue(change.target), VALUE_WIDTH))];
    case 'differs': return [`${from} has `, out.good(brief(plainValue(change.source), 48)), `, ${to} has `, out.note(brief(plainValue(change.target), 48))];
    case 'order': return [`other order: ${from} has `, out.good(brief(change.source.join(', '), 48)), `, ${to} has `, out.note(brief(change.target.join(', '), 48))];
  }
}

function isLong(text: string): boolean {
  return text.includes('\n') || text.length > 90;
}

/** Values as a person reads them: a reference is the address it points to, and what was packed is shown open. */
export function plainValue(value: Json): string {
  if (typeof value === 'string') return value === '' ? '(empty)' : value.startsWith('⟦') ? readable(value) : JSON.stringify(readable(value));
  if (typeof value === 'object' && value !== null && !Array.isArray(value) && typeof value['@ref'] === 'string') return value['@ref'];
  const open = opened(value);
  return typeof open === 'string' ? open : readable(JSON.stringify(open));
}
