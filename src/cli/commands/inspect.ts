import { kindWord } from '../../core/address.ts';
import { groupBy } from '../../core/json.ts';
import { resolve } from 'node:path';
import { Problem } from '../../core/problem.ts';
import type { NeededBy } from '../../core/requirements.ts';
import { Pochette } from '../../pochette/read.ts';
import type { IndexLine } from '../../pochette/format.ts';
import { printLeftOut, printRequirements } from '../output/findings.ts';
import { bytes, many } from '../../report/units.ts';
import type { Printer } from '../output/printer.ts';
import { EXIT, type CommandRun } from '../context.ts';

export const run: CommandRun = async ({ call, words, workspace, out, json, quiet }) => {
  const [path, ...more] = words;
  if (path === undefined || more.length > 0) throw new Problem('usage', 'name one file');
  const pochette = await Pochette.open(resolve(call.folder, await workspace.file(path)));
  try {
    const checked = await pochette.check((done, total) => { workspace.onProgress({ phase: 'checking', done, total }); });
    const lines = (await pochette.openIndex()).lines();
    if (json) { const { kinds, ...about } = pochette.about; out.json({ file: path, digest: pochette.digest, checked, ...about, kinds: kinds.length, items: lines }); return EXIT.done; }
    printAbout(out, pochette, lines, checked);
    if (!quiet) { out.line(); out.line(`Next: "pochette compare ${path} SITE" shows what it would change there.`); }
    return EXIT.done;
  } finally {
    pochette.close();
  }
};

function printAbout(out: Printer, { about, digest }: Pochette, lines: readonly IndexLine[], checked: number): void {
  out.line(out.strong(about.title));
  if (about.description !== '') out.line(about.description);
  const { origin } = about;
  out.table([
    ...(about.version === '' ? [] : [['version', about.version]]), ...(about.author === '' ? [] : [['author', about.author]]),
    ['from', `${origin.site.title}, ${origin.site.address}`], ['made on', `${origin.cms.title} ${origin.cms.version}, theme ${origin.theme.title} ${origin.theme.version}`],
    ['holds', `${many(about.counts.items, 'item')}, ${many(about.counts.files, 'picture or file', 'pictures and files')}`], ['chosen', about.choices.selectors.length === 0 ? 'everything' : about.choices.selectors.join(' ') + (about.choices.alone ? ' (alone)' : '')],
    ['digest', out.faint(digest)], ['checked', out.good(`${many(checked, 'member')}: every SHA-256 is right`)],
  ]);
  for (const [kind, items] of groupBy(lines, (line) => kindWord(line.address))) {
    out.heading(`${kind} (${items.length})`);
    out.table(items.map((line) => [out.name(line.address), line.title, bytes(line.size), line.covers === 'all' ? '' : `only: ${line.covers.join(', ')}`]));
  }
  printRequirements(out, about.requirements as unknown as NeededBy[]);
  printLeftOut(out, about.leftOut.map((one) => ({ ...one, remedy: one.remedy ?? '' })), 'Left out at the export');
  if (about.absent) { out.heading('Did not exist when this safety copy was taken'); out.table(about.absent.map((one) => [one])); }
}
