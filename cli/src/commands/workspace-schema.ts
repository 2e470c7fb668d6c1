import { writeFileSync } from 'node:fs';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';
import { noun } from '../nouns.js';
import { safe } from '../output/safe.js';
import { examples, type Register } from './command.js';

export const registerWorkspaceSchema: Register = (program, act) => {
  noun(program, 'workspace')
    .command('schema')
    .summary('the JSON Schema of workspace files, for editors')
    .description(
      'Editors use it to complete and check workspace files as they are written. Needs no service. It knows keys and words; `workspace check` checks what they mean.',
    )
    .option('-o, --output <file>', 'the file to write it to (default: standard output)')
    .addHelpText('after', examples('jade-fence workspace schema --output workspace.schema.json'))
    .action(
      act(async ({ show, terminal }, { output }: { readonly output?: string }) => {
        const { workspaceSchema } = await import('@jade-fence/core/schema');
        const text = JSON.stringify(workspaceSchema(), null, 2);
        if (output === undefined) {
          terminal.out(text);
          return undefined;
        }
        try {
          writeFileSync(output, `${text}\n`);
        } catch (error) {
          throw failure(EXIT.notHeld, 'not-written', { to: output, message: (error as Error).message });
        }
        show({ written: output }, () => `Wrote ${safe(output)}.`);
        return undefined;
      }),
    );
};
