import { noun } from '../nouns.js';
import { formatEffective } from '../output/effective.js';
import { examples, type Register, STATE_OPTION } from './command.js';

interface Given {
  readonly policy?: string;
  readonly state?: string;
}

export const registerClient: Register = (program, act) => {
  noun(program, 'client')
    .command('show')
    .summary('what the policies can do to one client')
    .description(
      'Takes a client, and lists for every policy that it can meet the rules that can apply to it, in order, without the conditions that always hold for it.',
    )
    .argument('<client>', 'a probe by its name, or an address')
    .option('--policy <name>', 'only this policy')
    .option('--state <state>', STATE_OPTION)
    .addHelpText(
      'after',
      examples('jade-fence client show visitor-phone', 'jade-fence client show 10.40.8.7 --policy visitor-web'),
    )
    .action(
      act(async ({ client, show, terminal }, whom: string, { policy, state }: Given) => {
        const who = /[.:]/.test(whom) ? { client: whom } : { probe: whom };
        const answer = await client.call('GET /effective', { query: { ...who, policy, state } });
        show(answer, (body) => formatEffective(body, terminal.paint));
        return undefined;
      }),
    );
};
