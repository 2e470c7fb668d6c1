import { placeOf, ruleTexts, withMoved } from '@jade-fence/core/edit';
import { Option } from 'commander';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';
import { noun } from '../nouns.js';
import { examples, type Register, wholeNumber } from './command.js';

interface MoveGiven {
  readonly above?: string;
  readonly below?: string;
  readonly to?: number;
}

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
        const { text, version } = await client.call('GET /objects/:kind/:name', { params });
        const from = placeIn(text, policy, rule);
        const to = targetOf(text, policy, from, given);
        const moved = { policy, rule, from: from + 1, to: to + 1 };
        if (from === to) {
          show({ ...moved, version }, () => `${rule} is at place ${to + 1} already.`);
          return undefined;
        }
        const stored = await client.call('PUT /objects/:kind/:name', {
          params,
          version,
          body: { text: withMoved(text, from, to) },
        });
        show(
          { ...moved, version: stored.version },
          () => `Moved ${rule} from place ${from + 1} to ${to + 1} of ${policy}.`,
        );
        return undefined;
      }),
    );
};

function placeIn(text: string, policy: string, rule: string): number {
  const place = placeOf(text, rule);
  if (place < 0) throw failure(EXIT.refused, 'no-such-rule', { policy, rule });
  return place;
}

/** The place that the rule has after the move, from 0. */
function targetOf(text: string, policy: string, from: number, { above, below, to }: MoveGiven): number {
  if (to !== undefined) {
    const last = ruleTexts(text).length - 1;
    if (to - 1 > last) throw failure(EXIT.usage, 'no-such-place', { policy, rules: last + 1 });
    return to - 1;
  }
  const other = above ?? below;
  if (other === undefined) throw failure(EXIT.usage, 'where-to');
  const place = placeIn(text, policy, other);
  // Taking the rule out moves those behind it up by one.
  const gap = above === undefined ? place + 1 : place;
  return place === from ? from : gap > from ? gap - 1 : gap;
}
