import type { FastifyInstance } from 'fastify';
import type { Site } from '../api/routes.ts';
import { typeOf } from '../api/filetypes.ts';
import { halve } from '../scenario/pictures.ts';
import { listingHtml, markupHtml, pictureHtml, templateHtml } from './blocks.ts';
import { frame } from './frame.ts';
import { Html, html } from '../../protocol/index.ts';
import { View, type MediaValue, type PageValue, type TemplateValue } from './view.ts';

interface Page { title: string; main: Html }

/** The public side. Pages come from the cache until it is renewed, as with any busy site. */
export function pageRoutes(app: FastifyInstance, site: Site): void {
  const view = new View(site.cms);
  app.get<{ Params: { id: string; file: string } }>('/uploads/:id/:file', (request, reply) => {
    const media = view.byId<MediaValue>(Number(request.params.id));
    const small = request.params.file.replace(/-small(\.[a-z]+)$/, '$1');
    if (!media || ![request.params.file, small].includes(media.fileName)) return reply.code(404).send();
    const bytes = site.cms.state.readMedia(media.file);
    const shown = request.params.file === media.fileName || typeOf(bytes) !== 'image/png' ? bytes : halve(bytes);
    return reply.type(typeOf(shown)).send(shown);
  });
  app.get('/*', (request, reply) => {
    const path = request.url.split('?')[0] ?? '/';
    const cached = site.cache.get(path);
    if (cached !== undefined) return reply.type('text/html').header('x-cache', 'kept').send(cached);
    const page = pageAt(view, decodeURI(path));
    if (!page) return reply.code(404).type('text/html').send(frame(view, 'Not found', html`<h1>This pier is empty</h1><p>There is no page here.</p>`));
    const text = frame(view, page.title, page.main);
    site.cache.set(path, text);
    return reply.type('text/html').header('x-cache', 'made').send(text);
  });
}

function pageAt(view: View, path: string): Page | undefined {
  const [first = '', second, ...rest] = path.split('/').filter((segment) => segment !== '');
  if (rest.length > 0) return undefined;
  if (second !== undefined) return itemAt(view, first, second) ?? entryAt(view, first, second);
  if (first === 'tickets') return tickets(view);
  return contentAt(view, first === '' ? 'home' : first) ?? typeAt(view, first);
}

function contentAt(view: View, slug: string): Page | undefined {
  const page = view.byName<PageValue>('tholepin/page', slug);
  if (!page) return undefined;
  const body = page.template > 0 ? templateHtml(view, page.template) : html``;
  const heading = page.template > 0 ? html`` : html`<h1>${page.title}</h1>`;
  return { title: page.title, main: html`${heading}${markupHtml(view, page.markup)}${body}` };
}

function itemAt(view: View, folder: string, name: string): Page | undefined {
  if (folder === 'templates') {
    const template = view.byName<TemplateValue>('tholepin/template', name);
    return template && { title: template.title, main: templateHtml(view, template.id) };
  }
  if (folder === 'listings') {
    const listing = view.byName<{ title: string }>('crossing-board/listing', name);
    return listing && { title: listing.title, main: listingHtml(view, listing.id) };
  }
  if (folder !== 'media') return thingAt(view, folder, name);
  const media = view.byName<MediaValue>('tholepin/media', name);
  return media && { title: media.title, main: html`<h1>${media.title}</h1>${pictureHtml(view, media.id, 'hero')}<p>${media.alt}</p>` };
}

/** Anything else that says where it is shown: its title, and all text and markup in it, in order. */
function thingAt(view: View, folder: string, name: string): Page | undefined {
  const kind = view.cms.kinds.find((one) => one.carried && one.where === `/${folder}/{name}/`);
  const found = kind && view.byName<{ title?: string; label?: string }>(kind.id, name);
  return found && { title: found.title ?? found.label ?? name, main: html`<h1>${found.title ?? found.label ?? name}</h1>${wordsHtml(view, found)}` };
}

function wordsHtml(view: View, value: unknown): Html[] {
  if (Array.isArray(value)) return [html`<ul>${value.map((entry) => html`<li>${wordsHtml(view, entry)}</li>`)}</ul>`];
  if (typeof value !== 'object' || value === null) return [];
  return Object.entries(value).flatMap(([key, entry]) => {
    if (['markup', 'text', 'thanks', 'error'].includes(key) && typeof entry === 'string') return [markupHtml(view, entry)];
    return key === 'label' && typeof entry === 'string' ? [html`<strong>${entry}</strong> `] : wordsHtml(view, entry);
  });
}

function typeAt(view: View, name: string): Page | undefined {
  const type = view.byName<{ label: string }>('tholepin/content-type', name);
  if (!type) return undefined;
  const entries = view.cms.state.config.content.filter((entry) => entry.type === name);
  return { title: type.label, main: html`<h1>${type.label}</h1><ul>${entries.map((entry) => html`<li><a href="/${name}/${entry.slug}/">${entry.title}</a></li>`)}</ul>` };
}

function entryAt(view: View, typeName: string, slug: string): Page | undefined {
  const type = view.byName<{ template: number }>('tholepin/content-type', typeName);
  const entry = view.cms.state.config.content.find((one) => one.type === typeName && one.slug === slug);
  if (!type || !entry) return undefined;
  const fields = Object.entries(entry.fields).map(([key, value]) => html`<tr><th>${key}</th><td>${value}</td></tr>`);
  return { title: entry.title, main: html`<h1>${entry.title}</h1><table>${fields}</table>${templateHtml(view, type.template)}` };
}

function tickets(view: View): Page | undefined {
  const desk = view.option<{ fares: { label: string; price: number }[]; payment: { currency: string }; mail: { subject: string } }>('ticket-desk/settings', 'tickets');
  if (!desk) return undefined;
  const fares = desk.fares.map((fare) => html`<tr><td>${fare.label}</td><td>${fare.price.toFixed(2)} ${desk.payment.currency}</td></tr>`);
  return { title: 'Tickets', main: html`<h1>Tickets</h1><table>${fares}</table><p>You will get a mail: “${desk.mail.subject}”.</p>` };
}
