import type { ProposalBody, RevisionBody } from '@jade-fence/contract';
import type { DocumentKind } from '@jade-fence/core/text';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';
import { noun } from '../nouns.js';
import { clock, formatDifference } from '../output/change.js';
import { safe } from '../output/safe.js';
import { count, table } from '../output/table.js';
import type { Paint } from '../output/terminal.js';
import { examples, type Register, wholeNumber } from './command.js';

interface PublishGiven {
  readonly message: string;
  readonly acceptWarnings?: boolean;
  readonly draft?: number;
  readonly only?: readonly string[];
}

const whole = wholeNumber(0, 2 ** 31 - 1);

const ONLY = 'only these objects of the draft, each as its kind and name: policy/visitor-web list/home-workers';

/** The objects that are named, each by its kind and name. The service refuses a kind that is none. */
function chosen(words: readonly string[]): { readonly kind: DocumentKind; readonly name: string }[] {
  return words.map((word) => {
    const [, kind, name] = /^([^/]+)\/([^/]+)$/.exec(word) ?? [];
    if (kind !== undefined && name !== undefined) return { kind: kind as DocumentKind, name };
    throw failure(EXIT.usage, 'which-object', { word });
  });
}

export const registerPublish: Register = (program, act) => {
  noun(program, 'revision')
    .command('publish')
    .summary('put the draft in force, as the next revision')
    .description(
      'Runs the review and the checks first. Checks that fail stop it; new warnings do, unless they are accepted. A revision is never changed afterwards.',
    )
    .requiredOption('-m, --message <text>', 'why')
    .option('--accept-warnings', 'publish in spite of new warnings')
    .option('--draft <number>', 'publish only this state of the draft, as `jade-fence draft show` shows it', whole)
    .option('--only <objects...>', ONLY)
    .addHelpText('after', examples('jade-fence revision publish -m "Wagering is refused to visitors"'))
    .action(
      act(async ({ client, show }, { message, acceptWarnings, draft, only }: PublishGiven) => {
        const body = { message, acceptWarnings, draft, only: only && chosen(only) };
        const revision = await client.call('POST /revisions', { body });
        show(revision, published);
        return undefined;
      }),
    );

  registerProposal(program, act);

  noun(program, 'revision')
    .command('show')
    .summary('one revision: by whom, why, and what it changed')
    .argument('<revision>', 'its number', wholeNumber(1, 2 ** 31 - 1))
    .option('--text', 'also the lines that differ')
    .addHelpText('after', examples('jade-fence revision show 3', 'jade-fence revision show 3 --text'))
    .action(
      act(async ({ client, show, terminal }, number: number, { text = false }: { readonly text?: boolean }) => {
        const from = number === 1 ? 'nothing' : String(number - 1);
        const difference = await client.call('GET /differences', { query: { from, to: String(number), text } });
        // Without the texts of all its objects; revisions have no gaps.
        const { revisions } = await client.call('GET /revisions', { query: { after: number + 1, limit: 1 } });
        show({ ...revisions[0], ...difference }, () =>
          [formatRevisions(revisions, terminal.paint), formatDifference(difference, text, terminal.paint)].join('\n\n'),
        );
        return undefined;
      }),
    );

  noun(program, 'revision')
    .command('list')
    .summary('what was published, the newest first')
    .option('--limit <number>', 'at most this many', wholeNumber(1, 500))
    .action(
      act(async ({ client, show, terminal }, { limit }: { readonly limit?: number }) => {
        const answer = await client.call('GET /revisions', { query: { limit } });
        show(answer, ({ revisions }) => formatRevisions(revisions, terminal.paint));
        return undefined;
      }),
    );
};

const registerProposal: Register = (program, act) => {
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
      act(async ({ client, show }, { message, only }: Pick<PublishGiven, 'message' | 'only'>) => {
        const made = await client.call('POST /proposals', { body: { message, only: only && chosen(only) } });
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
        show(await client.call('POST /proposals/:id/approve', { params: { id }, body: { acceptWarnings } }), published);
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

const published = ({ revision, objects, approvedBy }: RevisionBody): string =>
  `Revision ${revision} is in force, with ${count(objects)} objects${approvedBy === null ? '' : `, approved by ${safe(approvedBy)}`}.`;

function formatRevisions(revisions: readonly RevisionBody[], paint: Paint): string {
  if (revisions.length === 0)
    return 'Nothing has been published yet. Publish the draft with `jade-fence revision publish -m WHY`.';
  const columns = [
    { title: '#', align: 'right' as const },
    ...['published', 'by', 'approved by', 'why'].map((title) => ({ title })),
  ];
  const rows = revisions.map(({ revision, publishedAt, author, approvedBy, message }) => [
    String(revision),
    clock(publishedAt),
    safe(author),
    approvedBy === null ? '·' : safe(approvedBy),
    safe(message),
  ]);
  return table(columns, rows, paint);
}

function formatProposals(proposals: readonly ProposalBody[], paint: Paint): string {
  if (proposals.length === 0) return 'Nobody has proposed anything.';
  const columns = [
    { title: '#', align: 'right' as const },
    ...['proposed', 'by', 'state', 'of', 'why'].map((title) => ({ title })),
  ];
  const rows = proposals.map(({ proposal, proposedAt, author, state, objects, message }) => [
    String(proposal),
    clock(proposedAt),
    safe(author),
    state,
    objects?.map(({ kind, name }) => `${kind}/${name}`).join(' ') ?? 'all of the draft',
    safe(message),
  ]);
  return table(columns, rows, paint);
}
