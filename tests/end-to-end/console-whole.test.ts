import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { axe, type OpenConsole, openConsole, printWhenFailed } from '../setup/console.js';
import { ended } from '../setup/service.js';

/** What the client could and the console could not: rules edited together, files, catalogues, proposals, the audit's chain. */
let opened: OpenConsole;
let service: OpenConsole['service'];
let page: OpenConsole['page'];
printWhenFailed(() => page);

beforeAll(async () => {
  opened = await openConsole();
  ({ service, page } = opened);
});
afterAll(() => opened?.close());

const textOf = async (kind: string, name: string): Promise<string> =>
  (await service.call('GET', `/api/v1/objects/${kind}/${name}`)).body.text;
const rulesOf = async (policy: string): Promise<string[]> =>
  [...(await textOf('policy', policy)).matchAll(/- rule: (\S+)/g)].map(([, name]) => name as string);
const fileOf = (name: string, text: string): string => {
  const path = join(service.folder, name);
  writeFileSync(path, text);
  return path;
};

describe('several rules', () => {
  const bar = () => page.getByRole('region', { name: 'Several rules' });

  it('are given a stance at once, and get their old ones back by one press', async () => {
    await page.goto(`${service.url}/policies/visitor-web`);
    const before = await textOf('policy', 'visitor-web');
    await page.getByRole('button', { name: 'Several …' }).click();
    await page.getByRole('checkbox', { name: 'Choose no-wagering' }).click();
    await page.getByRole('checkbox', { name: 'Choose no-uploads' }).click();
    await bar().getByText('2 of 7 chosen').waitFor();
    expect(await axe(page)).toEqual([]);
    await bar().getByRole('button', { name: 'Turn off' }).click();
    await expect.poll(async () => (await textOf('policy', 'visitor-web')).match(/stance: off/g)?.length).toBe(2);
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect.poll(() => textOf('policy', 'visitor-web')).toBe(before);
  });

  it('are copied to another policy, at its top and in their order', async () => {
    const before = await rulesOf('ticket-site');
    await bar().getByLabel('Copy to').click();
    await page.getByRole('option', { name: /^ticket-site/ }).click();
    await bar().getByText('Copied to ticket-site.').waitFor();
    expect(await rulesOf('ticket-site')).toEqual(['no-uploads', 'no-wagering', ...before]);
    await service.client('object', 'remove', 'policy', 'ticket-site', '--yes');
    await service.client(
      'workspace',
      'apply',
      new URL('../../demo/workspace/ticket-site.yaml', import.meta.url).pathname,
      '--overwrite',
    );
  });

  it('are deleted where one means it, and come back', async () => {
    const before = await rulesOf('visitor-web');
    await bar().getByRole('button', { name: 'Delete …' }).click();
    await page.getByRole('alertdialog').getByRole('button', { name: 'Delete them' }).click();
    await expect
      .poll(() => rulesOf('visitor-web'))
      .toEqual(before.filter((rule) => !/no-(?:wagering|uploads)/.test(rule)));
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect.poll(() => rulesOf('visitor-web')).toEqual(before);
    await bar().getByRole('button', { name: 'Done' }).click();
  });
});

describe('files', () => {
  it('show what they would change, and are taken into the draft where one means it', async () => {
    await page.goto(`${service.url}/draft`);
    const added = fileOf('guides.yaml', 'list: guides\nof: users\nentries: [ines, rui]\n');
    const same = fileOf('hours.yaml', await textOf('schedule', 'opening-hours'));
    await page.getByLabel('Files', { exact: true }).setInputFiles([added, same]);
    const found = page.getByRole('list', { name: 'What the files would change' });
    await found.getByText('guides').waitFor();
    expect(await found.getByRole('listitem').count()).toBe(1);
    expect((await service.call('GET', '/api/v1/objects/list/guides')).status).toBe(404);
    await page.getByRole('button', { name: 'Take them into the draft …' }).click();
    await page.getByRole('alertdialog').getByRole('button', { name: 'Take them into the draft' }).click();
    await page.getByText('The draft has what the files say.').waitFor();
    expect((await service.call('GET', '/api/v1/objects/list/guides')).status).toBe(200);
  });

  it('with faults change nothing, and say where', async () => {
    await page.goto(`${service.url}/draft`);
    await page.getByLabel('Files', { exact: true }).setInputFiles(fileOf('bad.yaml', 'list: more\nof: planets\n'));
    await page.getByRole('alert').filter({ hasText: 'planets' }).first().waitFor();
    expect((await service.call('GET', '/api/v1/objects/list/more')).status).toBe(404);
  });
});

describe('the catalogue', () => {
  it('is brought as a table, with what it would change first', async () => {
    await page.goto(`${service.url}/library/category`);
    expect(await page.getByRole('link', { name: 'All as CSV' }).getAttribute('href')).toBe(
      '/api/v1/catalogue/category.csv',
    );
    const { body: csv } = await service.call('GET', '/api/v1/catalogue/category.csv');
    const [head] = String(csv).split('\r\n');
    expect(head).toBe('category,entry,note');
    await page
      .getByLabel(/^Bring CSV files/)
      .setInputFiles(fileOf('gardens.csv', `${head}\ngardens,.fernmoor.example,\n`));
    await page.getByText(/1 object would change: gardens/).waitFor();
    expect((await service.call('GET', '/api/v1/objects/category/gardens')).status).toBe(404);
    await page.getByRole('button', { name: 'Take them into the draft' }).click();
    await page.getByText(/1 object changed: gardens/).waitFor();
    expect(await textOf('category', 'gardens')).toContain('.fernmoor.example');
    expect(await axe(page)).toEqual([]);
  });

  it('has applications that are allowed with what they need', async () => {
    await page.goto(`${service.url}/library/application/web`);
    await page.getByLabel('In', { exact: true }).click();
    await page.getByRole('option', { name: /^visitor-web/ }).click();
    await page.getByLabel('Above').click();
    await page.getByRole('option', { name: /^web-for-all/ }).click();
    await page.getByRole('button', { name: 'Allow it, and what it needs' }).click();
    await page.getByText('of visitor-web allows it, and name-look-up, which it needs.').waitFor();
    const rules = await rulesOf('visitor-web');
    expect(rules[rules.indexOf('web-for-all') - 1]).toMatch(/web/);
  });
});

describe('two pairs of eyes', () => {
  it('see what a proposal changes', async () => {
    await service.call('PATCH', '/api/v1/settings', { fourEyes: true });
    const body = { name: 'ines', role: 'publisher', password: 'a fern in every gorge' };
    expect((await service.call('POST', '/api/v1/people', body)).status).toBe(201);
    await service.call('DELETE', '/api/v1/objects/check/what-visitors-reach', undefined, { 'if-match': '"1"' });
    await service.client('entry', 'add', 'home-workers', '203.0.113.90');
    const proposed = await service.client('proposal', 'add', '-m', 'Tomas works at home');
    expect([proposed.code, proposed.err]).toEqual([0, '']);
    await page.goto(`${service.url}/draft`);
    await page.getByText('What it changes').click();
    await page.locator('details').filter({ hasText: 'What it changes' }).getByText('home-workers').first().waitFor();
    await service.call('PATCH', '/api/v1/settings', { fourEyes: false });
  });
});

describe('the audit', () => {
  it('is verified, and a head that was kept elsewhere is found in it', async () => {
    await page.goto(`${service.url}/audit`);
    await page.getByRole('button', { name: 'Verify the chain' }).click();
    const status = page.getByRole('status').filter({ hasText: 'Keep this elsewhere' });
    await status.getByText(/All \d+ entries follow from those before them/).waitFor();
    const head = (await status.locator('code').textContent()) ?? '';
    await page.getByLabel(/^A head that was kept/).fill(head);
    await page.getByRole('button', { name: 'Verify the chain' }).click();
    await status.getByText(/All \d+ entries/).waitFor();
    await page.getByLabel(/^A head that was kept/).fill('0'.repeat(64));
    await page.getByRole('button', { name: 'Verify the chain' }).click();
    await status.getByText('The head that was kept is not among them.').waitFor();
  });
});

describe('requests in sum', () => {
  const sum = async (query: string) => (await service.call('GET', `/api/v1/replays/1/sum?${query}`)).body;

  it('are counted as they are one by one, by any filter', async () => {
    const { requests, shares, hours, isPart, samples } = await sum('verdict=block&status=2xx');
    const { body } = await service.call('GET', '/api/v1/replays/1/requests?verdict=block&status=2xx&limit=1000');
    expect([requests, isPart]).toEqual([body.requests.length, false]);
    const byHost = new Map<string, number>();
    for (const { request } of body.requests) byHost.set(request.host, (byHost.get(request.host) ?? 0) + 1);
    for (const { key, requests: some } of shares.host.rows) expect(some).toBe(byHost.get(key));
    expect(shares.status.rows.every(({ key }: { key: string }) => key.startsWith('2'))).toBe(true);
    expect(shares.rule.rows.map(({ key }: { key: string }) => key)).toContain('ticket-site / no-harvesters');
    expect(samples.length).toBeGreaterThan(1);
    expect(hours.rows.reduce((all: number, each: { block: number }) => all + each.block, 0)).toBe(requests);
    expect(await sum('verdict=block&path=/nothing')).toMatchObject({ requests: 0, samples: [] });
  });

  it('show who would miss what is blocked now and was let through then', async () => {
    await page.goto(`${service.url}/policies/ticket-site?replay=1`);
    await page.getByTitle(/answered 2xx and are blocked now/).click();
    // The rules show how these alone fall through them.
    await page.getByText('block, answered 2xx').waitFor();
    await page.getByRole('columnheader', { name: 'By client', exact: true }).waitFor();
    await page.getByRole('columnheader', { name: 'By host' }).waitFor();
    await page.getByRole('figure', { name: 'Requests by the hour' }).waitFor();
    expect(await axe(page)).toEqual([]);
    const { requests, shares } = await sum('verdict=block&status=2xx');
    await page.getByText(`${requests} requests.`).waitFor();
    await page.getByRole('button', { name: shares.host.rows[0].key, exact: true }).click();
    await page.getByRole('button', { name: 'In sum' }).waitFor();
    expect(new URL(page.url()).searchParams.get('host')).toBe(shares.host.rows[0].key);
  });

  it('are shown by the client, all dimensions of them', async () => {
    const { out, code } = await service.client(
      'request',
      'sum',
      '--replay',
      '1',
      '--status',
      '2xx',
      '--verdict',
      'block',
    );
    expect(code).toBe(0);
    for (const title of [
      'country',
      'client',
      'destination-country',
      'host',
      'path',
      'method',
      'agent',
      'status',
      'rule',
    ])
      expect(out).toMatch(new RegExp(`(?:^|\\s)${title} +requests +share`, 'm'));
    expect((await service.client('rule', 'tune', 'no-harvesters', '--replay', '1')).out).toMatch(/agent +requests/);
    const nothing = await service.client('request', 'sum', '--replay', '1', '--path', '/nothing');
    expect(nothing.out).toContain('No request of it is like that.');
  });

  it('keep what a caller asks to redact', async () => {
    const { shares, samples } = await sum('verdict=block&redact=client');
    const shown = JSON.stringify([shares, samples]);
    expect(shown).not.toMatch(/"(?:198\.18|10)\.\d+\.\d+\.\d+"/);
  });
});

describe('by keyboard', () => {
  it('one box goes to pages and deeds, and what one came to is announced and has the focus', async () => {
    await page.goto(`${service.url}/logs`);
    await page.getByRole('heading', { name: 'Logs' }).waitFor();
    await page.keyboard.press('/');
    await page.keyboard.type('go to draft');
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'Draft' }).waitFor();
    await page.getByRole('status').filter({ hasText: 'Draft · Jade Fence' }).waitFor({ state: 'attached' });
    expect(await page.evaluate(() => document.activeElement?.id)).toBe('page');
    await page.keyboard.press('/');
    await page.keyboard.type('new rule in visitor-web');
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'A new rule' }).waitFor();
    // A form that has the focus keeps it.
    await expect.poll(() => page.evaluate(() => (document.activeElement as HTMLInputElement).value)).toBe('new-rule');
  });

  it('a new rule is offered the paths and client software that occur, with their counts', async () => {
    await page.goto(`${service.url}/policies/ticket-site?replay=1&edit=%2B`);
    for (const [field, typed, value] of [
      ['path', '/whats', '/whats-on'],
      ['agent', 'calendar', 'calendar-fetch/0.9'],
    ] as const) {
      await page.getByRole('button', { name: /^Add to when/ }).click();
      await page.getByRole('option', { name: new RegExp(`^${field} `) }).click();
      await page.getByRole('combobox', { name: `Add to ${field}` }).fill(typed);
      await page
        .getByRole('option', { name: new RegExp(`^${value}.*[\\d,]+ in the log$`) })
        .first()
        .click();
      await page.getByRole('button', { name: `Take ${value} out of ${field}` }).waitFor();
    }
    await page.getByRole('button', { name: 'Cancel' }).click();
    await page.getByRole('alertdialog').getByRole('button', { name: 'Drop what I wrote' }).click();
  });

  it('what a machine did is one press from what is known of it', async () => {
    await page.goto(`${service.url}/look-up?of=198.18.96.2`);
    await page.getByRole('link', { name: 'What it did in the log, in sum' }).click();
    await page.getByRole('columnheader', { name: 'By host' }).waitFor();
    expect(new URL(page.url()).searchParams.get('client')).toBe('198.18.96.2');
  });
});

describe('the effect of an edit on a long log', () => {
  it('is shown of its last day, or of all of it, where one asks', async () => {
    const requests = 200_001;
    const lines = Array.from({ length: requests }, (_, at) => {
      const time = new Date(Date.UTC(2026, 10, 9) + Math.floor((at / requests) * 4 * 86_400_000)).toISOString();
      return `{"time":"${time}","peer":"10.40.3.7","method":"CONNECT","host":"${at % 2 ? 'maps' : 'odds'}.meadowbet.example","port":443}`;
    });
    expect((await service.call('POST', '/api/v1/logs?name=long', lines.join('\n'))).status).toBe(201);
    expect((await service.client('revision', 'publish', '-m', 'First', '--accept-warnings')).code).toBe(0);
    const { id } = (await service.call('POST', '/api/v1/replays', { log: 'long' })).body;
    await ended(service, id);
    await service.client('rule', 'move', 'visitor-web', 'no-wagering', '--to', '1');
    await page.goto(`${service.url}/policies/visitor-web?replay=${id}`);
    await page.getByRole('button', { name: 'Try its last day' }).click();
    await page.getByText(/On the last day of long, against revision 1:/).waitFor();
    await page.getByRole('link', { name: /^[\d,]+ of 50,\d+ requests change/ }).waitFor();
    await page.reload();
    await page.getByRole('button', { name: 'all of it' }).click();
    await page.getByRole('link', { name: /of 200,001 requests change/ }).waitFor();
  });
});
