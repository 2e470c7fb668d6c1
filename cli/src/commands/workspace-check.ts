import { readWorkspaceFiles } from '../client/workspace-files.js';
import { EXIT } from '../exit-code.js';
import { noun } from '../nouns.js';
import { formatIssues } from '../output/issues.js';
import { examples, type Register } from './command.js';

export const registerWorkspaceCheck: Register = (program, act) => {
  noun(program, 'workspace')
    .command('check')
    .summary('check workspace files without a service')
    .description(
      'Reads workspace files and lists every problem at once, with its line and a remedy. Ends with 0 when the files are valid and with 1 when they are not.',
    )
    .argument('<path>', 'a folder of workspace files, or one file')
    .addHelpText(
      'after',
      examples(
        'jade-fence workspace check demo/workspace',
        'jade-fence workspace check policies/ticket-site.yaml --json',
      ),
    )
    .action(
      act(async ({ show, terminal }, path: string) => {
        const { readWorkspace } = await import('@jade-fence/core/workspace');
        const { documents, issues, issueCount } = readWorkspace(readWorkspaceFiles(path));
        const answer = {
          valid: issueCount === 0,
          documents: documents.map(({ kind, name, file }) => ({ kind, name, file })),
          issueCount,
          issues,
        };
        show(answer, () => {
          const plural = (number: number, word: string) => `${number} ${word}${number === 1 ? '' : 's'}`;
          const held = `${plural(documents.length, 'document')} read, ${plural(issueCount, 'problem')}.`;
          return issueCount === 0 ? held : `${formatIssues(issues, terminal.paint)}\n\n${held}`;
        });
        return issueCount === 0 ? EXIT.done : EXIT.notHeld;
      }),
    );
};
