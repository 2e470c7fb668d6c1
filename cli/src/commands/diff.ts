import { formatDifference } from '../output/change.js';
import { examples, type Register } from './command.js';

interface Given {
  readonly from?: string;
  readonly to?: string;
  readonly text?: boolean;
}

export const registerDiff: Register = (program, act) => {
  program
    .command('diff')
    .summary('what two states of the workspace do not have alike, in words')
    .description(
      'Tells what changed between two states, rule by rule and entry by entry. A state is `draft`, `published`, or the number of a revision.',
    )
    .option('--from <state>', 'the state before (default: published)')
    .option('--to <state>', 'the state after (default: draft)')
    .option('--text', 'also the lines that differ')
    .addHelpText('after', examples('jade-fence diff', 'jade-fence diff --from 3 --to published --text'))
    .action(
      act(async ({ client, show, terminal }, { from, to, text = false }: Given) => {
        const difference = await client.call('GET /differences', { query: { from, to, text } });
        show(difference, (answer) => formatDifference(answer, text, terminal.paint));
        return undefined;
      }),
    );
};
