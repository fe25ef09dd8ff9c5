import type { Extension, Place, Planted, Thing } from './extension.ts';

export const id = (key: string): Planted => ({ $id: key });
export const text = (key: string): Planted => ({ $text: key });
export const list = (...keys: string[]): Planted => ({ $list: keys });
export const picture = (key: string): Planted => ({ $picture: key });
export const all = (...parts: Planted[]): Planted => ({ $all: parts });
export const json = (value: Planted): Planted => ({ $json: value });
export const php = (value: Planted): Planted => ({ $php: value });
export const by = (...pairs: [string, Planted][]): Planted => ({ $by: pairs });
export const page = (key: string): Planted => all('{home}/?page_id=', id(key));

export const option = (name: Planted, value: Planted): Place => ({ in: 'option', of: '', name, value });
export const field = (of: string, name: Planted, value: Planted): Place => ({ in: 'field', of, name, value });
export const content = (of: string, value: Planted): Place => ({ in: 'record', of, name: 'post_content', value });
/** What is written of a term. */
export const described = (of: string, value: Planted): Place => ({ in: 'column', of, table: 'term_taxonomy', key: 'term_id', name: 'description', value });
export const rows = (of: string, table: string, name: string, key: string, value: Planted[]): Place => ({ in: 'rows', of, table, name, key, value });

export const entry = (of: string, slug: string, live = false): Thing => ({ key: `${of}/${slug}`, sort: 'entry', of, slug, live });
export const term = (of: string, slug: string, live = false): Thing => ({ key: `${of}/${slug}`, sort: 'term', of, slug, live });
/** Rows of a table, and what their columns hold. */
export function table(of: string, named: readonly [string, string], rowsOf: Readonly<Record<string, { readonly live?: boolean; readonly [column: string]: Planted | undefined }>>): { things: Thing[]; places: Place[] } {
  const places = Object.entries(rowsOf).flatMap(([slug, { live: _live, ...columns }]) => Object.entries(columns).map(([name, value]): Place => ({ in: 'column', of: `${of}/${slug}`, table: of, key: named[0], name, value: value ?? '' })));
  return { things: Object.entries(rowsOf).map(([slug, { live = false }]): Thing => ({ key: `${of}/${slug}`, sort: 'row', of, slug, live, by: named })), places };
}
export const KEY = 'bigint unsigned not null auto_increment primary key';

/** An extension with what every site has: a few pages, categories, menus and pictures, half of them on both. Tables of the development site begin to count at 1, as in real life. */
export function extension({ types = [], taxonomies = [], tables = {}, things = [], places = [], filled = [] }: Partial<Pick<Extension, 'types' | 'taxonomies' | 'tables' | 'things' | 'places'>> & { readonly filled?: readonly { things: Thing[]; places: Place[] }[] }): Extension {
  const pages = ['timings', 'haven', 'freight', 'parking', 'lounge'].map((slug): Thing => ({ key: `page/${slug}`, sort: 'page', of: 'page', slug, live: true }));
  const pictures = ['quay', 'deck', 'bow', 'mast'].map((slug, i): Thing => ({ key: `picture/${slug}`, sort: 'picture', of: 'attachment', slug, live: i < 2 }));
  const categories = ['boats', 'ports', 'crew'].map((slug) => term('category', slug, true));
  const menus = ['topbar', 'foot'].map((slug, i): Thing => ({ key: `menu/${slug}`, sort: 'menu', of: '', slug, live: i === 0 }));
  return {
    types: [...types, 'hb_note'], taxonomies, tables, skip: [40, 0],
    things: [...pictures, ...pages, ...categories, ...menus, ...things, entry('hb_note', 'lounge'), ...filled.flatMap((one) => one.things)], places: [...places, ...filled.flatMap((one) => one.places)],
  };
}
