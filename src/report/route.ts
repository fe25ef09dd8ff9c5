import { itemOf } from '../core/belongings.ts';
import { Html, html } from '../core/html.ts';
import type { Route, Step } from '../core/route.ts';
import type { Decision } from '../jobs/decisions.ts';
import type { Plan } from '../jobs/plan.ts';
import { graphHtml } from './graph.ts';
import { page } from './page.ts';
import { routeSummary, stepReason } from './routetext.ts';
import { bytes, many } from './units.ts';
import { answerText, blockText, followUpText, questionText } from './words.ts';

/** A route as a page for a review: what will happen in plain words, what is to be decided, the steps, and what depends on what. */
export function routePage(plan: Plan, made: string): string {
  const { source, target, route } = plan;
  const [from, to] = [source.label, target.label];
  return page({
    title: `Route from ${from} to ${to}`, made,
    header: html`<h1>Route <span>from</span> ${from} <span>to</span> ${to}</h1><ul>${routeSummary(plan).map((line) => html`<li>${line}</li>`)}</ul>`,
    main: html`${blocksHtml(route, to)}${decisionsHtml(plan.decisions, from, to)}${stepsHtml(route.steps)}${followUpsHtml(route)}${graphHtml(graphOf(plan))}`,
  });
}

/** Steps that write, with what they refer to. */
export function graphOf({ route, rows, source }: Plan): Parameters<typeof graphHtml>[0] {
  return route.steps.flatMap((step) => (step.do !== 'create' && step.do !== 'update' ? [] : [{
    address: step.item, status: step.do, step: step.step, refersTo: [...new Set(rows.get(step.item)?.references.filter((one) => one.strong).map(({ to }) => itemOf(to, source.kinds)) ?? [])],
  }]));
}

function blocksHtml({ blocks }: Route, to: string): Html {
  if (blocks.length === 0) return html``;
  return html`<section><h2 class="bad">Blocked in ${many(blocks.length, 'place')}</h2><table class="wide"><thead><tr><th scope="col">What</th><th scope="col">Why</th><th scope="col">What to do</th></tr></thead><tbody>${blocks.map((block) => {
    const { what, remedy, items } = blockText(block);
    return html`<tr><td><code>${items.join(', ') || to}</code></td><td>${what}</td><td>${remedy}</td></tr>`;
  })}</tbody></table></section>`;
}

function decisionsHtml(decisions: readonly Decision[], from: string, to: string): Html {
  if (decisions.length === 0) return html``;
  return html`<section><h2>Decisions</h2>${decisions.map((one) => {
    const answer = one.answer ?? one.otherwise;
    return html`<div class="card${answer === undefined ? ' open' : ''}">${questionText(one, from, to)} <b>${answer === undefined ? 'open' : answerText(answer, from, to)}</b>${one.kept === true ? html` <small>as last time</small>` : html``}</div>`;
  })}</section>`;
}

export function stepsHtml(steps: readonly Step[]): Html {
  if (steps.length === 0) return html`<p>Nothing has to be done.</p>`;
  return html`<section><h2>${many(steps.length, 'step')}, in this order</h2><ol class="steps">${steps.map((step) => html`<li><b class="${step.do}">${step.do === 'create' && step.status === 'draft' ? 'create as draft' : step.do}</b> ${what(step)} <small>${stepReason(step)}</small></li>`)}</ol></section>`;
}

function what(step: Step): Html {
  if (step.do === 'upload') return html`a file <code>${step.file.slice(0, 12)}…</code> <small>${step.type}, ${bytes(step.bytes)}</small>`;
  return html`<code>${step.item}</code>${step.do === 'complete' ? html`` : html` ${step.title}${step.covers === 'all' ? '' : `, only ${step.covers.join(', ')}`}`}`;
}

export function followUpsHtml({ followUps }: Pick<Route, 'followUps'>): Html {
  return followUps.length === 0 ? html`` : html`<section><h2>Left for a person to do</h2><ol>${followUps.map((one) => html`<li>${followUpText(one)}</li>`)}</ol></section>`;
}
