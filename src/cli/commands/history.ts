import type { ExportRecord, RunRecord } from '../../jobs/records/folder.ts';
import { brief, bytes, many } from '../../report/units.ts';
import type { Part, Printer } from '../output/printer.ts';
import { writeReport } from '../output/report.ts';
import { EXIT, type CommandRun } from '../context.ts';

export const run: CommandRun = async ({ call, workspace, words, options, out, json }) => {
  const [site] = words;
  if (site !== undefined) workspace.site(site);
  const runs = workspace.records.runs().filter((one) => site === undefined || one.to === site);
  const exports = workspace.records.exports().filter((one) => site === undefined || one.from === site);
  const all = [...runs.map((one) => ({ at: one.started, one })), ...exports.map((one) => ({ at: one.at, one }))].sort((a, b) => (a.at < b.at ? 1 : a.at > b.at ? -1 : 0));
  if (json) out.json({ history: all.map(({ one }) => one) });
  else if (all.length === 0) out.line('Nothing yet: no import, undo or export is on record here.');
  else out.table(all.map(({ at, one }) => [out.faint(`${at.slice(0, 10)} ${at.slice(11, 16)} UTC`), ...(one.verb === 'export' ? exportRow(out, one) : runRow(out, one))]), 0);
  await writeReport(call, options, async () => (await import('../../report/index.ts')).historyPage(all.map(({ one }) => one), site, workspace.now().toISOString()));
  return EXIT.done;
};

function runRow(out: Printer, one: RunRecord): Part[] {
  const state = one.undoneBy !== undefined ? out.faint('undone') : one.state === 'done' ? out.good('done') : out.note(one.state);
  const what = one.undoes === undefined ? `${one.from} → ${one.to}` : `${one.to}, takes back ${one.undoes}`;
  const did = [[one.created, 'created'], [one.updated, one.verb === 'undo' ? 'restored' : 'updated'], [one.deleted, 'removed']] as const;
  return [out.strong(one.verb), what, out.name(one.run), did.filter(([count]) => count > 0).map(([count, word]) => `${count} ${word}`).join(', '), one.by, state];
}

function exportRow(out: Printer, one: ExportRecord): Part[] {
  return [out.strong('export'), `${one.from} → ${one.file.slice(one.file.lastIndexOf('/') + 1)}`, out.faint(one.digest.slice(0, 20)), `${many(one.items, 'item')}, ${bytes(one.bytes)}`, one.by, brief(one.title, 16)];
}
