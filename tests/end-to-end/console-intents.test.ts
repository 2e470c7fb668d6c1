import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { axe, type OpenConsole, openConsole, printWhenFailed, tabTo, writeIn } from '../setup/console.js';
import { ended } from '../setup/service.js';

/** What an administrator means, written in the console by mouse and by keyboard alone, and proved by a replay. */
let opened: OpenConsole;
let service: OpenConsole['service'];
let page: OpenConsole['page'];
printWhenFailed(() => page);
let complaints: string[];

beforeAll(async () => {
  opened = await openConsole();
  ({ service, page, complaints } = opened);
});
afterAll(() => opened?.close());

interface Intent {
  readonly name: string;
  readonly policy: string;
  /** Fields of `when`, and their values. */
  readonly when: readonly (readonly [field: string, ...values: string[]])[];
  readonly unless?: readonly (readonly [field: string, ...values: string[]])[];
  /** That the first field takes none of its values. */
  readonly inverted?: true;
  /** What it does; else it blocks. */
  readonly then?: string;
  readonly limit?: { readonly moreThan: string; readonly within: string; readonly per: string };
  readonly sentence: RegExp;
}

const INTENTS: readonly Intent[] = [
  {
    name: 'countries',
    policy: 'ticket-site',
    when: [['country', 'PT', 'ES']],
    inverted: true,
    sentence: /Block requests .*PT.*ES/,
  },
  {
    name: 'machine',
    policy: 'visitor-web',
    when: [['client', '10.40.0.11']],
    sentence: /Block requests from 10\.40\.0\.11\./,
  },
  {
    name: 'staging',
    policy: 'ticket-site',
    when: [['host', 'staging.fennelhill.example']],
    unless: [['client', 'garden-offices', 'home-workers']],
    sentence: /staging\.fennelhill\.example, unless the client is in garden-offices/,
  },
  {
    name: 'entertainment',
    policy: 'visitor-web',
    when: [
      ['category', 'media'],
      ['time', 'opening-hours'],
    ],
    unless: [['client', '10.40.0.12']],
    sentence: /category media during opening-hours, unless the client is 10\.40\.0\.12/,
  },
  {
    name: 'applications',
    policy: 'visitor-web',
    when: [['application', 'web', 'name-look-up']],
    then: 'allow',
    sentence: /Allow .*web.*name-look-up/,
  },
  {
    name: 'sign-ins',
    policy: 'ticket-site',
    when: [['path', '/account/sign-in*']],
    limit: { moreThan: '1', within: '1d', per: 'client, method' },
    sentence: /after more than 1 request per day from the same client and method/,
  },
];

const rule = (name: string) => page.locator(`[data-rule="${name}"]`);

/** How many requests of the week the rule decides when it is first: asked of the service by another way. */
async function proved(intent: Intent, text: string): Promise<number> {
  const { text: own } = (await service.call('GET', `/api/v1/objects/policy/${intent.policy}`)).body;
  const rules = own.slice(own.indexOf('rules:\n') + 7);
  const files = [
    {
      name: 'p.yaml',
      text: own.replace(rules, `${text.replace(/^(.*)/, '  - $1').replace(/\n(?=.)/g, '\n    ')}${rules}`),
    },
  ];
  const { id } = (await service.call('POST', '/api/v1/replays', { log: 'week', files })).body;
  await ended(service, id);
  const { policies } = (await service.call('GET', `/api/v1/replays/${id}/report`)).body;
  const found = policies.find(({ policy }: { policy: string }) => policy === intent.policy);
  return found.rules[0].decided;
}

async function byMouse(intent: Intent, name: string): Promise<void> {
  await page.getByRole('button', { name: 'New rule' }).click();
  await page.getByLabel('Name', { exact: true }).fill(name);
  for (const part of ['when', 'unless'] as const)
    for (const [field, ...values] of intent[part] ?? []) {
      await page.getByRole('button', { name: new RegExp(`^Add to ${part}`) }).click();
      await page.getByRole('option', { name: new RegExp(`^${field} `) }).click();
      for (const value of values) {
        await page
          .getByRole('group', { name: part })
          .getByRole('combobox', { name: `Add to ${field}` })
          .fill(value);
        await page
          .getByRole('option', { name: new RegExp(`^${value.replace(/[.*/]/g, '\\$&')}( |$)`) })
          .first()
          .click();
      }
    }
  if (intent.inverted) await page.getByRole('button', { name: 'any of' }).click();
  if (intent.limit) {
    await page.getByLabel('Match only who asks too often').click();
    await page.getByLabel('more than').fill(intent.limit.moreThan);
    await page.getByLabel('within').fill(intent.limit.within);
    await page.getByLabel('per', { exact: true }).fill(intent.limit.per);
  }
  if (intent.then) {
    await page.getByRole('button', { name: /^Then/ }).click();
    await page.getByRole('option', { name: intent.then }).click();
  }
  await page.getByRole('button', { name: /^Stance/ }).click();
  await page.getByRole('option', { name: 'enforce' }).click();
  await page.getByText(intent.sentence).first().waitFor();
  await page.getByRole('button', { name: 'Keep in the draft' }).click();
  if (await isFirst(name)) return;
  await rule(name)
    .getByRole('button', { name: `What to do with ${name}` })
    .click();
  await page.getByRole('menuitem', { name: 'To the top' }).click();
}

/** Whether a rule is the first already: a refusal begins above what would let its requests through. */
async function isFirst(name: string): Promise<boolean> {
  await rule(name).waitFor();
  return (await page.locator('[data-rule]').first().getAttribute('data-rule')) === name;
}

/** Goes with the arrows to what an open list or menu offers. */
async function arrowTo(name: RegExp): Promise<void> {
  const active = page.locator('[role=option][data-focus], [role=menuitem][data-focus]');
  await page.keyboard.press('Home');
  for (let press = 0; press < 40; press++) {
    if ((await active.count()) > 0 && name.test((await active.first().innerText()).trim())) return;
    await page.keyboard.press('ArrowDown');
  }
  throw new Error(`${name} was not reached with the arrows`);
}

async function byKeyboard(intent: Intent, name: string): Promise<void> {
  const { keyboard } = page;
  await tabTo(page, 'New rule');
  await keyboard.press('Enter');
  await page.getByLabel('Name', { exact: true }).waitFor();
  // The form begins where one writes first.
  expect(await page.evaluate(() => (document.activeElement as HTMLInputElement).value)).toBe('new-rule');
  await keyboard.press('ControlOrMeta+a');
  await keyboard.type(name);
  for (const part of ['when', 'unless'] as const)
    for (const [field, ...values] of intent[part] ?? []) {
      await tabTo(page, new RegExp(`^Add to ${part}`));
      const option = page.getByRole('option', { name: new RegExp(`^${field} `) });
      await keyboard.press('Space');
      // A key that comes while the form is drawn anew opens nothing, and is pressed again as people do.
      if (
        !(await option.waitFor({ timeout: 5000 }).then(
          () => true,
          () => false,
        ))
      ) {
        await tabTo(page, new RegExp(`^Add to ${part}`));
        await keyboard.press('Space');
      }
      await option.waitFor();
      await arrowTo(new RegExp(`^${field} `));
      await keyboard.press('Enter');
      await page.locator(`[aria-label="Add to ${field}"]:focus`).waitFor();
      for (const value of values) {
        await keyboard.type(value);
        await page
          .getByRole('option', { name: new RegExp(`^${value.replace(/[.*/]/g, '\\$&')}( |$)`) })
          .first()
          .waitFor();
        await keyboard.press('Enter');
      }
      await keyboard.press('Escape');
    }
  if (intent.inverted) {
    await tabTo(page, 'any of');
    await keyboard.press('Space');
  }
  if (intent.limit) {
    await tabTo(page, 'Match only who asks too often');
    await keyboard.press('Space');
    for (const [label, value] of [
      ['more than', intent.limit.moreThan],
      ['within', intent.limit.within],
      ['per', intent.limit.per],
    ] as const) {
      await tabTo(page, label);
      await keyboard.press('ControlOrMeta+a');
      await keyboard.type(value);
    }
  }
  if (intent.then) {
    await tabTo(page, /^Then/);
    await keyboard.press('Space');
    await page.getByRole('option', { name: intent.then }).waitFor();
    await arrowTo(new RegExp(`^${intent.then}`));
    await keyboard.press('Enter');
  }
  await tabTo(page, /^Stance/);
  await keyboard.press('Space');
  await page.getByRole('option', { name: 'enforce' }).waitFor();
  await arrowTo(/^enforce/);
  await keyboard.press('Enter');
  await page.getByText(intent.sentence).first().waitFor();
  await tabTo(page, 'Keep in the draft');
  await keyboard.press('Enter');
  if (await isFirst(name)) return;
  await tabTo(page, `What to do with ${name}`);
  await keyboard.press('Enter');
  await page.getByRole('menuitem', { name: 'To the top' }).waitFor();
  await arrowTo(/^To the top/);
  await keyboard.press('Enter');
}

/** Has what the others have, all in one, so that the keyboard reaches each control of the form. */
const ALL_CONTROLS: Intent = {
  name: 'all-controls',
  policy: 'ticket-site',
  when: [
    ['country', 'PT', 'ES'],
    ['path', '/account/sign-in*'],
  ],
  inverted: true,
  unless: [['client', 'garden-offices', '10.40.0.12']],
  limit: { moreThan: '1', within: '1d', per: 'client' },
  then: 'challenge',
  sentence: /PT.*ES.*unless the client is in garden-offices/,
};

describe.each([
  ['mouse', byMouse, INTENTS],
  ['keyboard', byKeyboard, [ALL_CONTROLS]],
] as const)('an intent written by %s', (way, write, intents) => {
  it.each(intents.map((intent) => [intent.name, intent] as const))('%s', { timeout: 90_000 }, async (_name, intent) => {
    const name = `${intent.name}-${way}`;
    await page.goto(`${service.url}/policies/${intent.policy}`);
    await page.getByRole('button', { name: 'New rule' }).waitFor();
    // With the figures the heads of the page are where they stay, so that a press meets what it is for.
    await page.getByText('requests fall in').waitFor();
    await write(intent, name);
    await page.locator('[data-rule]').first().and(rule(name)).waitFor();
    const stored = (await service.call('GET', `/api/v1/objects/policy/${intent.policy}`)).body.text as string;
    const own = /^ {2}- (rule: [\s\S]*?)(?=^ {2}- rule: )/m.exec(stored)?.[1] ?? '';
    expect(own).toContain(`rule: ${name}`);
    const expected = await proved(intent, own.replace(/\n {4}/g, '\n').replace(name, 'proof'));
    expect(expected).toBeGreaterThan(0);
    // The page orders a replay by itself when the rule has moved, and shows what came of it.
    const shown = new RegExp(`^${expected.toLocaleString('en')}\\s+decided`);
    await rule(name).getByRole('button', { name: shown }).waitFor();
    // The next one is to meet the garden as it was.
    await rule(name)
      .getByRole('button', { name: `What to do with ${name}` })
      .click();
    await page.getByRole('menuitem', { name: 'Delete' }).click();
    await rule(name).waitFor({ state: 'detached' });
  });
});

describe('rules', () => {
  it('are dragged to another place, and that is undone', async () => {
    await page.goto(`${service.url}/policies/visitor-web`);
    // Rows are where they are going to when their figures and findings are there.
    await rule('no-wagering').getByText('63 overtaken').waitFor();
    await rule('no-uploads').getByText('Warning:').waitFor();
    // Where the draft was edited before, its figures come in the place of those of the replay.
    const effect = page.getByRole('status').filter({ hasText: /^On week, / });
    await effect.waitFor({ timeout: 5000 }).catch(() => undefined);
    const first = page.locator('[data-rule]').first().and(rule('no-uploads'));
    // As who drags does: again, where rows have moved under the pointer meanwhile.
    for (let drag = 0; drag < 4 && (await first.count()) === 0; drag++) await dragToTop();
    await first.waitFor();
    await page.getByRole('button', { name: 'Undo' }).click();
    await page.locator('[data-rule]').first().and(rule('guide-tablets')).waitFor();
  });

  /** Takes the second rule up, lets go of it where it is said to be the first, and waits for what comes of it. */
  async function dragToTop(): Promise<void> {
    const from = await rule('no-uploads').getByRole('button', { name: 'Move no-uploads' }).boundingBox();
    const to = await rule('guide-tablets').boundingBox();
    if (!from || !to) throw new Error('the rules are not there');
    await page.mouse.move(from.x + 4, from.y + 4);
    await page.mouse.down();
    await page.mouse.move(from.x + 4, from.y - 30, { steps: 4 });
    const isFirst = page.getByText(/^no-uploads is held over place 1 of 7/);
    for (let y = to.y + 10; y > 0 && (await isFirst.count()) === 0; y -= 5) {
      await page.mouse.move(from.x + 4, y, { steps: 8 });
      await page.waitForTimeout(250);
    }
    await page.mouse.up();
    const first = page.locator('[data-rule]').first().and(rule('no-uploads'));
    await first.waitFor({ timeout: 5000 }).catch(() => undefined);
  }

  it('are moved with the keys by their handle', async () => {
    const said = (text: RegExp) => page.getByText(text).waitFor({ state: 'attached', timeout: 15_000 });
    await rule('no-uploads').getByRole('button', { name: 'Move no-uploads' }).focus();
    await page.keyboard.press('Space');
    await said(/^no-uploads is held over place 2 of 7\.$/);
    // A key that is pressed while rows are measured is not heard; at the top one more does nothing.
    for (
      let press = 0;
      press < 20 && (await page.getByText(/^no-uploads is held over place 1 of 7/).count()) === 0;
      press++
    ) {
      await page.keyboard.press('ArrowUp');
      await page.waitForTimeout(250);
    }
    // The same of the key that puts it down: it is pressed again where nothing came of it.
    const down = /^no-uploads is put down at place 1 of 7\.$/;
    for (let press = 0; press < 5 && (await page.getByText(down).count()) === 0; press++) {
      await page.keyboard.press('Space');
      await page
        .getByText(down)
        .waitFor({ state: 'attached', timeout: 3000 })
        .catch(() => undefined);
    }
    await said(down);
    await page.locator('[data-rule]').first().and(rule('no-uploads')).waitFor();
    await page.getByRole('button', { name: 'Undo' }).click();
    await page.locator('[data-rule]').first().and(rule('guide-tablets')).waitFor();
  });

  it('are mended by what the review finds, with one press', async () => {
    await rule('no-wagering').getByText('Move no-wagering above web-for-all.').waitFor();
    await rule('no-wagering').getByRole('button', { name: 'Do that' }).click();
    await page.locator('[data-rule="no-wagering"] + [data-rule="web-for-all"]').waitFor();
    await page
      .getByRole('status')
      .filter({ hasText: /63 of 5,000 requests change/ })
      .waitFor();
    expect(await axe(page)).toEqual([]);
    await page.getByRole('button', { name: 'Undo' }).click();
    await page.locator('[data-rule="web-for-all"] + [data-rule="no-wagering"]').waitFor();
  });

  it('say what is wrong with them as they are written, in the form and in the text', async () => {
    await page.goto(`${service.url}/policies/visitor-web?edit=no-wagering`);
    const editor = page.getByRole('region', { name: 'Edit no-wagering' });
    const text = editor.getByLabel('The same as text');
    await writeIn(text, 'rule: no-wagering\nwhen: {category: [wagring]}\nthen: block\n');
    await editor.getByRole('alert').filter({ hasText: 'did you mean wagering' }).waitFor();
    expect(await editor.getByRole('button', { name: 'Keep in the draft' }).isDisabled()).toBe(true);
    await writeIn(text, 'rule: no-wagering\nwhen: {category: [\n');
    await editor.getByRole('alert').waitFor();
    await writeIn(
      text,
      'rule: no-wagering\nwhen: {category: [wagering]}\nthen: {redirect: "https://intranet.fennelhill.example/why"}\n',
    );
    await editor.getByLabel('to', { exact: true }).waitFor();
    expect(await editor.getByLabel('to', { exact: true }).inputValue()).toBe('https://intranet.fennelhill.example/why');
    await editor
      .getByText('Send requests')
      .or(editor.getByText(/Redirect|send/i))
      .first()
      .waitFor();
    expect(await axe(page)).toEqual([]);
    await editor.getByRole('button', { name: 'Cancel' }).click();
    await page.getByRole('button', { name: 'Drop what I wrote' }).click();
  });

  it('name countries on a list beside the map, and are copied', async () => {
    await page.goto(`${service.url}/policies/ticket-site?edit=no-harvesters`);
    await page.getByRole('button', { name: /^Add to when/ }).click();
    await page.getByRole('option', { name: /^country / }).click();
    await page.getByRole('button', { name: 'Choose …' }).click();
    await page.getByRole('group', { name: 'Countries' }).getByLabel('Search').fill('portu');
    await page.getByRole('checkbox', { name: /PT/ }).click();
    await page.getByLabel('The same as text').filter({ hasText: 'country: [PT]' }).waitFor();
    expect(await axe(page)).toEqual([]);
    await page.getByRole('button', { name: 'Cancel' }).click();
    await page.getByRole('button', { name: 'Drop what I wrote' }).click();
    await rule('no-harvesters').getByRole('button', { name: 'What to do with no-harvesters' }).click();
    await page.getByRole('menuitem', { name: 'Copy' }).click();
    await rule('no-harvesters-2').waitFor();
    await page.getByRole('button', { name: 'Undo' }).click();
    await rule('no-harvesters-2').waitFor({ state: 'detached' });
  });

  it('have complained of nothing', () => {
    expect(complaints).toEqual([]);
  });
});
