import type { LiveBody } from '@jade-fence/contract';
import { Option } from 'commander';
import { followDecisions } from '../actions/follow-decisions.js';
import { noun } from '../nouns.js';
import { formatDecisions } from '../output/decisions.js';
import { safe } from '../output/safe.js';
import { count, table } from '../output/table.js';
import type { Paint } from '../output/terminal.js';
import { verdictWord } from '../output/verdict.js';
import { examples, type Register, wholeNumber } from './command.js';

interface DecisionsGiven {
  readonly policy?: string;
  readonly rule?: string;
  readonly verdict?: string;
  readonly record?: string;
  readonly reference?: string;
  readonly after?: number;
  readonly limit?: number;
  readonly follow?: boolean;
}

export const registerDecision: Register = (program, act) => {
  noun(program, 'decision')
    .command('count')
    .summary('what the rules in force decided since the service started')
    .action(
      act(async ({ client, show, terminal }) => {
        show(await client.call('GET /live'), (live) => formatLive(live, terminal.paint));
        return undefined;
      }),
    );

  noun(program, 'decision')
    .command('list')
    .summary('live decisions that were recorded, the newest first')
    .option('--policy <name>', 'only of this policy')
    .option('--rule <name>', 'only by this rule, or `default`')
    .option('--verdict <verdict>', 'only with this verdict')
    .option('--record <record>', 'only `log` or only `alert`')
    .option('--reference <reference>', 'the one with the reference that a stopped client was shown')
    .option('--after <number>', 'go on after this one, with older ones', wholeNumber(1, Number.MAX_SAFE_INTEGER))
    .option('--limit <number>', 'at most this many (default: 100)', wholeNumber(1, 1000))
    .addOption(new Option('--follow', 'show new ones as they come, until interrupted').conflicts('after'))
    .addHelpText(
      'after',
      examples('jade-fence decision list --verdict block', 'jade-fence decision list --record alert'),
    )
    .action(
      act(async (context, { follow, ...query }: DecisionsGiven) => {
        const { client, show, terminal } = context;
        if (follow) return followDecisions(context, query);
        show(await client.call('GET /decisions', { query: { ...query } }), (page) => formatDecisions(page, terminal));
        return undefined;
      }),
    );
};

function formatLive({ revision, counts, unrecorded }: LiveBody, paint: Paint): string {
  if (revision === null)
    return 'No rules are in force yet. Publish the draft with `jade-fence revision publish -m WHY`.';
  const rows = counts
    .toSorted((a, b) => b.count - a.count)
    .map(({ policy, rule, verdict, role, count: many }) => [
      safe(policy ?? '–'),
      safe(rule ?? '–'),
      verdictWord(verdict, paint),
      role,
      count(many),
    ]);
  const columns = [
    ...['policy', 'rule', 'verdict', ''].map((title) => ({ title })),
    { title: 'requests', align: 'right' as const },
  ];
  return [
    `Revision ${revision} is in force.`,
    rows.length === 0 ? 'It has decided nothing yet.' : table(columns, rows, paint),
    ...(unrecorded > 0 ? [`${count(unrecorded)} decisions were too many to be recorded; they are counted here.`] : []),
  ].join('\n\n');
}
