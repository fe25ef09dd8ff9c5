import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { CmsPair, hasCms } from '../helpers/cms.ts';
import { hasMariaDb } from '../helpers/servers.ts';

/** Tables of an extension, of which only a draft of a layout says what they are. */
(hasMariaDb && hasCms ? describe : describe.skip)('a real CMS with an extension that has tables of its own', () => {
  const pair = new CmsPair();
  const lines = (query: string): string[] => pair.server.run(query, 'cms_live').trim().split('\n');
  beforeAll(async () => {
    await pair.start();
    for (const site of [pair.dev, pair.live]) site.fill('calendars.php');
  });
  afterAll(() => pair.stop());

  test('the draft leaves visitors alone, loses nothing of what is tied to two things, and follows ids wherever they are called after a table', async () => {
    const run = (...words: string[]) => pair.bench.run(...words);
    expect((await run('layout', 'draft', 'dev', '-o', 'sails.yaml')).code).toBe(0);
    const draft = readFileSync(pair.bench.path('sails.yaml'), 'utf8');
    expect(draft).toMatch(/^leaves: \['\{prefix\}sail_bookings', '\{prefix\}sail_members', '\{prefix\}sail_quiz_statistic'\]$/m);
    pair.configure('sails.yaml');
    const was = pair.dump();
    const ran = await run('import', 'dev', 'live', '--yes', '--json');
    expect([ran.err, (JSON.parse(ran.out) as { unequal: object[] }).unequal]).toEqual(['', []]);
    const [summer, winter] = lines("select id from skf7_sail_calendars where slug in ('summer', 'winter') order by slug") as [string, string];
    const early = lines("select rule_id from skf7_sail_rules where title = 'Early'")[0] ?? '';
    const id = (name: string, type: string): string => pair.live.php(`echo get_page_by_path('${name}', OBJECT, '${type}')->ID;`);
    const [form, harbour] = [id('ask', 'sail_form'), id('harbour', 'attachment')];
    expect(Math.max(...[summer, winter, early].map(Number))).toBeLessThan(12);
    // Rules are items, because others refer to them.
    expect(lines("select concat_ws(' ', calendar, title, price, conditions) from skf7_sail_rules where title in ('Early', 'Late') order by title")).toEqual([
      `${summer} Early 41.50 a:2:{i:0;a:2:{s:4:"type";s:8:"calendar";s:5:"value";i:${winter};}i:1;a:2:{s:4:"type";s:7:"weekday";s:5:"value";i:5;}}`, `${winter} Late 42.00 a:0:{}`]);
    expect(lines("select concat_ws(' ', slug, ifnull(parent_id, '-'), settings) from skf7_sail_calendars where slug in ('summer', 'winter') order by slug")).toEqual([`summer - {"seats":41,"form_id":${form}}`, `winter ${summer} {"fallback_calendar":${summer}}`]);
    const far = lines("select term_id from skf7_terms where slug = 'far'")[0] ?? '';
    expect(lines("select concat_ws(' ', term_id, price, calendar_id, image_id) from skf7_sail_coast_prices")).toEqual([`${far} 4.50 ${winter} ${harbour}`]);
    // A field of another form that has the same key is another one.
    expect(lines("select concat_ws(' ', form_id, field_key, label) from skf7_sail_form_fields where field_key = 'mail' order by id")).toEqual(['1 mail Old', `${form} mail Mail`]);
    expect(lines("select concat(f.field_key, ' ', n.field_key) from skf7_sail_form_fields f join skf7_sail_form_fields n on n.id = f.depends_on")).toEqual(['mail name']);
    expect(lines('select customer_name from skf7_sail_bookings')).toEqual(['A visitor']);
    expect(JSON.parse(pair.live.php("echo json_encode(get_option('sail_settings'));"))).toEqual({ rule: Number(early), calendars_shown: [Number(summer), Number(winter)], calendar_colours: { [summer]: '#111', [winter]: '#222' }, seats: { [`calendar_${winter}`]: { calendar_height: 41 } } });
    expect(lines("select post_content from skf7_posts where post_name = 'shown'")).toEqual([`[sail_calendar id='${winter}' rule=${early} columns=41]<div data-calendar="${summer}"></div>`]);
    // What belongs to a quiz, in objects of a class, in a tree whose nodes mean things of several sorts.
    const [knots, lights] = lines("select id from skf7_sail_quiz_master where name in ('Knots', 'Lights') order by name") as [string, string];
    expect(lines(`select concat_ws(' ', quiz_id, title, answer_type, answer_data like '%imageId";i:${harbour};%') from skf7_sail_quiz_question where quiz_id > 7`).sort()).toEqual([`${knots} Which? one 1`, `${knots} How? one 1`, `${lights} Which? several 1`, `${lights} How? several 1`].sort());
    expect(lines("select concat_ws(' ', n.label, n.target_id, p.label) from skf7_sail_nodes n left join skf7_sail_nodes p on p.node_id = n.parent_node where n.label in ('Top', 'Below') order by n.label")).toEqual([`Below ${form} Top`, `Top ${winter}`]);
    const fares = id('fares', 'page');
    expect(JSON.parse(pair.live.php("echo json_encode(get_option('sail_quizzes'));"))).toEqual({ default_quiz: Number(lights), quiz_by_page: { [fares]: Number(knots) }, calendars_on_front: [Number(winter)] });
    // A table whose whole name is a word that others only have behind theirs.
    expect(lines("select concat_ws(' ', l.slug, p.note) from skf7_sail_price_lines p join skf7_sail_list l on l.id = p.list_id")).toEqual(['spring By the day']);
    expect(lines('select status from skf7_sail_members')).toEqual(['here']);
    expect((await run('import', 'dev', 'live', '--yes')).out).toContain('Nothing to do');
    expect((await run('undo', 'live', '--yes')).code).toBe(0);
    expect(pair.dump()).toBe(was);
  });

  test('ids of a table whose rows are of two sorts mean either, and the draft that says so can be read', async () => {
    pair.server.run("create table wp_tq_items (id int unsigned not null auto_increment primary key, slug varchar(60) not null unique, type varchar(20) not null, title varchar(80)) auto_increment 41; insert into wp_tq_items (slug, type, title) values ('north', 'sea', 'North'), ('south', 'sea', 'South'), ('mill', 'river', 'Mill'), ('weir', 'river', 'Weir')", 'cms_dev');
    pair.dev.php("update_option('tq_settings', ['default_item' => 43, 'tq_item_id' => 41, 'tq_items' => [41, 44]]);");
    pair.configure();
    expect((await pair.bench.run('layout', 'draft', 'dev', '-o', 'sorts.yaml')).err).toBe('');
    expect(readFileSync(pair.bench.path('sorts.yaml'), 'utf8')).toMatch(/named: \[default_item, tq_item_id, tq_items\b.*\], to: \[river, sea\] }/);
    pair.configure('sorts.yaml');
    expect((await pair.bench.run('layout', 'check', 'dev')).err).toBe('');
    const shown = (await pair.bench.run('show', 'dev', 'settings:tq_settings')).out;
    for (const item of ['river:mill', 'sea:north', 'river:weir']) expect(shown).toContain(item);
  });

  test('two tables that are called alike and have the same ids are named in one line', async () => {
    pair.server.run('create table wp_moon_calendars (id int unsigned not null auto_increment primary key, slug varchar(80), unique key slug (slug)); insert into wp_moon_calendars select id, slug from wp_sail_calendars', 'cms_dev');
    pair.configure();
    expect((await pair.bench.run('layout', 'draft', 'dev', '-o', 'twins.yaml')).code).toBe(0);
    expect(readFileSync(pair.bench.path('twins.yaml'), 'utf8').match(/^ +"data-calendar": .*$/gm)).toEqual(['    "data-calendar": [moon-calendars, sail-calendars]']);
    pair.configure('twins.yaml');
    expect((await pair.bench.run('layout', 'check', 'dev')).err).toBe('');
  });
});
