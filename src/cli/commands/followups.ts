import { Problem } from '../../core/problem.ts';
import { openFollowUps } from '../../jobs/followups.ts';
import { followUpText } from '../../report/words.ts';
import { many } from '../../report/units.ts';
import { EXIT, type CommandRun } from '../context.ts';
import { listOption } from '../words.ts';

export const run: CommandRun = async ({ workspace, words, options, out, json, quiet }) => {
  const [site, ...more] = words;
  if (site === undefined || more.length > 0) throw new Problem('usage', 'name one site');
  const tick = listOption(options, 'done').flatMap((text) => text.split(',')).map(Number);
  if (tick.some((number) => !Number.isInteger(number))) throw new Problem('usage', '--done takes numbers', { remedy: 'for example --done 2 or --done 2,5' });
  const target = await workspace.openSite(site);
  try {
    const { open, done } = await openFollowUps(workspace, target, tick);
    if (json) { out.json({ site, open, done }); return EXIT.done; }
    const ticked = done.filter((one) => tick.includes(one.number));
    for (const one of ticked) out.line(out.good('Done: '), followUpText(one));
    if (open.length === 0) out.line(`Nothing is left to do on ${site}${done.length > 0 ? `; ${many(done.length, 'follow-up')} ${done.length === 1 ? 'is' : 'are'} done` : ''}.`);
    else {
      out.heading(`Left to do on ${site} (${open.length})`);
      out.table(open.map((one) => [out.name(`${one.number}.`), followUpText(one), out.faint(`run ${one.run}`)]));
      if (!quiet) { out.line(); out.line(`Next: "pochette followups ${site} --done ${open[0]?.number ?? 1}" ticks one off.`); }
    }
    return EXIT.done;
  } finally {
    await target.close();
  }
};
