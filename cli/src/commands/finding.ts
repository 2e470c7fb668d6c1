import { prepare } from '@jade-fence/core/engine';
import { type Finding, review } from '@jade-fence/core/review';
import { readWorkspace } from '@jade-fence/core/workspace';
import { readWorkspaceFiles } from '../client/workspace-files.js';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';
import { noun } from '../nouns.js';
import { formatFindings } from '../output/findings.js';
import { examples, type Register } from './command.js';

export const registerFinding: Register = (program, act) => {
  noun(program, 'finding')
    .command('list')
    .summary('what the rules themselves cannot do, before any traffic')
    .description(
      'Finds rules that no request reaches or that contradict, conditions that can never be seen, empty lists, unused names, and more; each with its reason and the smallest edit that mends it. Reviews the draft or, with a path, files, which needs no service and no country data.',
    )
    .argument('[path]', 'a folder of workspace files, or one file')
    .option('--strict', 'end with 1 where there is a warning')
    .addHelpText('after', examples('jade-fence finding list', 'jade-fence finding list demo/workspace --strict'))
    .action(
      act(async ({ client, show, terminal }, path: string | undefined, { strict }: { readonly strict?: boolean }) => {
        const answer = path === undefined ? await client.call('GET /review') : { findings: reviewFiles(path) };
        show(answer, ({ findings }) => formatFindings(findings, terminal.paint));
        const warned = answer.findings.some(({ severity }) => severity === 'warning');
        return strict && warned ? EXIT.notHeld : EXIT.done;
      }),
    );
};

/** Files do not say which country data will be in force, so findings about it are left out. */
function reviewFiles(path: string): Finding[] {
  const { workspace, issueCount } = readWorkspace(readWorkspaceFiles(path));
  if (issueCount > 0)
    throw failure(EXIT.notHeld, 'invalid-workspace', {
      problems: issueCount === 1 ? 'a problem' : `${issueCount} problems`,
      path,
    });
  const prepared = prepare(workspace, { countryData: undefined, at: Date.now() });
  return review(prepared, { countryDate: undefined }).filter(
    ({ code }) => code !== 'no-country-data' && code !== 'no-resolutions',
  );
}
