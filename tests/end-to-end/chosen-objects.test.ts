import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { launchBrowser, openPage } from '../setup/browser.js';
import { signIn } from '../setup/console.js';
import { type Answer, callApi, startService, type TestService } from '../setup/service.js';

/** Chosen objects of the draft are published, or proposed, without everybody's unfinished edits. */
let service: TestService;
const PASSWORD = 'a fern in every gorge';
const people: Record<string, (method: string, path: string, body?: unknown) => Promise<Answer>> = {};

const POLICY = (rules: string) =>
  `policy: seed-shop\ncovers: {hosts: [seeds.fennelhill.example]}\ndefault: allow\nrules:\n${rules}`;
const BASE = '  - {rule: no-scrapers, when: {client: [scrapers]}, then: block}\n';
const LIST = (name: string, entry: string) => `list: ${name}\nof: addresses\nentries: [${entry}]\n`;

const as = (name: string, method: string, path: string, body?: unknown): Promise<Answer> =>
  (people[name] as (typeof people)[string])(method, path, body);
const put = async (name: string, ...texts: readonly string[]) => {
  const files = texts.map((text, at) => ({ name: `${at}.yaml`, text }));
  expect((await as(name, 'PUT', '/api/v1/workspace', { files, overwrite: true })).status).toBe(200);
};
const publishedTexts = async (): Promise<Record<string, string>> => {
  const { published } = (await service.call('GET', '/api/v1/draft')).body;
  const { contents } = (await service.call('GET', `/api/v1/revisions/${published}`)).body;
  return Object.fromEntries(contents.map((each: { name: string; text: string }) => [each.name, each.text]));
};

beforeAll(async () => {
  service = await startService();
  for (const name of ['paula', 'pedro', 'petra']) {
    await service.call('POST', '/api/v1/people', { name, role: 'publisher', password: PASSWORD });
    const signedIn = await fetch(`${service.url}/api/v1/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name, password: PASSWORD }),
    });
    const headers = { cookie: signedIn.headers.get('set-cookie')?.split(';')[0] ?? '', 'x-jade-fence-console': '1' };
    people[name] = (method, path, body) => callApi(service.url, method, path, body, headers);
  }
  await put('paula', POLICY(BASE), LIST('scrapers', '203.0.113.7'), LIST('guests', '192.0.2.1'));
  await as('paula', 'POST', '/api/v1/revisions', { message: 'As it began', acceptWarnings: true });
});
afterAll(() => service?.stop());

describe('published alone', () => {
  it('leave all else as it is in force, and the other edits in the draft', async () => {
    await put('paula', LIST('scrapers', '203.0.113.8'));
    await put('pedro', LIST('guests', '192.0.2.9'));
    const { code, out } = await service.client(
      'revision',
      'publish',
      '-m',
      'The new scraper',
      '--only',
      'list/scrapers',
    );
    expect([code, out]).toEqual([0, expect.stringContaining('Revision 2 is in force')]);
    const texts = await publishedTexts();
    expect([texts.scrapers, texts.guests]).toEqual([LIST('scrapers', '203.0.113.8'), LIST('guests', '192.0.2.1')]);
    const { changes } = (await service.call('GET', '/api/v1/differences')).body;
    expect(changes.map(({ name }: { name: string }) => name)).toEqual(['guests']);
  });

  it('must hold by themselves, be there, and be changed', async () => {
    await put(
      'paula',
      POLICY(`${BASE}  - {rule: no-robots, when: {agent: [robots]}, then: block}\n`),
      'list: robots\nof: agents\nentries: ["robot*"]\n',
    );
    await put('paula', POLICY(`${BASE}  - {rule: no-robots, when: {agent: ["list:robots"]}, then: block}\n`));
    const alone = await service.client('revision', 'publish', '-m', 'Robots', '--only', 'policy/seed-shop');
    expect(alone.code).toBe(4);
    expect(alone.err).toContain('are invalid without others of the draft');
    expect(alone.err).toContain('robots');
    expect((await service.client('revision', 'publish', '-m', 'x', '--only', 'list/guest')).err).toContain('guests');
    expect((await service.client('revision', 'publish', '-m', 'x', '--only', 'list/scrapers')).err).toContain(
      'The draft has no changes.',
    );
    expect((await service.client('revision', 'publish', '-m', 'x', '--only', 'scrapers')).code).toBe(2);
    const both = ['policy/seed-shop', 'list/robots'];
    expect(
      (await service.client('revision', 'publish', '-m', 'Robots', '--accept-warnings', '--only', ...both)).code,
    ).toBe(0);
    expect((await publishedTexts()).guests).toBe(LIST('guests', '192.0.2.1'));
  });

  it('can be a removal', async () => {
    await put('paula', LIST('spare', '192.0.2.7'));
    await service.client('revision', 'publish', '-m', 'Spare', '--accept-warnings', '--only', 'list/spare');
    const { version } = (await service.call('GET', '/api/v1/objects/list/spare')).body;
    await service.call('DELETE', '/api/v1/objects/list/spare', undefined, { 'if-match': `"${version}"` });
    expect((await service.client('revision', 'publish', '-m', 'No spare', '--only', 'list/spare')).code).toBe(0);
    expect(await publishedTexts()).not.toHaveProperty('spare');
  });
});

describe('proposed alone', () => {
  const propose = async (name: string, ...lists: readonly string[]): Promise<number> => {
    const only = lists.map((list) => ({ kind: 'list', name: list }));
    const made = await as(name, 'POST', '/api/v1/proposals', { message: 'For another to see', only });
    expect(made).toMatchObject({ status: 201, body: { objects: only, state: 'open' } });
    return made.body.proposal;
  };
  const approve = (name: string, proposal: number) =>
    as(name, 'POST', `/api/v1/proposals/${proposal}/approve`, { acceptWarnings: true });

  it('are approved by who has edited none of them, whatever others edit meanwhile', async () => {
    await service.call('PATCH', '/api/v1/settings', { fourEyes: true });
    // pedro's guests are unfinished since before the last revisions.
    await put('paula', LIST('scrapers', '203.0.113.9'));
    const proposal = await propose('paula', 'scrapers');
    await put('petra', LIST('other', '192.0.2.3'));
    const shown = await service.client('proposal', 'show', String(proposal));
    expect(shown.out).toContain('203.0.113.9');
    expect(shown.out).not.toMatch(/guests|other/);
    expect((await service.client('proposal', 'list')).out).toMatch(/open +list\/scrapers +For another/);
    // petra has edited something else, pedro too.
    expect(await approve('petra', proposal)).toMatchObject({ status: 201, body: { approvedBy: 'petra' } });
    const texts = await publishedTexts();
    expect([texts.scrapers, texts.guests, texts.other]).toEqual([
      LIST('scrapers', '203.0.113.9'),
      LIST('guests', '192.0.2.1'),
      undefined,
    ]);
  });

  it('are not approved by who edited them before other revisions were published', async () => {
    const proposal = await propose('paula', 'guests');
    expect(await approve('pedro', proposal)).toMatchObject({ status: 403, body: { code: 'own-edits' } });
    // Nor the whole draft, which still has that edit.
    const whole = (await as('paula', 'POST', '/api/v1/proposals', { message: 'All of it' })).body.proposal;
    expect(await approve('pedro', whole)).toMatchObject({ status: 403, body: { code: 'own-edits' } });
    await as('paula', 'POST', `/api/v1/proposals/${whole}/withdraw`);
    expect((await approve('petra', proposal)).status).toBe(201);
  });

  it('are proposed anew once one of them was changed since', async () => {
    await put('paula', LIST('scrapers', '203.0.113.10'));
    const proposal = await propose('paula', 'scrapers');
    await put('petra', LIST('other', '192.0.2.4'));
    const { proposals } = (await service.call('GET', '/api/v1/draft')).body;
    expect(proposals).toMatchObject([{ proposal, state: 'open' }]);
    await put('paula', LIST('scrapers', '203.0.113.11'));
    expect(await approve('pedro', proposal)).toMatchObject({ status: 412, body: { code: 'draft-changed' } });
    expect((await service.call('GET', '/api/v1/proposals')).body.proposals[0]).toMatchObject({
      proposal,
      state: 'stale',
    });
    await as('paula', 'POST', `/api/v1/proposals/${proposal}/withdraw`);
  });

  it('are chosen in the console, and shown to who approves', async () => {
    const browser = await launchBrowser();
    try {
      const { page } = await openPage(browser);
      page.setDefaultTimeout(15_000);
      await signIn(page, service);
      await page.getByRole('link', { name: /^Draft/ }).click();
      await page.getByLabel('Chosen objects alone; the other edits stay in the draft').click();
      expect(await page.getByRole('button', { name: 'Ask another to publish these' }).isDisabled()).toBe(true);
      await page.getByLabel(/^list other/).click();
      await page.getByLabel('Why').fill('The other list alone');
      await page.getByRole('button', { name: 'Ask another to publish these' }).click();
      await page.getByText('proposes: The other list alone').waitFor();
      await page.getByText('list other', { exact: true }).first().waitFor();
    } finally {
      await browser.close();
    }
    const { proposals } = (await service.call('GET', '/api/v1/draft')).body;
    expect(proposals).toMatchObject([{ objects: [{ kind: 'list', name: 'other' }] }]);
    expect((await approve('pedro', proposals[0].proposal)).status).toBe(201);
    expect(await publishedTexts()).toMatchObject({
      other: LIST('other', '192.0.2.4'),
      scrapers: LIST('scrapers', '203.0.113.9'),
    });
  });
});
