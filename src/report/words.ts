import { placeOf } from '../core/address.ts';
import type { Withholding } from '../core/kind.ts';
import type { Block, FollowUp } from '../core/route.ts';
import type { Requirement, Unmet } from '../core/requirements.ts';
import type { ItemFinding, ItemStatus } from '../jobs/compare.ts';
import type { Decision } from '../jobs/decisions.ts';
import type { Adjusted } from '../jobs/passage.ts';
import { bytes, some } from './units.ts';

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

const MOST_TYPES = 6;
/** Of a long list its beginning. */
function shortened(list: string): string { const all = list.split(', '); return all.length <= MOST_TYPES ? list : `${all.slice(0, MOST_TYPES).join(', ')} and ${all.length - MOST_TYPES} more`; }

function needing(items: readonly string[], alone: boolean): string { return alone || items.length === 1 ? 'needs' : 'need'; }

function unmetText({ requirement, finding, has }: Unmet, alone: boolean): { what: string; remedy: string } {
  const need = requirementText(requirement);
  const needs = needing(requirement.neededBy, alone);
  const extension = requirement.need === 'extension' ? requirement.title : 'extension' in requirement ? requirement.extension : '';
  switch (finding) {
    case 'missing': return { what: `${needs} ${need}: it is missing`, remedy: requirement.need === 'extension' ? `install and activate ${extension}${requirement.byName ? `; or, as only the name says so, --decide requirement:${requirement.extension}=anyway` : ''}` : 'update the extension or the CMS that owns it' };
    case 'inactive': return { what: `${needs} ${need}: it is installed and inactive`, remedy: `activate ${extension}` };
    case 'too old': return { what: `${needs} ${need}: there is ${has}`, remedy: requirement.need === 'extension' ? `update ${extension}` : 'update the extension that owns it' };
    case 'too new': return { what: `${needs} ${need}: there is ${has}, which is too new`, remedy: 'update the source site, then export again' };
    case 'source too new': return { what: `${needs} ${need}: the target reads what versions ${has} made, and it was made with a newer one`, remedy: 'update the extension on the target' };
    case 'source too old': return { what: `${needs} ${need}: the target reads what versions ${has} made, and it was made with an older one`, remedy: 'update the extension on the source, then export again' };
    case 'lower tier': return { what: `${needs} ${need}: it is on ${has || 'none'}`, remedy: `raise the tier of ${extension}` };
    case 'switched off': return { what: `${needs} ${need}`, remedy: `switch the feature on in the settings of ${extension}` };
    case 'not active': return { what: `${needs} ${need}: active is ${has}`, remedy: 'activate the theme, or leave these items out' };
    case 'no place': return { what: `${needs} ${need}: the target has no place for files that we can reach`, remedy: 'say in pochette.yaml where its media are, or leave pictures out with --no-media' };
    case 'not accepted': return { what: `${needs} ${need}: accepted are ${shortened(has)}`, remedy: 'allow the type on the target, or leave these pictures out' };
    case 'too large': return { what: `${needs} ${need}: the limit is ${bytes(Number(has))}`, remedy: 'raise the upload limit of the target' };
  }
}

/** `alone`: said of one of its items only. */
export function blockText(block: Block, { alone = false } = {}): { what: string; remedy: string; items: readonly string[] } {
  switch (block.block) {
    case 'requirement': return { ...unmetText(block.unmet, alone), items: block.unmet.requirement.neededBy };
    case 'missing': return { what: `${block.naming ? 'is called after' : 'refers to'} ${block.to}, which the target does not have`, remedy: missingRemedy(block), items: [placeOf(block.item, block.at)] };
    case 'lost': return { what: `refers to nothing: the id ${block.raw} is not on the source`, remedy: 'mend it on the source, or use --leave-unmatched', items: [placeOf(block.item, block.at)] };
    case 'part-of-nothing': return { what: 'only a part travels, and the target does not have the item', remedy: 'choose the whole item', items: [block.item] };
    case 'unguarded': return { what: `would be open to every visitor: its ${block.at.slice(block.at.lastIndexOf('/') + 1)} does not travel, and the target has none for it`, remedy: 'enter one there first, or take it off on the source', items: [block.item] };
    case 'file-missing': return { what: `its file ${block.file.slice(0, 12)}… is not in the source`, remedy: 'export again with the file, or leave the item out', items: [block.item] };
    case 'clash': return { what: `was changed on both sides since the last import${block.at.length > 0 ? `, both at ${some(block.at, 3)}` : ''}`, remedy: `look with "pochette compare", then --decide ${block.at.length === 1 ? placeOf(block.item, block.at[0] ?? '') : block.item}=source or =target (or --decide source for all)`, items: [block.item] };
    case 'dropped': return { what: `needs ${block.needs}, whose step was taken out of the route`, remedy: 'put that step back, or take this one out too', items: [block.item] };
    case 'collision': return {
      what: `is something else there: "${block.titles[0]}" here, "${block.titles[1]}" there${block.origin === undefined ? '' : `, which came from ${block.origin}`}; ${percent(block.likeness)} alike`,
      remedy: `--decide ${block.item}=source overwrites it, =target leaves it, =both brings it under a new name (=both:other-name under that one)`, items: [block.item],
    };
    case 'same-key': return { ...sameKeyText(block), items: [block.item] };
    case 'too-large': return { what: `has ${bytes(block.bytes)}, and the target takes ${bytes(block.limit)} in one request`, remedy: 'raise the limit of the target, or leave the item out', items: [block.item] };
    case 'read-only': return { what: 'the target may only be read with this token or user', remedy: 'use one with the right to write', items: [] };
  }
}

function sameKeyText({ item, at, key, other, arrives }: Extract<Block, { block: 'same-key' }>): { what: string; remedy: string } {
  if (arrives) return { what: `has the same ${at.slice(1)} as ${other}, which comes too: ${key}`, remedy: `give one of them another value on the source, or --decide ${item}=leave-out` };
  return { what: `has the same ${at.slice(1)} as ${other}: ${key}`, remedy: `--decide ${item}=${other} puts it onto that one, =leave-out leaves it out` };
}

function missingRemedy({ to, near, naming }: Extract<Block, { block: 'missing' }>): string {
  const [nearest] = near;
  const left = naming ? 'leave this item out with --leave-unmatched' : 'use --leave-unmatched';
  return nearest === undefined ? `make it there, choose ${to} too if it can travel, or ${left}` : `--match ${to}=${nearest}${near.length > 1 ? ` (or ${near.slice(1).join(', ')})` : ''}, choose it too, or ${left}`;
}

export function adjustedText(one: Adjusted): string {
  switch (one.adjusted) {
    case 'name': return `comes from ${one.from}`;
    case 'user': return `belongs to ${one.to} there: ${one.from} has no account`;
    case 'person': return `means ${one.to}, who is ${one.from} on the source: the mail address is the same`;
    case 'version': return `is carried over from version ${one.from} of its data to version ${one.to}${one.loses.length > 0 ? `, which has no place for ${one.loses.join(', ')}` : ''}`;
    case 'reused': return `is used for ${one.from}: it is the same picture`;
    case 'value': return `has another value on this site: ${some(one.at, 3)}`;
    case 'kept': return one.at.includes('') ? 'stays as this site has it' : `keeps what this site has at ${some(one.at, 3)}`;
    case 'moved': return `is kept as ${one.to}: another file has its name`;
    case 'cleaned': return `loses what could run in its picture: ${one.removed.join(', ')}`;
  }
}

export function followUpText(one: FollowUp): string {
  switch (one.followUp) {
    case 'by-hand': return one.what;
    case 'link-missing': return `make ${one.to} on the target: ${placeOf(one.item, one.at)} links to it`;
    case 'left-empty': return `fill ${placeOf(one.item, one.at)}: ${one.to} was missing and it was left empty`;
    case 'picture-missing': return `put a picture at ${placeOf(one.item, one.at)}: ${one.to} was left out by choice`;
    case 'stray-id': return `look at ${placeOf(one.item, one.at)}: ${one.raw} means nothing on the source, and ${one.to} on the target`;
    case 'source-named': return `look at ${placeOf(one.item, one.at)}: it speaks of ${one.host}, the source`;
    case 'file-absent': return `put the file ${one.path} on the target: ${one.item} speaks of it, and no item brings it`;
    case 'tend': return `${one.item}: ${one.what}`;
    case 'publish': return `publish ${one.item}: it is a draft`;
    case 'enter-secret': return `enter ${placeOf(one.item, one.at)}: secrets do not travel`;
    case 'set-own': return `set ${placeOf(one.item, one.at)}: it belongs to each site`;
  }
}

/** 0.734 → "73 %". */
export function percent(share: number): string { return `${Math.round(share * 100)} %`; }

/** A decision as a question, and what each answer means. */
export function questionText({ question, id, items, other, likeness }: Decision, from: string, to: string): string {
  switch (question) {
    case 'clash': return `${id} was changed on ${from} and on ${to} since the last import. Whose version?`;
    case 'collision': return `${id} is something else on ${to}${likeness === undefined ? '' : ` (${percent(likeness)} alike)`}. Overwrite it, leave it, or bring this one under a new name?`;
    case 'same-key': return `${id} has the same key as ${other ?? 'another item'} on ${to}. Put it onto that one, or leave it out?`;
    case 'rename': return `${id} is new, and ${other ?? 'something'} is only on ${to}${likeness === undefined ? '' : `; they are ${percent(likeness)} alike`}. Is it the same thing under another name?`;
    case 'missing': return `${id} is not on ${to}, and ${some(items, 3)} ${items.length === 1 ? 'refers' : 'refer'} to it. What takes its place?`;
    case 'requirement': return `${to} lacks ${id.slice('requirement:'.length)}, which ${some(items, 3)} ${items.length === 1 ? 'needs' : 'need'}. Leave ${items.length === 1 ? 'it' : 'them'} out?`;
  }
}

export function answerText(answer: string, from: string, to: string): string {
  switch (answer) {
    case 'source': return `${from}'s version`;
    case 'target': return `keep what ${to} has`;
    case 'both': return 'keep both, this one under a new name';
    case 'new': return 'no, make it a new one';
    case 'leave': return 'leave the place empty, as something left to do';
    case 'leave-out': return 'leave it out';
    case 'anyway': return 'carry it all the same: only its name says so';
    default: return answer.startsWith('both:') ? `keep both, this one as ${answer.slice('both:'.length)}` : answer;
  }
}

/** Why a place does not travel. */
export function withheldText(why: Withholding): string {
  switch (why) {
    case 'secret': return 'secret';
    case 'site-bound': return 'belongs to the site';
    case 'volatile': return 'changes by itself';
    case 'own-id': return 'a number of this site';
    case 'unasked': return 'travels only when it is asked for';
  }
}

export function statusText(status: ItemStatus, to: string): string { return status === 'target-only' ? `only ${to}` : status; }

/** Who changed an item since it was last carried; empty where nobody did, or it is not known. */
export function whoseText({ by, status }: Pick<ItemFinding, 'by' | 'status'>, from: string, to: string): string {
  if (by === undefined || by === 'neither') return '';
  return by === 'both' ? 'changed on both' : `${status === 'differs' ? 'changed' : 'removed'} on ${by === 'source' ? from : to}`;
}
