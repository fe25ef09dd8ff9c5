import { describe, expect, test } from '@jest/globals';
import { addressed, COUNTED, inEverySort } from '../helpers/databasepair.ts';
import type { Sort } from '../helpers/quayside.ts';
import { inEnglish, isOneOf } from '../../src/sites/database/draft/tongues.ts';

/** A program's words for what it keeps, without a foreign key that would say what points where. */
type Words = Readonly<Record<'settings' | 'value' | 'categories' | 'category' | 'category_id' | 'parent_id' | 'order' | 'pages' | 'page' | 'page_id' | 'content' | 'images' | 'image_id' | 'file' | 'made' | 'title' | 'name' | 'forms' | 'form_id' | 'thanks' | 'config' | 'fields' | 'submissions' | 'received' | 'menus' | 'menu_id' | 'items' | 'users' | 'password' | 'start' | 'each' | 'width', string>>;
const TONGUES: Readonly<Record<string, Words>> = {
  German: { settings: 'einstellungen', value: 'wert', categories: 'kategorien', category: 'kategorie', category_id: 'kategorie_id', parent_id: 'eltern_id', order: 'sortierung', pages: 'seiten', page: 'seite', page_id: 'seite_id', content: 'inhalt', images: 'bilder', image_id: 'bild_id', file: 'datei', made: 'erstellt_am', title: 'titel', name: 'bezeichnung', forms: 'formulare', form_id: 'formular_id', thanks: 'danke_seite', config: 'konfiguration', fields: 'formular_felder', submissions: 'formular_eingaenge', received: 'eingegangen_am', menus: 'menues', menu_id: 'menue_id', items: 'menuepunkte', users: 'benutzer', password: 'kennwort', start: 'startseite', each: 'anzahl', width: 'breite' },
  Spanish: { settings: 'configuraciones', value: 'valor', categories: 'categorias', category: 'categoria', category_id: 'categoria_id', parent_id: 'padre_id', order: 'orden', pages: 'paginas', page: 'pagina', page_id: 'pagina_id', content: 'contenido', images: 'imagenes', image_id: 'imagen_id', file: 'archivo', made: 'fecha_creacion', title: 'titulo', name: 'etiqueta', forms: 'formularios', form_id: 'formulario_id', thanks: 'pagina_gracias', config: 'configuracion', fields: 'formulario_campos', submissions: 'envios_formulario', received: 'fecha_envio', menus: 'menus', menu_id: 'menu_id', items: 'menu_elementos', users: 'usuarios', password: 'contrasena', start: 'pagina_inicio', each: 'por_pagina', width: 'ancho' },
  Norwegian: { settings: 'innstillinger', value: 'verdi', categories: 'kategorier', category: 'kategori', category_id: 'kategori_id', parent_id: 'forelder_id', order: 'rekkefolge', pages: 'sider', page: 'side', page_id: 'side_id', content: 'innhold', images: 'bilder', image_id: 'bilde_id', file: 'fil', made: 'opprettet', title: 'tittel', name: 'navn', forms: 'skjemaer', form_id: 'skjema_id', thanks: 'takk_side', config: 'oppsett', fields: 'skjema_felter', submissions: 'skjema_innsendinger', received: 'opprettet', menus: 'menyer', menu_id: 'meny_id', items: 'meny_valg', users: 'brukere', password: 'passord', start: 'fremste_side', each: 'per_side', width: 'bredde' },
};

const statements = (w: Words) => (sort: Sort, site: 'dev' | 'live'): string => {
  const [id, dev] = [COUNTED[sort], site === 'dev'];
  const n = (x: number): number => x + (dev ? 0 : 300);
  const time = sort === 'postgres' ? 'timestamp' : sort === 'mysql' ? 'datetime' : 'text';
  const more = (rows: string): string => (dev ? `, ${rows}` : '');
  return `
create table ${w.settings} (id ${id}, name varchar(60) not null unique, ${w.value} text);
create table ${w.categories} (id ${id}, ${w.title} varchar(60) not null, alias varchar(60) not null, ${w.parent_id} bigint, ${w.order} int not null default 0);
create table ${w.images} (id ${id}, ${w.file} varchar(120) not null, ${w.title} varchar(60));
create table ${w.pages} (id ${id}, ${w.title} varchar(100) not null, alias varchar(100) not null, ${w.content} text, ${w.category_id} bigint, ${w.image_id} bigint, ${w.made} ${time});
create table ${w.forms} (id ${id}, ${w.title} varchar(60) not null, ${w.thanks} bigint, ${w.config} text);
create table ${w.fields} (id ${id}, ${w.form_id} bigint not null, ${w.name} varchar(60), ${w.order} int not null default 0);
create table ${w.submissions} (id ${id}, ${w.form_id} bigint not null, data text, ${w.received} ${time});
create table ${w.menus} (id ${id}, name varchar(60) not null);
create table ${w.items} (id ${id}, ${w.menu_id} bigint not null, ${w.parent_id} bigint, ${w.title} varchar(60), ${w.page_id} bigint, position int not null default 0);
create table ${w.users} (id ${id}, name varchar(60) not null unique, ${w.password} varchar(100), email varchar(100));
insert into ${w.users} values (${n(1)}, 'isbel', 'x${site}', 'isbel@skerrin.example');
insert into ${w.settings} values (${n(1)}, '${w.start}', '${n(31)}'), (${n(2)}, '${w.each}', '${dev ? 31 : 12}');
insert into ${w.categories} values (${n(11)}, 'Boats', 'boats', null, 1)${more("(12, 'Small boats', 'small', 11, 1), (13, 'Havens', 'havens', null, 2)")};
insert into ${w.images} values (${n(21)}, 'quay.png', 'Quay')${more("(22, 'mast.png', 'Mast')")};
insert into ${w.pages} values (${n(31)}, 'Start', 'start', '', ${n(11)}, ${n(21)}, '2026-01-05 10:00:00')${more(`(32, 'Times', 'times', '<a href="/${w.page}/31">Start</a> <i data-${w.page}-id="31" width="31"></i>', 12, 22, '2026-01-06 10:00:00'), (33, 'Fares', 'fares', '31', 13, 21, '2026-01-06 10:00:00')`)};
insert into ${w.forms} values (${n(51)}, 'Contact', ${n(31)}, '{"${w.page}":${n(31)},"${w.width}":31}')${more(`(52, 'Freight', 32, '{"${w.page}":32,"${w.categories}":[12,13],"${w.width}":31,"${w.image_id}":22}')`)};
insert into ${w.fields} values (${n(61)}, ${n(51)}, 'Name', 1)${more("(62, 52, 'Weight', 1), (63, 52, 'Haven', 2)")};
insert into ${w.submissions} values (${n(71)}, ${n(51)}, '{"Name":"${site}"}', '2026-02-05 10:00:00');
insert into ${w.menus} values (${n(81)}, 'Main')${more("(82, 'Foot')")};
insert into ${w.items} values (${n(91)}, ${n(81)}, null, 'Start', ${n(31)}, 1)${more("(92, 81, 91, 'Times', 32, 1), (93, 82, null, 'Fares', 33, 1)")};
`;
};

for (const [tongue, w] of Object.entries(TONGUES)) {
  inEverySort(`a program whose words are ${tongue}`, statements(w), (pair) => {
    const id = (table: string, title: string): string => pair.lines(`select id from ${table} where ${w.title} = '${title}'`)[0] ?? '';
    const seen = (): Record<string, string[]> => ({
      categories: pair.lines(`select c.alias, p.alias from ${w.categories} c left join ${w.categories} p on p.id = c.${w.parent_id} order by 1`),
      pages: pair.lines(`select p.alias, c.alias, i.${w.file} from ${w.pages} p left join ${w.categories} c on c.id = p.${w.category_id} left join ${w.images} i on i.id = p.${w.image_id} order by 1`),
      forms: pair.lines(`select f.${w.title}, p.alias from ${w.forms} f left join ${w.pages} p on p.id = f.${w.thanks} order by 1`),
      fields: pair.lines(`select f.${w.title}, l.${w.name} from ${w.fields} l left join ${w.forms} f on f.id = l.${w.form_id} order by 1, l.${w.order}`),
      items: pair.lines(`select m.name, i.${w.title}, o.${w.title}, p.alias from ${w.items} i left join ${w.menus} m on m.id = i.${w.menu_id} left join ${w.items} o on o.id = i.${w.parent_id} left join ${w.pages} p on p.id = i.${w.page_id} order by 1, 2`),
      settings: pair.lines(`select name, ${w.value} from ${w.settings} order by id`), left: [...pair.lines(`select data from ${w.submissions}`), ...pair.lines(`select ${w.password} from ${w.users}`)],
    });

    test('are read as what they mean: what points where, what lies in what, what visitors left', async () => {
      await pair.drafted(addressed);
      await pair.carries(seen, () => {
        expect(seen()).toEqual({
          categories: ['boats ', 'havens ', 'small boats'], pages: ['fares havens quay.png', 'start boats quay.png', 'times small mast.png'], forms: ['Contact start', 'Freight times'],
          fields: ['Contact Name', 'Freight Weight', 'Freight Haven'], items: ['Foot Fares  fares', 'Main Start  start', 'Main Times Start times'], settings: [`${w.start} 331`, `${w.each} 31`], left: ['{"Name":"live"}', 'xlive'],
        });
        expect(pair.lines(`select ${w.content} from ${w.pages} where alias = 'times'`)).toEqual([`<a href="/${w.page}/331">Start</a> <i data-${w.page}-id="331" width="31"></i>`]);
        expect(pair.lines(`select ${w.config} from ${w.forms} where ${w.title} = 'Freight'`)).toEqual([`{"${w.page}":${id(w.pages, 'Times')},"${w.categories}":[${id(w.categories, 'Small boats')},${id(w.categories, 'Havens')}],"${w.width}":31,"${w.image_id}":${id(w.images, 'Mast')}}`]);
      });
    });
  });
}

describe('names that drafts read', () => {
  test.each([
    ['naechsteSeite', 'next_page'], ['geändert_am', 'modified_at'], ['produktbilder', 'product_images'], ['startseite', 'start_page'], ['seiten_breite', 'pages_width'], ['pro_seite', 'per_page'],
    ['pagina_inicio', 'inicio_page'], ['pagina_inicio_id', 'inicio_page_id'], ['pagina_id', 'page_id'], ['ancho_pagina', 'page_width'], ['strona_nadrzędna', 'parent_page'], ['formulario_campos', 'form_fields'], ['campos_formulario', 'form_fields'], ['mot_de_passe', 'mot_de_passe'],
    ['pageWidth', 'page_width'], ['pro_page', 'pro_page'], ['side_id', 'side_id'], ['created_at', 'created_at'], ['controller_id', 'controller_id'],
  ])('%s is %s', (name, english) => { expect(inEnglish(name)).toBe(english); });

  test('may be several of something in other ways than in English', () => {
    expect([['faehre', 'faehren'], ['gabarra', 'gabarre'], ['kahn', 'kahne'], ['mes', 'messen'], ['form', 'format'], ['to', 'ton']].map(([one = '', many = '']) => isOneOf(one, many))).toEqual([true, true, true, false, false, false]);
  });
});
