import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { CmsPair, hasCms } from '../helpers/cms.ts';
import { hasMariaDb } from '../helpers/servers.ts';

(hasMariaDb && hasCms ? describe : describe.skip)('a real CMS that has just been installed', () => {
  const pair = new CmsPair();
  const run = (...words: string[]) => pair.bench.run(...words);

  beforeAll(async () => {
    await pair.start(true);
    for (const site of [pair.dev, pair.live]) for (const script of ['gangway.php', 'gantry.php']) site.fill(script);
  });
  afterAll(() => pair.stop());

  test('ids as small as its first ones mean the same on the other site, and small numbers stay what they are', async () => {
    const was = pair.dump();
    const ran = await run('import', 'dev', 'live', '--yes', '--decide', 'source', '--json');
    expect([ran.err, (JSON.parse(ran.out) as { unequal: object[] }).unequal]).toEqual(['', []]);
    expect(JSON.parse(pair.live.show('gangway-seen.php'))).toEqual(JSON.parse(pair.dev.show('gangway-seen.php')));
    for (const seen of ['gantry-seen.php', 'flows-seen.php']) expect(JSON.parse(pair.live.show(seen))).toEqual(JSON.parse(pair.dev.show(seen)));
    expect(pair.live.php("echo key(get_option('gantry_widget_rules'));")).not.toBe(pair.dev.php("echo key(get_option('gantry_widget_rules'));"));
    expect((await run('import', 'dev', 'live', '--yes')).out).toContain('Nothing to do');
    expect(pair.live.php("echo get_option('gw_page');")).not.toBe(pair.dev.php("echo get_option('gw_page');"));
    expect((await run('undo', 'live', '--yes')).code).toBe(0);
    expect(pair.dump()).toBe(was);
  });

  test('a flow that gets another name takes its steps with it, and the one of that name that is there stays', async () => {
    const was = pair.dump();
    const flows = (site: typeof pair.live): unknown[] => JSON.parse(site.show('flows-seen.php')) as unknown[];
    expect((await run('import', 'dev', 'live', 'entry:gn_flow/ask', '--yes', '--decide', 'source', '--as', 'entry:gn_flow/ask=entry:gn_flow/pier')).code).toBe(0);
    expect(flows(pair.live)).toEqual([null, [[['start', 'ask: send'], ['send', null]], ['ask: start', 'ask: send']], flows(pair.dev)[1]]);
    expect((await run('undo', 'live', '--yes')).code).toBe(0);
    expect(pair.dump()).toBe(was);
  });

  test('a site that finds pages by their ids gets links with these, its own way of making addresses stays, and there is nothing to do then', async () => {
    pair.live.php("update_option('permalink_structure', '');");
    pair.dev.php("update_option('permalink_structure', '/%year%/%monthnum%/%postname%/');");
    pair.dev.php("$home = home_url(); foreach (['page' => 'gn-pier', 'post' => 'gn-news'] as $type => $name) wp_insert_post(['post_type' => $type, 'post_name' => $name, 'post_title' => $name, 'post_status' => 'publish', 'post_date' => '2026-03-04 05:06:07']); update_option('gn_links', [\"$home/gn-pier/\", \"$home/gn-pier/?a=7#b\", \"$home/2026/03/gn-news/\", \"$home/?page_id=\" . get_page_by_path('gn-pier')->ID, \"$home/feed/\"]);");
    pair.live.php("foreach (['post' => 'gn-news', 'page' => 'gn-pier'] as $type => $name) wp_insert_post(['post_type' => $type, 'post_name' => $name, 'post_title' => $name, 'post_status' => 'publish']);");
    const was = pair.dump();
    const ran = await run('import', 'dev', 'live', 'settings:gn_links', 'settings:permalink_structure', '--yes', '--json');
    expect([ran.err, (JSON.parse(ran.out) as { followUps: { followUp: string }[] }).followUps.filter((one) => one.followUp === 'stray-id')]).toEqual(['', []]);
    const [page, post] = pair.live.php("echo get_page_by_path('gn-pier')->ID, ' ', get_page_by_path('gn-news', OBJECT, 'post')->ID;").split(' ');
    expect(JSON.parse(pair.live.php("echo json_encode([get_option('permalink_structure'), str_replace(home_url(), '', get_option('gn_links'))]);"))).toEqual(['', [`/?page_id=${page}`, `/?page_id=${page}&a=7#b`, `/?p=${post}`, `/?page_id=${page}`, '/feed/']]);
    for (const verb of ['import', 'route']) expect((await run(verb, 'dev', 'live', 'settings:gn_links', ...(verb === 'import' ? ['--yes'] : []))).out).toMatch(/Nothing (?:to do|has to be done)/);
    expect((await run('undo', 'live', '--yes')).code).toBe(0);
    expect(pair.dump()).toBe(was);
  });
});
