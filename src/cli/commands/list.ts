import { groupBy } from '../../core/json.ts';
import { list, type Listing, type ListedItem } from '../../jobs/list.ts';
import type { Requirement } from '../../core/requirements.ts';
import { bytes, many } from '../../report/units.ts';
import type { Part, Printer } from '../output/printer.ts';
import { EXIT, type CommandRun } from '../context.ts';
import { choiceOf, fromAndSelectors } from '../words.ts';

export const run: CommandRun = async ({ workspace, words, options, out, json, quiet }) => {
  const { from, selectors } = fromAndSelectors(words);
  const source = await workspace.open(from);
  try {
    const listing = await list(source, choiceOf(workspace, selectors, options));
    if (json) { out.json({ from: source.label, ...listing }); return EXIT.done; }
    printListing(out, listing, source.label);
    if (!quiet) {
      out.line();
      const carry = workspace.isFile(from) ? `"pochette compare ${from} SITE" compares them with a site` : `"pochette export ${from} -o FILE" carries them`;
      out.line(`Next: "pochette show ${from} ${listing.items[0]?.address ?? 'kind:name'}" shows one item; ${carry}.`);
    }
    return EXIT.done;
  } finally {
    await source.close();
  }
};

function printListing(out: Printer, listing: Listing, label: string): void {
  const byKind = groupBy(listing.items, (item) => item.kindTitle);
  const total = listing.items.reduce((sum, item) => sum + item.size, 0);
  out.line(`${label}: ${many(listing.items.length, 'item')} of ${many(byKind.size, 'kind')} can travel, ${bytes(total)} in all.`);
  for (const [title, items] of byKind) {
    out.heading(title);
    out.table(items.map((item) => rowOf(out, item)));
  }
  if (listing.cannot.length > 0) {
    out.heading('Cannot travel');
    out.table(listing.cannot.map((one) => [out.note(one.address), one.why, out.faint(one.remedy ?? '')]));
  }
  if (listing.content > 0) { out.line(); out.line(out.faint(`${many(listing.content, 'thing')} of content ${listing.content === 1 ? 'is' : 'are'} there too, such as pages: content is referred to and never carried.`)); }
}

function rowOf(out: Printer, item: ListedItem): Part[] {
  const marks = [...(item.single ? ['single record'] : []), ...(item.hidden ? ['hidden by the CMS'] : [])];
  const parts = item.covers === 'all' ? (item.parts.length > 0 ? `parts: ${item.parts.join(', ')}` : '') : `only: ${item.covers.join(', ')}`;
  const needs = [...new Set(item.needs.map(needWord))].join(', ');
  return [out.name(item.address), item.title, bytes(item.size), [parts, needs === '' ? '' : `needs ${needs}`, item.together.length > 0 ? `together with ${item.together.join(', ')}` : '', ...marks].filter((one) => one !== '').join('; ')];
}

function needWord(need: Requirement): string {
  switch (need.need) {
    case 'extension': return need.title;
    case 'tier': return `tier ${need.tier}`;
    case 'feature': return need.feature;
    case 'theme': return `theme ${need.theme}`;
    default: return need.need;
  }
}
