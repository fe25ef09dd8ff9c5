import type { Change } from '../../core/compare.ts';
import { groupBy } from '../../core/json.ts';
import type { ItemFinding, ItemStatus } from '../../jobs/compare.ts';
import { clean } from '../../core/clean.ts';
import type { LikelyRename } from '../../jobs/kinship.ts';
import { kindWord } from '../../core/address.ts';
import { percent, statusText, whoseText } from '../../report/words.ts';
import { plainValue } from './findings.ts';

const LONGEST = 300;

/** A comparison as Markdown (CommonMark with tables), for a review. Everything that comes from a site is text, whatever it looks like. */
export function comparisonMarkdown(findings: readonly ItemFinding[], renames: readonly LikelyRename[], { counts, from, to }: { counts: Readonly<Record<ItemStatus, number>>; from: string; to: string }): string {
  const [a, b] = [text(from), text(to)];
  const lines = [`# ${a} compared with ${b}`, '', `${counts.new} new, ${counts.differs} differ, ${counts.same} same, ${counts['target-only']} only on ${b}.`];
  for (const [kind, items] of groupBy(findings, (one) => kindWord(one.address))) {
    lines.push('', `## ${text(kind)}`, '');
    for (const one of items) {
      lines.push(`- **${statusText(one.status, b)}** ${code(one.address)} ${text(one.title)}${whose(one, a, b)}`);
      if (one.changes.length > 0) lines.push('', '  | place | ' + `${a} | ${b} |`, '  | --- | --- | --- |', ...one.changes.map((change) => `  | ${code(change.at === '' ? '(whole)' : change.at)} | ${sides(change).map(code).join(' | ')} |`), '');
    }
  }
  if (renames.length > 0) lines.push('', '## Perhaps renamed', '', ...renames.map((one) => `- ${code(one.address)} is new, ${code(one.to)} is only on ${b}: ${percent(one.likeness)} alike`));
  return lines.join('\n') + '\n';
}

function whose(one: ItemFinding, from: string, to: string): string {
  const text = whoseText(one, from, to);
  return text === '' ? '' : ` – ${text}`;
}

function sides(change: Change): [string, string] {
  switch (change.change) {
    case 'new': return [plainValue(change.source), ''];
    case 'target-only': return ['', plainValue(change.target)];
    case 'differs': return [plainValue(change.source), plainValue(change.target)];
    case 'order': return [`order: ${change.source.join(', ')}`, `order: ${change.target.join(', ')}`];
  }
}

/** Text in which nothing is markup. */
function text(raw: string): string {
  return clean(raw).replace(/[\\`*_{}[\]<>()#+!|~&-]/g, '\\$&');
}

/** A span of code: fenced with more backticks than it holds; a bar would end the cell of a table. */
function code(raw: string): string {
  if (raw === '') return '';
  const short = clean(raw.length > LONGEST ? `${raw.slice(0, LONGEST)}…` : raw).replaceAll('|', '\\|');
  const fence = '`'.repeat(Math.max(0, ...(short.match(/`+/g) ?? []).map((run) => run.length)) + 1);
  return fence.length === 1 ? `\`${short}\`` : `${fence} ${short} ${fence}`;
}
