import type { Address } from '../core/address.ts';
import type { SiteSource } from './sources/site.ts';

export interface PageAnswer { readonly url: string; readonly status: number; readonly items: readonly Address[] }

const OK = 200;

/** Asks for every public page on which items show, each once, as a visitor gets it; drafts are on none. */
export async function pagesOf(site: SiteSource, items: readonly Address[]): Promise<PageAnswer[]> {
  const pages = new Map<string, Address[]>();
  for (const item of items) {
    const path = site.index.row(item)?.status === 'draft' ? undefined : site.index.seenAt(item);
    if (path === undefined) continue;
    const list = pages.get(path);
    if (list) list.push(item); else pages.set(path, [item]);
  }
  const answers: PageAnswer[] = [];
  for (const [path, same] of pages) {
    const url = site.index.urlOf(path);
    answers.push({ url, status: await site.connector.pageStatus(url), items: same });
  }
  return answers;
}

/** The first pages that do not answer; after many items only some pages are asked for. */
export async function silentPages(site: SiteSource, items: readonly Address[]): Promise<PageAnswer[]> {
  return (await pagesOf(site, items.slice(0, MOST_ASKED))).filter((page) => page.status !== OK);
}
/** `verify` asks for all of them. */
const MOST_ASKED = 200;
