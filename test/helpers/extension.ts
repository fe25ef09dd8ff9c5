import { draws } from './draws.ts';

/** A value as extension.php plants it: what begins with a dollar sign stands for an id, an address or a packing. */
export type Planted = string | number | boolean | Planted[] | { [name: string]: Planted };
/** Something that has an id: on both sites, or on the development site only. */
export interface Thing { readonly key: string; readonly sort: 'page' | 'entry' | 'picture' | 'term' | 'menu' | 'row'; readonly of: string; readonly slug: string; readonly live: boolean; /** Of a row: the columns of its id and of what it is called. */ readonly by?: readonly [string, string] }
export interface Place { readonly in: 'option' | 'field' | 'record' | 'term' | 'terms' | 'column' | 'row' | 'rows'; readonly of: string; readonly table?: string; /** The column with the id; of rows the one that orders them. */ readonly key?: string; readonly name: Planted; readonly value: Planted }
/** Things of one sort, and what names for one and for several of them end with. */
interface Sort { readonly word: string; readonly things: readonly string[]; readonly one: readonly string[]; readonly many: readonly string[] }

export interface Extension { readonly types: readonly string[]; readonly taxonomies: readonly string[]; readonly tables: Readonly<Record<string, string>>; readonly skip: readonly [number, number]; readonly things: readonly Thing[]; readonly places: readonly Place[] }

/** The same extension by another maker: what begins with "hb" begins with other letters. */
export function madeBy(letters: string, extension: Extension): Extension {
  return JSON.parse(JSON.stringify(extension).replaceAll('hb', letters).replaceAll('Hb', letters.charAt(0).toUpperCase() + letters.slice(1))) as Extension;
}

/** Several extensions on one site, as there are: what all have is there once, and a text in which several show something has what each shows, one after the other. */
export function together(extensions: readonly Extension[]): Extension {
  const [things, places] = [new Map<string, Thing>(), new Map<string, Place>()];
  for (const one of extensions) for (const thing of one.things) things.set(thing.key, thing);
  for (const place of extensions.flatMap((one) => one.places)) {
    const key = JSON.stringify([place.in, place.of, place.table, place.name]);
    const there = places.get(key);
    if (there && place.in !== 'record') throw new Error(`two extensions have ${key}`);
    places.set(key, there ? { ...there, value: { $all: [there.value, place.value] } } : place);
  }
  const of = <Of>(list: (one: Extension) => readonly Of[]): Of[] => [...new Set(extensions.flatMap(list))];
  return { types: of((one) => one.types), taxonomies: of((one) => one.taxonomies), tables: Object.assign({}, ...extensions.map((one) => one.tables)) as Extension['tables'], skip: (extensions[0] as Extension).skip, things: [...things.values()], places: [...places.values()] };
}

const MEASURES = ['width', 'columns', 'per_page', 'limit', 'delay', 'year', 'price', 'max_items', 'image_width', 'post_count', 'version', 'font_size', 'timeout', 'seats', 'priority', 'menu_height', 'quality'];
const LINKS = ['{home}/fares/', '{home}/timetable/islands/#top', '/contact/', '{home}/contact/?from=52&to=60', 'https://other.example/?p=60', '#box-52'];

/** An extension with settings, entries, terms, fields and perhaps a table with child rows, which mean things of the site in whatever way there is. The same for the same seed. */
export function madeUpExtension(seed: number, withTable: boolean): Extension {
  const { next, whole, pick, chance, some } = draws(seed);
  const family = pick(['jetty', 'hb', 'wx', 'ferrydesk', 'qy']);
  const words = some(['popup', 'form', 'ticket', 'banner', 'quiz', 'lesson', 'section', 'notice', 'funnel', 'coupon'], 2);
  const types = words.map((word) => pick([`${family}_${word}`, word, `${family}-${word}`]));
  const topic = pick(['topic', 'zone', 'group']);
  const taxonomy = `${family}_${topic}`;
  const table = withTable ? pick(['calendar', 'tariff', 'survey', 'badge', 'chart']) : undefined;
  const [rows, children] = [`${family}_${table ?? ''}s`, `${family}_${table ?? ''}_${pick(['steps', 'slots'])}`];
  const thing = (key: string, sort: Thing['sort'], of: string, slug: string, live = chance(0.4)): Thing => ({ key, sort, of, slug, live });
  const several = (count: number, make: (i: number) => Thing): Thing[] => Array.from({ length: count }, (_, i) => make(i));
  const things = [
    ...['fares', 'contact', 'alpha', 'beta'].map((slug) => thing(`page/${slug}`, 'page', 'page', slug, true)), ...several(3, (i) => thing(`picture/${i}`, 'picture', 'attachment', `scene-${i}`)),
    ...types.flatMap((type, n) => several(2 + whole(2), (i) => thing(`${words[n] ?? ''}/${i}`, 'entry', type, `${words[n] ?? ''}-${pick(['red', 'low'])}-${i}`))),
    ...several(3, (i) => thing(`${topic}/${i}`, 'term', taxonomy, `${topic}-${i}`)), ...several(2, (i) => thing(`category/${i}`, 'term', 'category', `cat-${i}`, true)), ...several(2, (i) => thing(`menu/${i}`, 'menu', '', `Menu ${i}`)),
    ...(table === undefined ? [] : several(3, (i) => thing(`${table}/${i}`, 'row', rows, `${table} & so “${i}”`))),
  ];
  const keys = (word: string): string[] => things.filter(({ key }) => key.startsWith(`${word}/`)).map(({ key }) => key);
  const sort = (word: string, one: readonly string[], many: readonly string[]): Sort => ({ word, things: keys(word), one, many });
  const called = (word: string): Sort => sort(word, [`${word}_id`, word, `default_${word}`, `next_${word}_id`, `${word}Id`], [`${word}s`, `${word}_ids`, `exclude_${word}s`]);
  const sorts = [
    sort('page', ['page_id', 'thank_you_page', 'login_page_id', 'redirect_page', 'confirmationPage'], ['pages', 'page_ids', 'exclude_pages', 'show_on_pages']), sort('picture', ['image', 'logo_id', 'background_image', 'imageId', 'attachment_id'], ['gallery', 'image_ids', 'images']),
    sort('category', ['category_id', 'default_category', 'cat_id'], ['categories', 'category_ids']), sort('menu', ['menu_id', 'nav_menu', 'mobile_menu'], ['menus', 'menu_ids']), ...[...words, topic, ...(table === undefined ? [] : [table])].map(called),
  ];
  const typeOf: Record<string, string> = { picture: 'attachment', menu: 'nav_menu', [topic]: taxonomy, ...Object.fromEntries(words.map((word, n) => [word, types[n] ?? ''])) };
  const id = (key: string): Planted => ({ [pick(['$id', '$text'])]: key });
  const pictures = keys('picture');
  /** A number that is the id of something else by chance. */
  const measure = (): Planted => pick<() => Planted>([() => 40 + whole(60), () => String(40 + whole(60)), () => whole(100) / 4])();

  const markup = (): Planted => ({ $all: Array.from({ length: 1 + whole(3) }, (): Planted => {
    const one = pick(sorts);
    const [key, name] = [pick(one.things), pick(one.one)];
    return pick<() => Planted>([
      () => ({ $all: [`<p class="note n-52">At 60 <a href="`, pick(LINKS).replace('&', '&amp;'), '">go</a></p>'] }), () => ({ $all: ['<img src="', { $picture: pick(pictures) }, '" width="60">'] }),
      () => ({ $all: [`[${family}_show ${name.toLowerCase()}="`, { $id: key }, '" columns="60"]'] }), () => ({ $all: ['[gallery ids="', { $list: some(pictures, 2) }, '" columns="60"]'] }),
      () => ({ $all: [`<!-- wp:${family}/show `, { $plain: { [name]: { $id: key }, [pick(MEASURES)]: 60, link: pick(LINKS) } }, ' /-->'] }), () => ({ $all: [`<div data-${name.replace(/[A-Z]/g, '-$&').toLowerCase().replaceAll('_', '-')}="`, { $id: key }, '" data-width="60"></div>'] }),
      () => ({ $all: ['<div data-setup="', { $quoted: { $json: { [name]: id(key), speed: 60 } } }, '"></div>'] }), () => ({ $all: ['<a href="{home}/?page_id=', { $id: pick(keys('page')) }, '">x</a>'] }),
    ])();
  }) });

  const member = (object: { [name: string]: Planted }, depth: number, isJson: boolean): void => {
    const one = pick(sorts);
    const key = pick(one.things);
    const type = typeOf[one.word] ?? one.word;
    const deeper = depth > 2 ? [] : [
      () => { object[pick(['settings', 'options', 'design', 'display'])] = values(depth + 1, isJson); }, () => { object[pick(['rules', 'rows', 'slides'])] = Array.from({ length: 1 + whole(2) }, () => pick<() => Planted>([() => ({ object_type: type, object_id: id(key) }), () => ({ param: type, operator: '==', value: { $text: key } }), () => values(depth + 1, isJson)])()); },
      () => { object[pick(['data', 'config', 'raw'])] = pick<() => Planted>([() => ({ $json: values(depth + 1, true) }), () => ({ $php: values(depth + 1, isJson) }), (): Planted => { const json: Planted = { $json: values(depth + 1, true) }; return isJson ? json : { $base64: json }; }])(); },
      () => { if (one.word !== 'picture') object[pick([`by_${one.word}`, `per_${one.word}`, `${one.word}_settings`])] = { $by: some(one.things, 2).map((each) => [each, pick<Planted>(['60', { wide: true, limit: 60 }])]) }; },
    ];
    pick<() => void>([
      () => { object[pick(one.one)] = id(key); }, () => { object[pick(one.one)] = id(key); }, () => { object[pick(one.many)] = pick<() => Planted>([() => some(one.things, 2).map(id), () => ({ $list: some(one.things, 2) })])(); }, () => { object[pick(MEASURES)] = measure(); },
      () => { object[pick(['link', 'button_url', 'redirect_url'])] = pick(LINKS); }, () => { object[pick(['content', 'message', 'html'])] = markup(); }, () => { const picture = pick(pictures); object[pick(['icon', 'media', 'cover'])] = { id: id(picture), url: { $picture: picture } }; },
      () => { object[pick(['target', 'location'])] = { $all: [type, pick([':', '|']), { $id: key }] }; }, () => { object[`${pick(['show', 'enable', 'hide'])}_${one.word}`] = pick<Planted>([1, '1', true]); }, () => { object['css'] = { $all: ['body.page-id-', { $id: pick(keys('page')) }, ' .x60 { width: 60px; color: #606060 }'] }; }, ...deeper,
    ])();
  };
  // Base64 in JSON has signs on one site that JSON can write in two ways, and on the other none of which the way could be seen.
  const values = (depth: number, isJson = false): Planted => { const object: { [name: string]: Planted } = {}; for (let i = 2 + whole(4); i > 0; i--) member(object, depth, isJson); return object; };
  const packed = (): Planted => pick<() => Planted>([() => ({ $php: values(1) }), () => ({ $json: values(1, true) }), () => ({ $plain: values(1, true) })])();

  const places: Place[] = [
    { in: 'option', of: '', name: `${family}_settings`, value: values(0) }, { in: 'option', of: '', name: `${family}-options`, value: { $json: values(0, true) } }, { in: 'option', of: '', name: `${family}_${pick(MEASURES.filter((name) => name !== 'version'))}`, value: '60' },
    ...some(sorts, 2).map((one): Place => ({ in: 'option', of: '', name: `${family}_${pick(one.one)}`, value: { $text: pick(one.things) } })), { in: 'term', of: `${topic}/0`, name: `${family}_more`, value: values(1) },
    ...words.flatMap(keys).flatMap((of): Place[] => [{ in: 'field', of, name: `_${family}_settings`, value: values(1) }, { in: 'field', of, name: `_${family}_data`, value: packed() }, { in: 'record', of, name: 'post_content', value: chance(0.7) ? markup() : packed() }]),
  ];
  const columns = some(sorts.filter(({ word }) => word !== table), 2).map(({ one, things: those }) => ({ name: one.find((name) => name.endsWith('_id')) ?? 'page_id', those })).filter(({ name }, i, all) => all.findIndex((other) => other.name === name) === i);
  if (table !== undefined) for (const of of keys(table)) {
    places.push(...columns.map(({ name, those }): Place => ({ in: 'column', of, table: rows, name, value: { $text: pick(those) } })), { in: 'column', of, table: rows, name: 'settings', value: packed() });
    for (let i = whole(3); i > 0; i--) places.push({ in: 'row', of, table: children, name: `${table}_id`, value: { label: `Part ${i}`, position: String(i), page_id: { $text: pick(keys('page')) }, settings: { $json: values(2, true) } } });
  }
  const key = 'id int unsigned not null auto_increment primary key';
  const tables = table === undefined ? {} : {
    [rows]: `${key}, label varchar(120) not null${next() < 0.5 ? ' unique' : ''}, ${columns.map(({ name }) => `${name} bigint unsigned not null default 0, `).join('')}settings longtext`,
    [children]: `${key}, ${table}_id int unsigned not null, position int not null default 0, label varchar(100), page_id bigint unsigned not null default 0, settings longtext`,
  };
  return { types, taxonomies: [taxonomy], tables, skip: [whole(40), 20 + whole(60)], things, places };
}
