import type { Facts } from '../core/facts.ts';
import { isProblem, type ProblemCode } from '../core/problem.ts';
import type { Workspace } from './workspace.ts';

export interface SiteStatus { readonly name: string; readonly url: string; readonly role: string; readonly guarded: boolean; readonly facts?: Facts; /** Why nothing is known of it: `unreachable`, or what else is wrong. */ readonly code?: ProblemCode; readonly fault?: string; readonly remedy?: string }

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
      return { ...base, code: error.code, fault: error.message, ...(error.remedy === undefined ? {} : { remedy: error.remedy }) };
    }
  }));
}
