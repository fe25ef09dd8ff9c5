import dagre from '@dagrejs/dagre';
import { kindWord } from '../core/address.ts';
import { Html, html } from '../core/html.ts';
import { order } from '../core/graph.ts';
import { groupBy } from '../core/json.ts';
import { many } from './units.ts';

/** An item with what it refers to; `step`: its number in a route. */
export interface GraphItem { readonly address: string; readonly status: string; readonly refersTo: readonly string[]; readonly step?: number }

/** More items than this are folded by kind. */
const MOST_DRAWN = 40;
const [LETTER, HEIGHT, PADDING] = [7.1, 30, 20];

interface Box { readonly name: string; readonly label: string; readonly status: string; readonly more: string }
interface Arrow { readonly from: string; readonly to: string; readonly count: number }

/**
 * The dependency graph, drawn: what is needed stands left of what needs it, in the order of a route. Many items are folded by kind, and it is
 * said. The page's script shows the neighbourhood of an item from the data beside it.
 */
export function graphHtml(items: readonly GraphItem[]): Html {
  if (items.length === 0) return html``;
  const known = new Set(items.map((item) => item.address));
  const within = items.map((item) => ({ ...item, refersTo: [...new Set(item.refersTo)].filter((to) => known.has(to) && to !== item.address) }));
  const folded = items.length > MOST_DRAWN;
  const { boxes, arrows, circles } = folded ? byKind(within) : byItem(within);
  const says = folded ? `${many(items.length, 'item')} folded into ${many(boxes.length, 'kind')}; choose a kind or an item to see what is around it.` : `${many(items.length, 'item')}; choose one to see what is around it.`;
  const round = circles.length === 0 ? 'There are no circles.' : `Circles: ${circles.join('; ')}. They are closed in a second pass.`;
  return html`<section class="graph" id="graph"><h2>What depends on what</h2><p>${says} What is needed stands left of what needs it. ${round}</p>
<div class="canvas">${draw(boxes, arrows)}</div><div id="around" aria-live="polite"></div>
<details><summary>The same as a list</summary><ul>${within.filter((item) => item.refersTo.length > 0).map((item) => html`<li><code>${item.address}</code> needs ${item.refersTo.map((to, i) => html`${i > 0 ? ', ' : ''}<code>${to}</code>`)}</li>`)}</ul></details>
<script type="application/json" id="edges">${safeJson(within.map((item) => [item.address, item.status, item.refersTo]))}</script></section>`;
}

/** JSON that cannot end the element it stands in, in plain signs. */
function safeJson(value: unknown): Html { return new Html(JSON.stringify(value).replace(/[<>&\u0080-\uffff]/g, (sign) => `\\u${sign.charCodeAt(0).toString(16).padStart(4, '0')}`)); }

function byItem(items: readonly GraphItem[]): { boxes: Box[]; arrows: Arrow[]; circles: string[] } {
  const back = closing(items);
  return {
    boxes: items.map((item) => ({ name: item.address, label: item.step === undefined ? item.address : `${item.step}. ${item.address}`, status: item.status, more: item.status })),
    arrows: items.flatMap((item) => item.refersTo.map((to) => ({ from: to, to: item.address, count: 1 }))),
    circles: [...back].map((edge) => edge.replace(' ', ' ↔ ')),
  };
}

/** References that close a circle: the ones that a route leaves for its second pass. */
function closing(items: readonly GraphItem[]): Set<string> {
  return new Set(order(items.map((item) => ({ name: item.address, rank: item.step ?? 0, needs: item.refersTo }))).flatMap((one) => one.deferred.map((to) => `${one.name} ${to}`)));
}

function byKind(items: readonly GraphItem[]): { boxes: Box[]; arrows: Arrow[]; circles: string[] } {
  const counts = new Map<string, Arrow>();
  for (const item of items) for (const to of item.refersTo) {
    const [from, into] = [kindWord(to), kindWord(item.address)];
    if (from === into) continue;
    const before = counts.get(`${from} ${into}`);
    counts.set(`${from} ${into}`, { from, to: into, count: (before?.count ?? 0) + 1 });
  }
  const back = closing(items);
  return {
    boxes: [...groupBy(items, (item) => kindWord(item.address))].map(([kind, list]) => ({ name: kind, label: `${kind} (${list.length})`, status: 'kind', more: many(list.length, 'item') })),
    arrows: [...counts.values()], circles: [...back].slice(0, 6).map((edge) => edge.replace(' ', ' ↔ ')),
  };
}

function draw(boxes: readonly Box[], arrows: readonly Arrow[]): Html {
  const graph = new dagre.graphlib.Graph();
  graph.setGraph({ rankdir: 'LR', nodesep: 10, ranksep: 46, marginx: 8, marginy: 8 });
  graph.setDefaultEdgeLabel(() => ({}));
  for (const box of boxes) graph.setNode(box.name, { width: box.label.length * LETTER + PADDING, height: HEIGHT });
  for (const arrow of arrows) graph.setEdge(arrow.from, arrow.to);
  dagre.layout(graph);
  const circleOf = new Map(dagre.graphlib.alg.findCycles(graph as never).flatMap((names, i) => names.map((name) => [name, i])));
  const { width = 0, height = 0 } = graph.graph() as { width?: number; height?: number };
  const lines = arrows.map((arrow) => {
    const circle = circleOf.has(arrow.from) && circleOf.get(arrow.from) === circleOf.get(arrow.to);
    const { points } = graph.edge(arrow.from, arrow.to) as unknown as { points: { x: number; y: number }[] };
    return html`<path class="${circle ? 'arrow circle' : 'arrow'}" data-from="${arrow.from}" data-to="${arrow.to}" marker-end="url(#${circle ? 'tip-circle' : 'tip'})" d="${curve(points)}"><title>${arrow.to} needs ${arrow.from}${arrow.count > 1 ? ` (${arrow.count} times)` : ''}</title></path>`;
  });
  const nodes = boxes.map((box) => {
    const { x, y, width: wide } = graph.node(box.name) as { x: number; y: number; width: number };
    return html`<g class="node ${box.status}" data-name="${box.name}" tabindex="0" role="button" aria-label="${box.name}, ${box.more}: show what is around it" transform="translate(${(x - wide / 2).toFixed(1)},${(y - HEIGHT / 2).toFixed(1)})"><rect width="${wide.toFixed(1)}" height="${HEIGHT}" rx="6"/><text x="${PADDING / 2}" y="${HEIGHT / 2 + 4}">${box.label}</text></g>`;
  });
  const tip = (id: string): Html => html`<marker id="${id}" viewBox="0 0 8 8" refX="8" refY="4" markerWidth="8" markerHeight="8" orient="auto"><path d="M0 0 8 4 0 8z"/></marker>`;
  return html`<svg role="group" aria-label="dependency graph" width="${Math.ceil(width)}" height="${Math.ceil(height)}" viewBox="0 0 ${Math.ceil(width)} ${Math.ceil(height)}"><defs>${tip('tip')}${tip('tip-circle')}</defs>${lines}${nodes}</svg>`;
}

/** A smooth way through the points: quadratic curves between the middles. */
function curve(points: readonly { x: number; y: number }[]): string {
  const at = ({ x, y }: { x: number; y: number }): string => `${x.toFixed(1)} ${y.toFixed(1)}`;
  const [first, ...rest] = points;
  if (!first) return '';
  const middle = (a: { x: number; y: number }, b: { x: number; y: number }) => ({ x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 });
  return `M${at(first)}` + rest.map((point, i) => (i === rest.length - 1 ? `L${at(point)}` : `Q${at(point)} ${at(middle(point, rest[i + 1] as { x: number; y: number }))}`)).join('');
}
