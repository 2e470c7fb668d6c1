import { Option } from 'commander';
import type { MoveGiven } from '../actions/move-rule.js';
import { noun } from '../nouns.js';
import { examples, type Register, wholeNumber } from './command.js';

export const registerRuleMove: Register = (program, act) => {
  noun(program, 'rule')
    .command('move')
    .summary('move a rule of the draft above or below another')
    .description('Moves a rule with the comments right above it. All else of the policy stays to the letter.')
    .argument('<policy>', 'the policy')
    .argument('<rule>', 'the rule')
    .addOption(new Option('--above <rule>', 'above this rule').conflicts(['below', 'to']))
    .addOption(new Option('--below <rule>', 'below this rule').conflicts(['above', 'to']))
    .addOption(
      new Option('--to <place>', 'to this place, from 1')
        .argParser(wholeNumber(1, 100_000))
        .conflicts(['above', 'below']),
    )
    .addHelpText(
      'after',
      examples(
        'jade-fence rule move visitor-web no-wagering --above web-for-all',
        'jade-fence rule move visitor-web no-wagering --to 1',
      ),
    )
    .action(
      act(async ({ client, show }, policy: string, rule: string, given: MoveGiven) => {
        const params = { kind: 'policy', name: policy } as const;
        const { text: before, version } = await client.call('GET /objects/:kind/:name', { params });
        const { movedRule } = await import('../actions/move-rule.js');
        const { text, from, to } = movedRule(before, policy, rule, given);
        const moved = { policy, rule, from: from + 1, to: to + 1 };
        if (from === to) {
          show({ ...moved, version }, () => `${rule} is at place ${to + 1} already.`);
          return undefined;
        }
        const stored = await client.call('PUT /objects/:kind/:name', {
          params,
          version,
          body: { text },
        });
        show(
          { ...moved, version: stored.version },
          () => `Moved ${rule} from place ${from + 1} to ${to + 1} of ${policy}.`,
        );
        return undefined;
      }),
    );
};
