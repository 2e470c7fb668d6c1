import { SIDE_ROLES, type SideRole } from '@jade-fence/core/replay';
import { Option } from 'commander';
import { chosenReplay, type WhichReplay } from '../actions/chosen-replay.js';
import { noun } from '../nouns.js';
import { formatEvidence } from '../output/evidence.js';
import { examples, type Register } from './command.js';
import { type RedactGiven, withRedact } from './redact-option.js';
import { withReplay } from './replay-option.js';

interface Given extends RedactGiven, WhichReplay {
  readonly policy?: string;
  readonly role?: 'decided' | SideRole;
}

export const registerRuleTune: Register = (program, act) => {
  withReplay(withRedact(noun(program, 'rule').command('tune')))
    .summary('what a rule would stop, from whom, and at which threshold')
    .description(
      'Tells what the requests of one rule are, so that it can be tuned before it acts: who they come from and where ' +
        'they go, some that differ from each other, for a limit how many would be over at each threshold, and for a ' +
        'rule that is blind which field the log lacks.',
    )
    .argument('<rule>', 'the rule')
    .option('--policy <name>', 'the policy that it is of, where several have a rule of that name')
    .addOption(
      new Option('--role <role>', 'the requests that it did this with (default: those that show most)').choices([
        'decided',
        ...SIDE_ROLES,
      ]),
    )
    .addHelpText(
      'after',
      examples('jade-fence rule tune old-booking-calls', 'jade-fence rule tune calendar-rush --json'),
    )
    .action(
      act(async (context, rule: string, { replay: id, log, ...query }: Given) => {
        const replay = await chosenReplay(context, { replay: id, log });
        const body = await context.client.call('GET /replays/:id/evidence', {
          params: { id: replay.id },
          query: { rule, ...query },
        });
        context.show(body, (answer) => formatEvidence(answer, context.terminal));
        return undefined;
      }),
    );
};
