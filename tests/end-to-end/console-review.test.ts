import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { axe, type OpenConsole, openConsole, printWhenFailed, tabTo, writtenIn } from '../setup/console.js';

/** From what is found in the rules to what was published of them, and back. */
let opened: OpenConsole;
let service: OpenConsole['service'];
let page: OpenConsole['page'];
printWhenFailed(() => page);

beforeAll(async () => {
  opened = await openConsole();
  ({ service, page } = opened);
});
afterAll(() => opened?.close());

const order = async (): Promise<string[]> => {
  const { body } = await service.call('GET', '/api/v1/objects/policy/visitor-web');
  return [...(body.text as string).matchAll(/- rule: (\S+)/g)].map(([, rule]) => rule as string);
};
const isAbove = async (rule: string, other: string) => (await order()).indexOf(rule) < (await order()).indexOf(other);
const publish = async (why: string) => {
  const ran = await service.client('revision', 'publish', '-m', why, '--accept-warnings');
  expect([ran.code, ran.err]).toEqual([0, '']);
};

describe('the review', () => {
  it('has all findings by where they are, and shows those that are looked for', async () => {
    await page.goto(`${service.url}/review`);
    const { findings } = (await service.call('GET', '/api/v1/review')).body;
    await page.getByText(/\d+ warnings?, \d+ notes?\./).waitFor();
    const shown = page.getByRole('main').getByText(/^(?:Warning|Note):$/);
    expect(await shown.count()).toBe(findings.length);
    expect(await axe(page)).toEqual([]);
    await page.getByLabel('Only those with').fill('no-wagering');
    await expect.poll(() => shown.count()).toBeLessThan(findings.length);
    await page.getByRole('link', { name: 'visitor-web / no-wagering' }).waitFor();
    await page.getByRole('button', { name: 'Show' }).click();
    await page.getByRole('option', { name: 'notes', exact: true }).click();
    await page.getByText('None is like that.').waitFor();
    // All of it is in the address, so that it can be passed on.
    expect(new URL(page.url()).searchParams.get('severity')).toBe('note');
    await page.reload();
    await page.getByText('None is like that.').waitFor();
  });

  it('makes the mend of a finding in the draft', async () => {
    await page.goto(`${service.url}/review?text=is+never+reached`);
    expect(await isAbove('no-wagering', 'web-for-all')).toBe(false);
    await page.getByRole('button', { name: 'Do that' }).click();
    await expect.poll(() => isAbove('no-wagering', 'web-for-all')).toBe(true);
    await page.getByText('None is like that.').waitFor();
  });
});

describe('the draft', () => {
  it('lists what prevents publishing, each with its mend', async () => {
    await publish('First rules');
    await service.client('rule', 'move', 'visitor-web', 'no-wagering', '--below', 'web-for-all');
    await page.goto(`${service.url}/draft`);
    await page.getByText('not as expected; that stops publishing').waitFor();
    await page.getByRole('link', { name: 'visitor-web / no-wagering' }).waitFor();
    await page.getByRole('button', { name: 'Do that' }).first().click();
    await expect.poll(() => isAbove('no-wagering', 'web-for-all')).toBe(true);
    await page.getByText('All 6 cells of the checks are as expected.').waitFor();
  });
});

describe('the history', () => {
  it('shows what each revision changed, by whom and why', async () => {
    await service.client('entry', 'add', 'home-workers', '203.0.113.77');
    await publish('Ines works at home');
    await page.goto(`${service.url}/draft`);
    await page.getByRole('link', { name: 'The whole history' }).click();
    const changed = page.getByRole('region', { name: 'What revision 2 changed' });
    await changed.getByText('1 address added to').waitFor();
    await page.getByText('Ines works at home').waitFor();
    expect(await axe(page)).toEqual([]);
    await page.getByRole('button', { name: 'What it changed' }).last().click();
    await page.getByRole('region', { name: 'What revision 1 changed' }).getByText('visitor-web').first().waitFor();
    expect((await service.client('revision', 'show', '2')).out).toContain('1 address added to `home-workers`');
    expect((await service.client('revision', 'compare', 'nothing', '1')).out).toContain('policy visitor-web added');
  });

  it('opens, compares and restores any version of any object', async () => {
    await page.goto(`${service.url}/library/list/home-workers`);
    await page.getByRole('link', { name: 'History', exact: true }).click();
    await page.getByRole('link', { name: 'Version 1', exact: true }).click();
    const version = page.getByRole('region', { name: 'Version 1' });
    await expect.poll(() => version.locator('pre').innerText()).not.toContain('203.0.113.77');
    await version.getByRole('button', { name: 'compared with' }).click();
    await page.getByRole('option', { name: 'version 2' }).click();
    await version.getByText('203.0.113.77').waitFor();
    expect(await axe(page)).toEqual([]);
    await version.getByRole('button', { name: 'Restore' }).click();
    await page.getByRole('button', { name: 'Restore version 1' }).click();
    const text = async () => (await service.call('GET', '/api/v1/objects/list/home-workers')).body.text;
    await expect.poll(text).not.toContain('203.0.113.77');
  });

  it('brings back an object that was deleted', async () => {
    const written = 'probe: spare\nclient: 198.18.4.1\n';
    await service.call('PUT', '/api/v1/objects/probe/spare', { text: written }, { 'if-none-match': '*' });
    await service.client('object', 'remove', 'probe', 'spare', '-y');
    await page.goto(`${service.url}/history/probe/spare?version=1`);
    await page.getByText('client: 198.18.4.1').waitFor();
    await page.getByRole('button', { name: 'Restore', exact: true }).click();
    await page.getByRole('button', { name: 'Restore version 1' }).click();
    await expect.poll(async () => (await service.call('GET', '/api/v1/objects/probe/spare')).status).toBe(200);
  });
});

describe('checks', () => {
  it('are watched, and the first that fails is marked', async () => {
    await page.goto(`${service.url}/checks`);
    await page.getByRole('button', { name: 'Watch', exact: true }).click();
    await page.getByText('Nothing has failed so far.').waitFor();
    await service.client('rule', 'move', 'visitor-web', 'no-wagering', '--below', 'web-for-all');
    await page.getByText('the first to fail').waitFor();
    expect(await axe(page)).toEqual([]);
    await service.client('rule', 'move', 'visitor-web', 'no-wagering', '--above', 'web-for-all');
    await page.getByText('is as expected again').waitFor();
    await page.getByRole('button', { name: 'Stop watching' }).click();
    await page.getByText('the first to fail').waitFor({ state: 'detached' });
  });
});

describe('a request that is tried', () => {
  it('may come through proxies, with headers of its own', async () => {
    await page.goto(`${service.url}/try`);
    await page.getByLabel('Client’s address').fill('10.10.1.4');
    await page.getByLabel('URL, or host:port of a tunnel').fill('https://tickets.fennelhill.example/whats-on');
    await tabTo(page, 'Proxies, headers, groups, destination');
    await page.keyboard.press('Enter');
    await page.getByLabel('X-Forwarded-For').fill('198.18.97.3');
    await page.getByText('198.18.97.3 is taken from x-forwarded-for').waitFor();
    await page.getByLabel('Other headers, a line each').fill('X-Desk: 4\nnonsense');
    await page.getByText('No header: nonsense.').waitFor();
    expect(await axe(page)).toEqual([]);
    // It is in the address, and there again when that is opened.
    await expect.poll(() => new URL(page.url()).searchParams.get('forwarded')).toBe('198.18.97.3');
    await page.reload();
    expect(await page.getByLabel('X-Forwarded-For').inputValue()).toBe('198.18.97.3');
  });
});

describe('a document as text', () => {
  it('is completed by the schema and the workspace, and keeps the keys of the page', async () => {
    await page.goto(`${service.url}/policies/ticket-site?edit=no-harvesters`);
    const text = page.getByLabel('The same as text');
    await writtenIn(text);
    await text.click();
    await page.keyboard.press('ControlOrMeta+End');
    await page.keyboard.type('sta');
    // A key that comes with the offer itself is not taken for its answer.
    const take = async (name: RegExp) => {
      await page.getByRole('option', { name }).waitFor();
      await page.waitForTimeout(200);
      await page.keyboard.press('Enter');
    };
    await take(/^stance/);
    await page.keyboard.type('obs');
    await take(/^observe/);
    expect(await writtenIn(text)).toMatch(/stance: observe$/);
    await page.getByText('Would block').first().waitFor();
    // The tabulator leads out of it, as of any field.
    await page.keyboard.press('Tab');
    expect(await page.evaluate(() => document.activeElement?.hasAttribute('data-text'))).toBe(false);
    await page.getByRole('button', { name: 'Cancel' }).click();
    await page.getByRole('button', { name: 'Drop what I wrote' }).click();
  });

  it('marks what is wrong at its place', async () => {
    await page.goto(`${service.url}/policies/visitor-web?edit=no-wagering`);
    const text = page.getByLabel('The same as text');
    await writtenIn(text);
    await text.click();
    await page.keyboard.press('ControlOrMeta+End');
    await page.keyboard.type('stance: obsrve');
    await page.keyboard.press('Escape');
    await expect.poll(() => page.locator('.cm-lintRange-error').first().innerText()).toBe('obsrve');
    await page.getByRole('button', { name: 'Cancel' }).click();
    await page.getByRole('button', { name: 'Drop what I wrote' }).click();
  });
});

describe('figures', () => {
  const shown = () => page.getByRole('region', { name: 'Requests' }).locator('tbody tr');

  it('lead to their requests, by any field, which the address keeps', async () => {
    await page.goto(`${service.url}/policies/ticket-site`);
    await page.getByRole('table', { name: 'By status' }).getByRole('button', { name: '404', exact: true }).click();
    await shown().first().waitFor();
    await page.getByRole('button', { name: 'answered 404; show others too' }).waitFor();
    expect(new URL(page.url()).searchParams.get('status')).toBe('404');
    await page.getByRole('button', { name: /^Only by a field/ }).click();
    await page.getByRole('option', { name: 'method' }).click();
    await page.getByLabel('Only requests by').fill('GET');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'by GET; show others too' }).waitFor();
    expect(await axe(page)).toEqual([]);
    const { requests } = (await service.call('GET', '/api/v1/replays/1/requests?status=404&method=GET')).body;
    expect(requests.length).toBeGreaterThan(0);
    await expect.poll(() => shown().count()).toBe(requests.length);
    await page.reload();
    await page.getByRole('button', { name: 'by GET; show others too' }).click();
    await page.getByRole('button', { name: 'answered 404; show others too' }).click();
    await page.getByRole('table', { name: 'By status' }).waitFor();
  });

  it('are of this policy, or of the whole log', async () => {
    await page.goto(`${service.url}/policies/ticket-site`);
    const [asked] = await Promise.all([
      page.waitForRequest(/\/requests\?.*policy=ticket-site/),
      page.getByTitle('Show the requests that it allowed').click(),
    ]);
    expect(new URL(asked.url()).searchParams.get('verdict')).toBe('allow');
    await page.getByRole('button', { name: /^Of/ }).filter({ hasText: 'ticket-site' }).waitFor();
    await shown().first().waitFor();
    await page.getByRole('button', { name: /^Of/ }).click();
    await page.getByRole('option', { name: 'whole log' }).click();
    expect(new URL(page.url()).searchParams.has('own')).toBe(false);
    await page.getByRole('button', { name: 'Overview' }).click();
    await page.getByRole('table', { name: 'From', exact: true }).waitFor();
  });
});

it('has complained of nothing', () => {
  expect(opened.complaints.filter((each) => !/status of (?:404|412)/.test(each))).toEqual([]);
});
