import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { axe, type OpenConsole, openConsole, printWhenFailed } from '../setup/console.js';

/** A policy that is too long to be drawn as a whole. */
let opened: OpenConsole;
let service: OpenConsole['service'];
let page: OpenConsole['page'];
printWhenFailed(() => page);

const RULES = 120;
const name = (number: number) => `rule-${String(number).padStart(3, '0')}`;
const TEXT = [
  'policy: long-run',
  'default: allow',
  'rules:',
  ...Array.from({ length: RULES }, (_, at) =>
    [
      `  # the rule for bed ${at + 1}`,
      `  - rule: ${name(at + 1)}`,
      `    when: {host: bed-${at + 1}.example}`,
      '    then: block',
    ].join('\n'),
  ),
  '',
].join('\n');

beforeAll(async () => {
  opened = await openConsole();
  ({ service, page } = opened);
  const put = await service.call('PUT', '/api/v1/workspace', { files: [{ name: 'long.yaml', text: TEXT }] });
  expect(put.status).toBe(200);
});
afterAll(() => opened?.close());

const row = (number: number) => page.locator(`[data-rule="${name(number)}"]`);
const isSeen = (number: number): Promise<boolean> =>
  page.evaluate((rule) => {
    const box = document.querySelector(`[data-rule="${rule}"]`)?.getBoundingClientRect();
    return box !== undefined && box.top >= 0 && box.bottom <= innerHeight;
  }, name(number));
const stored = async (): Promise<string> => (await service.call('GET', '/api/v1/objects/policy/long-run')).body.text;
const order = (text: string) => [...text.matchAll(/- rule: (\S+)/g)].map(([, rule]) => rule);

describe('a long policy', () => {
  it('draws the rules near what is seen, and begins with the one that is named', async () => {
    await page.goto(`${service.url}/policies/long-run?rule=${name(90)}`);
    await row(90).waitFor();
    await expect.poll(() => isSeen(90), { timeout: 15_000 }).toBe(true);
    expect(await page.locator('[data-rule]').count()).toBeLessThan(60);
    expect(await row(1).count()).toBe(0);
    expect(await row(90).getAttribute('aria-posinset')).toBe('90');
    expect(await row(90).getAttribute('aria-setsize')).toBe(String(RULES));
    expect(await axe(page)).toEqual([]);
  });

  it('is scrolled from its first rule to its default', async () => {
    await page.goto(`${service.url}/policies/long-run`);
    await row(1).waitFor();
    await row(1).hover();
    // Rows are measured when they are drawn, so that the end may move away from where it was first seen.
    await expect
      .poll(
        async () => {
          await page.mouse.wheel(0, 800);
          return isSeen(RULES);
        },
        { interval: 50, timeout: 30_000 },
      )
      .toBe(true);
    expect(await row(1).count()).toBe(0);
  });

  it('shows the rules that are looked for, at their places', async () => {
    await page.goto(`${service.url}/policies/long-run`);
    const shown = page.locator('[data-rule^="rule-"]');
    await page.getByLabel('Only rules with').fill('bed-117.example');
    await page.getByText(`1 of ${RULES} rules`).waitFor();
    await row(117).waitFor();
    expect(await shown.count()).toBe(1);
    expect(await row(117).getAttribute('aria-posinset')).toBe('117');
    expect(await axe(page)).toEqual([]);
    await page.getByLabel('Only rules with').fill('bed 11 block');
    await expect.poll(() => shown.count()).toBe(11);
    await page.getByLabel('Only rules with').fill('');
    await row(1).waitFor();
  });

  it('is put in order with the keys, beyond what was drawn, and nothing else of its text changes', async () => {
    await page.goto(`${service.url}/policies/long-run?rule=${name(60)}`);
    const before = await stored();
    await row(60)
      .getByRole('button', { name: `Move ${name(60)}` })
      .focus();
    await page.keyboard.press('Space');
    await page.getByText(`${name(60)} is held over place 60 of ${RULES}.`).waitFor({ state: 'attached' });
    const places = 15;
    const held = async () =>
      Number(/over place (\d+) of/.exec(await page.locator('[aria-live="assertive"]').innerText())?.[1]);
    // A key that is pressed while rows are being drawn is not heard, and is pressed again; one that is heard late is not.
    for (let press = 0, at = 60; press < 60 && at > 60 - places; press++) {
      await page.keyboard.press('ArrowUp');
      const before = at;
      for (let look = 0; look < 40 && at === before; look++) {
        await page.waitForTimeout(50);
        at = await held();
      }
    }
    await page.keyboard.press('Space');
    await page.getByText(`${name(60)} is put down at place ${60 - places} of ${RULES}.`).waitFor({ state: 'attached' });
    await expect.poll(async () => order(await stored()).indexOf(name(60)) + 1).toBe(60 - places);
    const after = await stored();
    expect(after.split('\n').sort()).toEqual(before.split('\n').sort());
    expect(after).toContain(`  # the rule for bed 60\n  - rule: ${name(60)}\n`);
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect.poll(stored).toBe(before);
  });
});
