import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';
import { noun } from '../nouns.js';
import { clock } from '../output/change.js';
import { safe } from '../output/safe.js';
import { table } from '../output/table.js';
import { examples, type Register, wholeNumber } from './command.js';

export const registerSession: Register = (program, act) => {
  const sessions = noun(program, 'session');

  sessions
    .command('list')
    .summary('all of them')
    .action(
      act(async ({ client, show, terminal }) => {
        show(await client.all('GET /me/sessions'), ({ sessions: all }) => {
          if (all.length === 0) return 'You have no sessions.';
          const columns = [
            { title: '#', align: 'right' as const },
            ...['from', 'opened', 'used', 'browser'].map((title) => ({ title })),
          ];
          const rows = all.map(({ session, from, openedAt, usedAt, agent }) => [
            ...[String(session), safe(from), clock(openedAt), clock(usedAt), safe(agent)],
          ]);
          return table(columns, rows, terminal.paint);
        });
        return undefined;
      }),
    );

  sessions
    .command('remove')
    .summary('end a session, or with --all every one')
    .argument('[number]', 'its number', wholeNumber(1, 2 ** 31 - 1))
    .option('--all', 'sign out everywhere')
    .addHelpText('after', examples('jade-fence session remove 12', 'jade-fence session remove --all'))
    .action(
      act(async ({ client, show }, id: number | undefined, { all }: { readonly all?: boolean }) => {
        if ((id === undefined) !== (all === true)) throw failure(EXIT.usage, 'usage/sessions');
        await (id === undefined
          ? client.call('DELETE /me/sessions')
          : client.call('DELETE /me/sessions/:id', { params: { id } }));
        show({ ended: all ? 'all' : id }, () => (all ? 'Signed out everywhere.' : `Session ${id} has ended.`));
        return undefined;
      }),
    );
};
