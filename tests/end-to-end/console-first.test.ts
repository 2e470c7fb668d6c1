import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { launchBrowser, openPage } from '../setup/browser.js';
import { axe, printWhenFailed, signIn } from '../setup/console.js';
import { startService, type TestService } from '../setup/service.js';

/** The first visit: from an empty service to what a rule does, without a terminal. */
let service: TestService;
let browser: Browser;
let page: Awaited<ReturnType<typeof openPage>>['page'];
let complaints: string[];
let folder: string;
printWhenFailed(() => page);

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'jade-fence-first-'));
  [service, browser] = await Promise.all([startService(), launchBrowser()]);
  ({ page, complaints } = await openPage(browser));
  page.setDefaultTimeout(30_000);
  await signIn(page, service);
});
afterAll(async () => {
  await browser?.close();
  await service?.stop();
  rmSync(folder, { recursive: true, force: true });
});

describe('a first visit', () => {
  it('leads from an intent to a first policy', async () => {
    await page.getByRole('heading', { name: 'The workspace is empty' }).waitFor();
    await page.getByRole('link', { name: 'Draft', exact: true }).waitFor();
    expect((await service.call('GET', '/api/v1/draft')).body.changed).toBe(false);
    expect((await service.call('POST', '/api/v1/revisions', { message: 'Nothing' })).body.code).toBe(
      'nothing-to-publish',
    );
    expect(await axe(page)).toEqual([]);
    await page.getByRole('radio', { name: 'Our people may open every site but these' }).click();
    await page.getByLabel('Network of your people').fill('10.40.0.0/16');
    await page.getByLabel('Sites', { exact: true }).fill('.meadowbet.example, .lucky-petal.example');
    await page.getByLabel('Name of the policy').fill('visitor-web');
    expect(await axe(page)).toEqual([]);
    await page.getByRole('button', { name: 'Make the policy' }).click();
    await page.getByRole('heading', { name: 'visitor-web' }).waitFor();
    expect((await service.call('GET', '/api/v1/objects/policy/visitor-web')).body.text).toBe(
      [
        'policy: visitor-web',
        'covers: {clients: [10.40.0.0/16]}',
        'default: allow',
        'rules:',
        '  - rule: closed-sites',
        '    when: {host: [.meadowbet.example, .lucky-petal.example]}',
        '    then: block',
        '',
      ].join('\n'),
    );
  });

  it('to a log', async () => {
    await page.getByRole('heading', { name: 'A policy, done' }).waitFor();
    const file = join(folder, 'monday.jsonl');
    const lines = ['odds.meadowbet.example', 'maps.fennelhill.example', 'www.lucky-petal.example'].map((host) =>
      JSON.stringify({ time: '2026-11-09T10:00:00Z', peer: '10.40.3.7', method: 'CONNECT', host, port: 443 }),
    );
    writeFileSync(file, lines.join('\n'));
    await page.getByLabel('Drop a log here, or choose it').setInputFiles(file);
    await page.getByRole('button', { name: 'Bring monday.jsonl' }).click();
    await page.getByRole('heading', { name: 'A log, done' }).waitFor();
    expect(await axe(page)).toEqual([]);
  });

  it('and to what the rule does to it', async () => {
    await page.getByRole('button', { name: 'Replay monday by these rules' }).click();
    await page.getByText('3 requests fall in').waitFor();
    await page.getByText('2 decided').first().waitFor();
    expect(complaints).toEqual([]);
  });
});

describe('the frame', () => {
  it('shows its keys, but not to whoever types', async () => {
    await page.keyboard.press('?');
    await page.getByRole('heading', { name: 'Keys' }).waitFor();
    expect(await axe(page)).toEqual([]);
    await page.keyboard.press('Escape');
    await page.getByRole('heading', { name: 'Keys' }).waitFor({ state: 'detached' });
    await page.goto(`${service.url}/policies/visitor-web?edit=closed-sites`);
    const text = page.getByLabel('The same as text');
    await text.locator('.cm-line').first().waitFor();
    await text.click();
    await page.keyboard.press('ControlOrMeta+End');
    await page.keyboard.type('# why? see /map');
    await expect.poll(() => text.innerText()).toContain('# why? see /map');
    expect(await page.getByRole('heading', { name: 'Keys' }).count()).toBe(0);
    await page.getByRole('button', { name: 'Cancel' }).click();
    await page.getByRole('button', { name: 'Drop what I wrote' }).click();
  });

  it('shows a page that fails as such, and goes on elsewhere', async () => {
    await page.route('**/api/v1/review', (route) => route.fulfill({ json: { findings: [{ code: 1 }, null] } }));
    await page.goto(`${service.url}/review`);
    await page.getByRole('heading', { name: 'This page cannot be shown' }).waitFor();
    expect(await axe(page)).toEqual([]);
    await page.unroute('**/api/v1/review');
    await page.getByRole('link', { name: 'Library', exact: true }).click();
    await page.getByRole('heading', { name: 'Lists', exact: true }).waitFor();
  });

  it('says that the service is away, also to who only reads, and that it is back', async () => {
    await page.goto(`${service.url}/draft`);
    await page.getByRole('heading', { name: 'Draft' }).waitFor();
    await page.route('**/api/**', (route) => route.abort());
    await page.getByText('The service does not answer. What is shown is of before').waitFor();
    expect(await axe(page)).toEqual([]);
    await page.unroute('**/api/**');
    await page.getByText('The service does not answer. What is shown is of before').waitFor({ state: 'detached' });
  });
});

describe('the library', () => {
  it('opens on a table in the order that one chooses, with counts beside the kinds', async () => {
    for (const [name, entries] of [
      ['few', '[192.0.2.1]'],
      ['many', '[192.0.2.1, 192.0.2.2, 192.0.2.3]'],
    ])
      await service.call(
        'PUT',
        `/api/v1/objects/list/${name}`,
        { text: `list: ${name}\nof: addresses\nentries: ${entries}\n` },
        { 'if-none-match': '*' },
      );
    await page.goto(`${service.url}/library`);
    await page.getByRole('link', { name: 'Lists 2' }).waitFor();
    const names = () => page.getByRole('table', { name: 'Lists' }).getByRole('link').allInnerTexts();
    await expect.poll(names).toEqual(['few', 'many']);
    await page.getByRole('button', { name: /^By/ }).click();
    await page.getByRole('option', { name: 'most entries' }).click();
    await expect.poll(names).toEqual(['many', 'few']);
    expect(await axe(page)).toEqual([]);
    await page.getByRole('table').getByRole('link', { name: 'few' }).click();
    await page.getByRole('heading', { name: 'few' }).waitFor();
  });
});
