import type { Browser } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { launchBrowser, openPage } from '../setup/browser.js';
import { printWhenFailed, signIn, writeIn } from '../setup/console.js';
import { DEMO, startService, type TestService } from '../setup/service.js';

/**
 * A day's work from an empty service, in the console alone: what rules speak of, policies, the intents of an administrator,
 * a log, evidence, checks, publishing, and going back. The API is asked only whether it came to be so.
 */
let service: TestService;
let browser: Browser;
let page: Awaited<ReturnType<typeof openPage>>['page'];
let complaints: string[];
printWhenFailed(() => page);

beforeAll(async () => {
  [service, browser] = await Promise.all([startService(), launchBrowser()]);
  ({ page, complaints } = await openPage(browser));
  page.setDefaultTimeout(30_000);
  await signIn(page, service);
  await page.getByRole('heading', { name: 'The workspace is empty' }).waitFor();
});
afterAll(async () => {
  await browser?.close();
  await service?.stop();
});

const go = (path: string) => page.goto(service.url + path);
const workspace = async () => (await service.call('GET', '/api/v1/workspace')).body;

/** Opens a new object of a kind, names it, and keeps it once its form was filled. */
async function writeObject(kind: string, name: string, fill: () => Promise<void>): Promise<void> {
  await go(`/library/${kind}/+`);
  await page.getByLabel('As text').locator('.cm-line').first().waitFor();
  await page.getByLabel('Name', { exact: true }).fill(name);
  await fill();
  await page.getByRole('button', { name: 'Keep in the draft' }).click();
  await page.getByRole('heading', { name, exact: true }).waitFor();
}

/** Adds values to a field of a form, each as it is written. */
async function addTo(field: string, ...values: readonly string[]): Promise<void> {
  for (const value of values) {
    await page.getByLabel(`Add to ${field}`, { exact: true }).fill(value);
    await page.getByLabel(`Add to ${field}`, { exact: true }).press('Enter');
    await page.getByRole('button', { name: `Take ${value} out of ${field}` }).waitFor();
  }
}

async function choose(label: string | RegExp, option: string | RegExp): Promise<void> {
  await page.getByRole('button', { name: label }).first().click();
  await page.getByRole('option', { name: option }).first().click();
}

const keepPolicy = async () => {
  const kept = page.waitForResponse((response) => response.request().method() === 'PUT');
  await page.getByRole('button', { name: 'Keep in the draft' }).click();
  expect((await kept).status()).toBeLessThan(300);
};

interface NewRule {
  readonly policy: string;
  readonly name: string;
  readonly when?: Readonly<Record<string, readonly string[]>>;
  readonly unless?: Readonly<Record<string, readonly string[]>>;
  readonly then?: string;
  readonly limit?: readonly [moreThan: string, within: string, per: string];
}

async function writeRule({ policy, name, when = {}, unless = {}, then, limit }: NewRule): Promise<void> {
  await go(`/policies/${policy}?edit=%2B`);
  await page.getByLabel('Name', { exact: true }).fill(name);
  for (const [part, fields] of [['when', when] as const, ['unless', unless] as const])
    for (const [field, values] of Object.entries(fields)) {
      await page.getByRole('button', { name: new RegExp(`^Add to ${part}`) }).click();
      await page.getByRole('option', { name: new RegExp(`^${field} `) }).click();
      const group = page.getByRole('group', { name: part });
      for (const value of values) {
        await group.getByRole('combobox', { name: `Add to ${field}` }).fill(value);
        await group.getByRole('combobox', { name: `Add to ${field}` }).press('Enter');
        await group.getByRole('button', { name: `Take ${value} out of ${field}` }).waitFor();
      }
    }
  if (limit) {
    await page.getByLabel('Match only who asks too often').click();
    await page.getByLabel('more than').fill(limit[0]);
    await page.getByLabel('within').fill(limit[1]);
    await page.getByLabel('per', { exact: true }).fill(limit[2]);
  }
  if (then) await choose(/^Then/, then);
  await choose(/^Stance/, 'enforce');
  await keepPolicy();
  await page.locator(`[data-rule="${name}"]`).waitFor();
}

describe('what rules speak of', () => {
  it('is gathered: countries, lists, a category, applications, hours, a notice', async () => {
    await go('/library/countries');
    await page.getByLabel(/^A file as CSV/).setInputFiles(`${DEMO}country-data.csv`);
    await page
      .getByText(/IPv4 addresses/)
      .first()
      .waitFor();
    await writeObject('list', 'garden-offices', async () => {
      await writeIn(
        page.getByLabel('As text'),
        'list: garden-offices\nof: addresses\nentries: [10.20.0.0/16, 198.18.12.0/24]\n',
      );
    });
    await writeObject('list', 'edge-proxies', async () => {
      await writeIn(page.getByLabel('As text'), 'list: edge-proxies\nof: addresses\nentries: [10.10.1.4, 10.10.1.5]\n');
    });
    // Two more come later, one by one and pasted.
    await go('/library/list/garden-offices');
    await page.getByLabel('Entry', { exact: true }).fill('198.18.16.21');
    await page.getByLabel('Note', { exact: true }).first().fill('Ines at home');
    await page.getByRole('button', { name: 'Add', exact: true }).click();
    await page.getByText('198.18.16.21 was added.').waitFor();
    await page.getByRole('button', { name: 'Add or replace many entries …' }).click();
    await page.getByLabel('One entry a line').fill('198.18.40.77 # Rui at home\n');
    await page.getByRole('button', { name: 'Add it to garden-offices' }).click();
    await page.getByText('garden-offices has 4 entries.').waitFor();
    await writeObject('category', 'media', async () => {
      await page.getByRole('button', { name: 'Take .name.example out of domains' }).click();
      await addTo('domains', '.willowreel.example', '.mossgram.example');
    });
    await writeObject('application', 'name-look-up', () =>
      writeIn(page.getByLabel('As text'), 'application: name-look-up\nwhen: {port: 53}\nrisk: 1\n'),
    );
    await writeObject('application', 'web', async () => {
      await writeIn(
        page.getByLabel('As text'),
        'application: web\nwhen: [{scheme: [http, https]}, {port: [80, 443]}]\nrisk: 2\n',
      );
      await addTo('needs', 'name-look-up');
    });
    await writeObject('schedule', 'opening-hours', async () => {
      for (const day of ['mon', 'tue', 'wed', 'thu', 'fri']) {
        await page.getByLabel(`Hours of ${day}`).fill('09:00-12:00 14:00-18:00');
        await page.getByLabel(`Hours of ${day}`).press('Enter');
      }
    });
    await writeObject('notice', 'not-here', () => page.getByLabel('Title').fill('This page is not open here'));
    const { lists, objects, countryData } = await workspace();
    expect(lists.map(({ list, entries }: { list: string; entries: number }) => `${list} ${entries}`)).toEqual([
      'edge-proxies 2',
      'garden-offices 4',
    ]);
    expect(objects.map(({ name }: { name: string }) => name).sort()).toEqual(
      ['media', 'name-look-up', 'not-here', 'opening-hours', 'web'].sort(),
    );
    expect(countryData).not.toBeNull();
  });

  it('an entry that was taken out by mistake comes back', async () => {
    await go('/library/list/edge-proxies');
    await page.getByRole('button', { name: 'Take out 10.10.1.5' }).click();
    await page.getByText('10.10.1.5 was taken out.').waitFor();
    await page.getByRole('button', { name: 'Undo' }).click();
    await page.getByRole('row').filter({ hasText: '10.10.1.5' }).waitFor();
  });

  it('an edit of an object is taken back', async () => {
    await go('/library/notice/not-here');
    await page.getByLabel('Title').fill('Nothing to see');
    await page.getByRole('button', { name: 'Keep in the draft' }).click();
    await page.getByText('version 2').first().waitFor();
    await page.getByRole('button', { name: 'Undo' }).click();
    await page.getByText('version 3').first().waitFor();
    expect(await page.getByLabel('Title').inputValue()).toBe('This page is not open here');
  });
});

describe('policies and their rules', () => {
  it('the first is made from an intent, and reads its clients behind the proxies', async () => {
    await go('/');
    await page.getByRole('radio', { name: 'Only these countries may reach our site' }).click();
    await page.getByLabel('Host of the site').fill('tickets.fennelhill.example');
    await page.getByLabel('Countries, by code').fill('PT ES');
    await page.getByLabel('Name of the policy').fill('ticket-site');
    await page.getByRole('button', { name: 'Make the policy' }).click();
    await page.getByRole('heading', { name: 'ticket-site' }).waitFor();
    await go('/policies/ticket-site?edit=@');
    await page.getByRole('region', { name: 'Edit policy ticket-site' }).waitFor();
    await addTo('host', 'staging.fennelhill.example');
    await choose('Taken from', /^forwarded/);
    await addTo('trust', 'edge-proxies');
    await keepPolicy();
  });

  it('another is made for one’s own people, and closed but for what is listed', async () => {
    await page.getByRole('button', { name: 'New policy' }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByLabel('Name').fill('visitor-web');
    await dialog.getByLabel('Clients that it covers').fill('10.40.0.0/16');
    await dialog.getByRole('button', { name: 'Make it' }).click();
    await page.getByRole('region', { name: 'Edit policy visitor-web' }).waitFor();
    expect(await page.getByRole('radio', { name: 'Allow only what is listed' }).isChecked()).toBe(true);
  });

  it.each<NewRule & { readonly sentence: RegExp }>([
    {
      policy: 'ticket-site',
      name: 'staging-for-us',
      when: { host: ['staging.fennelhill.example'] },
      unless: { client: ['garden-offices'] },
      sentence: /staging\.fennelhill\.example, unless the client is in garden-offices/,
    },
    {
      policy: 'ticket-site',
      name: 'sign-ins',
      when: { path: ['/account/sign-in*'] },
      limit: ['2', '1d', 'client, method'],
      sentence: /after more than 2 requests per day from the same client and method/,
    },
    {
      policy: 'visitor-web',
      name: 'one-machine',
      when: { client: ['10.40.0.11'] },
      sentence: /Block requests from 10\.40\.0\.11/,
    },
    {
      policy: 'visitor-web',
      name: 'no-entertainment',
      when: { category: ['media'], time: ['opening-hours'] },
      unless: { client: ['10.40.0.12'] },
      sentence: /category media during opening-hours, unless the client is 10\.40\.0\.12/,
    },
    {
      policy: 'visitor-web',
      name: 'hosted-in-xm',
      when: { 'destination-country': ['XM'] },
      sentence: /destinations in .*XM/,
    },
    {
      policy: 'visitor-web',
      name: 'the-web',
      when: { application: ['web', 'name-look-up'] },
      then: 'allow',
      sentence: /Allow .*web.*name-look-up/,
    },
  ])('$policy / $name', async (rule) => {
    await writeRule(rule);
    await page.locator(`[data-rule="${rule.name}"]`).getByText(rule.sentence).waitFor();
  });
});

describe('evidence', () => {
  it('comes from a log that is replayed by what was written', async () => {
    await go('/logs');
    await page.getByLabel(/^Drop a log here/).setInputFiles(`${DEMO}logs/week.jsonl`);
    await page.getByRole('button', { name: 'Bring week.jsonl' }).click();
    await page.getByText('5,000 requests of 5,000 lines, read as json-lines').waitFor();
    await go('/policies/ticket-site');
    await page.getByRole('button', { name: 'Replay week by these rules' }).click();
    await page.getByText('requests fall in').waitFor();
    const { policies } = (await service.call('GET', '/api/v1/replays/1/report')).body;
    const decided = (policy: string, rule: string): number =>
      policies
        .find((each: { policy: string }) => each.policy === policy)
        .rules.find((each: { rule: string }) => each.rule === rule).decided;
    for (const rule of ['open-countries', 'staging-for-us', 'sign-ins'])
      expect(decided('ticket-site', rule)).toBeGreaterThan(0);
    for (const rule of ['no-entertainment', 'the-web']) expect(decided('visitor-web', rule)).toBeGreaterThan(0);
    await page
      .locator('[data-rule="sign-ins"]')
      .getByRole('button', { name: /decided/ })
      .click();
    await page
      .getByRole('button', { name: /^Explain request/ })
      .first()
      .click();
    await page.getByText(/Blocked by rule sign-ins/).waitFor();
  });
});

describe('trust', () => {
  it('grows by probes and a grid of what is expected', async () => {
    await writeObject('probe', 'lisbon-reader', () => page.getByLabel('Address', { exact: true }).fill('198.18.4.20'));
    await writeObject('probe', 'abroad-desk', () => page.getByLabel('Address', { exact: true }).fill('198.18.97.3'));
    await writeObject('check', 'who-gets-where', async () => {
      await writeIn(page.getByLabel('As text'), 'check: who-gets-where\ndestinations: {}\nexpect: {}\n');
      for (const [name, url] of [
        ['tickets', 'https://tickets.fennelhill.example/'],
        ['staging', 'https://staging.fennelhill.example/'],
      ] as const) {
        await page.getByLabel('Destination, by a name of yours').fill(name);
        await page.getByLabel('URL, or host:port of a tunnel').fill(url);
        await page.getByRole('button', { name: 'Add the destination' }).click();
        await page.getByRole('columnheader', { name }).waitFor();
      }
      for (const probe of ['lisbon-reader', 'abroad-desk']) {
        await choose('Add a probe', probe);
        await page.getByRole('rowheader', { name: probe }).waitFor();
      }
      await page.getByRole('button', { name: /^lisbon-reader at tickets/ }).press('a');
      for (const cell of [/^lisbon-reader at staging/, /^abroad-desk at tickets/, /^abroad-desk at staging/])
        await page.getByRole('button', { name: cell }).press('b');
    });
    await go('/checks');
    await page.getByText('✓ all as expected').waitFor();
  });
});

describe('publishing', () => {
  it('puts all of it in force, and goes back when it hurts', async () => {
    await go('/draft');
    await page.getByText('All 4 cells of the checks are as expected.').waitFor();
    await page.getByLabel('Why').fill('The garden’s first rules');
    if (await page.getByLabel(/warnings/).count())
      await page
        .getByLabel(/warnings/)
        .first()
        .check();
    await page.getByRole('button', { name: /^Publish/ }).click();
    await page.getByText('Revision 1 is in force').waitFor();
    // Somebody closes the shop to all: a change of one press.
    await go('/policies/ticket-site');
    await page.getByRole('button', { name: 'What to do with open-countries' }).click();
    await page.getByRole('menuitem', { name: 'Turn off' }).click();
    await page.getByText('off', { exact: true }).first().waitFor();
    await go('/checks');
    await page.getByText('✗ 1 of 4 not as expected').waitFor();
    await go('/history');
    await page
      .getByRole('button', { name: /Restore|restore|Go back/ })
      .first()
      .click();
    await page.getByRole('alertdialog').getByRole('button', { name: 'Restore revision 1' }).click();
    await go('/checks');
    await page.getByText('✓ all as expected').waitFor();
    expect((await service.call('GET', '/api/v1/draft')).body.changed).toBe(false);
  });

  it('has complained of nothing', () => {
    expect(complaints).toEqual([]);
  });
});
