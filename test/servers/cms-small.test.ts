import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { CmsPair, hasCms } from '../helpers/cms.ts';
import { hasMariaDb } from '../helpers/servers.ts';

(hasMariaDb && hasCms ? describe : describe.skip)('a real CMS that has just been installed', () => {
  const pair = new CmsPair();
  const run = (...words: string[]) => pair.bench.run(...words);

  beforeAll(async () => {
    await pair.start(true);
    for (const site of [pair.dev, pair.live]) for (const script of ['gangway.php', 'gantry.php']) site.fill(script);
  }, 120_000);
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
});
