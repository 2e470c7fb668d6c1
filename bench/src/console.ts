import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { gzipSync } from 'node:zlib';
import { chromium, type Page } from 'playwright-core';
import { largeWorkspaceFiles } from './large/workspace.js';
import { type Figure, figureOf } from './measure.js';
import { type BenchService, benchService } from './service.js';
import { storedLog } from './through-service.js';

const RULES = 500;
const STEPS = 60;
const STEP_MS = 16;
/** Of each step: 15,000 pixels a second. */
const WHEEL_PIXELS = 240;
const ROUNDS = 7;
/** The page has figures and findings by then. */
const SETTLE_MS = 2000;
const PAGES = 20;
/** What a frame may take, and a page of requests. */
const [FRAME_MS, PAGE_MS] = [50, 300];

/** The longest frame of a policy of 500 rules in Chromium, while it is scrolled and while a rule of it is dragged. */
export async function consoleRules(): Promise<Figure[]> {
  const service = await benchService();
  await service.call('PUT', '/api/v1/workspace', { files: largeWorkspaceFiles(RULES), exact: true });
  return withConsole(service, async (page) => {
    await page.goto(`${service.url}/policies/large`);
    await page.locator('[data-rule]').nth(8).waitFor();
    await page.waitForLoadState('networkidle');
    await page.waitForTimeout(SETTLE_MS);
    const scrolled: number[] = [];
    const dragged: number[] = [];
    for (let round = 0; round < ROUNDS; round++) {
      await page.mouse.move(400, 500);
      scrolled.push(await longestFrame(page, () => scroll(page)));
      dragged.push(await longestFrame(page, () => drag(page)));
    }
    const shown = { unit: 'ms, the longest frame', floorName: 'allowed' };
    return [
      figureOf({ name: 'console-scroll-500', ...shown }, scrolled, [FRAME_MS]),
      figureOf({ name: 'console-drag-500', ...shown }, dragged, [FRAME_MS]),
    ];
  });
}

async function scroll(page: Page): Promise<void> {
  for (let step = 0; step < STEPS * 2; step++) {
    await page.mouse.wheel(0, step < STEPS ? WHEEL_PIXELS : -WHEEL_PIXELS);
    await page.waitForTimeout(STEP_MS);
  }
}

/** Takes a rule up, holds it at the lower edge so that the run scrolls below it, and lets go of it where it was. */
async function drag(page: Page): Promise<void> {
  const handle = await page
    .getByRole('button', { name: /^Move / })
    .nth(2)
    .boundingBox();
  if (!handle) throw new Error('no rule can be moved');
  const [x, y] = [handle.x + 4, handle.y + 4];
  await page.mouse.move(x, y);
  await page.mouse.down();
  for (let step = 0; step < STEPS; step++) {
    await page.mouse.move(x, Math.min(790, y + step * 12));
    await page.waitForTimeout(STEP_MS);
  }
  await page.keyboard.press('Escape');
  await page.mouse.up();
}

async function longestFrame(page: Page, act: () => Promise<void>): Promise<number> {
  await page.evaluate(() => {
    const watch = { longest: 0, last: performance.now() };
    Object.assign(globalThis, { watch });
    const next = (now: number) => {
      watch.longest = Math.max(watch.longest, now - watch.last);
      watch.last = now;
      requestAnimationFrame(next);
    };
    requestAnimationFrame(next);
  });
  await act();
  return page.evaluate(() => (globalThis as unknown as { watch: { longest: number } }).watch.longest);
}

/** A page of the table of requests, from the press on `More` until its rows are there. */
export async function consoleRequests(): Promise<Figure> {
  const service = await benchService();
  const { log, requests } = await storedLog();
  const id = await service.replay(log);
  return withConsole(service, async (page) => {
    await page.goto(`${service.url}/policies/ticket-site?replay=${id}&verdict=allow`);
    const rows = page.getByRole('region', { name: 'Requests' }).locator('tbody tr');
    await rows.first().waitFor();
    const took: number[] = [];
    for (let at = 0; at < PAGES; at++) took.push(await pressedMore(page, await rows.count()));
    took.sort((a, b) => a - b);
    const shown = {
      unit: `ms at the 95th percentile, of ${requests.toLocaleString('en')} requests`,
      floorName: 'allowed',
    };
    return figureOf({ name: 'console-requests', ...shown }, [took[Math.floor(PAGES * 0.95)] as number], [PAGE_MS]);
  });
}

const pressedMore = (page: Page, before: number): Promise<number> =>
  page.evaluate(async (had) => {
    const more = [...document.querySelectorAll('button')].find((each) => each.textContent === 'More');
    const started = performance.now();
    more?.click();
    while (document.querySelectorAll('[aria-label="Requests"] tbody tr').length <= had) {
      if (performance.now() - started > 10_000) throw new Error('no more requests came');
      await new Promise((next) => requestAnimationFrame(next));
    }
    return performance.now() - started;
  }, before);

async function withConsole<T>(service: BenchService, use: (page: Page) => Promise<T>): Promise<T> {
  const executablePath = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'].find((path) => existsSync(path));
  const args = process.getuid?.() === 0 ? ['--no-sandbox'] : [];
  const browser = await chromium.launch({ executablePath: process.env.CHROMIUM ?? executablePath ?? 'chromium', args });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(service.url);
    await page.getByLabel('Access key').fill((service.headers.authorization as string).slice('Bearer '.length));
    const signedIn = page.waitForResponse((response) => response.url().endsWith('/api/v1/session'));
    await page.getByRole('button', { name: 'Sign in' }).click();
    await signedIn;
    return await use(page);
  } finally {
    await browser.close();
  }
}

const FIRST_LOAD_KB = 250;
const KB = 1024;

/** The script that a first visit fetches until the rules are drawn, compressed. */
export async function consoleFirstLoad(): Promise<Figure> {
  const service = await benchService();
  await service.call('PUT', '/api/v1/workspace', { files: demoFiles(), exact: true, overwrite: true });
  return withConsole(service, async (page) => {
    const scripts = new Map<string, number>();
    page.on('response', async (response) => {
      if (!response.url().endsWith('.js')) return;
      scripts.set(response.url(), gzipSync(await response.body()).length);
    });
    await page.goto(`${service.url}/policies/ticket-site`);
    await page.locator('[data-rule]').first().waitFor();
    await page.waitForLoadState('networkidle');
    const bytes = [...scripts.values()].reduce((sum, each) => sum + each, 0);
    const shown = { unit: 'KB of script, by gzip', floorName: 'allowed' };
    return figureOf({ name: 'console-first-load', ...shown }, [bytes / KB], [FIRST_LOAD_KB]);
  });
}

const EFFECT_MS = 1000;
const EDITS = 10;
const DEMO = new URL('../../demo/', import.meta.url);

/** The files of the demo's workspace, which other benchmarks put theirs in the place of. */
const demoFiles = () =>
  readdirSync(new URL('workspace/', DEMO))
    .filter((name) => name.endsWith('.yaml'))
    .map((name) => ({ name, text: readFileSync(new URL(`workspace/${name}`, DEMO), 'utf8') }));

/** From the end of an edit of a rule until the bar shows what it changes on the demo's log. */
export async function consoleEffect(): Promise<Figure> {
  const service = await benchService();
  await service.call('PUT', '/api/v1/workspace', { files: demoFiles(), exact: true, overwrite: true });
  await service.upload('week', readFileSync(new URL('logs/week.jsonl', DEMO)));
  await service.replay('week');
  return withConsole(service, async (page) => {
    await page.goto(`${service.url}/policies/visitor-web`);
    const [rule, other] = ['no-wagering', 'web-for-all'].map((name) => page.locator(`[data-rule="${name}"]`));
    if (!rule || !other) throw new Error('the demo has these rules');
    const took: number[] = [];
    for (let edit = 0; edit < EDITS; edit++) {
      const shown = page.getByText(edit % 2 === 0 ? /63 of 5,000 requests change/ : /no request changes/);
      await rule.getByRole('button', { name: 'What to do with no-wagering' }).click();
      await page.getByRole('menuitem', { name: edit % 2 === 0 ? 'To the top' : 'To the end' }).click();
      const started = performance.now();
      await shown.first().waitFor();
      took.push(performance.now() - started);
    }
    took.sort((a, b) => a - b);
    const about = { unit: 'ms at the 90th percentile, 5,000 requests', floorName: 'allowed' };
    return figureOf({ name: 'console-effect', ...about }, [took[Math.floor(EDITS * 0.9) - 1] as number], [EFFECT_MS]);
  });
}
