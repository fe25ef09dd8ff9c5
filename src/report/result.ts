import { Html, html } from '../core/html.ts';
import { groupBy } from '../core/json.ts';
import type { ImportResult } from '../jobs/import.ts';
import type { Plan } from '../jobs/plan.ts';
import { graphHtml } from './graph.ts';
import { page } from './page.ts';
import { followUpsHtml, graphOf, stepsHtml } from './route.ts';
import { routeSummary } from './routetext.ts';
import { many } from './units.ts';

/** What an import did, as a page to keep: run, proof, where to look, what is left to do, and the steps as they went. */
export function resultPage(plan: Plan, result: ImportResult, made: string): string {
  const [from, to] = [plan.source.label, plan.target.label];
  return page({
    title: `Import from ${from} to ${to}`, made,
    header: html`<h1>Import <span>from</span> ${from} <span>to</span> ${to}</h1>
<p>Run <code>${result.run}</code>: <b class="new">${many(result.created, 'item')} created</b>, <b class="differs">${result.updated} updated</b>, ${many(result.files, 'file')} uploaded, in ${result.took.seconds.toFixed(1)} s.</p>${proof(result, to)}
<details><summary>What was going to happen</summary><ul>${routeSummary(plan).map((line) => html`<li>${line}</li>`)}</ul></details>`,
    main: html`${look(result)}${followUpsHtml(result)}${stepsHtml(plan.route.steps)}${graphHtml(graphOf(plan))}`,
  });
}

function proof({ unequal, silent }: ImportResult, to: string): Html {
  const read = unequal.length === 0 ? html`Read back: every item on ${to} equals what was carried.` : html`<b class="bad">Read back: ${many(unequal.length, 'item')} ${unequal.length === 1 ? 'is' : 'are'} not what was carried: ${unequal.map((one) => one.address).join(', ')}.</b>`;
  const pages = silent.length === 0 ? html`All pages answer.` : html`<b class="bad">Pages that do not answer: ${silent.map((one) => `${one.url} (${one.status})`).join(', ')}.</b>`;
  return html`<p>${read} ${pages}</p>`;
}

function look({ seen }: ImportResult): Html {
  const pages = [...groupBy(seen.filter((one) => one.url !== undefined), (one) => one.url as string)];
  if (pages.length === 0) return html``;
  return html`<section><h2>Where to look</h2><table class="wide"><tbody>${pages.map(([url, items]) => html`<tr><td>${/^https?:/.test(url) ? html`<a href="${url}" rel="noreferrer">${url}</a>` : html`${url}`}</td><td>${items.map((one) => one.address).join(', ')}</td></tr>`)}</tbody></table></section>`;
}
