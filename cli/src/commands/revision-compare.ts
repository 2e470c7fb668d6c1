import { noun } from '../nouns.js';
import { formatDifference } from '../output/change.js';
import { examples, type Register } from './command.js';

interface Given {
  readonly text?: boolean;
}

export const registerRevisionCompare: Register = (program, act) => {
  noun(program, 'revision')
    .command('compare')
    .summary('what two states of the workspace do not have alike, in words')
    .description(
      'Shows what changed between two states, rule by rule and entry by entry. A state is `draft`, `published`, the number of a revision, or `nothing`, which was before the first publish.',
    )
    .argument('[before]', 'the state before (default: published)')
    .argument('[after]', 'the state after (default: draft)')
    .option('--text', 'also the lines that differ')
    .addHelpText('after', examples('jade-fence revision compare', 'jade-fence revision compare 3 published --text'))
    .action(
      act(
        async (
          { client, show, terminal },
          before: string | undefined,
          after: string | undefined,
          { text = false }: Given,
        ) => {
          const difference = await client.call('GET /differences', { query: { from: before, to: after, text } });
          show(difference, (answer) => formatDifference(answer, text, terminal.paint));
          return undefined;
        },
      ),
    );
};
