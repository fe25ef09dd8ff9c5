import type { Address } from '../core/address.ts';
import { compare, type ItemFinding } from './compare.ts';
import type { Choices } from './plan.ts';
import { pagesOf, type PageAnswer } from './pages.ts';
import type { SiteSource } from './sources/site.ts';
import type { Source } from './sources/source.ts';

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
  const there: Address[] = [];
  let same = 0;
  const { findings } = await compare(from, to, choices.choice, { wishes: choices, fresh: true });
  for await (const finding of findings) {
    if (finding.status === 'target-only') continue;
    if (finding.status === 'same') same++;
    else (finding.status === 'new' ? missing : unequal).push(finding);
    if (finding.status !== 'new') there.push(finding.address);
  }
  return { same, unequal, missing, pages: await pagesOf(to, there) };
}
