import type { ProposalBody, RevisionBody, VersionBody } from '@jade-fence/contract';
import type { DocumentKind } from '@jade-fence/core/text';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';
import { clock, formatDifference } from '../output/change.js';
import { safe, safeLines } from '../output/safe.js';
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
  program
    .command('publish')
    .summary('put the draft in force, as the next revision')
    .description(
      'Runs the review and the checks first. Checks that fail stop it; new warnings do, unless they are accepted. A revision is never changed afterwards.',
    )
    .requiredOption('-m, --message <text>', 'why')
    .option('--accept-warnings', 'publish in spite of new warnings')
    .option('--draft <number>', 'publish only this state of the draft, as `jade-fence draft` shows it', whole)
    .option('--only <objects...>', ONLY)
    .addHelpText('after', examples('jade-fence publish -m "Wagering is refused to visitors"'))
    .action(
      act(async ({ client, show }, { message, acceptWarnings, draft, only }: PublishGiven) => {
        const body = { message, acceptWarnings, draft, only: only && chosen(only) };
        const revision = await client.call('POST /revisions', { body });
        show(revision, published);
        return undefined;
      }),
    );

  registerProposal(program, act);

  program
    .command('revisions')
    .summary('what was published, the newest first')
    .option('--limit <number>', 'at most this many', wholeNumber(1, 500))
    .action(
      act(async ({ client, show, terminal }, { limit }: { readonly limit?: number }) => {
        const answer = await client.call('GET /revisions', { query: { limit } });
        show(answer, ({ revisions }) => formatRevisions(revisions, terminal.paint));
        return undefined;
      }),
    );

  program
    .command('history')
    .summary('every state that one object had')
    .argument('<kind>', 'its kind, such as `policy` or `list`')
    .argument('<name>', 'its name')
    .addHelpText('after', examples('jade-fence history policy visitor-web', 'jade-fence history list edge-proxies'))
    .action(
      act(async ({ client, show, terminal }, kind: string, name: string) => {
        const answer = await client.all('GET /objects/:kind/:name/versions', { params: { kind, name } });
        show(answer, ({ versions }) => formatVersions(versions, terminal.paint));
        return undefined;
      }),
    );

  program
    .command('object')
    .summary('print the text of one object: of the draft, or as it was in a version')
    .argument('<kind>', 'its kind, such as `policy` or `list`')
    .argument('<name>', 'its name')
    .option('--at <version>', 'as it was in this version, as `history` numbers them', wholeNumber(1, 2 ** 31 - 1))
    .action(
      act(async ({ client, show }, kind: string, name: string, { at }: { readonly at?: number }) => {
        const object =
          at === undefined
            ? await client.call('GET /objects/:kind/:name', { params: { kind, name } })
            : await client.call('GET /objects/:kind/:name/versions/:number', { params: { kind, name, number: at } });
        show(object, ({ text }) => safeLines(text));
        return undefined;
      }),
    );
};

const registerProposal: Register = (program, act) => {
  const proposal = program
    .command('proposal')
    .summary('have a draft published by a second person')
    .description('Where four eyes are required, nobody publishes their own edits; another person approves them.');

  proposal
    .command('make')
    .summary('ask for the draft to be published')
    .requiredOption('-m, --message <text>', 'why')
    .option('--only <objects...>', ONLY)
    .addHelpText('after', examples('jade-fence proposal make -m "Wagering is refused" --only policy/visitor-web'))
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
    return 'Nothing has been published yet. Publish the draft with `jade-fence publish -m WHY`.';
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

function formatVersions(versions: readonly VersionBody[], paint: Paint): string {
  const columns = [
    { title: 'version', align: 'right' as const },
    ...['changed', 'by', 'in revisions'].map((title) => ({ title })),
  ];
  const rows = versions.map(({ version, changedAt, changedBy, revisions }) => [
    String(version),
    clock(changedAt),
    safe(changedBy ?? '–'),
    revisions.length === 0 ? '·' : spans(revisions),
  ]);
  return table(columns, rows, paint);
}

/** «1–3, 5». */
function spans(numbers: readonly number[]): string {
  const runs: [number, number][] = [];
  for (const number of numbers) {
    const last = runs.at(-1);
    if (last && last[1] === number - 1) last[1] = number;
    else runs.push([number, number]);
  }
  return runs.map(([first, last]) => (first === last ? String(first) : `${first}–${last}`)).join(', ');
}
