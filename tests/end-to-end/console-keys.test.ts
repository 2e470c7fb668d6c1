import type { Browser } from 'playwright-core';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { launchBrowser, openPage } from '../setup/browser.js';
import { printWhenFailed, tabTo } from '../setup/console.js';
import { DEMO, startService, type TestService } from '../setup/service.js';

/** From an empty service to what is in force, and back, by keyboard alone; only files are chosen by the system's own dialog. */
let service: TestService;
let browser: Browser;
let page: Awaited<ReturnType<typeof openPage>>['page'];
let complaints: string[];
printWhenFailed(() => page);

beforeAll(async () => {
  [service, browser] = await Promise.all([startService(), launchBrowser()]);
  ({ page, complaints } = await openPage(browser));
  page.setDefaultTimeout(30_000);
});
afterAll(async () => {
  await browser?.close();
  await service?.stop();
});

const press = (key: string) => page.keyboard.press(key);
const type = (text: string) => page.keyboard.type(text);

/** Goes with the tabulator to what has the name, and presses it. */
async function enter(name: string | RegExp): Promise<void> {
  await tabTo(page, name);
  await press('Enter');
}

/** Goes by the box above every page. */
async function goBy(deed: string): Promise<void> {
  await press('/');
  await type(deed);
  await press('Enter');
}

it('signs in, and makes a first policy of an intent', async () => {
  await page.goto(service.url);
  await tabTo(page, 'Access key');
  await type(service.key);
  await press('Enter');
  await page.getByRole('heading', { name: 'The workspace is empty' }).waitFor();
  await page.getByRole('radio').first().waitFor();
  // One of several is reached by the tabulator, the others by the arrows.
  await tabTo(page, /^[○●] /);
  for (let at = 0; at < 12; at++) {
    const chosen = await page
      .getByRole('radio', { name: 'Our people may open every site but these' })
      .getAttribute('aria-checked');
    if (chosen === 'true') break;
    await press('ArrowDown');
  }
  await tabTo(page, 'Network of your people');
  await type('10.40.0.0/16');
  await tabTo(page, 'Sites');
  await type('.meadowbet.example, .lucky-petal.example');
  await tabTo(page, 'Name of the policy');
  await press('ControlOrMeta+a');
  await type('visitor-web');
  await enter('Make the policy');
  await page.getByRole('heading', { name: 'visitor-web' }).waitFor();
  const { text } = (await service.call('GET', '/api/v1/objects/policy/visitor-web')).body;
  expect(text).toContain('when: {host: [.meadowbet.example, .lucky-petal.example]}');
});

it('brings a log, and sees what the rule does to it', async () => {
  await page.getByLabel('Drop a log here, or choose it').setInputFiles(`${DEMO}logs/week.jsonl`);
  await enter('Bring week.jsonl');
  await page.getByRole('heading', { name: 'A log, done' }).waitFor();
  await enter('Replay week by these rules');
  await page.getByText('requests fall in').waitFor();
  await tabTo(page, 'closed-sites');
  await press('Enter');
  await tabTo(page, /^Explain request \d+$/);
  await press('ArrowDown');
  await press('Enter');
  await page.getByText(/Blocked by rule closed-sites/).waitFor();
});

it('writes who is tried, what is expected of it, and when', async () => {
  await goBy('new schedule');
  await page.getByRole('heading', { name: 'A new schedule' }).waitFor();
  await tabTo(page, 'Name');
  await press('ControlOrMeta+a');
  await type('opening-hours');
  await tabTo(page, 'Hours of sat');
  await type('10:00-16:00');
  await press('Enter');
  await page.getByText(/Saturday 10:00-16:00/).waitFor();
  await enter('Keep in the draft');
  await page.getByRole('heading', { name: 'opening-hours', exact: true }).waitFor();
  await goBy('new probe');
  await page.getByRole('heading', { name: 'A new probe' }).waitFor();
  await tabTo(page, 'Name');
  await press('ControlOrMeta+a');
  await type('visitor-phone');
  await tabTo(page, 'Address');
  await press('ControlOrMeta+a');
  await type('10.40.3.7');
  await enter('Keep in the draft');
  await page.getByRole('heading', { name: 'visitor-phone', exact: true }).waitFor();
  await goBy('new check');
  await page.getByRole('heading', { name: 'A new check' }).waitFor();
  await tabTo(page, 'Name');
  await press('ControlOrMeta+a');
  await type('who-gets-where');
  await tabTo(page, 'Destination, by a name of yours');
  await type('betting');
  await tabTo(page, 'URL, or host:port of a tunnel');
  await type('odds.meadowbet.example:443');
  await enter('Add the destination');
  await tabTo(page, /^visitor-phone at betting/);
  await press('b');
  await page.getByRole('button', { name: 'visitor-phone at betting: block' }).waitFor();
  await tabTo(page, /^visitor-phone at start-page/);
  await press('Delete');
  await enter('Keep in the draft');
  await page.getByRole('heading', { name: 'who-gets-where', exact: true }).waitFor();
  await goBy('go to checks');
  await page.getByText('✓ all as expected').waitFor();
});

it('publishes, turns a rule off, sees what fails, and goes back', async () => {
  await goBy('go to draft');
  await page.getByText(/of the checks (?:is|are) as expected/).waitFor();
  await tabTo(page, 'Why');
  await type('The first rules');
  await enter(/^Publish/);
  await page.getByText('Revision 1 is in force').waitFor();
  await goBy('visitor-web');
  await page.getByRole('heading', { name: 'visitor-web' }).waitFor();
  await enter('What to do with closed-sites');
  await page.getByRole('menuitem', { name: 'Turn off' }).waitFor();
  const focused = () => page.locator('[role=menuitem][data-focus]').allInnerTexts();
  for (let at = 0; at < 12 && !(await focused()).includes('Turn off'); at++) await press('ArrowDown');
  await press('Enter');
  await page.getByRole('button', { name: 'Undo' }).waitFor();
  await goBy('go to checks');
  await page.getByText('✗ 1 of 1 not as expected').waitFor();
  await goBy('go to history');
  await enter('Restore');
  await page.getByRole('alertdialog').getByRole('button', { name: 'Restore revision 1' }).waitFor();
  await enter('Restore revision 1');
  await page.getByRole('alertdialog').waitFor({ state: 'detached' });
  await goBy('go to checks');
  await page.getByText('✓ all as expected').waitFor();
});

it('has complained of nothing but the key that was not there yet', () => {
  expect(complaints.filter((complaint) => !complaint.includes('401'))).toEqual([]);
});
