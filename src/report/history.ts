import { html } from '../core/html.ts';
import type { ExportRecord, RunRecord } from '../jobs/records/folder.ts';
import { page } from './page.ts';
import { bytes, many } from './units.ts';

/** What went where, when and by whom, newest first. */
export function historyPage(records: readonly (RunRecord | ExportRecord)[], site: string | undefined, made: string): string {
  const runs = records.filter((one) => one.verb !== 'export').length;
  return page({
    title: site === undefined ? 'History' : `History of ${site}`, made,
    header: html`<h1>History${site === undefined ? html`` : html` <span>of</span> ${site}`}</h1><p>${many(runs, 'run')} and ${many(records.length - runs, 'export')} on record here.</p>`,
    main: html`<table class="wide"><thead><tr><th scope="col">When</th><th scope="col">What</th><th scope="col">Where</th><th scope="col">How much</th><th scope="col">By</th><th scope="col">State</th></tr></thead><tbody>${records.map((one) => (one.verb === 'export' ? exportRow(one) : runRow(one)))}</tbody></table>`,
  });
}

function moment(at: string): string { return `${at.slice(0, 10)} ${at.slice(11, 16)} UTC`; }

function runRow(one: RunRecord) {
  const did = [[one.created, 'created'], [one.updated, one.verb === 'undo' ? 'restored' : 'updated'], [one.deleted, 'removed'], [one.files, 'files']] as const;
  const state = one.undoneBy === undefined ? one.state : 'undone';
  return html`<tr><td>${moment(one.started)}</td><td><b>${one.verb}</b> <code>${one.run}</code></td><td>${one.undoes === undefined ? `${one.from} → ${one.to}` : `${one.to}, takes back ${one.undoes}`}</td><td>${did.filter(([count]) => count > 0).map(([count, word]) => `${count} ${word}`).join(', ')}</td><td>${one.by}</td><td class="${state === 'done' ? 'new' : state === 'failed' ? 'bad' : ''}">${state}</td></tr>`;
}

function exportRow(one: ExportRecord) {
  return html`<tr><td>${moment(one.at)}</td><td><b>export</b> <code>${one.digest.slice(0, 12)}…</code></td><td>${one.from} → ${one.file.slice(one.file.lastIndexOf('/') + 1)}</td><td>${many(one.items, 'item')}, ${bytes(one.bytes)}</td><td>${one.by}</td><td>${one.title}</td></tr>`;
}
