import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { call } from '../helpers/calls.ts';
import { CmsPair, hasCms, type CmsSite } from '../helpers/cms.ts';
import { hasMariaDb, type Server } from '../helpers/servers.ts';
import { DIST } from '../helpers/sites.ts';

/** What an administrator adds for two made-up extensions. */
const LAYOUT = `
format: 1
name: skerrin
title: Skerrin Ferries
extends: entries
kinds:
  - id: harbour-desk/settings
    title: Harbour desk
    qualified: true
    rows: { shape: option, where: { option_name: harbour_desk } }
    codecs: [{ path: $.option, codec: php }, { path: $.option.packed, codec: php }]
    references: [{ path: $.option.pages.*, to: page }, { path: $.option.packed.template_id, to: entry }]
    siteBound: [$.option.mail.sender]
    secret: [$.option.api_key]
    parts: [{ name: limits, title: Limits, paths: [$.option.limits] }]
  - id: crossing-board/content-type
    title: Content type
    rank: 20
    rows: { from: options, where: { option_name: crossing_types }, inside: { column: option_value, codec: php }, title: '{label}', value: {} }
    codecs: [{ path: $.record, codec: php }]
    references: [{ path: $.record.template_id, to: entry }]
  - id: crossing-board/list
    title: List
    rows: { from: options, group: { column: option_name, text: 'crossing_board_{name}_{member}', value: option_value }, where: { option_name: { not: crossing_board_version } }, name: '{name}' }
    references: [{ path: $.members.page, to: page }]
  - id: step-by-step/flow
    title: Flow
    rows:
      shape: entry
      where: { post_type: flow }
      value:
        steps:
          list: { from: entries, on: { post_parent: ID }, where: { post_type: flow_step }, order: [menu_order, ID], id: ID, value: { name: post_name, title: post_title, status: post_status, fields: { fields: { from: fields, on: { post_id: ID }, key: meta_key, value: meta_value } } } }
    belongings: [{ path: '$.steps[*]', id: id }]
    keyed: [{ path: $.steps, key: name }]
    codecs: [{ path: '$.steps[*].fields._step_settings', codec: php }]
    references: [{ path: '$.steps[*].fields._step_settings.template_id', to: entry }, { path: '$.steps[*].fields._step_settings.page_id', to: page }]
  - id: entry-store/entry
    rows: { where: { post_type: { not: [revision, attachment, nav_menu_item, customize_changeset, oembed_cache, user_request, page, post, wp_block, wp_global_styles, flow, flow_step] } } }
`;

(hasMariaDb && hasCms ? describe : describe.skip)('a real CMS', () => {
  const pair = new CmsPair();
  const { bench } = pair;
  let server: Server;
  let dev: CmsSite;
  let live: CmsSite;
  let before: string;
  const run = (...words: string[]) => pair.bench.run(...words);
  const dump = (): string => pair.dump();
  const configure = (layout: boolean): void => { pair.configure(layout ? 'layout.yaml' : undefined); };

  beforeAll(async () => {
    await pair.start();
    writeFileSync(pair.bench.path('layout.yaml'), LAYOUT);
    ({ server, dev, live } = pair);
    before = dump();
  });
  afterAll(() => pair.stop());

  test('is recognised by itself, whatever its tables begin with', async () => {
    const { sites } = JSON.parse((await run('sites', '--json')).out) as { sites: { name: string; facts: { site: { address: string }; theme: { name: string; parent: { name: string } }; extensions: { name: string; version: string }[]; rights: string[] } }[] };
    expect(sites.map((site) => site.facts.site.address)).toEqual([dev.address, live.address]);
    expect(sites[1]?.facts.theme).toMatchObject({ name: 'skerrin-isles', parent: { name: 'skerrin' } });
    expect(sites[1]?.facts.extensions).toContainEqual(expect.objectContaining({ name: 'crossing-board', version: '2.4.0' }));
    expect(sites[1]?.facts.rights).toEqual(['read', 'write']);
  });

  test('everything is carried, and the CMS itself reads it', async () => {
    const ran = await run('import', 'dev', 'live', '--yes', '--json');
    expect(ran.err).toBe('');
    expect(JSON.parse(ran.out)).toMatchObject({ created: 9, files: 4, unequal: [] });
    const seen = JSON.parse(live.php(`
      $desk = get_option('harbour_desk'); $packed = unserialize($desk['packed']); $winter = get_page_by_path('winter', OBJECT, 'board_template');
      $fields = unserialize(get_page_by_path('crossing-fields', OBJECT, 'field_set')->post_content); $board = json_decode(get_post_meta($winter->ID, '_board_layout', true), true);
      $vessel = get_page_by_path('vessel', OBJECT, 'attachment');
      echo json_encode(['role' => wp_roles()->roles['purser']['capabilities'] ?? null, 'fares' => get_post($desk['pages']['fares_page'])->post_name, 'contact' => [$desk['pages']['contact_page'], get_post($desk['pages']['contact_page'])->post_name], 'sender' => $desk['mail']['sender'], 'body' => $desk['mail']['body'], 'key' => $desk['api_key'],
        'limits' => var_export($desk['limits'], true), 'order' => array_keys($desk['order']), 'home' => $packed['home'], 'template' => $packed['template_id'] === $winter->ID, 'type' => get_option('crossing_types')['crossing'] ?? null,
        'field' => [$fields['fields'][2]['label'], get_post($fields['fields'][2]['image_id'])->post_name], 'circle' => get_post(json_decode(get_post_meta($board['next_template'], '_board_layout', true), true)['next_template'])->post_name, 'text' => $board['bands'][1]['text'],
        'picture' => wp_get_attachment_image_src($vessel->ID, 'medium')[0], 'alt' => get_post_meta($vessel->ID, '_wp_attachment_image_alt', true), 'list' => [get_option('crossing_board_list_size'), get_post(get_option('crossing_board_list_page'))->post_name],
        'draft' => get_page_by_path('draft-board', OBJECT, 'board_template')->post_status ?? '', 'author' => (int) $vessel->post_author, 'season' => wp_get_object_terms($board['next_template'], 'board_season', ['fields' => 'slugs']), 'above' => array_map(fn ($t) => [get_term($t->parent)->slug, get_term_meta($t->term_id, 'colour', true), $t->count], wp_get_object_terms($board['next_template'], 'board_season')),
        'ids' => array_map(fn ($id) => get_post($id)->post_name, explode(',', get_post_meta($board['next_template'], '_board_image_ids', true))), 'backdrop' => [get_post_meta($board['next_template'], '_board_backdrop', true)['picture']['id'] === $vessel->ID, get_post_meta($board['next_template'], '_board_backdrop', true)['picture']['url']]]);`)) as Record<string, unknown>;
    expect(seen).toMatchObject({
      role: { read: true, sell_tickets: true }, fares: 'fares', contact: [expect.stringMatching(/^\d+$/), 'contact'], sender: 'desk@skerrin.example', body: `Booked on ${live.address}/fares/ — välkommen`, key: 'live-key-999',
      order: ['b', 'a'], home: live.address, template: true, type: { label: 'Crossings', slug: 'crossing', icon: `${live.address}/wp-content/uploads/2026/10/harbour.png` },
      field: ['Fähre', 'harbour'], circle: 'winter', text: `Sails from ${live.address}/fares/ — “daily”`,
      picture: `${live.address}/wp-content/uploads/2026/10/vessel-300x167.png`, alt: 'A vessel — Ænd', list: ['large', 'timetable'], draft: 'draft', author: 1, season: ['seasonal'], above: [['all-year', '#fc0', 1]], ids: ['harbour', 'vessel'], backdrop: [true, `${live.address}/wp-content/uploads/2026/10/vessel.png`],
    });
    expect(seen['limits']).toBe("array (\n  'seats' => 12,\n  'ratio' => 0.75,\n  'whole' => 2.0,\n  'open' => true,\n  'note' => NULL,\n)");
  });

  test('visitors see menu, areas, block, picture and style, with the live site\'s own addresses', async () => {
    const { status, text } = await live.page('/');
    expect(status).toBe(200);
    expect(text).toContain('Winter is here');
    expect(text).toMatch(new RegExp(`Timetable</a>\\s*<ul class="sub-menu">\\s*<li[^>]*><a href="${live.address}/timetable/islands/">Islands`));
    expect(text).toContain(`<a href="${live.address}/fares/">Book now</a>`);
    expect(text).toMatch(new RegExp(`<a href="${live.address}/board_template/summer/">Summer</a>`));
    expect(text).toMatch(new RegExp(`<a href="${live.address}/board_season/all-year/seasonal/">In season</a>|<a href="${live.address}/board_season/seasonal/">In season</a>`));
    expect(text).toMatch(/Nine to six[\s\S]*Weather[\s\S]*Crossings may be late/);
    expect(text).not.toContain(dev.address.slice('http://'.length));
    const picture = /src="([^"]*vessel-300x167\.png)"/.exec(text)?.[1] ?? '';
    expect((await fetch(picture)).headers.get('content-type')).toBe('image/png');
    expect((await live.page('/crossing/')).status).toBe(200);
  });

  test('no address of the source is left anywhere, and what nobody chose is as it was', async () => {
    const after = dump();
    expect(after).not.toContain(dev.address.slice('http://'.length));
    expect(after).not.toContain(dev.address.slice('http://'.length).replaceAll('/', '\\\\/'));
    const rows = (text: string, table: string): string[] => text.split('\n').filter((line) => line.startsWith(`INSERT INTO \`skf7_${table}\``));
    for (const table of ['comments', 'users', 'usermeta', 'links']) expect(rows(after, table)).toEqual(rows(before, table));
    const content = (text: string): string[] => rows(text, 'posts').filter((line) => /'(page|post|revision)'/.test(line));
    expect(content(after)).toEqual(content(before));
    expect((await run('import', 'dev', 'live', '--yes')).out).toContain('Nothing to do');
    expect((await run('verify', 'dev', 'live')).code).toBe(0);
  });

  test('undo gives every row back', async () => {
    const ran = await run('undo', 'live', '--yes');
    expect(ran.code).toBe(0);
    expect(dump()).toBe(before);
    expect(existsSync(join(live.uploads, '2026/10/vessel.png'))).toBe(false);
  });

  test('the how-to, as it stands', () => {
    mkdirSync(bench.path('bin'));
    writeFileSync(bench.path('bin/pochette'), `#!/bin/sh\nrun() { "${process.execPath}" "${join(DIST, 'pochette.cjs')}" "$@"; }\ncase "$1" in import|undo) run "$@" --yes ;; compare) run "$@"; [ $? -le 1 ] ;; *) run "$@" ;; esac\n`, { mode: 0o755 });
    const blocks = [...readFileSync('docs/howto/carry-between-databases.md', 'utf8').matchAll(/```sh\n([^]*?)```/g)].map(([, block]) => block);
    call('bash', ['-e', '-c', blocks.join('\n')], { cwd: bench.folder, env: { ...process.env, PATH: `${bench.path('bin')}:${process.env['PATH'] ?? ''}` }, stdio: 'pipe' });
    expect(dump()).toBe(before);
  });

  test('a pochette carries the same, pictures included, without the source', async () => {
    expect((await run('export', 'dev', '-o', 'all.pochette')).code).toBe(0);
    expect((await run('import', 'all.pochette', 'live', '--yes')).code).toBe(0);
    expect((await live.page('/')).text).toContain('vessel-300x167.png');
    expect((await run('undo', 'live', '--yes')).code).toBe(0);
    expect(dump()).toBe(before);
  });

  test('drafts first, chosen by title; published, visitors see them; an undo takes both back', async () => {
    const ran = await run('import', 'dev', 'live', 'entry:board_template/summer', 'entry:board_template/draft-board', '--draft', '--yes', '--json');
    expect(ran.err).toBe('');
    const { run: id, seen, followUps } = JSON.parse(ran.out) as { run: string; seen: { address: string }[]; followUps: { followUp: string; item: string }[] };
    const drafts = followUps.filter((one) => one.followUp === 'publish').map((one) => one.item);
    expect(seen.map((one) => one.address)).toEqual(expect.arrayContaining(drafts));
    // What is a draft on the source does not wait to be published.
    expect(drafts).not.toContain('entry:board_template/draft-board');
    const status = (name = 'summer'): string => live.php(`$p = get_page_by_path('${name}', OBJECT, 'board_template'); echo $p ? $p->post_status : 'none';`);
    expect([drafts.length > 0, status()]).toEqual([true, 'draft']);
    expect((await live.page('/board_template/summer/')).status).toBe(404);
    const { published } = JSON.parse((await run('publish', 'live', '--yes', '--json')).out) as { published: { address: string; url: string }[] };
    expect(published.map((one) => one.address).sort()).toEqual(drafts.sort());
    expect([status(), status('draft-board')]).toEqual(['publish', 'draft']);
    expect((await live.page('/board_template/summer/')).status).toBe(200);
    expect((await run('undo', 'live', id, '--yes')).code).toBe(0);
    expect(dump()).toBe(before);
  });

  describe('with a layout of a few lines for its extensions', () => {
    beforeAll(() => { configure(true); });

    test('content types in one option, rows with a common beginning and steps of a flow are items and belongings', async () => {
      const ran = await run('import', 'dev', 'live', '--yes', '--json');
      expect(ran.err).toBe('');
      expect(JSON.parse(ran.out)).toMatchObject({ unequal: [] });
      const seen = JSON.parse(live.php(`
        $flow = get_page_by_path('booking', OBJECT, 'flow'); $steps = get_posts(['post_type' => 'flow_step', 'post_parent' => $flow->ID, 'orderby' => 'menu_order', 'order' => 'ASC', 'numberposts' => -1]);
        echo json_encode(['types' => array_keys(get_option('crossing_types')), 'steps' => array_map(fn ($s) => $s->post_name, $steps), 'page' => get_post(get_post_meta($steps[1]->ID, '_step_settings', true)['page_id'])->post_name, 'accent' => get_option('crossing_board_list_accent'), 'sender' => get_option('harbour_desk')['mail']['sender']]);`)) as object;
      // The content type that only the live site has stays: it is an item of its own.
      expect(seen).toEqual({ types: ['vessel', 'lighthouse', 'crossing'], steps: ['booking-choose', 'booking-seats', 'booking-pay'], page: 'fares', accent: 'teal', sender: 'desk@skerrin.example' });
      expect((await run('import', 'dev', 'live', '--yes')).out).toContain('Nothing to do');
      expect((await run('undo', 'live', '--yes')).code).toBe(0);
      expect(dump()).toBe(before);
    });

    test('a part of an item travels alone', async () => {
      expect((await run('import', 'dev', 'live', 'harbour-desk/settings:harbour_desk#limits', '--yes')).err).toBe('');
      expect(live.php("$desk = get_option('harbour_desk'); echo $desk['limits']['seats'], ' ', $desk['mail']['body'];")).toBe(`12 Booked on ${live.address}/fares/`);
      expect((await run('undo', 'live', '--yes')).code).toBe(0);
      expect(dump()).toBe(before);
    });
  });

  /** Starts an import and calls back when its journal has so many lines of a sort. */
  const interrupted = (event: string, count: number, then: () => void): Promise<number | null> => {
    const known = new Set(readdirSync(bench.path('.pochette/runs')));
    const child = spawn(process.execPath, [join(DIST, 'pochette.cjs'), 'import', 'dev', 'live', '--yes'], { cwd: bench.folder, stdio: 'ignore' });
    let told = false;
    const look = setInterval(() => {
      const fresh = readdirSync(bench.path('.pochette/runs')).find((one) => !known.has(one));
      const journal = fresh === undefined ? '' : bench.path(`.pochette/runs/${fresh}/journal.ndjson`);
      if (told || !existsSync(journal) || readFileSync(journal, 'utf8').split(`"event":"${event}"`).length - 1 < count) return;
      told = true;
      then();
    }, 1);
    killers.add(child);
    return new Promise((settle) => { child.once('exit', (code) => { clearInterval(look); killers.delete(child); settle(code); }); });
  };
  const killers = new Set<ReturnType<typeof spawn>>();

  test.each([['begin', 1], ['intent', 1], ['answer', 1], ['answer', 6], ['intent', 8]])('an import that is killed after %s %d is named by the next command, and undo brings the site back', async (event, count) => {
    await interrupted(event, count, () => { for (const child of killers) child.kill('SIGKILL'); });
    const next = await run('compare', 'dev', 'live', '--short');
    const unfinished = /import (\S+) on live by Isbel Farrow, begun .* has not ended/.exec(next.err)?.[1];
    expect(unfinished).toBeDefined();
    const again = await run('import', 'dev', 'live', '--yes');
    // Where it was killed after its last step, there is nothing left to do.
    expect(again.out.includes('Nothing to do') ? 6 : again.code).toBe(6);
    expect(again.err).toContain(`pochette undo live ${unfinished ?? ''}`);
    const undone = await run('undo', 'live', '--yes');
    expect(undone.code === 0 ? '' : undone.err).toBe('');
    expect(dump()).toBe(before);
    expect((await run('compare', 'dev', 'live', '--short')).err).toBe('');
  });

  test('a server that is killed in the middle leaves nothing half', async () => {
    let down: Promise<void> | undefined;
    const code = await interrupted('begin', 1, () => { down = server.kill(); });
    await down;
    expect(code).toBe(6);
    await server.restart();
    expect((await run('compare', 'dev', 'live', '--short')).err).toContain('has not ended');
    expect((await run('undo', 'live', '--yes')).code).toBe(0);
    expect(dump()).toBe(before);
  });

  describe('with extensions in other shapes', () => {
    beforeAll(() => {
      configure(false);
      for (const site of [dev, live]) site.fill('more.php');
      // Only a person can say that the number in a name is an id: names are numbered for other reasons too.
      writeFileSync(bench.path('skins.yaml'), `format: 1\nname: skins\ntitle: Skins\nextends: entries\nkinds:\n  - id: entry-store/skin\n    rows: { shape: option, pattern: { column: option_name, text: 'quay_skin_{form}' }, ids: { form: entry }, known: { least: 10 }, name: '{form}' }\n    codecs: [{ path: $.option, codec: php }]\n    references: [{ path: $.option.form_id, to: entry }]\n`);
      writeFileSync(bench.path('pochette.yaml'), readFileSync(bench.path('pochette.yaml'), 'utf8').replaceAll(/( {4}media: .*)/g, '$1\n    layout: skins.yaml'));
    });

    test('ids are followed in blocks, short codes, attributes, keys, names of options and under the names that people give them', async () => {
      const was = dump();
      const ran = await run('import', 'dev', 'live', '--yes', '--json');
      expect(ran.err).toBe('');
      expect(JSON.parse(ran.out)).toMatchObject({ unequal: [] });
      const seen = JSON.parse(live.php(`
        register_taxonomy('quay_zone', ['quay_form']); $id = fn ($type, $name) => get_page_by_path($name, OBJECT, $type)->ID;
        [$form, $lost, $fares, $contact, $harbour, $winter] = [$id('quay_form', 'booking-form'), $id('quay_form', 'lost-form'), $id('page', 'fares'), $id('page', 'contact'), $id('attachment', 'harbour'), $id('board_template', 'winter')];
        $zone = get_term_by('slug', 'north', 'quay_zone')->term_id; $slider = get_option('quay_slider'); $settings = get_post_meta($form, '_form_settings', true); $content = json_decode(get_post($form)->post_content, true);
        echo json_encode([
          'forms' => $slider['forms'] === [$form, $lost], 'slide' => $slider['slides'][0] === ['image' => $harbour, 'pageId' => $fares], 'zone' => $slider['zone_term_id'] === $zone, 'keys' => array_keys($slider['by_page']) === [$fares, $contact],
          'small' => $slider['page'], 'image' => (int) get_term_meta($zone, 'image_id', true) === $harbour, 'object' => get_option('quay_object')->page_id === $fares, 'link' => get_option('quay_object')->link,
          'skins' => [get_option("quay_skin_$form"), get_option("quay_skin_$lost")] == [['colour' => 'teal', 'form_id' => $form], ['colour' => 'navy', 'form_id' => $lost]],
          'settings' => $settings === ['notify_page' => $fares, 'template' => $winter, 'mail' => ['logo' => $harbour], 'ratio' => 0.1, 'whole' => 3.0], 'thanks' => $content['thankYouPage'] === $contact,
          'combo' => str_replace([$form, $lost, $fares, $harbour, $winter], ['FORM', 'LOST', 'FARES', 'HARBOUR', 'WINTER'], get_post($id('board_template', 'combo'))->post_content),
        ]);`)) as Record<string, unknown>;
      const { combo, ...rest } = seen;
      expect(rest).toEqual({ forms: true, slide: true, zone: true, keys: true, small: 2, image: true, object: true, link: `${live.address}/contact/`, skins: true, settings: true, thanks: true });
      // What is known to be no id of an item stays as it was, whatever it is equal to.
      expect(combo).toMatch(/^<!-- wp:quay\/board \{"boardId":WINTER,"pageId":FARES,"userId":1,"queryId":\d+\} -->\n<div data-id="HARBOUR" data-form-id="LOST">\[quay_form id="FORM" style='x'\] \[quay_form id=LOST\] \[any form_id='LOST'\]<\/div>/);
      expect((await run('import', 'dev', 'live', '--yes')).out).toContain('Nothing to do');
      expect((await run('undo', 'live', '--yes')).code).toBe(0);
      expect(dump()).toBe(was);
    });

    test('tables of an extension\'s own travel with the draft of a layout as it is', async () => {
      const was = dump();
      expect((await run('layout', 'draft', 'dev', '-o', 'rates.yaml')).code).toBe(0);
      expect(readFileSync(bench.path('rates.yaml'), 'utf8')).toMatch(/extends: entries[^]*everywhere:[^]*named: \[[^\]]*quay_default_rate[^]*quay_rates[^]*list: \{ from: quay_rate_steps/);
      writeFileSync(bench.path('pochette.yaml'), readFileSync(bench.path('pochette.yaml'), 'utf8').replaceAll(/( {4}layout: ).*/g, '$1rates.yaml'));
      const ran = await run('import', 'dev', 'live', 'quay-rates:*', 'settings:quay_default_rate', 'entry:board_template/rate-board', '--yes', '--json');
      expect(ran.err).toBe('');
      expect(JSON.parse(ran.out)).toMatchObject({ created: 1, updated: 3, unequal: [] });
      const child = server.run("select rate_id from skf7_quay_rates where slug = 'child'", live.database).trim();
      expect([live.php("echo get_option('quay_default_rate');"), live.php("echo get_page_by_path('rate-board', OBJECT, 'board_template')->post_content;")]).toEqual([child, `<p>[quay_rate id="${child}"]</p>\n<!-- wp:quay/rate {"rateId":${child}} /-->`]);
      const [fares, harbour] = [live.php("echo get_page_by_path('fares')->ID;"), live.php("echo get_page_by_path('harbour', OBJECT, 'attachment')->ID;")];
      expect(server.run(`select r.slug, r.price, r.page_id, r.options, group_concat(s.title order by s.position) from skf7_quay_rates r join skf7_quay_rate_steps s using (rate_id) group by r.rate_id order by r.slug`, live.database).trim().split('\n')).toEqual(['adult\t12.5000', 'child\t6.2500'].map((begin) => `${begin}\t${fares}\ta:2:{s:5:"image";i:${harbour};s:4:"home";s:${live.address.length}:"${live.address}";}\t${begin.slice(0, 5)} first,${begin.slice(0, 5)} second`));
      expect((await run('undo', 'live', '--yes')).code).toBe(0);
      expect(dump()).toBe(was);
    });
  });
});
