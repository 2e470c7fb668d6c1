import { once } from 'node:events';
import { writeFileSync } from 'node:fs';
import { request } from 'node:http';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openPage } from '../setup/browser.js';
import {
  axe,
  axeContrast,
  faintEdges,
  type OpenConsole,
  openConsole,
  printWhenFailed,
  scrolledSideways,
  visit,
  writeIn,
  writtenIn,
} from '../setup/console.js';
import { callApi } from '../setup/service.js';

/** Every page of the console: what it shows, what can be done there, and what it says where something is wrong. */
let opened: OpenConsole;
let service: OpenConsole['service'];
let browser: OpenConsole['browser'];
let page: OpenConsole['page'];
printWhenFailed(() => page);
let complaints: string[];

beforeAll(async () => {
  opened = await openConsole();
  ({ service, browser, page, complaints } = opened);
});
afterAll(() => opened?.close());

const go = (path: string) => page.goto(`${service.url}${path}`);

const PAGES: readonly (readonly [path: string, shows: string])[] = [
  ['/policies/visitor-web', 'no-wagering'],
  ['/policies/ticket-site?edit=no-harvesters', 'The same as text'],
  ['/compare', 'It takes two replays of one log'],
  ['/try?client=10.40.3.7&url=odds.meadowbet.example:443', 'Allowed by rule web-for-all'],
  ['/checks', 'what-visitors-reach'],
  ['/library', 'harvester-networks'],
  ['/library/list/home-workers', 'Ines Baltazar'],
  ['/library/category/media', 'Holds 3 domains'],
  ['/library/application/web', 'it needs name-look-up'],
  ['/library/schedule/opening-hours', 'Draw the hours'],
  ['/library/notice/not-here', 'As the client sees it'],
  ['/library/probe/visitor-phone', 'A client at 10.40.3.7'],
  ['/library/corrections/garden-networks', '203.0.113.0/24'],
  ['/library/check/what-visitors-reach', '6 answers of 3 probes'],
  ['/library/countries', 'IPv4 addresses'],
  ['/effective?of=visitor-phone', 'It decides everything that comes so far'],
  ['/policies/ticket-site?rule=calendar-rush&role=observed&evidence=yes', 'Some that differ from each other'],
  ['/logs/week', '5,000 requests of 5,000 lines'],
  ['/draft', 'Nothing is published yet'],
  ['/review', 'no-wagering is never reached'],
  ['/history', 'Nothing yet'],
  ['/history/policy/visitor-web', 'Version 1'],
  ['/try?url=a.example&forwarded=198.18.97.3', 'X-Forwarded-For'],
  ['/live', 'Nothing is published, so that nothing can be decided yet'],
  ['/people/everybody', 'with tokens'],
  ['/people/you', 'This browser remembers it'],
  ['/people/tokens', 'Make a token'],
  ['/people/settings', 'What one person wants to publish'],
  ['/usage', 'By live decisions'],
  ['/audit', 'object-added'],
  ['/look-up?of=odds.meadowbet.example', 'wagering-sites'],
  ['/look-up?of=www.visit-portugal.example', 'destination-country: [XM]'],
  ['/library/resolutions', '18 hosts known'],
  ['/library/passcodes', 'None is set.'],
  ['/policies/visitor-web?edit=@', 'The whole policy as text'],
];

describe('every page', () => {
  it.each(PAGES)(
    '%s shows what it is for, and is accessible in light and dark',
    { timeout: 60_000 },
    async (path, shows) => {
      await visit(page, path);
      await page.getByText(shows).first().waitFor();
      expect([...(await axe(page)), ...(await faintEdges(page))]).toEqual([]);
      await page.getByRole('button', { name: 'Dark' }).click();
      expect([...(await axeContrast(page)), ...(await faintEdges(page))]).toEqual([]);
      await page.getByRole('button', { name: 'Light' }).click();
      expect(await page.title()).toMatch(/^.+ · Jade Fence$/);
      await page.setViewportSize({ width: 360, height: 740 });
      expect(await scrolledSideways(page)).toEqual([]);
      await page.setViewportSize({ width: 1280, height: 800 });
    },
  );

  it('is reached from the bar, and fits a tablet', async () => {
    await page.setViewportSize({ width: 820, height: 1180 });
    for (const name of ['Compare', 'Try', 'Checks', 'Library', 'Logs', 'Live', 'People', 'Rules']) {
      await page.getByRole('link', { name, exact: true }).click();
      const wide = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
      expect([name, wide]).toEqual([name, 0]);
    }
    await page.setViewportSize({ width: 1280, height: 800 });
  });
});

describe('the library', () => {
  it('adds an entry to a list and takes it out, and says what does not hold', async () => {
    await go('/library/list/guide-tablets');
    await page.getByLabel('Entry', { exact: true }).fill('10.40.9.300');
    await page.getByRole('button', { name: 'Add', exact: true }).click();
    await page.getByRole('alert').filter({ hasText: 'at most 255' }).waitFor();
    expect(await page.getByLabel('Entry', { exact: true }).inputValue()).toBe('10.40.9.300');
    await page.getByLabel('Entry', { exact: true }).fill('10.40.9.30');
    await page.getByLabel('Note', { exact: true }).fill('the new one');
    await page.getByRole('button', { name: 'Add', exact: true }).click();
    await page.getByRole('row').filter({ hasText: 'the new one' }).waitFor();
    await page.getByRole('button', { name: 'Take out 10.40.9.30', exact: true }).click();
    await page.getByRole('row').filter({ hasText: 'the new one' }).waitFor({ state: 'detached' });
  });

  it('takes many entries at once, and reports bad lines by their numbers', async () => {
    await page.getByRole('button', { name: 'Add or replace many entries …' }).click();
    await page.getByLabel(/^One entry a line/).fill('10.40.8.0/24 # as before\nnothing\n');
    await page.getByRole('button', { name: 'Replace all by these' }).click();
    await page.getByRole('button', { name: 'Replace all entries', exact: true }).click();
    await page.getByRole('alert').filter({ hasText: 'line 2' }).waitFor();
    await page.getByLabel('Skip invalid lines').check();
    await page.getByRole('button', { name: 'Replace all by these' }).click();
    await page.getByRole('button', { name: 'Replace all entries', exact: true }).click();
    await page.getByText('guide-tablets has 1 entry.').waitFor();
  });

  it('opens a list of a hundred thousand without fetching it as a whole', async () => {
    const many = Array.from({ length: 100_000 }, (_, at) => `n${at}.host.example`).join('\n');
    await service.call('PUT', '/api/v1/lists/many/entries?of=domains', many);
    await go('/library/list/many');
    await page.getByText('100,000 domains').first().waitFor();
    await page.getByRole('table', { name: 'Entries' }).getByRole('row').nth(100).waitFor();
    expect(await page.getByRole('table', { name: 'Entries' }).getByRole('row').count()).toBe(101);
    await page.getByLabel('Search entries and notes').fill('n77777.');
    await page.getByText('n77777.host.example').waitFor();
    const { body } = await service.call('GET', '/api/v1/lists/many?text=false');
    expect([body.entries, body.text]).toEqual([100_000, '']);
  });

  it('leads from a category to the rules that name it', async () => {
    await go('/library/category/media');
    await page.getByRole('link', { name: 'visitor-web / media-while-open' }).click();
    await page.getByRole('heading', { name: 'visitor-web' }).waitFor();
    expect(new URL(page.url()).searchParams.get('rule')).toBe('media-while-open');
  });

  it('says what of a list is in another too', async () => {
    await service.call('PATCH', '/api/v1/lists/home-workers/entries', { add: [{ entry: '192.0.2.17' }], remove: [] });
    await service.call('PATCH', '/api/v1/lists/garden-offices/entries', {
      add: [{ entry: '192.0.2.16/30' }],
      remove: [],
    });
    await go('/library/list/home-workers');
    await page.getByRole('button', { name: /^Compared with/ }).click();
    await page.getByRole('option', { name: /^garden-offices/ }).click();
    await page.getByText('1 are in garden-offices as well').waitFor();
    await page.getByRole('listitem').filter({ hasText: '192.0.2.17 by 192.0.2.16/30' }).waitFor();
    for (const list of ['home-workers', 'garden-offices'])
      await service.call('PATCH', `/api/v1/lists/${list}/entries`, {
        add: [],
        remove: ['192.0.2.17', '192.0.2.16/30'],
      });
  });

  it('shows which countries the data has, by the map and by a search', async () => {
    await go('/library/countries');
    await page.getByLabel('Search countries').fill('neth');
    await page.getByRole('table', { name: 'Networks by country' }).getByText('Netherlands (NL)').waitFor();
    expect(await page.getByRole('table', { name: 'Networks by country' }).getByRole('row').count()).toBe(2);
    await page.locator('svg path').filter({ hasText: 'Portugal' }).click();
    await page.getByRole('row').filter({ hasText: 'Portugal (PT)' }).getByText('4', { exact: true }).waitFor();
  });

  it('writes a new object, whose problems are reported as it is typed', async () => {
    await go('/library/schedule');
    await page.getByRole('button', { name: 'New' }).click();
    await writeIn(page.getByLabel('As text'), 'schedule: nights\nzone: Europe/Lisbn\nweekly: {mon: ["22:00-06:00"]}\n');
    await page.getByRole('alert').filter({ hasText: 'Europe/Lisbn' }).waitFor();
    await writeIn(
      page.getByLabel('As text'),
      'schedule: nights\nzone: Europe/Lisbon\nweekly: {mon: ["22:00-06:00"]}\n',
    );
    await page.getByRole('button', { name: 'Keep in the draft' }).click();
    await page.getByRole('heading', { name: 'nights' }).waitFor();
    expect(await page.getByLabel('Hours of mon').inputValue()).toBe('22:00-06:00');
    // It runs over midnight, and is drawn on both days.
    const drawn = (day: number) => page.locator(`[data-day="${day}"] .bg-iris`).count();
    expect([await drawn(0), await drawn(1), await drawn(2)]).toEqual([1, 1, 0]);
  });

  it('keeps what was typed where somebody else changed the object meanwhile', async () => {
    const typed = 'schedule: nights\nnote: mine\nzone: UTC\nweekly: {mon: ["22:00-06:00"]}\n';
    await writeIn(page.getByLabel('As text'), typed);
    const theirs = 'schedule: nights\nnote: theirs\nzone: UTC\nweekly: {tue: ["22:00-06:00"]}\n';
    await service.call('PUT', '/api/v1/objects/schedule/nights', { text: theirs }, { 'if-match': '"1"' });
    await page.getByRole('button', { name: 'Keep in the draft' }).click();
    await page.getByRole('alert').filter({ hasText: 'is at version 2 now' }).first().waitFor();
    expect(await writtenIn(page.getByLabel('As text'))).toBe(typed);
    await page.getByRole('button', { name: 'Keep mine' }).click();
    await page.getByRole('button', { name: 'Keep in the draft' }).click();
    await page.getByText('version 3').first().waitFor();
    expect((await service.call('GET', '/api/v1/objects/schedule/nights')).body.text).toBe(typed);
  });
});

describe('logs', () => {
  it('come by choosing a file, with its first lines shown, and are replayed', async () => {
    const file = join(service.folder, 'gate.log.gz');
    const line = '198.18.4.1 - - [12/Nov/2026:09:00:00 +0000] "GET /book HTTP/1.1" 200 12 "-" "Meadowlark/12.1"\n';
    writeFileSync(file, gzipSync(`${line.repeat(20)}not a line of it\n`));
    await go('/logs');
    await page.getByLabel(/^Drop a log here/).setInputFiles(file);
    expect(await page.getByLabel('Name of the log').inputValue()).toBe('gate');
    await page.getByRole('button', { name: 'Bring gate.log.gz' }).click();
    await page.getByText('20 requests of 21 lines, read as combined').waitFor();
    await page
      .getByRole('table', { name: 'Lines that could not be read' })
      .getByText('not a line of it')
      .first()
      .waitFor();
    await page.getByRole('button', { name: 'Replay it' }).click();
    await page.getByText('All of the log:').waitFor();
  });

  it('map columns of CSV that have other names', async () => {
    const file = join(service.folder, 'gatehouse.csv');
    writeFileSync(file, 'When,Who,Where\n2026-11-12T09:00:00Z,198.18.4.1,tickets.fennelhill.example\n');
    await go('/logs');
    await page.getByLabel(/^Drop a log here/).setInputFiles(file);
    for (const [field, column] of [
      ['time', 'When'],
      ['peer', 'Who'],
      ['host', 'Where'],
    ] as const) {
      await page.getByRole('button', { name: new RegExp(`^${field} `) }).click();
      await page.getByRole('option', { name: column, exact: true }).click();
    }
    await page.getByRole('button', { name: 'Bring gatehouse.csv' }).click();
    await page.getByText('1 requests of 2 lines, read as csv').waitFor();
  });

  it('take the columns of a mapping that is kept', async () => {
    const mapping = { columns: { time: 'when', peer: 'who', host: 'where' } };
    expect((await service.call('PUT', '/api/v1/mappings/gatehouse', mapping)).status).toBe(200);
    const file = join(service.folder, 'kept.csv');
    writeFileSync(file, 'when,who,where\n2026-11-09T10:00:00Z,10.40.3.7,maps.hedgerow.example\n');
    await go('/logs');
    await page.getByLabel(/^Drop a log here/).setInputFiles(file);
    await page.getByRole('button', { name: /^Read as by/ }).click();
    await page.getByRole('option', { name: /gatehouse/ }).click();
    await page.getByRole('button', { name: /^host/ }).filter({ hasText: 'where' }).waitFor();
    await page.getByRole('button', { name: 'Bring kept.csv' }).click();
    await page.getByText('1 requests of 2 lines, read as csv').waitFor();
  });

  it('say why they cannot be taken, and keep the form', async () => {
    const file = join(service.folder, 'picture.bin');
    writeFileSync(file, Buffer.from(Array.from({ length: 4096 }, (_, at) => (at * 7919) % 256)));
    await page.getByLabel(/^Drop a log here/).setInputFiles(file);
    await page.getByRole('button', { name: 'Bring picture.bin' }).click();
    await page.getByRole('alert').first().waitFor();
    await page.getByRole('button', { name: 'Bring picture.bin' }).waitFor();
  });

  it('are imported though the page is left, when they are sent', async () => {
    const file = join(service.folder, 'left.log');
    const line = '198.18.4.1 - - [12/Nov/2026:09:00:00 +0000] "GET /book HTTP/1.1" 200 12\n';
    writeFileSync(file, line.repeat(200_000));
    await go('/logs');
    await page.getByLabel(/^Drop a log here/).setInputFiles(file);
    const sent = page.waitForResponse((response) => response.url().includes('/api/v1/logs?name=left'));
    await page.getByRole('button', { name: 'Bring left.log' }).click();
    expect((await sent).status()).toBe(202);
    await go('/draft');
    const log = async () => (await service.call('GET', '/api/v1/logs/left')).body.requests;
    await expect.poll(log, { timeout: 30_000 }).toBe(200_000);
  });

  it('that others send are shown on their way, and can be cancelled', async () => {
    const call = request(`${service.url}/api/v1/logs?name=slow`, {
      method: 'POST',
      agent: false,
      headers: { authorization: `Bearer ${service.key}` },
    });
    const answer = once(call, 'response');
    call.write('{"host":"tickets.fennelhill.example"}\n');
    await go('/logs');
    const row = page.getByRole('table', { name: 'Imports' }).getByRole('row').filter({ hasText: 'slow' });
    await row.getByText('0.0 MiB read').waitFor();
    expect(await axe(page)).toEqual([]);
    await row.getByRole('button', { name: /^Cancel #\d+$/ }).click();
    await row.waitFor({ state: 'detached' });
    expect((await answer)[0].statusCode).toBe(409);
    call.destroy();
  });

  it('that the service goes away over are shown at once, with what to do', async () => {
    const file = join(service.folder, 'lost.log');
    writeFileSync(file, '198.18.4.1 - - [12/Nov/2026:09:00:00 +0000] "GET /book HTTP/1.1" 200 12\n');
    await go('/logs');
    await page.getByLabel(/^Drop a log here/).setInputFiles(file);
    // All is away, so that nothing else that is requested comes back either.
    await page.route('**/api/**', (route) => route.abort());
    await page.getByRole('button', { name: 'Bring lost.log' }).click();
    const alert = page.getByRole('alert').filter({ hasText: 'The service went away before it answered.' });
    await alert.getByText('send it again where it is not').waitFor({ timeout: 5000 });
    await page.unroute('**/api/**');
    await page.getByRole('button', { name: 'Bring lost.log' }).click();
    await page.getByText('1 requests of 1 lines, read as combined').waitFor();
  });
});

describe('a replay', () => {
  it('that was cancelled says so, and what to do', async () => {
    let id = 0;
    // One that was done before it could be cancelled is no use.
    for (let attempt = 0, state = ''; attempt < 20 && state !== 'cancelled'; attempt++) {
      id = (await service.call('POST', '/api/v1/replays', { log: 'week' })).body.id;
      await service.call('POST', `/api/v1/replays/${id}/cancel`, {});
      await expect
        .poll(async () => {
          state = (await service.call('GET', `/api/v1/replays/${id}`)).body.state;
          return state;
        })
        .toMatch(/done|cancelled/);
    }
    await go(`/policies/visitor-web?replay=${id}`);
    await page.getByText(`Replay ${id} was cancelled`).waitFor();
    await page.getByText('Choose another above, or replay the log again.').waitFor();
    await page.getByRole('heading', { name: 'visitor-web' }).waitFor();
  });
});

describe('a request of a replay', () => {
  it('is tried against the draft, and becomes a cell of a check', async () => {
    await go('/policies/visitor-web?replay=1&rule=no-wagering&role=overtaken&request=28');
    await page.getByRole('link', { name: 'Try it against the draft' }).click();
    await page.getByText('Allowed by rule web-for-all').first().waitFor();
    expect(await page.getByLabel('URL, or host:port of a tunnel').inputValue()).toBe('www.lucky-petal.example:443');
    await page.goBack();
    await page.getByLabel(/^Expect “allow” of it/).fill('as-it-was');
    await page.getByRole('button', { name: 'Write it there' }).click();
    await page.getByRole('status').filter({ hasText: 'It is in as-it-was' }).waitFor();
    await go('/checks');
    await page.getByRole('table', { name: 'as-it-was' }).waitFor();
    const { version } = (await service.call('GET', '/api/v1/objects/check/as-it-was')).body;
    await service.call('DELETE', '/api/v1/objects/check/as-it-was', undefined, { 'if-match': `"${version}"` });
  });
});

describe('the draft', () => {
  it('is not published while checks fail, and is when they hold', { timeout: 60_000 }, async () => {
    await go('/draft');
    await page.getByLabel('Why').fill('Wagering is refused');
    await page.getByRole('checkbox', { name: 'Publish despite the new warnings' }).click();
    await page.getByRole('button', { name: 'Publish the draft' }).click();
    await page.getByRole('alert').filter({ hasText: 'Checks fail' }).waitFor();
    expect(await page.getByLabel('Why').inputValue()).toBe('Wagering is refused');
    await go('/checks');
    await page
      .getByRole('button', { name: /not as expected/ })
      .first()
      .click();
    await page.getByText('Move rule no-wagering above web-for-all.').waitFor();
    await page.getByRole('button', { name: 'Do that' }).first().click();
    await page.getByText('✓ all as expected').waitFor();
    await go('/policies/visitor-web');
    await page.locator('[data-rule="no-wagering"] + [data-rule="web-for-all"]').waitFor();
    await go('/draft');
    await page.getByText('All 6 cells of the checks are as expected').waitFor();
    await page.getByLabel('Why').fill('Wagering is refused');
    await page.getByRole('checkbox', { name: 'Publish despite the new warnings' }).click();
    await page.getByRole('button', { name: 'Publish the draft' }).click();
    await page.getByText('Revision 1 is in force').waitFor();
    await page.getByText('Nothing is different.').waitFor();
  });

  it('reports edits in words and as lines, compares them with what is published, and discards them', async () => {
    // The effect is counted on the log on the screen, and not on the newest.
    await go('/policies/visitor-web?replay=1');
    await page
      .locator('[data-rule="no-wagering"]')
      .getByRole('button', { name: 'What to do with no-wagering' })
      .click();
    await page.getByRole('menuitem', { name: 'To the end' }).click();
    await page
      .getByRole('status')
      .filter({ hasText: /On week, against revision 1: 63 of 5,000 requests change \(63 block → allow\)/ })
      .waitFor();
    await page.getByRole('link', { name: /requests change/ }).click();
    await page.getByRole('table', { name: 'Causes' }).getByText('visitor-web / no-wagering').waitFor();
    await page
      .getByRole('table', { name: 'Requests that changed' })
      .getByText('odds.meadowbet.example')
      .first()
      .waitFor();
    expect(await axe(page)).toEqual([]);
    await go('/draft');
    await page.getByText(/^rule (?:no-wagering|web-for-all) moved/).waitFor();
    await page.getByRole('button', { name: 'Show lines of visitor-web' }).click();
    await page.getByText('- rule: no-wagering').first().waitFor();
    await page.getByRole('button', { name: 'Discard', exact: true }).click();
    await page.getByRole('button', { name: 'Discard the edits of visitor-web' }).click();
    await page.getByText('Nothing is different.').waitFor();
    await service.call('PATCH', '/api/v1/lists/home-workers/entries', { add: [{ entry: '203.0.113.91' }] });
    await page.reload();
    await page.getByText('203.0.113.91').first().waitFor();
    await page.getByRole('button', { name: 'Restore' }).click();
    await page
      .getByRole('alertdialog')
      .getByRole('button', { name: /^Restore revision/ })
      .click();
    await page.getByText('Nothing is different.').waitFor();
  });

  it('is proposed to another where two pairs of eyes are required', async () => {
    await service.call('PATCH', '/api/v1/settings', { fourEyes: true });
    await service.call('PATCH', '/api/v1/lists/home-workers/entries', { add: [{ entry: '203.0.113.90' }] });
    await go('/draft');
    await page.getByLabel('Why').fill('Another botanist');
    await page.getByRole('button', { name: 'Ask another to publish it' }).click();
    await page.getByText('administrator proposes: Another botanist').waitFor();
    await page.getByRole('button', { name: 'Withdraw' }).click();
    await page.getByText('administrator proposes').waitFor({ state: 'detached' });
    await service.call('PATCH', '/api/v1/settings', { fourEyes: false });
  });
});

describe('live decisions and people', () => {
  it('shows decisions as they are made, alerts marked', async () => {
    await go('/live');
    await page.getByText('Revision 1 decides').waitFor();
    await page.getByLabel('Name of the gateway').fill('west-gate');
    await page.getByRole('button', { name: 'Make its token' }).click();
    const token = await page.getByRole('status').filter({ hasText: 'shown only once' }).locator('code').innerText();
    expect(await axe(page)).toEqual([]);
    const asked = {
      client: '10.40.3.7',
      peer: '10.40.3.7',
      method: 'CONNECT',
      host: 'odds.meadowbet.example',
      port: 443,
    };
    expect((await service.ask('POST', '/decide', asked)).body).toMatchObject({
      verdict: 'block',
      rule: 'no-wagering',
    });
    await page.getByRole('table', { name: 'Counts by rule' }).getByText('visitor-web / no-wagering').waitFor();
    const recorded = page.getByRole('table', { name: 'Recorded decisions' });
    await recorded.getByText('odds.meadowbet.example:443').waitFor();
    await page.getByText(/a second let through, .* stopped/).waitFor();
    // The token that was made here opens what gateways ask, and nothing else.
    const decide = (path: string) =>
      callApi(
        service.gateUrl,
        'POST',
        '/decide',
        { ...asked, method: 'GET', host: 'tickets.fennelhill.example', path },
        {
          authorization: `Bearer ${token}`,
        },
      );
    expect((await decide('/')).status).toBe(200);
    await page.getByRole('button', { name: 'Pause' }).click();
    await page.getByText('Paused: decisions go on').waitFor();
    expect(await axe(page)).toEqual([]);
    await page.getByRole('button', { name: 'Go on' }).click();
    await page.getByRole('button', { name: /^Recorded as/ }).click();
    await page.getByRole('option', { name: 'alert', exact: true }).click();
    await page.getByText('Nothing yet.').waitFor();
    expect(new URL(page.url()).searchParams.get('record')).toBe('alert');
  });

  it('adds a person, who may look and not edit', async () => {
    await go('/people');
    await page.getByRole('heading', { name: 'Everybody' }).first().waitFor();
    await page.getByLabel('Name', { exact: true }).fill('ines');
    await page.getByLabel('Password, 12 characters or more').fill('a fern in every gorge');
    await page.getByRole('button', { name: 'Add', exact: true }).click();
    await page.getByRole('row').filter({ hasText: 'ines' }).waitFor();
    const other = await openPage(browser);
    await other.page.goto(service.url);
    await other.page.getByRole('button', { name: 'With a name and password' }).click();
    await other.page.getByLabel('Name').fill('ines');
    await other.page.getByLabel('Password').fill('a fern in every gorge');
    await other.page.keyboard.press('Enter');
    await other.page.getByRole('heading', { name: 'ticket-site' }).waitFor();
    expect(await other.page.getByRole('button', { name: 'New rule' }).count()).toBe(0);
    expect(await other.page.getByRole('button', { name: /^What to do with/ }).count()).toBe(0);
    await other.page.goto(`${service.url}/library/list/home-workers`);
    await other.page.getByText('Ines Baltazar').waitFor();
    expect(await other.page.getByRole('button', { name: 'Add', exact: true }).count()).toBe(0);
    expect(other.complaints.filter((complaint) => !complaint.includes('403'))).toEqual([]);
  });

  it('makes a token and shows its key once', async () => {
    await page.getByRole('link', { name: 'Tokens' }).click();
    await page.getByLabel('Name of the token').fill('pipeline');
    await page.getByRole('button', { name: 'Make a token' }).click();
    await page.getByText('The key of pipeline, shown only once').waitFor();
    await page.reload();
    await page.getByRole('row').filter({ hasText: 'pipeline' }).waitFor();
    expect(await page.getByText('shown only once').count()).toBe(0);
  });

  it('makes a token of a gateway, gives the right to see addresses, and shows where one is signed in', async () => {
    await page.getByLabel('Name of the token').fill('front-gate');
    await page.getByLabel('It may be').click();
    await page.getByRole('option', { name: 'a gateway' }).click();
    await page.getByRole('button', { name: 'Make a token' }).click();
    await page.getByText('The key of front-gate, shown only once').waitFor();
    const { tokens } = (await service.call('GET', '/api/v1/tokens?all=true')).body;
    expect(tokens).toContainEqual(expect.objectContaining({ name: 'front-gate', kind: 'gateway', person: null }));
    await page.getByRole('link', { name: 'Everybody' }).click();
    await page.getByLabel('How administrator asks about redacted clients').click();
    await page.getByRole('option', { name: 'by addresses too' }).click();
    const right = async () => (await service.call('GET', '/api/v1/people')).body.people[0].seesAddresses;
    await expect.poll(right).toBe(true);
    await page.getByRole('link', { name: 'You', exact: true }).click();
    const sessions = page.getByRole('table', { name: 'Sessions' }).getByRole('row');
    await sessions.filter({ hasText: '127.0.0.1' }).first().waitFor();
  });

  it('shows times in the zone that one chooses, which the browser remembers', async () => {
    await page.getByLabel('Times are shown in').fill('Fennel/Hill');
    await page.getByRole('button', { name: 'Show them so' }).click();
    await page.getByText('There is no such time zone.').waitFor();
    await page.getByLabel('Times are shown in').fill('Asia/Kolkata');
    await page.getByRole('button', { name: 'Show them so' }).click();
    await go('/policies/ticket-site?replay=1&rule=no-harvesters&role=decided');
    await page.getByRole('row').filter({ hasText: '11-09 10:14:22' }).waitFor();
    await go('/policies/ticket-site');
    await page
      .getByText(/Asia\/Kolkata|Asia\/Calcutta/)
      .first()
      .waitFor();
    await go('/people/you');
    await page.getByRole('button', { name: 'UTC', exact: true }).click();
    await go('/policies/ticket-site?replay=1&rule=no-harvesters&role=decided');
    await page.getByRole('row').filter({ hasText: '11-09 04:44:22' }).waitFor();
  });

  it('goes from row to row by the arrow keys', async () => {
    const row = (number: number) => page.getByRole('button', { name: `Explain request ${number}`, exact: true });
    await row(10).focus();
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('ArrowUp');
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: /^32 ·/ }).waitFor();
    await row(32).focus();
    await page.keyboard.press('Home');
    expect(await row(10).evaluate((button) => button === document.activeElement)).toBe(true);
    await page.keyboard.press('ArrowUp');
    expect(await row(10).evaluate((button) => button === document.activeElement)).toBe(true);
  });
});

describe('where something is wrong', () => {
  it('looks up names and values by the key `/`', async () => {
    await go('/live');
    await page.getByRole('heading', { name: 'Live' }).waitFor();
    await page.keyboard.press('/');
    await page.keyboard.type('198.18.97.3');
    await page.keyboard.press('Enter');
    await page.getByText('harvester-networks').first().waitFor();
    await page.keyboard.press('/');
    await page.keyboard.type('edge-proxies');
    await page.keyboard.press('Enter');
    await page.getByText('gatehouse one').waitFor();
  });

  it('asks to sign in again over the page where the session has ended, and keeps what was typed', async () => {
    await go('/library/notice/not-here');
    const text = page.getByLabel('As text');
    await writeIn(text, `${await writtenIn(text)}# mine\n`);
    await page.context().clearCookies();
    await page.getByRole('button', { name: 'Keep in the draft' }).click();
    await page.getByRole('dialog').getByText('Your session has ended').waitFor();
    expect(await axe(page)).toEqual([]);
    await page.getByRole('dialog').getByLabel('Access key').fill(service.key);
    await page.getByRole('dialog').getByRole('button', { name: 'Sign in' }).click();
    await page.getByRole('dialog').waitFor({ state: 'detached' });
    expect(await writtenIn(text)).toContain('# mine');
    await page.getByRole('button', { name: 'Keep in the draft' }).click();
    await page.getByText('version 2').first().waitFor();
  });

  it('has complained of nothing but what was refused', () => {
    // ERR_FAILED is what a route that the test itself aborts ends with, also some time after it is opened again.
    const refused = /status of (?:400|401|404|409|412|422)|beforeunload|net::ERR_FAILED/;
    expect(complaints.filter((complaint) => !refused.test(complaint))).toEqual([]);
  });

  it('says that the service is gone, and goes on when it is back', async () => {
    await go('/library/list/edge-proxies');
    await page.getByText('gatehouse one').waitFor();
    await page.route('**/api/**', (route) => route.abort());
    await page.getByLabel('Entry', { exact: true }).fill('10.10.1.6');
    await page.getByRole('button', { name: 'Add', exact: true }).click();
    await page.getByRole('alert').filter({ hasText: 'The service does not answer.' }).first().waitFor();
    await page.unroute('**/api/**');
    await page.getByRole('button', { name: 'Add', exact: true }).click();
    await page.getByRole('row').filter({ hasText: '10.10.1.6' }).waitFor();
  });
});
