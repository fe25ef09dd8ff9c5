import type { Step } from '../../core/route.ts';
import type { Plan } from '../../jobs/plan.ts';
import { percent } from '../../report/words.ts';
import { stepReason } from '../../report/routetext.ts';
import { printAdjusted, printLeftOut } from './findings.ts';
import { bytes, many, some } from '../../report/units.ts';
import type { Part, Printer } from './printer.ts';

/** The steps in order, each with the reason for its place. */
export function printRoute(out: Printer, plan: Plan): void {
  const { steps } = plan.route;
  out.line(out.strong(`Route from ${plan.source.label} to ${plan.target.label}: `), `${many(steps.length, 'step')}${countsOf(steps)}; ${many(plan.counts.same, 'item')} ${plan.counts.same === 1 ? 'is' : 'are'} the same already.`);
  for (const one of plan.broughtAlong) out.line('  ', out.name(one.address), ` is brought along for ${one.for}`);
  printAdjusted(out, plan.adjusted);
  if (plan.kept.length > 0) out.line('  ', out.note('Kept as the target has it: '), some(plan.kept, 6), ' (changed or removed there since the last import, or left so by it; --decide source overwrites)');
  if (plan.merged.size > 0) out.line('  ', out.note('Put together: '), some([...plan.merged.keys()], 6), ' (changed on both sides, in different places)');
  if (plan.seenAtOnce.length > 0) out.line('  ', out.note('Seen by visitors at once: '), some(plan.seenAtOnce, 6), ' (there already, or cannot be a draft)');
  for (const one of plan.decisions) if (one.question === 'rename' && one.answer === undefined) out.line('  ', out.note('Perhaps renamed: '), out.name(one.id), ` may be ${one.other ?? ''} (${percent(one.likeness ?? 0)} alike); --decide ${one.id}=${one.other ?? ''} makes them one`);
  for (const one of plan.decisions) if (one.kept === true && one.answer !== undefined) out.line('  ', out.note('Answered as last time: '), one.id, ' = ', one.answer, out.faint('  (--ask-again asks anew)'));
  if (plan.notCompared.length > 0) out.line('  ', out.faint(`Renames were not looked for among ${plan.notCompared.join(', ')}: too much is new there.`));
  printLeftOut(out, plan.leftOut);
  if (steps.length === 0) return;
  out.line();
  out.table(steps.map((step) => [out.name(String(step.step).padStart(4)), stepWord(out, step), what(step), out.faint(stepReason(step))]), 0);
}

/** What the steps do, as far as there are such steps. */
function countsOf(steps: readonly Step[]): string {
  const told = (['upload', 'create', 'update', 'complete'] as const).flatMap((word) => { const count = steps.filter((step) => step.do === word).length; return count > 0 ? [`${word} ${count}`] : []; });
  return told.length > 0 ? ` (${told.join(', ')})` : '';
}

function stepWord(out: Printer, step: Step): Part {
  return step.do === 'create' ? out.good(step.status === 'draft' ? 'create as draft' : 'create') : step.do === 'update' ? out.note('update') : step.do;
}

function what(step: Step): string {
  if (step.do === 'upload') return `file ${step.file.slice(0, 12)}…  (${step.type}, ${bytes(step.bytes)})`;
  return step.do !== 'complete' && step.covers !== 'all' ? `${step.item}  only ${step.covers.join(', ')}` : step.item;
}
