import { ROLES, type Role, type TokenBody } from '@jade-fence/contract';
import { Option } from 'commander';
import { requireConfirmed, withYes, type YesGiven } from '../actions/confirm.js';
import { noun } from '../nouns.js';
import { clock } from '../output/change.js';
import { safe } from '../output/safe.js';
import { table } from '../output/table.js';
import type { Paint } from '../output/terminal.js';
import { examples, type Register, wholeNumber } from './command.js';

interface MakeGiven {
  readonly role?: Role;
  readonly expires?: string;
  readonly gateway?: boolean;
}

export const registerToken: Register = (program, act) => {
  const token = noun(program, 'token').description(
    'A token may do at most what its role may, and never more than you. Its key is shown only once.',
  );

  token
    .command('add')
    .summary('make a token, and print its key')
    .argument('<name>', 'what it is for')
    .addOption(new Option('--role <role>', 'what it may do at most (default: what you may)').choices(ROLES))
    .option('--gateway', 'it makes live decisions, and may do nothing else; for administrators')
    .option('--expires <time>', 'until when it holds, 366 days at most (default: 90 days, for a gateway 366)')
    .addHelpText(
      'after',
      examples(
        'jade-fence token add pipeline --role editor --expires 2027-06-01',
        'jade-fence token add front-gate --gateway',
      ),
    )
    .action(
      act(async ({ client, show }, name: string, { role, expires, gateway }: MakeGiven) => {
        const kind = gateway ? 'gateway' : undefined;
        const made = await client.call('POST /tokens', { body: { name, kind, role, expires } });
        show(made, ({ secret }) => String(secret));
        return undefined;
      }),
    );

  token
    .command('list')
    .summary('your tokens')
    .option('--all', 'those of everyone; for administrators')
    .action(
      act(async ({ client, show, terminal }, { all }: { readonly all?: boolean }) => {
        const answer = await client.all('GET /tokens', { query: { all } });
        show(answer, ({ tokens }) => formatTokens(tokens, terminal.paint));
        return undefined;
      }),
    );

  withYes(token.command('remove'))
    .summary('make a token useless')
    .argument('<number>', 'its number', wholeNumber(1, 2 ** 31 - 1))
    .action(
      act(async (context, id: number, { yes }: YesGiven) => {
        const { client, show } = context;
        const consequence = [`Whatever uses token ${id} would be refused from now on; the token cannot be had back.`];
        await requireConfirmed(context, yes, { consequence, question: 'Delete it?' });
        await client.call('DELETE /tokens/:id', { params: { id } });
        show({ deleted: id }, () => `Deleted token ${id}.`);
        return undefined;
      }),
    );
};

function formatTokens(tokens: readonly TokenBody[], paint: Paint): string {
  if (tokens.length === 0) return 'You have no tokens.';
  const columns = [
    { title: '#', align: 'right' as const },
    ...['token', 'of', 'role', 'expires', 'last used'].map((title) => ({ title })),
  ];
  const rows = tokens.map(({ token, name, person, role, expiresAt, usedAt }) => [
    String(token),
    safe(name),
    person === null ? 'a gateway' : safe(person),
    role ?? '·',
    expiresAt === null ? 'never' : clock(expiresAt),
    clock(usedAt),
  ]);
  return table(columns, rows, paint);
}
