import type { Address } from '../core/address.ts';
import { compare, type ItemFinding } from './compare.ts';
import type { Choices } from './plan.ts';
import type { SiteSource } from './sources/site.ts';
import type { Source } from './sources/source.ts';

export interface PageAnswer { readonly url: string; readonly status: number; readonly items: readonly Address[] }
export interface VerifyResult {
  readonly same: number;
  readonly unequal: readonly ItemFinding[];
  readonly missing: readonly ItemFinding[];
  /** Public pages where items can be seen, as a visitor gets them. */
  readonly pages: readonly PageAnswer[];
}

/** Is everything of the source on the target, equal, and do the pages answer on which it shows? */
export async function verify(from: Source, to: SiteSource, choices: Choices): Promise<VerifyResult> {
  const unequal: ItemFinding[] = [];
  const missing: ItemFinding[] = [];
  const pages = new Map<string, Address[]>();
  let same = 0;
  for await (const finding of compare(from, to, choices.choice, { wishes: choices, fresh: true }).findings) {
    if (finding.status === 'target-only') continue;
    if (finding.status === 'same') same++;
    else (finding.status === 'new' ? missing : unequal).push(finding);
    const path = to.index.seenAt(finding.address);
    if (path !== undefined && finding.status !== 'new') pages.set(path, [...(pages.get(path) ?? []), finding.address]);
  }
  const answers: PageAnswer[] = [];
  for (const [path, items] of pages) answers.push({ url: to.index.site + path, status: await to.connector.pageStatus(path), items });
  return { same, unequal, missing, pages: answers };
}
