import { writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import type { Plan } from '../../jobs/plan.ts';
import { writeReport } from '../output/report.ts';
import { planAsking } from '../output/decide.ts';
import { routeText } from '../../report/routetext.ts';
import { itemsOf } from '../../jobs/staysbehind.ts';
import { printBlocks, printFollowUps } from '../output/findings.ts';
import { printRoute } from '../output/route.ts';
import { EXIT, type CommandRun } from '../context.ts';
import { again, choicesOf, fromToAndSelectors, textOption } from '../words.ts';

export const run: CommandRun = async (context) => {
  const { call, workspace, words, options, out, json, quiet } = context;
  const { from, to, selectors } = fromToAndSelectors(words);
  const choices = choicesOf(workspace, to, selectors, options);
  return workspace.between(from, to, async (source, target) => {
    const made = await planAsking(context, source, target, choices);
    const file = textOption(options, 'output');
    const blocked = made.route.blocks.length > 0;
    if (json) out.json(routeJson(made));
    else {
      printRoute(out, made);
      if (blocked) printBlocks(out, made.route.blocks, to);
      printFollowUps(out, made.route.followUps);
    }
    if (file !== undefined && writable(made)) writeFileSync(resolve(call.folder, file), routeText(made, workspace.you, workspace.now().toISOString()));
    await writeReport(call, options, async () => (await import('../../report/index.ts')).routePage(made, workspace.now().toISOString()));
    if (!json && !quiet) next(out, made, file, `${from} ${to}${again(selectors, options)}`);
    return blocked ? EXIT.blocked : EXIT.done;
  });
};

export function routeJson({ source, target, route, counts, broughtAlong, leftOut, adjusted, seenAtOnce, kept, merged, decisions }: Plan): unknown {
  return { from: source.label, to: target.label, counts, broughtAlong, leftOut, adjusted, kept, merged: [...merged.keys()], decisions, seenAtOnce, ...route };
}

/** A route with open questions can be written, for someone to answer them; one that is blocked otherwise cannot. */
function writable({ route, decisions }: Plan): boolean {
  const open = new Set(decisions.filter((one) => one.answer === undefined).flatMap((one) => one.items));
  return route.blocks.every((block) => itemsOf(block).length > 0 && itemsOf(block).every((item) => open.has(item)));
}

function next(out: Parameters<typeof printRoute>[0], made: Plan, file: string | undefined, words: string): void {
  out.line();
  if (made.route.blocks.length > 0 && file !== undefined && writable(made)) out.line(`Written with open questions: ${file}. Next: answer them under "decisions", then "pochette import --route ${file}".`);
  else if (made.route.blocks.length > 0) out.line(`Next: settle what blocks, then "pochette route ${words}" again.`);
  else if (made.route.steps.length === 0) out.line('Nothing has to be done.');
  else if (file === undefined) out.line(`Next: "pochette import ${words}" goes this route; with -o FILE it is written down for someone to approve.`);
  else { out.line('Written: ', file); out.line(`Next: "pochette import --route ${file}" does exactly this, or refuses.`); }
}
