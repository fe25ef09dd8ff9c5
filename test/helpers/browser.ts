import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type BrowserContext, type Page } from 'playwright-core';

const PROGRAM = '/usr/bin/chromium';
const QUIET = ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'];

/** Is there a browser for the tests of pages? Where servers are required, so is it. */
export function browserIsThere(): boolean {
  const there = existsSync(PROGRAM);
  if (!there && process.env['POCHETTE_SERVERS'] === 'required') throw new Error('chromium is not installed');
  return there;
}

/** A real browser that notes what a page does besides showing itself. */
export class Browser {
  readonly #profile = mkdtempSync(join(tmpdir(), 'pochette-browser-'));
  #context: BrowserContext | undefined;
  /** Requests for anything that is not in the page, dialogs, and errors of scripts. */
  readonly noted: string[] = [];

  async open(path: string, options: { colorScheme?: 'light' | 'dark' } = {}): Promise<Page> {
    this.#context ??= await chromium.launchPersistentContext(this.#profile, { executablePath: PROGRAM, headless: true, args: QUIET, viewport: { width: 1280, height: 800 } });
    const page = await this.#context.newPage();
    await page.emulateMedia(options);
    page.on('request', (request) => { if (!request.url().startsWith('data:') && request.url() !== `file://${path}`) this.noted.push(`request ${request.url()}`); });
    page.on('dialog', (dialog) => { this.noted.push(`dialog ${dialog.message()}`); void dialog.dismiss(); });
    page.on('pageerror', (error) => { this.noted.push(`error ${error.message}`); });
    await page.goto(`file://${path}`);
    return page;
  }

  async close(): Promise<void> {
    await this.#context?.close();
    rmSync(this.#profile, { recursive: true, force: true });
  }
}
