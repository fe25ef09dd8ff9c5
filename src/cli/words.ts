import { Problem } from '../core/problem.ts';
import type { Workspace } from '../jobs/workspace.ts';
import { readPairs, readSince, type Choice } from '../jobs/choice.ts';
import { readAnswers } from '../jobs/decisions.ts';
import type { Choices } from '../jobs/plan.ts';
import { readAdjustments } from '../jobs/routefile.ts';

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

/** What the words and options choose, with a selection that pochette.yaml names. */
export function choiceOf(workspace: Workspace, selectors: readonly string[], options: Options): Choice {
  const name = textOption(options, 'selection');
  const named = name === undefined ? undefined : workspace.selection(name);
  const since = textOption(options, 'changedSince') ?? named?.since;
  const lists = {
    except: [...(named?.except ?? []), ...listOption(options, 'except')], owners: [...(named?.owners ?? []), ...listOption(options, 'owner')],
    titles: [...(named?.titles ?? []), ...listOption(options, 'titled')], take: [...(named?.take ?? []), ...listOption(options, 'take')],
  };
  return {
    selectors: [...(named?.choose ?? []), ...selectors], ...Object.fromEntries(Object.entries(lists).filter(([, list]) => list.length > 0)),
    ...(since === undefined ? {} : { since: readSince(since, workspace.now()) }), ...(options['media'] === false ? { noMedia: true } : {}),
  };
}

/** What the options and the target's configuration say about the choices of an import. */
export function choicesOf(workspace: Workspace, to: string, selectors: readonly string[], options: Options): Choices {
  const choice = choiceOf(workspace, selectors, options);
  return {
    choice, alone: options['alone'] === true, leaveUnmatched: options['leaveUnmatched'] === true, matches: { ...readPairs(Object.entries(workspace.site(to).matches).map((pair) => pair.join('=')), `sites.${to}.matches`), ...readPairs(listOption(options, 'match'), '--match') },
    as: readPairs(listOption(options, 'as'), '--as'), answers: readAnswers(listOption(options, 'decide')), adjustments: readAdjustments(workspace.site(to).adjustments, (place) => `pochette.yaml, sites.${to}.adjustments, ${place}`),
    keep: workspace.site(to).keep, draft: options['draft'] === true, allowMissing: options['allowMissing'] === true, noMedia: choice.noMedia === true,
  };
}

/** Options that say what is chosen and what becomes of it; after the list, those without a value. */
const VALUED = { except: '--except', owner: '--owner', titled: '--titled', changedSince: '--changed-since', selection: '--selection', take: '--take', match: '--match', as: '--as', decide: '--decide' } as const;
const BARE = { leaveUnmatched: '--leave-unmatched', alone: '--alone', draft: '--draft', allowMissing: '--allow-missing', remember: '--remember', askAgain: '--ask-again' } as const;

/** The same choice once more, to be typed after another verb; `without`: options that the verb does not have. */
export function again(selectors: readonly string[], options: Options, without: readonly (keyof typeof BARE | keyof typeof VALUED)[] = []): string {
  const valued = Object.entries(VALUED).filter(([name]) => !without.includes(name as keyof typeof VALUED)).flatMap(([name, option]) => listOption(options, name).flatMap((value) => [option, value]));
  const bare = Object.entries(BARE).flatMap(([name, option]) => (options[name] === true && !without.includes(name as keyof typeof BARE) ? [option] : []));
  return [...selectors, ...valued, ...bare, ...(options['media'] === false ? ['--no-media'] : [])].map((word) => ` ${shellWord(word)}`).join('');
}

/** A word as a shell takes it. */
export function shellWord(word: string): string {
  return /^[\w./:#=%@,-]+$/.test(word) ? word : `'${word.replaceAll("'", `'\\''`)}'`;
}

type Options = Readonly<Record<string, unknown>>;

export function listOption(options: Options, name: string): string[] {
  const value = options[name];
  return Array.isArray(value) ? value.map(String) : typeof value === 'string' ? [value] : [];
}

export function textOption(options: Readonly<Record<string, unknown>>, name: string): string | undefined {
  const value = options[name];
  return typeof value === 'string' ? value : undefined;
}
