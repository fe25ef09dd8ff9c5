import type { Entry } from '../site/state.ts';
import { Html, html } from '../../protocol/index.ts';
import type { ListingValue, MediaValue, MenuEntry, MenuValue, PlacementValue, TemplateValue, View } from './view.ts';

const MAX_NESTING = 6;

/** A template: its picture, then its markup with blocks filled in. Markup is the site's own and trusted, as in any CMS. */
export function templateHtml(view: View, id: number, depth = 0): Html {
  const template = view.byId<TemplateValue>(id);
  if (!template || depth > MAX_NESTING) return html``;
  const hero = pictureHtml(view, template.hero, 'hero');
  return html`${hero}${markupHtml(view, template.markup, depth)}`;
}

/** Fills `<!-- block {…} -->` comments. */
export function markupHtml(view: View, markup: string, depth = 0): Html {
  return new Html(markup.replace(/<!-- block (\{.*?\}) -->/g, (_all, data: string) => blockHtml(view, data, depth).text));
}

function blockHtml(view: View, data: string, depth: number): Html {
  const { listing, template, reusable, heading } = JSON.parse(data) as { listing?: number; template?: number; reusable?: number; heading?: string };
  if (reusable !== undefined) return depth > MAX_NESTING ? html`` : markupHtml(view, view.byId<{ markup: string }>(reusable)?.markup ?? '', depth + 1);
  if (listing !== undefined) return listingHtml(view, listing, heading);
  return template === undefined ? html`` : templateHtml(view, template, depth + 1);
}

export function pictureHtml(view: View, id: number, className: string): Html {
  const media = view.byId<MediaValue>(id);
  return media ? html`<img class="${className}" src="/uploads/${id}/${media.fileName}" alt="${media.alt}">` : html``;
}

export function listingHtml(view: View, id: number, heading?: string): Html {
  const listing = view.byId<ListingValue>(id);
  if (!listing) return html`<p class="gap">A listing is missing here.</p>`;
  const found = view.cms.state.config.content.filter((entry) => entry.type === listing.source)
    .sort((a, b) => compare(field(a, listing.sort), field(b, listing.sort))).slice(0, listing.limit);
  const more = listing.more === '' ? html`` : html`<p class="more"><a href="${listing.more}">More</a></p>`;
  const live = listing.live ? html`<span class="live">live</span>` : html``;
  return html`<section class="listing"><h2>${heading ?? listing.title} ${live}</h2>${listing.look === 'cards' ? cards(view, listing, found) : table(listing, found)}${more}</section>`;
}

function table(listing: ListingValue, entries: readonly Entry[]): Html {
  const columns = listing.columns.filter((column) => column.show);
  const rows = entries.map((entry) => html`<tr>${columns.map((column) => html`<td>${field(entry, column.key)}</td>`)}</tr>`);
  return html`<table><thead><tr>${columns.map((column) => html`<th>${column.label}</th>`)}</tr></thead><tbody>${rows}</tbody></table>`;
}

function cards(view: View, listing: ListingValue, entries: readonly Entry[]): Html {
  const card = view.byId<TemplateValue>(listing.card);
  return html`<div class="cards">${entries.map((entry) => new Html(`<article>${fill(card?.markup ?? '{{title}}', entry)}</article>`))}</div>`;
}

function fill(markup: string, entry: Entry): string {
  return markup.replace(/\{\{([a-z-]+)\}\}/g, (_all, key: string) => html`${field(entry, key)}`.text);
}

function field(entry: Entry, key: string): string | number {
  return key === 'title' ? entry.title : entry.fields[key] ?? '';
}

function compare(a: string | number, b: string | number): number {
  return a < b ? -1 : a > b ? 1 : 0;
}

export function menuHtml(view: View, menu: MenuValue | undefined): Html {
  return menu ? html`<ul>${menu.entries.map((entry) => entryHtml(view, entry))}</ul>` : html``;
}

function entryHtml(view: View, entry: MenuEntry): Html {
  const record = view.cms.state.records.get(entry.target);
  const folder = { template: '/templates', listing: '/listings' }[entry.type] ?? '';
  const to = entry.type === 'url' ? entry.url : record ? (view.cms.urls(record)?.[''] ?? `${folder}/${record.name}/`) : '';
  const below = entry.entries.length > 0 ? html`<ul>${entry.entries.map((one) => entryHtml(view, one))}</ul>` : html``;
  return to === '' ? html`` : html`<li><a href="${to}">${entry.label}</a>${below}</li>`;
}

/** An area of the theme with its placed blocks. */
export function areaHtml(view: View, name: string): Html {
  const placement = view.byName<PlacementValue>('tholepin/placement', name);
  const blocks = (placement?.blocks ?? []).map((block) => html`<div class="block">${placedHtml(view, block)}</div>`);
  return html`${blocks}`;
}

function placedHtml(view: View, block: { type: string; shows: number; text: string }): Html {
  switch (block.type) {
    case 'template': return templateHtml(view, block.shows);
    case 'listing': return listingHtml(view, block.shows);
    case 'picture': return pictureHtml(view, block.shows, 'small');
    case 'menu': return menuHtml(view, view.byId<MenuValue>(block.shows));
    default: return markupHtml(view, block.text);
  }
}
