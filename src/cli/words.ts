import { Problem } from '../core/problem.ts';
import type { Workspace } from '../jobs/workspace.ts';
import type { Choices } from '../jobs/plan.ts';

/** `from [selectors…]` */
export function fromAndSelectors(words: readonly string[]): { from: string; selectors: string[] } {
  const [from, ...selectors] = words;
  if (from === undefined) throw new Problem('usage', 'say what to read: a site or a file');
  onlySelectors(selectors);
  return { from, selectors };
}

/** `from to [selectors…]` */
export function fromToAndSelectors(words: readonly string[]): { from: string; to: string; selectors: string[] } {
  const [from, to, ...selectors] = words;
  if (from === undefined || to === undefined || (to.includes(':') && !to.includes('/'))) {
    throw new Problem('usage', 'say from where and to where, for example "dev live"', { remedy: 'selectors such as template:* follow after both' });
  }
  onlySelectors(selectors);
  return { from, to, selectors };
}

function onlySelectors(words: readonly string[]): void {
  const other = words.find((word) => !word.includes(':'));
  if (other !== undefined) throw new Problem('usage', `"${other}" is not a selector`, { remedy: 'selectors have a colon, for example template:* or settings:tickets#mail' });
}

/** What the options and the target's configuration say about the choices of an import. */
export function choicesOf(workspace: Workspace, to: string, selectors: readonly string[], options: Readonly<Record<string, unknown>>): Choices {
  return { selectors, alone: options['alone'] === true, leaveMissing: options['leaveMissing'] === true, matches: workspace.site(to).matches };
}

export function textOption(options: Readonly<Record<string, unknown>>, name: string): string | undefined {
  const value = options[name];
  return typeof value === 'string' ? value : undefined;
}
