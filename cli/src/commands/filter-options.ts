import { VERDICTS } from '@jade-fence/core/policy';
import { SIDE_ROLES } from '@jade-fence/core/replay';
import { type Command, Option } from 'commander';

/** Gives a command the options that say which requests it is about, by what the log says of them. */
export const withLogFilter = (command: Command): Command =>
  command
    .option('--destination <addresses>', 'requests to this address, network or range, where the log shows it')
    .option('--host <host>', 'requests to this host; `.name` for all under it too')
    .option('--path <path>', 'requests to paths like this, as in rules')
    .option('--method <method>', 'requests with this method')
    .option('--status <status>', 'requests answered so at the time, by the log; also `4xx`')
    .option('--category <name>', 'requests in this category; also `uncategorised`')
    .option('--application <name>', 'requests of this application; also `unidentified`')
    .option('--from <time>', 'requests from this time or day on')
    .option('--to <time>', 'requests before this time');

/** Gives a command the options that say which requests of a replay it is about. */
export const withFilter = (command: Command): Command =>
  withLogFilter(
    command
      .option('--rule <name>', 'requests of this rule; `default` for those that no rule decided')
      .addOption(
        new Option('--role <role>', 'what the rule did with them (default: decided)').choices([
          'decided',
          ...SIDE_ROLES,
        ]),
      )
      .option('--policy <name>', 'requests that this policy judged')
      .addOption(new Option('--verdict <verdict>', 'requests with this verdict').choices([...VERDICTS, 'uncovered']))
      .option('--country <code>', 'requests from there; also `private`, `unknown`, `unseen`')
      .option('--destination-country <code>', 'requests to there, by the address of the destination')
      .option('--client <addresses>', 'requests of this client: an address, a network, a range, or a pseudonym'),
  );
