import type { DocumentKind } from '@jade-fence/core/text';
import { chosenObjects, ONLY } from '../actions/chosen-objects.js';
import { requireConfirmed, withYes, type YesGiven } from '../actions/confirm.js';
import { lostEdits } from '../actions/lost-edits.js';
import { noun } from '../nouns.js';
import { formatChangedObjects, formatDifference } from '../output/change.js';
import { formatPublished, formatRevisions } from '../output/revision.js';
import { examples, type Register, wholeNumber } from './command.js';

interface PublishGiven {
  readonly message: string;
  readonly acceptWarnings?: boolean;
  readonly draft?: number;
  readonly only?: readonly string[];
}

const whole = wholeNumber(0, 2 ** 31 - 1);
const revisionNumber = wholeNumber(1, 2 ** 31 - 1);

export const registerRevision: Register = (program, act) => {
  const revision = noun(program, 'revision');

  revision
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
        const body = { message, acceptWarnings, draft, only: only && chosenObjects(only) };
        const made = await client.call('POST /revisions', { body });
        show(made, formatPublished);
        return undefined;
      }),
    );

  revision
    .command('show')
    .summary('one revision: by whom, why, and what it changed')
    .argument('<revision>', 'its number', revisionNumber)
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

  revision
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

  withYes(revision.command('restore'))
    .summary('fetch a revision, or one object of it, back into the draft')
    .argument('<revision>', 'its number', revisionNumber)
    .argument('[kind]', 'only this object: its kind')
    .argument('[name]', 'and its name')
    .addHelpText('after', examples('jade-fence revision restore 3', 'jade-fence revision restore 3 list edge-proxies'))
    .action(
      act(async (context, revision: number, kind: string | undefined, name: string | undefined, { yes }: YesGiven) => {
        const only = { kind: kind as DocumentKind | undefined, name };
        const { draft, words } = await lostEdits(context, only, revision);
        const consequence = ['These edits of the draft would be gone:', ...words];
        if (words.length > 0) await requireConfirmed(context, yes, { consequence, question: 'Restore all the same?' });
        const answer = await context.client.call('POST /draft/restore', { body: { ...only, revision, draft } });
        context.show(answer, ({ changes }) => formatChangedObjects(changes, context.terminal.paint));
        return undefined;
      }),
    );
};
