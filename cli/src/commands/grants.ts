import { examples, type Register } from './command.js';

export const registerGrants: Register = (program, act) => {
  const grants = program
    .command('grants')
    .summary('what clients may do because they said yes, solved a challenge or gave a passcode')
    .description(
      'A grant lets one client pass one rule for a time. Setting a passcode anew ends what was granted by it.',
    );

  grants
    .command('end')
    .summary('end all grants, by another key; for administrators')
    .addHelpText('after', examples('jade-fence grants end'))
    .action(
      act(async ({ client, show }) => {
        await client.call('POST /grants/end');
        show({ ended: true }, () => 'All grants have ended.');
        return undefined;
      }),
    );
};
