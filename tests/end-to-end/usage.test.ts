import { afterAll, beforeAll, expect, it } from 'vitest';
import { axe, type OpenConsole, openConsole, printWhenFailed } from '../setup/console.js';
import { callApi, launch, queryDatabase } from '../setup/service.js';

/** Which rules do something, and which have not for a while. */
let opened: OpenConsole;
let service: OpenConsole['service'];
let page: OpenConsole['page'];
let authorization: string;
printWhenFailed(() => page);

beforeAll(async () => {
  opened = await openConsole();
  ({ service, page } = opened);
  await service.client('rule', 'move', 'visitor-web', 'no-wagering', '--above', 'web-for-all');
  expect((await service.client('revision', 'publish', '-m', 'First', '--accept-warnings')).code).toBe(0);
  const made = await service.client('token', 'add', 'gatehouse', '--gateway', '--json');
  authorization = `Bearer ${JSON.parse(made.out).secret}`;
});
afterAll(() => opened?.close());

const decide = (host: string, peer = '10.40.3.7') =>
  callApi(service.gateUrl, 'POST', '/decide', { peer, method: 'CONNECT', host, port: 443 }, { authorization });

interface Rule {
  readonly policy: string;
  readonly rule: string;
  readonly decided: number;
  readonly observed: number;
  readonly lastDecided: string | null;
  readonly lastObserved: string | null;
}

const usage = async (query = ''): Promise<{ countedSince: string | null; rules: Rule[] }> =>
  (await service.call('GET', `/api/v1/usage${query}`)).body;
const ruleOf = async (rule: string, query = '?policy=visitor-web'): Promise<Rule> =>
  (await usage(query)).rules.find((each) => each.rule === rule) as Rule;

it('is of no rule before anything was decided, and says so', async () => {
  const { countedSince, rules } = await usage();
  expect(countedSince).toBeNull();
  expect(rules.length).toBeGreaterThan(10);
  expect(rules.every(({ decided, observed, lastDecided }) => decided + observed === 0 && lastDecided === null)).toBe(
    true,
  );
  expect((await service.client('rule', 'usage')).out).toContain('No live decision was made yet');
});

it('counts what rules decided and what they would have', async () => {
  const before = Date.now();
  for (let number = 0; number < 3; number++) expect((await decide('one.adverts.example')).status).toBe(200);
  await expect.poll(async () => (await ruleOf('web-for-all')).decided).toBe(3);
  expect(await ruleOf('adverts')).toMatchObject({ decided: 0, observed: 3, lastDecided: null });
  const last = Date.parse((await ruleOf('web-for-all')).lastDecided as string);
  expect(last).toBeGreaterThanOrEqual(before);
  expect(last).toBeLessThanOrEqual(Date.now());
  // What no policy covers is of no rule.
  await decide('elsewhere.example', '192.0.2.9');
  expect((await usage()).rules.filter(({ decided }) => decided > 0)).toHaveLength(1);
});

it('is of all services that decide by the database, and stays when one ends', async () => {
  const env = { ...process.env, NO_COLOR: '1', DATABASE_URL: service.database };
  const other = await launch(['--port', '0', '--data-dir', service.folder], env);
  const asked = { peer: '10.40.3.7', method: 'CONNECT', host: 'one.adverts.example', port: 443 };
  const decideThere = () => callApi(other.gateUrl, 'POST', '/decide', asked, { authorization });
  await expect.poll(async () => (await decideThere()).body.rule).toBe('web-for-all');
  await decide('one.adverts.example');
  // What was not written down yet is when it ends.
  await other.stop();
  await expect.poll(async () => (await ruleOf('web-for-all')).decided).toBeGreaterThanOrEqual(5);
});

it('is of the last days alone, but for when a rule was used last', async () => {
  await queryDatabase(service.database, "update rule_usage set day = day - 40, last_at = last_at - interval '40 days'");
  expect(await ruleOf('web-for-all')).toMatchObject({ decided: 0, lastDecided: expect.any(String) });
  expect((await ruleOf('web-for-all', '?policy=visitor-web&days=41')).decided).toBeGreaterThanOrEqual(5);
  await decide('one.adverts.example');
  await expect.poll(async () => (await ruleOf('web-for-all')).decided).toBe(1);
  const unused = await service.client('rule', 'usage', 'visitor-web', '--unused');
  expect(unused.out).toContain('no-wagering');
  expect(unused.out).not.toContain('web-for-all');
  expect(unused.out).toContain('never');
});

it('is kept for 400 days', async () => {
  await queryDatabase(service.database, "update rule_usage set day = day - 500 where role = 'observed'");
  await decide('maps.hedgerow.example');
  const kept = async () =>
    (await queryDatabase(service.database, "select count(*) from rule_usage where role = 'observed'"))[0].count;
  await expect.poll(kept).toBe('0');
});

it.each([
  ['?days=0', 400],
  ['?days=401', 400],
  ['?policy=No%20policy', 400],
  ['?policy=nothing-here', 404],
])('is not of %s', async (query, status) => {
  expect((await service.call('GET', `/api/v1/usage${query}`)).status).toBe(status);
});

it('is a page of the console, whose rules lead to their requests', async () => {
  await page.goto(`${service.url}/live`);
  await page.getByRole('link', { name: 'Usage of rules' }).click();
  const table = page.getByRole('table', { name: 'Usage of rules' });
  await table.getByText('visitor-web / web-for-all').waitFor();
  await page.getByLabel('Show').click();
  await page.getByRole('option', { name: /^only unused ones/ }).click();
  await table.getByText('visitor-web / web-for-all').waitFor({ state: 'detached' });
  await page.getByLabel('Policy').click();
  await page.getByRole('option', { name: 'visitor-web' }).click();
  await table.getByText('ticket-site / default').waitFor({ state: 'detached' });
  expect(await axe(page)).toEqual([]);
  expect(Object.fromEntries(new URL(page.url()).searchParams)).toEqual({ which: 'unused', policy: 'visitor-web' });
  await table.getByRole('link', { name: 'visitor-web / no-wagering' }).click();
  await page.getByRole('heading', { name: 'visitor-web' }).waitFor();
});
