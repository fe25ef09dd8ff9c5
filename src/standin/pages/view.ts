import type { Cms } from '../site/cms.ts';
import type { SiteRecord } from '../site/state.ts';

/** Read access for the pages: values by id or name, drafts left out. */
export class View {
  constructor(readonly cms: Cms) {}

  byId<T>(id: number): (T & { id: number; name: string }) | undefined {
    return this.#open<T>(this.cms.state.records.get(id));
  }

  byName<T>(kind: string, name: string): (T & { id: number; name: string }) | undefined {
    return this.#open<T>(this.cms.state.find(kind, name));
  }

  all<T>(kind: string): (T & { id: number; name: string })[] {
    return this.cms.rows().filter((record) => record.kind === kind).flatMap((record) => this.#open<T>(record) ?? []);
  }

  /** The settings blob of an active extension. */
  option<T>(kind: string, name: string): T | undefined {
    const record = this.byName<{ option: string }>(kind, name);
    return record && (JSON.parse(record.option) as T);
  }

  #open<T>(record: SiteRecord | undefined) {
    if (!record || record.status === 'draft') return undefined;
    return { ...(record.value as T), id: record.id, name: record.name };
  }
}

export interface TemplateValue { title: string; markup: string; hero: number }
export interface ListingValue { title: string; source: string; look: string; card: number; limit: number; sort: string; more: string; live: boolean; columns: { key: string; label: string; show: boolean }[] }
export interface MenuValue { label: string; position: string; entries: MenuEntry[] }
export interface MenuEntry { label: string; type: string; target: number; url: string; entries: MenuEntry[] }
export interface PlacementValue { label: string; blocks: { type: string; shows: number; text: string }[] }
export interface StyleValue { colours: { key: string; label: string; value: string }[]; fonts: { key: string; family: string; size: number }[]; css: string; backdrop: number }
export interface MediaValue { title: string; alt: string; fileName: string; file: string }
export interface ThemeValue { header: { menu: number; notice: number; sticky: boolean }; footer: { text: string; columns: number } }
export interface PageValue { title: string; markup: string; template: number }
