import { VERDICTS, type Verdict } from '@jade-fence/core/policy';
import { Option } from 'commander';
import { chosenReplay, type WhichReplay } from '../actions/chosen-replay.js';
import { watchChecks } from '../actions/watch-checks.js';
import { EXIT } from '../exit-code.js';
import { noun } from '../nouns.js';
import { formatChecks } from '../output/checks.js';
import { formatOf } from '../output/of-replay.js';
import { formatObjects } from '../output/workspace.js';
import { examples, type Register, STATE_OPTION, wholeNumber } from './command.js';
import { withReplay } from './replay-option.js';

const NONE = 'The draft has no check. Make one of a request with `jade-fence check add CHECK --request NUMBER`.';

interface Given {
  readonly state?: string;
  /** The seconds between two runs; true for the usual. */
  readonly watch?: number | true;
}

interface AddGiven extends WhichReplay {
  readonly request: number;
  readonly expect?: Verdict | 'uncovered';
}

export const registerCheck: Register = (program, act) => {
  const check = noun(program, 'check');

  check
    .command('list')
    .summary('all checks of the draft')
    .action(
      act(async ({ client, show, terminal }) => {
        const checks = (await client.call('GET /workspace')).objects.filter(({ kind }) => kind === 'check');
        show({ checks }, () => (checks.length === 0 ? NONE : formatObjects(checks, terminal.paint)));
        return undefined;
      }),
    );

  check
    .command('run')
    .summary('ask probes at destinations, and hold the answers to what is expected')
    .description(
      'Runs the checks of the workspace, which are grids of probes and destinations with the answers that are expected. Ends with 1 when an answer is not as expected, so that a pipeline can stop there; says why, and which edit would mend it.',
    )
    .argument('[name]', 'only this check')
    .option('--state <state>', STATE_OPTION)
    .option('--watch [seconds]', 'run them again every so often (default: 5), until interrupted', wholeNumber(1, 3600))
    .addHelpText(
      'after',
      examples(
        'jade-fence check run',
        'jade-fence check run --state published --watch',
        'jade-fence check run what-visitors-reach --state published',
      ),
    )
    .action(
      act(async (context, name: string | undefined, { state, watch }: Given) => {
        const { client, show, terminal } = context;
        if (watch !== undefined) return watchChecks(context, { name, state }, watch === true ? 5 : watch);
        const answer = await client.call('GET /checks', { query: { name, state } });
        show(answer, ({ checks }) => formatChecks(checks, terminal.paint));
        return answer.failing > 0 ? EXIT.notHeld : EXIT.done;
      }),
    );

  withReplay(check.command('add'))
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
    .addHelpText('after', examples('jade-fence check add what-visitors-reach --request 28 --expect block'))
    .action(
      act(async (context, name: string, { request, replay: id, log, expect }: AddGiven) => {
        const replay = await chosenReplay(context, { replay: id, log });
        const made = await context.client.call('POST /replays/:id/requests/:number/check', {
          params: { id: replay.id, number: request },
          body: { check: name, expect },
        });
        context.show(
          { of: replay, ...made },
          ({ of, check: { name }, probe }) =>
            `${formatOf(of)} Check ${name} now asks as probe ${probe}. See it by \`jade-fence check run ${name}\`.`,
        );
        return undefined;
      }),
    );
};
