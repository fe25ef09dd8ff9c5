import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { imports, json, type Left, named } from '../helpers/imports.ts';
import { Bench, changeOn, startSite, untimed, type Record_ } from '../helpers/sites.ts';

const bench = new Bench();
beforeAll(async () => { await bench.start('dev', 'live', 'old'); });
afterAll(async () => { await bench.stop(); });

const { imported, undone } = imports(bench);

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
    // One item a line, each in the singular; several in one sentence in the plural.
    const [left, blocked] = [await bench.run('route', 'dev', 'old', 'course:*', '--allow-missing'), await bench.run('route', 'dev', 'old', 'course:*')];
    expect(left.out).toMatch(/course:knots {2}needs Lamp Room/);
    expect(blocked.out).toMatch(/access-level:deck-crew, course:bad-weather and 3 more need Lamp Room/);
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
