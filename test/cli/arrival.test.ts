import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { imports, json, type Left, named } from '../helpers/imports.ts';
import { Bench, untimed, type Record_ } from '../helpers/sites.ts';

const bench = new Bench();
beforeAll(async () => { await bench.start('dev', 'live'); });
afterAll(async () => { await bench.stop(); });

const { imported, undone } = imports(bench);

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
    for (const [place, message] of [['settings:tickets#/option/payment/secretKey', /is a secret: secrets are never taken/], ['settings:tickets#/option/fares', /nothing is kept back at settings:tickets#\/option\/fares[^]*settings:tickets#\/option\/mail\/sender/]] as const) {
      for (const words of [['compare', 'dev', 'live', 'settings:tickets'], ['export', 'dev', 'settings:tickets', '-o', 's.pochette']]) {
        const refused = await bench.run(...words, '--take', place);
        expect([refused.code, refused.err]).toEqual([2, expect.stringMatching(message)]);
      }
    }
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
    expect(result.adjusted).toEqual([{ adjusted: 'user', item: 'block:soup-notice', at: '/author', from: 'person:finlo@skerrin.example', to: 'person:office@skerrin.example' }]);
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

describe('what is odd', () => {
  const write = async (site: string, operations: object[]): Promise<void> => {
    const { token } = (await bench.site(site).call('POST', '/lock', { owner: 'x', run: 'x', seconds: 5 })).json as { token: string };
    const answer = await bench.site(site).call('POST', '/batch', { operations }, { 'pochette-lock': token });
    expect([answer.status, answer.text]).toEqual([200, expect.not.stringContaining('problem')]);
    await bench.site(site).call('DELETE', '/lock', undefined, { 'pochette-lock': token });
  };
  const template = (markup: string, more: object = {}): object => ({ title: 'Odd', markup, hero: 0, related: '', next: 0, link: '', layout: '', code: '', ...more });

  test('what is a draft on the source stays one, on the way through a file too', async () => {
    await write('dev', [{ op: 'create', key: 'dim-sheet', kind: 'tholepin/template', name: 'dim-sheet', status: 'draft', value: template('<p>Not yet</p>') }]);
    const there = async (): Promise<string | undefined> => (await bench.site('live').items()).find((one) => one.name === 'dim-sheet')?.status;
    await imported('dev', 'live', 'template:dim-sheet');
    expect(await there()).toBe('draft');
    await undone();
    expect((await bench.run('export', 'dev', 'template:dim-sheet', '-o', 'dim.pochette')).code).toBe(0);
    await imported('dim.pochette', 'live');
    expect(await there()).toBe('draft');
    await undone();
    // As soon as it is published there, it arrives so, although its value is the same.
    const [item] = (await bench.site('dev').items()).filter((one) => one.name === 'dim-sheet');
    await write('dev', [{ op: 'update', key: 'bright', kind: 'tholepin/template', id: item?.id, ifMatch: item?.etag, value: item?.value, status: 'published' }]);
    expect((await bench.run('export', 'dev', 'template:dim-sheet', '-o', 'bright.pochette')).code).toBe(0);
    await imported('bright.pochette', 'live');
    expect(await there()).toBe('published');
    await undone();
  });

  test('a file that no item brings is left to do, until the target answers with it', async () => {
    // A picture of the target that is taken away, and comes again.
    const live = bench.site('live');
    const picture = (await live.items()).find((one) => one.kind === 'tholepin/media') as Record_;
    const key = { kind: picture.kind, id: picture.id };
    const { record } = JSON.parse((await live.call('POST', '/items/records', { items: [key] })).text.split('\n')[0] ?? '') as { record: unknown };
    const path = `/uploads/${picture.id}/${String(picture.value['fileName'])}`;
    expect((await live.page(path)).status).toBe(200);
    await write('live', [{ op: 'delete', key: 'no-picture', ...key, ifMatch: picture.etag }]);
    await write('dev', [{ op: 'create', key: 'late-sheet', kind: 'tholepin/template', name: 'late-sheet', status: 'published', value: template(`<img src="${bench.site('dev').address}${path}">`) }]);
    // The site that it comes from does not have it either: then it is nothing that the target would lack.
    expect((await imported('dev', 'live', 'template:late-sheet')).followUps.filter((one) => one.followUp === 'file-absent')).toEqual([]);
    await undone();
    expect((await bench.run('export', 'dev', 'template:late-sheet', '-o', 'late.pochette')).code).toBe(0);
    expect((await imported('late.pochette', 'live')).followUps).toContainEqual({ followUp: 'file-absent', item: 'template:late-sheet', path });
    expect((await bench.run('followups', 'live')).out).toContain(`put the file ${path} on the target`);
    await write('live', [{ op: 'restore', key: 'picture-again', ...key, ifMatch: '*', record }]);
    expect((await bench.run('followups', 'live')).out).not.toMatch(/put the file/);
    await undone();
    const sheet = named(await bench.site('dev').items(), 'tholepin/template', 'late-sheet');
    await write('dev', [{ op: 'delete', key: 'no-late-sheet', kind: sheet.kind, id: sheet.id, ifMatch: sheet.etag }]);
  });
  test('a picture that is there under another name is used, not doubled; a comparison finds nothing afterwards', async () => {
    const dev = named(await bench.site('dev').items(), 'tholepin/media', 'harbour-dusk').value;
    const file = dev['file'] as string;
    const bytes = readFileSync(join(bench.site('dev').folder, 'media', file));
    const { token } = (await bench.site('live').call('POST', '/lock', { owner: 'x', run: 'x', seconds: 5 })).json as { token: string };
    await bench.site('live').call('PUT', `/media/${file}`, bytes, { 'pochette-lock': token, 'content-type': 'image/png' });
    await bench.site('live').call('DELETE', '/lock', undefined, { 'pochette-lock': token });
    await write('live', [{ op: 'create', key: 'dusk', kind: 'tholepin/media', name: 'evening', status: 'published', value: { title: 'Evening', alt: '', fileName: 'evening.png', file } }]);
    const result = await imported('dev', 'live', 'image-format:wide');
    expect(result.adjusted).toEqual([{ adjusted: 'reused', item: 'media:evening', from: 'media:harbour-dusk' }]);
    const live = await bench.site('live').items();
    expect(named(live, 'tholepin/image-format', 'wide').value['fallback']).toBe(named(live, 'tholepin/media', 'evening').id);
    expect(live.some((one) => one.name === 'harbour-dusk')).toBe(false);
    expect((await bench.run('compare', 'dev', 'live', 'image-format:*', 'media:harbour-dusk')).out).toMatch(/media:harbour-dusk is there already, as media:evening/);
    expect((await bench.run('compare', 'dev', 'live', 'image-format:*', 'media:harbour-dusk')).code).toBe(0);
    // Nor where only what refers to it is looked at.
    for (const verb of ['compare', 'verify']) expect([verb, (await bench.run(verb, 'dev', 'live', 'image-format:wide')).code]).toEqual([verb, 0]);
    expect((await bench.run('import', 'dev', 'live', 'image-format:wide', '--alone', '--yes')).out).toContain('Nothing to do');
    await undone();
    const evening = named(await bench.site('live').items(), 'tholepin/media', 'evening');
    await write('live', [{ op: 'delete', key: 'dusk-away', kind: evening.kind, id: evening.id, ifMatch: evening.etag }]);
  });
  test('what the target has removed stays away, unless something that comes needs it', async () => {
    await imported('dev', 'live', 'image-format:wide');
    const gone = named(await bench.site('live').items(), 'tholepin/media', 'harbour-dusk');
    await write('live', [{ op: 'delete', key: 'dusk-gone', kind: gone.kind, id: gone.id, ifMatch: gone.etag }]);
    expect((await bench.run('import', 'dev', 'live', 'media:harbour-dusk', '--yes')).out).toContain('Nothing to do');
    const format = named(await bench.site('dev').items(), 'tholepin/image-format', 'wide');
    await write('dev', [{ op: 'update', key: 'wider', kind: format.kind, id: format.id, ifMatch: format.etag, value: { ...format.value, width: 1111 } }]);
    expect(json((await bench.run('route', 'dev', 'live', 'image-format:wide', '--decide', 'media:harbour-dusk=target', '--json')).out)).toMatchObject({ blocks: [expect.objectContaining({ block: 'missing', to: 'media:harbour-dusk' })] });
    expect(await imported('dev', 'live', 'image-format:wide')).toMatchObject({ created: 1, updated: 1 });
    await undone();
    await undone();
    const wider = named(await bench.site('dev').items(), 'tholepin/image-format', 'wide');
    await write('dev', [{ op: 'update', key: 'as-it-was', kind: wider.kind, id: wider.id, ifMatch: wider.etag, value: format.value }]);
  });
  test('a part that needs another one takes it along and says so', async () => {
    const made = json((await bench.run('route', 'dev', 'live', 'form:lost-property#actions', '--json')).out) as { broughtAlong: object[] };
    expect(made.broughtAlong).toContainEqual({ address: 'form:lost-property#fields', for: 'form:lost-property#actions' });
    // Also where other items come along.
    const more = json((await bench.run('route', 'dev', 'live', 'landing:winter-offers#layout', '--json')).out) as { broughtAlong: object[] };
    expect(more.broughtAlong).toEqual(expect.arrayContaining([{ address: 'landing:winter-offers#styles', for: 'landing:winter-offers#layout' }, { address: 'popup:gale-warning', for: 'landing:winter-offers' }]));
    expect((await bench.run('route', 'dev', 'live', 'form:lost-property#actions')).out).toMatch(/form:lost-property {2}only fields, actions/);
  });
  test('an item that is larger than a request may be blocks before anything is written', async () => {
    const path = join(bench.site('dev').folder, 'site.json');
    expect(JSON.parse(readFileSync(path, 'utf8'))).toMatchObject({ facts: { limits: { requestBytes: 8 * 1024 * 1024 } } });
    const text = JSON.stringify({ address: 'template:huge', covers: 'all', kind: 'tholepin/template', value: template(`<p>${'soup '.repeat(6_000_000)}</p>`) });
    writeFileSync(bench.path('huge.json'), text);
    const ran = await bench.run('import', 'huge.json', 'live', '--yes');
    expect([ran.code, ran.out]).toEqual([3, expect.stringMatching(/template:huge has 30(\.\d)? MB, and the target takes 8(\.\d)? MB in one request/)]);
  });
  test('broken markup, unpaired surrogates, keys and texts that look like our notation arrive as they are', async () => {
    const odd = template(`<p <b>"< <!-- block {"template": --> </\ud800x ⟦site⟧ ⟦⟦ @ref <a href='`, { '@ref': 'template:front', layout: '{"bands":[', '⟦id template:front⟧': 1 });
    await write('dev', [{ op: 'create', key: 'odd', kind: 'tholepin/template', name: 'odd one/ä', status: 'published', value: odd }]);
    await imported('dev', 'live', 'template:odd*');
    const [there, here] = [named(await bench.site('dev').items(), 'tholepin/template', 'odd one/ä'), named(await bench.site('live').items(), 'tholepin/template', 'odd one/ä')];
    expect(here.value).toEqual(there.value);
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
