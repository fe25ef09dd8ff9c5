/// <reference lib="dom" />
import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Page } from 'playwright-core';
import { Browser, browserIsThere } from '../helpers/browser.ts';
import { Bench, changeOn, createOn } from '../helpers/sites.ts';

/** Values that would run, fetch or break out, were they not text. */
const HOSTILE = [
  '<script>alert(1)</script>', '</script><script>alert(2)</script>', '"><img src=x onerror=alert(3)>', '<svg onload=alert(4)>', 'javascript:alert(5)', '<iframe src="http://127.0.0.1:9/x"></iframe>',
  '</style><style>*{background:url(http://127.0.0.1:9/y)}</style>', '<!--', ']]>', '\' onmouseover=alert(6) x=\'', '<base href="http://127.0.0.1:9/">', '<meta http-equiv=refresh content="0;url=http://127.0.0.1:9/">', '</title>', '\u202eevil', '<a href="javascript:alert(7)">x</a>', '{{constructor.constructor("alert(8)")()}}',
];
const bench = new Bench();
const browser = new Browser();
beforeAll(async () => {
  await bench.start('dev', 'live');
  for (const [i, text] of HOSTILE.entries()) await createOn(bench.site('dev'), 'tholepin/template', `hostile-${i}`, { title: text, code: text, markup: `<p>${text}</p>` });
  await changeOn(bench.site('dev'), 'tholepin/style', 'site-style', (value) => ({ ...value, fonts: [{ key: 'body', family: 'x;background:url(http://127.0.0.1:9/z)', size: 9 }] }));
  const notices = (changed: string): string => Array.from({ length: 40 }, (_, n) => `<p>Notice ${n}${n === 20 ? changed : ''}.</p>`).join('\n');
  for (const [site, text] of [['dev', ' of the new pier'], ['live', ' of the old pier']] as const) await createOn(bench.site(site), 'tholepin/template', 'notices', { title: 'Notices — boats', code: '', markup: notices(text) });
  await bench.run('compare', 'dev', 'live', '--report', 'page.html', '--previews');
});
afterAll(async () => { await browser.close(); await bench.stop(); });

(browserIsThere() ? describe : describe.skip)('the page of a comparison, in a real browser', () => {
  const visible = (page: Page): Promise<string[]> => page.locator('.card:visible').evaluateAll((cards) => cards.map((card) => (card as HTMLElement).dataset['address'] ?? ''));
  test('filters by kind, state and text; sections without items go', async () => {
    const page = await browser.open(bench.path('page.html'));
    const all = await visible(page);
    expect(all.length).toBeGreaterThan(40);
    await page.selectOption('#kind', 'menu');
    expect(await visible(page)).toEqual(['menu:main']);
    expect(await page.locator('section:has(.card):visible').count()).toBe(1);
    await page.selectOption('#kind', '');
    await page.getByLabel('new', { exact: true }).uncheck();
    expect((await visible(page)).every((address) => !address.startsWith('quiz:'))).toBe(true);
    await page.getByLabel('new', { exact: true }).check();
    await page.getByLabel('Text').fill('winter crossings');
    expect(await visible(page)).toEqual(['template:front']);
    expect(await page.locator('#shown').textContent()).toMatch(/^1 of \d+ items$/);
    // Texts of folded items are found as they are read, marks and signs of markup in them or not, in small letters or large ones.
    await page.getByLabel('Text').fill('Notice 20 OF THE NEW pier.</p>');
    expect(await visible(page)).toEqual(['template:notices']);
    await page.getByLabel('Text').fill('NOTICES — b');
    expect(await visible(page)).toEqual(['template:notices']);
    await page.getByLabel('Text').fill('');
    expect(await visible(page)).toEqual(all);
    await page.close();
  });
  test('cards are folded and unfolded by their buttons, with keys, and all at once; nothing is left where a filter hides all of a batch', async () => {
    const page = await browser.open(bench.path('page.html'));
    const card = page.locator('[data-address="form:lost-property"]');
    const button = card.getByRole('button', { name: /^\d+ places? of form:lost-property$/ });
    const folded = async (): Promise<unknown[]> => [await button.getAttribute('aria-expanded'), await card.locator('.body').getAttribute('hidden')];
    const first = await folded();
    await button.focus();
    await page.keyboard.press('Enter');
    const second = await folded();
    expect([first, second]).toEqual(expect.arrayContaining([['true', null], ['false', 'until-found']]));
    await card.locator('.head code').click();
    expect(await folded()).toEqual(first);
    await page.locator('#unfold').click();
    expect(await folded()).toEqual(['true', null]);
    expect(await card.locator('td').count()).toBeGreaterThan(1);
    await page.locator('#unfold').click();
    expect(await folded()).toEqual(['false', 'until-found']);
    await page.getByLabel('Text').fill('lost-property');
    expect(await page.locator('.batch:visible').count()).toBe(await page.locator('section:has(.card):visible').count());
    await page.close();
  });
  test('colours, fonts, pictures and previews are shown as such; places have their labels, stored forms only when asked for', async () => {
    const page = await browser.open(bench.path('page.html'));
    await page.locator('#unfold').click();
    const style = page.locator('[data-address="style:site-style"]');
    expect(await style.locator('.swatch').first().evaluate((one) => getComputedStyle(one).backgroundColor)).toBe('rgb(22, 38, 58)');
    expect(await style.textContent()).toMatch(/contrast 15\.3 on white, 1\.4 on black[^]*Typeface/);
    const picture = page.locator('[data-address="media:harbour-dusk"] img');
    await picture.scrollIntoViewIfNeeded();
    await picture.evaluate((one) => (one as HTMLImageElement).decode());
    expect(await picture.evaluate((one) => (one as HTMLImageElement).naturalWidth)).toBe(640);
    expect(await page.locator('[data-address="media:harbour-dusk"]').textContent()).toMatch(/image\/png, [\d.]+ KB, 640 × 300/);
    const front = page.locator('[data-address="template:front"]');
    await front.scrollIntoViewIfNeeded();
    expect(await front.locator('iframe').evaluateAll((frames) => frames.map((frame) => frame.getAttribute('sandbox')))).toEqual(['', '']);
    expect(await front.locator('iframe').first().contentFrame().locator('h1').textContent()).toBe('Winter crossings, warm saloons');
    expect(await front.locator('mark').first().textContent()).not.toBe('');
    expect(await front.locator('.raw pre').first().isVisible()).toBe(false);
    expect(await page.locator('[data-address="form:lost-property"]').textContent()).toMatch(/Thank-you message/);
    const notices = page.locator('[data-address="template:notices"]');
    expect(await notices.locator('pre').allTextContents()).toEqual(['new', 'old'].map((word) => `… 18 lines the same …<p>Notice 18.</p>\n<p>Notice 19.</p>\n<p>Notice 20 of the ${word} pier.</p>\n<p>Notice 21.</p>\n<p>Notice 22.</p>… 17 lines the same …`));
    expect(await notices.locator('mark').allTextContents()).toEqual(['new', 'old']);
    expect(await notices.locator('.head').textContent()).toContain('Notices — boats');
    await page.close();
  });
  test('the dependency graph is folded by kind, says so, and shows what is around a kind and an item; by keyboard too', async () => {
    const page = await browser.open(bench.path('page.html'));
    expect(await page.locator('#graph > p').textContent()).toMatch(/^\d+ items folded into \d+ kinds[^]*Circles: .*template:summer-timetable.*closed in a second pass/);
    const node = page.locator('.node[data-name="template"]');
    await node.focus();
    await page.keyboard.press('Enter');
    await page.locator('#around').getByRole('button', { name: 'template:front' }).click();
    expect(await page.locator('#around').textContent()).toMatch(/needsmedia:harbour-dusk|needs[^]*listing:departures/);
    expect(await page.locator('.arrow.circle').count()).toBeGreaterThan(1);
    await page.locator('#around a').click();
    expect(new URL(page.url()).hash).toMatch(/^#item-\d+$/);
    await page.close();
  });
  test('everything can be reached by keyboard and has a name; dark and paper work', async () => {
    const page = await browser.open(bench.path('page.html'), { colorScheme: 'dark' });
    await page.keyboard.press('Tab');
    expect(await page.evaluate(() => document.activeElement?.textContent)).toBe('To the contents');
    const unnamed = await page.locator('select, input, button, iframe, img, [role=button], summary').evaluateAll((all) => all.filter((one) => ((one as HTMLInputElement).labels?.length ?? 0) === 0 && one.textContent.trim() === '' && !one.getAttribute('aria-label') && !one.getAttribute('title') && !one.getAttribute('alt')).length);
    expect(unnamed).toBe(0);
    const [ink, ground] = await page.evaluate(() => { const style = getComputedStyle(document.body); return [style.color, style.backgroundColor]; });
    expect([ink, ground]).toEqual(['rgb(230, 227, 218)', 'rgb(20, 25, 31)']);
    await page.emulateMedia({ media: 'print' });
    expect(await page.locator('.filters').isVisible()).toBe(false);
    await page.close();
  });
  test('it asks for nothing from elsewhere, and nothing in the data runs', async () => {
    const page = await browser.open(bench.path('page.html'));
    await page.locator('#unfold').click();
    await page.evaluate(() => { for (const one of document.querySelectorAll('details')) one.open = true; });
    for (const frame of await page.locator('iframe').all()) await frame.scrollIntoViewIfNeeded();
    for (const node of await page.locator('.node').all()) await node.dispatchEvent('click');
    await page.waitForTimeout(300);
    expect(browser.noted).toEqual([]);
    expect(await page.locator('[data-address^="template:hostile"]').count()).toBe(HOSTILE.length);
    expect(await page.evaluate(() => document.querySelectorAll('base, meta[http-equiv=refresh], main img:not([src^="data:"]), main script:not([type="application/json"], [type="text/plain"])').length)).toBe(0);
    await page.close();
  });
  test('pages of a route, of an import and of the history', async () => {
    await bench.run('route', 'dev', 'live', '--report', 'route.html');
    await bench.run('import', 'dev', 'live', '--yes', '--report', 'import.html');
    await bench.run('history', '--report', 'history.html');
    const route = await browser.open(bench.path('route.html'));
    expect(await route.locator('ol.steps li').count()).toBeGreaterThan(40);
    expect(await route.locator('h1').textContent()).toBe('Route from dev to live');
    const done = await browser.open(bench.path('import.html'));
    expect(await done.locator('header').textContent()).toMatch(/\d+ items created, \d+ updated[^]*Read back: every item on live equals/);
    const history = await browser.open(bench.path('history.html'));
    expect(await history.locator('tbody tr').count()).toBe(1);
    expect(browser.noted).toEqual([]);
  });
});

test('a page that cannot be written loses nothing else', async () => {
  const ran = await bench.run('route', 'dev', 'live', '--report', 'nowhere/page.html', '-o', 'route.yaml');
  expect([ran.code, ran.err]).toEqual([2, expect.stringMatching(/the report cannot be written[^]*everything else was done/)]);
  expect(readFileSync(bench.path('route.yaml'), 'utf8')).toMatch(/^# A route/);
  expect((await bench.run('compare', 'dev', 'live', '--previews')).err).toMatch(/--previews goes with --report/);
});
