import { noun } from '../nouns.js';
import { examples, type Register } from './command.js';

export const registerGrants: Register = (program, act) => {
  const grants = noun(program, 'grant').description(
    'A grant lets one client pass one rule for a time. Setting a passcode anew ends what was granted by it.',
  );

  grants
    .command('remove')
    .summary('end all grants, by another key; for administrators')
    .addHelpText('after', examples('jade-fence grant remove'))
    .action(
      act(async ({ client, show }) => {
        await client.call('POST /grants/end');
        show({ ended: true }, () => 'All grants have ended.');
        return undefined;
      }),
    );
};
