import { chosenObjects, ONLY } from '../actions/chosen-objects.js';
import { noun } from '../nouns.js';
import { formatDifference } from '../output/change.js';
import { formatProposals, formatPublished } from '../output/revision.js';
import { examples, type Register, wholeNumber } from './command.js';

interface AddGiven {
  readonly message: string;
  readonly only?: readonly string[];
}

const whole = wholeNumber(0, 2 ** 31 - 1);

export const registerProposal: Register = (program, act) => {
  const proposal = noun(program, 'proposal').description(
    'Where four eyes are required, nobody publishes their own edits; another person approves them.',
  );

  proposal
    .command('add')
    .summary('ask for the draft to be published')
    .requiredOption('-m, --message <text>', 'why')
    .option('--only <objects...>', ONLY)
    .addHelpText('after', examples('jade-fence proposal add -m "Wagering is refused" --only policy/visitor-web'))
    .action(
      act(async ({ client, show }, { message, only }: AddGiven) => {
        const made = await client.call('POST /proposals', { body: { message, only: only && chosenObjects(only) } });
        show(
          made,
          ({ proposal: id }) => `Proposal ${id} is made. Another approves it by \`jade-fence proposal approve ${id}\`.`,
        );
        return undefined;
      }),
    );

  proposal
    .command('list')
    .summary('the proposals, the newest first')
    .action(
      act(async ({ client, show, terminal }) => {
        const answer = await client.all('GET /proposals');
        show(answer, ({ proposals }) => formatProposals(proposals, terminal.paint));
        return undefined;
      }),
    );

  proposal
    .command('show')
    .summary('what a proposal would change of what is published')
    .argument('<proposal>', 'its number', whole)
    .action(
      act(async ({ client, show, terminal }, id: number) => {
        const difference = await client.call('GET /proposals/:id/differences', { params: { id } });
        show(difference, (answer) => formatDifference(answer, false, terminal.paint));
        return undefined;
      }),
    );

  proposal
    .command('approve')
    .summary('publish what another has proposed')
    .argument('<proposal>', 'its number', whole)
    .option('--accept-warnings', 'publish in spite of new warnings')
    .action(
      act(async ({ client, show }, id: number, { acceptWarnings }: { readonly acceptWarnings?: boolean }) => {
        show(
          await client.call('POST /proposals/:id/approve', { params: { id }, body: { acceptWarnings } }),
          formatPublished,
        );
        return undefined;
      }),
    );

  proposal
    .command('withdraw')
    .summary('take a proposal back')
    .argument('<proposal>', 'its number', whole)
    .action(
      act(async ({ client, show }, id: number) => {
        show(
          await client.call('POST /proposals/:id/withdraw', { params: { id } }),
          () => `Proposal ${id} is withdrawn.`,
        );
        return undefined;
      }),
    );
};
