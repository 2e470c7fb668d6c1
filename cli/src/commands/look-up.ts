import { noun } from '../nouns.js';
import { formatLookUp } from '../output/lookup.js';
import { examples, type Register, STATE_OPTION } from './command.js';

export const registerLookUp: Register = (program, act) => {
  noun(program, 'look-up')
    .command('show')
    .summary('everything that is known of an address, host, URL or user')
    .description(
      'Shows its normal form, its addresses and where these are, which data says so, the lists with the entry that holds it, its categories and applications, the policies that speak for it, and the rules that can concern it.',
    )
    .argument('<value>', 'an address, a host, a URL or a user')
    .option('--log <log>', 'count in this log what a rule about the host, its addresses or its country would stop')
    .option('--state <state>', STATE_OPTION)
    .addHelpText(
      'after',
      examples(
        'jade-fence look-up show 198.18.97.3',
        'jade-fence look-up show odds.meadowbet.example',
        'jade-fence look-up show www.visit-portugal.example --log week',
        'jade-fence look-up show user:ines',
      ),
    )
    .action(
      act(
        async (
          { client, show, terminal },
          of: string,
          { state, log }: { readonly state?: string; readonly log?: string },
        ) => {
          const found = await client.call('GET /look-up', { query: { of, state, log } });
          show(found, (answer) => formatLookUp(answer, terminal.paint));
          return undefined;
        },
      ),
    );
};
