import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Browser, Locator, Page } from 'playwright-core';
import { afterEach } from 'vitest';
import { launchBrowser, openPage } from './browser.js';
import { startGarden, type TestService } from './service.js';

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

/** Goes to another address of the console, as a link does, without loading the console anew. */
export const visit = (page: Page, path: string): Promise<void> =>
  page.evaluate((to) => {
    history.pushState(null, '', to);
    dispatchEvent(new PopStateEvent('popstate', { state: null }));
  }, path);

const WCAG = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];

/** What axe finds against WCAG 2.2 AA, as «rule: element». */
export const axe = (on: Page): Promise<string[]> => found(on, WCAG);

/** The same of contrast alone, which is all that other colours change. */
export const axeContrast = (on: Page): Promise<string[]> => found(on, { type: 'rule', values: ['color-contrast'] });

async function found(on: Page, runOnly: unknown): Promise<string[]> {
  if (!(await on.evaluate(() => 'axe' in globalThis))) await on.evaluate(AXE);
  const results = await on.evaluate((only) => {
    const run = (
      globalThis as unknown as {
        axe: { run(options: unknown): Promise<{ violations: { id: string; nodes: { html: string }[] }[] }> };
      }
    ).axe;
    return run.run({ runOnly: only, resultTypes: ['violations'] });
  }, runOnly);
  return results.violations.flatMap(({ id, nodes }) => nodes.map(({ html }) => `${id}: ${html.slice(0, 160)}`));
}

/**
 * What axe does not see of WCAG 2.2 AA: edges of what can be pressed or written into with less than 3 to 1 against their
 * ground, and placeholders with less than 4.5 to 1. As «what: ratio, element».
 */
export function faintEdges(on: Page): Promise<string[]> {
  return on.evaluate(() => {
    const paint = document.createElement('canvas').getContext('2d', { willReadFrequently: true });
    const painted = new Map<string, readonly number[]>();
    /** A colour as it is drawn over another, in the numbers of sRGB. Pages have few of them, and each is painted once. */
    const over = (color: string, ground: readonly number[]): readonly number[] => {
      const key = `${color} ${ground}`;
      const known = painted.get(key) ?? paintedOver(color, ground);
      painted.set(key, known);
      return known;
    };
    const paintedOver = (color: string, ground: readonly number[]): readonly number[] => {
      if (!paint) return ground;
      paint.clearRect(0, 0, 1, 1);
      paint.fillStyle = `rgb(${ground.join()})`;
      paint.fillRect(0, 0, 1, 1);
      paint.fillStyle = color;
      paint.fillRect(0, 0, 1, 1);
      return [...paint.getImageData(0, 0, 1, 1).data].slice(0, 3);
    };
    const groundOf = (element: Element | null): readonly number[] => {
      if (element === null) return [255, 255, 255];
      return over(getComputedStyle(element).backgroundColor, groundOf(element.parentElement));
    };
    const light = (color: readonly number[]): number => {
      const [red = 0, green = 0, blue = 0] = color.map((each) => {
        const part = each / 255;
        return part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4;
      });
      return 0.2126 * red + 0.7152 * green + 0.0722 * blue;
    };
    const ratio = (a: readonly number[], b: readonly number[]): number => {
      const [high = 0, low = 0] = [light(a), light(b)].sort((x, y) => y - x);
      return (high + 0.05) / (low + 0.05);
    };
    const found: string[] = [];
    for (const each of document.querySelectorAll('input, textarea, select, button')) {
      const style = getComputedStyle(each);
      const box = each.getBoundingClientRect();
      if (box.width === 0 || style.visibility === 'hidden' || each.matches(':disabled, [type=file], [type=radio]'))
        continue;
      const name = each.outerHTML.slice(0, 120);
      const around = groundOf(each.parentElement);
      // What is a word or a sign alone is known by that.
      const isEdged = !/^(?:transparent|rgba\(.*, 0\))$/.test(style.borderTopColor);
      if (isEdged && Number.parseFloat(style.borderTopWidth) > 0 && style.borderTopStyle === 'solid') {
        const edge = ratio(over(style.borderTopColor, around), around);
        const own = ratio(groundOf(each), around);
        if (Math.max(edge, own) < 3) found.push(`edge: ${edge.toFixed(2)}, ${name}`);
      }
      if (!each.getAttribute('placeholder')) continue;
      const ground = groundOf(each);
      const words = ratio(over(getComputedStyle(each, '::placeholder').color, ground), ground);
      if (words < 4.5) found.push(`placeholder: ${words.toFixed(2)}, ${name}`);
    }
    return found;
  });
}

/** What is written in an editor of documents, once that is there: all of it, as far as it is drawn. */
export async function writtenIn(editor: Locator): Promise<string> {
  const lines = editor.locator('.cm-line');
  await lines.first().waitFor();
  return (await lines.allTextContents()).join('\n');
}

/** Pastes into an editor of documents, in place of all that is there. */
export async function writeIn(editor: Locator, text: string): Promise<void> {
  await editor.locator('.cm-line').first().waitFor();
  await editor.click();
  await editor.press('ControlOrMeta+a');
  await editor.evaluate((content, pasted) => {
    const clipboardData = new DataTransfer();
    clipboardData.setData('text/plain', pasted);
    content.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }));
  }, text);
}

/**
 * What a page scrolls to the side that it should not on a small screen, as WCAG 2.2 asks (1.4.10): all but tables, texts
 * as they are written, and what has a side by its nature.
 */
export const scrolledSideways = (on: Page): Promise<string[]> =>
  on.evaluate(() => {
    const found: string[] = [];
    for (const each of [document.documentElement, ...document.querySelectorAll('body *')]) {
      if (each.closest('[data-wide], pre, svg, [data-text]')) continue;
      const style = getComputedStyle(each);
      const scrolls = each === document.documentElement || /auto|scroll/.test(style.overflowX);
      if (scrolls && each.scrollWidth > each.clientWidth + 1) {
        const inside = [...each.querySelectorAll('*')].filter(
          (part) => !part.closest('[data-wide], pre, svg, [data-text]'),
        );
        const right = each.getBoundingClientRect().left + each.clientWidth;
        const widest = inside.find((part) => part.getBoundingClientRect().right > right + 1);
        found.push(`${each.tagName} by ${widest?.outerHTML.slice(0, 160)}`);
      }
    }
    return found;
  });

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
  readonly service: TestService & { readonly database: string };
  readonly browser: Browser;
  readonly page: Page;
  readonly complaints: string[];
  close(): Promise<void>;
}

/** What comes within a second mostly may take long on a busy machine. */
const PATIENCE_MS = 30_000;

export async function openConsole(): Promise<OpenConsole> {
  const [service, browser] = await Promise.all([startGarden(), launchBrowser()]);
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
