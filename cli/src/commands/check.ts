import { VERDICTS, type Verdict } from '@jade-fence/core/policy';
import { Option } from 'commander';
import { chosenReplay, type WhichReplay } from '../actions/chosen-replay.js';
import { EXIT } from '../exit-code.js';
import { formatChecks } from '../output/checks.js';
import { formatOf } from '../output/of-replay.js';
import { examples, type Register, STATE_OPTION, wholeNumber } from './command.js';
import { withReplay } from './replay-option.js';

interface Given {
  readonly state?: string;
}

interface AddGiven extends WhichReplay {
  readonly request: number;
  readonly expect?: Verdict | 'uncovered';
}

export const registerCheck: Register = (program, act) => {
  program
    .command('check')
    .summary('ask probes at destinations, and hold the answers to what is expected')
    .description(
      'Runs the checks of the workspace, which are grids of probes and destinations with the answers that are expected. Ends with 1 when an answer is not as expected, so that a pipeline can stop there; says why, and which edit would mend it.',
    )
    .argument('[name]', 'only this check')
    .option('--state <state>', STATE_OPTION)
    .addHelpText('after', examples('jade-fence check', 'jade-fence check what-visitors-reach --state published'))
    .action(
      act(async ({ client, show, terminal }, name: string | undefined, { state }: Given) => {
        const answer = await client.call('GET /checks', { query: { name, state } });
        show(answer, ({ checks }) => formatChecks(checks, terminal.paint));
        return answer.failing > 0 ? EXIT.notHeld : EXIT.done;
      }),
    );

  withReplay(program.command('expect'))
    .summary('make a check of a request of a replay')
    .description(
      'Writes a request of a replay into a check of the draft: its client becomes a probe, its target a destination, and its verdict the expected one.',
    )
    .argument('<check>', 'the check; it is made where there is none of that name')
    .requiredOption('--request <number>', 'the request, by its number', wholeNumber(1, 2 ** 31 - 1))
    .addOption(
      new Option('--expect <verdict>', 'the verdict that it must have (default: the one that it had)').choices([
        ...VERDICTS,
        'uncovered',
      ]),
    )
    .addHelpText('after', examples('jade-fence expect what-visitors-reach --request 28 --expect block'))
    .action(
      act(async (context, check: string, { request, replay: id, log, expect }: AddGiven) => {
        const replay = await chosenReplay(context, { replay: id, log });
        const made = await context.client.call('POST /replays/:id/requests/:number/check', {
          params: { id: replay.id, number: request },
          body: { check, expect },
        });
        context.show(
          { of: replay, ...made },
          ({ of, check: { name }, probe }) =>
            `${formatOf(of)} Check ${name} now asks as probe ${probe}. See it by \`jade-fence check ${name}\`.`,
        );
        return undefined;
      }),
    );
};
