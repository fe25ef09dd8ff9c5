import type { Facts } from '../../core/facts.ts';
import { siteStatuses, type SiteStatus } from '../../jobs/sites.ts';
import type { Printer } from '../output/printer.ts';
import { EXIT, type CommandRun } from '../context.ts';

export const run: CommandRun = async ({ workspace, out, json, quiet }) => {
  const statuses = await siteStatuses(workspace);
  if (json) out.json({ sites: statuses });
  else {
    for (const status of statuses) printSite(out, status);
    if (!quiet) { out.line(); out.line('Next: "pochette list ', statuses[0]?.name ?? 'SITE', '" shows what can travel.'); }
  }
  return EXIT.done;
};

function printSite(out: Printer, { name, url, role, guarded, facts, fault }: SiteStatus): void {
  const state = facts ? out.good('answers') : out.bad('does not answer');
  out.line(out.strong(name), '  ', role, guarded ? ', guarded' : '', '  ', state, '  ', out.faint(url));
  if (!facts) { out.line('      ', fault ?? ''); return; }
  out.table([
    ['site', `${facts.site.title}  (id ${facts.site.id})`],
    ['CMS', `${facts.cms.title} ${facts.cms.version}`],
    ['theme', `${facts.theme.title} ${facts.theme.version}${facts.theme.parent ? `, child of ${facts.theme.parent.title} ${facts.theme.parent.version}` : ''}`],
    ['extensions', facts.extensions.map(extensionText).join(', ')],
    ['token', facts.rights.includes('write') ? 'may read and write' : out.note('may only read')],
  ], 6);
}

function extensionText(extension: Facts['extensions'][number]): string {
  const features = Object.entries(extension.features).map(([feature, on]) => `${feature} ${on ? 'on' : 'off'}`);
  const notes = [...(extension.active ? [] : ['inactive']), ...(extension.tier === undefined ? [] : [`tier ${extension.tier}`]), ...features];
  return `${extension.title} ${extension.version}${notes.length > 0 ? ` (${notes.join(', ')})` : ''}`;
}
