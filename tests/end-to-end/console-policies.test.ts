import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { axe, type OpenConsole, openConsole, printWhenFailed, writeIn, writtenIn } from '../setup/console.js';

/** Policies as a whole, written in the console: made, changed beside their rules, duplicated, deleted; and destinations. */
let opened: OpenConsole;
let service: OpenConsole['service'];
let page: OpenConsole['page'];
printWhenFailed(() => page);

beforeAll(async () => {
  opened = await openConsole();
  ({ service, page } = opened);
});
afterAll(() => opened?.close());

const textOf = async (name: string): Promise<string> =>
  (await service.call('GET', `/api/v1/objects/policy/${name}`)).body.text;
const editor = (name: string) => page.getByRole('region', { name: `Edit policy ${name}` });
const keep = async () => {
  await page.getByRole('button', { name: 'Keep in the draft' }).click();
  await page.getByRole('button', { name: 'Keep in the draft' }).waitFor({ state: 'detached' });
};

describe('a policy', () => {
  it('is made with what it covers and its shape, and opened to be written', async () => {
    await page.getByRole('button', { name: 'New policy' }).click();
    const dialog = page.getByRole('dialog');
    expect(await axe(page)).toEqual([]);
    await dialog.getByLabel('Name').fill('herbarium-api');
    await dialog.getByLabel('Hosts that it covers').fill('herbarium.fennelhill.example, api.fennelhill.example');
    await dialog.getByRole('button', { name: 'Make it' }).click();
    await editor('herbarium-api').waitFor();
    expect(await textOf('herbarium-api')).toBe(
      'policy: herbarium-api\ncovers: {hosts: [herbarium.fennelhill.example, api.fennelhill.example]}\ndefault: block\nrules: []\n',
    );
    expect(await axe(page)).toEqual([]);
  });

  it('is turned from one shape into the other by one press, and its rules stay to the letter', async () => {
    const before = await textOf('visitor-web');
    await page.goto(`${service.url}/policies/visitor-web?edit=@`);
    await editor('visitor-web').getByText('Block every request that no rule decides.').waitFor();
    await page.getByLabel('Refuse what is listed').check();
    await page.getByText('Allow every request that no rule decides.').waitFor();
    await keep();
    expect(await textOf('visitor-web')).toBe(before.replace('default: block', 'default: allow'));
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect.poll(() => textOf('visitor-web')).toBe(before);
  });

  it('takes hosts, the source of the client, paths and stance by the form, and shows them as text', async () => {
    await page.goto(`${service.url}/policies/herbarium-api?edit=@`);
    await editor('herbarium-api').waitFor();
    await page.getByLabel('Add to host', { exact: true }).fill('.seeds.fennelhill.example');
    await page.keyboard.press('Enter');
    await page.getByLabel('Take api.fennelhill.example out of host').click();
    await page.getByRole('button', { name: 'Taken from' }).click();
    await page.getByRole('option', { name: /^forwarded/ }).click();
    await page.getByLabel('Add to trust').fill('edge-proxies');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Case' }).click();
    await page.getByRole('option', { name: 'ignore' }).click();
    await page.getByLabel('those of its host are used').check();
    await page.getByRole('button', { name: 'Stance' }).click();
    await page.getByRole('option', { name: 'observe' }).click();
    const shown = await writtenIn(page.getByLabel('The whole policy as text'));
    expect(shown).toContain('hosts: [herbarium.fennelhill.example, .seeds.fennelhill.example]');
    expect(shown).toContain('client: {from: forwarded, trust: [edge-proxies]}');
    expect(shown).toContain('destinations: {resolve: true}');
    expect(shown).toContain('paths: {case: ignore}');
    // Going elsewhere loses nothing.
    await page.getByRole('link', { name: 'Library', exact: true }).click();
    await page.goBack();
    await editor('herbarium-api').waitFor();
    expect(await writtenIn(page.getByLabel('The whole policy as text'))).toBe(shown);
    await keep();
    expect(await textOf('herbarium-api')).toBe(shown);
  });

  it('is not kept while it is faulty, and says where', async () => {
    await page.goto(`${service.url}/policies/herbarium-api?edit=@`);
    await editor('herbarium-api').waitFor();
    const text = page.getByLabel('The whole policy as text');
    await writeIn(text, (await writtenIn(text)).replace('default: block', 'default: perhaps'));
    await page
      .getByText(/perhaps/)
      .first()
      .waitFor();
    await expect.poll(() => page.getByRole('button', { name: 'Keep in the draft' }).isDisabled()).toBe(true);
    await page.getByRole('button', { name: 'Cancel' }).click();
    await page.getByRole('button', { name: 'Drop what I wrote' }).click();
    await editor('herbarium-api').waitFor({ state: 'detached' });
  });

  it('covers one more host from the host’s end', async () => {
    await page.goto(`${service.url}/look-up?of=labels.fennelhill.example`);
    await page.getByText('none covers it').waitFor();
    await page.getByRole('button', { name: 'Let a policy cover it' }).click();
    await page.getByRole('option', { name: /^herbarium-api/ }).click();
    await page.getByRole('button', { name: 'Add labels.fennelhill.example to its hosts' }).click();
    await page.getByRole('link', { name: 'herbarium-api' }).waitFor();
    expect(await textOf('herbarium-api')).toContain('.seeds.fennelhill.example, labels.fennelhill.example]');
  });

  it('is duplicated without what it covers, and deleted when that is confirmed', async () => {
    await page.goto(`${service.url}/policies/visitor-web`);
    await page.getByRole('button', { name: 'Duplicate', exact: true }).first().click();
    await page.getByRole('dialog').getByLabel('Name').fill('staff-web');
    await page.getByRole('button', { name: 'Make it' }).click();
    await editor('staff-web').waitFor();
    const copy = await textOf('staff-web');
    expect(copy).not.toContain('covers:');
    expect(copy.slice(copy.indexOf('rules:'))).toBe(
      ((text) => text.slice(text.indexOf('rules:')))(await textOf('visitor-web')),
    );
    await page.getByRole('button', { name: 'Delete', exact: true }).first().click();
    await page.getByText('What is published goes on as it is until you publish').waitFor();
    await page.getByRole('button', { name: 'Delete the policy' }).click();
    await expect.poll(async () => (await service.call('GET', '/api/v1/objects/policy/staff-web')).status).toBe(404);
  });
});

describe('a rule', () => {
  const text = () => writtenIn(page.getByLabel('The same as text'));

  it('is made of a remedy, above what would overtake it, and says at once where it would do nothing', async () => {
    await page.goto(`${service.url}/look-up?of=www.visit-portugal.example`);
    await page.getByRole('button', { name: 'Rules of' }).click();
    await page.getByRole('option', { name: /^visitor-web/ }).click();
    const row = page.getByRole('row').filter({ hasText: 'destination: ["198.51.100.201"]' });
    await row.getByRole('button', { name: 'Make a rule' }).click();
    await page.getByText('Would block requests to 198.51.100.201.').waitFor();
    expect(await text()).toBe(
      'rule: no-198-51-100-201\nwhen: {destination: [198.51.100.201]}\nthen: block\nstance: observe\n',
    );
    const place = page.getByRole('button', { name: 'It goes' });
    const unreached = page.getByRole('region', { name: 'New rule' }).getByText('is never reached');
    expect(await place.innerText()).toContain('above web-for-all');
    await place.click();
    await page.getByRole('option', { name: 'last' }).click();
    await unreached.waitFor();
    await place.click();
    await page.getByRole('option', { name: 'above web-for-all' }).click();
    await unreached.waitFor({ state: 'detached' });
    await keep();
    const names = [...(await textOf('visitor-web')).matchAll(/- rule: (\S+)/g)].map(([, name]) => name);
    expect(names.indexOf('no-198-51-100-201')).toBe(names.indexOf('web-for-all') - 1);
  });

  it('is made of a request, and takes headers, parameters and cookies', async () => {
    await page.goto(`${service.url}/policies/ticket-site?rule=open-countries&request=2&replay=1`);
    // What the draft would change comes in above, and moves what is pressed here.
    await page.getByRole('button', { name: 'Make a rule of this' }).waitFor();
    await page.waitForLoadState('networkidle');
    await page.getByRole('button', { name: 'Make a rule of this' }).click();
    await page.getByLabel('The same as text').waitFor();
    expect(await text()).toMatch(/^rule: like-request-2\nwhen: \{client: \[[\d.]+\], host: \[.+\], path: \[.+\]\}/);
    await page.getByRole('button', { name: 'Add to when' }).click();
    await page.getByRole('option', { name: /^query/ }).click();
    await page.getByLabel('Name behind query.').fill('token');
    await page.keyboard.press('Enter');
    await page.getByLabel('Add to query.token').fill('present');
    await page.keyboard.press('Enter');
    await expect.poll(text).toContain('query.token: [present]');
  });

  it('is offered what occurs in the log, with its counts', async () => {
    await page.getByLabel('Add to host', { exact: true }).fill('herbarium');
    await page.getByRole('option', { name: /herbarium\.fennelhill\.example.*145 in the log/ }).waitFor();
    await page.keyboard.press('Escape');
    await page.getByLabel('Add to host', { exact: true }).fill('');
  });

  it('never widens because its last value was taken out', async () => {
    await page.getByRole('button', { name: /^Take .+ out of client$/ }).click();
    await expect.poll(text).toContain('client: []');
    await page.getByText('nothing, so that it matches nothing:').waitFor();
    await page.getByRole('button', { name: 'Take client out of when' }).click();
    await expect.poll(text).not.toContain('client');
    await page.getByRole('button', { name: 'Cancel' }).click();
    await page.getByRole('button', { name: 'Drop what I wrote' }).click();
  });
});

describe('destinations', () => {
  it('are resolved from the library, and the look-up shows the chain and the remedies', async () => {
    await page.goto(`${service.url}/library/resolutions`);
    await page.getByText('18 hosts known').waitFor();
    await page.getByRole('button', { name: 'Take the addresses that it shows' }).click();
    await page.getByRole('table', { name: 'Look-ups of hosts' }).getByText('7 with addresses').waitFor();
    expect(await axe(page)).toEqual([]);
    await page.goto(`${service.url}/look-up?of=www.visit-portugal.example`);
    await page.getByText('network 198.51.100.128/25').waitFor();
    const remedies = page.getByRole('table', { name: 'Remedies' });
    await remedies.getByText('destination-country: [XM]').waitFor();
    expect(await remedies.getByRole('row').last().innerText()).toMatch(
      /country\s+destination-country: \[XM\]\s+202\s+67/,
    );
    expect(await axe(page)).toEqual([]);
  });
});
