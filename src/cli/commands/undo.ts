import { Problem } from '../../core/problem.ts';
import { openUndo, undo, type UndoPlan } from '../../jobs/undo.ts';
import { consent } from '../output/ask.ts';
import { many, some } from '../../report/units.ts';
import type { Printer } from '../output/printer.ts';
import { EXIT, type CommandRun } from '../context.ts';

export const run: CommandRun = async (context) => {
  const { workspace, words, options, out, json, quiet } = context;
  const [site, runId] = words;
  if (site === undefined) throw new Problem('usage', 'name the site');
  const made = await openUndo(workspace, site, runId);
  try {
    if (!json && !quiet) printPlan(out, made, site);
    const evenIfChanged = options['evenIfChanged'] === true;
    if ((made.changedSince.length === 0 || evenIfChanged) && !(await consent(context, site, `Bring ${site} back to the state before run ${made.run.run}?`))) {
      out.line('Nothing was written.');
      return EXIT.done;
    }
    const result = await undo(workspace, made, evenIfChanged);
    if (json) out.json({ result: 'done', site, ...result });
    else {
      out.line(out.good('Done: '), `run ${result.run} restored ${many(result.restored, 'item')} and removed ${result.removed}.`);
      out.line(result.unequal.length === 0 ? `Read back: ${site} is exactly as in the safety copy.` : `Read back: not as in the safety copy: ${some(result.unequal, 10)}`);
      if (!quiet) out.line(`To have it again: "pochette undo ${site} ${result.run}".`);
    }
    return result.unequal.length > 0 ? EXIT.differences : EXIT.done;
  } finally {
    await made.target.close();
  }
};

function printPlan(out: Printer, { run: record, restore, remove, changedSince }: UndoPlan, site: string): void {
  out.line(out.strong(`Undo of run ${record.run} on ${site}: `), `${record.verb} from ${record.from} by ${record.by}, ${record.started.slice(0, 16).replace('T', ' ')} UTC`);
  if (restore.length > 0) out.line(`  restores ${many(restore.length, 'item')}: ${some(restore, 4)}`);
  if (remove.length > 0) out.line(`  removes ${many(remove.length, 'item')} that the run had created: ${some(remove, 4)}`);
  out.line(out.faint('  What it does not take back: uploaded files stay on the site, unused.'));
  for (const address of changedSince) out.line('  ', out.note(address), ' was changed since');
}
