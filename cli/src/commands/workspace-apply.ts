import type { AppliedBody } from '@jade-fence/contract';
import { confirmed } from '../actions/confirm.js';
import { readWorkspaceFiles } from '../client/workspace-files.js';
import { Failure } from '../failure.js';
import { noun } from '../nouns.js';
import { formatChangedObjects } from '../output/change.js';
import { safe } from '../output/safe.js';
import type { Paint } from '../output/terminal.js';
import { examples, type Register } from './command.js';

interface Given {
  readonly exact?: boolean;
  readonly dryRun?: boolean;
  readonly overwrite?: boolean;
}

export const registerWorkspaceApply: Register = (program, act) => {
  noun(program, 'workspace')
    .command('apply')
    .summary('bring a folder of workspace files into the service')
    .description(
      'Checks the files together with the draft, then stores them: all of them, or none when anything is invalid. Objects that are not in the files stay. Edits made in the service since files were last applied, and that the files do not have, are listed and only undone on request.',
    )
    .argument('<path>', 'a folder of workspace files, or one file')
    .option('--exact', 'also remove objects that are not in the files')
    .option('--dry-run', 'check and show the changes, and make none')
    .option('--overwrite', 'undo what was edited in the service since files were last applied, too')
    .addHelpText(
      'after',
      examples(
        'jade-fence workspace apply demo/workspace',
        'jade-fence workspace apply demo/workspace --exact --dry-run',
      ),
    )
    .action(
      act(async (context, path: string, { exact = false, dryRun = false, overwrite = false }: Given) => {
        const { client, show, terminal } = context;
        const body = { files: readWorkspaceFiles(path), exact, dryRun };
        const apply = (all: boolean) => client.call('PUT /workspace', { body: { ...body, overwrite: all } });
        const applied = await apply(overwrite).catch(async (error) => {
          if (!(error instanceof Failure && error.body.code === 'would-overwrite')) throw error;
          const lost = (error.body.issues ?? []).map(({ path: of, what }) => `${of}: ${what}`);
          const failure = { ...error.body, remedy: REMEDY };
          const asked = { question: 'Apply the files all the same?', consequence: [error.body.detail, ...lost] };
          if (!(await confirmed(context, asked))) throw new Failure(error.exitCode, failure);
          return apply(true);
        });
        show(applied, (answer) => formatChanges(answer, terminal.paint));
        return undefined;
      }),
    );
};

const REMEDY = 'Bring the edits into the files, as `jade-fence workspace pull` does, or apply them with `--overwrite`.';

function formatChanges({ changes, overwritten, dryRun }: AppliedBody, paint: Paint): string {
  const shown = formatChangedObjects(changes, paint);
  const lost = overwritten.flatMap((each) =>
    each.lost.map((what) => `${paint.yellow('!')} ${safe(`${each.kind} ${each.name}: ${what}`)}`),
  );
  const head = dryRun ? `${shown} This was a dry run; nothing was stored.` : shown;
  if (lost.length === 0) return head;
  const tense = dryRun ? 'Applied, the files would undo what was edited here:' : 'What was edited here and is undone:';
  return [head, tense, ...lost].join('\n');
}
