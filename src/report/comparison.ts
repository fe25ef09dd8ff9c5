import { createHash } from 'node:crypto';
import { diffWordsWithSpace } from 'diff';
import { pointerNames } from '../core/address.ts';
import type { Change } from '../core/compare.ts';
import { groupBy, type Json } from '../core/json.ts';
import type { ItemFinding, ItemStatus } from '../jobs/compare.ts';
import type { LikelyRename } from '../jobs/kinship.ts';
import { Html, html } from '../core/html.ts';
import { SCRIPT, STYLE } from './page.ts';
import { opened, readable } from './readable.ts';

/** What a comparison page shows. */
export interface Comparison { readonly from: string; readonly to: string; readonly counts: Readonly<Record<ItemStatus, number>>; readonly findings: readonly ItemFinding[]; readonly renames: readonly LikelyRename[]; readonly made: string }

/** Longer texts are compared as wholes: marks inside them would cost more than they tell. */
const LONGEST_MARKED = 20_000;
/** Items with more changed places than this are folded at first. */
const OPEN_UP_TO = 8;
const COLOUR = /^#(?:[0-9a-f]{3,4}|[0-9a-f]{6}|[0-9a-f]{8})$/i;

/** One self-contained page: it asks for nothing from elsewhere, and runs no script but its own. */
export function comparisonPage(view: Comparison): string {
  const { from, to, counts, findings } = view;
  const kinds = [...groupBy(findings, (one) => kindOf(one))];
  const hash = createHash('sha256').update(SCRIPT).digest('base64');
  return html`<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'; script-src 'sha256-${hash}'">
<title>${from} compared with ${to}</title><style>${new Html(STYLE)}</style></head><body>
<header><h1>${from} <span>compared with</span> ${to}</h1>
<p class="sum"><b class="new">${counts.new} new</b>, <b class="differs">${counts.differs} differ</b>, ${counts.same} same, <b class="only">${counts['target-only']} only on ${to}</b>. Made ${view.made.slice(0, 16).replace('T', ' ')} UTC.</p>
${since(view)}
<form class="filters" role="search"><label>Kind <select id="kind"><option value="">all ${kinds.length}</option>${kinds.map(([kind, items]) => html`<option value="${kind}">${kind} (${items.length})</option>`)}</select></label>
<fieldset><legend>State</legend>${(['new', 'differs', 'target-only'] as const).map((status) => html`<label><input type="checkbox" name="state" value="${status}" checked> ${statusText(status, to)}</label>`)}</fieldset>
<label>Text <input id="text" type="search" placeholder="name, title, place or value"></label> <output id="shown" aria-live="polite">${findings.length} items</output></form></header>
<main>${kinds.map(([kind, items]) => html`<section data-kind="${kind}"><h2>${kind} <small>${items.length}</small></h2>${items.map((one) => card(one, from, to))}</section>`)}</main>
<script>${new Html(SCRIPT)}</script></body></html>`.text;
}

function since({ findings, from, to }: Comparison): Html {
  const of = (by: ItemFinding['by']): number => findings.filter((one) => one.by === by).length;
  if (findings.every((one) => one.by === undefined)) return html`<p>Who changed what is not known: nothing was carried between them from here yet.</p>`;
  return html`<p>Since the last import: ${of('source')} changed on ${from}, ${of('target')} on ${to}, <b>${of('both')} on both</b>.</p>`;
}

function card(one: ItemFinding, from: string, to: string): Html {
  const rows = one.changes.map((change, i) => row(change, one.placesBy?.[i], from, to));
  const head = html`<span class="state ${one.status}">${statusText(one.status, to)}</span> <code>${one.address}</code> ${one.title} <em>${whose(one, from, to)}</em>`;
  if (rows.length === 0) return html`<div class="card" data-state="${one.status}">${head}</div>`;
  const body = html`<table><thead><tr><th scope="col">Place</th><th scope="col">${from}</th><th scope="col">${to}</th></tr></thead><tbody>${rows}</tbody></table>`;
  return html`<details class="card" data-state="${one.status}" ${new Html(rows.length <= OPEN_UP_TO ? 'open' : '')}><summary>${head} <small>${rows.length} ${rows.length === 1 ? 'place' : 'places'}</small></summary>${body}</details>`;
}

function row(change: Change, by: ItemFinding['by'], from: string, to: string): Html {
  const [source, target] = sides(change);
  const side = by === 'both' ? html` <b class="clash">clash</b>` : by === undefined || by === 'neither' ? html`` : html` <small>${by === 'source' ? from : to}</small>`;
  return html`<tr><th scope="row">${pointerNames(change.at).map(readable).join(' › ') || '(whole)'}${side}</th><td>${source}</td><td>${target}</td></tr>`;
}

function sides(change: Change): [Html, Html] {
  switch (change.change) {
    case 'new': return [value(change.source), html`<i>nothing</i>`];
    case 'target-only': return [html`<i>nothing</i>`, value(change.target)];
    case 'order': return [html`in this order: ${change.source.join(', ')}`, html`in this order: ${change.target.join(', ')}`];
    case 'differs': return typeof change.source === 'string' && typeof change.target === 'string' && !COLOUR.test(change.source) ? marked(readable(change.source), readable(change.target)) : [value(change.source), value(change.target)];
  }
}

/** Both texts with what differs marked in each. */
function marked(source: string, target: string): [Html, Html] {
  if (source.length + target.length > LONGEST_MARKED) return [html`<pre>${source}</pre>`, html`<pre>${target}</pre>`];
  const pieces = diffWordsWithSpace(target, source);
  const side = (wanted: 'added' | 'removed'): Html => html`<pre>${pieces.filter((piece) => (wanted === 'added' ? !piece.removed : !piece.added)).map((piece) => (piece[wanted] ? html`<mark>${piece.value}</mark>` : html`${piece.value}`))}</pre>`;
  return [side('added'), side('removed')];
}

function value(portable: Json): Html {
  const json = opened(portable);
  if (typeof json === 'string') return COLOUR.test(json) ? html`<span class="swatch" style="background:${json}"></span> ${json}` : html`<pre>${readable(json)}</pre>`;
  if (json === null || typeof json !== 'object') return html`${String(json)}`;
  if (!Array.isArray(json) && typeof json['@ref'] === 'string') return html`<code>${json['@ref']}</code>`;
  return html`<dl>${Object.entries(json).map(([key, one]) => html`<dt>${readable(key)}</dt><dd>${value(one)}</dd>`)}</dl>`;
}

function kindOf({ address }: ItemFinding): string { return address.slice(0, address.indexOf(':')); }
function statusText(status: ItemStatus, to: string): string { return status === 'target-only' ? `only ${to}` : status; }

function whose({ by, status }: ItemFinding, from: string, to: string): string {
  if (by === undefined || by === 'neither') return '';
  return by === 'both' ? 'changed on both' : `${status === 'differs' ? 'changed' : 'removed'} on ${by === 'source' ? from : to}`;
}
