import { Problem } from '../../core/problem.ts';
import { changesOf } from '../../jobs/changes.ts';
import { many } from '../../report/units.ts';
import { EXIT, type CommandRun } from '../context.ts';

export const run: CommandRun = async ({ workspace, words, out, json, quiet }) => {
  const [site, ...more] = words;
  if (site === undefined || more.length > 0) throw new Problem('usage', 'name one site');
  const target = await workspace.openSite(site);
  try {
    const { changes, known } = await changesOf(workspace.records, target);
    if (json) out.json({ site, known, changes });
    else if (known === 0) out.line(`Nothing was imported to ${site} from here yet: there is nothing to compare it with.`);
    else if (changes.length === 0) out.line(`Nothing changed on ${site}: ${many(known, 'item')} ${known === 1 ? 'is' : 'are'} as the imports left them.`);
    else {
      out.line(out.strong(`Changed on ${site} since the imports: `), `${changes.length} of ${many(known, 'item')}.`);
      out.table(changes.map((one) => [one.change === 'removed' ? out.bad('removed') : out.note('changed'), out.name(one.address), one.title, out.faint(`since run ${one.run}`)]));
      if (!quiet) { out.line(); out.line(`Next: "pochette compare FROM ${site}" shows the places; an import keeps them, unless both sides changed one place.`); }
    }
    return changes.length > 0 ? EXIT.differences : EXIT.done;
  } finally {
    await target.close();
  }
};
