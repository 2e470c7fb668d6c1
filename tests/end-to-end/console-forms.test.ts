import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { axe, type OpenConsole, openConsole, printWhenFailed, tabTo, writtenIn } from '../setup/console.js';

/** What rules speak of is written in forms, by hand. */
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

const go = async (path: string) => {
  await page.goto(service.url + path);
  await page.getByLabel('As text').locator('.cm-line').first().waitFor();
};

const keep = async () => {
  const kept = page.waitForResponse((response) => response.request().method() === 'PUT');
  await page.getByRole('button', { name: 'Keep in the draft' }).click();
  expect((await kept).status()).toBeLessThan(300);
};

/** Draws over a week from an hour of a day to an hour of another, the last half hour included. */
async function draw(from: readonly [day: number, hour: number], to: readonly [day: number, hour: number]) {
  const placeOf = async ([day, hour]: readonly [number, number]) => {
    const box = await page.locator(`[data-day="${day}"]`).boundingBox();
    if (!box) throw new Error(`day ${day} is not drawn`);
    return [box.x + (hour / 24) * box.width + 1, box.y + box.height / 2] as const;
  };
  await page.locator('[data-day="0"]').scrollIntoViewIfNeeded();
  await page.mouse.move(...(await placeOf(from)));
  await page.mouse.down();
  await page.mouse.move(...(await placeOf(to)), { steps: 4 });
  await page.mouse.up();
}

describe('a schedule', () => {
  it('is drawn on the week, over days at once, and drawn over again', async () => {
    await go('/library/schedule/+');
    await page.getByLabel('Name', { exact: true }).fill('glasshouse-care');
    await page.getByLabel('Note').fill('When somebody is in the glasshouses');
    await draw([5, 6], [6, 9.5]);
    // The template's hours of Friday begin at nine; what is drawn from there takes them out.
    await draw([4, 9], [4, 11.5]);
    expect(await writtenIn(page.getByLabel('As text'))).toContain('sat-sun: [06:00-10:00]');
    await keep();
    await page.getByRole('heading', { name: 'glasshouse-care' }).waitFor();
    expect(await textOf('schedule', 'glasshouse-care')).toMatch(
      /weekly: \{mon-thu: \[09:00-17:00\], fri: \[12:00-17:00\], sat-sun: \[06:00-10:00\]\}/,
    );
  });

  it('is written by keyboard, over midnight too', async () => {
    await go('/library/schedule/opening-hours');
    await tabTo(page, 'Hours of sun');
    await page.keyboard.type('22:00-02:00');
    await page.keyboard.press('Enter');
    await page.getByText('Sunday 22:00-02:00 (over midnight)').first().waitFor();
    await page.getByLabel('Day', { exact: true }).fill('2027-01-01');
    await page.getByLabel('Hours', { exact: true }).fill('10:00-12:00 13:00-14:00');
    await page.getByRole('button', { name: 'Add the day' }).click();
    expect(await axe(page)).toEqual([]);
    await keep();
    await expect
      .poll(() => textOf('schedule', 'opening-hours'))
      .toContain('except: {2026-12-25: closed, 2027-01-01: [10:00-12:00, 13:00-14:00]}');
  });

  it('of hours that cannot be read is left as it was, and the field says so', async () => {
    await go('/library/schedule/opening-hours');
    const before = await writtenIn(page.getByLabel('As text'));
    await page.getByLabel('Hours of mon').fill('nine to five');
    await page.getByLabel('Hours of mon').press('Enter');
    expect(await page.getByLabel('Hours of mon').getAttribute('aria-invalid')).toBe('true');
    expect(await writtenIn(page.getByLabel('As text'))).toBe(before);
  });
});

describe('what traffic is', () => {
  it('a category gets hosts and lists', async () => {
    await go('/library/category/media');
    await page.getByLabel('Add to domains').fill('.petalpress.example');
    await page.getByLabel('Add to domains').press('Enter');
    await page.getByRole('button', { name: 'Take .mossgram.example out of domains' }).click();
    await page.getByText('Holds 3 domains').waitFor();
    await keep();
    await expect
      .poll(() => textOf('category', 'media'))
      .toContain('domains: [.willowreel.example, .birdsong-radio.example, .petalpress.example]');
  });

  it('an application gets what it is known by, and what it needs', async () => {
    await go('/library/application/+');
    await page.getByLabel('Name', { exact: true }).fill('seed-exchange');
    await page.getByLabel('Add to needs').fill('name-look-up');
    await page.getByLabel('Add to needs').press('Enter');
    await page.getByRole('spinbutton', { name: 'Risk' }).fill('3');
    await page.getByText('of risk 3; it needs').waitFor();
    await keep();
    await page.getByRole('heading', { name: 'seed-exchange' }).waitFor();
    expect(await textOf('application', 'seed-exchange')).toContain('needs: [name-look-up]');
  });

  it('corrections get networks, and keep the comments beside them', async () => {
    const text = 'corrections: ours\nnetworks:\n  # The gate\n  198.51.100.0/25: PT # asked the provider\n';
    await service.call('PUT', '/api/v1/objects/corrections/ours', { text }, { 'if-none-match': '*' });
    await go('/library/corrections/ours');
    await page.getByLabel('Network', { exact: true }).fill('198.51.100.128/25');
    await page.getByLabel('Country', { exact: true }).fill('ES');
    await page.getByRole('button', { name: 'Add the network' }).click();
    await page.getByLabel('Country of 198.51.100.0/25').fill('private');
    await page.getByLabel('Country of 198.51.100.0/25').press('Enter');
    await page.getByText('198.51.100.128/25 is in Spain').waitFor();
    await keep();
    await expect
      .poll(() => textOf('corrections', 'ours'))
      .toBe(`${text.replace('PT #', 'private #')}  198.51.100.128/25: ES\n`);
  });
});

describe('who asks, and what is expected', () => {
  it('a probe has headers', async () => {
    await go('/library/probe/+');
    await page.getByLabel('Name', { exact: true }).fill('curator-desk');
    await page.getByLabel('Address', { exact: true }).fill('10.20.1.9');
    await page.getByLabel('Header', { exact: true }).fill('accept-language');
    await page.getByLabel('Value', { exact: true }).fill('pt');
    await page.getByRole('button', { name: 'Add the header' }).click();
    await page.getByText('A client at 10.20.1.9').waitFor();
    await keep();
    await page.getByRole('heading', { name: 'curator-desk' }).waitFor();
    expect(await textOf('probe', 'curator-desk')).toContain('headers:\n  accept-language: pt\n');
  });

  it('the answers of a check are chosen by presses and by letters', async () => {
    await go('/library/check/what-visitors-reach');
    const cell = page.getByRole('button', { name: /^visitor-phone at tickets:/ });
    await cell.click();
    await page.getByRole('button', { name: 'visitor-phone at tickets: allow' }).click();
    await page.getByRole('button', { name: 'visitor-phone at tickets: block' }).waitFor();
    await cell.press('Shift+Enter');
    await page.getByRole('button', { name: 'visitor-phone at tickets: allow' }).waitFor();
    await cell.press('u');
    await page.getByRole('button', { name: 'visitor-phone at tickets: unlock' }).waitFor();
    await cell.press('Delete');
    await page.getByRole('button', { name: 'visitor-phone at tickets: nothing expected' }).waitFor();
    await page.getByRole('button', { name: 'Take betting out' }).click();
    await page.getByLabel('Destination, by a name of yours').fill('calendar');
    await page.getByLabel('URL, or host:port of a tunnel').fill('https://tickets.fennelhill.example/calendar');
    await page.getByRole('button', { name: 'Add the destination' }).click();
    await page.getByRole('button', { name: 'abroad-desk at calendar: nothing expected' }).press('b');
    await page.getByLabel('Add a probe').click();
    await page.getByRole('option', { name: 'curator-desk' }).click();
    await page.getByRole('button', { name: 'curator-desk at staging: nothing expected' }).press('a');
    expect(await axe(page)).toEqual([]);
    await keep();
    await expect
      .poll(() => textOf('check', 'what-visitors-reach'))
      .toMatch(
        /visitor-phone: \{map: allow\}\n.*\n.*staging: block, calendar: block\}\n {2}curator-desk:\n {4}staging: allow\n/,
      );
    expect(await textOf('check', 'what-visitors-reach')).not.toContain('betting');
  });

  it('a notice is shown as it is written', async () => {
    await go('/library/notice/not-here');
    await page.getByLabel('Title').fill('Closed to this network');
    const seen = page.getByRole('figure', { name: 'As the client sees it' });
    await seen.getByText('Closed to this network').waitFor();
    await seen.getByText('does not lead to www.lucky-petal.example.').waitFor();
    await keep();
    await expect.poll(() => textOf('notice', 'not-here')).toContain('title: Closed to this network\ntext: |\n');
  });
});

describe('a list', () => {
  it('includes others, and gets many entries at once beside its own', async () => {
    await page.goto(`${service.url}/library/list/home-workers`);
    await page.getByRole('button', { name: 'Add or replace many entries …' }).click();
    await page.getByLabel('One entry a line').fill('203.0.113.80 # Tomas Pinheiro\n\n198.18.16.21\n203.0.113.81\n');
    await page.getByRole('button', { name: 'Add these 3 to home-workers' }).click();
    await page.getByText('home-workers has 5 entries. 1 were in it already.').waitFor();
    await page.getByText('Its note, what it includes, and its text').click();
    await page.getByLabel('Add to include').fill('garden-offices');
    await page.getByLabel('Add to include').press('Enter');
    await keep();
    await page.getByRole('link', { name: 'garden-offices' }).first().waitFor();
    const text = await textOf('list', 'home-workers');
    expect(text).toContain('include: [garden-offices]');
    expect(text).toContain('Tomas Pinheiro');
  });

  it('is fetched from elsewhere, at once and from then on', async () => {
    const { folder } = (await service.call('GET', '/api/v1/feeds')).body;
    mkdirSync(folder, { recursive: true });
    writeFileSync(join(folder, 'adverts.txt'), '.adverts.example\n.banners.example\n');
    await page.goto(`${service.url}/library/list/advert-hosts`);
    await page.getByRole('button', { name: 'Have it fetched from elsewhere …' }).click();
    await page.getByLabel('An address of the web, or file:').fill('file:adverts.txt');
    expect(await axe(page)).toEqual([]);
    await page.getByRole('button', { name: 'Fetch it', exact: true }).click();
    await page.getByText('file:adverts.txt').waitFor();
    await page.getByRole('table', { name: 'Entries' }).getByText('.banners.example').waitFor();
    await page.getByRole('button', { name: 'Fetch it no more' }).click();
    await page.getByRole('alertdialog').getByRole('button', { name: 'Fetch it no more' }).click();
    await page.getByRole('button', { name: 'Have it fetched from elsewhere …' }).waitFor();
    expect((await service.call('GET', '/api/v1/feeds')).body.feeds).toEqual([]);
  });

  it('that is fetched from nowhere says so, and keeps what was typed', async () => {
    await page.goto(`${service.url}/library/list/advert-hosts`);
    await page.getByRole('button', { name: 'Have it fetched from elsewhere …' }).click();
    await page.getByLabel('An address of the web, or file:').fill('file:../secrets.txt');
    await page.getByRole('button', { name: 'Fetch it', exact: true }).click();
    await page.getByRole('alert').first().waitFor();
    expect(await page.getByLabel('An address of the web, or file:').inputValue()).toBe('file:../secrets.txt');
  });
});

describe('a passcode', () => {
  it('is set, named, and never shown', async () => {
    await page.goto(`${service.url}/library/passcodes`);
    await page.getByLabel('Name', { exact: true }).fill('gardeners');
    await page.getByLabel('Passcode', { exact: true }).fill('fern and moss 12');
    await page.getByRole('button', { name: 'Set it', exact: true }).click();
    await page.getByText('It is set.').waitFor();
    await page.getByRole('listitem').filter({ hasText: 'gardeners' }).waitFor();
    expect(await page.content()).not.toContain('fern and moss 12');
    await page.getByRole('button', { name: 'End all grants …' }).click();
    await page.getByRole('alertdialog').getByRole('button', { name: 'End all grants' }).click();
    await page.getByText('All grants have ended.').waitFor();
  });
});
