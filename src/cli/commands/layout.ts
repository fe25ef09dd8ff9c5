import { existsSync, writeFileSync } from 'node:fs';
import { Problem } from '../../core/problem.ts';
import { checkLayout, draftLayout } from '../../jobs/layout.ts';
import type { LayoutCheck } from '../../sites/database/check.ts';
import type { Place } from '../../sites/database/suspicion.ts';
import { many } from '../../report/units.ts';
import type { Printer } from '../output/printer.ts';
import { EXIT, type CommandRun } from '../context.ts';

const SHOWN = 12;

export const run: CommandRun = async ({ workspace, words, options, out, json, quiet }) => {
  const [action, site] = words;
  if (site === undefined || (action !== 'check' && action !== 'draft')) throw new Problem('usage', 'say what to do with the layout of which site', { remedy: 'pochette layout check SITE, or pochette layout draft SITE' });
  if (action === 'check') {
    const check = await checkLayout(workspace, site);
    if (json) out.json(check); else print(out, check, site, quiet);
    return check.faults.length + check.sameName.length > 0 ? EXIT.differences : EXIT.done;
  }
  const text = await draftLayout(workspace, site);
  const file = typeof options['output'] === 'string' ? options['output'] : undefined;
  if (file === undefined) { out.raw(text); return EXIT.done; }
  if (existsSync(file)) throw new Problem('usage', `${file} is there already`, { remedy: 'name another file, or remove that one' });
  writeFileSync(file, text);
  if (json) out.json({ written: file });
  else {
    out.line(out.good('Written: '), file, `, ${many(text.split('\n').filter((line) => line.startsWith('  - id:')).length, 'kind')}, all of it guessed.`);
    if (!quiet) out.line(`Next: read it, add "layout: ${file}" to sites.${site} in pochette.yaml, then "pochette layout check ${site}".`);
  }
  return EXIT.done;
};

function print(out: Printer, check: LayoutCheck, site: string, quiet: boolean): void {
  out.line(out.strong(site), `: the layout "${check.layout}" (${check.title}) fits; tables begin with "${check.prefix}", the site is at ${check.address}.`);
  out.heading('What it finds');
  out.table(check.kinds.map((kind) => [out.name(kind.kind), many(kind.items, 'item'), kind.examples.slice(0, 3).join(', '), out.faint(kind.where)]));
  out.heading('Rows of the tables');
  out.table(check.tables.map((table) => [table.table, table.left ? out.faint('left alone') : table.alias === undefined ? out.note('not in the layout') : `${table.described} of ${table.rows} described`, table.alias === undefined ? many(table.rows, 'row') : table.described < table.rows ? `not described: ${table.others[0] ?? ''}` : '']));
  places(out, 'Rows with one name (only the first can travel)', check.sameName);
  places(out, 'Values to look at', check.faults);
  places(out, 'Paths on the disk of the server (they are carried as they are)', check.onDisk);
  if (check.suspects.length > 0) {
    out.heading('Numbers that are ids of items, and that nothing describes as references (they are carried as they are)');
    out.table(check.suspects.slice(0, SHOWN).map(({ kind, name, places: count, example }) => [out.name(kind), name, many(count, 'place'), `${example.address}#${example.at}: ${example.what}`]));
    if (check.suspects.length > SHOWN) out.line(`  and ${check.suspects.length - SHOWN} more (--json has all)`);
  }
  if (!quiet) { out.line(); out.line(`Next: "pochette list ${site}" shows the items. What nothing describes is never touched.`); }
}

function places(out: Printer, heading: string, list: readonly Place[]): void {
  if (list.length === 0) return;
  out.heading(heading);
  out.table(list.slice(0, SHOWN).map(({ address, at, what }) => [out.name(at === '' ? address : `${address}#${at}`), what]));
  if (list.length > SHOWN) out.line(`  and ${list.length - SHOWN} more (--json has all)`);
}
