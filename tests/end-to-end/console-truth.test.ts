import type { Route } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { axe, type OpenConsole, openConsole, printWhenFailed, writeIn, writtenIn } from '../setup/console.js';

/** What the console shows is what is so. */
let opened: OpenConsole;
let page: OpenConsole['page'];
printWhenFailed(() => page);

beforeAll(async () => {
  opened = await openConsole();
  ({ page } = opened);
});
afterAll(() => opened?.close());

it('counts as stopped by the hour what the report counts, and not what no policy covers', async () => {
  await page.goto(`${opened.service.url}/policies/ticket-site`);
  await page.getByRole('figure', { name: 'Requests by the hour' }).waitFor();
  const titles = await page.locator('[data-hour] title').allTextContents();
  const shown = (pattern: RegExp) =>
    titles.reduce((sum, title) => sum + Number((pattern.exec(title)?.[1] ?? '0').replace(/,/g, '')), 0);
  const { replays } = (await opened.service.call('GET', '/api/v1/replays')).body;
  const { requests, uncovered, verdicts } = (
    await opened.service.call('GET', `/api/v1/replays/${replays[0].id}/report`)
  ).body;
  expect(uncovered).toBeGreaterThan(0);
  expect([shown(/: ([\d,]+) requests/), shown(/([\d,]+) not allowed/), shown(/([\d,]+) that no policy/)]).toEqual([
    requests,
    requests - uncovered - verdicts.allow,
    uncovered,
  ]);
});

it('goes where one chose to go, also while the first page is still being fetched', async () => {
  let [seen, go] = [0, () => {}];
  const released = new Promise<void>((resolve) => {
    go = resolve;
  });
  const workspace = (url: URL) => url.pathname === '/api/v1/workspace';
  const chunk = (url: URL) => /draft-page.*\.js$/.test(url.pathname);
  await page.route(workspace, async (route) => {
    await released;
    await route.continue();
  });
  await page.route(chunk, async (route) => {
    seen++;
    go();
    // Long enough for the first page to hear of the workspace, and to lead to a policy.
    await page.waitForTimeout(500);
    await route.continue();
  });
  await page.goto(`${opened.service.url}/`);
  await page.getByRole('link', { name: /^Draft/ }).click();
  await page.getByRole('heading', { name: 'Draft', exact: true }).waitFor();
  expect(new URL(page.url()).pathname).toBe('/draft');
  expect(seen).toBe(1);
  await page.unroute(workspace);
  await page.unroute(chunk);
});

it('adds a way to match with its first value, and writes none before', async () => {
  await page.goto(`${opened.service.url}/policies/visitor-web`);
  await page.getByText('requests fall in').waitFor();
  await page.getByRole('button', { name: 'New rule' }).click();
  await page.getByLabel('Name', { exact: true }).fill('either');
  const add = async (field: string, value: string, last: boolean) => {
    const choices = page.getByRole('button', { name: /^Add to when/ });
    await (last ? choices.last() : choices.first()).click();
    await page.getByRole('option', { name: new RegExp(`^${field} `) }).click();
    const box = page.getByRole('group', { name: 'when' }).getByRole('combobox', { name: `Add to ${field}` });
    await (last ? box.last() : box.first()).fill(value);
    await page
      .getByRole('option', { name: new RegExp(`^${value}( |$)`) })
      .first()
      .click();
    await page.keyboard.press('Escape');
  };
  await add('country', 'SG', false);
  await page.getByRole('button', { name: 'Or another way …' }).click();
  await page.getByText('Nothing yet: add a field.').waitFor();
  const text = () => writtenIn(page.getByRole('textbox', { name: 'The same as text' }));
  expect(await text()).not.toContain('path');
  await add('country', 'HK', true);
  await page
    .getByText(/Singapore|SG/)
    .first()
    .waitFor();
  await page.getByRole('button', { name: 'Keep in the draft' }).click();
  await page.getByRole('button', { name: 'What to do with either' }).waitFor();
  const stored = (await opened.service.call('GET', '/api/v1/objects/policy/visitor-web')).body.text as string;
  const own = /rule: either\n([\s\S]*?)(?=\n {2}- rule: |$)/.exec(stored)?.[1] ?? '';
  expect(own).toMatch(/SG[\s\S]*HK/);
  expect(own).not.toContain('path');
});

it('leaves the focus where one has gone after a field was added', async () => {
  await page.goto(`${opened.service.url}/policies/visitor-web?edit=no-wagering`);
  await page.getByRole('button', { name: /^Add to when/ }).click();
  await page.getByRole('option', { name: /^host / }).click();
  await page.getByLabel('Note').focus();
  await page.waitForTimeout(400);
  await page.keyboard.type('!');
  expect(await page.getByLabel('Note').inputValue()).toMatch(/!$/);
  await page.getByRole('button', { name: 'Cancel' }).click();
  await page.getByRole('button', { name: 'Drop what I wrote' }).click();
});

it('takes a country by its name where a value is typed', async () => {
  await page.goto(`${opened.service.url}/policies/ticket-site?edit=open-countries`);
  const box = page.getByRole('group', { name: 'when' }).getByRole('combobox', { name: 'Add to country' }).first();
  await box.fill('singapore');
  await page.getByRole('option').first().filter({ hasText: 'SG' }).waitFor();
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Take SG out of country' }).waitFor();
  await page.getByRole('button', { name: 'Cancel' }).click();
  await page.getByRole('button', { name: 'Drop what I wrote' }).click();
});

describe.each([
  ['/live', '/api/v1/live'],
  ['/live', '/api/v1/decisions'],
  ['/people/everybody', '/api/v1/people'],
  ['/people/tokens', '/api/v1/tokens'],
  ['/people/you', '/api/v1/me/sessions'],
  ['/audit', '/api/v1/audit'],
  ['/logs', '/api/v1/replays'],
  ['/draft', '/api/v1/revisions'],
])('the page %s', (path, asked) => {
  // The live page has two tables, of which the other is empty indeed.
  const isOther = (url: URL) => path === '/live' && ['/api/v1/live', '/api/v1/decisions'].includes(url.pathname);
  const matches = (url: URL) => url.pathname === asked || isOther(url);
  const answered = (how: (route: Route) => Promise<void>) => page.route(matches, how);

  it(`does not say that there is nothing while ${asked} is not answered`, async () => {
    await answered(() => new Promise(() => undefined));
    await page.goto(`${opened.service.url}${path}`);
    await page.getByRole('heading').first().waitFor();
    await page.waitForTimeout(400);
    expect(await page.getByText('Nothing yet.').count()).toBe(0);
    await page.unroute(matches);
  });

  it(`says why where ${asked} fails, and not that there is nothing`, async () => {
    await answered((route) =>
      route.fulfill({
        status: 500,
        contentType: 'application/problem+json',
        body: JSON.stringify({
          type: 'about:blank',
          title: 'Broken',
          status: 500,
          code: 'broken',
          detail: 'It is broken.',
        }),
      }),
    );
    await page.goto(`${opened.service.url}${path}`);
    await page.getByText('It is broken.').first().waitFor();
    expect(await page.getByText('Nothing yet.').count()).toBe(0);
    await page.unroute(matches);
  });
});

describe('findings', () => {
  it('of a policy, and of an object, are where that is shown', async () => {
    await page.goto(`${opened.service.url}/policies/ticket-site`);
    await page.getByText('in their own spelling only').first().waitFor();
    await page.goto(`${opened.service.url}/library/list/home-workers`);
    await page.getByText('has expired').first().waitFor();
  });

  it('of nothing that is named are shown with every policy', async () => {
    const review = (url: URL) => url.pathname === '/api/v1/review';
    const finding = { code: 'no-country-data', severity: 'warning', policy: null, rule: null, object: null };
    const shown = { what: 'No country data is loaded', reason: 'Rules by country are blind', edit: 'Load some' };
    await page.route(review, (route) => route.fulfill({ json: { findings: [{ ...finding, ...shown }] } }));
    await page.goto(`${opened.service.url}/policies/visitor-web`);
    await page.getByText('No country data is loaded').waitFor();
    await page.unroute(review);
  });
});

it('says what is wrong by the line of the rule that is edited', async () => {
  await page.goto(`${opened.service.url}/policies/ticket-site?edit=back-office-for-us`);
  const box = page.getByRole('textbox', { name: 'The same as text' });
  await box.waitFor();
  await writeIn(box, 'rule: back-office-for-us\nwhen: {path: [/back-office]}\nthen: blok\n');
  await page
    .getByRole('alert')
    .getByText(/^line 3, /)
    .waitFor();
});

describe('what cannot be taken back', () => {
  it.each([
    [
      'a log with its replays',
      '/logs/week',
      'Delete it and its replays',
      'Delete week and its replays',
      '/api/v1/logs/week',
    ],
    ['an object', '/library/notice/not-here', 'Delete', 'Delete it', '/api/v1/objects/notice/not-here'],
  ])('asks, with its consequence, and does nothing when one says no: %s', async (_of, path, button, _does, api) => {
    await page.goto(`${opened.service.url}${path}`);
    await page.getByRole('button', { name: button, exact: true }).click();
    const asked = page.getByRole('alertdialog');
    await asked.getByText(/gone/).waitFor();
    expect(await axe(page)).toEqual([]);
    await asked.getByRole('button', { name: 'Leave it as it is' }).click();
    await asked.waitFor({ state: 'detached' });
    expect((await opened.service.call('GET', api)).status).toBe(200);
    // The same by the key that leaves.
    await page.getByRole('button', { name: button, exact: true }).click();
    await asked.getByText(/gone/).waitFor();
    await page.keyboard.press('Escape');
    await asked.waitFor({ state: 'detached' });
    expect((await opened.service.call('GET', api)).status).toBe(200);
  });

  it('is done where one means it: a token', async () => {
    await opened.service.call('POST', '/api/v1/tokens', { name: 'short-lived' });
    await page.goto(`${opened.service.url}/people/tokens`);
    const row = page.getByRole('row').filter({ hasText: 'short-lived' });
    await row.getByRole('button', { name: 'Delete' }).click();
    await page.getByRole('button', { name: 'Delete the token short-lived' }).click();
    await row.waitFor({ state: 'detached' });
  });
});

describe('an edit of a rule', () => {
  const RULE = 'old-booking-calls';
  const at = () => `${opened.service.url}/policies/ticket-site`;
  const text = () => page.getByRole('textbox', { name: 'The same as text' });
  const policyText = async () =>
    (await opened.service.call('GET', '/api/v1/objects/policy/ticket-site')).body as { text: string; version: number };
  /** A colleague edits the policy meanwhile. */
  const meanwhile = async (edit: (text: string) => string) => {
    const { text, version } = await policyText();
    const next = edit(text);
    expect(next).not.toBe(text);
    const put = await opened.service.call(
      'PUT',
      '/api/v1/objects/policy/ticket-site',
      { text: next },
      {
        'if-match': `"${version}"`,
      },
    );
    expect(put.status).toBe(200);
  };
  const noted = (note: string) => (text: string) =>
    text.replace(
      /- rule: old-booking-calls\n(\s+)(?:note: .*\n\s+)?/,
      `- rule: old-booking-calls\n$1note: ${note}\n$1`,
    );

  it('stays when another rule is chosen, elsewhere is looked at, and the page is loaded anew', async () => {
    await page.goto(`${at()}?edit=${RULE}`);
    await text().waitFor();
    await writeIn(text(), `${await writtenIn(text())}note: mine\n`);
    await page.goto(`${at()}?edit=no-harvesters`);
    await page.getByRole('region', { name: 'Edit no-harvesters' }).waitFor();
    await page.locator(`[data-rule="${RULE}"]`).getByText('edited, not kept').waitFor();
    await page.goto(`${opened.service.url}/checks`);
    await page.getByRole('heading', { name: 'Checks' }).waitFor();
    await page.goto(`${at()}?edit=${RULE}`);
    await text().waitFor();
    expect(await writtenIn(text())).toContain('note: mine');
  });

  it('does not overwrite what a colleague made of the rule, and shows it', async () => {
    await meanwhile(noted('theirs'));
    const alert = page.getByRole('alert').filter({ hasText: 'changed this rule while you edited it' });
    await alert.getByText('note: theirs').waitFor({ timeout: 20_000 });
    expect(await axe(page)).toEqual([]);
    expect(await page.getByRole('button', { name: 'Keep in the draft' }).isDisabled()).toBe(true);
    await alert.getByRole('button', { name: 'Take theirs, drop mine' }).click();
    await alert.waitFor({ state: 'detached' });
    expect(await writtenIn(text())).toContain('note: theirs');
    expect((await policyText()).text).toContain('note: theirs');
  });

  it('is kept in the place of theirs where one says so, and beside what they made of other rules', async () => {
    await writeIn(text(), (await writtenIn(text())).replace('note: theirs', 'note: mine again'));
    await meanwhile(noted('theirs anew'));
    await page.getByRole('button', { name: 'Keep mine in its place' }).click({ timeout: 20_000 });
    await meanwhile((text) => text.replace('They take the whole calendar', 'By a colleague, they take the calendar'));
    // Whether the page has seen the other edit yet or not, nothing of it is lost.
    for (let tries = 0; ; tries++) {
      const keep = page.getByRole('button', { name: 'Keep in the draft' });
      await keep.click({ timeout: 3000 }).catch(() => undefined);
      await page.waitForTimeout(1500);
      if ((await text().count()) === 0) break;
      expect(tries).toBeLessThan(10);
    }
    const { text: stored } = await policyText();
    expect(stored).toContain('note: mine again');
    expect(stored).toContain('By a colleague');
    expect(stored).not.toContain('theirs anew');
  });

  it('is taken back only while nobody has changed the policy since', async () => {
    await page.getByRole('button', { name: 'Undo' }).waitFor();
    await meanwhile(noted('theirs once more'));
    await page.getByRole('button', { name: 'Undo' }).waitFor({ state: 'detached', timeout: 20_000 });
  });

  it('of a rule that was removed meanwhile is dropped or added again', async () => {
    await page.goto(`${at()}?edit=${RULE}`);
    await text().waitFor();
    await writeIn(text(), `${await writtenIn(text())}# still mine\n`);
    const { text: before } = await policyText();
    await meanwhile((text) => text.replace(/ *- rule: old-booking-calls\n(?: {4,}.*\n)*/, ''));
    await page.getByText('removed this rule while you edited it').waitFor({ timeout: 20_000 });
    await page.getByRole('button', { name: 'Add mine again, at the end' }).click();
    await page.getByRole('button', { name: 'Keep in the draft' }).click();
    await text().waitFor({ state: 'detached' });
    const { text: after } = await policyText();
    expect(after).toContain('# still mine');
    await meanwhile(() => before);
  });

  it('asks before it drops what was written', async () => {
    await page.goto(`${at()}?edit=no-harvesters`);
    await text().waitFor();
    await page.getByRole('button', { name: 'Cancel' }).click();
    await text().waitFor({ state: 'detached' });
    await page.goto(`${at()}?edit=no-harvesters`);
    await writeIn(text(), `${await writtenIn(text())}# begun\n`);
    await page.getByRole('button', { name: 'Cancel' }).click();
    await page.getByRole('button', { name: 'Leave it as it is' }).click();
    expect(await writtenIn(text())).toContain('# begun');
    await page.getByRole('button', { name: 'Cancel' }).click();
    await page.getByRole('button', { name: 'Drop what I wrote' }).click();
    await text().waitFor({ state: 'detached' });
  });
});
