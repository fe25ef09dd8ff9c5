import { readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { parse } from 'yaml';
import { imports, json, named } from '../helpers/imports.ts';
import { Bench, changeOn, createOn, deleteOn, type Ran } from '../helpers/sites.ts';
import { KEYS, onTerminal } from '../helpers/terminal.ts';

const bench = new Bench();
const { imported, undone } = imports(bench);
const ARGS = ['dev', 'live', 'template:*', '--alone', '--leave-unmatched'];
const live = async (kind: string, name: string): Promise<Record<string, unknown>> => named(await bench.site('live').items(), kind, name).value;
const names = async (kind: string): Promise<string[]> => (await bench.site('live').items()).filter((one) => one.kind === kind).map((one) => one.name).sort();
interface Decided { decisions: { question: string; id: string; answer?: string; likeness?: number; other?: string; kept?: boolean }[]; blocks: { block: string }[]; steps: { do: string; item: string }[]; kept: string[] }
const route = async (...words: string[]): Promise<Decided> => json((await bench.run('route', ...words, '--json')).out);
function expectProblem(ran: Ran, code: number, message: RegExp): void { expect([ran.code, ran.err]).toEqual([code, expect.stringMatching(message)]); }

beforeAll(async () => {
  await bench.start('dev', 'live', 'old');
  // Something unrelated under the same address; the notice strip under another name; another redirect with the same path.
  await createOn(bench.site('live'), 'tholepin/template', 'crossing-card', { title: 'Harbour shop offers', code: '', markup: '<ul><li>mugs</li></ul>' });
  await createOn(bench.site('live'), 'tholepin/template', 'notice-bar', { title: 'Notice bar', code: '', hero: 0, layout: '', link: '', next: 0, related: '', markup: '<p class="notice"><strong>Gale expected.</strong> Boats may be late today.</p>' });
  await createOn(bench.site('live'), 'tholepin/redirect', 'winter', { label: 'Winter page', from: '/winter-2025/', to: '/fares/', code: 302, hits: 0 });
});
afterAll(async () => { await bench.stop(); });
beforeEach(() => { bench.configure(); rmSync(bench.path('.pochette/answers'), { recursive: true, force: true }); });

describe('the same address, another thing', () => {
  test('it blocks, with both titles and how alike they are; compare shows it', async () => {
    const ran = await bench.run('import', ...ARGS, '--yes');
    expect([ran.code, ran.out]).toEqual([3, expect.stringMatching(/template:crossing-card is something else there: "Crossing card" here, "Harbour shop offers" there; \d+ % alike/)]);
    expect((await bench.run('compare', 'dev', 'live', 'template:*')).out).toMatch(/something else: "Crossing card" on dev, "Harbour shop offers" on live/);
  });
  test('keep the target\'s, overwrite it, or keep both: then every reference follows', async () => {
    expect((await route(...ARGS, '--decide', 'template:crossing-card=target')).kept).toEqual(['template:crossing-card']);
    expect((await route(...ARGS, '--decide', 'source')).steps).toContainEqual(expect.objectContaining({ do: 'update', item: 'template:crossing-card' }));
    await imported('dev', 'live', '--decide', 'template:crossing-card=both', '--decide', 'redirect:old-winter-page=redirect:winter');
    expect((await live('tholepin/template', 'crossing-card'))['title']).toBe('Harbour shop offers');
    expect((await live('tholepin/template', 'crossing-card-2'))['title']).toBe('Crossing card');
    const card = named(await bench.site('live').items(), 'tholepin/template', 'crossing-card-2').id;
    expect((await live('crossing-board/listing', 'departures'))['card']).toBe(card);
    expect((await live('tholepin/redirect', 'winter'))).toMatchObject({ label: 'Last year\'s winter page' });
    // The ledger knows it from now on: nobody is asked again, and a change goes to the right one.
    expect((await bench.run('compare', 'dev', 'live', 'template:crossing-card', 'listing:*', 'redirect:*')).code).toBe(0);
    await undone();
    expect(await names('tholepin/template')).not.toContain('crossing-card-2');
    const other = await route(...ARGS, '--decide', 'template:crossing-card=both:sailing-card');
    expect(other.steps).toContainEqual(expect.objectContaining({ do: 'create', item: 'template:sailing-card' }));
  });
});

describe('another address, the same thing or the same key', () => {
  test('a likely rename is shown with the likeness, and decided as one', async () => {
    const open = await route(...ARGS, '--decide', 'template:crossing-card=target');
    const rename = open.decisions.find((one) => one.question === 'rename');
    expect([rename, open.blocks]).toEqual([expect.objectContaining({ id: 'template:notice-strip', other: 'template:notice-bar', likeness: expect.closeTo(0.85, 1) as unknown }), []]);
    expect((await bench.run('compare', 'dev', 'live', '--format', 'markdown')).out).toMatch(/## Perhaps renamed[^]*notice-strip[^]*notice-bar[^]*% alike/);
    await imported(...ARGS, '--decide', 'template:crossing-card=target', '--decide', 'template:notice-strip=template:notice-bar');
    expect(await names('tholepin/template')).not.toContain('notice-strip');
    expect(await live('tholepin/template', 'notice-bar')).toMatchObject({ title: 'Notice strip' });
    await changeOn(bench.site('dev'), 'tholepin/template', 'notice-strip', (value) => ({ ...value, code: '/* x */' }));
    expect((await route('dev', 'live', 'template:notice-strip', '--alone')).steps).toEqual([expect.objectContaining({ do: 'update', item: 'template:notice-bar' })]);
    await undone();
    await changeOn(bench.site('dev'), 'tholepin/template', 'notice-strip', (value) => ({ ...value, code: '' }));
  });
  test('two items with one key: put onto the other one, or left out; twice in one import is said too', async () => {
    const ran = await bench.run('route', 'dev', 'live', 'redirect:*');
    expect([ran.code, ran.out]).toEqual([3, expect.stringMatching(/redirect:old-winter-page has the same from as redirect:winter: [^]*--decide redirect:old-winter-page=redirect:winter puts it onto that one, =leave-out/)]);
    expect((await route('dev', 'live', 'redirect:*', '--decide', 'redirect:old-winter-page=redirect:winter')).steps).toEqual([expect.objectContaining({ do: 'update', item: 'redirect:winter' })]);
    expect((await route('dev', 'live', 'redirect:*', '--decide', 'redirect:old-winter-page=leave-out'))).toMatchObject({ steps: [], blocks: [] });
  });
  test('answers that are none, or given twice', async () => {
    expectProblem(await bench.run('route', ...ARGS, '--decide', 'template:front=perhaps'), 2, /"template:front=perhaps" is no decision/);
    expectProblem(await bench.run('route', ...ARGS, '--decide', 'template:front=source', '--decide', 'template:front=target'), 2, /answered twice: source and target/);
    expectProblem(await bench.run('route', ...ARGS, '--decide', 'template:notice-strip=template:notice-bar', '--decide', 'template:front=template:notice-bar'), 2, /would both become template:notice-bar/);
  });
});

describe('what a site keeps', () => {
  const KEEP = { live: ['keep:', '  - "style:site-style#/colours/ink"', '  - "menu:ma*#/label"'] };
  const inkOf = async (): Promise<unknown> => JSON.parse(JSON.stringify((await live('tholepin/style', 'site-style'))['colours']));

  test('is no difference, stays on import, and the rest arrives', async () => {
    const before = await inkOf();
    const label = (await live('tholepin/menu', 'main'))['label'];
    bench.configure(KEEP);
    const compared = (JSON.parse((await bench.run('compare', 'dev', 'live', 'style:*', 'menu:*', '--json')).out) as { items: { address: string; changes: { at: string }[] }[] }).items;
    expect(compared.flatMap((one) => one.changes.map((change) => `${one.address}#${change.at}`)).filter((at) => at.startsWith('style:site-style#/colours/ink') || at === 'menu:main#/label')).toEqual([]);
    const ran = await imported('dev', 'live', 'style:*', 'menu:*', '--alone', '--leave-unmatched', '--decide', 'source');
    expect(ran.adjusted).toContainEqual({ adjusted: 'kept', item: 'style:site-style', at: ['/colours/ink'] });
    expect((await live('tholepin/menu', 'main'))['label']).toBe(label);
    const [ink, ground] = (await inkOf()) as unknown[];
    expect([ink, ground]).toEqual([(before as unknown[])[0], expect.objectContaining({ value: '#f6f1e7' })]);
    expect((await bench.run('import', 'dev', 'live', 'style:*', 'menu:*', '--alone', '--leave-unmatched', '--yes')).out).toContain('Nothing to do');
    await undone();
  });
});

describe('a route as a file that is read and edited', () => {
  const file = (): string => readFileSync(bench.path('route.yaml'), 'utf8');
  const write = (text: string, name = 'edited.yaml'): string => { writeFileSync(bench.path(name), text); return name; };
  const go = (text: string, ...more: string[]): Promise<Ran> => bench.run('import', '--route', write(text), '--yes', ...more);
  test('it is written with open questions, and says in plain words what will happen', async () => {
    const ran = await bench.run('route', 'dev', 'live', '-o', 'route.yaml');
    expect([ran.code, ran.out]).toEqual([3, expect.stringMatching(/Written with open questions: route\.yaml/)]);
    const read = parse(file()) as { summary: string[]; decisions: { id: string; asks: string; answer: string }[] };
    expect(read.summary.join('\n')).toMatch(/^Made on live: .*template.*\nChanged on live: [^]*Visitors notice at once: the pages [^]*An undo brings all items back[^]*Open: 2 questions/);
    expect(read.decisions.map((one) => `${one.id} ${one.answer}`)).toEqual(['template:crossing-card ?', 'redirect:old-winter-page ?', 'template:notice-strip new']);
    expectProblem(await go(file()), 3, /^$/);
    expect((await bench.run('import', '--route', 'edited.yaml', '--yes')).out).toMatch(/template:crossing-card is something else there/);
  });
  test('answers, adjustments and dropped steps are carried out exactly', async () => {
    const answered = file().replace(/(id: template:crossing-card\n(?: {4}.*\n)*? {4}answer: )"\?"/, '$1both').replace(/(id: redirect:old-winter-page\n(?: {4}.*\n)*? {4}answer: )"\?"/, '$1leave-out').replace(/answer: new/, 'answer: template:notice-bar')
      .replace('adjustments: {}', 'adjustments:\n  "style:site-style#/colours/ink/value": "#000000"\n  "menu:main#/label": Ashore').replace(/ {2}- step: \d+\n {4}do: create\n {4}item: snippet:tide-counter\n(?: {4}.*\n)*/, '');
    const ran = await go(answered, '--json');
    expect([ran.code, ran.err]).toEqual([0, '']);
    expect(await live('tholepin/template', 'crossing-card-2')).toMatchObject({ title: 'Crossing card' });
    expect(await live('tholepin/template', 'notice-bar')).toMatchObject({ title: 'Notice strip' });
    expect(await live('tholepin/menu', 'main')).toMatchObject({ label: 'Ashore' });
    expect(await names('tholepin/snippet')).toEqual([]);
    // What an adjustment changed is no change of the source.
    bench.configure({ live: ['adjustments:', '  "style:site-style#/colours/ink/value": "#000000"', '  "menu:main#/label": Ashore'] });
    expect(json((await bench.run('compare', 'dev', 'live', 'style:*', 'menu:main', '--json')).out)).toMatchObject({ counts: { differs: 0 } });
    await undone();
  });
  test('nonsense is refused with line and column, and nothing is written', async () => {
    const before = await bench.site('live').items();
    const line = (text: RegExp): number => file().split('\n').findIndex((one) => text.test(one)) + 1;
    const step = / {2}- step: \d+\n {4}do: update\n {4}item: menu:main\n(?: {4}.*\n)*/.exec(file())?.[0] ?? '';
    const cases: [string, number, RegExp][] = [
      [file().replace('summary:', 'summary: ['), 7, /this is not YAML[^]*edited\.yaml:\d+:\d+/],
      [file().replace('route: 2', 'route: 7'), 7, new RegExp(`edited\\.yaml:${line(/^route: 2/)}:\\d+`)],
      [file().replace(step, step + step), 7, /menu:main stands in two steps[^]*edited\.yaml:\d+:\d+/],
      [file().replace('item: menu:main\n', 'item: menu:mian\n'), 7, new RegExp(`menu:mian was no step of this route[^]*edited\\.yaml:${line(/item: menu:main/)}:5`)],
      [file().replace('id: template:crossing-card', 'id: template:crossing-cord'), 7, new RegExp(`no question about template:crossing-cord[^]*edited\\.yaml:${line(/id: template:crossing-card/)}:5`)],
      [file().replace('answer: "?"', 'answer: perhaps'), 7, new RegExp(`"perhaps" is no answer to this question[^]*edited\\.yaml:${line(/answer: "\?"/)}:5[^]*source or target or both or \\?`)],
      [file().replace('id: redirect:old-winter-page', 'id: template:crossing-card'), 7, /template:crossing-card is decided twice/],
      [file().replace('adjustments: {}', 'adjustments: { "menu:main": x }'), 7, /"menu:main" is no place[^]*edited\.yaml:\d+:\d+/],
      [file().replace('adjustments: {}', 'adjustments: { "menu:main#/entries/none/label": x }').replace(/answer: "\?"/g, 'answer: leave-out').replace('answer: leave-out', 'answer: target'), 2, /no place \/entries\/none\/label to adjust[^]*menu:main/],
      [file().replace(/^toSite: .*/m, 'toSite: elsewhere'), 4, /made for other sites/],
      [file().replace(/^to: live/m, 'to: old'), 4, /made for other sites/],
    ];
    for (const [text, code, message] of cases) expectProblem(await go(text), code, message);
    expect(await bench.site('live').items()).toEqual(before);
  });
  test('a dropped step that others need is named; a target that moved is refused, and --replan keeps the answers', async () => {
    const answered = file().replace('answer: "?"', 'answer: target').replace('answer: "?"', 'answer: leave-out');
    const without = answered.replace(/ {2}- step: \d+\n {4}do: create\n {4}item: quiz:weather\n(?: {4}.*\n)*/, '');
    expect((await go(without)).out).toMatch(/course:bad-weather needs quiz:weather, whose step was taken out of the route/);
    const noClosing = answered.replace(/ {2}- step: \d+\n {4}do: complete\n {4}item: listing:fleet\n(?: {4}.*\n)*/, '');
    expect((await go(noClosing)).out).toMatch(/listing:fleet needs its references to content-type:vessel in the end/);
    await changeOn(bench.site('live'), 'tholepin/menu', 'main', (value) => ({ ...value, label: 'Moved' }));
    expectProblem(await go(answered), 4, /menu:main on live[^]*--replan keeps the answers/);
    await changeOn(bench.site('live'), 'tholepin/template', 'crossing-card', (value) => ({ ...value, title: 'Shop' }));
    const dropped = answered.replace(/ {2}- step: \d+\n {4}do: create\n {4}item: snippet:tide-counter\n(?: {4}.*\n)*/, '');
    expect((await go(dropped, '--replan')).code).toBe(0);
    expect([await names('tholepin/snippet'), (await live('tholepin/template', 'crossing-card'))['title'], (await names('tholepin/redirect'))]).toEqual([[], 'Shop', ['winter']]);
    await undone();
    expectProblem(await bench.run('import', 'dev', 'live', '--replan', '--yes'), 2, /--replan goes with --route/);
  });
});

test('what is printed and written keeps to the published schemas', async () => {
  const check = (name: string, value: unknown): unknown => { const ajv = new Ajv2020({ strict: false, allErrors: true }); return ajv.validate(JSON.parse(readFileSync(`docs/schemas/${name}.schema.json`, 'utf8')) as object, value) || ajv.errors; };
  expect(check('comparison', json((await bench.run('compare', 'dev', 'live', '--json')).out))).toBe(true);
  expect(check('comparison', json((await bench.run('compare', 'dev', 'old', '--json')).out))).toBe(true);
  await bench.run('route', 'dev', 'live', '-o', 'route.yaml');
  expect(check('route', parse(readFileSync(bench.path('route.yaml'), 'utf8')))).toBe(true);
  expect(check('route', { route: 2, steps: 'none' })).not.toBe(true);
});

describe('answers', () => {
  test('kept for next time, as long as they are about the same; --ask-again asks anew', async () => {
    expect((await bench.run('route', ...ARGS, '--decide', 'template:crossing-card=target', '--remember')).code).toBe(0);
    const again = await bench.run('route', ...ARGS);
    expect([again.code, again.out]).toEqual([0, expect.stringMatching(/Answered as last time: template:crossing-card = target/)]);
    expect((await bench.run('route', ...ARGS, '--ask-again')).code).toBe(3);
    await changeOn(bench.site('dev'), 'tholepin/template', 'crossing-card', (value) => ({ ...value, code: '/* new */' }));
    expect((await bench.run('route', ...ARGS)).code).toBe(3);
    await changeOn(bench.site('dev'), 'tholepin/template', 'crossing-card', (value) => ({ ...value, code: '' }));
  });
  test('asked one by one on a terminal, with both values in view, and kept when wanted', async () => {
    const terminal = onTerminal(bench, 'route', 'dev', 'live', 'template:*', '--alone', '-o', 'asked.yaml');
    await terminal.until(/5 questions are open. Answer them now/);
    await terminal.press('y');
    await terminal.until(/template:crossing-card is something else on live[^]*dev: +"Crossing card"[^]*live: +"Shop"[^]*keep both/);
    await terminal.press(KEYS.down, KEYS.down, KEYS.enter);
    for (const thing of ['media:vessel-selkie', 'listing:fleet', 'media:harbour-dusk']) { await terminal.until(new RegExp(`${thing} is not on live, and .* What takes its place`)); await terminal.press(KEYS.enter); }
    await terminal.until(/template:notice-strip is new, and template:notice-bar is only on live[^]*which keeps its name on live/);
    await terminal.press(KEYS.up, KEYS.enter);
    await terminal.until(/Keep these answers for next time/);
    await terminal.press('y');
    await terminal.until(/Written: asked\.yaml/);
    await terminal.ended();
    const { decisions } = parse(readFileSync(bench.path('asked.yaml'), 'utf8')) as { decisions: { id: string; answer: string }[] };
    expect(decisions.map((one) => `${one.id} ${one.answer}`).sort()).toEqual(['listing:fleet listing:departures', 'media:harbour-dusk media:harbour-noon', 'media:vessel-selkie media:crossing-chart', 'template:crossing-card both', 'template:notice-strip template:notice-bar']);
    expect(readdirSync(bench.path('.pochette/answers'))).toHaveLength(1);
    expect((await bench.run('route', 'dev', 'live', 'template:*', '--alone')).code).toBe(0);
  });
  test('a requirement that is not met can be answered by leaving out what needs it', async () => {
    const all = await route('dev', 'old');
    const id = all.decisions.find((one) => one.question === 'requirement')?.id ?? '';
    expect(id).toMatch(/^requirement:/);
    const fewer = await route('dev', 'old', '--decide', `${id}=leave-out`);
    expect(fewer.blocks.length).toBeLessThan(all.blocks.length);
  });
});

describe('parts have their own memory', () => {
  test('changed here, changed there and on both, for a part; the rest of the item does not matter', async () => {
    const parts = ['dev', 'live', 'form:lost-property#messages'];
    await imported(...parts, '--alone', '--leave-unmatched');
    const by = async (): Promise<unknown> => (json((await bench.run('compare', ...parts, '--json')).out) as { items: { by?: string }[] }).items[0]?.by;
    await changeOn(bench.site('live'), 'quay-forms/form', 'lost-property', (value) => ({ ...value, title: 'A colleague\'s title' }));
    expect(await by()).toBeUndefined();
    await changeOn(bench.site('dev'), 'quay-forms/form', 'lost-property', (value) => ({ ...value, messages: { ...(value['messages'] as object), error: '<p>Please look again.</p>' } }));
    expect(await by()).toBe('source');
    await changeOn(bench.site('live'), 'quay-forms/form', 'lost-property', (value) => ({ ...value, messages: { ...(value['messages'] as object), thanks: '<p>Thanks!</p>' } }));
    expect(await by()).toBe('both');
    await imported(...parts, '--alone', '--leave-unmatched');
    expect((await live('quay-forms/form', 'lost-property'))).toMatchObject({ title: 'A colleague\'s title', messages: { error: '<p>Please look again.</p>', thanks: '<p>Thanks!</p>' } });
  });
  test('a run stands for the site as it was before it', async () => {
    const run = (json((await bench.run('history', 'live', '--json')).out) as { history: { run: string }[] }).history[0]?.run ?? '';
    const since = await bench.run('compare', run, 'live');
    expect([since.code, since.out]).toEqual([1, expect.stringMatching(/form:lost-property[^]*\/messages\/error/)]);
  });
});

test('texts that both sides changed are put together by line and by tag; a clash can be decided place by place', async () => {
  await imported('dev', 'live', '--decide', 'source', '--decide', 'redirect:old-winter-page=leave-out');
  const page = '<section><h2>Sailings</h2><p>Daily at nine</p><p>Not in storms</p></section>';
  const change = (site: string, markup: string, title: string): Promise<void> => changeOn(bench.site(site), 'tholepin/template', 'fleet-band', (value) => ({ ...value, markup, title }));
  await change('dev', page, 'Fleet');
  await imported('dev', 'live', 'template:fleet-band', '--alone');
  await change('dev', page.replace('nine', 'ten'), 'Fleet on dev');
  await change('live', page.replace('Sailings', 'Our sailings'), 'Fleet on live');
  const found = json((await bench.run('compare', 'dev', 'live', 'template:fleet-band', '--json')).out) as { items: { clashes: string[] }[] };
  expect(found.items[0]?.clashes).toEqual(['/title']);
  expect((await bench.run('compare', 'dev', 'live', 'template:fleet-band')).out).toMatch(/\/markup \(both, put together by itself\)[^]*\/title \(clash\)/);
  await imported('dev', 'live', 'template:fleet-band', '--alone', '--decide', 'template:fleet-band#/title=target');
  expect(await live('tholepin/template', 'fleet-band')).toMatchObject({ title: 'Fleet on live', markup: page.replace('nine', 'ten').replace('Sailings', 'Our sailings') });
  await deleteOn(bench.site('live'), 'tholepin/snippet', 'tide-counter');
});
