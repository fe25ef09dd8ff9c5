import type { Extension } from './extension.ts';
import { all, content, entry, extension, field, id, json, list, option, picture, term, text } from './planted.ts';

/** Fields that say in one place what they are, and have their values in another. */
export const FIELD_SHAPES: Readonly<Record<string, Extension>> = {
  'sets of fields in a setting and in a record, and the values under their names': extension({
    types: ['hb_boat', 'hb_person', 'hb_fieldbox'], taxonomies: ['hb_port'],
    things: [entry('hb_boat', 'anna'), entry('hb_boat', 'berta', true), entry('hb_person', 'finlo'), entry('hb_person', 'morag', true), entry('hb_fieldbox', 'boat-box'), term('hb_port', 'north'), term('hb_port', 'south', true)],
    places: [
      option('hb_field_groups', { group_a: { title: 'Boat', fields: [
        { key: 'f1', name: 'captain', type: 'post_object', post_type: ['hb_person'] }, { key: 'f2', name: 'dock_shots', type: 'gallery' }, { key: 'f3', name: 'berthed', type: 'taxonomy', taxonomy: 'hb_port' }, { key: 'f4', name: 'kin', type: 'relationship' }, { key: 'f5', name: 'lamps', type: 'number', default_value: 60 },
        { key: 'f6', name: 'stops', type: 'repeater', sub_fields: [{ key: 'f7', name: 'halt', type: 'page_link' }, { key: 'f8', name: 'wait', type: 'number' }] }, { key: 'f9', name: 'mark', type: 'image' }, { key: 'fa', name: 'skipper_note', type: 'text' },
      ] }, group_b: { title: 'Another', fields: [{ key: 'fb', name: 'mark', type: 'number' }] } }),
      field('hb_boat/anna', 'captain', text('hb_person/finlo')), field('hb_boat/anna', 'dock_shots', [text('picture/mast'), text('picture/bow')]), field('hb_boat/anna', 'berthed', text('hb_port/north')), field('hb_boat/anna', 'kin', [text('hb_boat/berta')]), field('hb_boat/anna', 'lamps', '60'), field('hb_boat/anna', 'mark', '60'),
      field('hb_boat/anna', 'stops', '2'), field('hb_boat/anna', 'stops_0_halt', text('page/haven')), field('hb_boat/anna', 'stops_1_halt', text('page/lounge')), field('hb_boat/anna', 'stops_0_wait', '60'), field('hb_boat/anna', 'skipper_note', '60'),
      content('hb_fieldbox/boat-box', { $plain: { for: ['hb_boat'], fields: [{ id: 'mate', type: 'post', post_type: 'hb_boat', label: 'Mate' }, { id: 'cover_shot', type: 'one_image' }, { id: 'tour', type: 'group', fields: [{ id: 'quay', type: 'post', post_type: 'page' }, { id: 'mins', type: 'number' }] }, { id: 'ports', type: 'taxonomy_list', taxonomy: 'category' }] } }),
      field('hb_boat/anna', 'mate', text('hb_boat/berta')), field('hb_boat/anna', 'cover_shot', text('picture/mast')), field('hb_boat/anna', 'tour', [{ quay: text('page/haven'), mins: '60' }, { quay: text('page/lounge'), mins: '52' }]), field('hb_boat/anna', 'ports', list('category/boats', 'category/ports')),
      option('hb_schema', [{ id: 'emblem', type: 'media' }, { id: 'chosen', type: 'select', options: ['a', 'b'] }, { id: 'lines', type: 'slider', min: 1, max: 60 }, { id: 'bar', type: 'hb_boat_select' }]), option('hb_values', { emblem: text('picture/mast'), chosen: 'a', lines: 60, bar: id('hb_boat/anna') }),
    ],
  }),
  'edges between stages, filters by term, what is offered, entries of menus, and what a database is asked': extension({
    types: ['hb_stage', 'hb_ware'], taxonomies: ['hb_hue'], things: [entry('hb_stage', 'ask'), entry('hb_stage', 'pay', true), entry('hb_ware', 'rope'), entry('hb_ware', 'oar', true), term('hb_hue', 'red')],
    places: [
      field('hb_stage/ask', '_hb_edges', json([{ from: id('hb_stage/ask'), to: id('hb_stage/pay'), label: 'yes' }, { from: id('hb_stage/ask'), to: 'end', label: 'no' }, { from: 0, to: 60 }])), field('hb_ware/rope', '_hb_turn', json({ frames: [id('picture/mast'), id('picture/bow')], speed: 60 })), field('hb_stage/pay', '_hb_upgrade', [{ to: id('hb_stage/ask'), price: '60' }]),
      option('hb_filters', [{ type: 'swatch', source: 'hb_hue', order: [id('hb_hue/red')] }, { type: 'price', min: 0, max: 60 }]), option('hb_offers', [{ if: { ware: id('hb_ware/rope'), qty: 60 }, then: { offer: id('hb_ware/oar'), discount: 52 } }]), option('hb_tabs_below', { items: [{ type: 'page', id: id('page/haven'), label: 'Home' }, { type: 'url', url: '{home}/lounge/', label: 'L' }] }), field('hb_ware/rope', '_hb_see', [text('hb_ware/oar'), text('page/freight')]),
      option('hb_sql', all('SELECT * FROM posts WHERE post_parent = ', id('page/haven'), ' AND ID NOT IN (', list('page/lounge', 'page/parking'), ') LIMIT 60')), content('hb_stage/pay', all('<figure aria-describedby="caption-attachment-', id('picture/mast'), '"><img src="', picture('picture/mast'), '" width="60"></figure>')),
    ],
  }),
};
