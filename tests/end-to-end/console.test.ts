import type { Browser, Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { launchBrowser, openPage } from '../setup/browser.js';
import { axe, signIn } from '../setup/console.js';
import { ended, startGarden, startService, type TestService } from '../setup/service.js';

let service: TestService;
let empty: TestService;
let browser: Browser;
let page: Page;
let complaints: string[];

beforeAll(async () => {
  [service, empty, browser] = await Promise.all([startGarden(), startService(), launchBrowser()]);
  ({ page, complaints } = await openPage(browser));
});
afterAll(async () => {
  await browser?.close();
  await Promise.all([service?.stop(), empty?.stop()]);
});

const rule = (name: string) => page.locator(`[data-rule="${name}"]`);
const requests = () => page.getByRole('region', { name: 'Requests' });

describe('the console', () => {
  it('asks for the access key, and says where a wrong one leaves one', async () => {
    await page.goto(service.url);
    await page.getByLabel('Access key').fill('wrong');
    await page.keyboard.press('Enter');
    await page.getByRole('alert').filter({ hasText: 'The access key is wrong.' }).waitFor();
    expect(await axe(page)).toEqual([]);
    const person = { name: 'ines', role: 'viewer', password: 'a fern in every gorge' };
    await service.call('POST', '/api/v1/people', person);
    await page.getByRole('button', { name: 'With a name and password' }).click();
    await page.getByLabel('Name').fill('ines');
    await page.getByLabel('Password').fill('not this one');
    await page.keyboard.press('Enter');
    await page.getByRole('alert').filter({ hasText: 'The name or the password is wrong.' }).waitFor();
    expect(await axe(page)).toEqual([]);
    await page.getByLabel('Password').fill(person.password);
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'ticket-site' }).waitFor();
    await page.getByRole('button', { name: 'Sign out' }).click();
    await page.getByLabel('Access key').waitFor();
    await signIn(page, service);
    await page.getByRole('heading', { name: 'ticket-site' }).waitFor();
  });

  it('shows the policy as an ordered run of sentences with stances, and the traffic that falls through', async () => {
    await page.goto(`${service.url}/policies/visitor-web`);
    await rule('no-wagering').getByText('63 overtaken').waitFor();
    const names = await page
      .locator('[data-rule]')
      .evaluateAll((rows) => rows.map((row) => row.getAttribute('data-rule')));
    expect(names).toEqual([
      ...['guide-tablets', 'no-uploads', 'adverts', 'media-while-open', 'hosted-in-xm'],
      ...['web-for-all', 'no-wagering', 'default'],
    ]);
    expect(await rule('adverts').innerText()).toMatch(
      /observe[\s\S]*Would block requests to hosts in advert-hosts\.[\s\S]*163\s+observed/,
    );
    const arrived = await page
      .locator('[data-rule]')
      .evaluateAll((rows) =>
        rows.map((row) => Number(/([\d,]+)\s+arrive/.exec((row as HTMLElement).innerText)?.[1]?.replace(',', ''))),
      );
    expect(arrived).toEqual([1816, 1801, 1782, 1782, 1782, 1782, 0, 0]);
    expect(await rule('no-wagering').innerText()).toContain('To let it act, move it above web-for-all.');
    expect(await rule('no-uploads').innerText()).toContain('could not be judged on 1,590 requests');
  });

  it('draws the band as wide as the traffic is', async () => {
    const widths = await page
      .locator('[data-rule]')
      .evaluateAll((rows) =>
        rows.map((row) => (row.querySelector('[aria-hidden] > span') as HTMLElement).getBoundingClientRect().width),
      );
    expect(widths).toEqual([...widths].sort((a, b) => b - a));
    expect(widths[0]).toBeGreaterThan(53);
    expect(widths.at(-1)).toBe(0);
  });

  it('leads from a rule to its requests, and from one of them to its explanation, by keyboard', async () => {
    await rule('no-wagering').getByRole('button', { name: 'no-wagering', exact: true }).focus();
    await page.keyboard.press('Enter');
    await requests().getByRole('button', { name: 'overtaken 63', pressed: true }).waitFor();
    await requests().getByRole('button', { name: 'Explain request 28', exact: true }).focus();
    await page.keyboard.press('Enter');
    const story = page.getByRole('region', { name: 'Request 28' });
    await story.getByText('Allowed by rule web-for-all, which matches every request.').waitFor();
    expect(
      await story.locator('[data-role]').evaluateAll((steps) => steps.map((step) => step.getAttribute('data-role'))),
    ).toEqual(['passed', 'blind', 'passed', 'passed', 'observed', 'decided', 'overtaken']);
    expect(await story.innerText()).toContain(
      'www.lucky-petal.example is in list wagering-sites: entry .lucky-petal.example',
    );
    expect(await axe(page)).toEqual([]);
  });

  it('keeps where one is in the address, so that the view can be linked to', async () => {
    const address = new URL(page.url());
    expect([address.pathname, Object.fromEntries(address.searchParams)]).toEqual([
      '/policies/visitor-web',
      { rule: 'no-wagering', role: 'overtaken', request: '28' },
    ]);
    await page.reload();
    await page.getByRole('region', { name: 'Request 28' }).getByText('Allowed by rule web-for-all').waitFor();
    await page.goBack();
    await page.getByRole('region', { name: 'Request 28' }).waitFor({ state: 'detached' });
  });

  it('filters by verdict and country, and goes on to more', async () => {
    await page.goto(`${service.url}/policies/ticket-site?country=XM&verdict=block`);
    await requests().getByRole('row').nth(100).waitFor();
    expect(await requests().getByRole('row').count()).toBe(101);
    await requests().getByRole('button', { name: 'More' }).click();
    await requests().getByRole('row').nth(200).waitFor();
    await requests().getByRole('button', { name: 'Verdict' }).click();
    await page.getByRole('option', { name: 'allow' }).click();
    await requests().getByText('No request is like that.').waitFor();
    expect(new URL(page.url()).searchParams.get('verdict')).toBe('allow');
  });

  it('leads on by the country of the destination, and says it of a request', async () => {
    await page.goto(`${service.url}/policies/visitor-web`);
    const to = page.getByRole('region', { name: 'Overview' }).getByRole('table', { name: 'To destinations in' });
    await to.getByRole('button', { name: 'XM' }).click();
    await requests().getByText('private → XM').first().waitFor();
    expect(new URL(page.url()).searchParams.get('to')).toBe('XM');
    await page.getByRole('button', { name: /^Only those that are to destinations in XM/ }).waitFor();
    await requests()
      .getByRole('row')
      .filter({ hasText: 'www.visit-portugal.example' })
      .first()
      .getByRole('button')
      .click();
    await page.getByText('198.51.100.201 is in XM: the country data says so of 198.51.100.128/25').waitFor();
    expect(await axe(page)).toEqual([]);
    await requests().getByRole('button', { name: 'to destinations in XM; show others too' }).click();
    await page.getByRole('region', { name: 'Overview' }).waitFor();
  });

  it('shows the log as a whole where no rule is chosen, and leads on by country', async () => {
    await page.goto(`${service.url}/policies/ticket-site`);
    const overview = page.getByRole('region', { name: 'Overview' });
    await overview.getByRole('table', { name: 'From' }).getByRole('button', { name: 'XM' }).click();
    await requests().getByText('198.18.96.').first().waitFor();
    expect(await axe(page)).toEqual([]);
    // What falls through the rules is of that country alone then, and of it what a rule leads to.
    await page.getByText('303 requests fall in').waitFor();
    const harvesters = page.locator('[data-rule="no-harvesters"]');
    await harvesters.getByRole('button', { name: /^\d+\s+decided/ }).click();
    const rows = requests().getByRole('row');
    await rows.nth(1).waitFor();
    expect(new URL(page.url()).searchParams.get('country')).toBe('XM');
    await page.getByRole('button', { name: /^Only those that are from XM/ }).click();
    await page.getByText('2,858 requests fall in').waitFor();
  });

  it('runs a replay, and shows the new one', async () => {
    await page.goto(`${service.url}/policies/ticket-site`);
    await page.getByRole('button', { name: 'Replay week now' }).click();
    await page
      .getByRole('button', { name: /Replay/ })
      .filter({ hasText: '#2 week' })
      .waitFor();
    await rule('no-harvesters').getByText('281').waitFor();
  });

  it('is dark where that is chosen, with enough contrast, and remembers it', async () => {
    await page.goto(`${service.url}/policies/visitor-web?rule=no-wagering&role=overtaken&request=28`);
    await page.getByRole('region', { name: 'Request 28' }).waitFor();
    await page.getByRole('button', { name: 'Dark' }).click();
    expect(await axe(page)).toEqual([]);
    await page.reload();
    await page.getByRole('button', { name: 'Light' }).click();
  });

  it('says what is missing: a policy, a replay, a request', async () => {
    await page.goto(`${service.url}/policies/nothing`);
    await page.getByRole('alert').filter({ hasText: 'There is no policy nothing.' }).waitFor();
    await page.goto(`${service.url}/policies/ticket-site?replay=99`);
    await page.getByRole('alert').filter({ hasText: 'There is no replay 99.' }).waitFor();
    await page.goto(`${service.url}/policies/ticket-site?replay=1&request=9999`);
    await page.getByRole('alert').filter({ hasText: 'The replay has no request 9999.' }).waitFor();
  });

  it('signs out', async () => {
    await page.goto(service.url);
    await page.getByRole('button', { name: 'Sign out' }).click();
    await page.getByLabel('Access key').waitFor();
  });

  it('has complained of nothing but what was not there', () => {
    expect(complaints.filter((complaint) => !complaint.includes('404'))).toEqual([]);
  });

  it('says what to do in an empty workspace, and shows the first policy when it comes', async () => {
    const opened = await openPage(browser);
    await signIn(opened.page, empty);
    await opened.page.getByRole('heading', { name: 'The workspace is empty' }).waitFor();
    expect(await axe(opened.page)).toEqual([]);
    await empty.call('PUT', '/api/v1/workspace', {
      files: [{ name: 'p.yaml', text: 'policy: first\ndefault: allow\nrules: [{rule: r, then: block}]' }],
    });
    await opened.page.getByRole('heading', { name: 'first' }).waitFor();
    await opened.page.getByRole('heading', { name: 'A policy, done' }).waitFor();
    await opened.page.getByText('Block every request.', { exact: true }).waitFor();
    expect(opened.complaints).toEqual([]);
  });

  it('shows text of logs and files as text, whatever it says', async () => {
    const evil = '<img src=x onerror=alert(1)>';
    await empty.call('PUT', '/api/v1/workspace', {
      files: [
        {
          name: 'q.yaml',
          text: `policy: first\ndefault: allow\nnote: "${evil}"\nrules: [{rule: r, note: "${evil}", then: block}]`,
        },
      ],
    });
    await empty.call(
      'POST',
      '/api/v1/logs?name=evil',
      JSON.stringify({ host: 'a.example', method: 'GET', path: '/', query: evil }),
    );
    const { id } = (await empty.call('POST', '/api/v1/replays', { log: 'evil', policy: 'first' })).body;
    expect(await ended(empty, id)).toMatchObject({ state: 'done' });
    const opened = await openPage(browser);
    await signIn(opened.page, empty);
    await opened.page.goto(`${empty.url}/policies/first?rule=r&request=1`);
    await opened.page.getByRole('region', { name: 'Request 1' }).getByText(evil.slice(0, 10)).first().waitFor();
    expect(await opened.page.locator('img').count()).toBe(0);
    expect(opened.complaints).toEqual([]);
  });
});
