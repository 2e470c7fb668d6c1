import type { ChangesBody } from '@jade-fence/service/bodies';
import { readWorkspaceFiles } from '../client/workspace-files.js';
import { formatChangedObjects } from '../output/change.js';
import type { Paint } from '../output/terminal.js';
import { examples, type Register } from './command.js';

interface Given {
  readonly exact?: boolean;
  readonly dryRun?: boolean;
}

export const registerApply: Register = (program, act) => {
  program
    .command('apply')
    .summary('bring a folder of workspace files into the service')
    .description(
      'Checks the files together with what the service holds, then stores them: all of them, or, where anything does not hold, none. What the files do not speak of stays as it is.',
    )
    .argument('<path>', 'a folder of workspace files, or one file')
    .option('--exact', 'also remove what the files do not hold')
    .option('--dry-run', 'check and tell the changes, and make none')
    .addHelpText(
      'after',
      examples('jade-fence apply demo/workspace', 'jade-fence apply demo/workspace --exact --dry-run'),
    )
    .action(
      act(async ({ client, show, terminal }, path: string, { exact = false, dryRun = false }: Given) => {
        const changes = await client.put<ChangesBody>('/api/workspace', {
          files: readWorkspaceFiles(path),
          exact,
          dryRun,
        });
        show(changes, (answer) => formatChanges(answer, terminal.paint));
        return undefined;
      }),
    );
};

function formatChanges({ changes, dryRun }: ChangesBody, paint: Paint): string {
  const told = formatChangedObjects(changes, paint);
  return dryRun ? `${told} This was a dry run; nothing was stored.` : told;
}
