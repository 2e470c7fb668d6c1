import type { DifferenceBody, DraftBody } from '@jade-fence/contract';
import type { DocumentKind } from '@jade-fence/core/text';
import { requireConfirmed, withYes, type YesGiven } from '../actions/confirm.js';
import { lostEdits } from '../actions/lost-edits.js';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';
import { noun } from '../nouns.js';
import { formatChangedObjects, formatDifference } from '../output/change.js';
import { formatChecks } from '../output/checks.js';
import { formatFindings } from '../output/findings.js';
import type { Paint } from '../output/terminal.js';
import { examples, type Register } from './command.js';

interface DiscardGiven extends YesGiven {
  readonly all?: boolean;
}

export const registerDraft: Register = (program, act) => {
  noun(program, 'draft')
    .command('show')
    .summary('what was edited since the last publish, by whom, and whether it can be published')
    .addHelpText('after', examples('jade-fence draft show', 'jade-fence draft show --json'))
    .action(
      act(async (context) => {
        const draft = await context.client.call('GET /draft');
        const difference = await context.client.call('GET /differences');
        context.show({ ...draft, ...difference }, () => formatDraft(draft, difference, context.terminal.paint));
        return undefined;
      }),
    );

  withYes(noun(program, 'draft').command('discard'))
    .summary('take back edits: one object, or all')
    .description('Makes one object of the draft, or with --all every one, what is published.')
    .argument('[kind]', 'the kind of the object, such as `policy` or `list`')
    .argument('[name]', 'its name')
    .option('--all', 'every edit since the last publish')
    .addHelpText('after', examples('jade-fence draft discard policy visitor-web', 'jade-fence draft discard --all'))
    .action(
      act(async (context, kind: string | undefined, name: string | undefined, given: DiscardGiven) => {
        if ((name === undefined) === (given.all !== true)) throw failure(EXIT.usage, 'what-to-discard');
        // The service refuses a kind that is none.
        const only = { kind: kind as DocumentKind | undefined, name };
        const { draft, words } = await lostEdits(context, only);
        const consequence = ['These edits of the draft would be gone:', ...words];
        if (words.length > 0) await requireConfirmed(context, given.yes, { consequence, question: 'Discard them?' });
        const answer = await context.client.call('POST /draft/discard', { body: { ...only, draft } });
        context.show(answer, ({ changes }) => formatChangedObjects(changes, context.terminal.paint));
        return undefined;
      }),
    );
};

function formatDraft(draft: DraftBody, difference: DifferenceBody, paint: Paint): string {
  const { published, changed, newFindings, checks, proposals } = draft;
  const since = published === null ? 'Nothing has been published yet.' : `Revision ${published} is in force.`;
  if (!changed) return `${since} The draft is the same.`;
  const open = proposals.map(
    ({ proposal, author, message, state }) =>
      `Proposal ${proposal} by ${author}${state === 'stale' ? ' (the draft has changed since)' : ''}: ${message}`,
  );
  return [
    since,
    formatDifference(difference, false, paint),
    newFindings.length === 0
      ? 'The review has no new findings.'
      : `New in the review:\n\n${formatFindings(newFindings, paint)}`,
    formatChecks(checks, paint),
    ...open,
  ].join('\n\n');
}
