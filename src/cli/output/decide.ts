import type { Answers, Decision, Given } from '../../jobs/decisions.ts';
import { toKeep, withKept } from '../../jobs/decisions.ts';
import { plan, type Choices, type Plan } from '../../jobs/plan.ts';
import { regard } from '../../jobs/regard.ts';
import type { Source } from '../../jobs/sources/source.ts';
import type { SiteSource } from '../../jobs/sources/site.ts';
import { answerText, questionText } from '../../report/words.ts';
import type { Context } from '../context.ts';
import { printChange } from './findings.ts';

/** Both values of so many places are shown with a question. */
const MOST_SHOWN = 8;
const OTHER = 'another…';

/**
 * Makes a plan, with the answers of earlier times; on a terminal what is open is asked, one by one, until nothing is.
 * `checked`: a check of the source that goes on beside it. Nothing is asked before it has ended, and what it finds is said first.
 */
export async function planAsking(context: Context, source: Source, target: SiteSource, choices: Choices, checked?: Promise<void>): Promise<Plan> {
  const { workspace, options } = context;
  const sites = [source.origin.site.id, target.facts.site.id] as const;
  const kept = options['askAgain'] === true ? {} : workspace.records.answers(...sites);
  let answers = withKept(choices.answers ?? { each: {} }, kept);
  const given: Record<string, Given> = {};
  const make = (): Promise<Plan> => plan(source, target, { ...choices, answers }, workspace.onProgress, workspace.bases(source, target));
  const [check, first] = await Promise.allSettled([checked, make()]);
  for (const one of [check, first]) if (one.status === 'rejected') throw one.reason;
  let made = (first as PromiseFulfilledResult<Plan>).value;
  for (let open = asks(context, made, given); open.length > 0; open = asks(context, made, given)) {
    if (!(await goOn(context, `${open.length === 1 ? 'One question is' : `${open.length} questions are`} open. Answer ${open.length === 1 ? 'it' : 'them'} now?`, true))) return made;
    const before = Object.keys(given).length;
    for (const decision of open) {
      const answer = await ask(context, made, decision);
      if (answer === undefined) return made;
      given[decision.id] = { answer, ...(decision.of ? { of: decision.of } : {}) };
    }
    if (Object.keys(given).length === before) return made;
    answers = { ...answers, each: { ...answers.each, ...given } } satisfies Answers;
    made = await make();
  }
  if (options['remember'] === true || (Object.keys(given).length > 0 && await goOn(context, 'Keep these answers for next time?', false))) workspace.records.keepAnswers(...sites, toKeep(made.decisions));
  return made;
}

/** What is to be asked: nothing without a terminal, and nothing twice. */
function asks({ call, json, options }: Context, made: Plan, given: Readonly<Record<string, Given>>): Decision[] {
  if (!call.stdin.isTTY || !call.stdout.isTTY || json || options['yes'] === true) return [];
  return made.decisions.filter((one) => one.answer === undefined && given[one.id] === undefined);
}

/** One question with both values in view. Undefined: the person gave up. */
async function ask({ call, out }: Context, made: Plan, decision: Decision): Promise<string | undefined> {
  const [from, to] = [made.source.label, made.target.label];
  const changes = await regard(made, decision);
  out.heading(questionText(decision, from, to));
  for (const change of changes.slice(0, MOST_SHOWN)) printChange(out, change, from, to);
  if (changes.length > MOST_SHOWN) out.line(out.faint(`      and ${changes.length - MOST_SHOWN} more places`));
  const { default: prompts } = await import('prompts');
  const io = { stdin: call.stdin, stdout: call.stdout };
  const free = decision.question === 'missing' ? [{ title: 'something else on the target…', value: OTHER }] : [];
  const choices = [...decision.answers.map((value) => ({ title: title(decision, value, from, to), value })), ...free];
  const { answer } = await prompts({ ...io, type: 'select', name: 'answer', message: 'Your answer', choices, initial: Math.max(0, decision.answers.indexOf(decision.otherwise ?? '')) }) as { answer?: string };
  if (answer !== OTHER) return answer;
  const { address } = await prompts({ ...io, type: 'text', name: 'address', message: 'Its address there, kind:name', validate: (text: string) => (made.target.index.has(text) ? true : `${to} has no ${text}`) }) as { address?: string };
  return address;
}

function title(decision: Decision, answer: string, from: string, to: string): string {
  if (answer === decision.other && decision.question === 'rename') return `yes, it is ${answer}, which keeps its name on ${to}`;
  return answerText(answer, from, to);
}

async function goOn({ call }: Context, message: string, initial: boolean): Promise<boolean> {
  const { default: prompts } = await import('prompts');
  const { yes } = await prompts({ stdin: call.stdin, stdout: call.stdout, type: 'confirm', name: 'yes', message, initial }) as { yes?: boolean };
  return yes === true;
}
