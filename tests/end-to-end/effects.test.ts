import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { launchBrowser, openPage } from '../setup/browser.js';
import { signIn } from '../setup/console.js';
import { callApi, queryDatabase, startService } from '../setup/service.js';

/** Replays that show the effect of edits, beside those that people order; on a workspace and logs of its own. */
let service: Awaited<ReturnType<typeof startService>>;
let folder: string;

const POLICY = `policy: seed-shop
covers: {hosts: [seeds.fennelhill.example]}
client: {from: peer}
default: allow
rules:
  - rule: no-scrapers
    when: {client: [scrapers]}
    then: block
`;
const LIST = 'list: scrapers\nof: addresses\nentries: [203.0.113.7]\n';

const logOf = (...peers: readonly string[]): string =>
  peers
    .map((peer, at) =>
      JSON.stringify({
        time: `2026-11-20T10:00:0${at}Z`,
        ...{
          peer,
          method: 'GET',
          scheme: 'https',
          host: 'seeds.fennelhill.example',
          path: `/packet/${at}`,
          status: 200,
        },
      }),
    )
    .join('\n');

beforeAll(async () => {
  service = await startService();
  folder = mkdtempSync(join(tmpdir(), 'jade-fence-effects-'));
  writeFileSync(join(folder, 'shop.yaml'), `${POLICY}---\n${LIST}`);
  await service.client('workspace', 'apply', folder);
  for (const [name, text] of [
    // The alphabetically last log is not the one that is looked at.
    ['monday', logOf('203.0.113.7', '203.0.113.8', '198.51.100.1')],
    ['zoo', logOf('198.51.100.2', '198.51.100.3')],
  ] as const) {
    writeFileSync(join(folder, `${name}.jsonl`), text);
    await service.client('log', 'import', join(folder, `${name}.jsonl`));
  }
});
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await service.stop();
});

const addScraper = (entry: string) =>
  service.call('PATCH', '/api/v1/lists/scrapers/entries', { add: [{ entry }] }).then(({ status }) => status);

async function replayed(body: object, headers = {}): Promise<number> {
  const { body: ordered, status } = await service.call('POST', '/api/v1/replays', body, headers);
  expect(status).toBe(202);
  await fetch(`${service.url}/api/v1/replays/${ordered.id}/progress`, {
    headers: { authorization: `Bearer ${service.key}` },
  }).then((answer) => answer.text());
  return ordered.id;
}

describe('the client', () => {
  it('takes no effect for the newest replay, and says of which log and state it answers', async () => {
    expect((await service.client('replay', 'run', 'monday')).out).toMatch(
      /^Replay 1 of log monday: 3 requests.*\n {2}Judged by the draft\.\n/,
    );
    expect(await addScraper('203.0.113.8')).toBe(200);
    const effect = await replayed({ log: 'monday', purpose: 'effect' });
    const other = await replayed({ log: 'zoo', purpose: 'effect' });
    const { out } = await service.client('request', 'list', '--verdict', 'block');
    expect(out).toMatch(/^Replay 1 of log monday, by the draft as it was, which has changed since\.\n/);
    expect(out).toContain('203.0.113.7');
    expect(out).not.toContain('203.0.113.8');
    const { replays } = JSON.parse((await service.client('replay', 'list', '--json')).out);
    expect(replays.map(({ id }: { id: number }) => id)).toEqual([1]);
    expect(replays[0]).toMatchObject({ purpose: 'asked', outOfDate: true });
    const compared = await service.client('replay', 'compare');
    expect([compared.code, compared.err]).toEqual([4, expect.stringContaining('no two replays of log `monday`')]);
    // By its number it can be looked at.
    expect((await service.client('request', 'list', '--replay', String(effect))).out).toMatch(
      new RegExp(`^Replay ${effect} of log monday, by the draft\\.`),
    );
    expect((await service.client('replay', 'show', String(other))).out).toContain('of log zoo');
  });

  it('takes the newest of the log that is named, and of its own', async () => {
    const person = { name: 'mo', role: 'editor', password: 'a fern in every gorge' };
    await service.call('POST', '/api/v1/people', person);
    const { headers } = await fetch(`${service.url}/api/v1/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name: 'mo', password: person.password }),
    });
    const cookie = headers.get('set-cookie')?.split(';')[0] ?? '';
    const own = { cookie, 'x-jade-fence-console': '1' };
    const theirs = (await callApi(service.url, 'POST', '/api/v1/replays', { log: 'zoo' }, own)).body;
    expect(theirs).toMatchObject({ orderedBy: 'mo', purpose: 'asked' });
    await sleep(500);
    expect((await service.client('request', 'list')).out).toMatch(/^Replay 1 of log monday/);
    expect((await service.client('request', 'list', '--log', 'zoo')).out).toMatch(
      new RegExp(`^Replay ${theirs.id} of log zoo, by the draft\\.`),
    );
    expect((await service.client('request', 'list', '--log', 'zo')).err).toContain('zoo');
    expect((await service.client('request', 'list', '--log', 'zoo', '--replay', '1')).code).toBe(2);
    // Every way to ask about a replay says which one it is about.
    const { of } = JSON.parse((await service.client('--json', 'request', 'list', '--log', 'zoo')).out);
    expect(of).toMatchObject({ id: theirs.id, logs: ['zoo'], revision: null, outOfDate: false });
    for (const args of [
      ['request', 'explain', '--request', '1'],
      ['rule', 'tune', 'no-scrapers'],
      ['replay', 'show', '--by', 'host'],
    ])
      expect((await service.client(...args, '--log', 'zoo')).out, args.join(' ')).toContain(
        `Replay ${theirs.id} of log zoo`,
      );
  });

  it('does not run an effect twice, and takes part of a log for no other', async () => {
    const first = await replayed({ log: 'monday', purpose: 'effect' });
    expect(await replayed({ log: 'monday', purpose: 'effect' })).toBe(first);
    expect(await replayed({ log: 'monday' })).not.toBe(first);
    const part = { log: 'monday', purpose: 'effect', only: { method: 'GET' } };
    const ofPart = await replayed(part);
    expect(ofPart).not.toBe(first);
    expect(await replayed(part)).toBe(ofPart);
    expect(await replayed({ ...part, only: { method: 'POST' } })).not.toBe(ofPart);
    const refused = await service.call('POST', '/api/v1/replays', {
      log: 'monday',
      purpose: 'effect',
      files: [{ name: 'p.yaml', text: 'list: ours\nof: users\nentries: [ines]\n' }],
    });
    expect([refused.status, refused.body.code]).toEqual([400, 'effect-of-trial']);
  });
});

describe('the console', () => {
  it('shows the effect on the log that is on the screen, by name, after edits of others and of lists too', async () => {
    await service.call('POST', '/api/v1/revisions', { message: 'As it began', acceptWarnings: true });
    await service.client('replay', 'run', 'zoo');
    await service.client('replay', 'run', 'monday');
    const browser = await launchBrowser();
    try {
      const { page } = await openPage(browser);
      page.setDefaultTimeout(20_000);
      await signIn(page, service);
      await page.getByText('3 requests fall in').or(page.getByText('requests fall in')).first().waitFor();
      expect(await addScraper('198.51.100.1')).toBe(200);
      const bar = page.getByRole('status').filter({ hasText: 'against revision 1' });
      // Found without loading the page anew.
      await bar
        .filter({ hasText: 'On monday, against revision 1: 1 of 3 requests change (1 allow → block)' })
        .waitFor();
      await page.goto(`${service.url}/policies/seed-shop?replay=${await newestOf('zoo')}`);
      await bar.filter({ hasText: 'On zoo, against revision 1: no request changes' }).waitFor();
      await page.getByText(/^out of date: the draft has changed since replay \d+$/).waitFor();
      // Who looks at an effect of what was edited leaves the lists of replays as they were.
      const before = (await service.call('GET', '/api/v1/replays')).body.replays.length;
      await page.goto(`${service.url}/policies/seed-shop`);
      await bar.getByRole('link').click();
      await page.getByText('1 of 3 requests have another verdict').waitFor();
      await page.getByRole('table', { name: 'Requests that changed' }).getByText('198.51.100.1').waitFor();
      expect((await service.call('GET', '/api/v1/replays')).body.replays).toHaveLength(before);
    } finally {
      await browser.close();
    }
  });
});

it('removes effects by itself once they are old, and no replay that was requested', async () => {
  const effects = `select id from replays where purpose = 'effect'`;
  const asked = await queryDatabase(service.database, ASKED);
  expect((await queryDatabase(service.database, effects)).length).toBeGreaterThan(0);
  await queryDatabase(
    service.database,
    `update replays set finished_at = now() - interval '3 hours', judged_at = now() - interval '3 hours'`,
  );
  await replayed({ log: 'monday', purpose: 'effect' });
  for (let tries = 0; (await queryDatabase(service.database, effects)).length > 1; tries++) {
    expect(tries).toBeLessThan(50);
    await sleep(100);
  }
  expect(await queryDatabase(service.database, ASKED)).toEqual(asked);
});

const ASKED = `select id from replays where purpose = 'asked' order by id`;

const newestOf = async (log: string): Promise<number> =>
  (await service.call('GET', `/api/v1/replays?log=${log}&state=done&limit=1`)).body.replays[0].id;
