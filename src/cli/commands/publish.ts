import { Problem } from '../../core/problem.ts';
import { planPublish, publish } from '../../jobs/publish.ts';
import { consent } from '../output/ask.ts';
import { many, some } from '../../report/units.ts';
import { printSilent } from '../output/findings.ts';
import { EXIT, type CommandRun } from '../context.ts';

export const run: CommandRun = async (context) => {
  const { workspace, words, out, json, quiet } = context;
  const [site, ...rest] = words;
  if (site === undefined) throw new Problem('usage', 'name the site');
  const selectors = rest.filter((word) => word.includes(':'));
  const [runId, ...more] = rest.filter((word) => !word.includes(':'));
  if (more.length > 0 || (runId !== undefined && selectors.length > 0)) throw new Problem('usage', 'name one run, or selectors', { remedy: `for example: pochette publish ${site} template:*` });
  const target = await workspace.openSite(site);
  try {
    const made = planPublish(workspace, target, { selectors, run: runId });
    if (!json && !quiet) out.line(out.strong(`To be published on ${site}: `), some(made.drafts, 12), made.of === undefined ? '' : out.faint(`  (drafts of run ${made.of})`));
    if (!(await consent(context, site, `Publish ${many(made.drafts.length, 'draft')} on ${site}?`))) { out.line('Nothing was written.'); return EXIT.done; }
    const result = await publish(workspace, made);
    if (json) out.json({ result: 'done', site, ...result });
    else {
      out.line(out.good('Done: '), `run ${result.run} published ${many(result.published.length, 'item')}; visitors see ${result.published.length === 1 ? 'it' : 'them'} now.`);
      if (!quiet) {
        out.table(result.published.map((one) => [out.name(one.address), one.url ?? '']));
        printSilent(out, result.silent);
        out.line(`Next: "pochette undo ${site} ${result.run}" hides ${result.published.length === 1 ? 'it' : 'them'} again.`);
      }
    }
    return result.silent.length > 0 ? EXIT.differences : EXIT.done;
  } finally {
    await target.close();
  }
};
