import { noun } from '../nouns.js';
import { formatUsage, isUnused } from '../output/usage.js';
import { examples, type Register, wholeNumber } from './command.js';

interface UsageGiven {
  readonly days?: number;
  readonly unused?: boolean;
}

/** As many days as the service keeps. */
const MOST_DAYS = 400;

export const registerRuleUsage: Register = (program, act) => {
  noun(program, 'rule')
    .command('usage')
    .summary('what live decisions each rule made in the last days, and when its last was')
    .description(
      'Counts the live decisions that rules made, day by day of UTC, whichever service made them and however often it ' +
        'was started anew. A rule is known by its name: one that is renamed begins to count anew.',
    )
    .argument('[policy]', 'only the rules of this policy')
    .option('--days <number>', 'days back from now (default: 30)', wholeNumber(1, MOST_DAYS))
    .option('--unused', 'only rules that neither decided nor observed anything in these days')
    .addHelpText('after', examples('jade-fence rule usage', 'jade-fence rule usage ticket-site --days 90 --unused'))
    .action(
      act(async ({ client, show, terminal }, policy: string | undefined, { days, unused = false }: UsageGiven) => {
        const usage = await client.call('GET /usage', { query: { policy, days } });
        const rules = unused ? usage.rules.filter(isUnused) : usage.rules;
        show({ ...usage, rules }, (shown) => formatUsage(shown, terminal.paint));
        return undefined;
      }),
    );
};
