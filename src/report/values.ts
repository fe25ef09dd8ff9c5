import type { Change } from '../core/compare.ts';
import { Html, html } from '../core/html.ts';
import type { Json } from '../core/json.ts';
import { contrast, rgbOf } from './colour.ts';
import { labelOf, type Labels } from './labels.ts';
import { markedTexts } from './marked.ts';
import { opened, readable } from './readable.ts';
import { bytes } from './units.ts';

/** A picture that can be shown, or what is known of one that cannot. */
export interface Picture { readonly type: string; readonly bytes: number; /** As a `data:` address, where it is small enough. */ readonly data?: string; readonly size?: { readonly width: number; readonly height: number } }
/** What values need besides themselves. */
export interface ValueView { readonly labels: Labels; readonly kind: string; readonly pictures: ReadonlyMap<string, Picture> }

const WHITE: [number, number, number] = [255, 255, 255];
const BLACK: [number, number, number] = [0, 0, 0];
const CODE = /[<>{}\n]/;
const DIGEST = /^[0-9a-f]{64}$/;
/** Names and words of a `font-family`, and nothing that could end the declaration. */
const FONTS = /^[\w '",-]{1,200}$/;

/** Both values of a changed place. */
export function sidesOf(change: Change, view: ValueView): [Html, Html] {
  const nothing = html`<i>nothing</i>`;
  const name = change.at.slice(change.at.lastIndexOf('/') + 1);
  switch (change.change) {
    case 'new': return [valueOf(change.source, name, view), nothing];
    case 'target-only': return [nothing, valueOf(change.target, name, view)];
    case 'order': return [html`in this order: ${change.source.join(', ')}`, html`in this order: ${change.target.join(', ')}`];
    case 'differs': return isPlainText(change.source, name) && isPlainText(change.target, name) ? marked(readable(change.source), readable(change.target)) : [valueOf(change.source, name, view), valueOf(change.target, name, view)];
  }
}

function isPlainText(value: Json, name: string): value is string {
  return typeof value === 'string' && !rgbOf(value) && !DIGEST.test(value) && !isFont(value, name);
}

function isFont(value: string, name: string): boolean { return /font|family/i.test(name) && FONTS.test(value) && /[a-z]/i.test(value); }

/** Both texts with what differs marked in each. */
function marked(source: string, target: string): [Html, Html] {
  const code = CODE.test(source) || CODE.test(target);
  const [left, right] = markedTexts(source, target);
  const side = (text: string, shown: Html): Html => (text === '' ? html`<i>empty</i>` : written(shown, code));
  return [side(source, left), side(target, right)];
}

/** A value for the eye: colours, fonts and pictures as such, maps as tables, texts as they are. */
function valueOf(portable: Json, name: string, view: ValueView): Html {
  const value = opened(portable);
  if (typeof value === 'string') return textOf(value, name, view);
  if (value === null || typeof value !== 'object') return html`${value === true ? 'yes' : value === false ? 'no' : String(value)}`;
  if (Array.isArray(value)) return value.length === 0 ? html`<i>none</i>` : html`<ol>${value.map((one) => html`<li>${valueOf(one, name, view)}</li>`)}</ol>`;
  if (typeof value['@ref'] === 'string') return html`<code>${value['@ref']}</code>`;
  const members = Object.entries(value);
  return members.length === 0 ? html`<i>nothing in it</i>` : html`<dl>${members.map(([key, one]) => html`<dt>${labelOf(view.labels, view.kind, key)}</dt><dd>${valueOf(one, key, view)}</dd>`)}</dl>`;
}

function textOf(text: string, name: string, { pictures }: ValueView): Html {
  const rgb = rgbOf(text);
  if (rgb) return html`<span class="swatch" style="background:${text}"></span> ${text} <small>contrast ${contrast(rgb, WHITE).toFixed(1)} on white, ${contrast(rgb, BLACK).toFixed(1)} on black</small>`;
  if (isFont(text, name)) return html`<span class="sample" style="font-family:${text}">Ferries to the isles, 0123</span> <small>${text}</small>`;
  const picture = DIGEST.test(text) ? pictures.get(text) : undefined;
  if (picture) return pictureOf(picture, text);
  return text === '' ? html`<i>empty</i>` : written(html`${readable(text)}`, CODE.test(text));
}

/** Code and markup in letters of one width. */
function written(text: Html, code: boolean): Html { return code ? html`<pre>${text}</pre>` : text; }

function pictureOf({ type, bytes: count, data, size }: Picture, digest: string): Html {
  const about = `${type}, ${bytes(count)}${size ? `, ${size.width} × ${size.height}` : ''}`;
  if (data === undefined) return html`<i>${about}; too large to be shown here</i>`;
  return html`<figure><img src="${data}" alt="the picture with digest ${digest.slice(0, 12)}" loading="lazy"><figcaption>${about}</figcaption></figure>`;
}
