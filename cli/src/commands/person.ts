import { type PersonBody, ROLES, type Role } from '@jade-fence/contract';
import { Option } from 'commander';
import { askPassword, askPasswordChange } from '../actions/ask-password.js';
import { requireConfirmed, withYes, type YesGiven } from '../actions/confirm.js';
import { noun } from '../nouns.js';
import { clock } from '../output/change.js';
import { table } from '../output/table.js';
import type { Paint } from '../output/terminal.js';
import { examples, type Register } from './command.js';

interface Given {
  readonly role?: Role;
  readonly password?: boolean;
  readonly disable?: boolean;
  readonly enable?: boolean;
  readonly seesAddresses?: 'on' | 'off';
}

const roleOption = () =>
  new Option('--role <role>', 'what they may do, each all that the ones before may too').choices(ROLES);
const PASSWORD = ['--password', 'ask for a password; standard input gives it where there is no terminal'] as const;

export const registerPerson: Register = (program, act) => {
  const person = noun(program, 'person').description(
    'Viewers look; editors change the draft, import and replay; publishers publish; administrators also care for people and settings.',
  );

  person
    .command('add')
    .summary('add a person')
    .argument('<name>', 'the name that they sign in with')
    .addOption(roleOption().default('viewer'))
    .option(...PASSWORD)
    .addHelpText('after', examples('jade-fence person add ines --role editor --password'))
    .action(
      act(async ({ client, show }, name: string, { role = 'viewer', password }: Given) => {
        const secret = password ? await askPassword() : undefined;
        const added = await client.call('POST /people', { body: { name, role, password: secret } });
        show(added, () => `Added ${name} as ${added.role}.`);
        return undefined;
      }),
    );

  person
    .command('password')
    .summary('change your own password; standard input has the current one and the new one, a line each')
    .addHelpText('after', examples('jade-fence person password'))
    .action(
      act(async ({ client, show }) => {
        await client.call('PUT /me/password', { body: await askPasswordChange() });
        show({ changed: true }, () => 'Your password is changed.');
        return undefined;
      }),
    );

  person
    .command('list')
    .summary('everyone who may sign in')
    .action(
      act(async ({ client, show, terminal }) => {
        const answer = await client.all('GET /people');
        show(answer, ({ people }) => formatPeople(people, terminal.paint));
        return undefined;
      }),
    );

  person
    .command('set')
    .summary('change a person’s role or password, or whether they may sign in')
    .argument('<name>', 'the person')
    .addOption(roleOption())
    .option(...PASSWORD)
    .option('--disable', 'they may not sign in')
    .addOption(new Option('--enable', 'they may sign in again').conflicts('disable'))
    .addOption(
      new Option(
        '--sees-addresses <on-or-off>',
        'they may see addresses that policies replace by pseudonyms; each use is recorded in the audit',
      ).choices(['on', 'off']),
    )
    .action(
      act(async ({ client, show }, name: string, { role, password, disable, enable, seesAddresses }: Given) => {
        const secret = password ? await askPassword() : undefined;
        const disabled = disable ? true : enable ? false : undefined;
        const changed = await client.call('PATCH /people/:name', {
          params: { name },
          body: { role, password: secret, disabled, seesAddresses: seesAddresses && seesAddresses === 'on' },
        });
        show(changed, (body) => `${name} is ${[body.role, ...rightsOf(body)].join(', and ')}.`);
        return undefined;
      }),
    );

  withYes(person.command('remove'))
    .summary('remove a person with their tokens')
    .argument('<name>', 'the person')
    .action(
      act(async (context, name: string, { yes }: YesGiven) => {
        const { client, show } = context;
        const consequence = [`${name} could not sign in any more, and the tokens of ${name} would be useless.`];
        await requireConfirmed(context, yes, { consequence, question: `Remove ${name}?` });
        await client.call('DELETE /people/:name', { params: { name } });
        show({ removed: name }, () => `Removed ${name}.`);
        return undefined;
      }),
    );
};

const rightsOf = ({ disabled, seesAddresses }: PersonBody): string[] => [
  ...(seesAddresses ? ['may ask about addresses'] : []),
  ...(disabled ? ['may not sign in'] : []),
];

function formatPeople(people: readonly PersonBody[], paint: Paint): string {
  const rows = people.map(({ name, role, disabled, seesAddresses, password, createdAt }) => [
    name,
    role,
    disabled ? 'may not' : password ? 'with a password' : 'with tokens',
    seesAddresses ? 'yes' : '·',
    clock(createdAt),
  ]);
  return table(
    ['name', 'role', 'signs in', 'asks about addresses', 'added'].map((title) => ({ title })),
    rows,
    paint,
  );
}
