import { verify, type VerifyResult } from '../../jobs/verify.ts';
import { printChange } from '../output/findings.ts';
import { many, some } from '../../report/units.ts';
import type { Printer } from '../output/printer.ts';
import { EXIT, type CommandRun } from '../context.ts';
import { choicesOf, fromToAndSelectors } from '../words.ts';

const OK = 200;

export const run: CommandRun = async ({ workspace, words, options, out, json }) => {
  const { from, to, selectors } = fromToAndSelectors(words);
  const choices = choicesOf(workspace, to, selectors, options);
  return workspace.between(from, to, async (source, target) => {
    const result = await verify(source, target, choices);
    const silent = result.pages.filter((page) => page.status !== OK);
    if (json) out.json({ from: source.label, to, same: result.same, unequal: result.unequal.map(({ address, changes }) => ({ address, changes })), missing: result.missing.map((one) => one.address), pages: result.pages });
    else print(out, result, from, to);
    return result.unequal.length + result.missing.length + silent.length > 0 ? EXIT.differences : EXIT.done;
  });
};

function print(out: Printer, result: VerifyResult, from: string, to: string): void {
  const { same, unequal, missing, pages } = result;
  if (unequal.length + missing.length === 0) out.line(out.good('Verified: '), `all ${many(same, 'item')} of ${from} are on ${to}, and equal.`);
  else out.line(out.bad('Not equal: '), `${same} items are equal, ${unequal.length} differ, ${missing.length} are missing on ${to}.`);
  for (const one of missing) out.line('  missing  ', one.address);
  for (const one of unequal) { out.line('  differs  ', one.address); for (const change of one.changes) printChange(out, change, from, to); }
  out.heading('Public pages');
  out.table(pages.map((page) => [page.status === OK ? out.good('answers') : out.bad(`status ${page.status}`), out.name(page.url), out.faint(some(page.items, 3))]));
}
