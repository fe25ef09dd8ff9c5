import type { Facts } from '../../core/facts.ts';
import { siteStatuses, type SiteStatus } from '../../jobs/sites.ts';
import type { Printer } from '../output/printer.ts';
import { EXIT, type CommandRun } from '../context.ts';

export const run: CommandRun = async ({ workspace, out, json, quiet }) => {
  const statuses = await siteStatuses(workspace);
  if (json) out.json({ sites: statuses });
  else {
    for (const status of statuses) printSite(out, status);
    const [ready] = statuses.filter((status) => status.facts);
    if (!quiet && ready) { out.line(); out.line('Next: "pochette list ', ready.name, '" shows what can travel.'); }
  }
  return EXIT.done;
};

function printSite(out: Printer, { name, url, role, guarded, facts, code, fault, remedy }: SiteStatus): void {
  const state = facts ? out.good('answers') : out.bad(code === 'unreachable' ? 'does not answer' : 'cannot be read');
  out.line(out.strong(name), '  ', role, guarded ? ', guarded' : '', '  ', state, '  ', out.faint(url));
  if (!facts) {
    out.line('      ', fault ?? '');
    if (remedy !== undefined) out.line('      what to do: ', remedy);
    return;
  }
  out.table([
    ['site', `${facts.site.title}  (id ${facts.site.id})`],
    ['CMS', versioned(facts.cms)],
    ['theme', `${versioned(facts.theme)}${facts.theme.parent ? `, child of ${versioned(facts.theme.parent)}` : ''}`],
    ['extensions', facts.extensions.map(extensionText).join(', ')],
    ['rights', facts.rights.includes('write') ? 'may read and write' : out.note('may only read')],
    ...(facts.notes ?? []).map((note) => ['note', out.note(note)]),
  ], 6);
}

/** Not every site can tell a version. */
function versioned({ title, version }: { title: string; version: string }): string { return version === '' ? title : `${title} ${version}`; }

function extensionText(extension: Facts['extensions'][number]): string {
  const features = Object.entries(extension.features).map(([feature, on]) => `${feature} ${on ? 'on' : 'off'}`);
  const notes = [...(extension.active ? [] : ['inactive']), ...(extension.tier === undefined ? [] : [`tier ${extension.tier}`]), ...features];
  return `${versioned(extension)}${notes.length > 0 ? ` (${notes.join(', ')})` : ''}`;
}
