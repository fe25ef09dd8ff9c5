import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { Bench, changeOn, startSite, untimed, type Record_ } from '../helpers/sites.ts';

const bench = new Bench();
beforeAll(async () => { await bench.start('dev', 'live', 'old'); });
afterAll(async () => { await bench.stop(); });

const json = (text: string): never => JSON.parse(text) as never;
const named = (items: readonly Record_[], kind: string, name: string): Record_ => items.find((one) => one.kind === kind && one.name === name) as Record_;
interface Left { address: string; at: string; why: string; remedy: string }
interface Result { run: string; created: number; updated: number; leftOut: Left[]; adjusted: { adjusted: string; item: string; from?: string; to?: string; removed?: string[] }[]; followUps: { followUp: string; item: string; at: string; to: string }[]; seenAtOnce: string[]; unequal: unknown[]; silent: unknown[] }
const imported = async (...words: string[]): Promise<Result> => {
  const ran = await bench.run('import', ...words, '--yes', '--json');
  expect([ran.code, ran.err]).toEqual([0, '']);
  return json(ran.out);
};
const undone = async (site = 'live'): Promise<void> => { expect((await bench.run('undo', site, '--yes')).code).toBe(0); };

describe('kinds and belongings', () => {
  test('all kinds of the demo travel whole: belongings, order, references in every shape; nothing of the source is left', async () => {
    const before = await bench.site('live').items();
    const result = await imported('dev', 'live');
    expect([result.unequal, result.silent]).toEqual([[], []]);
    const [dev, live] = [await bench.site('dev').items(), await bench.site('live').items()];
    const flow = named(live, 'gangway/flow', 'booking').value as { steps: { key: string; id: number; ticket: number; offer: string; form: number }[] };
    expect(flow.steps.map((step) => step.key)).toEqual(['choose', 'tickets', 'groups', 'thanks']);
    expect(flow.steps[1]).toMatchObject({ ticket: named(live, 'ticket-desk/ticket', 'adult-single').id, offer: `${named(live, 'ticket-desk/ticket', 'car-single').id},${named(live, 'ticket-desk/ticket', 'islander-card').id}` });
    expect(flow.steps[2]?.form).toBe(named(live, 'quay-forms/form', 'group-booking').id);
    const look = JSON.parse(Buffer.from(named(live, 'step-paint/flow-look', 'booking').value['design'] as string, 'base64').toString()) as { picture: number };
    expect(look.picture).toBe(named(live, 'tholepin/media', 'harbour-dusk').id);
    const popup = named(live, 'signal-lamp/popup', 'gale-warning').value as { pages: object; notOn: string };
    expect(Object.keys(popup.pages)).toEqual([named(live, 'tholepin/page', 'home').id, named(live, 'tholepin/page', 'crossings').id].map(String).sort());
    expect((named(live, 'quay-forms/form', 'lost-property').value['actions'] as { options: string }).options).toBe(`a:2:{s:5:"pages";a:2:{i:0;i:${named(live, 'tholepin/page', 'contact').id};i:1;i:${named(live, 'tholepin/page', 'terms').id};}s:4:"note";s:16:"kept by the Pier";}`);
    expect((named(live, 'lamp-room/quiz', 'knots').value['questions'] as { answers: { key: string }[] }[]).map((one) => one.answers.map((answer) => answer.key))).toEqual([['bowline', 'hitch'], ['two', 'three', 'four']]);
    const text = JSON.stringify(live);
    for (const { id } of dev) expect(text.match(new RegExp(`(?<!\\d)${id}(?!\\d)`))).toBeNull();
    expect(text).not.toContain(new URL(bench.site('dev').address).host);
    await undone();
    expect(untimed(await bench.site('live').items())).toEqual(untimed(before));
  });

  test('a kind and an extension that are added at run time, as data alone, are carried', async () => {
    const [from, to] = ['tide-dev', 'tide-live'] as const;
    const kind = { id: 'tide-table/tide', version: 1, title: 'Tide', titleFrom: '$.title', keyed: [{ path: '$.rows', key: 'key' }], belongings: [{ path: '$.rows[*]', id: 'id' }], references: [{ path: '$.rows[*].at', to: 'tide' }, { path: '$.picture', to: 'media' }], codecs: [{ path: '$.note', codec: 'html' }] };
    const extra = new Bench();
    try {
      for (const [name, seed, first] of [[from, 'dev', 1_900_001], [to, 'live', 2_900_001]] as const) {
        const folder = extra.path(`sites/${name}`);
        const made = await startSite(name, folder, seed);
        await new Promise<void>((settle) => { made.process.once('exit', () => { settle(); }); made.process.kill(); });
        const path = join(folder, 'site.json');
        const site = JSON.parse(readFileSync(path, 'utf8')) as { kinds: Record<string, unknown[]>; facts: { extensions: object[] } };
        site.kinds['tide-table'] = [kind];
        site.facts.extensions.push({ name: 'tide-table', title: 'Tide Table', version: '1.0.0', active: true, tiers: [], features: {} });
        writeFileSync(path, JSON.stringify(site));
        if (name === from) for (const [i, tide] of ['neap', 'spring'].entries()) writeFileSync(join(folder, 'records', `${first + i}.json`), JSON.stringify({ id: first + i, kind: kind.id, name: tide, status: 'published', revision: 1, value: { title: tide, note: `<a href="${made.address}/fares/">fares</a>`, picture: 0, rows: [{ id: first + 10 + i, key: 'a', at: first + 1 - i }] } }));
        extra.sites[name] = await startSite(name, folder, seed, new URL(made.address).port);
      }
      extra.configure();
      const ran = await extra.run('import', from, to, 'tide:*', '--yes', '--json');
      expect([ran.code, ran.err]).toEqual([0, '']);
      const arrived = (await extra.site(to).items()).filter((one) => one.kind === kind.id);
      expect(arrived.map((one) => one.name)).toEqual(['neap', 'spring']);
      expect((arrived[0]?.value['rows'] as { at: number }[])[0]?.at).toBe(arrived[1]?.id);
      expect(arrived[0]?.value['note']).toContain(`${extra.site(to).address}/fares/`);
    } finally { await extra.stop(); }
  }, 30_000);

  test('what belongs together though another extension owns it: one command takes both; each says what is missing without the other', async () => {
    const both = json((await bench.run('export', 'dev', 'flow:booking', '-o', 'flow.pochette', '--json')).out) as { broughtAlong: { address: string }[] };
    expect(both.broughtAlong.map((one) => one.address)).toContain('flow-look:booking');
    const alone = json((await bench.run('export', 'dev', 'flow:booking', '--alone', '-o', 'flow.pochette', '--json')).out) as { leftOut: Left[] };
    expect(alone.leftOut).toContainEqual({ address: 'flow-look:booking', at: '', why: 'flow:booking belongs together with it, and it was not chosen', remedy: 'choose flow-look:booking too' });
    expect((await bench.run('list', 'dev', 'flow:*')).out).toMatch(/together with flow-look:booking/);
  });
});

describe('choosing', () => {
  const addresses = async (...words: string[]): Promise<string[]> => (json((await bench.run('list', 'dev', ...words, '--json')).out) as { items: { address: string }[] }).items.map((one) => one.address);
  test('by owner, title, time, and what is left out again', async () => {
    expect(await addresses('--owner', 'lamp-room', '--titled', 'KNOT')).toEqual(['course:knots', 'quiz:knots']);
    expect(await addresses('template:*', '--except', 'template:*-timetable', '--except', 'template:f*')).toEqual(['template:crossing-card', 'template:crossing-view', 'template:notice-strip', 'template:vessel-view']);
    await changeOn(bench.site('dev'), 'tholepin/block', 'soup-notice', (value) => ({ ...value, title: 'Soup today' }));
    expect(await addresses('--changed-since', '1h')).toEqual(['block:soup-notice']);
    await changeOn(bench.site('dev'), 'tholepin/block', 'soup-notice', (value) => ({ ...value, title: 'Soup notice' }));
  });
  test('a choice that the configuration names', async () => {
    bench.configure();
    const path = bench.path('pochette.yaml');
    writeFileSync(path, `${readFileSync(path, 'utf8')}selections:\n  crew:\n    choose: ['course:*', 'quiz:*']\n    except: ['course:bad-*']\n`);
    expect(await addresses('--selection', 'crew')).toEqual(['course:knots', 'quiz:knots', 'quiz:weather']);
    expect((await bench.run('list', 'dev', '--selection', 'crwe')).err).toMatch(/no selection "crwe"[^]*there are: crew/);
    bench.configure();
  });
  test.each([
    [['--changed-since', 'yesterday'], /"yesterday" is no time/], [['--owner', 'lamp-roon'], /nothing in dev belongs to "lamp-roon"[^]*lamp-room/],
    [['template:front', '--except', 'template:front'], /nothing in dev is chosen/], [['template:front', '--except', 'template:front#layout'], /leaves out a part/],
    [['settings:site', '--take', 'settings:sight#/option/title'], /settings:sight is not among what was chosen/], [['template:front#looks'], /has no part "looks"[^]*layout, picture, code/],
  ])('%j is refused with what to do', async (words, message) => {
    const ran = await bench.run('list', 'dev', ...words);
    expect([ran.code, ran.out]).toEqual([2, '']);
    expect(ran.err).toMatch(message);
  });
  test('three fields of a set: these alone arrive, in place; the rest of the set stays', async () => {
    const fields = (items: Record_[]): { key: string; id: number; max?: number }[] => named(items, 'field-locker/field-set', 'crossing').value['fields'] as never;
    const before = fields(await bench.site('live').items());
    const words = ['seats', 'car-deck', 'departs'].map((field) => `field-set:crossing#/fields/${field}`);
    expect((await bench.run('export', 'dev', ...words, '--alone', '-o', 'fields.pochette')).code).toBe(0);
    for (const from of ['fields.pochette', 'dev']) {
      const result = await imported(from, 'live', ...(from === 'dev' ? words : []));
      expect(result).toMatchObject({ updated: 1, unequal: [] });
      const after = fields(await bench.site('live').items());
      expect(after.map((one) => one.key).sort()).toEqual(['car-deck', 'departs', 'minutes', 'remark', 'seats', 'vessel']);
      expect(after.find((one) => one.key === 'seats')?.max).toBe(340);
      for (const one of before) expect(after.find((other) => other.key === one.key)?.id).toBe(one.id);
      expect(after.find((one) => one.key === 'remark')).toEqual(before.find((one) => one.key === 'remark'));
      expect((await bench.run('compare', from, 'live', ...(from === 'dev' ? words : []))).code).toBe(0);
      await undone();
    }
    const ran = await bench.run('export', 'dev', 'field-set:crossing#/fields/seat', '-o', 'none.pochette');
    expect([ran.code, ran.err]).toEqual([2, expect.stringMatching(/no place \/fields\/seat[^]*departs, minutes, vessel, car-deck, seats/)]);
  });
});

describe('requirements', () => {
  test('data of another version is converted, and what is lost thereby is said', async () => {
    const result = await imported('dev', 'old', 'form:lost-property');
    expect(result.adjusted).toEqual([{ adjusted: 'version', item: 'form:lost-property', kind: 'quay-forms/form', from: 2, to: 1, loses: ['the colours and the picture of the form'] }]);
    const form = named(await bench.site('old').items(), 'quay-forms/form', 'lost-property').value;
    expect(form['thanks']).toContain('We look in every saloon');
    expect([form['messages'], form['style']]).toEqual([undefined, undefined]);
    expect((form['fields'] as unknown[]).length).toBe(6);
    expect((await bench.run('compare', 'dev', 'old', 'form:lost-property')).code).toBe(0);
    await undone('old');
  });
  test('--allow-missing imports what can be imported and lists the rest, whole items only', async () => {
    const result = await imported('dev', 'old', 'form:*', 'template:*', 'course:*', 'role:*', '--allow-missing');
    const out = new Map(result.leftOut.map((one) => [one.address, one]));
    expect([...out.keys()]).toEqual(expect.arrayContaining(['course:knots', 'form:group-booking', 'template:front']));
    expect(out.get('form:group-booking')?.why).toMatch(/refers to access-level:islanders, which cannot be imported/);
    const old = await bench.site('old').items();
    expect(named(old, 'tholepin/role', 'crew')).toBeDefined();
    expect(old.some((one) => one.name === 'group-booking' || one.kind.startsWith('lamp-room/'))).toBe(false);
    expect(result.unequal).toEqual([]);
    await undone('old');
  });
  test('a place of the theme that is not there: the nearest is offered, and --match takes it', async () => {
    const blocked = await bench.run('route', 'dev', 'old', 'menu:small-print', '--alone');
    expect(blocked.code).toBe(0);
    const ran = await bench.run('route', 'dev', 'old', 'placement:banner', '--alone', '--match', 'template:notice-strip=template:crossing-view');
    expect([ran.code, ran.out]).toEqual([3, expect.stringMatching(/placement:banner#\/area refers to area:banner[^]*--match area:banner=area:(footer|sidebar)/)]);
    const result = await imported('dev', 'old', 'placement:banner', '--alone', '--match', 'template:notice-strip=template:crossing-view', '--match', 'area:banner=area:sidebar');
    expect(result.created).toBe(1);
    expect(named(await bench.site('old').items(), 'tholepin/placement', 'banner').value['area']).toBe('sidebar');
    await undone('old');
  });
});

describe('on arrival', () => {
  test('drafts first, published in a second act; an undo takes both back', async () => {
    const before = await bench.site('live').items();
    const result = await imported('dev', 'live', 'popup:*', 'redirect:*', '--draft');
    expect((await bench.site('live').items()).filter((one) => one.status === 'draft').map((one) => one.name).sort()).toEqual(['gale-warning', 'group-booking']);
    expect((await bench.site('live').page('/forms/group-booking/')).status).toBe(404);
    expect(result.followUps).toContainEqual({ followUp: 'publish', item: 'popup:gale-warning' });
    expect(json((await bench.run('route', 'dev', 'live', 'quiz:weather', 'style:*', '--draft', '--json')).out)).toMatchObject({ seenAtOnce: ['style:site-style'] });
    expect((await bench.run('publish', 'live')).code).toBe(3);
    const ran = await bench.run('publish', 'live', '--yes', '--json');
    expect(json(ran.out)).toMatchObject({ published: [{ address: 'form:group-booking', url: `${bench.site('live').address}/forms/group-booking/` }, { address: 'popup:gale-warning' }], silent: [] });
    expect((await bench.site('live').page('/forms/group-booking/')).status).toBe(200);
    expect((await bench.run('publish', 'live', '--yes')).err).toMatch(/no import to live left drafts/);
    await undone();
    expect(untimed(await bench.site('live').items())).toEqual(untimed(before));
  });
  test('parts of one form onto another one; the rest of it stays', async () => {
    const before = named(await bench.site('live').items(), 'quay-forms/form', 'lost-property').value;
    const result = await imported('dev', 'live', 'form:group-booking#messages', '--as', 'form:group-booking=form:lost-property');
    expect(result.adjusted).toContainEqual({ adjusted: 'name', item: 'form:lost-property', from: 'form:group-booking' });
    const after = named(await bench.site('live').items(), 'quay-forms/form', 'lost-property').value;
    expect(after).toEqual({ ...before, messages: { thanks: '<p>We answer within a day.</p>', error: '<p>How many are you?</p>' } });
    await undone();
  });
  test('under another name, with everything that refers to it', async () => {
    await imported('dev', 'live', 'flow:booking', '--as', 'form:group-booking=form:crowd', 'form:group-booking', '--as', 'flow:booking=flow:winter-booking', '--except', 'flow-look:*');
    const live = await bench.site('live').items();
    const crowd = named(live, 'quay-forms/form', 'crowd');
    expect((named(live, 'gangway/flow', 'winter-booking').value['steps'] as { form: number; text: string }[])[2]).toMatchObject({ form: crowd.id, text: `<!-- block {"form":${crowd.id}} -->` });
    expect(live.some((one) => one.name === 'group-booking')).toBe(false);
    await undone();
  });
  test('options of the parent theme onto its child', async () => {
    await imported('dev', 'live', 'theme-options:saltmarsh', '--as', 'theme-options:saltmarsh=theme-options:saltmarsh-isles');
    expect(named(await bench.site('live').items(), 'tholepin/theme-options', 'saltmarsh-isles').value['label']).toBe('Options of Saltmarsh');
    await undone();
  });
  test.each([
    [['template:front', '--as', 'template:front=menu:front'], /that is another kind/], [['template:front', '--as', 'template:frnt=template:x'], /template:frnt is not among what was chosen/],
    [['template:*', '--as', 'template:front=template:fleet-band'], /template:\S+ and template:\S+ would both become template:fleet-band/], [['template:front', '--as', 'template:front'], /is not understood[^]*--as kind:name=kind:other/],
  ])('%j is refused', async (words, message) => {
    const ran = await bench.run('route', 'dev', 'live', ...words);
    expect([ran.code, ran.out]).toEqual([2, '']);
    expect(ran.err).toMatch(message);
  });
  test('site-bound values only where they are named; secrets never; code only when asked for, on both ends of a file', async () => {
    const option = async (): Promise<{ title: string; adminMail: string }> => JSON.parse(named(await bench.site('live').items(), 'tholepin/settings', 'site').value['option'] as string) as never;
    const before = await option();
    await imported('dev', 'live', 'settings:site', '--take', 'settings:site#/option/title');
    expect(await option()).toMatchObject({ title: 'Skerrin Ferries (dev)', adminMail: before.adminMail });
    await undone();
    expect((await bench.run('compare', 'dev', 'live', 'settings:tickets', '--take', 'settings:tickets#/option/payment/secretKey')).out).not.toMatch(/secretKey/);
    expect((await bench.run('export', 'dev', 'landing:winter-offers', 'landing:winter-offers#code', '-o', 'code.pochette')).code).toBe(0);
    const without = await imported('code.pochette', 'live');
    expect(without.leftOut).toContainEqual(expect.objectContaining({ address: 'landing:winter-offers', at: '/code' }));
    expect(named(await bench.site('live').items(), 'harbour-pages/landing', 'winter-offers').value['code']).toBeUndefined();
    await imported('code.pochette', 'live', '--take', 'landing:winter-offers#code');
    expect(named(await bench.site('live').items(), 'harbour-pages/landing', 'winter-offers').value['code']).toBe('<script>tides("winter")</script>');
    await undone();
    await undone();
  });
  test('authors who have no account become the token\'s user, and that is said', async () => {
    const result = await imported('dev', 'live', 'block:soup-notice');
    expect(result.adjusted).toEqual([{ adjusted: 'user', item: 'block:soup-notice', at: '/author', from: 'person:finlo%40skerrin.example', to: 'person:office%40skerrin.example' }]);
    expect(named(await bench.site('live').items(), 'tholepin/block', 'soup-notice').value['author']).toBe(named(await bench.site('live').items(), 'tholepin/person', 'office@skerrin.example').id);
    await undone();
    await imported('dev', 'live', 'block:soup-notice', '--match', 'person:finlo@skerrin.example=person:morag@skerrin.example');
    expect(named(await bench.site('live').items(), 'tholepin/block', 'soup-notice').value['author']).toBe(named(await bench.site('live').items(), 'tholepin/person', 'morag@skerrin.example').id);
    await undone();
  });
  test('without media: which items lack which pictures is said, in the file too', async () => {
    const exported = json((await bench.run('export', 'dev', 'template:vessel-view', '--no-media', '-o', 'bare.pochette', '--json')).out) as { files: number; leftOut: Left[] };
    expect(exported.files).toBe(0);
    expect(exported.leftOut).toContainEqual(expect.objectContaining({ address: 'template:vessel-view', at: '/hero', why: 'will lack the picture media:vessel-selkie, as pictures are left out by choice' }));
    expect((await bench.run('inspect', 'bare.pochette')).out).toMatch(/template:vessel-view#\/hero\s+will lack the picture/);
    const result = await imported('bare.pochette', 'live');
    expect(result.followUps).toContainEqual({ followUp: 'picture-missing', item: 'template:vessel-view', at: '/hero', to: 'media:vessel-selkie' });
    await undone();
  });
  test('a single record that the site makes anew behind one\'s back is replaced, not doubled', async () => {
    const url = await bench.between('live', async (incoming) => {
      // Between the plan and the write someone deletes the record; asked for the list, the site makes another one.
      if (incoming.url?.endsWith('/lock') && incoming.method === 'POST' && !raced) {
        raced = true;
        const style = named(await bench.site('live').items(), 'tholepin/style', 'site-style');
        const { token } = (await bench.site('live').call('POST', '/lock', { owner: 'x', run: 'x', seconds: 5 })).json as { token: string };
        await bench.site('live').call('POST', '/batch', { operations: [{ op: 'delete', key: `race-${Date.now()}`, kind: style.kind, id: style.id, ifMatch: style.etag }] }, { 'pochette-lock': token });
        await bench.site('live').call('DELETE', '/lock', undefined, { 'pochette-lock': token });
      }
      return false;
    });
    let raced = false;
    bench.configure({}, { live: url });
    const ran = await bench.run('import', 'dev', 'live', 'style:*', '--yes');
    bench.configure();
    expect([ran.code, ran.err]).toEqual([4, expect.stringMatching(/style:site-style/)]);
    expect((await bench.site('live').items()).filter((one) => one.kind === 'tholepin/style')).toHaveLength(1);
    await imported('dev', 'live', 'style:*');
    const styles = (await bench.site('live').items()).filter((one) => one.kind === 'tholepin/style');
    expect([styles.length, JSON.stringify(styles[0]?.value).includes('#b8442e')]).toEqual([1, true]);
    await undone();
  });
});

describe('after', () => {
  test('follow-ups are kept, ticked off by hand, and by themselves where that can be seen', async () => {
    await imported('dev', 'live', 'template:front', 'settings:forms');
    const open = async (...words: string[]): Promise<{ number: number; followUp: string; at: string }[]> => (json((await bench.run('followups', 'live', ...words, '--json')).out) as { open: never }).open;
    expect((await open()).map((one) => one.followUp).sort()).toEqual(['enter-secret', 'link-missing', 'set-own']);
    const secret = (await open()).find((one) => one.followUp === 'enter-secret');
    expect((await open('--done', String(secret?.number))).map((one) => one.followUp).sort()).toEqual(['link-missing', 'set-own']);
    expect((await bench.run('followups', 'live', '--done', String(secret?.number))).err).toMatch(/no open follow-up/);
    const { token } = (await bench.site('live').call('POST', '/lock', { owner: 'x', run: 'x', seconds: 5 })).json as { token: string };
    await bench.site('live').call('POST', '/batch', { operations: [{ op: 'create', key: 'winter', kind: 'tholepin/page', name: 'winter', status: 'published', value: { title: 'Winter', markup: '', template: 0 } }] }, { 'pochette-lock': token });
    await bench.site('live').call('DELETE', '/lock', undefined, { 'pochette-lock': token });
    expect((await open()).map((one) => one.followUp)).toEqual(['set-own']);
    await undone();
    expect(await open()).toEqual([]);
  });
  test('where an item came from is remembered by the site and shown', async () => {
    await imported('dev', 'live', 'quiz:weather');
    expect((await bench.run('show', 'live', 'quiz:weather')).out).toMatch(/# came from dev, \d{4}-\d\d-\d\d \d\d:\d\d UTC, run \S+, as fingerprint [0-9a-f]{64}/);
    await undone();
    expect((await bench.run('show', 'live', 'quiz:knots')).code).toBe(2);
  });
});
