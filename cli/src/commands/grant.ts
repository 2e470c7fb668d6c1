import { requireConfirmed, withYes, type YesGiven } from '../actions/confirm.js';
import { noun } from '../nouns.js';
import { examples, type Register } from './command.js';

export const registerGrant: Register = (program, act) => {
  const grants = noun(program, 'grant').description(
    'A grant lets one client pass one rule for a time. Setting a passcode anew ends what was granted by it.',
  );

  withYes(grants.command('remove'))
    .summary('end all grants, by another key; for administrators')
    .addHelpText('after', examples('jade-fence grant remove', 'jade-fence grant remove --yes'))
    .action(
      act(async (context, { yes }: YesGiven) => {
        const { client, show } = context;
        const consequence = ['Clients that confirmed, or typed a passcode, would have to do so again.'];
        await requireConfirmed(context, yes, { consequence, question: 'End all grants?' });
        await client.call('POST /grants/end');
        show({ ended: true }, () => 'All grants have ended.');
        return undefined;
      }),
    );
};
