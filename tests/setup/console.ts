import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Browser, Page } from 'playwright-core';
import { afterEach } from 'vitest';
import { launchBrowser, openPage } from './browser.js';
import { loadGarden, startService, type TestService } from './service.js';

const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/** Prints what the page shows after a test that failed, so that a failure elsewhere can be understood. */
export function printWhenFailed(page: () => Page): void {
  afterEach(async ({ task }) => {
    if (task.result?.state !== 'fail') return;
    const shown = await page().locator('body').innerText().catch(String);
    process.stdout.write(`${task.name} failed at ${page().url()}, which shows:\n${shown.slice(0, 4000)}\n`);
  });
}

/** Signs in to the console with the access key. */
export async function signIn(on: Page, to: TestService): Promise<void> {
  await on.goto(to.url);
  await on.getByLabel('Access key').fill(to.key);
  // Going elsewhere before the answer would be going without it.
  const answered = on.waitForResponse((response) => response.url().endsWith('/api/v1/session'));
  await on.getByRole('button', { name: 'Sign in' }).click();
  await answered;
}

/** What axe finds against WCAG 2.2 AA, as «rule: element». */
export async function axe(on: Page): Promise<string[]> {
  await on.evaluate(AXE);
  const results = await on.evaluate(() => {
    const run = (
      globalThis as unknown as {
        axe: { run(options: unknown): Promise<{ violations: { id: string; nodes: { html: string }[] }[] }> };
      }
    ).axe;
    return run.run({ runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] });
  });
  return results.violations.flatMap(({ id, nodes }) => nodes.map(({ html }) => `${id}: ${html.slice(0, 160)}`));
}

const MOST_TABS = 400;

/** Goes with the tabulator to what has the name, as who has no mouse does. */
export async function tabTo(page: Page, name: string | RegExp): Promise<void> {
  for (let tab = 0; tab < MOST_TABS; tab++) {
    if (tab > 0) await page.keyboard.press('Tab');
    const found = await page.evaluate(() => {
      const at = document.activeElement as HTMLElement | null;
      const labels = (at as HTMLInputElement | null)?.labels;
      const by = at?.getAttribute('aria-labelledby')?.split(' ') ?? [];
      const shown = [
        ...by.map((id) => document.getElementById(id)?.innerText),
        ...[...(labels ?? [])].map((each) => each.innerText),
      ];
      return (at?.getAttribute('aria-label') ?? ([...new Set(shown)].join(' ').trim() || at?.innerText || '')).trim();
    });
    if (typeof name === 'string' ? found === name : name.test(found)) return;
  }
  throw new Error(`nothing called ${name} was reached by keyboard`);
}

/** A service with the garden in it, and its console, signed in. */
export interface OpenConsole {
  readonly service: TestService;
  readonly browser: Browser;
  readonly page: Page;
  readonly complaints: string[];
  close(): Promise<void>;
}

const PATIENCE_MS = 15_000;

export async function openConsole(): Promise<OpenConsole> {
  const [service, browser] = await Promise.all([startService(), launchBrowser()]);
  await loadGarden(service);
  const { page, complaints } = await openPage(browser);
  page.setDefaultTimeout(PATIENCE_MS);
  await signIn(page, service);
  await page.getByRole('heading', { name: 'ticket-site' }).waitFor();
  const close = async () => {
    await browser.close();
    await service.stop();
  };
  return { service, browser, page, complaints, close };
}
