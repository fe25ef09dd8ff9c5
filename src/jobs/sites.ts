import type { Facts } from '../core/facts.ts';
import { isProblem } from '../core/problem.ts';
import type { Workspace } from './workspace.ts';

export interface SiteStatus { readonly name: string; readonly url: string; readonly role: string; readonly guarded: boolean; readonly facts?: Facts; readonly fault?: string }

/** Asks every configured site what it is; one that does not answer is a line of the result and no failure. */
export async function siteStatuses(workspace: Workspace): Promise<SiteStatus[]> {
  return Promise.all(workspace.siteNames().map(async (name): Promise<SiteStatus> => {
    const { url, role, guarded } = workspace.site(name);
    const base = { name, url, role, guarded };
    try {
      const connector = await workspace.connector(name);
      try { return { ...base, facts: await connector.facts() }; } finally { await connector.close(); }
    } catch (error) {
      if (!isProblem(error)) throw error;
      return { ...base, fault: error.message };
    }
  }));
}
