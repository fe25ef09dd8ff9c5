import { Problem } from '../../core/problem.ts';
import type { Context } from '../context.ts';
import { textOption } from '../words.ts';

/** Asks before anything is written. A guarded site asks for its name. Without a terminal the options answer. */
export async function consent(context: Context, site: string, question: string): Promise<boolean> {
  const { guarded } = context.workspace.site(site);
  const yes = context.options['yes'] === true;
  const confirmed = textOption(context.options, 'confirm');
  if (confirmed !== undefined && confirmed !== site) throw new Problem('usage', `--confirm says "${confirmed}", and the site is ${site}`, { remedy: `write --confirm ${site} if that is the site you mean` });
  if (guarded ? confirmed === site && yes : yes) return true;
  if (!context.call.stdin.isTTY || !context.call.stdout.isTTY || context.json) {
    throw new Problem('blocked', guarded ? `${site} is guarded: nothing is written before its name was given` : `nothing is written to ${site} without a yes`, {
      remedy: guarded ? `in a script: --yes --confirm ${site}` : 'in a script: --yes',
    });
  }
  const { default: prompts } = await import('prompts');
  const io = { stdin: context.call.stdin, stdout: context.call.stdout };
  if (!guarded) {
    const { go } = await prompts({ ...io, type: 'confirm', name: 'go', message: question, initial: false }) as { go?: boolean };
    return go === true;
  }
  const { name } = await prompts({ ...io, type: 'text', name: 'name', message: `${question} Type ${site} to go on:` }) as { name?: string };
  return name === site;
}
