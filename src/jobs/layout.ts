import type { LayoutCheck } from '../sites/database/check.ts';
import { Problem } from '../core/problem.ts';
import type { Workspace } from './workspace.ts';

/** What the layout of a site in a database finds, and what nothing describes. */
export async function checkLayout(workspace: Workspace, name: string): Promise<LayoutCheck> {
  const site = databaseSite(workspace, name);
  const { openDatabase, checkLayout: check } = await import('../sites/database/open.ts');
  const connector = await openDatabase(site);
  try { return await check(connector); } finally { await connector.close(); }
}

/** A commented beginning of a layout for a database that none fits yet. */
export async function draftLayout(workspace: Workspace, name: string): Promise<string> {
  const site = databaseSite(workspace, name);
  const { draftLayout: draft } = await import('../sites/database/open.ts');
  return draft(site);
}

function databaseSite(workspace: Workspace, name: string) {
  const { url } = workspace.site(name);
  if (/^(mysql|postgres|postgresql|sqlite):/.test(url)) return workspace.database(name);
  throw new Problem('usage', `${name} is not in a database, so that it has no layout`, { where: `${workspace.loaded.path}, sites.${name}.url`, remedy: 'layouts are for sites whose url begins with mysql:, postgres: or sqlite:' });
}
