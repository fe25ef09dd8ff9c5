import { writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { plan, type Plan } from '../../jobs/plan.ts';
import { routeText } from '../../jobs/routefile.ts';
import { printBlocks, printFollowUps } from '../output/findings.ts';
import { printRoute } from '../output/route.ts';
import { EXIT, type CommandRun } from '../context.ts';
import { again, choicesOf, fromToAndSelectors, textOption } from '../words.ts';

export const run: CommandRun = async ({ call, workspace, words, options, out, json, quiet }) => {
  const { from, to, selectors } = fromToAndSelectors(words);
  const choices = choicesOf(workspace, to, selectors, options);
  return workspace.between(from, to, async (source, target) => {
    const made = await plan(source, target, choices, workspace.onProgress, workspace.bases(source, target));
    const file = textOption(options, 'output');
    const blocked = made.route.blocks.length > 0;
    if (json) out.json(routeJson(made));
    else {
      printRoute(out, made);
      if (blocked) printBlocks(out, made.route.blocks, to);
      printFollowUps(out, made.route.followUps);
    }
    if (file !== undefined && !blocked) writeFileSync(resolve(call.folder, file), routeText(made, workspace.you, workspace.now().toISOString()));
    if (!json && !quiet) next(out, made, file, `${from} ${to}${again(selectors, options)}`);
    return blocked ? EXIT.blocked : EXIT.done;
  });
};

export function routeJson({ source, target, route, counts, broughtAlong, leftOut, adjusted, seenAtOnce, kept, merged }: Plan): unknown {
  return { from: source.label, to: target.label, counts, broughtAlong, leftOut, adjusted, kept, merged: [...merged.keys()], seenAtOnce, ...route };
}

function next(out: Parameters<typeof printRoute>[0], made: Plan, file: string | undefined, words: string): void {
  out.line();
  if (made.route.blocks.length > 0) out.line(`Next: settle what blocks, then "pochette route ${words}" again.`);
  else if (made.route.steps.length === 0) out.line('Nothing has to be done.');
  else if (file === undefined) out.line(`Next: "pochette import ${words}" goes this route; with -o FILE it is written down for someone to approve.`);
  else { out.line('Written: ', file); out.line(`Next: "pochette import --route ${file}" does exactly this, or refuses.`); }
}
