import type { Finding } from '@jade-fence/core/review';
import { EXIT } from '../exit-code.js';
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
        const answer =
          path === undefined ? await client.call('GET /review') : { findings: await findingsOfFiles(path) };
        show(answer, ({ findings }) => formatFindings(findings, terminal.paint));
        const warned = answer.findings.some(({ severity }) => severity === 'warning');
        return strict && warned ? EXIT.notHeld : EXIT.done;
      }),
    );
};

const findingsOfFiles = async (path: string): Promise<Finding[]> =>
  (await import('../actions/review-files.js')).reviewFiles(path);
