import { kindWord } from '../core/address.ts';
import { Html, html } from '../core/html.ts';
import { groupBy, type Json } from '../core/json.ts';
import type { ItemFinding, ItemStatus } from '../jobs/compare.ts';
import type { Preview } from '../jobs/shown.ts';
import type { LikelyRename } from '../jobs/kinship.ts';
import { graphHtml } from './graph.ts';
import { placeLabel, type Labels } from './labels.ts';
import { page } from './page.ts';
import { isClash } from './places.ts';
import { many } from './units.ts';
import { sidesOf, type Picture } from './values.ts';
import { percent, statusText, whoseText } from './words.ts';

/** A finding without its rows, with what it refers to. */
export type ShownFinding = Omit<ItemFinding, 'source' | 'target'> & { readonly refersTo: readonly string[] };
/** What a comparison page shows. */
export interface Comparison {
  readonly from: string;
  readonly to: string;
  readonly counts: Readonly<Record<ItemStatus, number>>;
  readonly findings: readonly ShownFinding[];
  readonly renames: readonly LikelyRename[];
  readonly labels: Labels;
  readonly pictures: ReadonlyMap<string, Picture>;
  readonly previews: ReadonlyMap<string, Preview>;
  readonly made: string;
}

/** Items with more changed places than this, and everything where there are more items than that, are folded at first. */
const [OPEN_UP_TO, FOLD_ALL] = [8, 60];
/** So many cards are laid out together, and only when they come near the window: a page of thousands opens at once. */
const BATCH = 25;
/** So much of a stored value is shown where it is asked for. */
const MOST_RAW = 4_000;

/** The comparison as one self-contained page. */
export function comparisonPage(view: Comparison): string {
  const { from, to, counts, findings } = view;
  const graph = graphHtml(findings.filter((one) => one.status === 'new' || one.status === 'differs').map((one) => ({ address: one.address, status: one.status, refersTo: one.refersTo })));
  return page({
    title: `${from} compared with ${to}`, made: view.made,
    header: html`<h1>${from} <span>compared with</span> ${to}</h1>
<p><b class="new">${counts.new} new</b>, <b class="differs">${counts.differs} ${counts.differs === 1 ? 'differs' : 'differ'}</b>, ${counts.same} same, <b class="only">${counts['target-only']} only on ${to}</b>. ${inWords(view)}</p>${since(view)}${renames(view)}`,
    main: html`<nav aria-label="Parts of this page"><a href="#items">The items</a>${graph.text === '' ? html`` : html` · <a href="#graph">What depends on what</a>`}</nav>${filters(findings, to)}<div id="items">${itemsHtml(view)}</div>${graph}`,
  });
}

/** The three largest kinds of difference, as a sentence. */
function inWords({ findings }: Comparison): string {
  const kinds = [...groupBy(findings, kindOf)].sort((a, b) => b[1].length - a[1].length);
  if (kinds.length === 0) return 'There is no difference.';
  const named = kinds.slice(0, 3).map(([kind, list]) => `${kind} (${list.length})`).join(', ');
  return `Most of it: ${named}${kinds.length > 3 ? `, and ${many(kinds.length - 3, 'other kind')}` : ''}.`;
}

function since({ findings, from, to }: Comparison): Html {
  const of = (by: ItemFinding['by']): number => findings.filter((one) => one.by === by).length;
  if (findings.every((one) => one.by === undefined)) return html`<p>Who changed what is not known: nothing was carried between them yet.</p>`;
  const clashes = findings.filter((one) => (one.clashes?.length ?? 0) > 0).length;
  return html`<p>Since the last import: ${of('source')} changed on ${from}, ${of('target')} on ${to}, <b>${of('both')} on both</b>${clashes > 0 ? html`, <b class="clash">${clashes} of them in the same places</b>` : html``}.</p>`;
}

function renames({ renames: list, to }: Comparison): Html {
  return list.length === 0 ? html`` : html`<p>Perhaps renamed: ${list.map((one, i) => html`${i > 0 ? '; ' : ''}<code>${one.address}</code> may be <code>${one.to}</code> on ${to} (${percent(one.likeness)} alike)`)}.</p>`;
}

/** Filters by kind, state and text, for cards that carry these. */
export function filters(findings: readonly ShownFinding[], to: string): Html {
  const kinds = [...groupBy(findings, kindOf)];
  return html`<form class="filters" role="search" aria-label="Filter the items"><label>Kind <select id="kind"><option value="">all ${kinds.length}</option>${kinds.map(([kind, items]) => html`<option value="${kind}">${kind} (${items.length})</option>`)}</select></label>
<fieldset><legend>State</legend>${(['new', 'differs', 'target-only'] as const).map((status) => html`<label><input type="checkbox" name="state" value="${status}" checked> ${statusText(status, to)}</label>`)}</fieldset>
<label>Text <input id="text" type="search" placeholder="name, title, place or value"></label> <button type="button" id="unfold" aria-pressed="false">Unfold all</button> <output id="shown" aria-live="polite">${many(findings.length, 'item')}</output></form>`;
}

export function itemsHtml(view: Comparison): Html {
  const open = view.findings.length <= FOLD_ALL;
  let number = 0;
  const batch = (items: readonly ShownFinding[]): Html => html`<div class="batch" style="contain-intrinsic-size:auto ${items.length * 3}rem">${items.map((one) => card(one, view, `item-${++number}`, open))}</div>`;
  const batches = (items: readonly ShownFinding[]): Html[] => Array.from({ length: Math.ceil(items.length / BATCH) }, (_, i) => batch(items.slice(i * BATCH, (i + 1) * BATCH)));
  return html`${[...groupBy(view.findings, kindOf)].map(([kind, items]) => html`<section><h2>${kind} <small>${items.length}</small></h2>${batches(items)}</section>`)}`;
}

function card(one: ShownFinding, view: Comparison, id: string, open: boolean): Html {
  const { from, to } = view;
  const whose = whoseText(one, from, to);
  const what = html`<span class="state ${one.status}">${statusText(one.status, to)}</span> <code>${one.address}</code> ${one.title}${whose === '' ? html`` : html` <em>${whose}</em>`}${collision(one, from, to)}`;
  const about = html`id="${id}" data-kind="${kindOf(one)}" data-state="${one.status}" data-address="${one.address}"`;
  const previews = previewsOf(one, view);
  if (one.changes.length === 0 && previews === undefined) return html`<div class="card" ${about}>${what}</div>`;
  const rows = one.changes.map((change, i) => row(one, i, view, change.at));
  const table = rows.length === 0 ? html`` : html`<table><thead><tr><th scope="col">Place</th><th scope="col">${from}</th><th scope="col">${to}</th></tr></thead><tbody>${rows}</tbody></table>`;
  const [unfolded, inside] = [open && rows.length <= OPEN_UP_TO, rows.length > 0 ? many(rows.length, 'place') : 'pages'];
  const button = html`<button type="button" aria-expanded="${String(unfolded)}" aria-controls="${id}-places" aria-label="${inside} of ${one.address}">${inside}</button>`;
  const inner = html`${previews ?? html``}${table}`;
  return html`<div class="card" ${about}><div class="head">${what} ${button}</div><div class="body" id="${id}-places"${new Html(unfolded ? '' : ' hidden="until-found"')}>${open ? inner : asText(inner)}</div></div>`;
}

/**
 * Markup that a browser takes as mere text until the page's script asks for it: reading it all as elements is most of the time that a large page
 * needs to open. All that comes from sites is escaped in it, so nothing in it can end the element.
 */
function asText(markup: Html): Html { return html`<script type="text/plain">${markup}</script>`; }

function collision({ collision: found }: ShownFinding, from: string, to: string): Html {
  return found ? html` <b class="clash">something else: “${found.sourceTitle}” on ${from}, “${found.targetTitle}” on ${to}, ${percent(found.likeness)} alike</b>` : html``;
}

function row(one: ShownFinding, i: number, { from, to, labels, pictures }: Comparison, at: string): Html {
  const change = one.changes[i] as ShownFinding['changes'][number];
  const [source, target] = sidesOf(change, { labels, kind: one.kind, pictures });
  const by = one.placesBy?.[i];
  const side = by === 'both' ? isClash(one.clashes ?? [], at) ? html` <b class="clash">clash</b>` : html` <small>both, put together by itself</small>` : by === undefined || by === 'neither' ? html`` : html` <small>${by === 'source' ? from : to}</small>`;
  return html`<tr><th scope="row" title="${at}">${placeLabel(labels, one.kind, at)}${side}${rawOf(change)}</th><td>${source}</td><td>${target}</td></tr>`;
}

/** The stored form of what is not a plain text, for those who ask. */
function rawOf(change: ShownFinding['changes'][number]): Html {
  const values = change.change === 'order' ? [] : [...('source' in change ? [change.source] : []), ...('target' in change ? [change.target] : [])];
  if (!values.some(isDeep)) return html``;
  const text = values.map((value) => JSON.stringify(value, null, 1)).join('\n');
  return html`<details class="raw"><summary>as stored</summary><pre>${text.length > MOST_RAW ? `${text.slice(0, MOST_RAW)}…` : text}</pre></details>`;
}

/** More than a reference or a plain list of words. */
function isDeep(value: Json): boolean {
  return typeof value === 'object' && value !== null && !('@ref' in value) && Object.values(value).some((one) => typeof one === 'object' && one !== null && !('@ref' in one));
}

/** Pages of the sites, shut off: no script runs in them and nothing is fetched for them. */
function previewsOf(one: ShownFinding, { previews, from, to }: Comparison): Html | undefined {
  const preview = previews.get(one.address);
  if (!preview) return undefined;
  const frame = (site: string, text: string | undefined): Html => html`<div><h3>${site}</h3>${text === undefined ? html`<p><i>nothing to see there</i></p>` : html`<iframe sandbox loading="lazy" title="${one.address} on ${site}" srcdoc="${text}"></iframe>`}</div>`;
  return html`<div class="previews">${frame(from, preview.source)}${frame(to, preview.target)}</div>`;
}

function kindOf({ address }: { readonly address: string }): string { return kindWord(address); }
